// Edges of a body one behind the other, walked by their length.
#pragma once

#include <vector>

#include "core/body/body.h"
#include "core/body/topology.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// A place on a chain, seen from the face beside it.
struct ChainPlace {
  Vec3 p;
  Vec3 out;  ///< unit, in the face's tangent plane, square to the chain, out of the face
  /// Derivatives by mm of the surface along the straight line of its parameters that leaves in that direction.
  Vec3 d2, d3;
  std::size_t face = 0;
  double u = 0.0, v = 0.0;
  Vec3 along;  ///< unit, as the chain is walked
};

class EdgeChain {
 public:
  /// `edges` are numbers in `body`, which has all borders as edges and outlives the chain; in any order. Throws Error:
  /// none, edges that do not hang together in one line, and corners (more than 5°), naming the place.
  EdgeChain(const Body& body, const std::vector<std::size_t>& edges);

  double length() const { return length_; }  ///< mm
  bool closed() const { return closed_; }
  const std::vector<std::size_t>& edges() const { return order_; }
  /// At a share of the length; closed chains go round. `order`: of the surface's derivatives that are wanted, 1 to 3.
  ChainPlace at(double share, int order) const;
  Vec3 point(double share) const;
  /// Shares at which the chain crosses knot lines of the faces beside it, where what is laid along may be less smooth.
  std::vector<double> knots() const;

 private:
  struct Link {
    std::size_t edge;
    bool forward;
    double begin;                 // length before it
    std::vector<double> lengths;  // up to equal steps of the edge's parameter, in its walk
    std::vector<double> slopes;   // steps by mm there
    std::size_t face, loop, place;
    bool turned;
  };
  double share_of(const Link& link, double t) const;
  std::pair<const Link*, double> find(double share) const;  // and the edge's parameter

  const Body& body_;
  std::vector<Link> links_;
  std::vector<std::size_t> order_;
  double length_ = 0.0;
  bool closed_ = false;
};

/// The open chain pair of two bodies (or of one body, which then is both) whose places lie nearest to each other; empty
/// when there is none. Only rings are considered when there are any.
struct ChainPair {
  std::vector<std::size_t> a, b;
};
ChainPair nearest_chains(const Body& a, const Body& b, bool same);

}  // namespace evenclay
