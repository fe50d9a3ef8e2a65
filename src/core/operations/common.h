// What several operations describe or need alike.
#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/frame.h"
#include "core/document/operation.h"
#include "core/points/net.h"

namespace evenclay {

/// Which world plane a flat source lies in.
enum class FlatPlane { XY, XZ, YZ };
void describe_flat_plane(ParameterVisitor& visitor, FlatPlane& plane);
/// Its axes about `origin`; z is the plane's normal.
Frame frame_in(FlatPlane plane, const Vec3& origin);

/// Three numbers `name`_x, _y, _z with labels "`label` x" …, in mm.
void describe_place(ParameterVisitor& visitor, Vec3& place, std::string_view label,
                    std::string_view name);

/// The surfaces of a shape; throws Error with a sentence naming the operation when the shape is a
/// mesh, curves or empty.
const SurfaceSet& surfaces_of(const Shape& shape, std::string_view operation_label);

/// The control points of curves and surfaces; throws Error like surfaces_of for a mesh or nothing.
Nets nets_of(const Shape& shape, std::string_view operation_label);
/// Curves or surfaces again.
Shape shape_of(const Nets& nets);

/// The surfaces changed one by one. Throws Error like surfaces_of, or what `change` throws.
Outcome each_surface(const Shape& shape, std::string_view operation_label,
                     const std::function<Surface(const Surface&)>& change);

/// A place on one surface of a part, as shares of its domain, and the surface's number from 1.
void describe_surface_place(ParameterVisitor& visitor, double& place_u, double& place_v,
                            int& surface);

/// The surface of that number, counted from 1. Throws Error when the part has fewer.
Surface& surface_numbered(SurfaceSet& set, int number);

/// Numbers with commas between them. Throws Error when there is anything else.
std::vector<double> numbers_in(std::string_view text);

/// "10 × 8, degree 3 × 3"
std::string grid_words(int points_u, int points_v, int degree_u, int degree_v);

}  // namespace evenclay
