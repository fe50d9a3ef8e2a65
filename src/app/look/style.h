// Fonts, icons and the style sheet made from the table of colours.
#pragma once

#include <QIcon>
#include <QString>

#include "app/look/colours.h"

class QApplication;

namespace evenclay::look {

/// Loads the shipped fonts and sets palette, font and style sheet.
void apply_style(QApplication& application, Theme theme = Theme::Light);
/// Changes the theme of a running program; everything is drawn anew.
void use_theme(Theme theme);
/// What the desktop is set to, as far as it tells; asked before apply_style().
Theme desktop_theme();

/// A line icon by its file name without ending, in ink (quiet ink when disabled). It follows the theme
/// and is sharp at every scale.
QIcon icon(const QString& name);
/// The same in the colour of raised fields, for buttons filled with clay.
QIcon light_icon(const QString& name);

void note_theme(Theme theme);  ///< of use_theme()

}  // namespace evenclay::look
