// Catmull–Clark subdivision of forms, and their limit.
// Source: E. Catmull, J. Clark, Recursively generated B-spline surfaces on arbitrary topological meshes, 1978; creases
// after T. DeRose, M. Kass, T. Truong, Subdivision surfaces in character animation, 1998; limits after M. Halstead,
// M. Kass, T. DeRose, Efficient, fair interpolation using Catmull-Clark surfaces, 1993.
#pragma once

#include <optional>

#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"
#include "core/subdivision/form.h"

namespace evenclay {

/// One subdivision: every face with n sides becomes n quadrangles. Points keep their tags, new ones and the faces get
/// tags made from those they come from. Creases fall by 1, those of kSharp stay. Throws Error as check() does, and
/// when there would be more than a million faces; Cancelled.
Form subdivided(const Form& form, Progress& progress);

/// Where the points of a form go in the limit, and the unit normals there. Creases below kSharp count as what they are
/// after their subdivisions: forms with such creases are to be subdivided until none is left. Points where no normal
/// is (a corner of three creases or more) get the mean of their faces' normals.
struct LimitPoints {
  std::vector<Vec3> points, normals;
};
LimitPoints limit_of(const Form& form);

/// The limit as triangles: subdivided so often that no face has more than 1 / 2^levels of a side, at least until no
/// creases but sharp ones are left, and moved to the limit. Sharp edges have vertices of their own on both sides, so
/// that normals stay true. `levels` 0 … 6. Throws Error, Cancelled.
TriangleMesh limit_mesh(const Form& form, int levels, Progress& progress);

/// The polygons themselves as triangles from their middles, each face with vertices of its own, so that it looks flat.
TriangleMesh polygon_mesh(const Form& form);

/// The face of the form that a triangle of its limit_mesh (or polygon_mesh) came from, of a mesh with so many triangles in all; nothing
/// when the mesh is of another form.
std::optional<std::uint32_t> face_of_triangle(const Form& form, std::size_t triangles,
                                              std::size_t triangle);

/// How many subdivisions (0 … 6) it takes until chords of the limit's edges come within `chord` mm of it, as far as
/// `most_triangles` allows. Each subdivision brings them four times nearer.
int levels_for(const Form& form, double chord, std::size_t most_triangles, Progress& progress);

/// The limit as triangles within `chord` mm, as levels_for() says.
TriangleMesh limit_within(const Form& form, double chord, std::size_t most_triangles,
                          Progress& progress);

}  // namespace evenclay
