// What a build step does: parameters and a pure function from shape to shape.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/progress.h"
#include "core/document/parameters.h"
#include "core/document/shape.h"

namespace evenclay {

/// What apply() may read besides the shape before.
struct Inputs {
  std::map<PartId, ShapePtr> parts;  ///< final shapes of the parts named by inputs()
  double tolerance = 0.01;           ///< the document's, mm
  StepId step = 0;                   ///< the step itself; names what it makes (body/body.h)
};

/// How far a shape that a step had to carry over to another grid is off, in mm.
struct KeptShape {
  double max = 0.0, mean = 0.0;
  Vec3 at;  ///< the worst place
};

/// What a step made, and what the designer should know about it (no errors: those are thrown).
struct Outcome {
  Shape shape;
  std::vector<std::string> notes = {};
  std::optional<KeptShape> kept = {};
};

/// Immutable once it is in a document: shared between document versions and threads. To change a
/// parameter, clone, describe() into the clone, and put the clone in a new document.
class Operation {
 public:
  virtual ~Operation() = default;
  virtual std::string_view kind() const = 0;   ///< stable name in files: "rebuild"
  virtual std::string_view label() const = 0;  ///< on screen: "Rebuild"
  virtual std::string_view help() const = 0;   ///< one sentence
  /// A source starts a part and ignores the shape before.
  virtual bool is_source() const { return false; }
  virtual void describe(ParameterVisitor& visitor) = 0;
  virtual std::shared_ptr<Operation> clone() const = 0;
  /// Short words beside the label in the list of steps: "10 × 8, degree 3 × 3".
  virtual std::string summary() const = 0;
  /// Throws Error with a sentence for the designer; throws Cancelled. Thread-safe.
  virtual Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const = 0;

  /// Parts this operation reads, found through describe().
  std::vector<PartId> inputs() const;
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
