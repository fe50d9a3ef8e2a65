#include "app/look/graphics.h"

#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFunctions>
#include <QSurfaceFormat>

namespace evenclay::look {

namespace {

bool software_driver() {
  QOpenGLContext context;
  QOffscreenSurface surface;
  surface.create();
  if (!context.create() || !context.makeCurrent(&surface)) return true;
  const auto* name = context.functions()->glGetString(GL_RENDERER);
  const QByteArray renderer(reinterpret_cast<const char*>(name));
  context.doneCurrent();
  return renderer.contains("llvmpipe") || renderer.contains("softpipe") ||
         renderer.contains("Software");
}

}  // namespace

void choose_surface_format(bool smooth_anyway) {
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  format.setDepthBufferSize(24);
  format.setStencilBufferSize(8);
  QSurfaceFormat::setDefaultFormat(format);
  format.setSamples(smooth_anyway || !software_driver() ? 4 : 0);
  QSurfaceFormat::setDefaultFormat(format);
}

}  // namespace evenclay::look
