// Bodies to and from the shapes of the B-rep kernel. Only this folder, cut/ and exchange/ may include
// this header, since it brings the kernel's.
#pragma once

#include <Geom_BSplineSurface.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <functional>
#include <optional>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"

namespace evenclay::kernel {

/// Periodic directions become clamped ones over the same domain, so parameters stay.
Handle(Geom_BSplineSurface) to_kernel(const Surface& surface);
TopoDS_Edge to_kernel(const Curve& curve);

/// A body in the kernel: its faces and edges by our numbers (null for edges nothing uses), and all of
/// it as one shape: a solid where the body is closed, else shells, else faces.
struct KernelBody {
  std::vector<TopoDS_Face> faces;
  std::vector<TopoDS_Face>
      faces_of_all;  ///< the same as they are in `all`, where sewing may have made them anew
  std::vector<TopoDS_Edge> edges;
  TopoDS_Shape all;
};
/// Throws Error (by guarded) when the kernel refuses a face.
KernelBody to_kernel(const Body& body);

/// What is known of a kernel face that is brought back: the face of ours it is a piece of, so that
/// the surface stays the same value, and its tag.
struct Origin {
  const Face* face = nullptr;  ///< null: the surface is converted
  Tag tag = 0;
  bool as_given = true;  ///< its outside is that of `face`, else as the kernel's face is turned
};

/// The shape with every surface and curve as a B-spline, exactly, edges laid anew in the parameters of
/// their faces. `each` is told which face became which.
TopoDS_Shape as_splines(const TopoDS_Shape& shape,
                        const std::function<void(const TopoDS_Face&, const TopoDS_Face&)>& each);

/// Kernel faces as a body. Surfaces that are no B-splines are converted, and edges laid in their parameters anew; edges are shared as the kernel shares them, with tags from `edge_tag` (place in the order found).
/// A face whose only loop is its own natural border, shared with nobody, comes back without loops.
/// Throws Error; Cancelled.
Body from_kernel(const TopoDS_Shape& shape,
                 const std::function<Origin(const TopoDS_Face&, std::size_t)>& origin,
                 const std::function<Tag(const TopoDS_Edge&, std::size_t)>& edge_tag,
                 Progress& progress);

}  // namespace evenclay::kernel
