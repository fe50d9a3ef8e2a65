// Drawing a curve: while a step that is drawn is on trial a click adds a place, by a leg of the chosen kind;
// its places are dragged then and later.
#pragma once

#include "app/tools/hand_tool.h"
#include "app/tools/snapper.h"
#include "core/operations/offers.h"

namespace evenclay {

class CurveTool : public HandTool {
 public:
  using HandTool::HandTool;
  bool press(const HandEvent& event) override;
  bool busy() const override { return dragged_.has_value(); }
  void move(const HandEvent& event) override;
  void release(const HandEvent& event) override;
  void cancel() override;
  bool hover(const QPointF& at) override;
  QString hover_words() const override;
  void leave() override { cursor_.reset(); }
  bool wants(const QKeyEvent& event) const override;
  /// Backspace takes the last place back; L, A and C choose the kind of the next leg.
  bool key(QKeyEvent& event) override;
  /// The length, and the angle in the work plane, of the next leg.
  std::optional<TypedField::Question> question(const QString& first) override;
  void add_to(Scene& scene) const override;
  QString words() const override;

 private:
  /// The chosen step, when it is drawn; `on_trial` only while it is being tried.
  const DrawsPoints* drawn() const;
  const DrawsPoints* being_drawn() const;
  /// Its places as drawn so far, none before the first click.
  std::vector<Vec3> places() const;
  bool begun() const;
  OperationPtr with_more(const Vec3& place) const;
  bool take_back();
  bool take_typed(const QString& text);
  void add(const Vec3& place);
  void close();
  std::optional<std::size_t> place_under(const QPointF& at) const;
  struct Aimed {
    Vec3 at;
    QString what;  ///< that it snapped to
  };
  Aimed aimed_at(const QPointF& at, bool in_steps) const;
  Vec3 in_plane(const QPointF& at, const std::optional<Vec3>& through) const;
  void show(const std::vector<Vec3>& moved);
  QString leg_words(const Vec3& from, const Vec3& to) const;

  struct First {
    Vec3 place;
    StepId step = 0;
  };
  std::optional<First> first_;  ///< the first click; the curve appears with the second
  StepId step_ = 0;             ///< that has been drawn on
  Leg leg_ = Leg::Line;
  std::optional<Aimed> cursor_;
  std::optional<std::size_t> under_;
  std::optional<std::size_t> dragged_;
  bool has_moved_ = false;
  QPointF pressed_;
  std::vector<Vec3> start_;
  mutable Snapper snapper_;
};

}  // namespace evenclay
