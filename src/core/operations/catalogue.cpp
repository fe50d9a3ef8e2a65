#include "core/operations/catalogue.h"

#include <vector>

#include "core/operations/flow_pattern.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"
#include "core/operations/shaped_points.h"
#include "core/operations/sphere.h"

namespace evenclay {

std::span<const OperationPtr> catalogue() {
  static const std::vector<OperationPtr> all{
      std::make_shared<SphereOperation>(),      std::make_shared<PlaneOperation>(),
      std::make_shared<RebuildOperation>(),     std::make_shared<ShapedPointsOperation>(),
      std::make_shared<FlowPatternOperation>(),
  };
  return all;
}

std::shared_ptr<Operation> make_operation(std::string_view kind) {
  for (const OperationPtr& o : catalogue())
    if (o->kind() == kind) return o->clone();
  return nullptr;
}

}  // namespace evenclay
