// What parts are made of: the shelf of materials, four shares and the colour.
#pragma once

#include <QDialog>
#include <array>

#include "core/document/document.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QSlider;

namespace evenclay {

class AppModel;

/// Works on the chosen part, the picked ones, or those of its layer; each change is seen at once, a drag of a slider is
/// one undo.
class MaterialCard : public QDialog {
 public:
  MaterialCard(AppModel& model, QWidget* parent);

 private:
  std::vector<PartId> parts() const;
  void add_shelf();
  void add_shares();
  void add_colours();
  void refresh();
  void give(const Material& material, const QString& merge);
  void give_colour(std::uint32_t colour);

  AppModel& model_;
  QLabel* name_ = nullptr;
  QComboBox* which_ = nullptr;
  std::array<QSlider*, 4> shares_{};
  std::array<QLabel*, 4> numbers_{};
  QLineEdit* colour_ = nullptr;
  bool refreshing_ = false;
};

}  // namespace evenclay
