// Text and marks over the picture: tripod, names of the side views, legend, numbers, callouts.
#pragma once

#include <QPainter>

#include "app/view/layers.h"

namespace evenclay {

void paint_overlay(QPainter& painter, const LayerInput& in);

/// The number of a control point as it is addressed: "[4,2]", of a second surface "[1,4,2]".
QString address_words(const Nets& nets, PointIndex p);

}  // namespace evenclay
