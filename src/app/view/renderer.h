// Draws meshes, lines and points with OpenGL 3.3. Knows nothing of documents or tools.
#pragma once

#include <QColor>
#include <QImage>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <array>
#include <map>
#include <memory>
#include <optional>
#include <vector>

#include "app/view/camera.h"
#include "core/display/display.h"

namespace evenclay {

/// How surfaces look.
enum class ModelLook {
  Clay,
  Lines,
  SeeThrough,
  Zebra,
  Deviation,
  Curvature,
  Reflection,
  Stretch,
  Gaussian = 10,  // 8 and 9 are programs of the renderer's own
  MeanCurvature,
  Draft,
  Thickness,
  Isophotes,
  Surroundings,
  Overhang,
  Presentation  // one more program of its own behind it: with one of many lights
};
inline constexpr int kLooks = 19;

/// Whether a kept number is a look that can be chosen, and not a program of the renderer's own.
inline bool is_look(int number) {
  return number >= 0 && number < kLooks - 1 && number != 8 && number != 9;
}

/// The map that the worker computes for a look.
inline MapKind map_of(ModelLook look) {
  switch (look) {
    case ModelLook::Curvature:
      return MapKind::Bend;
    case ModelLook::Gaussian:
      return MapKind::Gaussian;
    case ModelLook::MeanCurvature:
      return MapKind::Mean;
    case ModelLook::Draft:
      return MapKind::Draft;
    case ModelLook::Thickness:
      return MapKind::Thickness;
    case ModelLook::Overhang:
      return MapKind::Overhang;
    default:
      return MapKind::None;
  }
}
/// Whether a look colours surfaces by values.
inline bool is_map(ModelLook look) {
  return look == ModelLook::Deviation || look == ModelLook::Stretch ||
         map_of(look) != MapKind::None;
}

/// Whether refined pictures of the look are lit by many lights, with shadows.
inline bool is_lit(ModelLook look) {
  return look == ModelLook::Clay || look == ModelLook::Presentation;
}

struct MeshItem {
  std::shared_ptr<const DisplayMesh> mesh;
  std::shared_ptr<const DisplayMesh> small;  ///< for side views
  std::shared_ptr<const DisplayLines> lines;
  QColor colour;
  float behind =
      0.0F;  ///< mm that its depth alone is moved away: it lies under what covers it closely
  std::shared_ptr<const DisplayValues> values = {};  ///< of `mesh`, for the look Deviation
  Material material = {};                            ///< for the look Presentation
  /// Runs of its triangles that look otherwise, of `mesh` alone.
  struct Run {
    std::size_t first = 0, count = 0;  ///< in the indices
    QColor colour;
    Material material;
  };
  std::vector<Run> runs = {};  ///< all of the mesh; empty: it looks alike all over
};

/// Line pieces of one colour: 6 numbers each.
struct LineItem {
  std::vector<float> pieces;
  QColor colour;
  float width = 1.5F;   ///< pixels
  bool on_top = false;  ///< seen through surfaces
  bool cut = false;     ///< ends at the section, as the model does
  double leg = 0.0;     ///< mm, a usual leg of the control nets it draws; 0 when it draws none
  bool ground = false;  ///< belongs to the floor: one pixel wide, part of the refined picture
};

/// A picture on a plane: corners from the lower left, counter-clockwise.
struct PictureItem {
  std::shared_ptr<const QImage> image;
  std::array<Vec3, 4> corners;
  float opacity = 1.0F;
  bool through = false;  ///< also where something stands before it
};

enum class PointState { Plain, Picked, Hovered, Partner, Held };

struct PointItem {
  Vec3 at;
  PointState state = PointState::Plain;
  double weight = 1.0;
  double share = 0.0;  ///< of a move that the point takes, 0..1: its fill
  double leg = 0.0;    ///< mm, a usual leg of its net; 0 when it has none
  double scale = 1.0;  ///< against the usual size
};

/// Half of space: what lies at n·p + d < 0 is left out.
struct SectionCut {
  Vec3 normal{1, 0, 0};
  double d = 0.0;
  bool operator==(const SectionCut&) const = default;
};

struct Scene {
  std::vector<MeshItem> meshes;
  std::vector<LineItem> lines;
  std::vector<PointItem> points;
  std::vector<PictureItem> pictures;
  ModelLook look = ModelLook::Clay;
  double reach = 1.0;                        ///< what the ends of the colour map stand for
  double stripes = 7.0;                      ///< of Zebra and Reflection
  bool upright_stripes = false;              ///< along the height instead of across it
  bool single_band = false;                  ///< Reflection lines: one broad band
  std::shared_ptr<const DisplayMesh> ghost;  ///< drawn over everything as a thin veil
  double size = 100.0;                       ///< mm, for depth ranges
  double point_scale = 1.0;
  Box3 box;                           ///< of the meshes, for shadows
  std::optional<SectionCut> section;  ///< closed meshes are capped there
};

/// One of the many pictures whose mean is the refined one.
struct LightSample {
  double shift_x = 0.0, shift_y = 0.0;  ///< pixels
  std::optional<Vec3> to_light;         ///< unit, in the world; none: the plain light
  double key_share = 0.0;               ///< how much of the key light and of the sky it holds
  double sky_share = 0.0;
};

/// Towards the large soft light, in the world: over the shoulder of whoever looks.
Vec3 key_light(const Camera& camera);

class Renderer : protected QOpenGLFunctions_3_3_Core {
 public:
  ~Renderer();
  void initialize();  ///< with the context current
  void release();     ///< with the context current
  bool ready() const { return ready_; }
  /// Draws into `viewport` (logical pixels from the top left) of a target `height` pixels high. With a
  /// finished picture of the surfaces, a texture of the viewport's size, that is used instead of them.
  void draw(const Scene& scene, const Camera& camera, const QRect& viewport, int height,
            double pixel_ratio, GLuint finished = 0);
  /// Ground and surfaces alone, into the whole of the bound target of `pixels`; `target` is its name.
  void draw_surfaces(const Scene& scene, const Camera& camera, const QSize& pixels, GLuint target,
                     const LightSample& sample);
  /// Keeps what was just drawn into `viewport`, under a number; draw_kept() shows it again. False when
  /// nothing of that size is kept.
  void keep(std::size_t number, const QRect& viewport, int height, double pixel_ratio,
            GLuint target);
  bool draw_kept(std::size_t number, const QRect& viewport, int height, double pixel_ratio);
  /// A texture over the whole bound target of `pixels`.
  void draw_picture(GLuint texture, const QSize& pixels, const QPoint& corner, double weight);
  /// Forgets buffers that no draw() since the last call used.
  void collect();

 private:
  struct Buffers {
    GLuint vao = 0, vertices = 0, indices = 0;
    GLsizei count = 0;
    bool used = false;
    std::shared_ptr<const void> owner;  // keeps the key's address taken
  };
  Buffers& mesh_buffers(const std::shared_ptr<const DisplayMesh>& mesh);
  Buffers& line_buffers(const std::shared_ptr<const DisplayLines>& lines);
  void upload_lines(Buffers& b, const std::vector<float>& pieces, GLenum usage);
  void free_buffers(Buffers& b);
  void set_camera(const Scene& scene, const Camera& camera, const QSizeF& logical,
                  const LightSample& sample);
  void draw_background();
  void draw_meshes(const Scene& scene, const Camera& camera, const LightSample& sample);
  void draw_depth(const Scene& scene);
  void draw_caps(const Scene& scene);
  void count_sides(const Scene& scene, const MeshItem& item);
  void draw_pictures(const Scene& scene, bool through);
  void draw_floor(const Scene& scene, const Camera& camera, const LightSample& sample);
  void draw_shadow_map(const Scene& scene, const Vec3& to_light);
  void draw_marks(const Scene& scene);
  void draw_ground_lines(const Scene& scene);
  void draw_all_points(const Scene& scene);
  void use_material(const Material& material);
  void draw_runs(const MeshItem& item, const Buffers& buffers, bool presented);
  void use_light(QOpenGLShaderProgram& program, const LightSample& sample);
  void use_section(QOpenGLShaderProgram& program, const Scene& scene, bool cut);
  void draw_ghost(const std::shared_ptr<const DisplayMesh>& mesh, const Camera& camera);
  void bind_values(const std::shared_ptr<const DisplayValues>& values);
  void draw_lines(Buffers& b, const QColor& colour, float width);
  void draw_points(const std::vector<PointItem>& points, bool behind);

  std::unique_ptr<QOpenGLShaderProgram> background_, line_, point_, picture_, depth_, cap_, floor_,
      thin_line_, on_plane_;
  QOpenGLShaderProgram* mesh_program(std::size_t k);
  std::array<std::unique_ptr<QOpenGLShaderProgram>, kLooks>
      meshes_;                            // one for each LOOK of mesh_shader.h
  QOpenGLShaderProgram* mesh_ = nullptr;  // the one in use
  std::map<const void*, Buffers> buffers_;
  struct Texture {
    GLuint name = 0;
    bool used = false;
    std::shared_ptr<const QImage> owner;
  };
  std::map<const void*, Texture> textures_;
  Buffers moving_lines_, moving_points_, empty_;
  QMatrix4x4 view_, projection_;
  std::array<std::unique_ptr<QOpenGLFramebufferObject>, 4> kept_;
  GLuint shadow_target_ = 0, shadow_map_ = 0;
  QMatrix4x4 shadow_from_world_;
  double shadow_lift_ = 0.0;
  QSizeF pixels_;
  float pixel_ratio_ = 1.0F;
  bool ready_ = false;
};

}  // namespace evenclay
