#include "app/panels/deviation_card.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QPainter>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/colours.h"
#include "app/look/preferences.h"
#include "app/panels/length_field.h"
#include "app/view/model_view.h"
#include "core/check/watch.h"

namespace evenclay {

namespace {

QString mm(double x) {
  return QLocale::c().toString(x, 'f', 3);
}

}  // namespace

// Shares of the places by their signed distance, the band marked.
class DeviationCard::Bars : public QWidget {
 public:
  explicit Bars(QWidget* parent) : QWidget(parent) {
    setFixedSize(286, 58);
    setAccessibleName(DeviationCard::tr("How the distances spread"));
  }
  void show_report(std::shared_ptr<const WatchReport> r) {
    report_ = std::move(r);
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    if (!report_) return;
    QPainter p(this);
    const look::Colours& c = look::colours();
    const double floor = height() - 16.0, wide = static_cast<double>(width()) / 42.0;
    double most = 1e-9;
    for (const double share : report_->histogram) most = std::max(most, share);
    for (std::size_t k = 0; k < 42; ++k) {
      const double middle = (static_cast<double>(k) - 20.5) / 10.0;  // in bands
      const bool inside = std::abs(middle) < 1.0;
      const double high = (floor - 2.0) * report_->histogram[k] / most;
      p.fillRect(QRectF(wide * static_cast<double>(k) + 0.5, floor - high, wide - 1.0, high),
                 inside ? c.water : (middle < 0.0 ? c.map_below : c.map_above));
    }
    p.setPen(QPen(c.line, 1.0));
    p.drawLine(QPointF(0, floor + 0.5), QPointF(width(), floor + 0.5));
    p.setPen(c.quiet_ink);
    for (const double at : {-1.0, 0.0, 1.0}) {
      const double x = width() * (0.5 + at * 10.0 / 42.0);
      p.drawLine(QPointF(x, floor), QPointF(x, floor + 3));
      const QString text =
          at == 0.0 ? QString("0") : QLocale::c().toString(at * report_->band, 'g', 3);
      p.drawText(QRectF(x - 40, floor + 2, 80, 14), Qt::AlignCenter, text);
    }
  }

 private:
  std::shared_ptr<const WatchReport> report_;
};

DeviationCard::DeviationCard(AppModel& model, ModelView& view)
    : QFrame(&view), model_(model), view_(view) {
  setProperty("bar", true);
  setObjectName("deviation_card");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 6, 10, 6);
  column->setSpacing(3);
  auto* row = new QHBoxLayout;
  row->setSpacing(5);
  row->addWidget(new QLabel(tr("Against"), this));
  against_ = new QComboBox(this);
  against_->setObjectName("watch_against");
  against_->setAccessibleName(tr("What the chosen part is watched against"));
  against_->setToolTip(
      tr("A scan, a part or a curve. It is watched in every stage, also while you shape."));
  against_->setFixedWidth(150);
  row->addWidget(against_);
  row->addWidget(new QLabel(tr("±"), this));
  band_ = length_field(this);
  band_->setObjectName("watch_band");
  band_->setAccessibleName(tr("Band"));
  band_->setToolTip(tr("Distances up to this count as near enough."));
  band_->setRange(0.001, 1000.0);
  band_->setDecimals(3);
  band_->setSingleStep(0.05);
  band_->setFixedWidth(88);
  row->addWidget(band_);
  auto* close = new QToolButton(this);
  close->setText(tr("×"));
  close->setObjectName("watch_close");
  close->setAccessibleName(tr("Close"));
  close->setToolTip(tr("Puts the card away; what is watched stays watched."));
  connect(close, &QToolButton::clicked, this,
          [this] { view_.set(&ViewSettings::deviation_card, false); });
  row->addWidget(close);
  column->addLayout(row);
  inside_ = new QLabel(this);
  inside_->setObjectName("watch_inside");
  numbers_ = new QLabel(this);
  numbers_->setObjectName("watch_numbers");
  numbers_->setProperty("quiet", true);
  bars_ = new Bars(this);
  for (QWidget* w : std::initializer_list<QWidget*>{inside_, bars_, numbers_}) column->addWidget(w);
  connect(against_, &QComboBox::activated, this, &DeviationCard::watch);
  connect(band_, &QDoubleSpinBox::valueChanged, this, [this] {
    if (!refreshing_) watch(against_->currentIndex());
  });
  connect(&view_, &ModelView::look_changed, this, &DeviationCard::refresh);
  connect(&model_, &AppModel::answered, this, &DeviationCard::refresh);
  connect(&model_, &AppModel::chosen_changed, this, &DeviationCard::refresh);
  connect(&model_, &AppModel::document_changed, this, &DeviationCard::refresh);
  view_.installEventFilter(this);
  refresh();
}

bool DeviationCard::eventFilter(QObject* watched, QEvent* event) {
  if (watched == &view_ && event->type() == QEvent::Resize) place_card();
  return QFrame::eventFilter(watched, event);
}

// At the right above the side views, below the card of the section.
void DeviationCard::place_card() {
  constexpr int kTop = 48;
  adjustSize();
  move(std::max(8, view_.width() - width() - 12), kTop);
}

void DeviationCard::fill_parts() {
  const Part* part = find_part(model_.document(), model_.chosen_part());
  const PartRef now = part != nullptr ? part->watch.against : PartRef();
  against_->clear();
  const auto add = [&](const QString& name, const PartRef& ref) {
    against_->addItem(name, QPoint(ref.part, ref.after));
    if (ref == now) against_->setCurrentIndex(against_->count() - 1);
  };
  add(tr("the step before"), {});
  for (std::size_t k = 0; part != nullptr && k + 1 < part->steps.size(); ++k)
    add(tr("its step %1, %2").arg(k + 1).arg(QString::fromStdString(part->steps[k].name)),
        {part->id, part->steps[k].id});
  for (const Part& p : model_.document().parts)
    if (p.id != model_.chosen_part()) add(QString::fromStdString(p.name), p.id);
}

void DeviationCard::refresh() {
  const bool shown = view_.settings().deviation_card && model_.chosen_part() != 0;
  setVisible(shown);
  if (!shown) return;
  refreshing_ = true;
  if (!against_->view()->isVisible()) fill_parts();
  const Part* part = find_part(model_.document(), model_.chosen_part());
  if (part != nullptr && !band_->hasFocus()) band_->setValue(part->watch.band);
  band_->setEnabled(part != nullptr && !part->watch.against.empty());
  refreshing_ = false;
  const auto gauges = model_.gauges();
  const auto r = gauges ? gauges->watched : nullptr;
  bars_->show_report(r);
  bars_->setVisible(r != nullptr);
  if (r) {
    inside_->setText(look::in_shown_unit(tr("%1 % within ±%2 mm")
                                             .arg(QLocale::c().toString(100.0 * r->inside, 'f', 1),
                                                  QLocale::c().toString(r->band, 'g', 4))));
    numbers_->setText(look::in_shown_unit(tr("max %1 mm · mean %2 mm · 95 %: %3 mm")
                                              .arg(mm(r->max), mm(r->mean), mm(r->percentile95))));
  } else {
    const bool wanted = part != nullptr && !part->watch.against.empty();
    inside_->setText(wanted ? tr("These two cannot be measured, or one is empty.")
                            : tr("Choose what to watch the part against."));
    numbers_->clear();
  }
  numbers_->setVisible(r != nullptr);
  place_card();
}

void DeviationCard::watch(int place) {
  if (refreshing_) return;
  const PartId part = model_.chosen_part();
  const QPoint chosen = against_->itemData(place).toPoint();
  const Watch w{PartRef(chosen.x(), chosen.y()), band_->value()};
  model_.attempt([&] {
    model_.commit_beside([=](const Document& d) { return with_watch(d, part, w); },
                         tr("Watch deviation"));
  });
  refresh();
}

}  // namespace evenclay
