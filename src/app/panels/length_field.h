// A length that is no part of the project: of a card, a view or a limit.
#pragma once

#include <memory>

#include "app/panels/formula_spin.h"
#include "core/base/error.h"
#include "core/document/numbers.h"

namespace evenclay {

/// A field of a length in mm, shown and typed in the unit in use; takes sums and lengths with a unit, but no named
/// numbers. The parent owns it.
inline LengthSpin* length_field(QWidget* parent) {
  auto field = std::make_unique<LengthSpin>([](const QString& text) -> std::optional<double> {
    try {
      return formula_value(text.toStdString(), {});
    } catch (const Error&) {
      return std::nullopt;
    }
  });
  field->setParent(parent);
  return field.release();
}

}  // namespace evenclay
