#include "app/panels/gauge_card.h"

#include "app/look/preferences.h"
#include "app/panels/length_field.h"

#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <QMenu>
#include <QSettings>
#include <QStyle>
#include <QVBoxLayout>
#include <algorithm>

namespace evenclay {

const char* GaugeLimits::level(double value) const {
  const auto beyond = [&](double limit) {
    return limit > 0.0 && (less_is_worse ? value < limit : value > limit);
  };
  return beyond(bad) ? "bad" : (beyond(caution) ? "caution" : "");
}

GaugeCard::GaugeCard(const QString& name, const QString& help, const QString& widest,
                     bool pressable, QWidget* parent)
    : QFrame(parent), pressable_(pressable) {
  setProperty("card", true);
  setToolTip(help);
  setAccessibleName(name);
  if (pressable) {
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::TabFocus);
  }
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 3, 6, 3);
  column->setSpacing(0);
  name_ = new QLabel(name, this);
  name_->setProperty("quiet", true);
  value_ = new QLabel(this);
  value_->setProperty("heading", true);
  column->addWidget(name_);
  column->addWidget(value_);
  QFont font = value_->font();
  font.setWeight(QFont::DemiBold);
  setFixedWidth(std::max(QFontMetrics(font).horizontalAdvance(widest),
                         name_->fontMetrics().horizontalAdvance(name)) +
                19);
}

void GaugeCard::show_value(const QString& in_mm, const QString& level) {
  const QString value = look::in_shown_unit(in_mm);
  value_->setText(value);
  setAccessibleDescription(value);
  if (property("level").toString() == level) return;
  setProperty("level", level);
  style()->unpolish(this);
  style()->polish(this);
}

void GaugeCard::set_stale(bool stale) {
  if (value_->property("stale").toBool() == stale) return;
  value_->setProperty("stale", stale);
  value_->style()->unpolish(value_);
  value_->style()->polish(value_);
}

void GaugeCard::set_name(const QString& name) {
  name_->setText(name_->fontMetrics().elidedText(name, Qt::ElideRight, width() - 16));
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
  if (pressable_ && event->button() == Qt::LeftButton) Q_EMIT pressed();
  QFrame::mousePressEvent(event);
}

void GaugeCard::keyPressEvent(QKeyEvent* event) {
  if (pressable_ && (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space))
    Q_EMIT pressed();
  else
    QFrame::keyPressEvent(event);
}

void GaugeCard::use_limits(const GaugeLimits& standard, const QString& unit) {
  unit_ = unit;
  const QSettings s;
  limits_ = standard;
  limits_->caution = s.value("limits/" + objectName() + "/caution", standard.caution).toDouble();
  limits_->bad = s.value("limits/" + objectName() + "/bad", standard.bad).toDouble();
}

void GaugeCard::set_limits(const GaugeLimits& limits) {
  limits_ = limits;
  QSettings s;
  s.setValue("limits/" + objectName() + "/caution", limits.caution);
  s.setValue("limits/" + objectName() + "/bad", limits.bad);
  Q_EMIT limits_changed();
}

void GaugeCard::contextMenuEvent(QContextMenuEvent*) {
  if (limits_) ask_limits();
}

// A small card of its own above this one; what is typed counts at once.
void GaugeCard::ask_limits() {
  auto* card = new QFrame(window(), Qt::Popup);
  card->setAttribute(Qt::WA_DeleteOnClose);
  card->setObjectName("limits");
  card->setProperty("hint", true);
  auto* form = new QFormLayout(card);
  form->setContentsMargins(12, 10, 12, 10);
  const auto field = [&](const QString& label, double GaugeLimits::*member, const char* name) {
    QDoubleSpinBox* box = unit_ == "mm" ? length_field(card) : new QDoubleSpinBox(card);
    box->setLocale(QLocale::c());
    box->setRange(0.0, 1e4);
    box->setDecimals(3);
    box->setSpecialValueText(tr("off"));
    if (unit_ != "mm") box->setSuffix(" " + unit_);
    box->setValue((*limits_).*member);
    box->setObjectName(name);
    box->setAccessibleName(label);
    form->addRow(label, box);
    connect(box, &QDoubleSpinBox::valueChanged, this, [this, member](double x) {
      GaugeLimits changed = *limits_;
      changed.*member = x;
      set_limits(changed);
    });
  };
  const QString side = limits_->less_is_worse ? tr("below") : tr("above");
  field(tr("Amber %1").arg(side), &GaugeLimits::caution, "limit_caution");
  field(tr("Red %1").arg(side), &GaugeLimits::bad, "limit_bad");
  card->adjustSize();
  card->move(mapToGlobal(QPoint(0, -card->height() - 4)));
  card->show();
}

}  // namespace evenclay
