// Forms to begin with. All throw Error when a count or a length is out of its range; `step` names what is made.
#pragma once

#include <span>

#include "core/mesh/triangle_mesh.h"
#include "core/nurbs/surface.h"
#include "core/subdivision/form.h"

namespace evenclay {

/// A form from polygons with shared points (as of a brought mesh). Throws Error as check() does.
Form make_form(std::vector<Vec3> points, const std::vector<std::vector<std::uint32_t>>& faces,
               int step);

/// A box of nx × ny × nz faces a side (1 … 100 each) about `frame`'s origin, along its axes.
Form make_box_form(const Frame& frame, const Vec3& size, int nx, int ny, int nz, int step);

/// A rectangle of nx × ny faces (1 … 200 each) about the frame's origin, outside towards its z.
Form make_plane_form(const Frame& frame, double length_x, double length_y, int nx, int ny,
                     int step);

/// The points of a closed polygon are moved in rows: `rows` of the same count each, the last row joined to the first
/// when `closed`. With `caps` the first and last row become a face each.
Form make_rows_form(const std::vector<std::vector<Vec3>>& rows, bool around, bool closed, bool caps,
                    int step);

/// A cylinder about the frame's z, from z = 0 to its height: `around` (3 … 200) × `along` (1 … 200) faces. The points lie
/// on the radius. Each cap is one face with an inner ring around it, so that its rim can be creased.
Form make_cylinder_form(const Frame& frame, double radius, double height, int around, int along,
                        bool caps, int step);

/// A box of n × n faces a side blown up to a ball; its limit has that radius on average.
Form make_ball_form(const Frame& frame, double radius, int n, int step);

/// `around` faces the long way and `across` the short way (3 … 200 each), the points on the radii.
Form make_torus_form(const Frame& frame, double radius, double tube, int around, int across,
                     int step);

/// The mesh's triangles, vertices in one place joined; two that lie in one plane within `flat_degrees` become a
/// quadrangle, the squarest first. At most 20 000 triangles.
Form make_mesh_form(const TriangleMesh& mesh, double flat_degrees, int step);

/// The control nets of surfaces as one form, borders in one place joined; poles become triangles.
Form make_net_form(std::span<const Surface> surfaces, int step);

}  // namespace evenclay
