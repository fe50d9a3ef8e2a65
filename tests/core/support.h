// Named corpora and the B-rep kernel as the independent reference.
#pragma once

#include <Geom_BSplineSurface.hxx>
#include <random>
#include <string>
#include <vector>

#include "core/nurbs/surface.h"

namespace evenclay::testing {

struct NamedSurface {
  std::string name;
  Surface surface;
};

/// Random surfaces: degree 1..7 (11 now and then), 2..most_points points, some rational (weights 0.2..5),
/// some periodic, some with very uneven or double knots, some with poles. The seed is fixed.
std::vector<NamedSurface> random_surfaces(std::size_t count, unsigned seed = 20261,
                                          int most_points = 24);

/// Exact conics of several sizes.
std::vector<NamedSurface> conic_surfaces();

/// The kernel's surface of the clamped form.
Handle(Geom_BSplineSurface) kernel_surface(const Surface& surface);

/// Places spread over the domain, borders and knots included.
std::vector<std::pair<double, double>> places(const Surface& surface, int count);

}  // namespace evenclay::testing
