// The smooth cells of a creased surface, for the closest-point search. Part of projection.cpp.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "core/nurbs/projection_samples.h"

namespace evenclay {

/// The pieces between the creases of both directions, each in the box of its samples. A foot in one piece says nothing
/// about the others: each that comes nearer than what was found must be looked at.
class SmoothCells {
 public:
  SmoothCells() = default;
  /// `all` holds all samples in rows, at us × vs, which name every crease. Creases are sorted and hold both ends.
  SmoothCells(const SurfaceSamples& all, const std::vector<double>& us,
              const std::vector<double>& vs, const std::vector<double>& creases_u,
              const std::vector<double>& creases_v);
  /// Samples that are not accepted begin no search.
  void keep_only(const std::function<bool(Parameter)>& keep);

  /// Calls `search` with the nearest sample of each cell whose box lies nearer to q than `found` says at that time.
  void for_each_nearer(const Vec3& q, const std::function<double()>& found,
                       const std::function<void(Parameter)>& search) const;

 private:
  struct Cell {
    Box3 box;
    std::vector<std::uint32_t> samples;  // that may begin a search
  };
  struct Strip {  // of cells along v
    Box3 box;
    std::vector<Cell> cells;
  };
  std::vector<Strip> strips_;
  std::vector<Vec3> points_;
  std::vector<Parameter> at_;
};

}  // namespace evenclay
