// Decoded reference pictures: read beside the window, kept as long as a part shows them.
#pragma once

#include <QImage>
#include <QObject>
#include <map>
#include <memory>
#include <string>

namespace evenclay {

class PictureStore : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;
  using Bytes = std::shared_ptr<const std::string>;

  /// The picture as RGBA, at most 4096 pixels wide and high; null while it is being read and when it cannot be.
  std::shared_ptr<const QImage> image(const Bytes& bytes);
  bool loading() const { return loading_ > 0; }
  /// Forgets those that nobody asked for since the last call.
  void collect();

 Q_SIGNALS:
  void loaded();

 private:
  struct Entry {
    Bytes owner;
    std::shared_ptr<const QImage> image;
    bool used = true;
  };
  std::map<const void*, Entry> entries_;
  int loading_ = 0;
};

}  // namespace evenclay
