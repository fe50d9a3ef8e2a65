#include "app/window/start_card.h"

#include <QAction>
#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QVBoxLayout>

#include "app/look/style.h"

namespace evenclay {

namespace {

constexpr QSize kThumbnail{112, 72};
constexpr int kShown = 3;

QString picture_file(const QString& file) {
  const QByteArray name = QCryptographicHash::hash(QFileInfo(file).absoluteFilePath().toUtf8(),
                                                   QCryptographicHash::Sha1)
                              .toHex();
  return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + "/pictures/" +
         QString::fromLatin1(name) + ".png";
}

QPixmap blank() {
  QPixmap p(kThumbnail);
  p.fill(look::colours().view_bottom);
  QPainter painter(&p);
  look::icon("box").paint(&painter, QRect(QPoint(), kThumbnail).adjusted(36, 16, -36, -16));
  return p;
}

}  // namespace

QPixmap picture_of_file(const QString& file) {
  return QPixmap(picture_file(file));
}

void keep_picture(const QString& file, const QPixmap& picture) {
  const QString to = picture_file(file);
  if (!picture.isNull() && QDir().mkpath(QFileInfo(to).absolutePath()))
    picture.scaled(kThumbnail * 2, Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation)
        .copy(QRect(QPoint(), kThumbnail * 2))
        .save(to, "PNG");
}

StartCard::StartCard(const std::vector<ActionInfo>& actions, OpenFile open, QWidget* parent)
    : QFrame(parent), open_(std::move(open)) {
  setProperty("hint", true);
  setObjectName("start_offer");
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(26, 22, 26, 22);
  row->setSpacing(26);
  auto* column = new QVBoxLayout;
  column->setSpacing(9);
  auto* title = new QLabel(tr("Start with a form"), this);
  title->setProperty("heading", true);
  auto* text = new QLabel(
      tr("Give it an even grid, pull its points, flow a pattern onto it.\nEvery step stays "
         "editable."),
      this);
  text->setProperty("quiet", true);
  column->addWidget(title);
  column->addWidget(text);
  for (const char* id : {"open_demo", "tour", "source_sphere", "source_plane", "open"})
    for (const ActionInfo& a : actions)
      if (a.id == id) {
        const bool primary = a.id == "open_demo";
        auto* b = new QPushButton(primary ? look::light_icon(a.icon) : look::icon(a.icon),
                                  "  " + a.label, this);
        b->setProperty("primary", primary);
        connect(b, &QPushButton::clicked, a.action, &QAction::trigger);
        column->addWidget(b);
      }
  column->addStretch();
  row->addLayout(column);
  recent_ = new QVBoxLayout;
  recent_->setSpacing(7);
  row->addLayout(recent_);
  refresh();
}

void StartCard::add_recent(const QString& file) {
  auto* b = new QPushButton(this);
  b->setObjectName("recent");
  b->setProperty("recent", true);
  b->setAccessibleName(tr("Open %1").arg(QFileInfo(file).fileName()));
  b->setToolTip(file);
  const QPixmap picture = picture_of_file(file);
  b->setIcon(QIcon(picture.isNull() ? blank() : picture));
  b->setIconSize(kThumbnail);
  const QString folder =
      fontMetrics().elidedText(QFileInfo(file).absolutePath(), Qt::ElideMiddle, 150);
  b->setText("  " + QFileInfo(file).completeBaseName() + "\n  " + folder);
  connect(b, &QPushButton::clicked, this, [this, file] { open_(file); });
  recent_->addWidget(b);
}

void StartCard::refresh() {
  while (QLayoutItem* item = recent_->takeAt(0)) {
    delete item->widget();
    delete item;
  }
  QStringList there;
  for (const QString& file : QSettings().value("recent").toStringList())
    if (QFileInfo::exists(file) && there.size() < kShown) there.push_back(file);
  if (!there.isEmpty()) {
    auto* title = new QLabel(tr("Recent projects"), this);
    title->setProperty("heading", true);
    recent_->addWidget(title);
  }
  for (const QString& file : there) add_recent(file);
  recent_->addStretch();
  layout()->activate();
  adjustSize();
}

}  // namespace evenclay
