// Draws meshes, lines and points with OpenGL 3.3. Knows nothing of documents or tools.
#pragma once

#include <QColor>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <array>
#include <map>
#include <memory>
#include <vector>

#include "app/view/camera.h"
#include "core/display/display.h"

namespace evenclay {

/// How surfaces look.
enum class ModelLook { Clay, Lines, SeeThrough, Zebra, Deviation, Curvature, Reflection };

struct MeshItem {
  std::shared_ptr<const DisplayMesh> mesh;
  std::shared_ptr<const DisplayMesh> small;  ///< for side views
  std::shared_ptr<const DisplayLines> lines;
  QColor colour;
  std::shared_ptr<const DisplayValues> values = {};  ///< of `mesh`, for the look Deviation
};

/// Line pieces of one colour: 6 numbers each.
struct LineItem {
  std::vector<float> pieces;
  QColor colour;
  float width = 1.5F;   ///< pixels
  bool on_top = false;  ///< seen through surfaces
};

enum class PointState { Plain, Picked, Hovered, Partner, Held };

struct PointItem {
  Vec3 at;
  PointState state = PointState::Plain;
  double weight = 1.0;
  double share = 0.0;  ///< of a move that the point takes, 0..1: its fill
};

struct Scene {
  std::vector<MeshItem> meshes;
  std::vector<LineItem> lines;
  std::vector<PointItem> points;
  ModelLook look = ModelLook::Clay;
  double reach = 1.0;                        ///< what the ends of the colour map stand for
  double stripes = 7.0;                      ///< of Zebra and Reflection
  bool upright_stripes = false;              ///< along the height instead of across it
  bool single_band = false;                  ///< Reflection lines: one broad band
  std::shared_ptr<const DisplayMesh> ghost;  ///< drawn over everything as a thin veil
  double size = 100.0;                       ///< mm, for depth ranges
  double point_scale = 1.0;
};

class Renderer : protected QOpenGLFunctions_3_3_Core {
 public:
  ~Renderer();
  void initialize();  ///< with the context current
  void release();     ///< with the context current
  /// Draws into `viewport` (logical pixels from the top left) of a target `height` pixels high.
  void draw(const Scene& scene, const Camera& camera, const QRect& viewport, int height,
            double pixel_ratio);
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
  void draw_background();
  void draw_meshes(const Scene& scene, const Camera& camera);
  void draw_ghost(const std::shared_ptr<const DisplayMesh>& mesh, const Camera& camera);
  void bind_values(const std::shared_ptr<const DisplayValues>& values);
  void draw_lines(Buffers& b, const QColor& colour, float width);
  void draw_points(const std::vector<PointItem>& points, bool behind);

  std::unique_ptr<QOpenGLShaderProgram> background_, line_, point_;
  std::array<std::unique_ptr<QOpenGLShaderProgram>, 8> meshes_;  // one for each LOOK of shaders.h
  QOpenGLShaderProgram* mesh_ = nullptr;                         // the one in use
  std::map<const void*, Buffers> buffers_;
  Buffers moving_lines_, moving_points_, empty_;
  QMatrix4x4 view_, projection_;
  QSizeF pixels_;
  float pixel_ratio_ = 1.0F;
  bool ready_ = false;
};

}  // namespace evenclay
