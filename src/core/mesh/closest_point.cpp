#include "core/mesh/closest_point.h"

#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/mesh/embree_scene.h"

namespace evenclay {

namespace {

// Source: C. Ericson, Real-Time Collision Detection, 2005, section 5.1.5.
Vec3 closest_on_triangle(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 ab = b - a;
  const Vec3 ac = c - a;
  const Vec3 ap = p - a;
  const double d1 = dot(ab, ap);
  const double d2 = dot(ac, ap);
  if (d1 <= 0.0 && d2 <= 0.0) return a;
  const Vec3 bp = p - b;
  const double d3 = dot(ab, bp);
  const double d4 = dot(ac, bp);
  if (d3 >= 0.0 && d4 <= d3) return b;
  const double vc = d1 * d4 - d3 * d2;
  if (vc <= 0.0 && d1 >= 0.0 && d3 <= 0.0) return a + ab * (d1 / (d1 - d3));
  const Vec3 cp = p - c;
  const double d5 = dot(ab, cp);
  const double d6 = dot(ac, cp);
  if (d6 >= 0.0 && d5 <= d6) return c;
  const double vb = d5 * d2 - d1 * d6;
  if (vb <= 0.0 && d2 >= 0.0 && d6 <= 0.0) return a + ac * (d2 / (d2 - d6));
  const double va = d3 * d6 - d5 * d4;
  if (va <= 0.0 && d4 - d3 >= 0.0 && d5 - d6 >= 0.0)
    return b + (c - b) * ((d4 - d3) / ((d4 - d3) + (d5 - d6)));
  const double denominator = 1.0 / (va + vb + vc);
  return a + ab * (vb * denominator) + ac * (vc * denominator);
}

struct Question {
  const TriangleMesh* mesh;
  Vec3 q;
  MeshProjection best;
};

bool visit(RTCPointQueryFunctionArguments* args) {
  auto& question = *static_cast<Question*>(args->userPtr);
  const auto& t = question.mesh->triangles[args->primID];
  const Vec3 p = closest_on_triangle(question.q, question.mesh->points[t[0]],
                                     question.mesh->points[t[1]], question.mesh->points[t[2]]);
  const double d = distance(p, question.q);
  if (d >= question.best.distance) return false;
  question.best = {p, d, args->primID};
  args->query->radius = static_cast<float>(d * (1.0 + 1e-5) + 1e-6);
  return true;
}

}  // namespace

struct MeshProjector::Impl {
  TriangleMesh mesh;
  EmbreeScene scene;

  explicit Impl(const TriangleMesh& m) : mesh(m) {
    if (mesh.triangles.empty()) throw Error(say("The mesh has no triangles to measure against."));
    scene.build(mesh, false);
  }
};

MeshProjector::MeshProjector(const TriangleMesh& mesh) : impl_(std::make_unique<Impl>(mesh)) {}
MeshProjector::~MeshProjector() = default;
MeshProjector::MeshProjector(MeshProjector&&) noexcept = default;

MeshProjection MeshProjector::closest(const Vec3& q) const {
  Question question{&impl_->mesh, q, {}};
  question.best.distance = std::numeric_limits<double>::infinity();
  RTCPointQuery query{};
  query.x = static_cast<float>(q.x);
  query.y = static_cast<float>(q.y);
  query.z = static_cast<float>(q.z);
  query.radius = std::numeric_limits<float>::infinity();
  RTCPointQueryContext context;
  rtcInitPointQueryContext(&context);
  rtcPointQuery(impl_->scene.get(), &query, &context, visit, &question);
  return question.best;
}

}  // namespace evenclay
