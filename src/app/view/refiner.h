// The better picture that is made while the hand rests: the mean of many pictures, each with another light
// and a shift of less than a pixel. Smooth silhouettes, hollow darkness and a soft shadow come from it.
#pragma once

#include <QElapsedTimer>
#include <QOpenGLFramebufferObject>
#include <array>
#include <memory>

#include "app/view/renderer.h"

namespace evenclay {

/// What a refined picture was made of; another one is needed when any of it changes.
struct PictureKey {
  Camera camera;
  QSize pixels;
  ModelLook look = ModelLook::Clay;
  std::vector<const void*> things;  ///< meshes and values
  std::vector<double> numbers;      ///< colours and settings
  bool operator==(const PictureKey& other) const;
};
PictureKey key_of(const Scene& scene, const Camera& camera, const QSize& pixels);

/// The n-th of `count` pictures; with shadows they take turns at the key light and at the sky.
LightSample light_sample(int n, int count, bool shadows, const Camera& camera);

/// For each viewport one picture in the making. All calls need the OpenGL context.
class Refiner {
 public:
  explicit Refiner(Renderer& renderer) : renderer_(renderer) {}

  /// The texture that belongs to this key; 0 while there is none.
  GLuint picture(std::size_t viewport, const PictureKey& key) const;
  bool complete(std::size_t viewport, const PictureKey& key) const;
  /// Draws one more of the pictures. Of an unfinished mean the first complete round is shown.
  void add(std::size_t viewport, const PictureKey& key, const Scene& scene, const Camera& camera,
           bool shadows);
  void release();

  static constexpr int kShaded = 64, kPlain = 8;  ///< pictures with shadows, and without

 private:
  struct Making {
    PictureKey key;
    int done = 0, count = 0, shown = 0;
    std::unique_ptr<QOpenGLFramebufferObject> one, sum, mean;
  };
  void begin(Making& m, const PictureKey& key, bool shadows);
  Renderer& renderer_;
  std::array<Making, 4> makings_;
};

}  // namespace evenclay
