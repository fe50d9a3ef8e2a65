// A target of a pattern as one rectangle: a face, or several that border each other in rows and columns.
#pragma once

#include <array>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <span>
#include <vector>

#include "core/body/body.h"
#include "core/nurbs/arc_length.h"

namespace evenclay {

/// One face of a target, its surface turned so that u runs along the rectangle's columns and v along its rows.
struct ChartCell {
  std::shared_ptr<const Surface> surface;
  /// The face as it is, in the turned surface's parameters; its loops say what of the surface there is.
  Face face;
  bool outward = true;  ///< outside is along du × dv of the turned surface
};

/// Arc lengths over pieces of a chart, each measured when it is first asked for: one evaluation of a pattern asks for
/// the same ones many times. Thread-safe.
class ChartLengths {
 public:
  std::shared_ptr<const ArcLengthMap> of(std::span<const Surface* const> surfaces,
                                         Direction direction, std::span<const Region> regions);

 private:
  std::mutex mutex_;
  std::map<std::vector<double>, std::shared_ptr<const ArcLengthMap>> known_;
};

/// Faces side by side: cells(column, row). `around_s`: the last column borders on the first.
struct Chart {
  Grid<ChartCell> cells;
  bool around_s = false, around_t = false;
  std::array<bool, 4> pole{};  ///< the borders s = 0, s = 1, t = 0, t = 1 are one place each

  std::shared_ptr<ChartLengths> lengths = std::make_shared<ChartLengths>();

  const Surface& surface(int column = 0, int row = 0) const { return *cells(column, row).surface; }
  bool single() const { return cells.rows() == 1 && cells.columns() == 1; }
};

/// A whole surface, or one face.
Chart chart_of(const Surface& surface, double pole_tolerance = 1e-6);
Chart chart_of(const Face& face, double pole_tolerance = 1e-6);

/// Several faces of a body, by their places in it: laid out from the first one's u and v on across borders that
/// meet within `tolerance` (mm). Throws Error when they do not make a rectangle of rows and columns, or one of
/// them has not four borders.
Chart chart_of(const Body& body, std::span<const std::size_t> faces, double tolerance);

/// Which part of a chart carries the pattern, as shares of each direction. For one face they are shares of its
/// domain; for several, shares of the mean lengths of rows and columns.
struct ChartRegion {
  double s_from = 0.0, s_to = 1.0, t_from = 0.0, t_to = 1.0;
};

/// One direction of a region of a chart: a share of the way → the column (or row) and its parameter.
/// Thread-safe after construction.
class Spread {
 public:
  /// `even`: by mean arc length, else in proportion to the parameter within each column. Throws Error when the
  /// region has no extent or no length.
  Spread(const Chart& chart, Direction direction, const ChartRegion& region, bool even);

  struct Place {
    int cell = 0;  ///< column for U, row for V
    double parameter = 0.0;
    double slope = 0.0;  ///< of the parameter by the share
  };
  Place at(double share) const;
  /// The share of a parameter of a column; outside the region it goes on. Nothing when the region has no part of the column.
  std::optional<double> share(int cell, double parameter) const;
  /// Shares at which a column ends and the next begins.
  std::vector<double> inner_ends() const;

 private:
  struct Piece {
    int cell;
    double from, to;    // shares
    double begin, end;  // parameters
    std::shared_ptr<const ArcLengthMap> even;
  };
  std::vector<Piece> pieces_;
};

/// Mean arc length of a region along a direction, mm. Throws Error when it has none.
double length_along(const Chart& chart, Direction direction, const ChartRegion& region);

}  // namespace evenclay
