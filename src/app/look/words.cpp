#include "app/look/words.h"

#include <QByteArray>
#include <QCoreApplication>

namespace evenclay::look {

QString words(std::string_view from_core) {
  const QByteArray text(from_core.data(), static_cast<qsizetype>(from_core.size()));
  return text.isEmpty() ? QString() : QCoreApplication::translate("core", text.constData());
}

std::string spoken(std::string_view pattern) {
  return words(pattern).toStdString();
}

}  // namespace evenclay::look
