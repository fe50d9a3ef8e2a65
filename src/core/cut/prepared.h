// Bodies made ready for the B-rep kernel's algorithms, and its results judged. Only for cut/.
#pragma once

#include <TopoDS_Shape.hxx>
#include <exception>
#include <string>
#include <string_view>

#include "core/base/frame.h"
#include "core/kernel/history.h"

namespace evenclay {

/// The body with all borders as edges, so that every face and edge can be followed.
Body with_edges(const Body& body);

/// The same in the kernel. `body` must outlive the result.
kernel::Given given_to_kernel(const Body& body);

/// Throws Error naming `what` ("The part", "The part that cuts") when the body does not bound a volume: how many of
/// its edges are open, and where the longest is.
void need_closed(const Body& body, std::string_view what);

/// What keeps a finished body from being used: as a sentence's end, empty when it is sound by our own check and the
/// kernel's.
std::string faults_of_body(const Body& body);

/// Why something failed, to stand in a longer sentence: without the final dot and what the kernel calls its faults.
std::string reason_of(const std::exception& error);

/// Whether the body is closed.
bool closed(const Body& body);

/// Axes whose z runs along a direction (any length but 0), about the world's origin.
Frame frame_along(const Vec3& direction);

/// Straight lines from one curve to another on the same knots, v from 0 to 1.
Surface ruled_between(const Curve& a, const Curve& b);

/// "at (1.0, 2.0, 3.0)", mm.
std::string place_words(const Vec3& p);

/// The middle of an edge, and its length in mm.
Vec3 middle_of(const Edge& edge);
double length_of(const Curve& curve);

}  // namespace evenclay
