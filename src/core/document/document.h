// The model as a value: parts, each a list of build steps. Undo keeps older values; a background
// thread may hold one without locks.
#pragma once

#include <array>
#include <cstdint>
#include <map>
#include <string>
#include <vector>

#include "core/base/vec3.h"
#include "core/body/pick.h"
#include "core/document/numbers.h"
#include "core/document/operation.h"

namespace evenclay {

struct Settings {
  double tolerance = 0.01;  ///< mm; passed to the algorithms, never a constant in them
};

struct Look {
  std::uint32_t colour = 0xC9A48C;  ///< 0xRRGGBB
  bool visible = true;
};

/// What a part's surface is made of, in the pictures of it; 0..1 each.
struct Material {
  double roughness = 0.7;     ///< 0: a mirror, 1: dull
  double metal = 0.0;         ///< 1: reflections take the colour of the part
  double coat = 0.0;          ///< a clear, smooth coat over it
  double translucency = 0.0;  ///< light that goes through it
  bool operator==(const Material&) const = default;
};

/// Colour and material of one face of a part, instead of the part's own.
struct FaceLook {
  Pick pick;  ///< a face; of pieces that a cut leaves the largest keeps the look
  std::uint32_t colour = 0xC9A48C;
  Material material = {};
  bool operator==(const FaceLook&) const = default;
};

/// `extra` in these structs is the text of a JSON object with fields from a newer version; they
/// are written back unchanged.
struct Step {
  StepId id = 0;
  std::string name;
  bool enabled = true;
  OperationPtr operation;
  std::string extra;
  /// Formulas of number and count parameters, by the parameter's name; the operation holds what they
  /// come to.
  std::map<std::string, std::string> formulas = {};
};

/// Control points kept under a name; each as net, i, j and k.
struct NamedPoints {
  std::string name;
  std::vector<std::array<int, 4>> points;
  std::vector<Pick> picks = {};  ///< of subdivision forms: faces, edges or points by their names
  bool operator==(const NamedPoints&) const = default;
};

/// Parts shown, hidden and locked together, in the order of the list.
struct Layer {
  std::string name;  ///< not empty, each once
  bool visible = true;
  bool locked = false;
  bool operator==(const Layer&) const = default;
};

/// What a part is measured against all the time, whatever is chosen.
struct Watch {
  PartRef against;    ///< empty: nothing
  double band = 0.5;  ///< mm to both sides that count as near enough, above 0
  bool operator==(const Watch&) const = default;
};

struct Part {
  PartId id = 0;
  std::string name;
  Look look;
  std::vector<Step> steps;  ///< the first is a source
  std::string extra;
  std::vector<NamedPoints> selections = {};
  std::string layer = {};  ///< name of one of the document's layers, or empty
  bool locked = false;     ///< kept from being changed by hand
  Watch watch = {};
  Material material = {};
  std::vector<FaceLook> face_looks = {};  ///< where two lead to one face, the later one holds
};

/// A place to look from that was kept under a name.
struct SavedView {
  std::string name;  ///< not empty, each once
  Vec3 target;
  double yaw = 0.0;       ///< degrees about z
  double pitch = 0.0;     ///< degrees above the horizon, -90..90
  double height = 100.0;  ///< mm that fill the height of the view, above 0
  bool perspective = true;
  bool operator==(const SavedView&) const = default;
};

/// What the checks of all parts call wrong. A limit of 0 is not looked at.
struct CheckLimits {
  double gap = 0.01;       ///< mm between joined faces
  double radius = 0.0;     ///< least radius of curvature, mm
  double thickness = 0.0;  ///< least thickness of closed parts, mm
  double draft = 0.0;      ///< least draft angle, degrees
  Vec3 pull{0, 0, 1};      ///< along which the mould opens, unit
  double stretch = 20.0;   ///< greatest stretch of patterns, percent
  double evenness = 50.0;  ///< least evenness of a net, percent
  double symmetry = 0.01;  ///< mm off the mirror image, where symmetry is kept
  double sliver =
      20.0;  ///< longest edge of a triangle against its height, from which it is a sliver
  bool operator==(const CheckLimits&) const = default;
};

struct Document {
  Settings settings;
  CheckLimits limits = {};
  std::vector<NamedNumber> numbers = {};
  std::vector<Part> parts;
  std::vector<Layer> layers = {};
  std::vector<SavedView> views = {};
  int last_id = 0;  ///< greatest number given to a part or step so far
  std::string extra;
};

// Finding. The pointers point into `document` and live as long as it does.
const Part* find_part(const Document& document, PartId id);
const Part* find_part(const Document& document, std::string_view name);
const Step* find_step(const Document& document, StepId id);
Step& step_in(Document& document, StepId id);  ///< to be changed; throws Error when it is not there
const Part* part_of_step(const Document& document, StepId id);

const Layer* find_layer(const Document& document, std::string_view name);
/// Shown by itself and by its layer.
bool is_visible(const Document& document, const Part& part);
/// By itself or by its layer.
bool is_locked(const Document& document, const Part& part);

// Changing: all return a new document; they throw Error when the part or step is not there.
struct Added {
  Document document;
  PartId part = 0;
  StepId step = 0;
};
/// A new part with one source step; the name is made unique by a number behind it.
Added with_part(const Document& document, std::string_view name, OperationPtr source);
/// A new step at the end of a part, or behind step `after` when that is not 0.
Added with_step(const Document& document, PartId part, OperationPtr operation, StepId after = 0);
/// Formulas stay with the parameters whose values the new operation has left alone.
Document with_operation(const Document& document, StepId step, OperationPtr operation);
/// One parameter set from text. A number or count takes a formula over the named numbers, too; it is
/// kept. Throws Error as with_parameter() and formula_value() do.
Document with_step_parameter(const Document& document, StepId step, std::string_view parameter,
                             std::string_view text);
Document with_step_enabled(const Document& document, StepId step, bool enabled);
Document with_step_name(const Document& document, StepId step, std::string_view name);
Document without_step(const Document& document, StepId step);  ///< not the source of a part
Document without_part(const Document& document, PartId part);
Document with_part_name(const Document& document, PartId part, std::string_view name);
/// Keeps points under a name, in the place of those that had it.
Document with_selection(const Document& document, PartId part, NamedPoints points);
Document without_selection(const Document& document, PartId part, std::string_view name);
Document with_look(const Document& document, PartId part, const Look& look);
/// Throws Error with the value that is not in 0..1.
Document with_material(const Document& document, PartId part, const Material& material);
Document with_lock(const Document& document, PartId part, bool locked);
/// Against another part, or one of its own steps. Throws Error when it would be watched against itself as it is, or the
/// band is not above 0.
Document with_watch(const Document& document, PartId part, const Watch& watch);
/// Throws Error with the limit that is below 0 or no number, or when the pull has no direction.
Document with_limits(const Document& document, const CheckLimits& limits);
/// Moves a step by so many places within its part; the source stays the first. Throws Error when it would
/// leave the list.
Document with_step_moved(const Document& document, StepId step, int places);

/// A layer, new or changed.
Document with_layer(const Document& document, const Layer& layer);
Document with_layer_name(const Document& document, std::string_view from, std::string_view to);
/// Its parts stay, in no layer.
Document without_layer(const Document& document, std::string_view name);
/// The layer is made when it is not there; an empty name takes the part out of its layer.
Document with_part_in_layer(const Document& document, PartId part, std::string_view layer);

/// A view, new or changed.
Document with_view(const Document& document, const SavedView& view);
Document without_view(const Document& document, std::string_view name);

/// A named number, new or changed; everything that uses it follows. Throws Error, also when a parameter
/// would leave its range, naming it.
Document with_number(const Document& document, std::string_view name, std::string_view text);
/// The ends of its slider. Throws Error when `least` is not below `most`.
Document with_number_range(const Document& document, std::string_view name, double least,
                           double most);
/// "name=text", as given to --number.
Document with_number_assignment(const Document& document, std::string_view assignment);
/// Throws Error when something uses the number, naming it.
Document without_number(const Document& document, std::string_view name);
/// Formulas that use the number are rewritten.
Document with_number_name(const Document& document, std::string_view from, std::string_view to);

/// "Part", or "Part/Step" for the part after that step, which is named or counted from 1. Throws Error with what there is.
PartRef named_reference(const Document& document, std::string_view words);

/// Applies "Part/Step.parameter=value" or "Part/Step.enabled=false" as given to --set. Step is a
/// step's name or its place counted from 1; of equal names the last counts; part parameters take a
/// part's name, numbers and counts also a formula. Throws Error with what is there when something is not found.
Document with_setting(const Document& document, std::string_view assignment);

}  // namespace evenclay
