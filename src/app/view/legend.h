// The legend of what the colours stand for.
#pragma once

#include <QPainter>

#include "app/view/layers.h"

namespace evenclay {

/// A vertical bar with a name and three or five values, at the left of the main view; nothing where no colours are shown.
void paint_legend(QPainter& painter, const LayerInput& in);

}  // namespace evenclay
