#include "app/panels/part_picture.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace evenclay {

namespace {

// A fixed view: from the front, a little from the right and above.
const Vec3 kRight = normalized(Vec3{0.85, 0.53, 0.0});
const Vec3 kEye = normalized(Vec3{0.45, -0.72, 0.53});
const Vec3 kUp = cross(kEye, kRight) * -1.0;
const Vec3 kLight = normalized(Vec3{-0.2, -0.7, 0.8});

Vec3 number_at(const std::vector<float>& v, std::size_t k) {
  return {static_cast<double>(v[k]), static_cast<double>(v[k + 1]), static_cast<double>(v[k + 2])};
}

struct Flat {
  QPointF at;
  double depth = 0.0;
};

class Canvas {
 public:
  Canvas(const Box3& box, int pixels) : centre_(box.centre()) {
    scale_ = 0.9 * pixels / std::max(box.size(), 1e-9);
    middle_ = 0.5 * pixels;
  }
  Flat at(const Vec3& p) const {
    const Vec3 d = p - centre_;
    return {{middle_ + dot(d, kRight) * scale_, middle_ - dot(d, kUp) * scale_}, dot(d, kEye)};
  }

 private:
  Vec3 centre_;
  double scale_ = 1.0, middle_ = 0.0;
};

void draw_triangles(QPainter& painter, const DisplayMesh& mesh, const Canvas& canvas,
                    const QColor& colour) {
  struct Triangle {
    std::array<QPointF, 3> at;
    double depth = 0.0, light = 1.0;
  };
  std::vector<Triangle> all;
  for (std::size_t k = 0; k + 2 < mesh.indices.size(); k += 3) {
    Triangle t;
    Vec3 normal;
    for (std::size_t c = 0; c < 3; ++c) {
      const std::size_t v = static_cast<std::size_t>(mesh.indices[k + c]) * 6;
      const Flat f = canvas.at(number_at(mesh.vertices, v));
      t.at[c] = f.at;
      t.depth += f.depth / 3.0;
      normal += number_at(mesh.vertices, v + 3);
    }
    if (dot(normal, kEye) < 0.0) normal = normal * -1.0;
    t.light =
        0.45 + 0.6 * std::max(0.0, length(normal) > 0.0 ? dot(normalized(normal), kLight) : 0.0);
    all.push_back(t);
  }
  std::sort(all.begin(), all.end(),
            [](const Triangle& a, const Triangle& b) { return a.depth < b.depth; });
  for (const Triangle& t : all) {
    const auto shade = [&](int x) { return std::clamp(static_cast<int>(x * t.light), 0, 255); };
    const QColor c(shade(colour.red()), shade(colour.green()), shade(colour.blue()));
    painter.setPen(QPen(c, 0.6));
    painter.setBrush(c);
    painter.drawPolygon(t.at.data(), 3);
  }
}

void draw_curves(QPainter& painter, const DisplayLines& lines, const Canvas& canvas,
                 const QColor& colour) {
  painter.setPen(QPen(colour.darker(140), 1.6));
  for (std::size_t k = 0; k + 5 < lines.pieces.size(); k += 6)
    painter.drawLine(canvas.at(number_at(lines.pieces, k)).at,
                     canvas.at(number_at(lines.pieces, k + 3)).at);
}

}  // namespace

QImage part_picture(const Shape& shape, std::uint32_t colour, int pixels) {
  Progress progress;
  const DisplayMesh mesh = display_mesh(shape, {1e-2, 1500}, progress);
  if (mesh.box.empty()) return {};
  QImage image(pixels, pixels, QImage::Format_ARGB32_Premultiplied);
  image.fill(Qt::transparent);
  QPainter painter(&image);
  painter.setRenderHint(QPainter::Antialiasing);
  const Canvas canvas(mesh.box, pixels);
  draw_triangles(painter, mesh, canvas, QColor::fromRgb(colour));
  draw_curves(painter, curve_lines(shape, 12), canvas, QColor::fromRgb(colour));
  return image;
}

}  // namespace evenclay
