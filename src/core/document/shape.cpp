#include "core/document/shape.h"

#include "core/document/operation.h"

namespace evenclay {

bool is_empty(const Body& body) {
  return body.faces.empty();
}
bool is_empty(const TriangleMesh& mesh) {
  return mesh.triangles.empty();
}
bool is_empty(const CurveSet& set) {
  return set.curves.empty();
}
bool is_empty(const Picture& picture) {
  return picture.bytes == nullptr;
}
bool is_empty(const Cage& cage) {
  return cage.now.points.empty();
}
bool is_empty(const Form& form) {
  return form.faces.empty();
}
bool is_empty(const PointCloud& cloud) {
  return cloud.points.empty();
}
bool is_empty(const Shape& shape) {
  return std::visit([](const auto& s) { return is_empty(s); }, shape);
}

namespace {

struct KindOf {
  ShapeKinds operator()(const Body&) const { return kBody; }
  ShapeKinds operator()(const TriangleMesh&) const { return kMesh; }
  ShapeKinds operator()(const CurveSet&) const { return kCurves; }
  ShapeKinds operator()(const Picture&) const { return kPicture; }
  ShapeKinds operator()(const Cage&) const { return kCage; }
  ShapeKinds operator()(const Form&) const { return kForm; }
  ShapeKinds operator()(const PointCloud&) const { return kPoints; }
};

}  // namespace

ShapeKinds kind_of(const Shape& shape) {
  return std::visit(KindOf{}, shape);
}

namespace {

std::size_t bytes_of(const Curve& c) {
  return sizeof c + c.points.size() * sizeof(Vec3) +
         (c.weights.size() + c.knots.knots.size()) * sizeof(double);
}
std::size_t bytes_of(const Surface& s) {
  return sizeof s + s.points.values().size() * sizeof(Vec3) +
         (s.weights.values().size() + s.u.knots.size() + s.v.knots.size()) * sizeof(double);
}
std::size_t bytes_of(const CurveSet& set) {
  std::size_t sum = sizeof set;
  for (const Curve& c : set.curves) sum += bytes_of(c);
  return sum;
}
std::size_t bytes_of(const TriangleMesh& m) {
  return sizeof m + (m.points.size() + m.normals.size()) * sizeof(Vec3) +
         m.triangles.size() * sizeof m.triangles.front();
}
std::size_t bytes_of(const PointCloud& c) {
  return sizeof c + (c.points.size() + c.normals.size()) * sizeof(Vec3);
}
std::size_t bytes_of(const Picture&) {
  return sizeof(Picture);  // its bytes belong to the document
}
std::size_t bytes_of(const Cage& cage) {
  return sizeof cage + 2 * cage.now.points.values().size() * sizeof(Vec3);
}
std::size_t bytes_of(const Form& form) {
  std::size_t corners = 0;
  for (const FormFace& f : form.faces) corners += f.points.size();
  // Twice: the links hold the faces once more, and about as much again.
  return sizeof form + form.points.size() * (sizeof(Vec3) + 2 * sizeof(Tag)) +
         2 * (form.faces.size() * sizeof(FormFace) + corners * sizeof(std::uint32_t)) * 4;
}
std::size_t bytes_of(const Body& body) {
  std::size_t sum = sizeof body;
  for (const Edge& e : body.edges) sum += sizeof e + bytes_of(e.curve);
  for (const Face& f : body.faces) {
    sum += sizeof f + bytes_of(*f.surface);
    for (const Loop& loop : f.loops)
      for (const EdgeUse& use : loop) sum += sizeof use + bytes_of(use.uv);
  }
  return sum;
}

}  // namespace

std::size_t bytes_of(const Shape& shape) {
  return std::visit([](const auto& s) { return bytes_of(s); }, shape);
}

}  // namespace evenclay
