// The control points of a part as nets: one interface for curves, surfaces, cages and subdivision forms, so that
// every tool that picks and moves points serves all of them.
#pragma once

#include <compare>
#include <map>
#include <optional>
#include <set>
#include <variant>
#include <vector>

#include "core/nurbs/curve.h"
#include "core/nurbs/lattice.h"
#include "core/nurbs/surface.h"
#include "core/subdivision/form.h"

namespace evenclay {

/// Address of one control point of a part: number of its net, then i along u, j along v and k along
/// w. A curve has only i, a surface i and j; of a subdivision form i is the number of the point.
struct PointIndex {
  int net = 0;
  int i = 0;
  int j = 0;
  int k = 0;
  auto operator<=>(const PointIndex&) const = default;
};

using Selection = std::set<PointIndex>;

/// The points of a subdivision form with what hangs together. They lie in no rows: neighbours are found by edges.
struct FormNet {
  std::vector<Vec3> points;
  std::shared_ptr<const FormLinks> links;
  bool operator==(const FormNet&) const = default;
};

/// The control points of one curve, surface, cage or subdivision form.
class Net {
 public:
  Net(Curve curve) : geometry_(std::move(curve)) {}        // NOLINT: a curve is a net
  Net(Surface surface) : geometry_(std::move(surface)) {}  // NOLINT
  Net(Lattice lattice) : geometry_(std::move(lattice)) {}  // NOLINT
  Net(FormNet form) : geometry_(std::move(form)) {}        // NOLINT

  const Curve* curve() const { return std::get_if<Curve>(&geometry_); }
  const Surface* surface() const { return std::get_if<Surface>(&geometry_); }
  const Lattice* lattice() const { return std::get_if<Lattice>(&geometry_); }
  const FormNet* form() const { return std::get_if<FormNet>(&geometry_); }

  int directions() const;            ///< 1, 2 or 3; 0 of a form, which has no rows
  int count(int direction) const;    ///< of points along u (0), v (1), w (2); 1 where there is none
  bool closed(int direction) const;  ///< the last point's neighbour is the first
  /// Null beyond directions().
  const KnotVector* knots(int direction) const;
  std::size_t size() const;

  const Vec3& point(int i, int j, int k) const;
  void set_point(int i, int j, int k, const Vec3& p);
  double weight(int i, int j, int k) const;
  /// Does nothing for cages and forms, which have no weights.
  void multiply_weights(const Grid<double>& factors);

  bool operator==(const Net&) const = default;

 private:
  std::variant<Curve, Surface, Lattice, FormNet> geometry_;
};

/// A number of millimetres below which control points are one place.
inline constexpr double kOnePlace = 1e-9;

/// All nets of a part.
struct Nets {
  std::vector<Net> nets;
  /// Points that are one place and move as one: rows collapsed to a pole, and border points of
  /// surfaces and ends of curves that meet. Sets do not overlap.
  std::vector<std::vector<PointIndex>> united;
  std::map<PointIndex, std::size_t> united_of;  ///< place in `united`
  /// Where curves lie on a skin: its unit normal at each point of each net, in their order. Else empty.
  std::vector<std::vector<Vec3>> normals = {};

  Nets() = default;
  /// Finds what is united.
  explicit Nets(std::vector<Net> parts);
  Nets(const Surface& surface)
      : Nets(std::vector<Net>{surface}) {}                     // NOLINT: a part of one surface
  Nets(const Curve& curve) : Nets(std::vector<Net>{curve}) {}  // NOLINT
  Nets(const Lattice& lattice) : Nets(std::vector<Net>{lattice}) {}  // NOLINT

  bool empty() const { return nets.empty(); }
  const Net& of(PointIndex p) const { return nets[static_cast<std::size_t>(p.net)]; }
  bool contains(PointIndex p) const;
  const Vec3& point(PointIndex p) const { return of(p).point(p.i, p.j, p.k); }
  double weight(PointIndex p) const { return of(p).weight(p.i, p.j, p.k); }
  /// The first of the points that are one place with p; p itself when it stands alone.
  PointIndex representative(PointIndex p) const;
  std::size_t size() const;
};

/// A value for each control point of a part.
template <typename T>
struct PerPoint {
  std::vector<Grid<T>> nets;

  PerPoint() = default;
  explicit PerPoint(const Nets& all, T fill = T{}) {
    for (const Net& n : all.nets)
      nets.push_back(Grid<T>::layered(n.count(0), n.count(1), n.count(2), fill));
  }
  PerPoint(Grid<T> of_one) : nets{std::move(of_one)} {}  // NOLINT: a part of one surface

  T& operator()(PointIndex p) { return nets[static_cast<std::size_t>(p.net)](p.i, p.j, p.k); }
  const T& operator()(PointIndex p) const {
    return nets[static_cast<std::size_t>(p.net)](p.i, p.j, p.k);
  }
  /// Of the first net.
  T& operator()(int i, int j) { return (*this)(PointIndex{0, i, j}); }
  const T& operator()(int i, int j) const { return (*this)(PointIndex{0, i, j}); }
  /// True when it has a value for just the points of these nets.
  bool fits(const Nets& all) const {
    bool same = nets.size() == all.nets.size();
    for (std::size_t n = 0; same && n < nets.size(); ++n)
      same = nets[n].same_size(all.nets[n].count(0), all.nets[n].count(1), all.nets[n].count(2));
    return same;
  }
  bool operator==(const PerPoint&) const = default;
};

using PointShares = PerPoint<double>;  ///< 0..1 of each point; 0 stays
using PointMoves = PerPoint<Vec3>;     ///< mm

/// visit(p) for every control point of a net that is number `number` of its part.
template <typename F>
void for_each_point(const Net& net, int number, const F& visit) {
  for (int i = 0; i < net.count(0); ++i)
    for (int j = 0; j < net.count(1); ++j)
      for (int k = 0; k < net.count(2); ++k) visit(PointIndex{number, i, j, k});
}
template <typename F>
void for_each_point(const Nets& all, const F& visit) {
  for (std::size_t n = 0; n < all.nets.size(); ++n)
    for_each_point(all.nets[n], static_cast<int>(n), visit);
}

/// Place of a point in a direction, and the point at another place of the same row.
inline int place_along(PointIndex p, int direction) {
  return direction == 0 ? p.i : (direction == 1 ? p.j : p.k);
}
inline PointIndex with_place(PointIndex p, int direction, int place) {
  (direction == 0 ? p.i : (direction == 1 ? p.j : p.k)) = place;
  return p;
}

/// The point `steps` away along a direction, round closed ones; nothing beyond an end.
std::optional<PointIndex> neighbour(const Net& net, PointIndex p, int direction, int steps);

/// visit(q) for the next points in each direction, or along each edge of a form.
template <typename F>
void for_each_neighbour(const Net& net, PointIndex p, const F& visit) {
  for (int d = 0; d < net.directions(); ++d)
    for (const int step : {-1, 1})
      if (const auto q = neighbour(net, p, d, step)) visit(*q);
  if (const FormNet* f = net.form()) {
    const FormTopology& t = f->links->topology;
    const auto i = static_cast<std::uint32_t>(p.i);
    for (const std::uint32_t e : t.edges_of_point[i]) {
      const FormEdge& ends = t.edges[e].points;
      visit(PointIndex{p.net, static_cast<int>(ends[0] == i ? ends[1] : ends[0])});
    }
  }
}

/// visit(direction, a, b) for every leg of a net: from each point to the next one of its row; of a form for every
/// edge, with direction 0.
template <typename F>
void for_each_leg(const Net& net, const F& visit) {
  if (const FormNet* f = net.form())
    for (const FormTopology::Edge& e : f->links->topology.edges)
      visit(0, f->points[e.points[0]], f->points[e.points[1]]);
  for_each_point(net, 0, [&](PointIndex p) {
    for (int d = 0; d < net.directions(); ++d)
      if (const auto q = neighbour(net, p, d, 1))
        visit(d, net.point(p.i, p.j, p.k), net.point(q->i, q->j, q->k));
  });
}
template <typename F>
void for_each_leg(const Nets& all, const F& visit) {
  for (const Net& net : all.nets) for_each_leg(net, visit);
}

}  // namespace evenclay
