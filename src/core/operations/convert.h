#pragma once

#include "core/document/operation.h"

namespace evenclay {

/// B10: faces of any kind become whole surfaces with a control grid, and so do the regions of a mesh; says what is lost.
class ConvertOperation : public OperationOf<ConvertOperation> {
 public:
  int points_u = 8, points_v = 8;
  double sharp = 30.0, smoothing = 50.0;  // of meshes: degrees, percent

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "convert",
                                         .label = "Convert to editable",
                                         .help =
                                             "Trimmed and weighted faces, and regions of meshes, "
                                             "become surfaces with a grid; says what is lost.",
                                         .stage = Stage::Grid,
                                         .group = "Counts",
                                         .icon = "layout-grid",
                                         .takes = kBody | kMesh};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

 private:
  Outcome convert(const TriangleMesh& mesh, int step, Progress& progress) const;
};

}  // namespace evenclay
