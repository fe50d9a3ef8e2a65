// What the view draws, layer by layer: each function adds to a scene what it knows of.
#pragma once

#include <optional>

#include "app/tools/point_editor.h"
#include "app/view/picture_store.h"
#include "app/view/renderer.h"
#include "app/view/view_settings.h"
#include "app/view/viewports.h"

namespace evenclay {

/// What the layers read.
class LookRuns;

struct LayerInput {
  const AppModel& model;
  const PointEditor& editor;
  const Viewports& views;
  const ViewSettings& settings;
  std::optional<PointIndex> hovered = {};  ///< the point a click would pick
  bool before_held = false;                ///< the shape before is shown while a key is held
};

/// Meshes, curves and edges of all visible parts, with the look's values.
void add_parts(Scene& scene, const LayerInput& in, LookRuns& looks);
/// Reference pictures of all visible parts, as far as they are read, and the frame of the chosen one.
void add_pictures(Scene& scene, const LayerInput& in, PictureStore& store);
/// Legs and points of the net that can be shaped.
void add_net(Scene& scene, const LayerInput& in);
/// Points and legs drawn smaller where they would cover the form, and not at all where they could not be told apart; what
/// is picked stays. Each net for itself.
void thin_crowded_net(Scene& scene, double pixels_a_mm);
/// What the shown step has matched with what: lines with a dot at both ends, the first one stronger.
void add_marks(Scene& scene, const LayerInput& in);
/// Curves that the points of the shown step lead.
void add_hand_lines(Scene& scene, const LayerInput& in);
/// Where the chosen form crosses itself.
void add_crossings(Scene& scene, const LayerInput& in);
/// Thin frames of the planes in which shaping is mirrored.
void add_symmetry_frames(Scene& scene, const LayerInput& in);
/// Combs along the rows of the point picked last, and of the sections, as the settings say.
void add_combs(Scene& scene, const LayerInput& in);
/// Arrows of the chosen direction at the picked points, in viewport k.
void add_arrows(Scene& scene, const LayerInput& in, std::size_t k);

/// A quiet grid on the work plane, or under the model, in the main view.
void add_floor(Scene& scene, const LayerInput& in, std::size_t k);
/// mm between its lines: 1, 2 or 5 times a power of ten.
double floor_spacing(const Camera& camera, const QRect& viewport);
/// The box whose lengths the size gauge says, while it is shown.
std::optional<Box3> size_box(const LayerInput& in);
void add_size_box(Scene& scene, const LayerInput& in);

/// One piece of a line.
void add_piece(std::vector<float>& pieces, const Vec3& a, const Vec3& b);

/// Box of all visible parts.
Box3 box_of_all(const AppModel& model);

/// The values of the chosen part that the look shows; null when there are none.
std::shared_ptr<const DisplayValues> map_values(const LayerInput& in);
/// mm (or 1/mm) at the ends of the look's map.
double map_reach(const LayerInput& in);
/// −1 … 1 on the diverging map of leg lengths; darker in the middle than on surfaces, to be seen as a
/// line.
QColor leg_colour(double t);
QColor mixed(const QColor& a, const QColor& b, double share);

}  // namespace evenclay
