// The fields of the settings panel: one for each parameter of an operation. Only for settings_panel.cpp.
#pragma once

#include <QFormLayout>
#include <QSpinBox>
#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include <fmt/format.h>

#include "app/panels/formula_spin.h"
#include "app/panels/settings_panel.h"

namespace evenclay {

/// Makes one field for each parameter.
class SettingsBuilder : public ParameterVisitor {
 public:
  SettingsBuilder(SettingsPanel& panel, QFormLayout& form)
      : panel_(panel), all_(form), form_(&form) {}

  // A heading that folds what follows; the panel remembers which are open.
  void group(std::string_view title) override;

  void number(const ParameterInfo& i, double& v, const NumberRange& r) override;
  void count(const ParameterInfo& i, int& v, const CountRange& r) override;
  // The field with a slider before it.
  static QWidget* with_slider(QSpinBox* box, const QString& label);
  void toggle(const ParameterInfo& i, bool& v) override;
  void choice(const ParameterInfo& i, int& v, std::span<const Choice> choices) override;
  // Each part at its end, and as it is after one of its earlier steps.
  std::vector<std::pair<PartRef, QString>> offered_parts() const;
  void parts(const ParameterInfo& i, std::vector<PartRef>& v, const PartsRange&) override;
  void part(const ParameterInfo& i, PartRef& v) override;
  // What is picked is said here; picking itself is done in the view.
  void picks(const ParameterInfo& i, std::vector<Pick>& v, const PickRange&) override;
  void file(const ParameterInfo& i, FileAttachment& v,
            std::span<const std::string_view> endings) override;
  void data(const ParameterInfo& i, DataParameter& v) override;

 private:
  void typed_data(const ParameterInfo& i, const DataParameter& v);
  void add(const ParameterInfo& i, QWidget* field);
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
