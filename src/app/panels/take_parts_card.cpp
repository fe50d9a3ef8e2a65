#include "app/panels/take_parts_card.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QPainter>
#include <QPointer>
#include <QPushButton>
#include <QThreadPool>
#include <QVBoxLayout>

#include "app/panels/part_picture.h"
#include "core/document/take_parts.h"

namespace evenclay {

namespace {

constexpr int kThumbnail = 40;  // pixels

QIcon dot(std::uint32_t colour) {
  QPixmap picture(16, 16);
  picture.fill(Qt::transparent);
  QPainter painter(&picture);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(Qt::NoPen);
  painter.setBrush(QColor::fromRgb(colour));
  painter.drawEllipse(2, 2, 12, 12);
  return QIcon(picture);
}

// "Shell – Sphere, Rebuild, Shaped points"
QString words_of(const Part& part) {
  QStringList steps;
  for (const Step& s : part.steps) steps << QString::fromStdString(s.name);
  return QObject::tr("%1 – %2").arg(QString::fromStdString(part.name), steps.join(", "));
}

}  // namespace

TakePartsCard::TakePartsCard(AppModel& model, QWidget& over) : QFrame(&over), model_(model) {
  setProperty("bar", true);
  setObjectName("take_parts");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 10, 12, 10);
  title_ = new QLabel(this);
  title_->setProperty("heading", true);
  column->addWidget(title_);
  list_ = new QListWidget(this);
  list_->setObjectName("parts_to_take");
  list_->setAccessibleName(tr("Parts to bring in"));
  column->addWidget(list_);
  auto* row = new QHBoxLayout;
  auto* bring = new QPushButton(tr("Bring in"), this);
  bring->setObjectName("take_parts_now");
  bring->setProperty("primary", true);
  auto* close = new QPushButton(tr("Close"), this);
  row->addStretch();
  row->addWidget(close);
  row->addWidget(bring);
  column->addLayout(row);
  connect(bring, &QPushButton::clicked, this, &TakePartsCard::take);
  connect(close, &QPushButton::clicked, this, &QWidget::hide);
  resize(460, 340);
  hide();
}

void TakePartsCard::show_parts(Document other, const QString& name) {
  other_ = std::move(other);
  name_ = name;
  title_->setText(tr("Parts of %1; what they read comes along").arg(name));
  list_->clear();
  for (const Part& part : other_.parts) {
    auto* item = new QListWidgetItem(dot(part.look.colour), words_of(part), list_);
    item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
    item->setCheckState(Qt::Unchecked);
    item->setData(Qt::UserRole, part.id);
  }
  list_->setIconSize({kThumbnail, kThumbnail});
  draw_pictures();
  const QWidget& over = *parentWidget();
  move((over.width() - width()) / 2, (over.height() - height()) / 2);
  show();
  raise();
  list_->setFocus();
  if (list_->count() > 0) list_->setCurrentRow(0);
}

// Beside the window, part by part; a part that cannot be computed keeps its dot.
void TakePartsCard::draw_pictures() {
  const int number = ++shown_;
  QThreadPool::globalInstance()->start([self = QPointer<TakePartsCard>(this), d = other_, number] {
    Evaluator evaluator;
    Progress progress;
    for (std::size_t k = 0; k < d.parts.size() && self; ++k) {
      const Part& part = d.parts[k];
      QImage image;
      try {
        const Evaluation e = evaluator.evaluate(d, progress, {part.id});
        image = part_picture(*e.parts.at(part.id).shape, part.look.colour, 2 * kThumbnail);
      } catch (const std::exception&) {
        continue;
      }
      if (image.isNull() || !self) continue;
      QMetaObject::invokeMethod(
          self,
          [self, image, number, k] {
            if (self && self->shown_ == number && static_cast<int>(k) < self->list_->count())
              self->list_->item(static_cast<int>(k))->setIcon(QIcon(QPixmap::fromImage(image)));
          },
          Qt::QueuedConnection);
    }
  });
}

void TakePartsCard::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape)
    hide();
  else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
    take();
  else
    QFrame::keyPressEvent(event);
}

void TakePartsCard::take() {
  std::vector<PartId> wanted;
  for (int k = 0; k < list_->count(); ++k)
    if (list_->item(k)->checkState() == Qt::Checked)
      wanted.push_back(list_->item(k)->data(Qt::UserRole).toInt());
  const bool done = model_.attempt([&] {
    if (model_.trial()) model_.keep_trial();
    const Added added = with_parts_of(model_.document(), other_, wanted);
    model_.commit(added.document, tr("Bring in parts of %1").arg(name_));
    model_.choose_part(added.part);
  });
  if (done) hide();
}

}  // namespace evenclay
