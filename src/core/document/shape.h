// What a build step makes and passes on.
#pragma once

#include <memory>
#include <variant>
#include <vector>

#include "core/body/body.h"
#include "core/document/picture.h"
#include "core/mesh/point_cloud.h"
#include "core/mesh/triangle_mesh.h"
#include "core/nurbs/curve.h"
#include "core/nurbs/lattice.h"
#include "core/subdivision/form.h"

namespace evenclay {

/// Curves of one part, in the order of their numbers.
struct CurveSet {
  std::vector<Curve> curves;
};

/// Whatever depends on the kind of shape is a set of overloads for std::visit, one for each kind and
/// no default, so that a forgotten kind does not compile.
using Shape = std::variant<Body, TriangleMesh, CurveSet, Picture, Cage, Form, PointCloud>;
using ShapePtr = std::shared_ptr<const Shape>;

/// True when there is nothing to show or measure.
bool is_empty(const Body& body);
bool is_empty(const TriangleMesh& mesh);
bool is_empty(const CurveSet& set);
bool is_empty(const Picture& picture);
bool is_empty(const Cage& cage);
bool is_empty(const Form& form);
bool is_empty(const PointCloud& cloud);
bool is_empty(const Shape& shape);

/// About how many bytes the shape holds in memory, shared surfaces counted each time they are used.
std::size_t bytes_of(const Shape& shape);

}  // namespace evenclay
