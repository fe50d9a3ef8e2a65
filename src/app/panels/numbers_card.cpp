#include "app/panels/numbers_card.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/style.h"
#include "app/window/app_model.h"

namespace evenclay {

namespace {

constexpr int kPlaces = 1000;  // of a slider

struct Range {
  double least, most;
};

// Its own, or one that holds the value and as much again.
Range range_of(const NamedNumber& n) {
  if (n.least < n.most) return {n.least, n.most};
  const double reach = n.value != 0.0 ? 2.0 * std::abs(n.value) : 10.0;
  return {n.value < 0.0 ? -reach : 0.0, n.value > 0.0 ? reach : (n.value < 0.0 ? 0.0 : reach)};
}

QString digits(double x) {
  return QLocale::c().toString(x, 'g', 6);
}

// A value on the slider as one would type it: no more digits than its steps need.
QString stepped(const Range& r, int place) {
  const double step = (r.most - r.least) / kPlaces;
  const int decimals =
      std::clamp(static_cast<int>(std::ceil(-std::log10(std::max(step, 1e-9)))), 0, 6);
  return QLocale::c().toString(r.least + step * place, 'f', decimals);
}

QLineEdit* field(QWidget* parent, const QString& name, const QString& object, int width) {
  auto* f = new QLineEdit(parent);
  f->setAccessibleName(name);
  f->setToolTip(name);
  f->setObjectName(object);
  f->setFixedWidth(width);
  return f;
}

}  // namespace

NumbersCard::NumbersCard(AppModel& model, QWidget* parent) : QDialog(parent), model_(model) {
  setObjectName("numbers");
  setWindowTitle(tr("Numbers"));
  setAttribute(Qt::WA_DeleteOnClose);
  auto* column = new QVBoxLayout(this);
  auto* help =
      new QLabel(tr("Number fields take formulas over these: lift, or 2 * lift + 1. Dragging "
                    "a slider moves everything that uses the number."),
                 this);
  help->setWordWrap(true);
  help->setProperty("quiet", true);
  column->addWidget(help);
  rows_layout_ = new QVBoxLayout;
  column->addLayout(rows_layout_);
  auto* row = new QHBoxLayout;
  new_name_ = field(this, tr("Name of a new number"), "new_name", 110);
  new_name_->setPlaceholderText(tr("new name"));
  new_text_ = field(this, tr("Value or formula of the new number"), "new_text", 110);
  new_text_->setPlaceholderText(tr("value"));
  auto* add = new QPushButton(look::icon("plus"), tr("Add"), this);
  add->setObjectName("add_number");
  add->setAutoDefault(false);
  row->addWidget(new_name_);
  row->addWidget(new_text_);
  row->addWidget(add);
  row->addStretch();
  column->addLayout(row);
  column->addStretch();
  connect(add, &QPushButton::clicked, this, [this] { add_number(); });
  connect(new_text_, &QLineEdit::returnPressed, this, [this] { add_number(); });
  connect(&model_, &AppModel::document_changed, this, &NumbersCard::refresh);
  connect(&model_, &AppModel::interrupting, this, [this] {
    if (!dragged_) return;
    dragged_.reset();
    model_.drop_drag();
  });
  resize(620, 200);
  refresh();
}

void NumbersCard::refresh() {
  if (dragged_ || refreshing_) return;
  refreshing_ = true;
  const auto& numbers = model_.document().numbers;
  const bool same = std::equal(rows_.begin(), rows_.end(), numbers.begin(), numbers.end(),
                               [](const Row& r, const NamedNumber& n) { return r.name == n.name; });
  if (!same) rebuild();
  for (std::size_t k = 0; k < rows_.size(); ++k) fill(rows_[k], numbers[k]);
  refreshing_ = false;
}

void NumbersCard::rebuild() {
  while (QLayoutItem* item = rows_layout_->takeAt(0)) {
    if (item->widget() != nullptr) item->widget()->deleteLater();
    delete item;
  }
  rows_.clear();
  for (const NamedNumber& n : model_.document().numbers) add_row(n);
}

void NumbersCard::add_row(const NamedNumber& n) {
  const QString name = QString::fromStdString(n.name);
  auto* holder = new QWidget(this);
  auto* row = new QHBoxLayout(holder);
  row->setContentsMargins(0, 0, 0, 0);
  auto* label = new QLabel(name, holder);
  label->setFixedWidth(70);
  Row r{n.name,
        new QSlider(Qt::Horizontal, holder),
        field(holder, tr("%1: value or formula").arg(name), "text_" + name, 90),
        field(holder, tr("%1: least on the slider").arg(name), "least_" + name, 52),
        field(holder, tr("%1: most on the slider").arg(name), "most_" + name, 52),
        new QLabel(holder)};
  r.slider->setRange(0, kPlaces);
  r.slider->setMinimumWidth(170);
  r.slider->setAccessibleName(tr("Slider of %1").arg(name));
  r.slider->setObjectName("slider_" + name);
  r.value->setFixedWidth(60);
  auto* remove = new QToolButton(holder);
  remove->setText(tr("Remove"));
  remove->setObjectName("remove_" + name);
  row->addWidget(label);
  row->addWidget(r.least);
  row->addWidget(r.slider, 1);
  row->addWidget(r.most);
  row->addWidget(r.text);
  row->addWidget(r.value);
  row->addWidget(remove);
  rows_layout_->addWidget(holder);
  const std::string id = n.name;
  connect(r.slider, &QSlider::valueChanged, this, [this, id, slider = r.slider](int place) {
    if (refreshing_) return;
    drag(id, place);
    if (!slider->isSliderDown()) let_go(id);  // moved by a key or the wheel
  });
  connect(r.slider, &QSlider::sliderReleased, this, [this, id] { let_go(id); });
  connect(r.text, &QLineEdit::editingFinished, this,
          [this, id, text = r.text] { take_text(id, text->text()); });
  for (QLineEdit* f : {r.least, r.most})
    connect(f, &QLineEdit::editingFinished, this, [this, id, least = r.least, most = r.most] {
      take_range(id, least->text(), most->text());
    });
  connect(remove, &QToolButton::clicked, this, [this, id] {
    model_.attempt([&] {
      model_.commit_beside([&](const Document& d) { return without_number(d, id); },
                           tr("Remove number"));
    });
  });
  rows_.push_back(r);
}

void NumbersCard::fill(const Row& row, const NamedNumber& n) {
  const Range r = range_of(n);
  const bool plain = is_plain_number(n.text);
  row.slider->setEnabled(plain);
  row.slider->setToolTip(plain ? tr("Drag to change %1.").arg(QString::fromStdString(n.name))
                               : tr("It follows its formula."));
  row.slider->setValue(static_cast<int>(
      std::lround((n.value - r.least) / std::max(r.most - r.least, 1e-12) * kPlaces)));
  if (!row.text->hasFocus()) row.text->setText(QString::fromStdString(n.text));
  if (!row.least->hasFocus()) row.least->setText(digits(r.least));
  if (!row.most->hasFocus()) row.most->setText(digits(r.most));
  row.value->setText(plain ? QString() : "= " + digits(n.value));
}

void NumbersCard::drag(const std::string& name, int place) {
  if (model_.trial()) model_.keep_trial();
  const Document& base = model_.session().current();
  const auto n = std::find_if(base.numbers.begin(), base.numbers.end(),
                              [&](const NamedNumber& x) { return x.name == name; });
  if (n == base.numbers.end()) return;
  const std::string text = stepped(range_of(*n), place).toStdString();
  model_.attempt([&] {
    dragged_ = with_number(base, name, text);
    model_.preview_drag(*dragged_);
  });
  for (const Row& r : rows_)
    if (r.name == name) r.text->setText(QString::fromStdString(text));
}

void NumbersCard::let_go(const std::string& name) {
  if (!dragged_) return;
  Document done = std::move(*dragged_);
  dragged_.reset();
  model_.commit_drag(std::move(done), tr("Change %1").arg(QString::fromStdString(name)), {});
}

void NumbersCard::take_text(const std::string& name, const QString& text) {
  const auto& numbers = model_.document().numbers;
  for (const NamedNumber& n : numbers)
    if (n.name == name && n.text == text.trimmed().toStdString()) return;
  model_.attempt([&] {
    model_.commit_beside(
        [&](const Document& d) { return with_number(d, name, text.trimmed().toStdString()); },
        tr("Change %1").arg(QString::fromStdString(name)));
  });
  refresh();
}

void NumbersCard::take_range(const std::string& name, const QString& least, const QString& most) {
  bool ok_least = false;
  bool ok_most = false;
  const double a = QLocale::c().toDouble(least, &ok_least);
  const double b = QLocale::c().toDouble(most, &ok_most);
  for (const NamedNumber& n : model_.document().numbers)
    if (n.name == name && digits(range_of(n).least) == least && digits(range_of(n).most) == most)
      return;
  if (!ok_least || !ok_most) {
    model_.say_trouble(tr("The ends of a slider are numbers, such as 0 and 20."));
    return;
  }
  model_.attempt([&] {
    model_.commit_beside([&](const Document& d) { return with_number_range(d, name, a, b); },
                         tr("Range of %1").arg(QString::fromStdString(name)));
  });
}

void NumbersCard::add_number() {
  const std::string name = new_name_->text().trimmed().toStdString();
  const std::string text = new_text_->text().trimmed().toStdString();
  const auto& numbers = model_.document().numbers;
  const bool there = std::any_of(numbers.begin(), numbers.end(),
                                 [&](const NamedNumber& n) { return n.name == name; });
  if (there) {
    model_.say_trouble(tr("There is a number %1 already. Change it in its row.")
                           .arg(QString::fromStdString(name)));
    return;
  }
  const bool done = model_.attempt([&] {
    model_.commit_beside([&](const Document& d) { return with_number(d, name, text); },
                         tr("Add number"));
  });
  if (!done) return;
  new_name_->clear();
  new_text_->clear();
  new_name_->setFocus();
}

}  // namespace evenclay
