// Small drawings, before and after, of what each tool does.
#pragma once

#include <QPixmap>
#include <QString>

namespace evenclay {

/// Whether there is a drawing of the action of that id.
bool has_drawing(const QString& action);
/// Two panels with an arrow between them, in the colours of the theme; `scale` is pixels per unit of its
/// 120 × 40. Null when there is none.
QPixmap drawing_of(const QString& action, double scale);

}  // namespace evenclay
