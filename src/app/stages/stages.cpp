#include "app/stages/stages.h"

#include <array>

namespace evenclay {

const StageInfo& info(Stage stage) {
  static constexpr std::array<StageInfo, kStages> all{{
      {"Source", "box", "Make the first simple surface of a part.", ""},
      {"Grid", "grid-3x3", "Choose the control-point grid the shaping needs.", ""},
      {"Shape", "move-3d", "Move control points until highlights flow.", ""},
      {"Pattern", "layout-grid", "Repeat a tile over the shaped surface.", ""},
      {"Cut & join", "scissors", "Split, join, blend, make solid.", ""},
      {"Check", "scan-line", "Look at highlights and numbers.", ""},
      {"Deliver", "package", "Hand over files.", ""},
  }};
  return all[static_cast<std::size_t>(stage)];
}

}  // namespace evenclay
