#include "app/view/picture_store.h"

#include <QBuffer>
#include <QImageReader>
#include <QPainter>
#include <QPointer>
#include <QSvgRenderer>
#include <QThreadPool>

namespace evenclay {

namespace {

constexpr int kMost = 4096;     // pixels each way
constexpr int kDrawnAt = 2048;  // the longer side of a drawing that has no pixels of its own

QImage drawing(const QByteArray& data) {
  QSvgRenderer svg(data);
  if (!svg.isValid()) return {};
  QSize size = svg.defaultSize();
  if (size.isEmpty()) return {};
  size.scale(kDrawnAt, kDrawnAt, Qt::KeepAspectRatio);
  QImage image(size, QImage::Format_RGBA8888);
  image.fill(Qt::transparent);
  QPainter painter(&image);
  svg.render(&painter);
  return image;
}

QImage decoded(const std::string& bytes) {
  const QByteArray data =
      QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size()));
  QBuffer buffer;
  buffer.setData(data);
  QImageReader reader(&buffer);
  reader.setAutoTransform(true);
  QImage image;
  if (reader.canRead() && reader.format() != "svg") {
    QSize size = reader.size();
    if (size.width() > kMost || size.height() > kMost) {
      size.scale(kMost, kMost, Qt::KeepAspectRatio);
      reader.setScaledSize(size);
    }
    image = reader.read();
  }
  if (image.isNull()) image = drawing(data);
  return image.convertToFormat(QImage::Format_RGBA8888);
}

}  // namespace

std::shared_ptr<const QImage> PictureStore::image(const Bytes& bytes) {
  if (!bytes) return nullptr;
  if (const auto found = entries_.find(bytes.get()); found != entries_.end()) {
    found->second.used = true;
    return found->second.image;
  }
  entries_[bytes.get()] = {bytes, nullptr, true};
  ++loading_;
  QThreadPool::globalInstance()->start([self = QPointer<PictureStore>(this), bytes] {
    auto image = std::make_shared<const QImage>(decoded(*bytes));
    if (!self) return;
    QMetaObject::invokeMethod(
        self,
        [self, bytes, image] {
          if (!self) return;
          --self->loading_;
          if (const auto at = self->entries_.find(bytes.get()); at != self->entries_.end())
            at->second.image = image;
          Q_EMIT self->loaded();
        },
        Qt::QueuedConnection);
  });
  return nullptr;
}

void PictureStore::collect() {
  std::erase_if(entries_, [](const auto& e) { return !e.second.used; });
  for (auto& [key, entry] : entries_) entry.used = false;
}

}  // namespace evenclay
