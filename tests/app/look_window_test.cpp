// The picture: refinement, floor, sections, saved views; the list of changes; starting; themes and sizes.
#include <QAbstractButton>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QTemporaryDir>
#include <QToolButton>
#include <cmath>

#include "app/look/style.h"
#include "app/view/layers.h"
#include "app/window/start_card.h"
#include "app/window/tour.h"
#include "core/document/project_json.h"
#include "window_fixture.h"

using namespace evenclay;
using evenclay::testing::child_of;
using evenclay::testing::Window;

namespace {

void hide_part(Window& w, const char* name) {
  const Part* p = find_part(w.window.model().document(), std::string_view(name));
  REQUIRE(p != nullptr);
  w.window.model().commit(with_look(w.window.model().document(), p->id, {p->look.colour, false}),
                          "hide");
  w.settle();
}

// The picture once it is refined.
QImage refined(Window& w) {
  w.window.view().set(&ViewSettings::refine, true);
  w.window.view().update();
  REQUIRE(QTest::qWaitFor([&] { return w.window.view().refined(); }, 60000));
  QTest::qWait(30);
  return w.window.view().grabFramebuffer();
}

// How much the brightness goes up and down along a row of pixels, its slow change left out.
double ripple(const QImage& image, const QRect& where) {
  double sum = 0.0;
  int count = 0;
  constexpr int kHalf = 26;  // about a dimple
  for (int y = where.top(); y < where.bottom(); y += 4)
    for (int x = where.left() + kHalf; x < where.right() - kHalf; ++x, ++count) {
      double mean = 0.0;
      for (int k = -kHalf; k <= kHalf; ++k) mean += qGray(image.pixel(x + k, y));
      sum += std::abs(qGray(image.pixel(x, y)) - mean / (2 * kHalf + 1));
    }
  return sum / std::max(1, count);
}

double luminance(const QColor& c) {
  const auto part = [](double x) {
    return x <= 0.03928 ? x / 12.92 : std::pow((x + 0.055) / 1.055, 2.4);
  };
  return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
}

// WCAG 2.1, contrast ratio.
double contrast(const QColor& a, const QColor& b) {
  const double x = luminance(a);
  const double y = luminance(b);
  return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

// Between the ground of a widget (its commonest colour) and what stands out most from it.
double contrast_of(QWidget& widget) {
  QPixmap picture(widget.size() * 3);
  picture.setDevicePixelRatio(3);
  picture.fill(look::colours().panel);
  widget.render(&picture, {}, {}, QWidget::DrawChildren);
  const QImage image = picture.toImage();
  std::map<QRgb, int> seen;
  for (int y = 0; y < image.height(); ++y)
    for (int x = 0; x < image.width(); ++x) ++seen[image.pixel(x, y)];
  const auto ground = std::max_element(seen.begin(), seen.end(), [](auto& a, auto& b) {
                        return a.second < b.second;
                      })->first;
  double best = 1.0;
  for (const auto& [colour, times] : seen)
    if (times > 6) best = std::max(best, contrast(QColor(colour), QColor(ground)));
  return best;
}

bool in_scroll_area(const QWidget* w) {
  for (; w != nullptr; w = w->parentWidget())
    if (qobject_cast<const QAbstractScrollArea*>(w) != nullptr) return true;
  return false;
}

// Texts that do not fit their widgets, and widgets that stick out of their parents.
QStringList cut_texts(QWidget& window) {
  QStringList bad;
  for (QWidget* w : window.findChildren<QWidget*>()) {
    if (!w->isVisible() || w->width() == 0) continue;
    QString text;
    if (auto* b = qobject_cast<QAbstractButton*>(w)) text = b->text();
    if (auto* l = qobject_cast<QLabel*>(w); l != nullptr && !l->wordWrap()) text = l->text();
    if (text.isEmpty() || in_scroll_area(w)) continue;
    const int wanted = w->fontMetrics().size(Qt::TextShowMnemonic, text).width();
    if (wanted > w->width() + 1) bad << "cut: " + text;
    if (w->parentWidget() != nullptr &&
        !w->parentWidget()->rect().adjusted(-1, -1, 1, 1).contains(w->geometry()))
      bad << "outside: " + text;
  }
  return bad;
}

}  // namespace

// --- the picture ------------------------------------------------------------------------------------

TEST_CASE("the hand at rest gets a refined picture, and a moving hand the plain one at once") {
  Window w;
  w.window.editor().set_net_visible(false);
  QTest::qWait(50);
  const QImage plain = w.window.view().grabFramebuffer();
  const QImage fine = refined(w);
  // The soft shadow makes the floor beside the form darker than it was.
  const QRect r = w.window.view().viewport(0);
  const auto floor = [&](const QImage& image) {
    double sum = 0.0;
    const OnScreen at = to_screen(w.window.view().camera(ViewName::Main), r, {30, -30, -43});
    for (int dx = -30; dx <= 30; ++dx) {
      const QPoint p = at.at.toPoint() + QPoint(dx, 26);
      if (image.rect().contains(p)) sum += qGray(image.pixel(p)) / 61.0;
    }
    return sum;
  };
  CHECK(floor(fine) < floor(plain) - 3.0);
  w.window.view().camera(ViewName::Main).orbit(20, 0);
  w.window.view().update();
  QTest::qWait(30);
  CHECK_FALSE(w.window.view().refined());
}

TEST_CASE("the dimples of the pattern are unmistakable from both sides") {
  Window w;
  w.window.editor().set_net_visible(false);
  w.window.view().set(&ViewSettings::floor, false);
  for (const char* part : {"Dimple tile", "Knob ring"}) hide_part(w, part);
  for (const double turn : {0.0, 180.0}) {
    w.window.view().camera(ViewName::Main).yaw = -50.0 + turn;
    w.window.view().frame_all();
    const QRect view = w.window.view().viewport(0);
    const OnScreen middle = to_screen(w.window.view().camera(ViewName::Main), view, {0, 0, 4});
    const QRect band(middle.at.toPoint() - QPoint(110, 45), QSize(220, 90));
    const double with = ripple(refined(w), band);
    hide_part(w, "Grille");
    const double without = ripple(refined(w), band);
    w.window.run("undo");
    w.settle();
    INFO("turned by " << turn << ": " << with << " against " << without);
    CHECK(with > 1.2);
    CHECK(with > 4.0 * without);
  }
}

// Clay and everything around it.
bool inside_clay(const QImage& image, int x, int y) {
  for (int dy = -2; dy <= 2; ++dy)
    for (int dx = -2; dx <= 2; ++dx) {
      const QRgb c = image.pixel(x + dx, y + dy);
      if (qRed(c) - qBlue(c) < 25) return false;
    }
  return true;
}

TEST_CASE("the shape before lies over the refined picture without darkening the model") {
  Window w;
  w.window.editor().set_net_visible(false);
  for (const char* part : {"Dimple tile", "Knob ring", "Grille"}) hide_part(w, part);
  const auto brightness = [&](const QImage& image) {
    const QRect r = w.window.view().viewport(0);
    const QPoint at = to_screen(w.window.view().camera(ViewName::Main), r, {0, 0, 0}).at.toPoint();
    double sum = 0.0;
    for (int dx = -40; dx <= 40; ++dx)
      for (int dy = -40; dy <= 40; ++dy) sum += qGray(image.pixel(at + QPoint(dx, dy)));
    return sum / (81.0 * 81.0);
  };
  const double without = brightness(refined(w));
  w.window.view().set(&ViewSettings::before_overlay, true);
  w.settle();
  CHECK(brightness(refined(w)) > 0.6 * without);
}

TEST_CASE("no specks: in the side views neighbours of the shell's pixels look alike") {
  Window w;
  w.window.editor().set_net_visible(false);
  for (const char* part : {"Dimple tile", "Knob ring", "Grille"}) hide_part(w, part);
  const QImage image = refined(w);
  for (std::size_t k = 1; k < 4; ++k) {
    const QRect r = w.window.view().viewport(k);
    int specks = 0;
    int looked_at = 0;
    for (int y = r.top() + 2; y < r.bottom() - 1; ++y)
      for (int x = r.left() + 2; x < r.right() - 1; ++x) {
        if (!inside_clay(image, x, y)) continue;
        ++looked_at;
        for (const QPoint d : {QPoint(1, 0), QPoint(0, 1)})
          specks += std::abs(qGray(image.pixel(x, y)) - qGray(image.pixel(QPoint(x, y) + d))) > 20
                        ? 1
                        : 0;
      }
    CHECK(looked_at > 500);
    CHECK(specks == 0);
  }
}

TEST_CASE("the floor grid's lines are 1, 2 or 5 times a power of ten apart, and never crowd") {
  const QRect viewport(0, 0, 800, 700);
  Camera c;
  for (const double height : {0.5, 3.0, 47.0, 160.0, 900.0, 20000.0}) {
    c.height = height;
    const double mm = floor_spacing(c, viewport);
    const double digit = mm / std::pow(10.0, std::floor(std::log10(mm) + 1e-9));
    CHECK((std::abs(digit - 1.0) < 1e-9 || std::abs(digit - 2.0) < 1e-9 ||
           std::abs(digit - 5.0) < 1e-9));
    const double pixels = mm / height * viewport.height();
    CHECK(pixels >= 26.0 - 1e-9);
    CHECK(pixels <= 26.0 * 2.5 + 1e-9);
  }
}

// --- views ------------------------------------------------------------------------------------------

TEST_CASE("a section is dragged by its arrow, typed, flipped and closed") {
  Window w;
  w.window.editor().set_net_visible(false);
  w.window.run("section_view");
  QTest::qWait(30);
  ModelView& v = w.window.view();
  REQUIRE(v.settings().section_view);
  auto* card = child_of<QFrame>(w.window, "section_card");
  CHECK(card->isVisible());
  const SectionCut first = v.settings().section;
  // The half that is cut away is no longer there: what lay behind it is seen, or the cut face.
  const QImage cut = v.grabFramebuffer();
  v.set(&ViewSettings::section_view, false);
  QTest::qWait(30);
  const QImage whole = v.grabFramebuffer();
  int changed = 0;
  for (int y = 0; y < cut.height(); y += 3)
    for (int x = 0; x < cut.width(); x += 3)
      changed += std::abs(qGray(cut.pixel(x, y)) - qGray(whole.pixel(x, y))) > 12 ? 1 : 0;
  CHECK(changed > 1500);
  v.set(&ViewSettings::section_view, true);
  QTest::qWait(30);
  const Vec3 foot = v.middle() - first.normal * (dot(first.normal, v.middle()) + first.d);
  const double mm = pixel_size(v.camera(ViewName::Main), v.viewport(0), foot);
  const Vec3 grip = foot - first.normal * (40.0 * mm);
  const QPoint at = to_screen(v.camera(ViewName::Main), v.viewport(0), grip).at.toPoint();
  const QPoint to =
      to_screen(v.camera(ViewName::Main), v.viewport(0), grip - first.normal * 10.0).at.toPoint();
  w.drag(at, to - at);
  QTest::qWait(30);
  CHECK(v.settings().section.d == Approx(first.d + 10.0).margin(1.0));
  CHECK(v.settings().section_view);
  auto* place = child_of<QDoubleSpinBox>(w.window, "section_place");
  place->setValue(12.5);
  CHECK(std::abs(v.settings().section.d) == Approx(12.5));
  QTest::mouseClick(child_of<QToolButton>(w.window, "section_flip"), Qt::LeftButton);
  CHECK(dot(v.settings().section.normal, first.normal) == Approx(-1.0));
  QTest::mouseClick(child_of<QToolButton>(w.window, "section_z"), Qt::LeftButton);
  CHECK(std::abs(v.settings().section.normal.z) == Approx(1.0));
  QTest::mouseClick(child_of<QToolButton>(w.window, "section_close"), Qt::LeftButton);
  CHECK_FALSE(v.settings().section_view);
}

TEST_CASE("a view is kept under a name, looked from again, saved with the project and forgotten") {
  Window w;
  ModelView& v = w.window.view();
  v.camera(ViewName::Main).orbit(90, 20);
  const Camera kept = v.camera(ViewName::Main);
  w.window.run("keep_view");
  auto* field = child_of<QLineEdit>(w.window, "typed_distance");
  REQUIRE(field->isVisible());
  field->selectAll();
  QTest::keyClicks(field, "from the left");
  QTest::keyClick(field, Qt::Key_Return);
  REQUIRE(w.window.model().document().views.size() == 1);
  v.camera(ViewName::Main).orbit(-200, 0);
  auto* menu = child_of<QMenu>(w.window, "saved_views");
  Q_EMIT menu->aboutToShow();
  REQUIRE(menu->actions().front()->text() == "from the left");
  menu->actions().front()->trigger();
  CHECK(v.camera(ViewName::Main).yaw == Approx(kept.yaw));
  CHECK(v.camera(ViewName::Main).height == Approx(kept.height));
  QTemporaryDir folder;
  w.window.save_file(folder.filePath("a.evenclay"));
  w.settle();
  w.window.model().new_project();
  w.window.open_file(folder.filePath("a.evenclay"));
  w.settle();
  CHECK(w.window.model().document().views.size() == 1);
  Q_EMIT menu->aboutToShow();
  menu->actions().back()->menu()->actions().front()->trigger();
  CHECK(w.window.model().document().views.empty());
}

TEST_CASE("the view turns straight onto the picked point and onto the work plane") {
  Window w;
  w.choose("Shell", 0);  // a sphere about the origin: its normals point away from it
  ModelView& v = w.window.view();
  const PointIndex p{0, 3, 3};
  w.window.editor().set_leader(p);
  w.window.editor().pick({p});
  w.window.run("face_picked");
  const Frame axes = v.camera(ViewName::Main).axes();
  const Vec3 foot = skin_normal(w.window.editor().net()->shown, p);
  CHECK(std::abs(dot(axes.z, foot)) == Approx(1.0).margin(1e-9));
  CHECK(distance(v.camera(ViewName::Main).target, w.window.editor().picked_centre()) < 1e-9);
  w.window.run("face_plane");
  CHECK(v.camera(ViewName::Main).axes().z.z == Approx(1.0));
  const bool perspective = v.camera(v.main_name()).perspective;
  w.window.run("perspective");
  CHECK(v.camera(v.main_name()).perspective != perspective);
}

TEST_CASE("End brings the chosen part into view, and then what is picked of it") {
  Window w;
  w.choose("Dimple tile", 2);
  w.window.editor().pick({});
  w.key(Qt::Key_End);
  w.settle();
  const auto span = [&](PointIndex a, PointIndex b) {
    const QPoint from = w.point(a), to = w.point(b);
    CHECK(w.window.view().rect().contains(from));
    CHECK(w.window.view().rect().contains(to));
    return std::hypot(from.x() - to.x(), from.y() - to.y());
  };
  const double whole = span({0, 0, 0}, {0, 4, 4});
  CHECK(whole > 200.0);  // it was some twenty pixels long beside the shell
}

TEST_CASE("hovering says what a click would take") {
  Window w;
  w.window.editor().set_net_visible(false);
  w.choose("Dimple tile", 2);
  w.window.editor().set_net_visible(false);
  QTest::qWait(30);
  ModelView& v = w.window.view();
  const OnScreen front = to_screen(v.camera(ViewName::Main), v.viewport(0), {0, -50, 20});
  w.hover(front.at);
  auto* label = child_of<QLabel>(w.window, "beside_cursor");
  CHECK(label->text().contains("a click chooses it"));
}

// --- what was done ----------------------------------------------------------------------------------

TEST_CASE("a click in the list of changes goes there and back, and nothing is lost") {
  Window w;
  std::vector<std::string> states{to_project_json(w.window.model().document())};
  for (const double mm : {1.0, 2.0, 3.0}) {
    w.window.editor().pick({{0, 8, 4}});
    REQUIRE(w.window.editor().move_by({MoveDirection::X, mm, {}}));
    w.settle();
    states.push_back(to_project_json(w.window.model().document()));
  }
  w.window.run("history");
  auto* list = child_of<QListWidget>(w.window, "changes");
  REQUIRE(list->count() == 4);
  CHECK(list->currentRow() == 3);
  CHECK(list->item(1)->text().contains("Move"));
  CHECK(list->item(1)->text().contains(':'));  // the time
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                    list->visualItemRect(list->item(1)).center());
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == states[1]);
  CHECK(list->count() == 4);
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                    list->visualItemRect(list->item(3)).center());
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == states[3]);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(list->currentRow() == 2);
}

// --- starting ---------------------------------------------------------------------------------------

TEST_CASE("the start card shows recent projects with their pictures, and opens them") {
  QTemporaryDir folder;
  const QString file = folder.filePath("kettle.evenclay");
  QString saved;
  {
    Window w;
    w.window.save_file(file);
    w.settle();
    saved = QString::fromStdString(to_project_json(w.window.model().document()));
    CHECK_FALSE(picture_of_file(file).isNull());
  }
  Window w(false);
  auto* card = child_of<QFrame>(w.window, "start_offer");
  REQUIRE(card->isVisible());
  auto* recent = card->findChild<QPushButton*>("recent");
  REQUIRE(recent != nullptr);
  CHECK(recent->text().contains("kettle"));
  CHECK(w.window.rect().contains(QRect(card->mapTo(&w.window, QPoint()), card->size())));
  QTest::mouseClick(recent, Qt::LeftButton);
  w.settle();
  CHECK(QString::fromStdString(to_project_json(w.window.model().document())) == saved);
  CHECK_FALSE(card->isVisible());
  QSettings().remove("recent");
}

TEST_CASE("the tour goes through five steps on the demo and changes nothing in it") {
  Window w(false);
  w.window.run("tour");
  w.settle();
  const std::string demo = to_project_json(w.window.model().document());
  auto* tour = child_of<Tour>(w.window, "tour");
  REQUIRE(tour->isVisible());
  std::set<int> stages;
  for (int k = 0; k < Tour::kSteps; ++k) {
    CHECK(tour->step() == k);
    stages.insert(static_cast<int>(w.window.stages().stage()));
    CHECK(w.window.view().rect().contains(tour->geometry()));
    QTest::mouseClick(child_of<QPushButton>(w.window, "tour_next"), Qt::LeftButton);
    w.settle();
  }
  CHECK_FALSE(tour->isVisible());
  CHECK(stages.size() == Tour::kSteps);
  CHECK(to_project_json(w.window.model().document()) == demo);
}

// --- themes and sizes -------------------------------------------------------------------------------

TEST_CASE("in both themes texts stand out from their ground by 4.5 to 1") {
  const bool night = GENERATE(false, true);
  look::use_theme(night ? look::Theme::Night : look::Theme::Light);
  {
    Window w;
    for (int stage = 0; stage < kStages; ++stage) {
      w.window.stages().open(static_cast<Stage>(stage));
      QTest::qWait(20);
      for (QWidget* widget : w.window.findChildren<QWidget*>()) {
        auto* label = qobject_cast<QLabel*>(widget);
        auto* button = qobject_cast<QAbstractButton*>(widget);
        const QString text = label ? label->text() : (button ? button->text() : QString());
        if (!widget->isVisible() || text.trimmed().isEmpty() || !widget->isEnabled() ||
            text == QString::fromUtf8("–"))
          continue;
        INFO((night ? "night: " : "light: ")
             << text.toStdString() << " " << widget->width() << " × " << widget->height());
        CHECK(contrast_of(*widget) >= 4.5);
      }
    }
  }
  look::use_theme(look::Theme::Light);
}

TEST_CASE("every stage fits at 1024 × 700 and at 1280 × 800 without cut text") {
  Window w;
  for (const QSize size : {QSize(1024, 700), QSize(1280, 800)}) {
    w.window.resize(size);
    QTest::qWait(30);
    CHECK(w.window.size() == size);
    for (int stage = 0; stage < kStages; ++stage) {
      w.window.stages().open(static_cast<Stage>(stage));
      QTest::qWait(30);
      const QStringList bad = cut_texts(w.window);
      INFO(size.width() << ", stage " << stage << ": " << bad.join("; ").toStdString());
      CHECK(bad.isEmpty());
    }
  }
}

TEST_CASE("everything that can be pressed is reached by the keyboard and has a name") {
  Window w;
  for (int stage = 0; stage < kStages; ++stage) {
    w.window.stages().open(static_cast<Stage>(stage));
    QTest::qWait(20);
    for (QWidget* widget : w.window.findChildren<QWidget*>()) {
      if (!widget->isVisible() || !widget->isEnabled()) continue;
      const bool field = widget->inherits("QAbstractSpinBox") || widget->inherits("QComboBox") ||
                         widget->inherits("QAbstractButton") || widget->inherits("QTreeWidget");
      if (!field) continue;
      auto* button = qobject_cast<QAbstractButton*>(widget);
      const QString name = !widget->accessibleName().isEmpty() ? widget->accessibleName()
                           : button                            ? button->text()
                                                               : QString();
      INFO(widget->metaObject()->className() << " " << widget->objectName().toStdString());
      CHECK_FALSE(name.trimmed().isEmpty());
      // In a group of which one is on, Tab goes to that one and the arrow keys to the others; the
      // stages have keys of their own.
      const bool in_group = button != nullptr && button->isCheckable() && !button->isChecked();
      const bool has_key = button != nullptr && !button->shortcut().isEmpty();
      CHECK((in_group || has_key || (widget->focusPolicy() & Qt::TabFocus) != 0));
    }
  }
}
