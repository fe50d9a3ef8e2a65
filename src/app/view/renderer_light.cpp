// Shadows, floor, caps and finished pictures of Renderer.
#include <cmath>

#include "app/look/colours.h"
#include "app/view/gl_values.h"
#include "app/view/renderer.h"
#include "core/display/eye.h"

namespace evenclay {

namespace {

constexpr int kShadowPixels = 1024;

// From world to a map that just holds the ball around the box, seen along the light.
QMatrix4x4 light_matrix(const Box3& box, const Vec3& to_light) {
  const auto r = static_cast<float>(std::max(0.5 * box.size(), 1e-3));
  const QVector3D centre = vector(box.centre());
  const QVector3D up = std::abs(to_light.z) > 0.9 ? QVector3D(0, 1, 0) : QVector3D(0, 0, 1);
  QMatrix4x4 m;
  m.ortho(-r, r, -r, r, 0.0F, 4.0F * r);
  m.lookAt(centre + vector(to_light) * 2.0F * r, centre, up);
  return m;
}

}  // namespace

Vec3 key_light(const Camera& camera) {
  return key_light_of(camera.axes());
}

void Renderer::use_section(QOpenGLShaderProgram& program, const Scene& scene, bool cut) {
  const bool on = cut && scene.section.has_value();
  if (on)
    glEnable(GL_CLIP_DISTANCE0);
  else
    glDisable(GL_CLIP_DISTANCE0);
  const QVector4D plane =
      on ? QVector4D(vector(scene.section->normal), static_cast<float>(scene.section->d))
         : QVector4D(0, 0, 0, 1);
  program.setUniformValue("u_section", plane);
}

void Renderer::use_light(QOpenGLShaderProgram& program, const LightSample& sample) {
  glActiveTexture(GL_TEXTURE0);
  glBindTexture(GL_TEXTURE_2D, shadow_map_);
  program.setUniformValue("u_shadow", 0);
  program.setUniformValue("u_shadow_from", shadow_from_world_ * view_.inverted());
  program.setUniformValue("u_light", view_.mapVector(vector(*sample.to_light)));
  program.setUniformValue("u_lift", static_cast<float>(shadow_lift_));
  program.setUniformValue("u_key_share", static_cast<float>(sample.key_share));
  program.setUniformValue("u_sky_share", static_cast<float>(sample.sky_share));
}

// Depth alone of all meshes, with the camera or light that view_ and projection_ hold.
void Renderer::draw_depth(const Scene& scene) {
  depth_->bind();
  depth_->setUniformValue("u_view", view_);
  depth_->setUniformValue("u_projection", projection_);
  use_section(*depth_, scene, true);
  glDisable(GL_BLEND);
  glEnable(GL_DEPTH_TEST);
  glDepthMask(GL_TRUE);
  glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
  glEnable(GL_POLYGON_OFFSET_FILL);
  glPolygonOffset(1.0F, 1.0F);
  if (scene.look != ModelLook::SeeThrough)
    for (const MeshItem& item : scene.meshes) {
      if (!item.mesh || item.mesh->indices.empty()) continue;
      const Buffers& b = mesh_buffers(item.mesh);
      depth_->setUniformValue("u_behind", item.behind);
      glBindVertexArray(b.vao);
      glDrawElements(GL_TRIANGLES, b.count, GL_UNSIGNED_INT, nullptr);
    }
  glDisable(GL_POLYGON_OFFSET_FILL);
  glDisable(GL_CLIP_DISTANCE0);
  glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
}

void Renderer::draw_shadow_map(const Scene& scene, const Vec3& to_light) {
  if (shadow_target_ == 0) {
    glGenTextures(1, &shadow_map_);
    glBindTexture(GL_TEXTURE_2D, shadow_map_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_DEPTH_COMPONENT24, kShadowPixels, kShadowPixels, 0,
                 GL_DEPTH_COMPONENT, GL_UNSIGNED_INT, nullptr);
    for (const auto& [name, value] : std::initializer_list<std::pair<GLenum, GLint>>{
             {GL_TEXTURE_MIN_FILTER, GL_LINEAR},
             {GL_TEXTURE_MAG_FILTER, GL_LINEAR},
             {GL_TEXTURE_WRAP_S, GL_CLAMP_TO_EDGE},
             {GL_TEXTURE_WRAP_T, GL_CLAMP_TO_EDGE},
             {GL_TEXTURE_COMPARE_MODE, GL_COMPARE_REF_TO_TEXTURE},
             {GL_TEXTURE_COMPARE_FUNC, GL_LEQUAL}})
      glTexParameteri(GL_TEXTURE_2D, name, value);
    glGenFramebuffers(1, &shadow_target_);
    glBindFramebuffer(GL_FRAMEBUFFER, shadow_target_);
    glFramebufferTexture2D(GL_FRAMEBUFFER, GL_DEPTH_ATTACHMENT, GL_TEXTURE_2D, shadow_map_, 0);
    glDrawBuffer(GL_NONE);
  }
  glBindFramebuffer(GL_FRAMEBUFFER, shadow_target_);
  glViewport(0, 0, kShadowPixels, kShadowPixels);
  glClear(GL_DEPTH_BUFFER_BIT);
  shadow_from_world_ = light_matrix(scene.box, to_light);
  shadow_lift_ = 0.006 * scene.box.size();
  view_.setToIdentity();
  projection_ = shadow_from_world_;
  draw_depth(scene);
}

// How many more back sides than front sides lie behind each place of the plane, in the stencil: where it
// is not zero the plane lies inside the mesh.
void Renderer::count_sides(const Scene& scene, const MeshItem& item) {
  depth_->bind();
  depth_->setUniformValue("u_view", view_);
  depth_->setUniformValue("u_projection", projection_);
  use_section(*depth_, scene, true);
  depth_->setUniformValue("u_behind", 0.0F);
  glClear(GL_STENCIL_BUFFER_BIT);
  glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
  glDepthMask(GL_FALSE);
  glDisable(GL_DEPTH_TEST);
  glStencilFunc(GL_ALWAYS, 0, 0xFF);
  glStencilOpSeparate(GL_BACK, GL_KEEP, GL_KEEP, GL_INCR_WRAP);
  glStencilOpSeparate(GL_FRONT, GL_KEEP, GL_KEEP, GL_DECR_WRAP);
  const Buffers& b = mesh_buffers(item.mesh);
  glBindVertexArray(b.vao);
  glDrawElements(GL_TRIANGLES, b.count, GL_UNSIGNED_INT, nullptr);
  glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
  glDepthMask(GL_TRUE);
  glEnable(GL_DEPTH_TEST);
  glDisable(GL_CLIP_DISTANCE0);
}

void Renderer::draw_caps(const Scene& scene) {
  const Vec3 n = scene.section->normal;
  const Vec3 centre = scene.box.centre();
  const double reach = scene.box.size();
  const Vec3 along = normalized(cross(n, std::abs(n.z) > 0.9 ? Vec3{1, 0, 0} : Vec3{0, 0, 1}));
  glEnable(GL_STENCIL_TEST);
  for (const MeshItem& item : scene.meshes) {
    if (!item.mesh || !item.mesh->closed || item.mesh->indices.empty()) continue;
    count_sides(scene, item);
    cap_->bind();
    cap_->setUniformValue("u_view", view_);
    cap_->setUniformValue("u_projection", projection_);
    cap_->setUniformValue("u_centre", vector(centre - n * (dot(n, centre) + scene.section->d)));
    cap_->setUniformValue("u_along", vector(along * reach));
    cap_->setUniformValue("u_across", vector(cross(n, along) * reach));
    cap_->setUniformValue("u_colour", rgb(item.colour.darker(112)));
    cap_->setUniformValue("u_stripe", rgb(look::colours(look::Theme::Light).ink));
    glStencilFunc(GL_NOTEQUAL, 0, 0xFF);
    glStencilOp(GL_KEEP, GL_KEEP, GL_KEEP);
    glBindVertexArray(empty_.vao);
    glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
  }
  glDisable(GL_STENCIL_TEST);
}

namespace {

struct Pixels {
  QPoint corner;  // lower left
  QSize size;
};

Pixels pixels_of(const QRect& viewport, int height, double ratio) {
  const auto px = [&](int v) { return static_cast<int>(v * ratio); };
  return {{px(viewport.x()), px(height - viewport.y() - viewport.height())},
          {px(viewport.width()), px(viewport.height())}};
}

}  // namespace

void Renderer::keep(std::size_t number, const QRect& viewport, int height, double ratio,
                    GLuint target) {
  const Pixels p = pixels_of(viewport, height, ratio);
  auto& kept = kept_[number];
  if (!kept || kept->size() != p.size) kept = std::make_unique<QOpenGLFramebufferObject>(p.size);
  glBindFramebuffer(GL_READ_FRAMEBUFFER, target);
  glBindFramebuffer(GL_DRAW_FRAMEBUFFER, kept->handle());
  glBlitFramebuffer(p.corner.x(), p.corner.y(), p.corner.x() + p.size.width(),
                    p.corner.y() + p.size.height(), 0, 0, p.size.width(), p.size.height(),
                    GL_COLOR_BUFFER_BIT, GL_NEAREST);
  glBindFramebuffer(GL_FRAMEBUFFER, target);
}

bool Renderer::draw_kept(std::size_t number, const QRect& viewport, int height, double ratio) {
  const Pixels p = pixels_of(viewport, height, ratio);
  const auto& kept = kept_[number];
  if (!kept || kept->size() != p.size) return false;
  glViewport(p.corner.x(), p.corner.y(), p.size.width(), p.size.height());
  glDisable(GL_BLEND);
  draw_picture(kept->texture(), p.size, p.corner, 1.0);
  return true;
}

void Renderer::draw_ground_lines(const Scene& scene) {
  thin_line_->bind();
  thin_line_->setUniformValue("u_view", view_);
  thin_line_->setUniformValue("u_projection", projection_);
  thin_line_->setUniformValue("u_nearer", 0.0F);
  use_section(*thin_line_, scene, false);
  glEnable(GL_DEPTH_TEST);
  glDepthMask(GL_FALSE);
  glEnable(GL_BLEND);
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  for (const LineItem& item : scene.lines) {
    if (!item.ground) continue;
    upload_lines(moving_lines_, item.pieces, GL_STREAM_DRAW);
    thin_line_->setUniformValue("u_colour", item.colour);
    glDrawArrays(GL_LINES, 0, moving_lines_.count);
  }
  glDisable(GL_BLEND);
  glDepthMask(GL_TRUE);
}

// Seen from above only: from below the floor would hide the form.
void Renderer::draw_floor(const Scene& scene, const Camera& camera, const LightSample& sample) {
  if (!sample.to_light || scene.box.empty() || camera.axes().z.z < 0.02) return;
  floor_->bind();
  floor_->setUniformValue("u_view", view_);
  floor_->setUniformValue("u_projection", projection_);
  const double r = 0.5 * scene.box.size();
  Vec3 centre = scene.box.centre();
  centre.z = scene.box.min.z - 0.012 * r;  // below surfaces that are drawn a hair behind
  floor_->setUniformValue("u_centre", vector(centre));
  floor_->setUniformValue("u_radius", static_cast<float>(2.6 * r));
  floor_->setUniformValue(
      "u_dark",
      static_cast<float>(0.20 * sample.key_share +
                         0.45 * sample.sky_share * sample.to_light->z * sample.to_light->z));
  floor_->setUniformValue("u_blur", sample.sky_share > 0.0 ? 0.07F : 0.02F);
  floor_->setUniformValue("u_seed", static_cast<float>(sample.shift_x * 97.0 + sample.shift_y));
  use_light(*floor_, sample);
  glEnable(GL_BLEND);
  glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE_MINUS_SRC_ALPHA);
  glEnable(GL_DEPTH_TEST);
  glDepthMask(GL_FALSE);
  glBindVertexArray(empty_.vao);
  glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
  glDepthMask(GL_TRUE);
  glDisable(GL_BLEND);
}

void Renderer::draw_surfaces(const Scene& scene, const Camera& camera, const QSize& pixels,
                             GLuint target, const LightSample& sample) {
  glDepthMask(GL_TRUE);  // or the shadow map would not be cleared
  if (sample.to_light) draw_shadow_map(scene, *sample.to_light);
  glBindFramebuffer(GL_FRAMEBUFFER, target);
  glViewport(0, 0, pixels.width(), pixels.height());
  glDisable(GL_SCISSOR_TEST);
  glDepthMask(GL_TRUE);
  glClear(GL_DEPTH_BUFFER_BIT | GL_STENCIL_BUFFER_BIT);
  set_camera(scene, camera, pixels, sample);
  draw_background();
  draw_meshes(scene, camera, sample);
  draw_ground_lines(scene);
  draw_floor(scene, camera, sample);
  draw_pictures(scene, false);
  draw_ghost(scene.ghost, camera);
}

void Renderer::draw_picture(GLuint texture, const QSize& pixels, const QPoint& corner,
                            double weight) {
  picture_->bind();
  glActiveTexture(GL_TEXTURE0);
  glBindTexture(GL_TEXTURE_2D, texture);
  picture_->setUniformValue("u_picture", 0);
  picture_->setUniformValue("u_pixels", QVector2D(static_cast<float>(pixels.width()),
                                                  static_cast<float>(pixels.height())));
  picture_->setUniformValue(
      "u_corner", QVector2D(static_cast<float>(corner.x()), static_cast<float>(corner.y())));
  picture_->setUniformValue("u_weight", static_cast<float>(weight));
  glDisable(GL_DEPTH_TEST);
  glBindVertexArray(empty_.vao);
  glDrawArrays(GL_TRIANGLES, 0, 3);
}

}  // namespace evenclay
