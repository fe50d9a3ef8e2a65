// How a row of the list of parts is drawn, clicked and renamed.
#pragma once

#include <QStyledItemDelegate>
#include <functional>

namespace evenclay {

class PartsRow : public QStyledItemDelegate {
 public:
  /// `toggle` is called when the sign at the right end of a row is pressed.
  PartsRow(std::function<void(const QModelIndex&)> toggle, QObject* parent);

  void paint(QPainter* painter, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override;
  QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
  bool editorEvent(QEvent* event, QAbstractItemModel* model, const QStyleOptionViewItem& option,
                   const QModelIndex& index) override;
  QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option,
                        const QModelIndex& index) const override;
  void setEditorData(QWidget* editor, const QModelIndex& index) const override;
  void setModelData(QWidget* editor, QAbstractItemModel* model,
                    const QModelIndex& index) const override;
  void updateEditorGeometry(QWidget* editor, const QStyleOptionViewItem& option,
                            const QModelIndex& index) const override;

 private:
  std::function<void(const QModelIndex&)> toggle_;
};

}  // namespace evenclay
