// Skins made solid, and solids worked on: thicken, shell, close, round, chamfer, hole.
#pragma once

#include "core/cut/round.h"
#include "core/operations/body_picks.h"
#include "core/operations/common.h"
#include "core/operations/offers.h"

namespace evenclay {

/// G9: see core/cut/thicken.h, and core/cut/thick_mesh.h for triangles.
class ThickenOperation : public OperationOf<ThickenOperation> {
 public:
  double thickness = 2.0;
  ThickenSide side = ThickenSide::Inward;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "thicken",
        .label = "Thicken",
        .help = "Gives a skin a thickness, with walls along its open edges.",
        .stage = Stage::CutAndJoin,
        .group = "Solids",
        .icon = "layers-2",
        .takes = kBody | kMesh,
        .keeps_place = true};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// G9: a solid hollowed, with picked faces as openings.
class ShellOperation : public OperationOf<ShellOperation> {
 public:
  std::vector<Pick> faces;
  double thickness = 2.0;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "shell",
        .label = "Shell",
        .help = "Hollows a solid; picked faces become openings.",
        .stage = Stage::CutAndJoin,
        .group = "Solids",
        .icon = "package-open",
        .takes = kBody,
        .hint = "Click the faces that shall be open; Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// G9: faces joined, flat openings filled, and what comes out said.
class CloseSolidOperation : public OperationOf<CloseSolidOperation> {
 public:
  std::vector<PartRef> others;
  bool fill = true;
  double tolerance = 0.01;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "close_solid",
        .label = "Close to solid",
        .help = "Joins this part and others to a closed skin; openings are filled if wanted.",
        .stage = Stage::CutAndJoin,
        .group = "Solids",
        .icon = "package-check",
        .takes = kBody};
    return kInfo;
  }
  void suit(const Beginning& beginning) override { others = other_picked_bodies(beginning); }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// G9: see core/cut/round.h.
class RoundEdgesOperation : public OperationOf<RoundEdgesOperation> {
 public:
  std::vector<Pick> edges;
  double radius = 1.0, radius_end = 1.0;
  bool changing = false;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "round_edges",
        .label = "Round edges",
        .help = "Rounds picked edges by a radius, even or changing along them.",
        .stage = Stage::CutAndJoin,
        .group = "Edges",
        .icon = "squircle",
        .takes = kBody,
        .hint = "Click edges; what goes on smoothly is taken along. Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

class ChamferEdgesOperation : public OperationOf<ChamferEdgesOperation> {
 public:
  std::vector<Pick> edges;
  double distance = 1.0;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "chamfer_edges",
        .label = "Chamfer edges",
        .help = "Cuts picked edges flat, by the distance on both faces.",
        .stage = Stage::CutAndJoin,
        .group = "Edges",
        .icon = "diamond",
        .takes = kBody,
        .hint = "Click edges; what goes on smoothly is taken along. Enter keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// G10: a hole at a place of the skin, or from a curve outside.
enum class HoleShape { Round, Slot, Curve };
class HoleOperation : public OperationOf<HoleOperation>, public TakesPlace {
 public:
  HoleShape shape = HoleShape::Round;
  OnFace on;
  PartRef curve;
  double diameter = 6.0, length = 12.0, turn = 0.0;
  bool through = true;
  double depth = 5.0;
  enum class Way { IntoSkin, X, Y, Z } way = Way::IntoSkin;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "hole",
        .label = "Hole",
        .help = "A round hole, a slot or a profile, through or to a depth.",
        .stage = Stage::CutAndJoin,
        .group = "Cut",
        .icon = "circle-dot",
        .takes = kBody,
        .hint = kPickPlace};
    return kInfo;
  }
  OperationPtr with_place(const Pick& face, int number, double u, double v) const override {
    return placed(*this, face, number, u, v);
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
