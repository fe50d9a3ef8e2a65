// What several operations describe or need alike.
#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/frame.h"
#include "core/body/body.h"
#include "core/body/pick.h"
#include "core/document/operation.h"
#include "core/points/net.h"

namespace evenclay {

/// How a frame is turned, degrees: about z, then about the turned y, then about the turned x.
struct PlaneAngles {
  double turn = 0.0, tilt = 0.0, roll = 0.0;
};
Frame turned_frame(const PlaneAngles& angles);
/// In whole steps of so many degrees, as they are shown.
PlaneAngles angles_of(const Frame& frame, double step);

/// Which plane a flat source lies in: one of the world, or one turned by angles.
enum class FlatPlane { XY, XZ, YZ, Turned };
/// A choice of the world planes; with angles also of turned ones, whose angles are shown then.
void describe_flat_plane(ParameterVisitor& visitor, FlatPlane& plane);
void describe_flat_plane(ParameterVisitor& visitor, FlatPlane& plane, PlaneAngles& angles);
/// Its axes about `origin`; z is the plane's normal.
Frame frame_in(FlatPlane plane, const Vec3& origin, const PlaneAngles& angles = {});
/// The choice that gives this frame's axes.
void lie_in(const Frame& frame, FlatPlane& plane, PlaneAngles& angles);
/// For an outline clicked from `a` to `b`: the plane it had, when b lies in it, too; else the world plane in which both lie,
/// or nearly.
FlatPlane plane_through(const Vec3& a, const Vec3& b, FlatPlane now, const PlaneAngles& angles);

/// Three numbers `name`_x, _y, _z with labels "`label` x" …, in mm.
void describe_place(ParameterVisitor& visitor, Vec3& place, std::string_view label,
                    std::string_view name);

/// The body in a shape; throws Error with a sentence naming the operation when the shape is a mesh,
/// curves or empty.
const Body& faces_of(const Shape& shape, std::string_view operation_label);

/// The control points of curves and surfaces; throws Error like faces_of for a mesh or nothing. Faces
/// that are pieces of one surface have one net together.
Nets nets_of(const Shape& shape, std::string_view operation_label);
/// Number of the net of each face, and the tags of the faces that have it.
struct NetsOfFaces {
  std::vector<std::size_t> net_of_face;
  std::vector<std::vector<std::size_t>> faces_of_net;
};
NetsOfFaces nets_of_faces(const Body& body);
/// The shape with its control points moved to those of `nets`, which are nets_of(shape) changed:
/// loops keep their parameters, and edges follow.
Shape with_nets(const Shape& shape, const Nets& nets);

/// The surfaces changed one by one; loops follow as `parameters` says. Throws Error like faces_of, or
/// what `change` throws.
Outcome each_surface(const Shape& shape, std::string_view operation_label,
                     const std::function<Surface(const Surface&)>& change,
                     NewParameters parameters = NewParameters::Scaled);

/// The body with one surface changed, its loops mapped to the same places by closest points.
Body with_surface(const Body& body, std::size_t face, Surface surface,
                  NewParameters parameters = NewParameters::Scaled);

/// Which face of the shape before a step works on: the picked one, else that of the number; and a place
/// on it, as shares of its domain.
struct OnFace {
  std::vector<Pick> picked;  ///< one at most; wins over the number
  int number = 1;            ///< counted from 1
  double u = 0.5, v = 0.5;   ///< 0..1
};
void describe_face(ParameterVisitor& visitor, OnFace& on);
void describe_face_place(ParameterVisitor& visitor, OnFace& on);

/// What it comes to on a body. A picked face that is gone leads to the nearest one, and the place to the
/// nearest of what was picked; then `note` says so. Throws Error when the part has fewer faces.
struct FacePlace {
  std::size_t face = 0;
  double u = 0.5, v = 0.5;
  std::string note;
};
FacePlace located(const Body& body, const OnFace& on);
/// What is said of the place, when there is anything, and then of the step.
std::vector<std::string> notes_of(const FacePlace& place, std::string said);

/// A copy of an operation with such a place, set to another one.
template <typename Operation>
OperationPtr placed(const Operation& operation, const Pick& face, int number, double u, double v) {
  auto changed = std::make_shared<Operation>(operation);
  changed->on = {{face}, number, u, v};
  return changed;
}

/// The surface of the first face; null when there is none.
const Surface* first_surface(const ShapePtr& shape);
/// Box of the control points or vertices.
Box3 rough_box(const Shape& shape);

/// Throws Error when the face is trimmed: the operation `label` works on whole surfaces only.
void refuse_trimmed(const Face& face, std::string_view operation_label);

/// Numbers with commas between them. Throws Error when there is anything else.
std::vector<double> numbers_in(std::string_view text);

/// "10 × 8, degree 3 × 3"
std::string grid_words(int points_u, int points_v, int degree_u, int degree_v);

}  // namespace evenclay
