// Fonts, icons and the style sheet made from the table of colours.
#pragma once

#include <QIcon>
#include <QString>

class QApplication;

namespace evenclay::look {

/// Loads the shipped fonts and sets palette, font and style sheet.
void apply_style(QApplication& application);

/// A line icon by its file name without ending, in ink (quiet ink when disabled).
QIcon icon(const QString& name);
/// The same in the colour of raised fields, for buttons filled with clay.
QIcon light_icon(const QString& name);

}  // namespace evenclay::look
