#include "app/look/colours.h"

#include "app/look/style.h"

namespace evenclay::look {

namespace {

// Style sheet, palette and painting must agree at every moment, so there is one theme for the program.
Theme in_use = Theme::Light;

}  // namespace

const Colours& colours(Theme theme) {
  static const Colours light{.panel = "#F3EFEA",
                             .raised = "#FBF9F6",
                             .line = "#D8D0C6",
                             .ink = "#2D2A26",
                             .quiet_ink = "#6F675D",
                             .clay = "#A8512F",
                             .water = "#0F6E84",
                             .good = "#3E7C4F",
                             .caution = "#B7791F",
                             .bad = "#B3372F",
                             .caution_soft = "#F8EEDC",
                             .bad_soft = "#F8E4E0",
                             .view_top = "#E7E2DB",
                             .view_bottom = "#BFB8AE",
                             .map_below = "#1F5FA8",
                             .map_middle = "#F4F1EC",
                             .map_above = "#D9731A"};
  static const Colours night{.panel = "#262321",
                             .raised = "#322E2B",
                             .line = "#463F3A",
                             .ink = "#EFE9E2",
                             .quiet_ink = "#A99F93",
                             .clay = "#D27C55",
                             .water = "#4FB3C8",
                             .good = "#7DBB8B",
                             .caution = "#E0A94A",
                             .bad = "#E5776E",
                             .caution_soft = "#3D3322",
                             .bad_soft = "#432B28",
                             .view_top = "#3A3633",
                             .view_bottom = "#1F1D1B",
                             .map_below = "#1F5FA8",
                             .map_middle = "#F4F1EC",
                             .map_above = "#D9731A"};
  return theme == Theme::Night ? night : light;
}

const Colours& colours() {
  return colours(in_use);
}

Theme theme() {
  return in_use;
}

void note_theme(Theme theme) {
  in_use = theme;
}

}  // namespace evenclay::look
