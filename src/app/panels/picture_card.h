// Pictures of the visible parts in their materials: one view as PNG, or all saved views on sheets.
#pragma once

#include <QDialog>

#include "core/display/studio.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QSpinBox;

namespace evenclay {

class AppModel;
class ModelView;

/// Traced beside the window, with progress and Cancel; the file appears when it is finished.
class PictureCard : public QDialog {
 public:
  PictureCard(AppModel& model, ModelView& view, QWidget* parent);
  /// Begin; a message says when it is done.
  void save_picture(const QString& file);
  void save_sheet(const QString& file);

 private:
  void add_fields();
  void refresh();
  std::vector<StudioPart> parts() const;
  StudioPicture wish() const;
  QString ask(const QString& title, const QString& ending, const QString& filter);

  AppModel& model_;
  ModelView& view_;
  QComboBox *from_ = nullptr, *size_ = nullptr, *smooth_ = nullptr;
  QSpinBox *width_ = nullptr, *height_ = nullptr;
  QCheckBox* transparent_ = nullptr;
};

}  // namespace evenclay
