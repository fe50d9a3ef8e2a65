// What a build step does: parameters and a pure function from shape to shape.
#pragma once

#include <array>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <tuple>
#include <typeinfo>
#include <utility>
#include <vector>

#include "core/base/progress.h"
#include "core/document/parameters.h"
#include "core/document/shape.h"

namespace evenclay {

/// What operations keep between evaluations, such as a file that was read or the plan of a pattern. It
/// never changes a result, only the time it takes. Entries belong to the identity of a value that is
/// shared (an attachment, a shape), which is kept alive with them.
class Memo {
 public:
  /// The value kept for `owner`, made by `make` when there is none: a std::shared_ptr<const T>. `detail`
  /// tells apart values of one owner: all that they depend on besides it.
  template <typename T, typename Make>
  std::shared_ptr<const T> keep(const std::shared_ptr<const void>& owner, const Make& make,
                                const std::string& detail = {}) {
    Entry& entry = entries_[{owner.get(), typeid(T).hash_code(), detail}];
    entry.last_used = clock_;
    if (!entry.value) {
      entry.value = std::shared_ptr<const T>(make());
      entry.owner = owner;
    }
    return std::static_pointer_cast<const T>(entry.value);
  }
  /// Counts evaluations and forgets what none of the last `kept` ones used.
  void next_evaluation(std::size_t kept = 50);

 private:
  struct Entry {
    std::shared_ptr<const void> owner, value;
    std::size_t last_used = 0;
  };
  std::map<std::tuple<const void*, std::size_t, std::string>, Entry> entries_;
  std::size_t clock_ = 0;
};

/// What apply() may read besides the shape before.
struct Inputs {
  std::map<PartRef, ShapePtr> parts;  ///< shapes of the parts named by inputs()
  double tolerance = 0.01;            ///< the document's, mm
  StepId step = 0;                    ///< the step itself; names what it makes (body/body.h)
  Memo* memo = nullptr;               ///< what is kept between evaluations; may be null
};

/// How far a shape that a step had to carry over to another grid is off, in mm.
struct KeptShape {
  double max = 0.0, mean = 0.0;
  Vec3 at;  ///< the worst place
};

/// How two faces meet at a joint, measured; shown as a badge at its worst place.
struct JointBadge {
  Vec3 at;
  int level = -1;                 ///< G0 to G3 that holds, −1: a gap
  int wanted = -1;                ///< what the step should keep there; −1: nothing in particular
  double gap = 0.0, angle = 0.0;  ///< mm, degrees
  double curvature = 0.0, change = 0.0;  ///< shares of the greater one
  std::string name = {};                 ///< "first edges"
};

struct HandNets;      // operations/offers.h
struct PatternFacts;  // operations/offers.h

/// A place of a step that the hand moves along a path, and a number parameter with it.
struct StepHandle {
  std::string parameter;
  std::vector<Vec3> path;  ///< two or more places, at equal steps of the parameter's value
  double from = 0.0, to = 1.0, value = 0.5;  ///< at the ends of the path, and now
};
/// Where it is on its path.
Vec3 place_of(const StepHandle& handle);

/// What a step made, and what the designer should know about it (no errors: those are thrown).
struct Outcome {
  Shape shape;
  std::vector<std::string> notes = {};
  std::optional<KeptShape> kept = {};
  /// Of a step that lets the hand move control points of its own.
  std::shared_ptr<const HandNets> hand = nullptr;
  /// Of a step that lays a pattern on a target.
  std::shared_ptr<const PatternFacts> pattern = nullptr;
  /// Lines that show what the step has matched with what, from one to the other; the first stands out.
  std::vector<std::array<Vec3, 2>> marks = {};
  /// Joints that the step is to keep.
  std::vector<JointBadge> joints = {};
  std::vector<StepHandle> handles = {};
};

/// The stages of the work, in their order.
enum class Stage { Source, Grid, Shaped, Pattern, CutAndJoin, Check, Deliver };
inline constexpr int kStages = 7;

/// Kinds of shapes as a set.
using ShapeKinds = unsigned;
inline constexpr ShapeKinds kNothing = 0, kBody = 1, kMesh = 2, kCurves = 4, kPicture = 8,
                            kCage = 16, kForm = 32, kPoints = 64;
ShapeKinds kind_of(const Shape& shape);

/// What is known of an operation before it has any parameters: rail, menus, search, enabling, files
/// and runner are made from it.
struct OperationInfo {
  std::string_view kind;   ///< stable name in files: "rebuild"
  std::string_view label;  ///< on screen: "Rebuild"
  std::string_view help;   ///< one sentence
  Stage stage = Stage::Source;
  std::string_view group = {};  ///< heading in the rail
  std::string_view icon = {};
  ShapeKinds takes =
      kNothing;  ///< kinds of shape it works on; kNothing: a source, which begins a part
  /// Operations with the same action share one entry; the one that takes the chosen shape is used.
  /// Empty: its own kind.
  std::string_view action = {};
  std::string_view hint = {};       ///< said when it is begun: what the hand does
  bool several_parts = false;       ///< may be given to several picked parts at once
  bool new_part = false;            ///< works on the chosen part but makes a part of its own
  std::string_view part_name = {};  ///< of the part it begins; empty: its label
  bool offered = true;              ///< has an entry of its own
  bool keeps_place =
      false;  ///< covers what the shape before covered: a pattern stays on its target
  /// Of a source that others are put into, such as a cage: the kind of step that each picked part gets, whose
  /// first part parameter is the new part.
  std::string_view followed_by = {};

  bool is_source() const { return takes == kNothing || new_part; }
};
inline constexpr std::string_view kPickPlace =
    "Click a place on the surface, or drag over it; Enter keeps.";

/// What a new step may look at to begin with sensible numbers.
struct Beginning {
  PartId chosen = 0;
  ShapePtr before;  ///< the shape it will work on; null for a source
  /// Parts whose shapes are known, with their names.
  std::map<PartId, ShapePtr> parts = {};
  std::vector<PartId> picked = {};              ///< in the list of parts, the chosen one first
  std::vector<std::array<int, 4>> points = {};  ///< picked control points: net, i, j, k
  std::optional<Frame> plane = {};              ///< the work plane, when one has been set
  std::optional<Vec3> view = {};                ///< into the picture of the main view
  std::vector<Pick> picks =
      {};  ///< picked faces, edges and points of a form, with their partners in symmetry
};

/// Immutable once it is in a document: shared between document versions and threads. To change a
/// parameter, clone, describe() into the clone, and put the clone in a new document.
class Operation {
 public:
  virtual ~Operation() = default;
  virtual const OperationInfo& info() const = 0;
  // Steps of a kind from a newer version have their own words.
  virtual std::string_view kind() const { return info().kind; }
  virtual std::string_view label() const { return info().label; }
  virtual std::string_view help() const { return info().help; }
  /// A source starts a part and ignores the shape before.
  virtual bool is_source() const { return info().is_source(); }
  /// What lies beneath it in the list is not needed while it is on.
  virtual bool begins_anew() const { return false; }
  /// Sets numbers that suit what is there; called once, before the operation is in a document.
  virtual void suit(const Beginning&) {}
  virtual void describe(ParameterVisitor& visitor) = 0;
  virtual std::shared_ptr<Operation> clone() const = 0;
  /// Short words beside the label in the list of steps: "10 × 8, degree 3 × 3".
  virtual std::string summary() const = 0;
  /// Throws Error with a sentence for the designer; throws Cancelled. Thread-safe.
  virtual Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const = 0;

  /// Parts this operation reads, found through describe().
  std::vector<PartRef> inputs() const;
};

using OperationPtr = std::shared_ptr<const Operation>;

/// Supplies clone() by copying.
template <typename Derived>
class OperationOf : public Operation {
 public:
  std::shared_ptr<Operation> clone() const override {
    return std::make_shared<Derived>(static_cast<const Derived&>(*this));
  }
};

/// The operation with one parameter set from text, as by --set. `name` may carry an address in
/// brackets. Part parameters take the text of a part number. Throws Error with a sentence that
/// names the parameters when there is none of that name, or the value does not fit.
OperationPtr with_parameter(const Operation& operation, std::string_view name,
                            std::string_view text);

}  // namespace evenclay
