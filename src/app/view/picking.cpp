#include "app/view/picking.h"

namespace evenclay {

Ray ray_through(const Camera& c, const QRect& viewport, const QPointF& at) {
  const Frame f = c.axes();
  const QPointF off = at - QRectF(viewport).center();
  const double mm = c.height / std::max(1, viewport.height());
  const Vec3 on_target = c.target + f.x * (off.x() * mm) - f.y * (off.y() * mm);
  if (c.perspective) return {f.origin, normalized(on_target - f.origin)};
  return {on_target + f.z * c.eye_distance(), -f.z};
}

namespace {

Vec3 vertex(const DisplayMesh& m, std::uint32_t k) {
  const float* v = &m.vertices[6 * static_cast<std::size_t>(k)];
  return {static_cast<double>(v[0]), static_cast<double>(v[1]), static_cast<double>(v[2])};
}

// Source: T. Moeller, B. Trumbore, Fast, minimum storage ray/triangle intersection, 1997.
std::optional<TriangleHit> hit_triangle(const Ray& ray, const DisplayMesh& mesh) {
  std::optional<TriangleHit> nearest;
  for (std::size_t k = 0; k + 2 < mesh.indices.size(); k += 3) {
    const Vec3 a = vertex(mesh, mesh.indices[k]);
    const Vec3 e1 = vertex(mesh, mesh.indices[k + 1]) - a;
    const Vec3 e2 = vertex(mesh, mesh.indices[k + 2]) - a;
    const Vec3 p = cross(ray.direction, e2);
    const double det = dot(e1, p);
    if (det == 0.0) continue;
    const Vec3 s = ray.origin - a;
    const double u = dot(s, p) / det;
    if (u < 0.0 || u > 1.0) continue;
    const Vec3 q = cross(s, e1);
    const double v = dot(ray.direction, q) / det;
    if (v < 0.0 || u + v > 1.0) continue;
    const double t = dot(e2, q) / det;
    if (t > 0.0 && (!nearest || t < nearest->distance)) nearest = TriangleHit{t, k / 3, u, v};
  }
  return nearest;
}

}  // namespace

std::optional<TriangleHit> first_hit(const Ray& ray, const DisplayPart& part) {
  if (part.rays) return part.rays->first(ray);
  return part.mesh ? hit_triangle(ray, *part.mesh) : std::nullopt;
}

std::optional<double> hit(const Ray& ray, const DisplayPart& part) {
  const auto found = first_hit(ray, part);
  if (!found) return std::nullopt;
  return found->distance;
}

}  // namespace evenclay
