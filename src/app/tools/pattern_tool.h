// A pattern's frame on its target: its borders are dragged, a click on a corner lets the tiles begin there, a click
// on one of the two arrows mirrors them along it.
#pragma once

#include "app/tools/hand_tool.h"
#include "core/operations/offers.h"

namespace evenclay {

class PatternTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return dragged_.has_value(); }
  void move(const HandEvent& event) override;
  void release(const HandEvent& event) override;
  void cancel() override;
  bool hover(const QPointF& at) override;
  QString hover_words() const override;
  void leave() override { under_.reset(); }
  void add_to(Scene& scene) const override;
  QString words() const override;

 private:
  /// What of the frame is meant: a corner (0 u0 v0, 1 u1 v0, 2 u1 v1, 3 u0 v1), an arrow (0 along u, 1 along v), or
  /// a border (0 u begins, 1 u ends, 2 v begins, 3 v ends).
  struct Handle {
    enum class Kind { Corner, Arrow, Border } kind = Kind::Border;
    std::size_t which = 0;
    bool operator==(const Handle&) const = default;
  };
  const PlacesPattern* step() const;
  std::optional<PatternFrame> frame() const;
  Vec3 place(double u, double v) const;
  std::vector<Vec3> border(const PatternFrame& f, std::size_t which) const;
  std::array<Vec3, 4> corners(const PatternFrame& f) const;
  /// From the corner where tiles begin along u and along v.
  std::array<std::array<Vec3, 2>, 2> arrows(const PatternFrame& f) const;
  std::optional<Handle> under(const QPointF& at) const;
  /// The frame that a click on the corner or arrow under the hand would give.
  std::optional<PatternFrame> clicked() const;
  double share_at(const QPointF& at, std::size_t which, double now) const;
  void show(const PatternFrame& changed, const QString& label);
  bool seen(const Vec3& at, std::size_t k, QPointF& on_screen) const;

  std::optional<Handle> under_;
  std::optional<std::size_t> dragged_;
  PatternFrame start_, now_;
  bool has_moved_ = false;
};

}  // namespace evenclay
