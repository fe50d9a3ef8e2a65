// What a step offers besides its shape: small interfaces that an operation may have, so that window,
// runner and worker ask for what they need and never for a single kind of step.
#pragma once

#include <array>
#include <vector>

#include "core/body/pick.h"
#include "core/document/operation.h"
#include "core/grid/count_plot.h"
#include "core/points/shaping.h"

namespace evenclay {

/// A step that holds moves of control points; the hand's tools work through it.
class ShapesPoints {
 public:
  virtual ~ShapesPoints() = default;
  /// The nets of the shape before, and what the step does to each of them, carried over where they
  /// have changed. Throws Error when it cannot be.
  struct Offer {
    Nets below;
    Shapings shapings;
  };
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
};

/// A source whose points are clicked one after the other.
class DrawsPoints {
 public:
  virtual ~DrawsPoints() = default;
  virtual std::vector<Vec3> drawn_points() const = 0;
  virtual OperationPtr with_drawn_points(std::vector<Vec3> points) const = 0;
};

/// The interface, when the operation has it.
template <typename Offer>
const Offer* offer_of(const Operation& operation) {
  return dynamic_cast<const Offer*>(&operation);
}

}  // namespace evenclay
