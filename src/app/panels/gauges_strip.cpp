#include "app/panels/gauges_strip.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QProgressBar>
#include <QPushButton>
#include <QStyle>
#include <QTimer>
#include <QVBoxLayout>
#include <array>

#include "app/view/model_view.h"
#include "core/check/watch.h"

namespace evenclay {

namespace {

QString digits(double x, int decimals) {
  return QLocale::c().toString(x, 'f', decimals);
}

// Large numbers in groups of three.
QString grouped(double x) {
  QString text = QLocale::c().toString(x, 'f', 0);
  for (auto at = text.size() - 3; at > (x < 0 ? 1 : 0); at -= 3) text.insert(at, QChar(0x202F));
  return text;
}

// What fits over a gauge.
QString short_name(const std::string& name) {
  const QString whole = QString::fromStdString(name);
  return whole.size() > 15 ? whole.left(14) + QString::fromUtf8("…") : whole;
}

bool holds_nothing(const Report& r) {
  return r.box.empty() && r.surfaces == 0 && r.curves == 0 && r.control_points == 0 &&
         r.form_faces == 0 && r.triangles == 0 && r.points == 0;
}

}  // namespace

GaugesStrip::GaugesStrip(AppModel& model, ModelView& view, QWidget* parent)
    : QWidget(parent), model_(model), view_(view) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(8, 5, 8, 5);
  row->setSpacing(5);
  make_cards();
  for (GaugeCard* c : cards_) row->addWidget(c);
  message_ = new QLabel(this);
  message_->setObjectName("message");
  message_->setWordWrap(true);
  message_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  message_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  row->addWidget(message_, 1);
  progress_ = new QProgressBar(this);
  progress_->setRange(0, 100);
  progress_->setFixedWidth(110);
  progress_->setTextVisible(false);
  progress_->setAccessibleName(tr("Progress"));
  cancel_ = new QPushButton(tr("Cancel"), this);
  row->addWidget(progress_);
  row->addWidget(cancel_);
  progress_->hide();
  cancel_->hide();
  connect(cancel_, &QPushButton::clicked, this, [this] { model_.cancel_work(); });
  connect_cards();
  auto* timer = new QTimer(this);
  connect(timer, &QTimer::timeout, this, &GaugesStrip::refresh_progress);
  timer->start(120);
  refresh();
}

// Each at its own place, with room for its widest value.
void GaugesStrip::make_cards() {
  const auto card = [&](const char* object, const QString& name, const QString& help,
                        const QString& widest, bool pressable = false) {
    auto* c = new GaugeCard(name, help, widest, pressable, this);
    c->setObjectName(object);
    cards_.push_back(c);
    return c;
  };
  points_ = card("gauge_points", tr("Control points"),
                 tr("Control points of the shown shape: along u × along v, degree u × v."),
                 "1800 · 300 × 6 · °3 × 5");
  evenness_ = card("gauge_evenness", tr("Evenness"),
                   tr("How evenly the grid lies along u and v; 100 % is perfectly even. Press to "
                      "colour the legs of the net by their length."),
                   "u 100 · v 100 %", true);
  deviation_ = card("gauge_deviation", tr("Off before: max, mean"),
                    tr("Greatest and mean deviation from the shape before the chosen step. Press "
                       "to see it in colours, with the worst place."),
                    "00.000 · 00.000 mm", true);
  radius_ = card("gauge_radius", tr("Least radius"),
                 tr("Smallest radius of curvature of the surface. Press to see its place."),
                 "0000.00 mm", true);
  symmetry_ =
      card("gauge_symmetry", tr("Symmetry"),
           tr("Greatest distance between the shape and its mirror image about the planes of "
              "the step."),
           "off 0.0000 mm");
  size_ = card("gauge_size", tr("Size x, y, z"),
               tr("Lengths of the box around the chosen part. Press to see it in the view."),
               "000.0 · 000.0 · 000.0 mm", true);
  area_ = card("gauge_area", tr("Area"), tr("Area of the shown surfaces, or length of the curves."),
               "000 000 mm²");
  volume_ =
      card("gauge_volume", tr("Volume"), tr("Volume enclosed by the shown shape."), "0000.0 cm³");
  kept_ = card("gauge_kept", tr("Kept shape: max, mean"),
               tr("The points were shaped on another grid: greatest and mean difference of the "
                  "shape kept on this one."),
               "00.000 · 00.000 mm");
  evenness_->use_limits({75.0, 50.0, true}, "%");
  deviation_->use_limits({0.0, 0.0, false}, "mm");
  radius_->use_limits({0.5, 0.0, true}, "mm");
  symmetry_->use_limits({0.01, 0.1, false}, "mm");
}

void GaugesStrip::connect_cards() {
  connect(deviation_, &GaugeCard::pressed, this, [this] {
    const bool show = view_.settings().look != ModelLook::Deviation;
    if (show) look_before_ = view_.settings().look;
    view_.set(&ViewSettings::look, show ? ModelLook::Deviation : look_before_);
  });
  connect(evenness_, &GaugeCard::pressed, this, [this] {
    if (!model_.pattern()) {
      view_.toggle(&ViewSettings::leg_colours);
      return;
    }
    const bool show = view_.settings().look != ModelLook::Stretch;
    if (show) look_before_ = view_.settings().look;
    view_.set(&ViewSettings::look, show ? ModelLook::Stretch : look_before_);
  });
  const std::pair<GaugeCard*, bool ViewSettings::*> switches[] = {
      {radius_, &ViewSettings::least_radius_callout}, {size_, &ViewSettings::size_box}};
  for (const auto& [card, member] : switches)
    connect(card, &GaugeCard::pressed, this, [this, m = member] { view_.toggle(m); });
  for (GaugeCard* c : cards_) connect(c, &GaugeCard::limits_changed, this, &GaugesStrip::refresh);
  connect(&view_, &ModelView::look_changed, this, &GaugesStrip::refresh_lit);
  connect(&model_, &AppModel::answered, this, &GaugesStrip::refresh);
  connect(&model_, &AppModel::chosen_changed, this, &GaugesStrip::refresh);
  connect(&model_, &AppModel::document_changed, this, &GaugesStrip::refresh);
  connect(&model_, &AppModel::said, this, &GaugesStrip::say);
  connect(&model_, &AppModel::hint_over, this, [this](const QString& hint) {
    if (message_->text() == hint) say({}, false);
  });
}

void GaugesStrip::refresh_lit() {
  deviation_->set_lit(view_.settings().look == ModelLook::Deviation);
  evenness_->set_lit(view_.settings().leg_colours || view_.settings().look == ModelLook::Stretch);
  radius_->set_lit(view_.settings().least_radius_callout);
  size_->set_lit(view_.settings().size_box);
}

// A card keeps its last value, drawn quiet, until the next one is there.
void GaugesStrip::refresh() {
  const auto r = model_.gauges();
  const bool any = model_.chosen_part() != 0;
  // While a hand drags, the numbers are new with every frame.
  const bool stale = any && (!r || (!model_.up_to_date() && !model_.dragging()));
  for (GaugeCard* c : cards_) c->set_stale(stale);
  refresh_room();
  if (!any || !r) return;
  show_grid(*r);
  show_measures(*r);
}

void GaugesStrip::show_grid(const Report& r) {
  points_->set_name(r.triangles > 0 ? tr("Mesh")
                    : r.points > 0  ? tr("Scan")
                                    : tr("Control points"));
  if (r.surfaces > 0)
    points_->show_value(QString::fromUtf8("%1 · %2 × %3 · °%4 × %5")
                            .arg(r.control_points)
                            .arg(r.points_u)
                            .arg(r.points_v)
                            .arg(r.degree_u)
                            .arg(r.degree_v));
  else if (r.curves > 0)
    points_->show_value(QString::fromUtf8("%1 · °%2").arg(r.control_points).arg(r.degree_u));
  else if (r.form_faces > 0)
    points_->show_value(tr("%1 · %2 faces").arg(r.control_points).arg(r.form_faces));
  else if (r.control_points > 0)  // a cage
    points_->show_value(QString::number(r.control_points));
  else if (r.points > 0)
    points_->show_value(tr("%1 points").arg(grouped(static_cast<double>(r.points))));
  else if (r.triangles == 0)
    points_->show_nothing();  // a picture
  else
    points_->show_value(tr("%1 triangles").arg(grouped(static_cast<double>(r.triangles))));
  const auto pattern = model_.pattern();
  const bool form = r.form_faces > 0;
  evenness_->set_name(pattern ? tr("Stretch, worst") : form ? tr("Crossings") : tr("Evenness"));
  if (form) {
    if (!r.crossings)
      evenness_->show_nothing();
    else if (r.crossings->empty())
      evenness_->show_value(tr("none"));
    else
      evenness_->show_value(tr("%1 · longest %2 mm")
                                .arg(r.crossings->size())
                                .arg(digits(r.crossings->front().length, 1)),
                            "bad");
  } else if (pattern) {
    evenness_->show_value(
        QString::fromUtf8("%1 · %2 %")
            .arg(digits(pattern->stretch.mean, 0), digits(pattern->stretch.worst, 0)));
  } else if (!r.evenness) {
    evenness_->show_nothing();
  } else if (r.curves > 0) {
    evenness_->show_value(tr("%1 %").arg(digits(r.evenness->u_percent, 0)),
                          evenness_->level_of(r.evenness->u_percent));
  } else {
    const double worse = std::min(r.evenness->u_percent, r.evenness->v_percent);
    evenness_->show_value(
        QString::fromUtf8("u %1 · v %2 %")
            .arg(digits(r.evenness->u_percent, 0), digits(r.evenness->v_percent, 0)),
        evenness_->level_of(worse));
  }
}

void GaugesStrip::show_measures(const Report& r) {
  constexpr double kFlat = 1e6;  // mm; what bends less is flat but for rounding
  const auto both = [](const auto& d) {
    return QString::fromUtf8("%1 · %2 mm").arg(digits(d.max, 3), digits(d.mean, 3));
  };
  deviation_->set_name(r.watched ? tr("Off %1").arg(short_name(r.watched->name))
                                 : tr("Off before: max, mean"));
  if (r.watched)
    deviation_->show_value(both(*r.watched), r.watched->max <= r.watched->band ? ""
                                             : r.watched->inside >= 0.95       ? "caution"
                                                                               : "bad");
  else if (r.deviation)
    deviation_->show_value(both(*r.deviation), deviation_->level_of(r.deviation->max));
  else
    deviation_->show_nothing();
  const auto status = model_.step_status().find(model_.chosen_step());
  const bool kept = status != model_.step_status().end() && status->second.kept.has_value();
  has_kept_ = kept;
  refresh_room();
  if (kept) kept_->show_value(both(*status->second.kept));
  const auto tile = model_.tile();
  const auto pattern = model_.pattern();
  radius_->set_name(tile ? tr("Edges meet") : pattern ? tr("Tiles meet") : tr("Least radius"));
  if (tile)
    radius_->show_value(QString::fromUtf8("%1 · %2°")
                            .arg(digits(tile->pairing.gap, 2), digits(tile->pairing.angle, 1)));
  else if (pattern)
    radius_->show_value(QString::fromUtf8("%1°").arg(digits(pattern->joints.angle, 2)));
  else if (r.surfaces == 0 && r.curves == 0)
    radius_->show_nothing();
  else if (r.least_radius && r.least_radius->radius < kFlat)
    radius_->show_value(tr("%1 mm").arg(digits(r.least_radius->radius, 2)),
                        radius_->level_of(r.least_radius->radius));
  else
    radius_->show_value(tr("flat"));
  const std::array rest{symmetry_, size_, area_, volume_};
  if (holds_nothing(r)) {  // the step could not be computed
    for (GaugeCard* c : rest) c->show_nothing();
    return;
  }
  // Previews leave the rest out; the cards keep the last exact values meanwhile.
  if (r.box.empty()) {
    if (!model_.dragging())
      for (GaugeCard* c : rest) c->set_stale(true);
    return;
  }
  double off = 0.0;
  for (const Report::Symmetry& s : r.symmetry) off = std::max(off, s.max);
  if (r.symmetry.empty())
    symmetry_->show_nothing();
  else
    symmetry_->show_value(tr("off %1 mm").arg(digits(off, 4)), symmetry_->level_of(off));
  const Vec3 size = r.box.max - r.box.min;
  size_->show_value(QString::fromUtf8("%1 · %2 · %3 mm")
                        .arg(digits(size.x, 1), digits(size.y, 1), digits(size.z, 1)));
  area_->set_name(r.curves > 0 ? tr("Length") : tr("Area"));
  if (r.length)
    area_->show_value(tr("%1 mm").arg(digits(*r.length, 2)));
  else if (r.area > 0.0)
    area_->show_value(tr("%1 mm²").arg(grouped(r.area)));
  else
    area_->show_nothing();
  if (r.volume && r.watertight.value_or(false))
    volume_->show_value(tr("%1 cm³").arg(digits(*r.volume / 1000.0, 1)));
  else
    volume_->show_nothing();
}

// In a narrow window the last cards leave their places to the message, and to the kept shape while there is
// one.
void GaugesStrip::refresh_room() {
  constexpr int kMessage = 150;
  const bool any = model_.chosen_part() != 0;
  const int apart = layout()->spacing();
  kept_->setVisible(any && has_kept_);
  int left = width() - 16 - kMessage - (has_kept_ ? kept_->width() + apart : 0);
  for (GaugeCard* c : cards_) {
    if (c == kept_) continue;
    left -= c->width() + apart;
    c->setVisible(any && left >= 0);
  }
}

void GaugesStrip::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  refresh_room();
}

void GaugesStrip::say(const QString& sentence, bool trouble) {
  message_->setText(sentence);
  message_->setToolTip(sentence);
  message_->setProperty("bad", trouble);
  message_->setProperty("quiet", !trouble);
  message_->style()->unpolish(message_);
  message_->style()->polish(message_);
}

void GaugesStrip::refresh_progress() {
  const auto share = model_.busy_share();
  // Only work that lasts is worth a bar: quick answers would make it flicker.
  busy_ticks_ = share ? busy_ticks_ + 1 : 0;
  const bool shown = busy_ticks_ > 3;
  progress_->setVisible(shown);
  cancel_->setVisible(shown);
  // Beside the bar there is no room for a hint; it comes back. What went wrong stays.
  message_->setVisible(!shown || message_->property("bad").toBool());
  if (shown) progress_->setValue(static_cast<int>(*share * 100.0));
}

}  // namespace evenclay
