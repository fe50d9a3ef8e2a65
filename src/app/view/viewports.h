// The main view and the three small side views at its lower right: where they are on the screen, and the
// camera of each.
#pragma once

#include <QSize>
#include <array>

#include "app/view/camera.h"

namespace evenclay {

/// Names of the four cameras; the first starts as the main view.
enum class ViewName { Main, Top, Front, Side };

class Viewports {
 public:
  Viewports();

  void set_size(const QSize& size) { size_ = size; }
  void set_side_views(bool shown) { side_views_ = shown; }
  /// Pixels at the bottom of the main view that something else covers: framing leaves them free.
  void set_covered_below(int pixels) { covered_below_ = pixels; }

  /// The main viewport and, for k = 1..3, the side views; empty when folded away.
  QRect rect(std::size_t k) const;
  /// Side views: with the strip above them that holds their name; empty for the main view.
  QRect frame_rect(std::size_t k) const;
  static constexpr int kSideLabel = 18;  ///< pixels of that strip
  /// Pixels at the right that the side views take.
  int covered_right() const;
  std::size_t at(const QPointF& place) const;

  const Camera& camera(std::size_t k) const { return named_[index(order_[k])]; }
  Camera& camera(std::size_t k) { return named_[index(order_[k])]; }
  Camera& named(ViewName name) { return named_[index(name)]; }
  ViewName name(std::size_t k) const { return order_[k]; }

  void frame_main(const Box3& box);
  void frame_all(const Box3& box);
  /// Shows the named camera in the main viewport; the one that was there takes its place. Each keeps
  /// what it looks at; the extents change with the size of the viewports.
  void bring_to_main(ViewName name, const Box3& box);

 private:
  static std::size_t index(ViewName name) { return static_cast<std::size_t>(name); }
  std::array<Camera, 4> named_;
  std::array<ViewName, 4> order_{ViewName::Main, ViewName::Top, ViewName::Front, ViewName::Side};
  QSize size_{1, 1};
  bool side_views_ = true;
  int covered_below_ = 0;
};

}  // namespace evenclay
