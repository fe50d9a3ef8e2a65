#include "core/mesh/triangle_mesh.h"

#include "core/base/say.h"
#include "core/mesh/area_vector.h"

#include <algorithm>

#include "core/base/error.h"

namespace evenclay {

void check(const TriangleMesh& mesh) {
  if (!mesh.normals.empty() && mesh.normals.size() != mesh.points.size())
    throw Error(say("The mesh has normals for only some of its vertices."));
  for (const auto& t : mesh.triangles)
    for (const std::uint32_t v : t)
      if (v >= mesh.points.size())
        throw Error(say("The mesh has a triangle that names a vertex that is not there."));
  for (const Vec3& p : mesh.points)
    if (!is_finite(p)) throw Error(say("The mesh has a vertex that is not a number."));
}

Box3 box(const TriangleMesh& mesh) {
  Box3 result;
  for (const Vec3& p : mesh.points) result.add(p);
  return result;
}

double area(const TriangleMesh& mesh) {
  double sum = 0.0;
  for (const auto& t : mesh.triangles) sum += length(area_vector(mesh, t));
  return sum;
}

double volume(const TriangleMesh& mesh) {
  double sum = 0.0;
  for (const auto& t : mesh.triangles)
    sum += dot(mesh.points[t[0]], cross(mesh.points[t[1]], mesh.points[t[2]]));
  return sum / 6.0;
}

EdgeReport check_edges(const TriangleMesh& mesh) {
  struct Half {
    std::uint64_t key;
    bool forward;
    bool operator<(const Half& o) const { return key < o.key; }
  };
  std::vector<Half> halves;
  halves.reserve(mesh.triangles.size() * 3);
  for (const auto& t : mesh.triangles)
    for (std::size_t k = 0; k < 3; ++k) {
      const std::uint64_t a = t[k];
      const std::uint64_t b = t[(k + 1) % 3];
      halves.push_back({std::min(a, b) << 32 | std::max(a, b), a < b});
    }
  std::sort(halves.begin(), halves.end());
  EdgeReport report;
  for (std::size_t i = 0; i < halves.size();) {
    std::size_t end = i;
    int balance = 0;
    for (; end < halves.size() && halves[end].key == halves[i].key; ++end)
      balance += halves[end].forward ? 1 : -1;
    if (end - i == 1)
      ++report.open;
    else if (end - i != 2 || balance != 0)
      ++report.tangled;
    i = end;
  }
  return report;
}

std::vector<Vec3> averaged_normals(const TriangleMesh& mesh) {
  std::vector<Vec3> normals(mesh.points.size());
  for (const auto& t : mesh.triangles) {
    const Vec3 a = area_vector(mesh, t);
    for (const std::uint32_t v : t) normals[v] += a;
  }
  for (Vec3& n : normals) n = normalized(n);
  return normals;
}

void append(TriangleMesh& a, const TriangleMesh& b) {
  const auto offset = static_cast<std::uint32_t>(a.points.size());
  if (a.points.empty() || !a.normals.empty())
    a.normals.insert(a.normals.end(), b.normals.begin(), b.normals.end());
  a.points.insert(a.points.end(), b.points.begin(), b.points.end());
  if (a.normals.size() != a.points.size()) a.normals.clear();
  for (auto t : b.triangles) {
    for (auto& v : t) v += offset;
    a.triangles.push_back(t);
  }
}

}  // namespace evenclay
