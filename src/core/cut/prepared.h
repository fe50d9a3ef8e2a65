// Bodies made ready for the B-rep kernel's algorithms, and its results judged. Only for cut/.
#pragma once

#include <TopoDS_Shape.hxx>
#include <exception>
#include <string>
#include <string_view>

#include "core/base/frame.h"
#include "core/cut/edge_edit.h"
#include "core/kernel/history.h"

namespace evenclay {

/// The body in the kernel, which has all borders as edges (with_edges). `body` must outlive the result. Throws Error
/// as refuse_collapsed does.
kernel::Given given_to_kernel(const Body& body);

/// Throws Error with the place of a face whose control points all lie on one straight line: the kernel's algorithms
/// search for minutes on what has no area.
void refuse_collapsed(const Body& body);

/// Throws Error naming `what` ("The part", "The part that cuts") when the body does not bound a volume: how many of
/// its edges are open, and where the longest is; or as refuse_collapsed does.
void need_closed(const Body& body, std::string_view what);

/// What keeps a finished body from being used: as a sentence's end, empty when it is sound by our own check and the
/// kernel's.
std::string faults_of_body(const Body& body);

/// Why something failed, to stand in a longer sentence: without the final dot and what the kernel calls its faults.
std::string reason_of(const std::exception& error);

/// Axes whose z runs along a direction (any length but 0), about the world's origin.
Frame frame_along(const Vec3& direction);

/// Straight lines from one curve to another on the same knots, v from 0 to 1.
Surface ruled_between(const Curve& a, const Curve& b);

/// "at (1.0, 2.0, 3.0)", mm.
std::string place_words(const Vec3& p);

/// The middle of an edge.
Vec3 middle_of(const Edge& edge);

/// A place well inside a kernel face that is a piece of one of ours.
Vec3 inner_place_of(const TopoDS_Face& piece, const Face& from, Progress& progress);

/// Runs one of the kernel's algorithms that cut a shape with tools, so that Cancel stops it, and the limit of time
/// (Error). False when it failed.
template <typename Algorithm>
bool cut_by_kernel(Algorithm& algorithm, const TopTools_ListOfShape& shapes,
                   const TopTools_ListOfShape& tools, Progress& progress,
                   std::chrono::seconds limit = kernel::kTimeLimit) {
  algorithm.SetArguments(shapes);
  algorithm.SetTools(tools);
  algorithm.SetRunParallel(Standard_False);
  algorithm.SetNonDestructive(Standard_True);
  Handle(kernel::Stop) stop = new kernel::Stop(progress, limit);
  algorithm.Build(stop->Start());
  stop->check();
  return algorithm.IsDone() && !algorithm.HasErrors();
}

}  // namespace evenclay
