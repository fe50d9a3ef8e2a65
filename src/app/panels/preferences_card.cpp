#include "app/panels/preferences_card.h"

#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/look/preferences.h"

namespace evenclay {

PreferencesCard::PreferencesCard(QWidget* parent) : QDialog(parent) {
  setWindowTitle(tr("Preferences"));
  setObjectName("preferences_card");
  setAttribute(Qt::WA_DeleteOnClose);
  auto* column = new QVBoxLayout(this);
  auto* form = new QFormLayout;
  column->addLayout(form);
  const look::Preferences& p = look::preferences();
  const auto choice = [&](const QString& name, const QString& label, const QStringList& all,
                          int now) {
    auto* box = new QComboBox(this);
    box->setObjectName(name);
    box->addItems(all);
    box->setCurrentIndex(now);
    box->setAccessibleName(label);
    form->addRow(label, box);
    connect(box, &QComboBox::currentIndexChanged, this, &PreferencesCard::take);
    return box;
  };
  unit_ = choice("shown_unit", tr("Lengths are shown in"),
                 {tr("millimetres"), tr("centimetres"), tr("inches")}, static_cast<int>(p.unit));
  turn_ = choice("turn_button", tr("The view is turned with"),
                 {tr("the middle button"), tr("the right button")}, static_cast<int>(p.turn));
  copies_ = new QSpinBox(this);
  copies_->setObjectName("recovery_seconds");
  copies_->setRange(2, 600);
  copies_->setSuffix(tr(" s"));
  copies_->setValue(p.recovery_seconds);
  copies_->setAccessibleName(tr("Unsaved work is copied every"));
  form->addRow(copies_->accessibleName(), copies_);
  connect(copies_, &QSpinBox::valueChanged, this, &PreferencesCard::take);
  auto* says =
      new QLabel(tr("A number typed without a sign is in the shown unit; formulas, projects and "
                    "files are in millimetres. "
                    "Limits of gauges are set on their cards, keys in Help \u203A Keys and mouse."),
                 this);
  says->setWordWrap(true);
  says->setProperty("quiet", true);
  column->addWidget(says);
  setMinimumWidth(420);
}

void PreferencesCard::take() {
  look::set_preferences({static_cast<look::LengthUnit>(unit_->currentIndex()),
                         static_cast<look::TurnButton>(turn_->currentIndex()), copies_->value()});
  Q_EMIT changed();
}

}  // namespace evenclay
