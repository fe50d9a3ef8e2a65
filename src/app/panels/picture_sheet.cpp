#include "app/panels/picture_sheet.h"

#include <QBuffer>
#include <QPainter>
#include <QPdfWriter>

#include "core/base/error.h"

namespace evenclay {

namespace {

constexpr int kDots = 200;  // an inch
constexpr std::size_t kOnPage = 4;

int dots(double mm) {
  return static_cast<int>(mm / 25.4 * kDots);
}

}  // namespace

std::string picture_sheet(const std::vector<StudioPart>& parts, const SheetWish& wish,
                          Progress& progress) {
  if (wish.views.empty()) throw Error("No view is saved. Save one under View › Views first.");
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  QPdfWriter pdf(&buffer);
  pdf.setTitle(wish.title);
  pdf.setCreator("Even Clay");
  pdf.setResolution(kDots);
  pdf.setPageLayout({QPageSize(QPageSize::A4), QPageLayout::Landscape, QMarginsF(0, 0, 0, 0)});
  QPainter painter(&pdf);
  QFont font("Inter");
  font.setPixelSize(dots(3.6));
  painter.setFont(font);
  const std::size_t pages = (wish.views.size() + kOnPage - 1) / kOnPage;
  for (std::size_t k = 0; k < wish.views.size(); ++k) {
    if (k > 0 && k % kOnPage == 0) pdf.newPage();
    const StudioPicture picture{dots(132), dots(84), wish.views[k], false, wish.rays};
    const Pixels pixels = studio_picture(parts, picture, progress);
    const QImage image(pixels.bytes.data(), pixels.width, pixels.height, 4 * pixels.width,
                       QImage::Format_RGBA8888);
    const QPoint at(dots(k % 2 == 0 ? 12 : 153), dots(k % kOnPage < 2 ? 10 : 106));
    painter.drawImage(at, image.convertToFormat(QImage::Format_RGB32));
    painter.setPen(QColor(0x2D, 0x2A, 0x26));
    painter.drawText(at + QPoint(0, pixels.height + dots(5)),
                     QString::fromStdString(wish.views[k].name));
    if (k % kOnPage == 0)
      painter.drawText(QRect(dots(12), dots(199), dots(273), dots(6)), Qt::AlignRight,
                       QString("%1 · %2 / %3").arg(wish.title).arg(k / kOnPage + 1).arg(pages));
  }
  painter.end();
  return bytes.toStdString();
}

}  // namespace evenclay
