// Exact rational forms: circle in a direction, and the surfaces of revolution made of it.
// Source: The NURBS Book, sections 7.5 and 8.5 (weights 1 and √2/2 at quarter turns).
#pragma once

#include "core/nurbs/surface.h"

namespace evenclay {

// In all of them u runs around the axis (periodic, 8 points, degree 2, u = 0 on the frame's x
// axis, counter-clockwise seen against the axis z) and v along the profile; domains are [0, 1].
// Normals point outward. Lengths in mm. They throw Error when a length is not positive.

/// Poles on the frame's −z (v = 0) and +z (v = 1); 8 × 5 points.
Surface make_sphere(const Frame& frame, double radius);
/// From z = 0 to z = height, open ends; 8 × 2 points, degree 2 × 1.
Surface make_cylinder(const Frame& frame, double radius, double height);
/// From radius at z = 0 to 0 at z = height (a pole at v = 1).
Surface make_cone(const Frame& frame, double radius, double height);
/// `ring` is the radius of the centre circle, `tube` that of its section; periodic both ways.
Surface make_torus(const Frame& frame, double ring, double tube);
/// Rectangle length_x × length_y about the frame's origin, u along x, v along y, uniform knots.
Surface make_plane(const Frame& frame, double length_x, double length_y, int points_u, int points_v,
                   int degree_u, int degree_v);

}  // namespace evenclay
