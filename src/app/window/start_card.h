// What an empty project shows: the demo, first forms, and recent files with small pictures.
#pragma once

#include <QFrame>
#include <QPixmap>
#include <functional>
#include <vector>

#include "app/stages/stages.h"

class QVBoxLayout;

namespace evenclay {

/// The small picture kept of a project file; null when there is none.
QPixmap picture_of_file(const QString& file);
/// Keeps a picture of a project file, for the start card.
void keep_picture(const QString& file, const QPixmap& picture);

class StartCard : public QFrame {
 public:
  using OpenFile = std::function<void(const QString& file)>;
  StartCard(const std::vector<ActionInfo>& actions, OpenFile open, QWidget* parent);
  /// Reads the recent files again; those that are gone are left out.
  void refresh();

 private:
  void add_recent(const QString& file);
  OpenFile open_;
  QVBoxLayout* recent_ = nullptr;
};

}  // namespace evenclay
