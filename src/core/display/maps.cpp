#include "core/display/maps.h"

#include <algorithm>
#include <cmath>
#include <iterator>

#include "core/base/angles.h"
#include "core/base/parallel.h"
#include "core/check/measures.h"
#include "core/mesh/point_tree.h"
#include "core/mesh/ray_scene.h"
#include "core/subdivision/form_stretch.h"

namespace evenclay {

namespace {

Vec3 vertex(const DisplayMesh& mesh, std::size_t k, std::size_t from = 0) {
  const float* v = &mesh.vertices[6 * k + from];
  return {static_cast<double>(v[0]), static_cast<double>(v[1]), static_cast<double>(v[2])};
}

std::size_t vertices_of(const DisplayMesh& mesh) {
  return mesh.vertices.size() / 6;
}

// What all but a fiftieth keep below by size.
double usual_reach(const std::vector<float>& values) {
  std::vector<float> sizes;
  for (const float v : values)
    if (v < kNoValue) sizes.push_back(std::abs(v));
  if (sizes.empty()) return 0.0;
  const auto high = sizes.begin() +
                    static_cast<std::ptrdiff_t>(std::min(sizes.size() - 1, sizes.size() * 49 / 50));
  std::nth_element(sizes.begin(), high, sizes.end());
  return static_cast<double>(*high);
}

double bend_of(MapKind kind, const Curvature& c, bool flipped) {
  if (kind == MapKind::Gaussian) return c.gaussian();
  if (kind == MapKind::Mean) return flipped ? -c.mean() : c.mean();
  return std::abs(c.k1);
}

std::shared_ptr<DisplayValues> bends(MapKind kind, const DisplayMesh& mesh, const Shape& shape,
                                     Progress& progress) {
  const auto* body = std::get_if<Body>(&shape);
  if (body == nullptr || mesh.pieces.size() != body->faces.size() || mesh.pieces.empty())
    return nullptr;
  auto result = std::make_shared<DisplayValues>();
  const std::size_t vertices = vertices_of(mesh);
  result->values.resize(vertices);
  for (std::size_t piece = 0; piece < mesh.pieces.size(); ++piece) {
    const Surface& s = *body->faces[piece].surface;
    const SurfaceEvaluator evaluator(s);
    const std::size_t first = mesh.pieces[piece].first_vertex;
    const std::size_t end =
        piece + 1 < mesh.pieces.size() ? mesh.pieces[piece + 1].first_vertex : vertices;
    parallel_blocks(end - first, 1024, progress, [&](std::size_t from, std::size_t to) {
      for (std::size_t k = first + from; k < first + to; ++k) {
        const double u = static_cast<double>(mesh.shares[2 * k]);
        const double v = static_cast<double>(mesh.shares[2 * k + 1]);
        const auto c = curvature(
            evaluator.seconds(s.u.first() + u * s.u.length(), s.v.first() + v * s.v.length()));
        result->values[k] =
            c ? static_cast<float>(bend_of(kind, *c, body->faces[piece].flipped)) : 0.0F;
      }
    });
  }
  result->reach = usual_reach(result->values);
  return result;
}

// 90° where the surface looks along the pull, 0 where it is parallel to it. What looks the other way is for the other half
// of the mould: only walls that lean over themselves are undercut, and no single surface knows that.
std::shared_ptr<DisplayValues> drafts(const DisplayMesh& mesh, const Vec3& pull) {
  auto result = std::make_shared<DisplayValues>();
  const Vec3 along = normalized(pull);
  for (std::size_t k = 0; k < vertices_of(mesh); ++k)
    result->values.push_back(static_cast<float>(90.0 - degrees_between(vertex(mesh, k, 3), along)));
  result->reach = 10.0;
  return result;
}

// What lies on the floor of the part itself is carried by the bed.
std::shared_ptr<DisplayValues> overhangs(const DisplayMesh& mesh) {
  auto result = std::make_shared<DisplayValues>();
  const double floor = mesh.box.min.z + 1e-3 * mesh.box.size();
  for (std::size_t k = 0; k < vertices_of(mesh); ++k) {
    const bool carried = vertex(mesh, k).z < floor;
    const double over = degrees_between(vertex(mesh, k, 3), {0, 0, 1}) - 90.0;
    result->values.push_back(carried ? 0.0F : static_cast<float>(std::max(0.0, over)));
  }
  result->reach = 45.0;
  return result;
}

double middle_of(const std::vector<float>& values) {
  std::vector<float> known;
  std::copy_if(values.begin(), values.end(), std::back_inserter(known),
               [](float v) { return v < kNoValue; });
  if (known.empty()) return 0.0;
  const auto middle = known.begin() + static_cast<std::ptrdiff_t>(known.size() / 2);
  std::nth_element(known.begin(), middle, known.end());
  return static_cast<double>(*middle);
}

std::shared_ptr<DisplayValues> thicknesses(const DisplayMesh& mesh, Progress& progress) {
  if (!mesh.closed) return nullptr;
  const RayScene scene(mesh.vertices, 6, mesh.indices);
  auto result = std::make_shared<DisplayValues>();
  result->values.assign(vertices_of(mesh), kNoValue);
  const double start = 1e-4 * mesh.box.size();
  parallel_blocks(vertices_of(mesh), 512, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const Vec3 n = vertex(mesh, k, 3);
      if (!(length(n) > 0.5)) continue;
      const auto hit = scene.first({vertex(mesh, k), -n}, start);
      if (hit) result->values[k] = static_cast<float>(hit->distance);
    }
  });
  // Along rims the way through is long; three times the usual wall tells thick from thin.
  result->reach = 3.0 * middle_of(result->values);
  return result;
}

}  // namespace

std::shared_ptr<const DisplayValues> map_values(MapKind kind, const DisplayMesh& mesh,
                                                const Shape& shape, const Vec3& pull,
                                                Progress& progress) {
  switch (kind) {
    case MapKind::None:
      return nullptr;
    case MapKind::Draft:
      return mesh.indices.empty() ? nullptr : drafts(mesh, pull);
    case MapKind::Overhang:
      return mesh.indices.empty() ? nullptr : overhangs(mesh);
    case MapKind::Thickness:
      return thicknesses(mesh, progress);
    case MapKind::Bend:
    case MapKind::Gaussian:
    case MapKind::Mean:
      return bends(kind, mesh, shape, progress);
  }
  return nullptr;
}

std::shared_ptr<const DisplayValues> watch_values(const DisplayMesh& mesh,
                                                  const WatchPlaces& places, Progress& progress) {
  if (places.at.empty() || mesh.vertices.empty()) return nullptr;
  const PointTree tree(places.at);
  auto result = std::make_shared<DisplayValues>();
  result->values.assign(vertices_of(mesh), kNoValue);
  double far = 0.0;
  for (const double d : places.off) far = std::max(far, std::abs(d));
  result->reach = std::max(far, 1e-9);
  // Places lie off the surface by what is measured, so that the nearest may be farther away than its neighbours.
  const double reach = 3.0 * places.spacing;
  parallel_blocks(vertices_of(mesh), 256, progress, [&](std::size_t begin, std::size_t end) {
    std::vector<NearPoint> near;
    for (std::size_t k = begin; k < end; ++k) {
      const Vec3 p = vertex(mesh, k);
      tree.nearest(p, 12, near);
      double sum = 0.0, weight = 0.0;
      for (const NearPoint& n : near) {
        const double off = places.off[n.index];
        const double beside = std::sqrt(std::max(0.0, n.distance * n.distance - off * off));
        if (beside > reach) continue;
        const double w = 1.0 / (beside + 0.25 * places.spacing + 1e-12);
        sum += w * off;
        weight += w;
      }
      if (weight > 0.0) result->values[k] = static_cast<float>(sum / weight);
    }
  });
  return result;
}

namespace {

void add_stroke(const Vec3& a, const Vec3& b, DisplayLines& lines) {
  for (const Vec3& p : {a, b})
    for (std::size_t c = 0; c < 3; ++c) lines.pieces.push_back(static_cast<float>(p[c]));
}

}  // namespace

DisplayLines scan_section(const Shape& scan, const SectionWish& wish) {
  DisplayLines lines;
  if (const auto* mesh = std::get_if<TriangleMesh>(&scan)) {
    for (const auto& t : mesh->triangles) {
      Vec3 ends[3];
      std::size_t n = 0;
      for (std::size_t k = 0; k < 3 && n < 2; ++k) {
        const Vec3 &a = mesh->points[t[k]], &b = mesh->points[t[(k + 1) % 3]];
        const double da = dot(a - wish.origin, wish.normal), db = dot(b - wish.origin, wish.normal);
        if ((da < 0.0) != (db < 0.0)) ends[n++] = a + (b - a) * (da / (da - db));
      }
      if (n == 2) add_stroke(ends[0], ends[1], lines);
    }
  } else if (const auto* cloud = std::get_if<PointCloud>(&scan)) {
    const double gap = spacing(cloud->points);
    const Vec3 side = std::abs(wish.normal.z) < 0.9 ? Vec3{0, 0, 1} : Vec3{0, 1, 0};
    const Vec3 x = normalized(cross(side, wish.normal)), y = cross(wish.normal, x);
    for (const Vec3& p : cloud->points) {
      const double d = dot(p - wish.origin, wish.normal);
      if (std::abs(d) > gap) continue;
      const Vec3 at = p - wish.normal * d;
      add_stroke(at - x * (0.3 * gap), at + x * (0.3 * gap), lines);
      add_stroke(at - y * (0.3 * gap), at + y * (0.3 * gap), lines);
    }
  }
  return lines;
}

void add_points(const PointCloud& cloud, std::size_t most, DisplayMesh& out) {
  for (const Vec3& p : cloud.points) out.box.add(p);
  const std::size_t step =
      std::max<std::size_t>(1, (cloud.points.size() + most - 1) / std::max<std::size_t>(most, 1));
  PointCloud few;
  for (std::size_t k = 0; k < cloud.points.size(); k += step) {
    few.points.push_back(cloud.points[k]);
    if (!cloud.normals.empty()) few.normals.push_back(cloud.normals[k]);
  }
  const std::vector<Vec3> normals = normals_of(few);
  const double size = 0.45 * spacing(few.points);
  for (std::size_t k = 0; k < few.points.size(); ++k) {
    const Vec3& n = normals[k];
    const Vec3 side = std::abs(n.x) < 0.8 ? Vec3{1, 0, 0} : Vec3{0, 1, 0};
    const Vec3 x = normalized(cross(side, n)) * size, y = cross(n, x);
    const auto first = static_cast<std::uint32_t>(out.vertices.size() / 6);
    for (const Vec3& p : {few.points[k] + x, few.points[k] - x * 0.5 + y * 0.866,
                          few.points[k] - x * 0.5 - y * 0.866})
      for (const Vec3& v : {p, n})
        for (std::size_t c = 0; c < 3; ++c) out.vertices.push_back(static_cast<float>(v[c]));
    for (std::uint32_t c = 0; c < 3; ++c) out.indices.push_back(first + c);
  }
}

std::shared_ptr<const DisplayValues> form_stretch_values(const DisplayMesh& mesh,
                                                         const Form& form) {
  std::vector<Vec3> points;
  for (std::size_t v = 0; v + 5 < mesh.vertices.size(); v += 6)
    points.push_back({static_cast<double>(mesh.vertices[v]),
                      static_cast<double>(mesh.vertices[v + 1]),
                      static_cast<double>(mesh.vertices[v + 2])});
  std::vector<std::array<std::uint32_t, 3>> triangles;
  for (std::size_t k = 0; k + 2 < mesh.indices.size(); k += 3)
    triangles.push_back({mesh.indices[k], mesh.indices[k + 1], mesh.indices[k + 2]});
  const auto found = form_stretch(points, triangles, corner_count(form));
  if (!found) return nullptr;
  auto values = std::make_shared<DisplayValues>();
  for (const double x : found->at_vertices) values->values.push_back(static_cast<float>(x));
  values->reach = std::max(1.0, usual_reach(values->values));
  return values;
}

}  // namespace evenclay
