// What parts are made of: the shelf of materials, four shares and the colour.
#pragma once

#include <QDialog>
#include <array>
#include <functional>

#include "core/document/document.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QSlider;

namespace evenclay {

class AppModel;

/// Works on the chosen part, the picked ones, those of its layer, or faces of the chosen part that are clicked; each change is seen at once, a drag of a slider is
/// one undo.
class MaterialCard : public QDialog {
 public:
  MaterialCard(AppModel& model, QWidget* parent);

 protected:
  void hideEvent(QHideEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void add_faces();
  void mark(bool faces);
  bool of_faces() const;
  /// The look shown: that of the face marked last, else the part's.
  FaceLook look() const;
  /// One change of all marked faces.
  void give_faces(const std::function<void(FaceLook&)>& change, const QString& label,
                  const QString& merge);
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
  QLabel* marked_ = nullptr;
  QPushButton* as_part_ = nullptr;
  bool refreshing_ = false;
};

}  // namespace evenclay
