#include "core/operations/shift.h"

#include <fmt/format.h>

#include "core/body/shifted.h"
#include "core/operations/common.h"

namespace evenclay {

// A tenth of the form's size, so that the first picture shows what the step does.
void ShiftOperation::suit(const Beginning& b) {
  if (const auto* body = b.before ? std::get_if<Body>(b.before.get()) : nullptr)
    way = {0, 0, std::round(0.1 * size(*body))};
}

void ShiftOperation::describe(ParameterVisitor& v) {
  const NumberRange range{-100000.0, 100000.0, "mm", 1.0, 3};
  v.number({"x", "Along x", "How far along x."}, way.x, range);
  v.number({"y", "Along y", "How far along y."}, way.y, range);
  v.number({"z", "Along z", "How far along z."}, way.z, range);
}

std::string ShiftOperation::summary() const {
  return fmt::format("{:g}, {:g}, {:g} mm", way.x, way.y, way.z);
}

Outcome ShiftOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  return {shifted(faces_of(before, label()), way), {}};
}

}  // namespace evenclay
