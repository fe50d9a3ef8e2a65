#include "app/panels/gauges_strip.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <QProgressBar>
#include <QPushButton>
#include <QStyle>
#include <QTimer>
#include <QVBoxLayout>

#include "app/view/model_view.h"

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

}  // namespace

GaugeCard::GaugeCard(const QString& name, const QString& help, bool pressable, QWidget* parent)
    : QFrame(parent), pressable_(pressable) {
  setProperty("card", true);
  setToolTip(help);
  setAccessibleName(name);
  if (pressable) {
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::TabFocus);
  }
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 3, 8, 3);
  column->setSpacing(0);
  name_ = new QLabel(name, this);
  name_->setProperty("quiet", true);
  value_ = new QLabel(this);
  value_->setProperty("heading", true);
  column->addWidget(name_);
  column->addWidget(value_);
}

void GaugeCard::show_value(const QString& value, const QString& level) {
  value_->setText(value);
  setAccessibleDescription(value);
  if (property("level").toString() == level) return;
  setProperty("level", level);
  style()->unpolish(this);
  style()->polish(this);
}

void GaugeCard::set_name(const QString& name) {
  name_->setText(name);
  setAccessibleName(name);
}

QString GaugeCard::value() const {
  return value_->text();
}

void GaugeCard::set_lit(bool lit) {
  QFont font = value_->font();
  font.setUnderline(lit);
  value_->setFont(font);
}

void GaugeCard::mousePressEvent(QMouseEvent* event) {
  if (pressable_) Q_EMIT pressed();
  QFrame::mousePressEvent(event);
}

void GaugeCard::keyPressEvent(QKeyEvent* event) {
  if (pressable_ && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space))
    Q_EMIT pressed();
  else
    QFrame::keyPressEvent(event);
}

GaugesStrip::GaugesStrip(AppModel& model, ModelView& view, QWidget* parent)
    : QWidget(parent), model_(model), view_(view) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(8, 5, 8, 5);
  row->setSpacing(6);
  const auto card = [&](const char* object, const QString& name, const QString& help,
                        bool pressable = false) {
    auto* c = new GaugeCard(name, help, pressable, this);
    c->setObjectName(object);
    row->addWidget(c);
    return c;
  };
  points_ = card("gauge_points", tr("Control points"),
                 tr("Control points of the shown shape: along u × along v, degree u × v."));
  evenness_ = card("gauge_evenness", tr("Evenness"),
                   tr("How evenly the grid lies along u and v; 100 % is perfectly even. Press to "
                      "colour the legs of the net by their length."),
                   true);
  deviation_ = card("gauge_deviation", tr("Off before"),
                    tr("Greatest and mean deviation from the shape before the chosen step. Press "
                       "to see it in colours, with the worst place."),
                    true);
  kept_ = card("gauge_kept", tr("Kept shape"),
               tr("The points were shaped on another grid: greatest and mean difference of the "
                  "shape kept on this one."));
  radius_ = card("gauge_radius", tr("Least radius"),
                 tr("Smallest radius of curvature of the surface. Press to see its place."), true);
  symmetry_ =
      card("gauge_symmetry", tr("Symmetry"),
           tr("Greatest distance between the shape and its mirror image about the planes of "
              "the step."));
  length_ = card("gauge_length", tr("Length"), tr("Length of the shown curves."));
  area_ = card("gauge_area", tr("Area"), tr("Area of the shown shape."));
  volume_ = card("gauge_volume", tr("Volume"), tr("Volume enclosed by the shown shape."));
  message_ = new QLabel(this);
  message_->setObjectName("message");
  message_->setWordWrap(true);
  message_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  row->addWidget(message_, 1);
  progress_ = new QProgressBar(this);
  progress_->setRange(0, 100);
  progress_->setFixedWidth(110);
  progress_->setTextVisible(false);
  cancel_ = new QPushButton(tr("Cancel"), this);
  row->addWidget(progress_);
  row->addWidget(cancel_);
  progress_->hide();
  cancel_->hide();
  connect(cancel_, &QPushButton::clicked, this, [this] { model_.cancel_work(); });
  connect(deviation_, &GaugeCard::pressed, this, [this] {
    const bool show = view_.settings().look != ModelLook::Deviation;
    if (show) look_before_ = view_.settings().look;
    view_.set(&ViewSettings::look, show ? ModelLook::Deviation : look_before_);
  });
  connect(&view_, &ModelView::look_changed, this, &GaugesStrip::refresh_lit);
  connect(evenness_, &GaugeCard::pressed, this, [this] {
    view_.toggle(&ViewSettings::leg_colours);
    refresh_lit();
  });
  connect(radius_, &GaugeCard::pressed, this, [this] {
    view_.toggle(&ViewSettings::least_radius_callout);
    refresh_lit();
  });
  connect(&model_, &AppModel::answered, this, &GaugesStrip::refresh);
  connect(&model_, &AppModel::chosen_changed, this, &GaugesStrip::refresh);
  connect(&model_, &AppModel::document_changed, this, &GaugesStrip::refresh);
  connect(&model_, &AppModel::said, this, &GaugesStrip::say);
  auto* timer = new QTimer(this);
  connect(timer, &QTimer::timeout, this, &GaugesStrip::refresh_progress);
  timer->start(120);
  refresh();
}

void GaugesStrip::refresh_lit() {
  deviation_->set_lit(view_.settings().look == ModelLook::Deviation);
  evenness_->set_lit(view_.settings().leg_colours);
  radius_->set_lit(view_.settings().least_radius_callout);
}

void GaugesStrip::refresh() {
  const auto r = model_.gauges();
  for (GaugeCard* c :
       {points_, evenness_, deviation_, kept_, radius_, symmetry_, length_, area_, volume_})
    c->setVisible(r != nullptr);
  if (!r) return;
  points_->set_name(r->surfaces > 0 ? tr("Control points") : tr("Mesh"));
  if (r->surfaces > 0) {
    QString text = QString("%1 · %2 × %3 · degree %4 × %5")
                       .arg(r->control_points)
                       .arg(r->points_u)
                       .arg(r->points_v)
                       .arg(r->degree_u)
                       .arg(r->degree_v);
    points_->show_value(text);
  } else if (r->curves > 0) {
    points_->set_name(tr("Control points"));
    points_->show_value(QString("%1 · degree %2").arg(r->control_points).arg(r->degree_u));
  } else {
    points_->show_value(tr("%1 triangles").arg(grouped(static_cast<double>(r->triangles))));
  }
  evenness_->setVisible(r->evenness.has_value());
  if (r->evenness) {
    const double worse = std::min(r->evenness->u_percent, r->evenness->v_percent);
    if (r->curves > 0)
      evenness_->show_value(tr("%1 %").arg(digits(r->evenness->u_percent, 0)));
    else
      evenness_->show_value(
          QString("u %1 · v %2 %")
              .arg(digits(r->evenness->u_percent, 0), digits(r->evenness->v_percent, 0)),
          worse < 50.0 ? "bad" : (worse < 75.0 ? "caution" : ""));
  }
  deviation_->setVisible(r->deviation.has_value());
  if (r->deviation)
    deviation_->show_value(
        tr("max %1 · mean %2 mm").arg(digits(r->deviation->max, 3), digits(r->deviation->mean, 3)));
  const auto status = model_.step_status().find(model_.chosen_step());
  const bool kept = status != model_.step_status().end() && status->second.kept.has_value();
  kept_->setVisible(kept);
  if (kept)
    kept_->show_value(
        tr("max %1 · mean %2 mm")
            .arg(digits(status->second.kept->max, 3), digits(status->second.kept->mean, 3)));
  // Previews leave symmetry, area and volume out; the cards keep the last exact values meanwhile.
  const bool preview = r->box.empty();
  symmetry_->setVisible(!r->symmetry.empty() ||
                        (preview && !symmetry_->value().isEmpty() && symmetry_was_shown_));
  if (!preview) symmetry_was_shown_ = !r->symmetry.empty();
  double off = 0.0;
  for (const Report::Symmetry& s : r->symmetry) off = std::max(off, s.max);
  if (!r->symmetry.empty())
    symmetry_->show_value(tr("off by %1 mm").arg(digits(off, 4)),
                          off > 0.1 ? "bad" : (off > 0.01 ? "caution" : ""));
  length_->setVisible(r->length.has_value());
  if (r->length) length_->show_value(tr("%1 mm").arg(digits(*r->length, 2)));
  radius_->setVisible(r->surfaces > 0 || r->curves > 0);
  radius_->show_value(
      r->least_radius ? tr("%1 mm").arg(digits(r->least_radius->radius, 2)) : tr("flat"),
      r->least_radius && r->least_radius->radius < 0.5 ? "caution" : "");
  if (!r->box.empty()) area_->show_value(tr("%1 mm²").arg(grouped(r->area)));
  area_->setVisible(!area_->value().isEmpty() && r->curves == 0);
  volume_->setVisible(r->watertight.value_or(false));
  if (r->volume) volume_->show_value(tr("%1 cm³").arg(digits(*r->volume / 1000.0, 1)));
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
  if (shown) progress_->setValue(static_cast<int>(*share * 100.0));
}

}  // namespace evenclay
