#include "core/cut/prepared.h"

#include <fmt/format.h>

#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/check/curve_measures.h"
#include "core/kernel/guard.h"

namespace evenclay {

constexpr double kCollapsed = 1e-7;  // mm; the kernel takes such points for one

namespace {

// How far points stray from one straight line: from the line between the one farthest from the first, and the first.
double stray_of(const std::vector<Vec3>& points) {
  const Vec3& from = points.front();
  Vec3 way;
  for (const Vec3& p : points)
    if (length(p - from) > length(way)) way = p - from;
  const Vec3 along = length(way) > 0.0 ? way / length(way) : Vec3{};
  double stray = 0.0;
  for (const Vec3& p : points)
    stray = std::max(stray, length(p - from - along * dot(p - from, along)));
  return stray;
}

}  // namespace

void refuse_collapsed(const Body& body) {
  for (const Face& f : body.faces)
    if (const auto& points = f.surface->points.values(); stray_of(points) < kCollapsed)
      throw Error(
          say("A face {} has no area: its control points lie in one place or on one line. "
              "Take it out, or move its points "
              "apart.",
              place_words(points.front())));
}

kernel::Given given_to_kernel(const Body& body) {
  refuse_collapsed(body);
  return {&body, kernel::to_kernel(body)};
}

std::string faults_of_body(const Body& body) {
  try {
    const Body with = with_edges(body);
    check(with);
    return kernel::faults_of(kernel::to_kernel(with).all, false);
  } catch (const Error&) {
    return say("the result would not be sound");
  }
}

std::string reason_of(const std::exception& error) {
  if (dynamic_cast<const kernel::GaveUp*>(&error) != nullptr)
    return say("the B-rep kernel gave up");
  std::string text = error.what();
  if (!text.empty() && text.back() == '.') text.pop_back();
  return text;
}

void need_closed(const Body& body, std::string_view what) {
  refuse_collapsed(body);
  const Body with = with_edges(body);
  const Topology t = topology(with);
  if (t.closed) return;
  double longest = -1.0;
  Vec3 at;
  for (const std::uint32_t e : t.open_edges)
    if (const double l = arc_length(with.edges[e].curve); l > longest) {
      longest = l;
      at = middle_of(with.edges[e]);
    }
  if (longest < 0.0)
    throw Error(
        say("{} does not bound a volume: some of its faces meet in threes. Take it apart and join "
            "its faces anew.",
            what));
  throw Error(say_of(t.open_edges.size(),
                     "{} is open: {} of its edges has no neighbour, the longest with {:.2f} mm {}. "
                     "Close it first, "
                     "with Close to solid or Thicken.",
                     "{} is open: {} of its edges have no neighbour, the longest with {:.2f} mm "
                     "{}. Close it first, "
                     "with Close to solid or Thicken.",
                     what, t.open_edges.size(), longest, place_words(at)));
}

Frame frame_along(const Vec3& direction) {
  Frame f;
  f.z = normalized(direction);
  const Vec3 other = std::abs(f.z.x) < 0.9 ? Vec3{1, 0, 0} : Vec3{0, 1, 0};
  f.x = normalized(cross(other, f.z));
  f.y = cross(f.z, f.x);
  return f;
}

Surface ruled_between(const Curve& a, const Curve& b) {
  Surface s;
  s.u = a.knots;
  s.v = {1, false, {0.0, 0.0, 1.0, 1.0}};
  s.points = Grid<Vec3>(a.point_count(), 2);
  for (int i = 0; i < a.point_count(); ++i) {
    s.points(i, 0) = a.points[static_cast<std::size_t>(i)];
    s.points(i, 1) = b.points[static_cast<std::size_t>(i)];
  }
  return s;
}

std::string place_words(const Vec3& p) {
  return say("at ({:.1f}, {:.1f}, {:.1f})", p.x, p.y, p.z);
}

Vec3 middle_of(const Edge& edge) {
  return evaluate(edge.curve, edge.curve.knots.first() + 0.5 * edge.curve.knots.length());
}

Vec3 inner_place_of(const TopoDS_Face& piece, const Face& from, Progress& progress) {
  const Body single = kernel::from_kernel(
      piece,
      [&](const TopoDS_Face&, std::size_t) {
        return kernel::Origin{&from, 1};
      },
      [](const TopoDS_Edge&, std::size_t) { return Tag{1}; }, progress);
  const Parameter at = inner_place(FaceRegion(single.faces.front()));
  return evaluate(*from.surface, at.u, at.v);
}

}  // namespace evenclay
