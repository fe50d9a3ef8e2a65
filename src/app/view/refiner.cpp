#include "app/view/refiner.h"

#include <QOpenGLContext>
#include <QOpenGLFunctions>
#include <cmath>
#include <numbers>

#include "app/look/colours.h"

namespace evenclay {

namespace {

constexpr int kRound = 16;  // pictures after which an unfinished mean is good enough to be shown

// Spread evenly over the unit interval (van der Corput, any base).
double spread(int n, int base) {
  double value = 0.0;
  double place = 1.0 / base;
  for (; n > 0; n /= base, place /= base) value += place * (n % base);
  return value;
}

std::unique_ptr<QOpenGLFramebufferObject> target(const QSize& size, bool depth, GLenum format) {
  QOpenGLFramebufferObjectFormat f;
  f.setInternalTextureFormat(format);
  f.setAttachment(depth ? QOpenGLFramebufferObject::CombinedDepthStencil
                        : QOpenGLFramebufferObject::NoAttachment);
  return std::make_unique<QOpenGLFramebufferObject>(size, f);
}

}  // namespace

bool PictureKey::operator==(const PictureKey& o) const {
  return camera.target == o.camera.target && camera.yaw == o.camera.yaw &&
         camera.pitch == o.camera.pitch && camera.height == o.camera.height &&
         camera.perspective == o.camera.perspective && pixels == o.pixels && look == o.look &&
         things == o.things && numbers == o.numbers;
}

PictureKey key_of(const Scene& scene, const Camera& camera, const QSize& pixels) {
  PictureKey k{camera, pixels, scene.look, {}, {}};
  for (const MeshItem& m : scene.meshes) {
    k.things.push_back(m.mesh.get());
    k.things.push_back(m.values.get());
    k.numbers.push_back(m.colour.rgb());
    const auto add = [&](const Material& material) {
      if (scene.look == ModelLook::Presentation)
        for (const double x :
             {material.roughness, material.metal, material.coat, material.translucency})
          k.numbers.push_back(x);
    };
    add(m.material);
    for (const MeshItem::Run& r : m.runs) {
      k.numbers.insert(k.numbers.end(), {static_cast<double>(r.first), 1.0 * r.colour.rgb()});
      add(r.material);
    }
  }
  k.things.push_back(scene.ghost.get());
  for (const PictureItem& p : scene.pictures) {
    k.things.push_back(p.image.get());
    k.numbers.push_back(static_cast<double>(p.opacity));
    for (const Vec3& c : p.corners) k.numbers.insert(k.numbers.end(), {c.x, c.y, c.z});
  }
  for (const double x :
       {scene.reach, scene.stripes, scene.upright_stripes ? 1.0 : 0.0,
        scene.single_band ? 1.0 : 0.0, static_cast<double>(look::theme() == look::Theme::Night)})
    k.numbers.push_back(x);
  for (const LineItem& l : scene.lines)
    if (l.ground) {
      k.numbers.push_back(l.colour.rgba());
      k.numbers.push_back(static_cast<double>(l.pieces.size()));
      for (std::size_t n = 0; n < std::min<std::size_t>(6, l.pieces.size()); ++n)
        k.numbers.push_back(static_cast<double>(l.pieces[n]));
    }
  if (scene.section)
    for (const double x : {scene.section->normal.x, scene.section->normal.y,
                           scene.section->normal.z, scene.section->d})
      k.numbers.push_back(x);
  return k;
}

LightSample light_sample(int n, int count, bool shadows, const Camera& camera) {
  LightSample s;
  s.shift_x = spread(n + 1, 2) - 0.5;
  s.shift_y = spread(n + 1, 3) - 0.5;
  if (!shadows) return s;
  const int half = n / 2;
  const double turn = 2.0 * std::numbers::pi * spread(half + 1, 2);
  const double share = (half + 0.5) / ((count + 1) / 2);
  if (n % 2 == 0) {
    // Over a disc about the key light: its breadth softens the shadow.
    const Vec3 key = key_light(camera);
    const Vec3 side = normalized(cross(key, Vec3{0, 0, 1}));
    const Vec3 up = cross(side, key);
    const double r = 0.24 * std::sqrt(share);
    s.to_light = normalized(key + side * (r * std::cos(turn)) + up * (r * std::sin(turn)));
    s.key_share = 2.0;
  } else {
    // Evenly over the upper half of the sky.
    const double z = 0.03 + 0.97 * share;
    const double level = std::sqrt(std::max(0.0, 1.0 - z * z));
    s.to_light = Vec3{level * std::cos(turn), level * std::sin(turn), z};
    s.sky_share = 2.0;
  }
  return s;
}

GLuint Refiner::picture(std::size_t viewport, const PictureKey& key) const {
  const Making& m = makings_[viewport];
  return m.shown > 0 && m.key == key ? m.mean->texture() : 0;
}

bool Refiner::complete(std::size_t viewport, const PictureKey& key) const {
  const Making& m = makings_[viewport];
  return m.count > 0 && m.done == m.count && m.key == key;
}

void Refiner::begin(Making& m, const PictureKey& key, bool shadows) {
  if (!m.sum || m.sum->size() != key.pixels) {
    m.one = target(key.pixels, true, GL_RGBA16F);
    m.sum = target(key.pixels, false, GL_RGBA32F);
    m.mean = target(key.pixels, false, GL_RGBA8);
  }
  m.key = key;
  m.done = m.shown = 0;
  // Materials cost twice as much as clay.
  const int shaded = key.look == ModelLook::Presentation ? kShaded / 2 : kShaded;
  m.count = shadows ? shaded : kPlain;
  m.sum->bind();
  auto* gl = QOpenGLContext::currentContext()->functions();
  gl->glClearColor(0, 0, 0, 0);
  gl->glClear(GL_COLOR_BUFFER_BIT);
}

void Refiner::add(std::size_t viewport, const PictureKey& key, const Scene& scene,
                  const Camera& camera, bool shadows) {
  Making& m = makings_[viewport];
  if (key.pixels.isEmpty()) return;
  if (m.count == 0 || !(m.key == key)) begin(m, key, shadows);
  if (m.done == m.count) return;
  auto* gl = QOpenGLContext::currentContext()->functions();
  renderer_.draw_surfaces(scene, camera, key.pixels, m.one->handle(),
                          light_sample(m.done, m.count, shadows, camera));
  m.sum->bind();
  gl->glViewport(0, 0, key.pixels.width(), key.pixels.height());
  gl->glEnable(GL_BLEND);
  gl->glBlendFunc(GL_ONE, GL_ONE);
  renderer_.draw_picture(m.one->texture(), key.pixels, {}, 1.0);
  gl->glDisable(GL_BLEND);
  ++m.done;
  if (m.done != m.count && m.done % kRound != 0) return;
  m.mean->bind();
  renderer_.draw_picture(m.sum->texture(), key.pixels, {}, 1.0 / m.done);
  m.shown = m.done;
}

void Refiner::release() {
  makings_ = {};
}

}  // namespace evenclay
