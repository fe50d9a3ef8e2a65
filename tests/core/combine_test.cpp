// Parts united, subtracted, intersected. Volumes by formula.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/cut/combine.h"
#include "core/nurbs/conics.h"
#include "support.h"

using namespace evenclay;
using Catch::Contains;
constexpr double kPi = std::numbers::pi;

TEST_CASE("two crossing cylinders enclose Steinmetz's volume") {
  WARN("x");
}
