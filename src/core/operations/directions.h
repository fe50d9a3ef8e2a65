#pragma once

#include "core/body/body.h"
#include "core/operations/offers.h"

namespace evenclay {

/// What the parameters of a surface run over.
enum class ParameterRange { Keep, Unit, Length };

/// B8: how u and v run; exact.
class DirectionsOperation : public OperationOf<DirectionsOperation> {
 public:
  bool swap = false, reverse_u = false, reverse_v = false;
  ParameterRange range = ParameterRange::Keep;

  std::string_view kind() const override { return "directions"; }
  std::string_view label() const override { return "Directions"; }
  std::string_view help() const override {
    return "Swaps u and v, turns a direction round, or renumbers the parameters; the shape stays.";
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

  std::string_view kind() const override { return "open_close"; }
  std::string_view label() const override { return "Open or close"; }
  std::string_view help() const override {
    return "Opens a closed direction at a place, or closes one whose ends meet; the shape stays.";
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// B8: a surface split at a parameter; both sides stay in the part.
class SplitSurfaceOperation : public OperationOf<SplitSurfaceOperation>, public TakesPlace {
 public:
  AlongDirection along = AlongDirection::U;
  double place_u = 0.5, place_v = 0.5;
  int surface = 1;

  std::string_view kind() const override { return "split_surface"; }
  std::string_view label() const override { return "Split surface"; }
  std::string_view help() const override {
    return "Splits a surface along a line of constant u or v; both sides share the new edge.";
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  OperationPtr with_place(int face, double u, double v) const override;
};

}  // namespace evenclay
