#include "app/panels/settings_panel.h"

#include "app/look/preferences.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <QPushButton>
#include <QScrollArea>
#include <QStyle>
#include <QVBoxLayout>

#include "app/look/words.h"
#include "app/panels/count_plot.h"
#include "app/panels/read_parameters.h"
#include "app/panels/settings_builder.h"
#include "core/operations/offers.h"

namespace evenclay {

using look::words;

SettingsPanel::SettingsPanel(AppModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 8, 10, 8);
  column->setSpacing(5);
  title_ = new QLabel(this);
  title_->setProperty("heading", true);
  help_ = new QLabel(this);
  help_->setProperty("quiet", true);
  help_->setWordWrap(true);
  message_ = new QLabel(this);
  message_->setWordWrap(true);
  message_->setObjectName("step_message");
  trial_bar_ = new QWidget(this);
  auto* row = new QHBoxLayout(trial_bar_);
  row->setContentsMargins(0, 4, 0, 0);
  auto* keep = new QPushButton(tr("Keep  (Enter)"), trial_bar_);
  keep->setObjectName("keep");
  keep->setProperty("primary", true);
  auto* drop = new QPushButton(tr("Drop  (Esc)"), trial_bar_);
  drop->setObjectName("drop");
  row->addWidget(keep);
  row->addWidget(drop);
  as_new_part_ = new QCheckBox(tr("As a new part"), this);
  as_new_part_->setObjectName("as_new_part");
  as_new_part_->setToolTip(
      tr("Works on a copy that follows the part, and keeps the part as it is."));
  connect(as_new_part_, &QCheckBox::toggled, this, [this](bool on) {
    if (!refreshing_) model_.attempt([&] { model_.set_trial_as_new_part(on); });
  });
  plot_ = new CountPlot(this);
  plot_->hide();
  connect(plot_, &CountPlot::picked, this, &SettingsPanel::take_count);
  connect(keep, &QPushButton::clicked, this, [this] { model_.keep_trial(); });
  connect(drop, &QPushButton::clicked, this, [this] { model_.drop_trial(); });
  auto* area = new QScrollArea(this);
  area->setWidgetResizable(true);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* inside = new QWidget(area);
  inside->setLayout(new QVBoxLayout);
  inside->layout()->setContentsMargins(0, 0, 6, 0);
  area->setWidget(inside);
  fields_ = inside;
  column->addWidget(title_);
  column->addWidget(help_);
  column->addWidget(message_);
  column->addWidget(area, 1);
  column->addWidget(plot_);
  column->addWidget(as_new_part_);
  column->addWidget(trial_bar_);
  connect(&model_, &AppModel::document_changed, this, &SettingsPanel::refresh);
  connect(&model_, &AppModel::chosen_changed, this, &SettingsPanel::refresh);
  connect(&model_, &AppModel::answered, this, [this] {
    const Step* step = find_step(model_.document(), model_.chosen_step());
    refresh_words(step);
    refresh_plot(step);
  });
  refresh();
}

void SettingsPanel::keyPressEvent(QKeyEvent* event) {
  const bool enter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (model_.trial() && enter)
    model_.keep_trial();
  else if (model_.trial() && event->key() == Qt::Key_Escape)
    model_.drop_trial();
  else
    QWidget::keyPressEvent(event);
}

void SettingsPanel::refresh() {
  if (refreshing_) return;
  refreshing_ = true;
  const Step* step = find_step(model_.document(), model_.chosen_step());
  trial_bar_->setVisible(model_.trial());
  as_new_part_->setVisible(model_.trial() && model_.trial_can_be_new_part());
  as_new_part_->setChecked(model_.trial_as_new_part());
  const std::string kind = step != nullptr ? std::string(step->operation->kind()) : "";
  const std::size_t parts = model_.document().parts.size();
  const std::string names = step != nullptr ? parameters_of(*step->operation) : std::string();
  if (step == nullptr || step->id != built_for_ || kind != built_kind_ || parts != built_parts_ ||
      names != built_names_ || look::preferences().unit != built_unit_) {
    // One of its own fields may have asked for the change: it goes when the hand has left it.
    if (auto* old = fields_->findChild<QWidget*>("form", Qt::FindDirectChildrenOnly)) {
      old->hide();
      old->setParent(nullptr);
      old->deleteLater();
    }
    updaters_.clear();
    built_for_ = step != nullptr ? step->id : 0;
    built_kind_ = kind;
    built_parts_ = parts;
    built_names_ = names;
    built_unit_ = look::preferences().unit;
    if (step != nullptr) rebuild(*step);
  } else {
    const auto copy = step->operation->clone();
    for (const auto& update : updaters_) update(*copy);
  }
  const Part* part = step != nullptr ? part_of_step(model_.document(), step->id) : nullptr;
  fields_->setEnabled(part == nullptr || !is_locked(model_.document(), *part));
  refresh_words(step);
  refresh_plot(step);
  refreshing_ = false;
}

void SettingsPanel::set_up(QFormLayout& form) {
  form.setContentsMargins(0, 0, 0, 0);
  form.setHorizontalSpacing(8);
  form.setVerticalSpacing(5);
  form.setFieldGrowthPolicy(QFormLayout::AllNonFixedFieldsGrow);
  form.setRowWrapPolicy(QFormLayout::DontWrapRows);
}

void SettingsPanel::rebuild(const Step& step) {
  auto* holder = new QWidget(fields_);
  holder->setObjectName("form");
  auto* form = new QFormLayout(holder);
  set_up(*form);
  SettingsBuilder builder(*this, *form);
  step.operation->clone()->describe(builder);
  auto* column = static_cast<QVBoxLayout*>(fields_->layout());
  while (QLayoutItem* old = column->takeAt(0)) delete old;
  column->addWidget(holder);
  column->addStretch();
}

void SettingsPanel::refresh_words(const Step* step) {
  if (step == nullptr) {
    title_->setText(tr("Settings"));
    help_->setText(tr("Choose a build step to see its settings."));
    message_->hide();
    return;
  }
  title_->setText(QString::fromStdString(step->name));
  help_->setText(words(step->operation->help()));
  QString text;
  bool bad = false;
  if (const auto found = model_.step_status().find(step->id);
      found != model_.step_status().end() && step->enabled) {
    bad = found->second.failed;
    text = QString::fromStdString(found->second.message);
    for (const std::string& note : found->second.notes)
      text += (text.isEmpty() ? "" : "\n") + QString::fromStdString(note);
  }
  if (!step->enabled) text = tr("This step is switched off.");
  if (const Part* part = part_of_step(model_.document(), step->id);
      part != nullptr && is_locked(model_.document(), *part))
    text = tr("This part is locked. Unlock it in the list of parts to change it.");
  // What went wrong with the settings before may be right by now.
  const bool old = bad && !model_.up_to_date() && !model_.dragging();
  message_->setProperty("bad", bad && !old);
  message_->setProperty("quiet", old);
  message_->style()->unpolish(message_);
  message_->style()->polish(message_);
  message_->setText(look::in_shown_unit(text));
  message_->setVisible(!text.isEmpty());
}

void SettingsPanel::refresh_plot(const Step* step) {
  const auto* offers = step != nullptr ? offer_of<OffersCounts>(*step->operation) : nullptr;
  plot_->setVisible(offers != nullptr);
  DisplayWants wants = model_.wants();
  wants.plot = offers != nullptr;
  model_.want(wants);
  if (offers == nullptr) return;
  plot_->show_plot(model_.plot());
  plot_->set_choice(offers->counts()[0], offers->counts()[1]);
}

// A click on the plot takes both counts at once.
void SettingsPanel::take_count(int points_u, int points_v) {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  const auto* offers = step != nullptr ? offer_of<OffersCounts>(*step->operation) : nullptr;
  if (offers == nullptr) return;
  const OperationPtr changed = offers->with_counts(points_u, points_v);
  const StepId id = step->id;
  model_.attempt([&] {
    model_.change_operation(id, changed, tr("Counts from the plot"), QString("%1.plot").arg(id));
  });
}

void SettingsPanel::change(const std::string& parameter, const std::string& label,
                           const std::string& value) {
  if (refreshing_) return;
  const Step* step = find_step(model_.document(), model_.chosen_step());
  if (step == nullptr) return;
  const StepId id = step->id;
  model_.attempt([&] {
    model_.change_parameter(id, parameter, value, QString::fromStdString(label),
                            QString("%1.%2").arg(id).arg(QString::fromStdString(parameter)));
  });
}

}  // namespace evenclay
