// Values in the form in which shaders take them.
#pragma once

#include <QColor>
#include <QVector3D>

#include "core/base/vec3.h"

namespace evenclay {

inline QVector3D vector(const Vec3& v) {
  return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
}

inline QVector3D rgb(const QColor& c) {
  return {static_cast<float>(c.redF()), static_cast<float>(c.greenF()),
          static_cast<float>(c.blueF())};
}

}  // namespace evenclay
