// What is done to subdivision forms as a whole, each a build step: a thickness, a mirror, surfaces, crossings, other forms taken in.
#pragma once

#include "core/document/operation.h"
#include "core/operations/common.h"

namespace evenclay {

/// E11: a wall of even thickness.
class ThickenFormOperation : public OperationOf<ThickenFormOperation> {
 public:
  double thickness = 3.0;
  bool inward = true;
  double crease = 0.0;  ///< of the rims

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "thicken_form",
        .label = "Thicken form",
        .help = "Gives a form a second skin at a distance, with rims along its borders.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "layers",
        .takes = kForm};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E12: the other half, joined along the mirror.
class MirrorFormOperation : public OperationOf<MirrorFormOperation> {
 public:
  FlatPlane plane = FlatPlane::XZ;
  double place = 0.0;
  bool join = true;
  double near = 0.01;  ///< mm from the mirror within which border points are joined

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "mirror_form",
        .label = "Mirror form",
        .help = "Adds the mirror image of a form and joins both where they meet the mirror.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "flip-horizontal-2",
        .takes = kForm};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// E15: the limit as a joined body of few large surfaces.
class FormToSurfacesOperation : public OperationOf<FormToSurfacesOperation> {
 public:
  double within = 0.0;  ///< mm; 0: the tolerance of the project

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "form_to_surfaces",
                                         .label = "Convert to surfaces",
                                         .help =
                                             "Makes a joined body of few large surfaces out of a "
                                             "form; the form below stays editable.",
                                         .stage = Stage::CutAndJoin,
                                         .group = "Solids",
                                         .icon = "package",
                                         .takes = kForm};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// H8: the points of faces that cross, drawn towards their neighbours.
class PullInCrossingsOperation : public OperationOf<PullInCrossingsOperation> {
 public:
  double share = 0.5;
  int passes = 20;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "pull_in_crossings",
        .label = "Pull in crossings",
        .help = "Draws the points of faces that run through each other towards their neighbours.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "minimize-2",
        .takes = kForm};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// Another form becomes part of this one, so that both can be bridged or stitched.
class TakeInFormOperation : public OperationOf<TakeInFormOperation> {
 public:
  PartRef part;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "take_in_form",
        .label = "Take in a form",
        .help = "Adds the faces of another form, so that both can be bridged or stitched.",
        .stage = Stage::Shaped,
        .group = "Form",
        .icon = "file-input",
        .takes = kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
