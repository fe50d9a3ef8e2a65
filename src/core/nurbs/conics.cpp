#include "core/nurbs/conics.h"

#include <fmt/format.h>

#include <numbers>
#include <vector>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

struct ProfilePoint {
  double radius, height, weight;
};

constexpr double kCorner = 0.5 * std::numbers::sqrt2;

const KnotVector& circle_knots() {
  static const KnotVector knots{2, true, {0.0, 0.0, 0.25, 0.25, 0.5, 0.5, 0.75, 0.75, 1.0}};
  return knots;
}

Surface revolve(const Frame& frame, const KnotVector& v, const std::vector<ProfilePoint>& profile) {
  static constexpr int cx[8] = {1, 1, 0, -1, -1, -1, 0, 1};
  static constexpr int cy[8] = {0, 1, 1, 1, 0, -1, -1, -1};
  const int count = static_cast<int>(profile.size());
  Surface s{circle_knots(), v, Grid<Vec3>(8, count), Grid<double>(8, count)};
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < count; ++j) {
      const ProfilePoint& p = profile[static_cast<std::size_t>(j)];
      s.points(i, j) = frame.to_world({p.radius * cx[i], p.radius * cy[i], p.height});
      s.weights(i, j) = p.weight * (i % 2 == 0 ? 1.0 : kCorner);
    }
  return s;
}

void check_length(double length, const char* what) {
  if (!(length > 0.0) || !(length < 1e7))
    throw Error(say("The {} is {} mm; it must be greater than 0.", what, length));
}

}  // namespace

Surface make_sphere(const Frame& frame, double r) {
  check_length(r, "sphere's radius");
  const KnotVector v{2, false, {0, 0, 0, 0.5, 0.5, 1, 1, 1}};
  return revolve(frame, v, {{0, -r, 1}, {r, -r, kCorner}, {r, 0, 1}, {r, r, kCorner}, {0, r, 1}});
}

Surface make_cylinder(const Frame& frame, double radius, double height) {
  check_length(radius, "cylinder's radius");
  check_length(height, "cylinder's height");
  return revolve(frame, uniform_knots(2, 1, false), {{radius, 0, 1}, {radius, height, 1}});
}

Surface make_cone(const Frame& frame, double radius, double height) {
  check_length(radius, "cone's radius");
  check_length(height, "cone's height");
  return revolve(frame, uniform_knots(2, 1, false), {{radius, 0, 1}, {0, height, 1}});
}

Surface make_torus(const Frame& frame, double ring, double tube) {
  check_length(tube, "torus' tube radius");
  if (!(ring > tube))
    throw Error(
        say("The torus' ring radius {} mm must be greater than its tube radius {} mm, or the torus "
            "crosses itself.",
            ring, tube));
  const double c = kCorner;
  return revolve(frame, circle_knots(),
                 {{ring + tube, 0, 1},
                  {ring + tube, tube, c},
                  {ring, tube, 1},
                  {ring - tube, tube, c},
                  {ring - tube, 0, 1},
                  {ring - tube, -tube, c},
                  {ring, -tube, 1},
                  {ring + tube, -tube, c}});
}

Surface make_plane(const Frame& frame, double lx, double ly, int nu, int nv, int pu, int pv) {
  check_length(lx, "plane's length along x");
  check_length(ly, "plane's length along y");
  Surface s{uniform_knots(nu, pu, false), uniform_knots(nv, pv, false), Grid<Vec3>(nu, nv), {}};
  const std::vector<double> gu = greville_places(s.u);
  const std::vector<double> gv = greville_places(s.v);
  for (int i = 0; i < nu; ++i)
    for (int j = 0; j < nv; ++j)
      s.points(i, j) = frame.to_world({(gu[static_cast<std::size_t>(i)] - 0.5) * lx,
                                       (gv[static_cast<std::size_t>(j)] - 0.5) * ly, 0.0});
  return s;
}

}  // namespace evenclay
