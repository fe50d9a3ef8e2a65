// The one table of colours; everything on screen takes its colours from here.
#pragma once

#include <QColor>

namespace evenclay::look {

enum class Theme { Light, Night };

struct Colours {
  QColor panel, raised, line, ink, quiet_ink;
  QColor clay;   ///< primary action, current step, legs along u
  QColor water;  ///< picked, active direction, legs along v
  QColor good, caution, bad;
  QColor caution_soft, bad_soft;  ///< grounds of cards beyond their limits
  QColor view_top, view_bottom;
  // A diverging map that colour-blind people can read, and its ends dark enough to be told apart.
  QColor map_below, map_middle, map_above;
};

/// Those of the theme in use.
const Colours& colours();
const Colours& colours(Theme theme);
Theme theme();

}  // namespace evenclay::look
