// Picking a place on the chosen part for a step that works at a place, such as Add grid line.
#pragma once

#include <QString>
#include <optional>

#include "app/window/app_model.h"

namespace evenclay {

class PlacePicker {
 public:
  explicit PlacePicker(AppModel& model) : model_(model) {}

  /// The chosen step has a place to pick, and picking is what clicks are for now: while the step is
  /// being tried, or when points could not be moved there anyway.
  bool active() const;
  /// A drag moves the place; else each click is a place of its own.
  bool moves_with_hand() const;
  /// Sets the step's place (and surface) to that of a click on the shown shape; false when the
  /// shape is not there yet.
  bool pick(const SurfacePlace& shown);

  /// Lines of constant u and v through a place of the shown shape, which a click would pick: two
  /// runs of points.
  struct Lines {
    std::vector<Vec3> of_u, of_v;
  };
  Lines lines_at(const SurfacePlace& shown) const;

 private:
  AppModel& model_;
};

}  // namespace evenclay
