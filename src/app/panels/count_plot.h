// Deviation against the number of control points, with the present choice marked.
#pragma once

#include <QWidget>
#include <memory>
#include <optional>

#include "core/grid/count_plot.h"

namespace evenclay {

class CountPlot : public QWidget {
  Q_OBJECT
 public:
  explicit CountPlot(QWidget* parent = nullptr);

  /// Null while it is being computed.
  void show_plot(std::shared_ptr<const std::vector<CountPlace>> plot);
  /// The grid that is chosen now.
  void set_choice(int points_u, int points_v);
  QSize sizeHint() const override { return {230, 132}; }
  QSize minimumSizeHint() const override { return {160, 118}; }
  /// Where a place of the plot is drawn, for tests.
  QPointF place_of(std::size_t k) const;

 Q_SIGNALS:
  void picked(int points_u, int points_v);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QRectF area() const;
  QPointF at(const CountPlace& place, double mm) const;
  std::optional<std::size_t> nearest(const QPointF& at) const;
  QString words(const CountPlace& place) const;

  std::shared_ptr<const std::vector<CountPlace>> plot_;
  int points_u_ = 0, points_v_ = 0;
  std::optional<std::size_t> hovered_;
};

}  // namespace evenclay
