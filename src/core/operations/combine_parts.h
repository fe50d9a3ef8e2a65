// Parts united, subtracted, intersected, and split.
#pragma once

#include "core/cut/combine.h"
#include "core/cut/split.h"
#include "core/operations/body_picks.h"

namespace evenclay {

/// G9: see core/cut/combine.h. One operation for each way.
template <Combine How>
class CombineOperation : public OperationOf<CombineOperation<How>> {
 public:
  std::vector<PartRef> others;
  const OperationInfo& info() const override;
  void suit(const Beginning& beginning) override { others = other_picked_bodies(beginning); }
  void describe(ParameterVisitor& visitor) override {
    visitor.parts({"others", "Other parts", "They stay as they are and may be hidden."}, others,
                  {100, kBody});
  }
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};
using UniteOperation = CombineOperation<Combine::Unite>;
using SubtractOperation = CombineOperation<Combine::Subtract>;
using IntersectOperation = CombineOperation<Combine::Intersect>;

/// What a Split uses.
enum class SplitBy { Part, Plane };

/// G3, G4, G5: see core/cut/split.h.
class SplitOperation : public OperationOf<SplitOperation> {
 public:
  SplitBy by = SplitBy::Part;
  PartRef part;  ///< with curves or a body
  bool along_normals = false;
  SplitReach reach = SplitReach::BothWays;
  Carried carried;
  int normal = 0;  ///< of the plane: x, y, z
  double at = 0.0;
  double tilt_a = 0.0, tilt_b = 0.0;  ///< degrees about the other two axes
  SplitKeep keep = SplitKeep::All;
  double gap = 0.0;
  GapSide gap_side = GapSide::Centred;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "split_part",
        .label = "Split",
        .help =
            "Splits along a curve, a plane or another part, with a gap if wanted; keeps all or one "
            "side.",
        .stage = Stage::CutAndJoin,
        .group = "Cut",
        .icon = "slice",
        .takes = kBody,
        .hint = "Choose what splits in the settings; Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

 private:
  Splitter splitter(const Inputs& inputs) const;
};

/// Faces taken away.
class RemoveFacesOperation : public OperationOf<RemoveFacesOperation> {
 public:
  std::vector<Pick> faces;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "remove_faces",
                                         .label = "Take away faces",
                                         .help = "The picked faces or pieces go; the rest stays.",
                                         .stage = Stage::CutAndJoin,
                                         .group = "Cut",
                                         .icon = "eraser",
                                         .takes = kBody,
                                         .hint = "Click the faces that shall go; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// Faces of a part as a part of their own.
class FacesAsPartOperation : public OperationOf<FacesAsPartOperation> {
 public:
  PartRef part;
  std::vector<Pick> faces;
  const OperationInfo& info() const override;
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// G5: picked faces moved along their outside, with walls around.
class OffsetFacesOperation : public OperationOf<OffsetFacesOperation> {
 public:
  std::vector<Pick> faces;
  double distance = 1.0;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "offset_faces",
        .label = "Offset faces",
        .help =
            "Moves picked faces, such as an imprinted piece, along their outside; walls follow.",
        .stage = Stage::CutAndJoin,
        .group = "Cut",
        .icon = "layers",
        .takes = kBody,
        .hint = "Click the faces that shall move; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
