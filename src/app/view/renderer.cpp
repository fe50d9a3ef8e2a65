#include "app/view/renderer.h"

#include "app/look/colours.h"
#include "app/view/gl_values.h"
#include "app/view/mesh_shader.h"
#include "app/view/shaders.h"
#include "app/view/shaders_marks.h"

#include <algorithm>

namespace evenclay {

namespace {

constexpr std::size_t kVeil = 8;        // LOOK of the shape before
constexpr std::size_t kShaded = 9;      // LOOK of clay with one of many lights
constexpr std::size_t kPresented = 18;  // … of materials

std::unique_ptr<QOpenGLShaderProgram> program(const char* vertex, const char* fragment,
                                              const char* geometry = nullptr) {
  auto p = std::make_unique<QOpenGLShaderProgram>();
  p->addShaderFromSourceCode(QOpenGLShader::Vertex, vertex);
  if (geometry != nullptr) p->addShaderFromSourceCode(QOpenGLShader::Geometry, geometry);
  p->addShaderFromSourceCode(QOpenGLShader::Fragment, fragment);
  if (!p->link()) qWarning("A shader does not link: %s", qPrintable(p->log()));
  return p;
}

constexpr float kLineNearer = 0.0006F;  // in the depth of the picture

void* offset(std::size_t bytes) {
  return reinterpret_cast<void*>(bytes);
}

}  // namespace

Renderer::~Renderer() = default;

void Renderer::initialize() {
  initializeOpenGLFunctions();
  background_ = program(shaders::kBackgroundVertex, shaders::kBackgroundFragment);
  // Those that are not in daily use are made when they are first asked for.
  for (std::size_t k = 0; k <= kShaded; ++k) (void)mesh_program(k);
  line_ = program(shaders::kLineVertex, shaders::kLineFragment, shaders::kLineGeometry);
  thin_line_ = program(shaders::kLineVertex, shaders::kThinLineFragment);
  point_ = program(shaders::kPointVertex, shaders::kPointFragment);
  picture_ = program(shaders::kBackgroundVertex, shaders::kPictureFragment);
  on_plane_ = program(shaders::kOnPlaneVertex, shaders::kOnPlaneFragment);
  depth_ = program(shaders::kMeshVertex, shaders::kDepthFragment);
  cap_ = program(shaders::kCapVertex, shaders::kCapFragment);
  const QByteArray floor =
      QByteArray("#version 330 core\n") + shaders::kShadow + shaders::kFloorFragment;
  floor_ = program(shaders::kFloorVertex, floor.constData());
  for (Buffers* b : {&moving_lines_, &moving_points_, &empty_}) {
    glGenVertexArrays(1, &b->vao);
    glGenBuffers(1, &b->vertices);
  }
  ready_ = true;
}

// Null for the look Lines, which is lines over clay.
QOpenGLShaderProgram* Renderer::mesh_program(std::size_t k) {
  if (!meshes_[k] && k != static_cast<std::size_t>(ModelLook::Lines)) {
    const QByteArray fragment =
        QByteArray(shaders::kMeshFragmentHead) + QByteArray::number(int(k)) + "\n" +
        (k == kShaded || k == kPresented ? shaders::kShadow : "") + shaders::kMeshFragment;
    meshes_[k] = program(shaders::kMeshVertex, fragment.constData());
  }
  return meshes_[k].get();
}

void Renderer::release() {
  if (!ready_) return;
  for (auto& [key, b] : buffers_) free_buffers(b);
  buffers_.clear();
  for (Buffers* b : {&moving_lines_, &moving_points_, &empty_}) free_buffers(*b);
  for (auto& [key, t] : textures_) glDeleteTextures(1, &t.name);
  textures_.clear();
  for (auto* p :
       {&background_, &line_, &point_, &picture_, &depth_, &cap_, &floor_, &thin_line_, &on_plane_})
    p->reset();
  for (auto& p : meshes_) p.reset();
  for (auto& k : kept_) k.reset();
  if (shadow_target_ != 0) glDeleteFramebuffers(1, &shadow_target_);
  if (shadow_map_ != 0) glDeleteTextures(1, &shadow_map_);
  shadow_target_ = shadow_map_ = 0;
  ready_ = false;
}

void Renderer::free_buffers(Buffers& b) {
  glDeleteVertexArrays(1, &b.vao);
  glDeleteBuffers(1, &b.vertices);
  if (b.indices != 0) glDeleteBuffers(1, &b.indices);
  b = {};
}

void Renderer::collect() {
  for (auto it = textures_.begin(); it != textures_.end();) {
    if (it->second.used) {
      it->second.used = false;
      ++it;
    } else {
      glDeleteTextures(1, &it->second.name);
      it = textures_.erase(it);
    }
  }
  for (auto it = buffers_.begin(); it != buffers_.end();) {
    if (it->second.used) {
      it->second.used = false;
      ++it;
    } else {
      free_buffers(it->second);
      it = buffers_.erase(it);
    }
  }
}

Renderer::Buffers& Renderer::mesh_buffers(const std::shared_ptr<const DisplayMesh>& mesh) {
  Buffers& b = buffers_[mesh.get()];
  b.used = true;
  if (b.vao != 0) return b;
  b.owner = mesh;
  glGenVertexArrays(1, &b.vao);
  glBindVertexArray(b.vao);
  glGenBuffers(1, &b.vertices);
  glBindBuffer(GL_ARRAY_BUFFER, b.vertices);
  glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(mesh->vertices.size() * sizeof(float)),
               mesh->vertices.data(), GL_STATIC_DRAW);
  glEnableVertexAttribArray(0);
  glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 6 * sizeof(float), nullptr);
  glEnableVertexAttribArray(1);
  glVertexAttribPointer(1, 3, GL_FLOAT, GL_FALSE, 6 * sizeof(float), offset(3 * sizeof(float)));
  glGenBuffers(1, &b.indices);
  glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, b.indices);
  glBufferData(GL_ELEMENT_ARRAY_BUFFER,
               static_cast<GLsizeiptr>(mesh->indices.size() * sizeof(std::uint32_t)),
               mesh->indices.data(), GL_STATIC_DRAW);
  b.count = static_cast<GLsizei>(mesh->indices.size());
  glBindVertexArray(0);
  return b;
}

void Renderer::upload_lines(Buffers& b, const std::vector<float>& pieces, GLenum usage) {
  glBindVertexArray(b.vao);
  glBindBuffer(GL_ARRAY_BUFFER, b.vertices);
  glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(pieces.size() * sizeof(float)),
               pieces.data(), usage);
  glEnableVertexAttribArray(0);
  glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 3 * sizeof(float), nullptr);
  b.count = static_cast<GLsizei>(pieces.size() / 3);
}

Renderer::Buffers& Renderer::line_buffers(const std::shared_ptr<const DisplayLines>& lines) {
  Buffers& b = buffers_[lines.get()];
  b.used = true;
  if (b.vao != 0) return b;
  b.owner = lines;
  glGenVertexArrays(1, &b.vao);
  glGenBuffers(1, &b.vertices);
  upload_lines(b, lines->pieces, GL_STATIC_DRAW);
  return b;
}

// The values of the mesh whose vertex array is bound.
void Renderer::bind_values(const std::shared_ptr<const DisplayValues>& values) {
  mesh_->setUniformValue("u_has_values", values != nullptr);
  if (!values) {
    glDisableVertexAttribArray(2);
    return;
  }
  Buffers& b = buffers_[values.get()];
  b.used = true;
  if (b.vertices == 0) {
    b.owner = values;
    glGenBuffers(1, &b.vertices);
    glBindBuffer(GL_ARRAY_BUFFER, b.vertices);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(values->values.size() * sizeof(float)),
                 values->values.data(), GL_STATIC_DRAW);
  }
  glBindBuffer(GL_ARRAY_BUFFER, b.vertices);
  glEnableVertexAttribArray(2);
  glVertexAttribPointer(2, 1, GL_FLOAT, GL_FALSE, sizeof(float), nullptr);
}

// A veil that is seen through the model too, but weaker.
void Renderer::draw_ghost(const std::shared_ptr<const DisplayMesh>& mesh, const Camera& camera) {
  if (!mesh || mesh->indices.empty()) return;
  mesh_ = meshes_[kVeil].get();
  mesh_->bind();
  mesh_->setUniformValue("u_view", view_);
  mesh_->setUniformValue("u_projection", projection_);
  mesh_->setUniformValue("u_perspective", camera.perspective);
  const Buffers& b = mesh_buffers(mesh);
  glBindVertexArray(b.vao);
  bind_values(nullptr);
  mesh_->setUniformValue("u_behind", 0.0F);
  mesh_->setUniformValue("u_colour", rgb(look::colours().water));
  glEnable(GL_BLEND);
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  glDepthMask(GL_FALSE);
  glEnable(GL_CULL_FACE);
  glCullFace(GL_BACK);
  // A little behind: where nothing changed the two surfaces coincide, and no veil is to be seen.
  glEnable(GL_POLYGON_OFFSET_FILL);
  glPolygonOffset(3.0F, 4000.0F);
  for (const bool behind : {true, false}) {
    mesh_->setUniformValue("u_ghost", behind ? 0.16F : 0.42F);
    if (behind)
      glDisable(GL_DEPTH_TEST);
    else
      glEnable(GL_DEPTH_TEST);
    glDrawElements(GL_TRIANGLES, b.count, GL_UNSIGNED_INT, nullptr);
  }
  glDisable(GL_POLYGON_OFFSET_FILL);
  glDisable(GL_CULL_FACE);
  glEnable(GL_DEPTH_TEST);
  glDepthMask(GL_TRUE);
}

void Renderer::draw_background() {
  background_->bind();
  background_->setUniformValue("u_top", rgb(look::colours().view_top));
  background_->setUniformValue("u_bottom", rgb(look::colours().view_bottom));
  glDisable(GL_DEPTH_TEST);
  glDisable(GL_BLEND);
  glBindVertexArray(empty_.vao);
  glDrawArrays(GL_TRIANGLES, 0, 3);
}

namespace {

// What there is to draw; what lets light through comes last.
std::vector<const MeshItem*> in_order(const Scene& scene, bool presented) {
  std::vector<const MeshItem*> items;
  for (const MeshItem& item : scene.meshes)
    if (item.mesh && !item.mesh->indices.empty()) items.push_back(&item);
  const auto opaque = [](const MeshItem* i) {
    return i->material.translucency <= 0.0 &&
           std::all_of(i->runs.begin(), i->runs.end(),
                       [](const MeshItem::Run& r) { return r.material.translucency <= 0.0; });
  };
  if (presented) std::stable_partition(items.begin(), items.end(), opaque);
  return items;
}

}  // namespace

void Renderer::use_material(const Material& m) {
  mesh_->setUniformValue("u_material",
                         QVector4D(static_cast<float>(m.roughness), static_cast<float>(m.metal),
                                   static_cast<float>(m.coat), static_cast<float>(m.translucency)));
  if (m.translucency <= 0.0) {
    glDisable(GL_BLEND);
    return;
  }
  glEnable(GL_BLEND);
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
}

// All of a mesh, run by run where faces look otherwise; opaque runs first.
void Renderer::draw_runs(const MeshItem& item, const Buffers& b, bool presented) {
  std::vector<MeshItem::Run> runs = item.runs;
  if (runs.empty() || item.mesh->indices.size() != static_cast<std::size_t>(b.count))
    runs = {{0, static_cast<std::size_t>(b.count), item.colour, item.material}};
  std::stable_partition(runs.begin(), runs.end(),
                        [](const MeshItem::Run& r) { return r.material.translucency <= 0.0; });
  for (const MeshItem::Run& r : runs) {
    if (presented) use_material(r.material);
    mesh_->setUniformValue("u_colour", rgb(r.colour));
    glDrawElements(GL_TRIANGLES, static_cast<GLsizei>(r.count), GL_UNSIGNED_INT,
                   reinterpret_cast<const void*>(r.first * sizeof(std::uint32_t)));
  }
}

void Renderer::draw_meshes(const Scene& scene, const Camera& camera, const LightSample& sample) {
  const ModelLook look = scene.look == ModelLook::Lines ? ModelLook::Clay : scene.look;
  const bool presented = look == ModelLook::Presentation;
  const bool shaded = is_lit(look) && sample.to_light.has_value();
  mesh_ = mesh_program(!shaded ? static_cast<std::size_t>(look) : presented ? kPresented : kShaded);
  mesh_->bind();
  mesh_->setUniformValue("u_view", view_);
  mesh_->setUniformValue("u_projection", projection_);
  mesh_->setUniformValue("u_perspective", camera.perspective);
  mesh_->setUniformValue("u_reach", static_cast<float>(scene.reach));
  mesh_->setUniformValue("u_stripes", static_cast<float>(scene.stripes));
  mesh_->setUniformValue("u_upright", scene.upright_stripes);
  mesh_->setUniformValue("u_single", scene.single_band);
  mesh_->setUniformValue("u_below", rgb(look::colours().map_below));
  mesh_->setUniformValue("u_middle", rgb(look::colours().map_middle));
  mesh_->setUniformValue("u_above", rgb(look::colours().map_above));
  mesh_->setUniformValue("u_key", view_.mapVector(vector(key_light(camera))));
  mesh_->setUniformValue("u_up", view_.mapVector(QVector3D(0, 0, 1)));
  mesh_->setUniformValue("u_side", view_.mapVector(QVector3D(1, 0, 0)));
  if (shaded) use_light(*mesh_, sample);
  use_section(*mesh_, scene, true);
  glEnable(GL_DEPTH_TEST);
  glEnable(GL_POLYGON_OFFSET_FILL);
  glPolygonOffset(1.0F, 1.0F);
  const bool see_through = scene.look == ModelLook::SeeThrough;
  if (see_through) {
    glEnable(GL_BLEND);
    // The picture stays opaque: its alpha is what the window is composed with.
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
    glDepthMask(GL_FALSE);
    glEnable(GL_CULL_FACE);
  } else {
    glDisable(GL_BLEND);
  }
  const std::vector<const MeshItem*> items = in_order(scene, presented);
  for (const GLenum culled : {GL_FRONT, GL_BACK}) {  // see-through: back sides first
    glCullFace(see_through ? culled : GL_BACK);
    for (const MeshItem* drawn : items) {
      const MeshItem& item = *drawn;
      if (!see_through && item.mesh->closed) glEnable(GL_CULL_FACE);
      const Buffers& b = mesh_buffers(item.mesh);
      mesh_->setUniformValue("u_behind", item.behind);
      glBindVertexArray(b.vao);
      bind_values(item.values);
      draw_runs(item, b, presented);
      if (!see_through) glDisable(GL_CULL_FACE);
    }
    if (!see_through) break;
  }
  glDisable(GL_BLEND);
  glDisable(GL_CULL_FACE);
  glDisable(GL_POLYGON_OFFSET_FILL);
  glDisable(GL_CLIP_DISTANCE0);
  glDepthMask(GL_TRUE);
  if (scene.section && !see_through) draw_caps(scene);
}

void Renderer::draw_lines(Buffers& b, const QColor& colour, float width) {
  if (b.count == 0) return;
  line_->setUniformValue("u_colour", colour);
  line_->setUniformValue("u_width", width * pixel_ratio_);
  glBindVertexArray(b.vao);
  glDrawArrays(GL_LINES, 0, b.count);
}

void Renderer::draw_points(const std::vector<PointItem>& points, bool behind) {
  point_->setUniformValue("u_alpha", behind ? 0.35F : 1.0F);
  if (behind)
    glDisable(GL_DEPTH_TEST);
  else
    glEnable(GL_DEPTH_TEST);
  glDrawArrays(GL_POINTS, 0, static_cast<GLsizei>(points.size()));
}

void Renderer::set_camera(const Scene& scene, const Camera& camera, const QSizeF& pixels,
                          const LightSample& sample) {
  pixels_ = pixels;
  view_ = camera.view();
  QMatrix4x4 shift;
  shift.translate(static_cast<float>(2.0 * sample.shift_x / pixels.width()),
                  static_cast<float>(2.0 * sample.shift_y / pixels.height()));
  projection_ =
      shift * camera.projection(pixels.width() / std::max(1.0, pixels.height()), scene.size);
}

void Renderer::draw(const Scene& scene, const Camera& camera, const QRect& viewport, int height,
                    double pixel_ratio, GLuint finished) {
  pixel_ratio_ = static_cast<float>(pixel_ratio);
  const auto px = [&](int v) { return static_cast<GLint>(v * pixel_ratio); };
  const QPoint corner(px(viewport.x()), px(height - viewport.y() - viewport.height()));
  const QSize size(px(viewport.width()), px(viewport.height()));
  glViewport(corner.x(), corner.y(), size.width(), size.height());
  glEnable(GL_SCISSOR_TEST);
  glScissor(corner.x(), corner.y(), size.width(), size.height());
  glClear(GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT);
  set_camera(scene, camera, size, {});
  if (finished != 0) {
    draw_picture(finished, size, corner, 1.0);
    draw_depth(scene);
  } else {
    draw_background();
    draw_meshes(scene, camera, {});
    draw_ground_lines(scene);
    draw_pictures(scene, false);
    draw_ghost(scene.ghost, camera);
  }
  draw_pictures(scene, true);
  draw_marks(scene);
  glDepthMask(GL_TRUE);
  glDisable(GL_DEPTH_TEST);
  glDisable(GL_SCISSOR_TEST);
  glBindVertexArray(0);
  glUseProgram(0);
}

void Renderer::draw_marks(const Scene& scene) {
  glEnable(GL_BLEND);
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  glDepthMask(GL_FALSE);
  line_->bind();
  line_->setUniformValue("u_view", view_);
  line_->setUniformValue("u_projection", projection_);
  line_->setUniformValue("u_pixels", QVector2D(static_cast<float>(pixels_.width()),
                                               static_cast<float>(pixels_.height())));
  line_->setUniformValue("u_nearer", kLineNearer);
  glEnable(GL_DEPTH_TEST);
  use_section(*line_, scene, true);
  QColor on_model = look::colours(look::Theme::Light).ink;  // clay is light in every theme
  on_model.setAlpha(130);
  if (scene.look == ModelLook::Lines || scene.look == ModelLook::SeeThrough)
    for (const MeshItem& item : scene.meshes)
      if (item.lines && !item.lines->pieces.empty())
        draw_lines(line_buffers(item.lines), on_model, 1.0F);
  for (const LineItem& item : scene.lines) {
    if (item.ground) continue;
    use_section(*line_, scene, item.cut);
    // The model itself is drawn a hair behind, which is enough for what lies on it; more would show the far edges of
    // thin walls through their skin.
    line_->setUniformValue("u_nearer", item.cut ? 0.0F : kLineNearer);
    upload_lines(moving_lines_, item.pieces, GL_STREAM_DRAW);
    if (item.on_top) {
      glDisable(GL_DEPTH_TEST);
      QColor faint = item.colour;
      faint.setAlphaF(item.colour.alphaF() * 0.28F);
      draw_lines(moving_lines_, faint, item.width);
      glEnable(GL_DEPTH_TEST);
    }
    draw_lines(moving_lines_, item.colour, item.width);
  }
  glDisable(GL_CLIP_DISTANCE0);
  if (!scene.points.empty()) draw_all_points(scene);
}

void Renderer::draw_all_points(const Scene& scene) {
  std::vector<float> data;
  data.reserve(scene.points.size() * 7);
  for (const PointItem& p : scene.points)
    for (const double x :
         {p.at.x, p.at.y, p.at.z, static_cast<double>(p.state), p.weight, p.share, p.scale})
      data.push_back(static_cast<float>(x));
  glBindVertexArray(moving_points_.vao);
  glBindBuffer(GL_ARRAY_BUFFER, moving_points_.vertices);
  glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(data.size() * sizeof(float)), data.data(),
               GL_STREAM_DRAW);
  glEnableVertexAttribArray(0);
  glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 7 * sizeof(float), nullptr);
  glEnableVertexAttribArray(1);
  glVertexAttribPointer(1, 4, GL_FLOAT, GL_FALSE, 7 * sizeof(float), offset(3 * sizeof(float)));
  glEnable(GL_PROGRAM_POINT_SIZE);
  point_->bind();
  point_->setUniformValue("u_view", view_);
  point_->setUniformValue("u_projection", projection_);
  point_->setUniformValue("u_scale", pixel_ratio_ * static_cast<float>(scene.point_scale));
  point_->setUniformValue("u_ink", rgb(look::colours(look::Theme::Light).ink));
  point_->setUniformValue("u_water", rgb(look::colours(look::Theme::Light).water));
  draw_points(scene.points, true);
  draw_points(scene.points, false);
  glDisable(GL_PROGRAM_POINT_SIZE);
}

// Seen from both sides; what lies behind shows through as the opacity says.
void Renderer::draw_pictures(const Scene& scene, bool through) {
  for (const PictureItem& item : scene.pictures) {
    if (item.through != through || !item.image || item.image->isNull()) continue;
    Texture& t = textures_[item.image.get()];
    t.used = true;
    glActiveTexture(GL_TEXTURE0);
    if (t.name == 0) {
      t.owner = item.image;
      glGenTextures(1, &t.name);
      glBindTexture(GL_TEXTURE_2D, t.name);
      glTexImage2D(GL_TEXTURE_2D, 0, GL_RGBA8, item.image->width(), item.image->height(), 0,
                   GL_RGBA, GL_UNSIGNED_BYTE, item.image->constBits());
      glGenerateMipmap(GL_TEXTURE_2D);
      glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR_MIPMAP_LINEAR);
      glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_S, GL_CLAMP_TO_EDGE);
      glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_WRAP_T, GL_CLAMP_TO_EDGE);
    }
    glBindTexture(GL_TEXTURE_2D, t.name);
    on_plane_->bind();
    on_plane_->setUniformValue("u_view", view_);
    on_plane_->setUniformValue("u_projection", projection_);
    std::array<QVector3D, 4> corners;
    for (std::size_t k = 0; k < 4; ++k) corners[k] = vector(item.corners[k]);
    on_plane_->setUniformValueArray("u_corners", corners.data(), 4);
    on_plane_->setUniformValue("u_opacity", item.opacity);
    on_plane_->setUniformValue("u_picture", 0);
    glEnable(GL_BLEND);
    glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
    if (through)
      glDisable(GL_DEPTH_TEST);
    else
      glEnable(GL_DEPTH_TEST);
    glDepthMask(GL_FALSE);
    glBindVertexArray(empty_.vao);
    glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
    glDepthMask(GL_TRUE);
    glEnable(GL_DEPTH_TEST);
    glDisable(GL_BLEND);
  }
}

}  // namespace evenclay
