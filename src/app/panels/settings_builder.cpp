#include "app/panels/settings_builder.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>
#include <cmath>

#include "app/look/words.h"
#include "app/panels/parts_field.h"
#include "app/panels/read_parameters.h"

namespace evenclay {

using look::words;

// A value that follows a formula shows an equals sign, and the formula on hover.
template <typename Spin>
void SettingsPanel::mark_formula(Spin& box, const std::string& parameter) {
  const Step* step = find_step(model_.document(), model_.chosen_step());
  if (step == nullptr) return;
  const auto found = step->formulas.find(parameter);
  const bool follows = found != step->formulas.end();
  const QString sign = follows ? "= " : "";
  if (!box.editing())
    box.setProperty("followed", follows ? QString::fromStdString(found->second) : QString());
  if (box.prefix() != sign && !box.editing()) box.setPrefix(sign);  // drops what is being typed
  QString help = box.property("help").toString();
  if (follows) help += "\n= " + QString::fromStdString(found->second);
  box.setToolTip(help);
}

void SettingsBuilder::group(std::string_view title) {
  const QString name = words(title);
  auto* heading = new QToolButton;
  heading->setObjectName("group " + name);
  heading->setText(name);
  heading->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
  heading->setAutoRaise(true);
  heading->setCheckable(true);
  auto* inside = new QWidget;
  form_ = new QFormLayout(inside);
  SettingsPanel::set_up(*form_);
  const auto show = [heading, inside](bool open) {
    heading->setArrowType(open ? Qt::DownArrow : Qt::RightArrow);
    inside->setVisible(open);
  };
  QObject::connect(heading, &QToolButton::toggled, &panel_, [=, panel = &panel_](bool open) {
    show(open);
    if (open)
      panel->open_groups_.insert(name);
    else
      panel->open_groups_.remove(name);
  });
  all_.addRow(heading);
  all_.addRow(inside);
  heading->setChecked(panel_.open_groups_.contains(name));
  show(heading->isChecked());
}

void SettingsBuilder::number(const ParameterInfo& i, double& v, const NumberRange& r) {
  auto* box =
      r.unit == "mm" ? new LengthSpin(evaluate()) : new FormulaSpin<QDoubleSpinBox>(evaluate());
  box->setDecimals(r.decimals);
  box->setRange(r.min, r.max);
  box->setSingleStep(r.step);
  if (!r.least_says.empty()) box->setSpecialValueText(words(r.least_says));
  if (!r.unit.empty() && r.unit != "mm") box->setSuffix(" " + words(r.unit).trimmed());
  box->setValue(v);
  const std::string name(i.name);
  const std::string label(i.label);
  QObject::connect(box, &QDoubleSpinBox::valueChanged, &panel_, [=, panel = &panel_](double x) {
    if (!box->has_formula()) panel->change(name, label, fmt::format("{}", x));
  });
  take_formulas(*box, name, label);
  // A value that fits the shown digits is left alone, so that showing never changes it.
  update([this_panel = &panel_, box, name](Operation& o) {
    this_panel->mark_formula(*box, name);
    const double now = read(o, name).value;
    if (std::abs(now - box->value()) > 0.5 * std::pow(10.0, -box->decimals())) box->setValue(now);
  });
  add(i, box);
  panel_.mark_formula(*box, name);
}

void SettingsBuilder::count(const ParameterInfo& i, int& v, const CountRange& r) {
  auto* box = new FormulaSpin<QSpinBox>(evaluate());
  box->setRange(r.min, r.max);
  if (!r.least_says.empty()) box->setSpecialValueText(words(r.least_says));
  box->setValue(v);
  const std::string name(i.name);
  const std::string label(i.label);
  QObject::connect(box, &QSpinBox::valueChanged, &panel_, [=, panel = &panel_](int x) {
    if (!box->has_formula()) panel->change(name, label, std::to_string(x));
  });
  take_formulas(*box, name, label);
  update([this_panel = &panel_, box, name](Operation& o) {
    this_panel->mark_formula(*box, name);
    box->setValue(static_cast<int>(read(o, name).value));
  });
  if (r.slider)
    add(i, with_slider(box, words(i.label)));
  else
    add(i, box);
  panel_.mark_formula(*box, name);
}

QWidget* SettingsBuilder::with_slider(QSpinBox* box, const QString& label) {
  auto* both = new QWidget;
  auto* row = new QHBoxLayout(both);
  row->setContentsMargins(0, 0, 0, 0);
  auto* slider = new QSlider(Qt::Horizontal);
  slider->setRange(box->minimum(), box->maximum());
  slider->setValue(box->value());
  QObject::connect(slider, &QSlider::valueChanged, box, &QSpinBox::setValue);
  QObject::connect(box, &QSpinBox::valueChanged, slider, &QSlider::setValue);
  slider->setAccessibleName(label);
  box->setAccessibleName(label);
  row->addWidget(slider, 1);
  row->addWidget(box);
  return both;
}

void SettingsBuilder::toggle(const ParameterInfo& i, bool& v) {
  auto* box = new QCheckBox(words(i.label));
  box->setChecked(v);
  const std::string name(i.name);
  const std::string label(i.label);
  QObject::connect(box, &QCheckBox::toggled, &panel_, [=, panel = &panel_](bool on) {
    panel->change(name, label, on ? "true" : "false");
  });
  update([box, name](Operation& o) { box->setChecked(read(o, name).value != 0.0); });
  box->setObjectName(words(i.name));
  box->setToolTip(words(i.help));
  form_->addRow(box);
}

void SettingsBuilder::choice(const ParameterInfo& i, int& v, std::span<const Choice> choices) {
  auto* box = new QComboBox;
  std::vector<std::string> names;
  for (const Choice& c : choices) {
    box->addItem(words(c.label));
    names.emplace_back(c.name);
  }
  box->setCurrentIndex(v);
  const std::string name(i.name);
  const std::string label(i.label);
  QObject::connect(box, &QComboBox::currentIndexChanged, &panel_, [=, panel = &panel_](int k) {
    if (k >= 0) panel->change(name, label, names[static_cast<std::size_t>(k)]);
  });
  update(
      [box, name](Operation& o) { box->setCurrentIndex(static_cast<int>(read(o, name).value)); });
  add(i, box);
}

std::vector<std::pair<PartRef, QString>> SettingsBuilder::offered_parts() const {
  std::vector<std::pair<PartRef, QString>> result;
  for (const Part& part : panel_.model_.document().parts) {
    if (part.id == panel_.model_.chosen_part()) continue;
    const QString part_name = QString::fromStdString(part.name);
    result.emplace_back(part.id, part_name);
    for (std::size_t k = 0; k + 1 < part.steps.size(); ++k)
      result.emplace_back(PartRef{part.id, part.steps[k].id},
                          QObject::tr("%1 after %2 %3")
                              .arg(part_name)
                              .arg(k + 1)
                              .arg(QString::fromStdString(part.steps[k].name)));
  }
  return result;
}

void SettingsBuilder::parts(const ParameterInfo& i, std::vector<PartRef>& v, const PartsRange&) {
  const std::string name(i.name);
  const std::string label(i.label);
  auto* field =
      new PartsField(offered_parts(), [=, panel = &panel_](const std::vector<PartRef>& parts) {
        std::string text;
        for (const PartRef& p : parts) text += ReadOne::reference(p).toStdString() + ";";
        panel->change(name, label, text);
      });
  field->show_parts(v);
  update([field, name](Operation& o) {
    if (const auto now = read(o, name).listed; now != field->shown()) field->show_parts(now);
  });
  field->setObjectName(words(i.name));
  field->setToolTip(words(i.help));
  auto* title = new QLabel(words(i.label));
  title->setToolTip(words(i.help));
  form_->addRow(title);
  form_->addRow(field);
}

void SettingsBuilder::part(const ParameterInfo& i, PartRef& v) {
  auto* box = new QComboBox;
  box->addItem(QObject::tr("choose a part"), ReadOne::reference({}));
  for (const auto& [part, part_name] : offered_parts())
    box->addItem(part_name, ReadOne::reference(part));
  box->setCurrentIndex(std::max(0, box->findData(ReadOne::reference(v))));
  const std::string name(i.name);
  const std::string label(i.label);
  QObject::connect(box, &QComboBox::currentIndexChanged, &panel_, [=, panel = &panel_](int) {
    panel->change(name, label, box->currentData().toString().toStdString());
  });
  update([box, name](Operation& o) {
    box->setCurrentIndex(std::max(0, box->findData(read(o, name).summary)));
  });
  add(i, box);
}

void SettingsBuilder::picks(const ParameterInfo& i, std::vector<Pick>& v, const PickRange&) {
  auto* row = new QPushButton(ReadOne::pick_words(v));
  row->setToolTip(QObject::tr("Lets go of what is picked."));
  const std::string name(i.name);
  const std::string label(i.label);
  QObject::connect(row, &QPushButton::clicked, &panel_,
                   [=, panel = &panel_] { panel->change(name, label, ""); });
  update([row, name](Operation& o) { row->setText(read(o, name).summary); });
  add(i, row);
}

void SettingsBuilder::file(const ParameterInfo& i, FileAttachment& v,
                           std::span<const std::string_view> endings) {
  auto* button = new QPushButton(ReadOne::file_words(v));
  QStringList patterns;
  for (const std::string_view e : endings) patterns << "*" + words(e);
  const QString filter = words(i.label) + " (" + patterns.join(' ') + ")";
  const std::string name(i.name);
  const std::string label(i.label);
  QObject::connect(button, &QPushButton::clicked, &panel_, [=, panel = &panel_] {
    const QString file =
        QFileDialog::getOpenFileName(panel, QString::fromStdString(label), {}, filter);
    if (!file.isEmpty()) panel->change(name, label, file.toStdString());
  });
  update([button, name](Operation& o) { button->setText(read(o, name).summary); });
  add(i, button);
}

void SettingsBuilder::data(const ParameterInfo& i, DataParameter& v) {
  if (v.typed()) {
    typed_data(i, v);
    return;
  }
  auto* label = new QLabel(QString::fromStdString(v.summary()));
  label->setWordWrap(true);
  const std::string name(i.name);
  update([label, name](Operation& o) { label->setText(read(o, name).summary); });
  add(i, label);
}

void SettingsBuilder::typed_data(const ParameterInfo& i, const DataParameter& v) {
  auto* field = new QLineEdit(ReadOne::data_words(v));
  const std::string name(i.name);
  const std::string label(i.label);
  QObject::connect(field, &QLineEdit::editingFinished, &panel_, [=, panel = &panel_] {
    if (!field->isModified()) return;
    field->setModified(false);
    panel->change(name, label, field->text().toStdString());
    panel->refresh();  // shows what it came to, also where it was refused
  });
  update([field, name](Operation& o) {
    if (!field->isModified()) field->setText(read(o, name).summary);
  });
  add(i, field);
}

void SettingsBuilder::add(const ParameterInfo& i, QWidget* field) {
  field->setObjectName(words(i.name));
  field->setAccessibleName(words(i.label));
  field->setProperty("help", words(i.help));
  if (field->toolTip().isEmpty()) field->setToolTip(words(i.help));
  field->setMinimumWidth(60);
  field->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  auto* label = new QLabel(words(i.label));
  label->setToolTip(words(i.help));
  label->setBuddy(field);
  form_->addRow(label, field);
}

}  // namespace evenclay
