// How the model is shown, as one value.
#pragma once

#include <QString>
#include <algorithm>
#include <array>
#include <optional>

#include "app/view/renderer.h"

namespace evenclay {

/// A place that is named in the view.
struct PlaceMark {
  Vec3 at;
  QString words;
  bool operator==(const PlaceMark&) const = default;
};

struct ViewSettings {
  ModelLook look = ModelLook::Clay;
  bool side_views = true;
  double stripes = 7.0;  ///< of Zebra and Reflection lines, 2..40
  bool upright_stripes = false;
  bool single_band = false;  ///< Reflection lines: one broad light band instead of many narrow ones
  bool combs = false;        ///< along both rows of the point picked last
  bool section_combs = false;  ///< along the sections of the chosen part with the work plane
  double comb_length = 70.0;   ///< pixels of the longest tooth, 10..600
  int comb_density = 14;       ///< teeth a span, 2..100
  bool point_numbers = false;  ///< as --set addresses them
  double point_size = 1.0;     ///< of control points against the usual one, 0.5..3
  bool leg_colours =
      false;  ///< legs of the net by their length against the mean of their direction
  bool before_overlay = false;  ///< the shape before the chosen step as a veil over the model
  double curvature_radius =
      0.0;  ///< mm at which the curvature map is darkest; 0: chosen by the shape
  std::array<double, kLooks>
      ranges{};  ///< what the ends of a look's colours stand for; 0: chosen by the shape
  bool least_radius_callout = false;
  bool joint_badges = false;  ///< how the faces of the chosen part meet
  bool flat_faces = false;    ///< forms as their polygons
  bool tile_view = false;     ///< the chosen part as a tile among its eight neighbours
  std::optional<PlaceMark> mark = {};
  bool deviation_card = false;  ///< what the chosen part is watched against
  bool size_box = false;        ///< the box around the chosen part with its lengths
  bool section_view = false;    ///< what lies behind the plane is cut away
  SectionCut section;
  bool refine = true;  ///< smooth, with shadows, while the hand rests
  bool floor = true;   ///< a quiet grid on the work plane
  bool operator==(const ViewSettings&) const = default;
};

/// 1 where the normal of a section points along the axes, -1 where it points against them.
inline double facing(const SectionCut& cut) {
  return cut.normal.x + cut.normal.y + cut.normal.z < 0.0 ? -1.0 : 1.0;
}
/// Where a section stands along its axis, mm, whichever side it cuts away.
inline double place_of(const SectionCut& cut) {
  return -facing(cut) * cut.d;
}

/// With every number brought into its range.
inline ViewSettings in_range(ViewSettings s) {
  s.stripes = std::clamp(s.stripes, 2.0, 40.0);
  s.comb_length = std::clamp(s.comb_length, 10.0, 600.0);
  s.comb_density = std::clamp(s.comb_density, 2, 100);
  s.point_size = std::clamp(s.point_size, 0.5, 3.0);
  s.curvature_radius = std::max(0.0, s.curvature_radius);
  for (double& r : s.ranges) r = std::max(0.0, r);
  return s;
}

}  // namespace evenclay
