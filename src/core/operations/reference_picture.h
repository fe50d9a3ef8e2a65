#pragma once

#include "core/operations/common.h"
#include "core/operations/offers.h"

namespace evenclay {

/// A5: a picture on a plane to model over.
class ReferencePictureOperation : public OperationOf<ReferencePictureOperation>,
                                  public PlacesPicture {
 public:
  FileAttachment file;
  FlatPlane plane = FlatPlane::XZ;
  Vec3 centre;
  double width = 100.0;
  double turn = 0.0;      ///< degrees, counter-clockwise
  double opacity = 60.0;  ///< percent
  bool through = false;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "reference_picture",
        .label = "Reference picture",
        .help = "A picture on a plane to model over; the project keeps its own copy.",
        .stage = Stage::Source,
        .group = "Bring in",
        .icon = "camera",
        .hint = "Choose the picture's file in the settings on the right; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  OperationPtr scaled_about(const Vec3& fixed, double factor) const override;
  OperationPtr moved_by(const Vec3& way) const override;
};

}  // namespace evenclay
