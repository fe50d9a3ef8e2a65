// What a step offers besides its shape: small interfaces that an operation may have, so that window,
// runner and worker ask for what they need and never for a single kind of step.
#pragma once

#include <array>
#include <vector>

#include "core/body/pick.h"
#include "core/document/operation.h"
#include "core/grid/count_plot.h"
#include "core/pattern/stretch.h"
#include "core/points/shaping.h"
#include "core/scan/clip.h"
#include "core/source/profile.h"

namespace evenclay {

/// Control points that the hand may move in a step: the nets as they are without what the hand did, and
/// that. A step whose nets are not those of the shape before (the ribs of a surface, the points of a cage)
/// hands them on in its Outcome.
struct HandNets {
  Nets below;
  Shapings shapings;  ///< one for each net
  /// What the points lead, as polylines to draw over the shape: guide curves.
  std::vector<std::vector<Vec3>> lines = {};
};

/// A step that holds moves of control points; the hand's tools work through it.
class ShapesPoints {
 public:
  virtual ~ShapesPoints() = default;
  /// The nets of the shape before, and what the step does to each of them, carried over where they
  /// have changed. Throws Error when it cannot be, and when the step's nets are its own.
  using Offer = HandNets;
  virtual Offer offered(const Shape& before) const = 0;
  /// The step with these shapings, on the nets that it offers.
  virtual OperationPtr with_shapings(Shapings shapings) const = 0;
  virtual SymmetryPlane symmetry_planes() const = 0;
  virtual OperationPtr with_symmetry(SymmetryPlane planes) const = 0;
  virtual std::array<EdgeRule, 4> edge_rules() const = 0;
};

/// A step whose counts of control points can be plotted and taken from the plot.
class OffersCounts {
 public:
  virtual ~OffersCounts() = default;
  virtual std::array<int, 2> counts() const = 0;
  virtual OperationPtr with_counts(int points_u, int points_v) const = 0;
  /// What other counts would do to the shape before; empty when there is nothing to plot. Throws
  /// Cancelled.
  virtual std::vector<CountPlace> count_plot(const Shape& before, Progress& progress) const = 0;
};

/// A step that works at a place of one face, which is picked on the surface.
class TakesPlace {
 public:
  virtual ~TakesPlace() = default;
  /// `face` is one of the shape before, `number` its place there, counted from 1; `u`, `v` are shares of
  /// its domain.
  virtual OperationPtr with_place(const Pick& face, int number, double u, double v) const = 0;
  /// Each click is a place of its own, so that a drag does not move one.
  virtual bool adds_places() const { return false; }
};

/// A source whose points are clicked one after the other, and moved by hand afterwards.
class DrawsPoints {
 public:
  virtual ~DrawsPoints() = default;
  virtual std::vector<Vec3> drawn_points() const = 0;
  /// As many as there are: moved; fewer: the last ones are taken back; more: added as they were begun.
  virtual OperationPtr with_drawn_points(std::vector<Vec3> points) const = 0;
  /// Whether the places are the control points of the curve, which the hand moves anyway.
  virtual bool places_are_net() const { return false; }
  /// Whether each place is reached by a leg of its own kind.
  virtual bool draws_legs() const { return false; }
  /// One more place, reached by that leg; `first`: instead of all there are.
  virtual OperationPtr with_drawn_place(const Vec3& place, Leg leg, bool first) const {
    (void)leg;
    std::vector<Vec3> all = first ? std::vector<Vec3>{} : drawn_points();
    all.push_back(place);
    return with_drawn_points(std::move(all));
  }
  /// A click on the first place closes it.
  virtual bool can_close() const { return drawn_points().size() >= 3; }
  /// Closed, the last leg being of that kind.
  virtual OperationPtr drawn_closed(Leg leg) const = 0;
};

/// An outline given by a few places: each click after the first changes its measures.
class DrawsOutline : public DrawsPoints {
 public:
  std::vector<Vec3> clicked = {};  ///< while it is drawn; not kept in files

  OperationPtr with_drawn_place(const Vec3& place, Leg, bool first) const override {
    std::vector<Vec3> all = first ? std::vector<Vec3>{} : clicked;
    all.push_back(place);
    return with_drawn_points(std::move(all));
  }
  bool places_are_net() const override { return true; }
  bool can_close() const override { return false; }
  OperationPtr drawn_closed(Leg) const override { return nullptr; }
};

/// A step that picks faces or edges of other parts.
class PicksOnParts {
 public:
  virtual ~PicksOnParts() = default;
  /// The part on which a parameter picks; empty: the shape before.
  virtual PartRef picks_on(std::string_view parameter) const = 0;
};

/// A step that works at a place of one edge, clicked in the view.
class TakesEdgePlace {
 public:
  virtual ~TakesEdgePlace() = default;
  /// Whether clicks on edges are places now, and not picks of whole edges.
  virtual bool wants_edge_place() const = 0;
  /// `share` of the edge's domain, 0..1.
  virtual OperationPtr with_edge_place(const Pick& edge, double share) const = 0;
};

/// A step in which each edge has one of several rules: a click on it gives the next one.
class CyclesEdges {
 public:
  virtual ~CyclesEdges() = default;
  virtual OperationPtr with_next_rule(const std::vector<Pick>& edges) const = 0;
  virtual std::string_view rule_of(const Pick& edge) const = 0;  ///< as the settings call it
};

/// A step that takes lines drawn around something in a view.
class TakesLassos {
 public:
  virtual ~TakesLassos() = default;
  virtual std::vector<Lasso> lassos() const = 0;
  virtual OperationPtr with_lassos(std::vector<Lasso> lassos) const = 0;
};

/// A picture on a plane that the hand moves and scales.
class PlacesPicture {
 public:
  virtual ~PlacesPicture() = default;
  /// Larger by the factor, the fixed place staying where it is.
  virtual OperationPtr scaled_about(const Vec3& fixed, double factor) const = 0;
  virtual OperationPtr moved_by(const Vec3& way) const = 0;
};

/// Where a pattern lies on its target, as the hand changes it.
struct PatternFrame {
  ChartRegion region;
  TargetCorner corner = TargetCorner::UVMin;
  bool flip_u = false, flip_v = false;
};

/// What a pattern does to its target, for frames, gauges and colours of the window.
struct PatternFacts {
  PatternFrame frame;
  bool around_u = false, around_v = false;  ///< the target is closed that way
  /// Places of the target at equal shares, of which the region's are shares.
  Grid<Vec3> target;
  /// Corners of one repeat in the base, where its x and y begin, then x, both, and y.
  std::array<Vec3, 4> base{};
  double tile_u = 0.0, tile_v = 0.0;  ///< mean size of a tile on the target, mm
  PartRef on;                         ///< the target
  /// Of a target of one face: its name, the shares of its domain at which repeats begin and end, and which of
  /// them (along u × count along v + along v) are made; all when empty.
  Tag face = 0;
  std::vector<double> ends_u, ends_v;
  std::vector<bool> made;
  Stretch stretch;
  FlowJoints joints;
};

/// A step that lays a pattern on a target.
class PlacesPattern {
 public:
  virtual ~PlacesPattern() = default;
  virtual OperationPtr with_frame(const PatternFrame& frame) const = 0;
};

/// The interface, when the operation has it.
template <typename Offer>
const Offer* offer_of(const Operation& operation) {
  return dynamic_cast<const Offer*>(&operation);
}

}  // namespace evenclay
