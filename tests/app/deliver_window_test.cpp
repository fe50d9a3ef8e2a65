// The stage Deliver in the real window: freezing, materials, pictures, print check.
#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>
#include <QSpinBox>
#include <QTemporaryDir>
#include <QToolButton>
#include <QTreeWidget>
#include <catch2/catch.hpp>

#include "app/panels/compare_card.h"
#include "app/panels/material_card.h"
#include "app/panels/parts_tree.h"
#include "app/panels/picture_card.h"
#include "core/document/materials.h"
#include "core/operations/frozen.h"
#include "window_fixture.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

const Part& part(Window& w, const char* name) {
  const Part* p = find_part(w.window.model().document(), std::string_view(name));
  REQUIRE(p != nullptr);
  return *p;
}

// The sentences that were said last as trouble.
struct Said {
  QString trouble;
  explicit Said(Window& w) {
    QObject::connect(&w.window.model(), &AppModel::said, &w.window,
                     [this](const QString& sentence, bool bad) {
                       if (bad) trouble = sentence;
                     });
  }
};

}  // namespace

TEST_CASE("freezing folds the steps beneath, and undo, thaw and the list follow") {
  Window w;
  w.choose("Shell", 1);
  const double before = w.window.model().gauges()->area;
  REQUIRE(w.window.run("freeze"));
  w.settle();
  REQUIRE(part(w, "Shell").steps.size() == 4);
  const StepId frozen = part(w, "Shell").steps[2].id;
  CHECK(is_frozen(part(w, "Shell").steps[2]));
  CHECK(w.window.model().chosen_step() == frozen);
  CHECK(w.window.model().gauges()->area == Approx(before));
  // The two steps beneath lie folded under the row of Frozen, and can still be looked at.
  QTreeWidgetItem* row = w.window.parts().step_row(frozen);
  REQUIRE(row != nullptr);
  CHECK(row->childCount() == 2);
  CHECK_FALSE(row->isExpanded());
  CHECK(row->text(0).contains("2 steps folded"));
  w.window.model().choose_step(part(w, "Shell").steps[0].id);
  w.settle();
  CHECK(w.window.parts().step_row(frozen)->isExpanded());
  CHECK(w.window.model().gauges()->area == Approx(4 * 3.14159265 * 52 * 52).epsilon(1e-5));
  // What is changed beneath does not reach what is frozen.
  w.window.model().change_parameter(part(w, "Shell").steps[0].id, "radius", "30", "Change", {});
  w.window.model().choose_step(frozen);
  w.settle();
  CHECK(w.window.model().gauges()->area == Approx(before));
  REQUIRE(w.window.run("thaw"));
  w.settle();
  CHECK(part(w, "Shell").steps.size() == 3);
  w.window.model().choose_step(part(w, "Shell").steps[1].id);
  w.settle();
  CHECK(w.window.model().gauges()->area < 0.5 * before);
  for (int k = 0; k < 3; ++k) w.window.run("undo");
  w.settle();
  CHECK(part(w, "Shell").steps.size() == 3);
  CHECK_FALSE(is_frozen(part(w, "Shell").steps[2]));
}

TEST_CASE("a lean file is written beside, and the project keeps its steps") {
  Window w;
  QTemporaryDir folder;
  const QString file = folder.filePath("lean.evenclay");
  w.window.model().save_lean(file);
  w.settle();
  REQUIRE(QFile::exists(file));
  CHECK(part(w, "Shell").steps.size() == 3);
  w.window.open_file(file);
  w.settle();
  CHECK(part(w, "Shell").steps.size() == 1);
  CHECK(is_frozen(part(w, "Shell").steps[0]));
  CHECK(w.window.model().gauges()->area > 0.0);
}

TEST_CASE("the card of materials gives shelf, shares and colour, each drag one undo") {
  Window w;
  w.choose("Shell", 2);
  const Said said(w);
  REQUIRE(w.window.run("material"));
  auto* card = child_of<MaterialCard>(w.window, "material_card");
  REQUIRE(card->isVisible());
  CHECK(w.window.view().settings().look == ModelLook::Presentation);
  QTest::mouseClick(child_of<QPushButton>(*card, "material_gloss"), Qt::LeftButton);
  CHECK(part(w, "Shell").material.coat == Approx(0.9));
  const std::size_t undos = w.window.model().session().changes().size();
  auto* slider = child_of<QSlider>(*card, "material_share_0");
  for (const int value : {40, 50, 60}) slider->setValue(value);
  CHECK(part(w, "Shell").material.roughness == Approx(0.6));
  CHECK(w.window.model().session().changes().size() == undos + 1);
  auto* colour = child_of<QLineEdit>(*card, "material_colour");
  colour->selectAll();
  QTest::keyClicks(colour, "#3B7480");
  QTest::keyClick(colour, Qt::Key_Return);
  CHECK(part(w, "Shell").look.colour == 0x3B7480);
  QTest::mouseClick(child_of<QToolButton>(*card, "#A8512F"), Qt::LeftButton);
  CHECK(part(w, "Shell").look.colour == 0xA8512F);
  colour->selectAll();
  QTest::keyClicks(colour, "red");
  QTest::keyClick(colour, Qt::Key_Return);
  CHECK(said.trouble.contains("is not a colour"));
  CHECK(part(w, "Shell").look.colour == 0xA8512F);
  w.window.run("undo");
  CHECK(part(w, "Shell").look.colour == 0x3B7480);
}

TEST_CASE("clicked faces take a colour and a material of their own, which last in the file") {
  Window w(false);
  w.window.run("source_box");
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  Camera& camera = w.window.view().camera(ViewName::Main);
  camera = {.target = {}, .yaw = -90.0, .pitch = 90.0, .height = 120.0, .perspective = false};
  REQUIRE(w.window.run("material"));
  w.settle();
  auto* card = child_of<MaterialCard>(w.window, "material_card");
  auto* which = child_of<QComboBox>(*card, "material_of");
  const Said said(w);
  const auto name = w.window.model().document().parts.front().name;
  const auto& looks = [&]() -> const std::vector<FaceLook>& {
    return part(w, name.c_str()).face_looks;
  };
  const auto click = [&](const QPoint& at) {
    QTest::mouseMove(&w.window.view(), at);
    QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, at);
    w.settle();
  };
  const QPoint middle = w.window.view().place_on_screen({0, 0, 0}).toPoint();
  which->setCurrentIndex(3);
  w.settle();
  QTest::mouseClick(child_of<QToolButton>(*card, "#0F6E84"), Qt::LeftButton);
  CHECK(said.trouble.contains("Click faces"));
  click(middle);
  REQUIRE(w.window.model().face_marks().picks.size() == 1);
  CHECK(child_of<QLabel>(*card, "material_marked")->text().contains("1"));
  click(middle);  // and out again
  CHECK(w.window.model().face_marks().picks.empty());
  click(middle);
  const std::size_t undos = w.window.model().session().changes().size();
  QTest::mouseClick(child_of<QToolButton>(*card, "#0F6E84"), Qt::LeftButton);
  auto* slider = child_of<QSlider>(*card, "material_share_1");
  for (const int value : {20, 60, 100}) slider->setValue(value);
  w.settle();
  REQUIRE(looks().size() == 1);
  CHECK(looks()[0].colour == 0x0F6E84);
  CHECK(looks()[0].material.metal == Approx(1.0));
  CHECK(w.window.model().session().changes().size() == undos + 2);
  CHECK(part(w, name.c_str()).look.colour != 0x0F6E84);
  // The top is blue in the picture, the box seen from the front is not.
  w.window.view().set(&ViewSettings::look, ModelLook::Clay);
  const auto blueness = [&](const QPoint& at) {
    w.settle();
    REQUIRE(QTest::qWaitFor([&] { return w.window.view().refined(); }, 20000));
    const QImage shot = w.window.view().picture();
    const double ratio = shot.width() / static_cast<double>(w.window.view().width());
    const QColor c = shot.pixelColor(static_cast<int>(at.x() * ratio) + 25,
                                     static_cast<int>(at.y() * ratio) + 9);
    return c.blue() - c.red();
  };
  child_of<QComboBox>(*card, "material_of")->setCurrentIndex(0);  // no hatching any more
  CHECK(w.window.model().face_marks().picks.empty());
  CHECK(blueness(middle) > 20);
  camera.pitch = 0.0;
  w.window.view().update();
  CHECK(blueness(w.window.view().place_on_screen({0, 0, 0}).toPoint()) < 0);
  // Kept in the file, and given back by one click.
  const QTemporaryDir folder;
  const QString file = folder.filePath("box.evenclay");
  bool done = false;
  w.window.model().save(file, [&] { done = true; });
  REQUIRE(QTest::qWaitFor([&] { return done; }, 20000));
  w.window.model().open(file);
  w.settle();
  REQUIRE(QTest::qWaitFor([&] { return !w.window.model().unsaved(); }, 20000));
  REQUIRE(looks().size() == 1);
  camera.pitch = 90.0;
  w.window.view().update();
  which->setCurrentIndex(3);
  w.settle();
  click(middle);
  REQUIRE(w.window.model().face_marks().picks.size() == 1);
  QTest::mouseClick(child_of<QPushButton>(*card, "material_as_part"), Qt::LeftButton);
  w.settle();
  CHECK(looks().empty());
  w.window.run("undo");
  w.settle();
  CHECK(looks().size() == 1);
  // With the card the marking ends.
  card->close();
  QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
  CHECK_FALSE(w.window.model().face_marks().marking);
}

TEST_CASE("a picture is traced beside the window and appears when it is whole") {
  Window w;
  QTemporaryDir folder;
  const Said said(w);
  REQUIRE(w.window.run("pictures"));
  auto* card = child_of<PictureCard>(w.window, "picture_card");
  auto* size = child_of<QComboBox>(*card, "picture_size");
  size->setCurrentIndex(size->count() - 1);
  child_of<QSpinBox>(*card, "picture_width")->setValue(64);
  child_of<QSpinBox>(*card, "picture_height")->setValue(48);
  child_of<QComboBox>(*card, "picture_smooth")->setCurrentIndex(0);
  const QString file = folder.filePath("form ü.png");
  card->save_picture(file);
  w.settle();
  const QImage image(file);
  CHECK(image.size() == QSize(64, 48));
  CHECK(image.pixelColor(2, 2).alpha() == 255);
  // The form stands in the middle, in its own colour: another one than the wall's.
  CHECK(image.pixelColor(32, 24) != image.pixelColor(2, 2));
  card->save_picture(folder.filePath("nowhere/form.png"));
  w.settle();
  CHECK(said.trouble.contains("nowhere"));
  // Without saved views there is nothing to put on a sheet.
  CHECK_FALSE(child_of<QPushButton>(*card, "picture_sheet")->isEnabled());
  w.window.model().commit_beside(
      [](const Document& d) {
        return with_view(d, {"Front", {}, -90.0, 10.0, 150.0, true});
      },
      "Keep view");
  CHECK(child_of<QPushButton>(*card, "picture_sheet")->isEnabled());
  const QString sheet = folder.filePath("sheet.pdf");
  card->save_sheet(sheet);
  w.settle();
  QFile pdf(sheet);
  REQUIRE(pdf.open(QIODevice::ReadOnly));
  CHECK(pdf.read(5) == "%PDF-");  // ISO 32000-1, 7.5.2
}

TEST_CASE("print check is tried on the chosen part, kept, and its layers are gone through") {
  Window w;
  w.choose("Shell", 2);
  REQUIRE(w.window.run("print_check"));
  w.settle();
  REQUIRE(w.window.model().trial());
  const Part& check = w.window.model().document().parts.back();
  CHECK(check.name == "Print check");
  const StepId step = check.steps.front().id;
  std::string notes;
  for (const std::string& n : w.window.model().step_status().at(step).notes) notes += n + "\n";
  CHECK_THAT(notes, Catch::Contains("Fits: ") && Catch::Contains(" layers, about "));
  w.window.model().change_parameter(step, "show", "layers", "Show layers", {});
  w.settle();
  auto* shown = child_of<QWidget>(w.window, "shown");
  auto* slider = shown->findChild<QSlider*>();
  REQUIRE(slider != nullptr);
  const double half = w.window.model().gauges()->box.max.z;
  slider->setValue(100);
  w.settle();
  CHECK(w.window.model().gauges()->box.max.z > 1.5 * half);
  CHECK(shown->findChild<QSpinBox*>()->value() == 100);
  w.window.model().keep_trial();
  w.settle();
  CHECK(w.window.model().document().parts.back().name == "Print check");
  w.window.run("undo");
  CHECK(find_part(w.window.model().document(), std::string_view("Print check")) == nullptr);
}

TEST_CASE("an older version is compared, and a part's deviation from it is shown and undone") {
  Window w;
  QTemporaryDir folder;
  const QString file = folder.filePath("then.evenclay");
  w.window.save_file(file);
  w.settle();
  // One radius is changed, so that the ball is off by a millimetre everywhere.
  w.window.model().change_parameter(part(w, "Shell").steps[0].id, "radius", "53", "Change", {});
  w.choose("Shell", 0);
  w.window.compare_with(file);
  w.settle();
  auto* card = child_of<CompareCard>(w.window, "compare_card");
  auto* list = child_of<QTreeWidget>(*card, "compare_list");
  QTreeWidgetItem* row = list->findItems("Shell", Qt::MatchExactly).value(0);
  REQUIRE(row != nullptr);
  REQUIRE(row->childCount() == 1);
  CHECK(row->child(0)->text(0) == "1 Sphere.radius");
  CHECK(row->child(0)->text(1).contains("53"));
  list->setCurrentItem(row);
  const std::size_t parts = w.window.model().document().parts.size();
  QTest::mouseClick(child_of<QPushButton>(*card, "compare_deviation"), Qt::LeftButton);
  w.choose("Shell", 0);
  CHECK(w.window.model().document().parts.size() > parts);
  const auto gauges = w.window.model().gauges();
  REQUIRE(gauges);
  REQUIRE(gauges->watched);
  CHECK(w.window.view().settings().look == ModelLook::Deviation);
  w.window.run("undo");
  CHECK(w.window.model().document().parts.size() == parts);
}

TEST_CASE("the turntable turns the model until the view is pressed") {
  Window w;
  const double before = w.window.view().camera(ViewName::Main).yaw;
  REQUIRE(w.window.run("turntable"));
  REQUIRE(QTest::qWaitFor(
      [&] { return std::abs(w.window.view().camera(ViewName::Main).yaw - before) > 1.0; }, 10000));
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, QPoint(40, 400));
  const double stopped = w.window.view().camera(ViewName::Main).yaw;
  QTest::qWait(150);
  CHECK(w.window.view().camera(ViewName::Main).yaw == stopped);
}
