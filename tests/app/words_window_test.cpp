// Every text of the window can be translated, and has room for a longer language.
#include <QAbstractButton>
#include <QCheckBox>
#include <QComboBox>
#include <QGroupBox>
#include <QLabel>
#include <QMenu>
#include <QMenuBar>
#include <QStyleOptionButton>
#include <QToolButton>
#include <QTranslator>
#include <set>

#include "app/stages/rail_button.h"
#include "window_fixture.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

// A language of 40 % longer words in brackets, as German or Finnish would be beside English.
class Longer : public QTranslator {
 public:
  Longer() { QCoreApplication::installTranslator(this); }
  ~Longer() override { QCoreApplication::removeTranslator(this); }
  bool isEmpty() const override { return false; }
  QString translate(const char*, const char* source, const char*, int) const override {
    const QString text = QString::fromUtf8(source);
    if (text.trimmed().isEmpty()) return text;
    return "[" + text + QString(std::max<qsizetype>(1, text.size() * 4 / 10), QChar(0x00E5)) + "]";
  }
};

// Words of a language, not numbers, signs, keys or units.
bool is_language(const QString& text) {
  int letters = 0;
  for (const QChar c : text) letters += c.isLetter() ? 1 : 0;
  return letters > 2;
}

QString text_of(const QWidget& w) {
  if (const auto* b = qobject_cast<const QAbstractButton*>(&w)) return b->text();
  if (const auto* l = qobject_cast<const QLabel*>(&w)) return l->text();
  return {};
}

// Whether all of the text can be read where it stands.
bool fits(const QWidget& w) {
  if (dynamic_cast<const RailButton*>(&w) != nullptr) return true;  // ends in an ellipsis by itself
  const auto* label = qobject_cast<const QLabel*>(&w);
  if (label != nullptr && label->wordWrap())
    return label->height() + 1 >= label->heightForWidth(label->width());
  // Paddings may give way, the words may not.
  int wanted = w.fontMetrics().horizontalAdvance(text_of(w));
  if (const auto* b = qobject_cast<const QAbstractButton*>(&w); b != nullptr && !b->icon().isNull())
    wanted += b->iconSize().width() + 4;
  return w.width() + 1 >= std::min(wanted, w.sizeHint().width());
}

}  // namespace

TEST_CASE("every text of the window is translated, whatever stage is open") {
  const Longer language;
  Window w;
  // What the person or the project has named.
  std::set<QString> own;
  for (const Part& p : w.window.model().document().parts) {
    own.insert(QString::fromStdString(p.name));
    for (const Step& s : p.steps) own.insert(QString::fromStdString(s.name));
  }
  std::set<QString> bare;
  const auto look_at = [&](const QString& text, const QString& where) {
    if (where == "project_name" || where == "symmetry") return;  // a name, letters of axes
    if (is_language(text) && !own.contains(text) && !text.contains('['))
      bare.insert(where + ": " + text);
  };
  for (int stage = 0; stage < kStages; ++stage) {
    w.window.stages().open(static_cast<Stage>(stage));
    w.settle();
    for (const QWidget* widget : w.window.findChildren<QWidget*>())
      if (widget->isVisible() && !widget->property("spoken").toBool())
        look_at(text_of(*widget), widget->objectName());
  }
  for (const QMenu* menu : w.window.menuBar()->findChildren<QMenu*>())
    for (const QAction* action : menu->actions()) look_at(action->text(), menu->objectName());
  for (const QComboBox* box : w.window.findChildren<QComboBox*>())
    for (int k = 0; k < box->count(); ++k) look_at(box->itemText(k), box->objectName());
  for (const QString& text : bare) UNSCOPED_INFO(text.toStdString());
  CHECK(bare.empty());
}

TEST_CASE("texts that are 40 % longer are cut nowhere without an ellipsis") {
  const Longer language;
  Window w;
  std::set<QString> cut;
  for (const auto& [part, step] :
       {std::pair{"Shell", 1}, std::pair{"Shell", 2}, std::pair{"Grille", 0}}) {
    w.choose(part, static_cast<std::size_t>(step));
    for (int stage = 0; stage < kStages; ++stage) {
      w.window.stages().open(static_cast<Stage>(stage));
      w.settle();
      for (const QWidget* widget : w.window.findChildren<QWidget*>()) {
        const QString text = text_of(*widget);
        // A number is as long in every language.
        const bool gauge = qobject_cast<const GaugeCard*>(widget->parentWidget()) != nullptr &&
                           widget->property("heading").toBool();
        if (widget->isVisible() && text.contains('[') && !gauge && !fits(*widget))
          cut.insert(QString("%1 %2 of %3: %4")
                         .arg(widget->objectName())
                         .arg(widget->width())
                         .arg(widget->sizeHint().width())
                         .arg(text));
      }
    }
  }
  for (const QString& text : cut) UNSCOPED_INFO(text.toStdString());
  CHECK(cut.empty());
}
