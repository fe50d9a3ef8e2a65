// A body that faces and edges are picked on, as lines of the view.
#pragma once

#include <map>
#include <memory>
#include <vector>

#include "core/body/topology.h"
#include "core/document/shape.h"

namespace evenclay {

struct PickTarget {
  ShapePtr shape;
  Body body;  ///< with all borders as edges
  Topology topology;
  std::vector<std::vector<float>> edges;
  const std::vector<float>& hatching(std::size_t face) const;
  /// The edges of a face.
  std::vector<float> outline(std::size_t face) const;

 private:
  mutable std::map<std::size_t, std::vector<float>> faces_;  ///< made when they are first shown
};

/// Those of the last few shapes, made when they are first asked for.
class PickTargets {
 public:
  /// Null where the shape is no body.
  std::shared_ptr<const PickTarget> of(const ShapePtr& shape);

 private:
  std::vector<std::shared_ptr<const PickTarget>> kept_;
};

}  // namespace evenclay
