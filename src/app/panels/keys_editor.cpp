#include "app/panels/keys_editor.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

#include "app/window/own_keys.h"

namespace evenclay {

KeysEditor::KeysEditor(const std::vector<ActionInfo>& actions,
                       std::function<void(const QString&, const QKeySequence&)> give,
                       QWidget* parent)
    : QDialog(parent), actions_(actions), give_(std::move(give)) {
  setObjectName("keys_editor");
  setWindowTitle(tr("Change keys"));
  setAttribute(Qt::WA_DeleteOnClose);
  resize(520, 520);
  new QVBoxLayout(this);
  make_list();
  make_fields();
  fill();
}

void KeysEditor::make_list() {
  words_ = new QLineEdit(this);
  words_->setObjectName("keys_words");
  words_->setPlaceholderText(tr("Find an action"));
  words_->setAccessibleName(tr("Find an action"));
  connect(words_, &QLineEdit::textChanged, this, &KeysEditor::fill);
  layout()->addWidget(words_);
  list_ = new QTreeWidget(this);
  list_->setObjectName("keys_list");
  list_->setAccessibleName(tr("Actions and their keys"));
  list_->setRootIsDecorated(false);
  list_->setHeaderLabels({tr("Action"), tr("Key")});
  list_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
  layout()->addWidget(list_);
  connect(list_, &QTreeWidget::currentItemChanged, this, [this] {
    says_->clear();
    if (const ActionInfo* a = chosen()) key_->setKeySequence(a->key);
  });
}

void KeysEditor::make_fields() {
  auto* row = new QHBoxLayout;
  key_ = new QKeySequenceEdit(this);
  key_->setObjectName("keys_key");
  key_->setAccessibleName(tr("Key of the chosen action"));
  row->addWidget(key_, 1);
  const auto button = [&](const char* name, const QString& label, const QString& help) {
    auto* b = new QPushButton(label, this);
    b->setObjectName(name);
    b->setToolTip(help);
    b->setAutoDefault(false);
    row->addWidget(b);
    return b;
  };
  connect(button("keys_take", tr("Take"), tr("Gives the chosen action the key in the field.")),
          &QPushButton::clicked, this, [this] { take(key_->keySequence()); });
  connect(button("keys_none", tr("None"), tr("The chosen action has no key.")),
          &QPushButton::clicked, this, [this] { take({}); });
  connect(button("keys_delivered", tr("As delivered"), tr("The key that the action came with.")),
          &QPushButton::clicked, this, [this] {
            if (const ActionInfo* a = chosen()) take(a->delivered_key);
          });
  static_cast<QVBoxLayout*>(layout())->addLayout(row);
  says_ = new QLabel(this);
  says_->setObjectName("keys_says");
  says_->setWordWrap(true);
  layout()->addWidget(says_);
}

void KeysEditor::fill() {
  const ActionInfo* before = chosen();
  const QString id = before != nullptr ? before->id : QString();
  list_->clear();
  for (const ActionInfo& a : actions_) {
    if (!a.label.contains(words_->text(), Qt::CaseInsensitive)) continue;
    auto* item = new QTreeWidgetItem(list_, {a.label, a.key.toString(QKeySequence::NativeText)});
    item->setData(0, Qt::UserRole, a.id);
    item->setToolTip(0, a.help);
    if (a.id == id) list_->setCurrentItem(item);
  }
  if (list_->currentItem() == nullptr && list_->topLevelItemCount() > 0)
    list_->setCurrentItem(list_->topLevelItem(0));
}

const ActionInfo* KeysEditor::chosen() const {
  const QTreeWidgetItem* item = list_->currentItem();
  if (item == nullptr) return nullptr;
  const QString id = item->data(0, Qt::UserRole).toString();
  for (const ActionInfo& a : actions_)
    if (a.id == id) return &a;
  return nullptr;
}

void KeysEditor::take(const QKeySequence& key) {
  const ActionInfo* a = chosen();
  if (a == nullptr) return;
  if (const ActionInfo* other = action_with_key(actions_, key, a->id)) {
    says_->setText(tr("%1 has the key %2 already. Take it from there first, or choose another.")
                       .arg(other->label, key.toString(QKeySequence::NativeText)));
    return;
  }
  give_(a->id, key);
  const QString label = a->label;
  fill();
  says_->setText(
      key.isEmpty()
          ? tr("%1 has no key now.").arg(label)
          : tr("%1 has the key %2 now.").arg(label, key.toString(QKeySequence::NativeText)));
}

}  // namespace evenclay
