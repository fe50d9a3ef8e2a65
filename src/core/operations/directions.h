#pragma once

#include "core/body/body.h"
#include "core/operations/common.h"
#include "core/operations/offers.h"

namespace evenclay {

/// What the parameters of a surface run over.
enum class ParameterRange { Keep, Unit, Length };

/// B8: how u and v run; exact.
class DirectionsOperation : public OperationOf<DirectionsOperation> {
 public:
  bool swap = false, reverse_u = false, reverse_v = false;
  ParameterRange range = ParameterRange::Keep;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "directions",
        .label = "Directions",
        .help =
            "Swaps u and v, turns a direction round, or renumbers the parameters; the shape stays.",
        .stage = Stage::Grid,
        .group = "Edges",
        .icon = "arrow-left-right",
        .takes = kBody};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

 private:
  Surface turned(Surface surface) const;
  ParameterMap map_to(const Surface& from, const Surface& to) const;
};

/// Which direction an operation works along.
enum class AlongDirection { U, V };

/// B8: a direction made closed or opened at a place.
class OpenCloseOperation : public OperationOf<OpenCloseOperation> {
 public:
  AlongDirection along = AlongDirection::U;
  bool closed = false;
  double place = 0.0;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "open_close",
        .label = "Open or close",
        .help =
            "Opens a closed direction at a place, or closes one whose ends meet; the shape stays.",
        .stage = Stage::Grid,
        .group = "Edges",
        .icon = "circle-dashed",
        .takes = kBody};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// B8: a surface split at a parameter; both sides stay in the part.
class SplitSurfaceOperation : public OperationOf<SplitSurfaceOperation>, public TakesPlace {
 public:
  AlongDirection along = AlongDirection::U;
  OnFace on;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "split_surface",
        .label = "Split surface",
        .help = "Splits a surface along a line of constant u or v; both sides share the new edge.",
        .stage = Stage::Grid,
        .group = "Edges",
        .icon = "square-split-horizontal",
        .takes = kBody,
        .hint = kPickPlace};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  OperationPtr with_place(const Pick& face, int number, double u, double v) const override;
};

}  // namespace evenclay
