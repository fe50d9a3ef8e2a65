// The OpenGL surface the view asks for.
#pragma once

namespace evenclay::look {

/// Sets the default format: OpenGL 3.3 core, with smooth edges where that is cheap. A software
/// driver is several times slower with them, so there they are used only when `smooth_anyway`
/// (pictures). Call it after the application and before the first window.
void choose_surface_format(bool smooth_anyway);

}  // namespace evenclay::look
