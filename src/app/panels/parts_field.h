// A list of parts in their order: each row can be moved or taken out, and others added below.
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "core/document/document.h"

class QComboBox;
class QVBoxLayout;

namespace evenclay {

class PartsField : public QWidget {
 public:
  using Changed = std::function<void(std::vector<PartRef>)>;
  /// `offered` are the parts that may be added, with their names.
  PartsField(std::vector<std::pair<PartRef, QString>> offered, Changed changed);

  void show_parts(const std::vector<PartRef>& parts);
  const std::vector<PartRef>& shown() const { return parts_; }

 private:
  void add_row(std::size_t place);
  QString name_of(const PartRef& part) const;
  std::vector<std::pair<PartRef, QString>> offered_;
  Changed changed_;
  std::vector<PartRef> parts_;
  QVBoxLayout* rows_ = nullptr;
  QComboBox* more_ = nullptr;
};

}  // namespace evenclay
