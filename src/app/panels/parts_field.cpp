#include "app/panels/parts_field.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/style.h"

namespace evenclay {

PartsField::PartsField(std::vector<std::pair<PartRef, QString>> offered, Changed changed)
    : offered_(std::move(offered)), changed_(std::move(changed)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  rows_ = new QVBoxLayout;
  rows_->setSpacing(2);
  column->addLayout(rows_);
  more_ = new QComboBox(this);
  more_->setObjectName("add_part");
  more_->setAccessibleName(tr("Add a part"));
  column->addWidget(more_);
  connect(more_, &QComboBox::activated, this, [this](int k) {
    const int place = more_->itemData(k).toInt();
    if (place < 0) return;
    std::vector<PartRef> parts = parts_;
    parts.push_back(offered_[static_cast<std::size_t>(place)].first);
    changed_(std::move(parts));
  });
  show_parts({});
}

QString PartsField::name_of(const PartRef& part) const {
  for (const auto& [ref, name] : offered_)
    if (ref == part) return name;
  return tr("a part that is gone");
}

void PartsField::add_row(std::size_t place) {
  auto* row = new QWidget(this);
  auto* line = new QHBoxLayout(row);
  line->setContentsMargins(0, 0, 0, 0);
  line->setSpacing(2);
  auto* label = new QLabel(QString("%1  %2").arg(place + 1).arg(name_of(parts_[place])), row);
  label->setMinimumWidth(30);
  line->addWidget(label, 1);
  const auto button = [&](const char* sign, const QString& help, auto act) {
    auto* b = new QToolButton(row);
    b->setIcon(look::icon(sign));
    b->setIconSize({14, 14});
    b->setAutoRaise(true);
    b->setToolTip(help);
    b->setAccessibleName(help);
    connect(b, &QToolButton::clicked, this, [this, act] {
      std::vector<PartRef> parts = parts_;
      act(parts);
      changed_(std::move(parts));
    });
    line->addWidget(b);
    return b;
  };
  button("chevron-up", tr("Earlier"), [place](std::vector<PartRef>& p) {
    std::swap(p[place], p[place - 1]);
  })->setEnabled(place > 0);
  button("x", tr("Take out"), [place](std::vector<PartRef>& p) {
    p.erase(p.begin() + static_cast<long>(place));
  })->setObjectName(QString("take_out_%1").arg(place + 1));
  rows_->addWidget(row);
}

void PartsField::show_parts(const std::vector<PartRef>& parts) {
  parts_ = parts;
  while (QLayoutItem* old = rows_->takeAt(0)) {
    // A button of the row may be what asked for this.
    old->widget()->hide();
    old->widget()->deleteLater();
    delete old;
  }
  for (std::size_t k = 0; k < parts_.size(); ++k) add_row(k);
  more_->clear();
  more_->addItem(parts_.empty() ? tr("choose a part") : tr("add a part"), -1);
  for (std::size_t k = 0; k < offered_.size(); ++k)
    if (std::find(parts_.begin(), parts_.end(), offered_[k].first) == parts_.end())
      more_->addItem(offered_[k].second, static_cast<int>(k));
}

}  // namespace evenclay
