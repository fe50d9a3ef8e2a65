// The fields of the settings panel: one for each parameter of an operation. Only for settings_panel.cpp.
#pragma once

#include <fmt/format.h>

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>
#include <QSpinBox>
#include <QToolButton>
#include <cmath>

#include "app/look/words.h"
#include "app/panels/formula_spin.h"
#include "app/panels/parts_field.h"
#include "app/panels/settings_panel.h"

namespace evenclay {

using look::words;

// Reads the value of one parameter by name out of an operation.
class ReadOne : public ParameterVisitor {
 public:
  explicit ReadOne(std::string name) : name_(std::move(name)) {}
  double value = 0.0;
  QString summary;
  void number(const ParameterInfo& i, double& v, const NumberRange&) override { take(i, v); }
  void count(const ParameterInfo& i, int& v, const CountRange&) override { take(i, v); }
  void toggle(const ParameterInfo& i, bool& v) override { take(i, v ? 1.0 : 0.0); }
  void choice(const ParameterInfo& i, int& v, std::span<const Choice>) override { take(i, v); }
  void part(const ParameterInfo& i, PartRef& v) override {
    if (i.name == name_) summary = reference(v);
  }
  void parts(const ParameterInfo& i, std::vector<PartRef>& v, const PartsRange&) override {
    if (i.name == name_) listed = v;
  }
  std::vector<PartRef> listed;
  void picks(const ParameterInfo& i, std::vector<Pick>& v, const PickRange&) override {
    if (i.name == name_) summary = pick_words(v);
  }
  static QString pick_words(const std::vector<Pick>& v) {
    if (v.empty()) return QObject::tr("none picked");
    const QString kind = words(name_of(v.front().kind));
    return v.size() == 1 ? QObject::tr("a picked %1").arg(kind)
                         : QObject::tr("%1 picked").arg(v.size());
  }
  void file(const ParameterInfo& i, FileAttachment& v, std::span<const std::string_view>) override {
    if (i.name == name_) summary = file_words(v);
  }
  /// As part parameters take it: "12", or "12:34" after a step.
  static QString reference(const PartRef& v) {
    return v.after == 0 ? QString::number(v.part) : QString("%1:%2").arg(v.part).arg(v.after);
  }
  static QString file_words(const FileAttachment& v) {
    if (v.empty()) return QObject::tr("no file yet");
    return QObject::tr("%1, %2 kB")
        .arg(QString::fromStdString(v.name))
        .arg((v.bytes->size() + 1023) / 1024);
  }
  void data(const ParameterInfo& i, DataParameter& v) override {
    if (i.name == name_) summary = data_words(v);
  }
  static QString data_words(const DataParameter& v) {
    return QString::fromStdString(v.typed().value_or(v.summary()));
  }

 private:
  void take(const ParameterInfo& i, double v) {
    if (i.name == name_) value = v;
  }
  std::string name_;
};

// The names of the parameters that an operation has just now.
inline std::string parameters_of(const Operation& operation) {
  class Names : public ParameterVisitor {
   public:
    std::string all;
    void number(const ParameterInfo& i, double&, const NumberRange&) override { add(i); }
    void count(const ParameterInfo& i, int&, const CountRange&) override { add(i); }
    void toggle(const ParameterInfo& i, bool&) override { add(i); }
    void choice(const ParameterInfo& i, int&, std::span<const Choice>) override { add(i); }
    void part(const ParameterInfo& i, PartRef&) override { add(i); }
    void parts(const ParameterInfo& i, std::vector<PartRef>&, const PartsRange&) override {
      add(i);
    }
    void picks(const ParameterInfo& i, std::vector<Pick>&, const PickRange&) override { add(i); }
    void file(const ParameterInfo& i, FileAttachment&, std::span<const std::string_view>) override {
      add(i);
    }
    void data(const ParameterInfo& i, DataParameter&) override { add(i); }

   private:
    void add(const ParameterInfo& i) {
      all += i.name;
      all += ' ';
    }
  } names;
  operation.clone()->describe(names);
  return names.all;
}

inline ReadOne read(Operation& operation, const std::string& name) {
  ReadOne reader(name);
  operation.describe(reader);
  return reader;
}

/// Makes one field for each parameter.
class SettingsBuilder : public ParameterVisitor {
 public:
  SettingsBuilder(SettingsPanel& panel, QFormLayout& form)
      : panel_(panel), all_(form), form_(&form) {}

  // A heading that folds what follows; the panel remembers which are open.
  void group(std::string_view title) override {
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

  void number(const ParameterInfo& i, double& v, const NumberRange& r) override {
    auto* box =
        r.unit == "mm" ? new LengthSpin(evaluate()) : new FormulaSpin<QDoubleSpinBox>(evaluate());
    box->setDecimals(r.decimals);
    box->setRange(r.min, r.max);
    box->setSingleStep(r.step);
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
  void count(const ParameterInfo& i, int& v, const CountRange& r) override {
    auto* box = new FormulaSpin<QSpinBox>(evaluate());
    box->setRange(r.min, r.max);
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
  // The field with a slider before it.
  static QWidget* with_slider(QSpinBox* box, const QString& label) {
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
  void toggle(const ParameterInfo& i, bool& v) override {
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
  void choice(const ParameterInfo& i, int& v, std::span<const Choice> choices) override {
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
  // Each part at its end, and as it is after one of its earlier steps.
  std::vector<std::pair<PartRef, QString>> offered_parts() const {
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
  void parts(const ParameterInfo& i, std::vector<PartRef>& v, const PartsRange&) override {
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
  void part(const ParameterInfo& i, PartRef& v) override {
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
  // What is picked is said here; picking itself is done in the view.
  void picks(const ParameterInfo& i, std::vector<Pick>& v, const PickRange&) override {
    auto* row = new QPushButton(ReadOne::pick_words(v));
    row->setToolTip(QObject::tr("Lets go of what is picked."));
    const std::string name(i.name);
    const std::string label(i.label);
    QObject::connect(row, &QPushButton::clicked, &panel_,
                     [=, panel = &panel_] { panel->change(name, label, ""); });
    update([row, name](Operation& o) { row->setText(read(o, name).summary); });
    add(i, row);
  }
  void file(const ParameterInfo& i, FileAttachment& v,
            std::span<const std::string_view> endings) override {
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
  void data(const ParameterInfo& i, DataParameter& v) override {
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

 private:
  void typed_data(const ParameterInfo& i, const DataParameter& v) {
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
  void add(const ParameterInfo& i, QWidget* field) {
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
  // What a field does with text that is no number: worked out over the project's numbers; what cannot
  // be is said.
  std::function<std::optional<double>(const QString&)> evaluate() {
    return [panel = &panel_](const QString& text) -> std::optional<double> {
      std::optional<double> value;
      panel->model_.attempt(
          [&] { value = formula_value(text.toStdString(), panel->model_.document().numbers); });
      return value;
    };
  }
  template <typename Spin>
  void take_formulas(FormulaSpin<Spin>& box, const std::string& name, const std::string& label) {
    QObject::connect(&box, &Spin::editingFinished, &panel_, [&box, name, label, panel = &panel_] {
      if (box.take_failure()) {
        // Back to what was there before the typing, which may have been a formula.
        const QString formula = box.property("followed").toString();
        panel->change(name, label,
                      formula.isEmpty() ? fmt::format("{}", box.settled()) : formula.toStdString());
      } else if (box.has_formula())
        panel->change(name, label, box.take_formula().toStdString());
      box.settle();
      panel->refresh();  // shows what it came to, also where it was refused
      box.settle();
    });
  }
  template <typename F>
  void update(F f) {
    panel_.updaters_.push_back(f);
  }
  SettingsPanel& panel_;
  QFormLayout& all_;
  QFormLayout* form_;  // of the group that is being filled
};

}  // namespace evenclay
