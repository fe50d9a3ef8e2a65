// What the person at this machine has chosen; kept in the settings of the desktop, never in a project.
#pragma once

#include <QString>

namespace evenclay::look {

/// In what lengths are shown. Projects, files and formulas are in millimetres, whatever is chosen here.
enum class LengthUnit { Millimetre, Centimetre, Inch };

/// The button of the mouse that turns the view; with Shift it pans. Space with the left one always turns.
enum class TurnButton { Middle, Right };

struct Preferences {
  LengthUnit unit = LengthUnit::Millimetre;
  TurnButton turn = TurnButton::Middle;
  int recovery_seconds = 10;  ///< between two copies of unsaved work, 2..600
  bool operator==(const Preferences&) const = default;
};

/// Those in use; read from the desktop's settings at the first call. For the window's thread.
const Preferences& preferences();
/// Uses and keeps them; numbers are brought into their range.
void set_preferences(Preferences preferences);

/// How many of the shown unit a millimetre is.
double shown_per_mm(LengthUnit unit);
QString unit_sign(LengthUnit unit);  ///< "mm", "cm", "in"

/// A text with its lengths, areas and volumes in another unit: "98.9 · 99.4 mm" as "3.89 · 3.91 in". Each keeps about as many
/// digits as it had. Numbers right before the sign count, and those joined to them by ·, ×, –, "to" or "and".
QString in_unit(const QString& text, LengthUnit unit);
/// In the unit in use.
QString in_shown_unit(const QString& text);

}  // namespace evenclay::look
