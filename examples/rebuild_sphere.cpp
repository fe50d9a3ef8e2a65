// The core alone: a sphere on a chosen grid, and what that choice costs. Built and run as a test.
#include <cstdio>

#include "core/check/measures.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"

int main() {
  using namespace evenclay;
  Progress progress;
  const Surface sphere = make_sphere({}, 52.0);
  for (const int points : {8, 10, 14}) {
    const Surface rebuilt = rebuild(sphere, {.points_u = points, .points_v = 8}, progress);
    const Deviation d = deviation(rebuilt, sphere, progress);
    std::printf("%d × 8 points: off by at most %.3f mm, %.3f mm on average\n", points, d.max,
                d.mean);
  }
  return 0;
}
