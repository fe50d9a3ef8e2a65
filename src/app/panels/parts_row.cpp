#include "app/panels/parts_row.h"

#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>

#include "app/look/style.h"
#include "app/panels/parts_tree.h"

namespace evenclay {

namespace {

constexpr int kHeight = 25;
constexpr int kSign = 16;  // pixels of the signs at the right end

QRect sign_rect(const QRect& row) {
  return {row.right() - kSign - 7, row.center().y() - kSign / 2 + 1, kSign, kSign};
}

struct Row {
  int kind;
  QString name, summary, number;
  bool shown, locked, failed, chosen;
  QColor colour;
};

Row read(const QModelIndex& i) {
  const int number = i.data(row::kNumber).toInt();
  return {i.data(row::kKind).toInt(),
          i.data(row::kName).toString(),
          i.data(row::kSummary).toString(),
          number > 0 ? QString::number(number) : QString(),
          i.data(row::kShown).toBool(),
          i.data(row::kLocked).toBool(),
          i.data(row::kFailed).toBool(),
          i.data(row::kChosen).toBool(),
          QColor::fromRgb(i.data(row::kColour).toUInt())};
}

const char* sign_of(const Row& r) {
  if (r.kind == row::Step) return r.shown ? "power" : "power-off";
  return r.shown ? "eye" : "eye-off";
}

// The ground: the chosen step (or part, while a layer or another part has the keyboard) is filled.
void paint_ground(QPainter* p, const QStyleOptionViewItem& option, const Row& r) {
  const look::Colours& c = look::colours();
  const QRect ground = option.rect.adjusted(1, 1, -2, -1);
  p->setPen(Qt::NoPen);
  if (r.kind == row::Step && r.chosen) {
    p->setBrush(c.water);
    p->drawRoundedRect(ground, 4, 4);
  } else if (option.state & (QStyle::State_Selected | QStyle::State_MouseOver)) {
    QColor soft = c.line;
    if (!(option.state & QStyle::State_Selected)) soft.setAlphaF(0.5F);
    p->setBrush(soft);
    p->drawRoundedRect(ground, 4, 4);
  }
  if (option.state & QStyle::State_HasFocus) {
    p->setBrush(Qt::NoBrush);
    p->setPen(QPen(c.water, 1.0));
    p->drawRoundedRect(QRectF(ground).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
  }
}

}  // namespace

PartsRow::PartsRow(std::function<void(const QModelIndex&)> toggle, QObject* parent)
    : QStyledItemDelegate(parent), toggle_(std::move(toggle)) {}

QSize PartsRow::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
  return {120, kHeight};
}

void PartsRow::paint(QPainter* p, const QStyleOptionViewItem& option,
                     const QModelIndex& index) const {
  const Row r = read(index);
  const look::Colours& c = look::colours();
  p->save();
  p->setRenderHint(QPainter::Antialiasing);
  paint_ground(p, option, r);
  const bool filled = r.kind == row::Step && r.chosen;
  const QColor ink = filled ? c.raised : (r.failed ? c.bad : (r.shown ? c.ink : c.quiet_ink));
  const QColor quiet = filled ? c.raised : c.quiet_ink;
  QRect at = option.rect.adjusted(6, 0, -4, 0);
  if (r.kind == row::Part) {
    p->setPen(QPen(r.colour.darker(150), 1.0));
    p->setBrush(r.shown ? QBrush(r.colour) : QBrush(Qt::NoBrush));
    p->drawEllipse(QRectF(at.left() + 1, at.center().y() - 5, 11, 11));
    at.setLeft(at.left() + 19);
  } else if (r.kind == row::Step) {
    p->setPen(quiet);
    p->drawText(QRect(at.left(), at.top(), 16, at.height()), Qt::AlignRight | Qt::AlignVCenter,
                r.number);
    at.setLeft(at.left() + 23);
  }
  const QRect sign = sign_rect(option.rect);
  QRect last = sign;
  const auto mode = filled ? QIcon::Selected : (r.shown ? QIcon::Disabled : QIcon::Normal);
  look::icon(sign_of(r)).paint(p, sign, Qt::AlignCenter, mode);
  if (r.locked) {
    last.translate(-kSign - 5, 0);
    look::icon("lock").paint(p, last, Qt::AlignCenter, QIcon::Normal);
  }
  if (r.failed) {
    last.translate(-kSign - 5, 0);
    look::icon("triangle-alert").paint(p, last, Qt::AlignCenter, mode);
  }
  at.setRight(last.left() - 6);
  QFont font = option.font;
  font.setWeight((r.kind == row::Part && r.chosen) || r.kind == row::Layer ? QFont::DemiBold
                                                                           : QFont::Normal);
  p->setFont(font);
  p->setPen(ink);
  const QFontMetrics metrics(font);
  const int wanted = metrics.horizontalAdvance(r.name) + 8;
  p->drawText(at, Qt::AlignLeft | Qt::AlignVCenter,
              metrics.elidedText(r.name, Qt::ElideRight, at.width()));
  at.setLeft(at.left() + wanted);
  if (at.width() > 24) {
    p->setFont(option.font);
    p->setPen(quiet);
    p->drawText(at, Qt::AlignRight | Qt::AlignVCenter,
                QFontMetrics(option.font).elidedText(r.summary, Qt::ElideRight, at.width()));
  }
  p->restore();
}

bool PartsRow::editorEvent(QEvent* event, QAbstractItemModel*, const QStyleOptionViewItem& option,
                           const QModelIndex& index) {
  if (event->type() != QEvent::MouseButtonPress && event->type() != QEvent::MouseButtonRelease &&
      event->type() != QEvent::MouseButtonDblClick)
    return false;
  const auto* mouse = static_cast<QMouseEvent*>(event);
  const bool on_sign = sign_rect(option.rect).adjusted(-4, -4, 5, 4).contains(mouse->pos());
  if (!on_sign || mouse->button() != Qt::LeftButton) return false;
  if (event->type() == QEvent::MouseButtonRelease) toggle_(index);
  return true;
}

QWidget* PartsRow::createEditor(QWidget* parent, const QStyleOptionViewItem&,
                                const QModelIndex&) const {
  auto* field = new QLineEdit(parent);
  field->setAccessibleName(QObject::tr("Name"));
  return field;
}

void PartsRow::setEditorData(QWidget* editor, const QModelIndex& index) const {
  static_cast<QLineEdit*>(editor)->setText(index.data(row::kName).toString());
}

void PartsRow::setModelData(QWidget* editor, QAbstractItemModel* model,
                            const QModelIndex& index) const {
  model->setData(index, static_cast<QLineEdit*>(editor)->text().trimmed(), row::kNewName);
}

void PartsRow::updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& option,
                                    const QModelIndex& index) const {
  const int left = index.data(row::kKind).toInt() == row::Layer ? 2 : 22;
  editor->setGeometry(option.rect.adjusted(left, 0, -kSign - 12, 0));
}

}  // namespace evenclay
