#include "app/panels/material_card.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/window/app_model.h"
#include "core/document/face_looks.h"
#include "core/document/materials.h"

namespace evenclay {

namespace {

// Warm and quiet ones first, then those that stand out.
constexpr std::array<std::uint32_t, 14> kColours{0xC9A48C, 0xA8512F, 0xD8C3A5, 0xEFE9E2, 0xA9A29A,
                                                 0x6F675D, 0x2D2A26, 0x0F6E84, 0x4FB3C8, 0x3E7C4F,
                                                 0xB7791F, 0xB3372F, 0x6B4E71, 0x3B4F6B};

constexpr int kFaces = 3;  // place in the list of what a change goes to

QString text(std::string_view words) {
  return QString::fromUtf8(words.data(), static_cast<qsizetype>(words.size()));
}

QString hex(std::uint32_t colour) {
  return QString::fromStdString(colour_words(colour));
}

}  // namespace

MaterialCard::MaterialCard(AppModel& model, QWidget* parent) : QDialog(parent), model_(model) {
  setObjectName("material_card");
  setWindowTitle(tr("Material"));
  setAttribute(Qt::WA_DeleteOnClose);
  auto* column = new QVBoxLayout(this);
  name_ = new QLabel(this);
  name_->setProperty("heading", true);
  column->addWidget(name_);
  which_ = new QComboBox(this);
  which_->setObjectName("material_of");
  which_->setAccessibleName(tr("Parts"));
  which_->setToolTip(tr("Which parts a change goes to."));
  which_->addItems({tr("the chosen part"), tr("the picked parts"), tr("all parts of its layer"),
                    tr("clicked faces of the part")});
  column->addWidget(which_);
  add_faces();
  add_shelf();
  add_shares();
  add_colours();
  connect(&model_, &AppModel::document_changed, this, &MaterialCard::refresh);
  connect(&model_, &AppModel::chosen_changed, this, [this] { mark(of_faces()); });
  connect(&model_, &AppModel::marks_changed, this, &MaterialCard::refresh);
  refresh();
}

// The window's parts may be gone before its cards are.
void MaterialCard::hideEvent(QHideEvent* event) {
  model_.mark_faces({});
  QDialog::hideEvent(event);
}

void MaterialCard::showEvent(QShowEvent* event) {
  QDialog::showEvent(event);
  mark(of_faces());
}

// Marks belong to one part and end with the card.
void MaterialCard::mark(bool faces) {
  const AppModel::FaceMarks& now = model_.face_marks();
  if (faces == now.marking && now.part == model_.chosen_part()) return refresh();
  model_.mark_faces({faces, model_.chosen_part(), {}});
}

bool MaterialCard::of_faces() const {
  return which_->currentIndex() == kFaces;
}

void MaterialCard::add_faces() {
  auto* row = new QHBoxLayout;
  marked_ = new QLabel(this);
  marked_->setObjectName("material_marked");
  marked_->setWordWrap(true);
  as_part_ = new QPushButton(tr("As the part"), this);
  as_part_->setObjectName("material_as_part");
  as_part_->setAutoDefault(false);
  as_part_->setToolTip(tr("The clicked faces look as their part does again."));
  row->addWidget(marked_, 1);
  row->addWidget(as_part_);
  static_cast<QVBoxLayout*>(layout())->addLayout(row);
  connect(which_, &QComboBox::currentIndexChanged, this, [this] { mark(of_faces()); });
  connect(as_part_, &QPushButton::clicked, this, [this] {
    const auto drawn = model_.drawn().find(model_.chosen_part());
    const Body* body = drawn != model_.drawn().end() && drawn->second.shape
                           ? std::get_if<Body>(drawn->second.shape.get())
                           : nullptr;
    if (body == nullptr) return;
    model_.attempt([&] {
      model_.commit_beside(
          [&](const Document& now) {
            Document d = now;
            for (const Pick& p : model_.face_marks().picks)
              if (const int f = face_with_tag(*body, p.tag); f >= 0)
                d = without_face_look(d, model_.chosen_part(), *body, static_cast<std::size_t>(f));
            return d;
          },
          tr("Change colour"));
    });
  });
}

void MaterialCard::add_shelf() {
  auto* grid = new QGridLayout;
  int place = 0;
  for (const ShelfMaterial& s : shelf_materials()) {
    auto* button = new QPushButton(tr(s.label.data()), this);
    button->setObjectName("material_" + text(s.name));
    button->setAutoDefault(false);
    button->setToolTip(tr("Gives the parts this material; their colour stays."));
    connect(button, &QPushButton::clicked, this, [this, m = s.material] { give(m, {}); });
    grid->addWidget(button, place / 3, place % 3);
    ++place;
  }
  static_cast<QVBoxLayout*>(layout())->addLayout(grid);
}

void MaterialCard::add_shares() {
  const std::array<std::pair<QString, QString>, 4> words{
      {{tr("Roughness"), tr("0 mirrors, 100 is dull.")},
       {tr("Metal"), tr("Reflections take the part's colour.")},
       {tr("Clear coat"), tr("A smooth clear coat over it.")},
       {tr("Translucency"), tr("Light that goes through it.")}}};
  auto* grid = new QGridLayout;
  for (std::size_t k = 0; k < kMaterialShares.size(); ++k) {
    auto* slider = shares_[k] = new QSlider(Qt::Horizontal, this);
    slider->setObjectName(QString("material_share_%1").arg(k));
    slider->setRange(0, 100);
    slider->setAccessibleName(words[k].first);
    slider->setToolTip(words[k].second);
    numbers_[k] = new QLabel(this);
    numbers_[k]->setMinimumWidth(fontMetrics().horizontalAdvance("100 %"));
    numbers_[k]->setAlignment(Qt::AlignRight);
    const int row = static_cast<int>(k);
    grid->addWidget(new QLabel(words[k].first, this), row, 0);
    grid->addWidget(slider, row, 1);
    grid->addWidget(numbers_[k], row, 2);
    connect(slider, &QSlider::valueChanged, this, [this, k](int value) {
      const Part* part = find_part(model_.document(), model_.chosen_part());
      if (refreshing_ || part == nullptr) return;
      Material m = look().material;
      m.*kMaterialShares[k].value = value / 100.0;
      give(m, QString("material %1").arg(k));
    });
    connect(slider, &QSlider::sliderReleased, this, [this] { model_.close_merge(); });
  }
  static_cast<QVBoxLayout*>(layout())->addLayout(grid);
}

void MaterialCard::add_colours() {
  auto* grid = new QGridLayout;
  grid->setSpacing(4);
  for (std::size_t k = 0; k < kColours.size(); ++k) {
    auto* swatch = new QToolButton(this);
    swatch->setObjectName(hex(kColours[k]));
    swatch->setAccessibleName(tr("Colour %1").arg(hex(kColours[k])));
    swatch->setToolTip(hex(kColours[k]));
    QPixmap pixmap(18, 18);
    pixmap.fill(QColor::fromRgb(kColours[k]));
    swatch->setIcon(QIcon(pixmap));
    connect(swatch, &QToolButton::clicked, this, [this, c = kColours[k]] { give_colour(c); });
    grid->addWidget(swatch, static_cast<int>(k) / 7, static_cast<int>(k) % 7);
  }
  auto* column = static_cast<QVBoxLayout*>(layout());
  column->addLayout(grid);
  colour_ = new QLineEdit(this);
  colour_->setObjectName("material_colour");
  colour_->setAccessibleName(tr("Colour as red, green and blue"));
  colour_->setToolTip(tr("Red, green and blue as #RRGGBB; Enter takes it."));
  connect(colour_, &QLineEdit::returnPressed, this, [this] {
    model_.attempt([&] { give_colour(colour_of(colour_->text().trimmed().toStdString())); });
  });
  column->addWidget(colour_);
}

std::vector<PartId> MaterialCard::parts() const {
  const Part* chosen = find_part(model_.document(), model_.chosen_part());
  if (chosen == nullptr) return {};
  if (which_->currentIndex() == 1) return model_.picked_parts();
  std::vector<PartId> all{chosen->id};
  if (which_->currentIndex() == 2 && !chosen->layer.empty())
    for (const Part& p : model_.document().parts)
      if (p.layer == chosen->layer && p.id != chosen->id) all.push_back(p.id);
  return all;
}

void MaterialCard::refresh() {
  const Part* part = find_part(model_.document(), model_.chosen_part());
  setEnabled(part != nullptr);
  if (part == nullptr) {
    name_->setText(tr("Choose a part."));
    return;
  }
  refreshing_ = true;
  const FaceLook shown = look();
  const ShelfMaterial* shelf = shelf_material(shown.material);
  const auto drawn = model_.drawn().find(part->id);
  const bool body = drawn != model_.drawn().end() && drawn->second.shape &&
                    std::holds_alternative<Body>(*drawn->second.shape);
  const auto marks = static_cast<int>(model_.face_marks().picks.size());
  marked_->setVisible(of_faces());
  as_part_->setVisible(of_faces());
  as_part_->setEnabled(marks > 0);
  marked_->setText(!body        ? tr("Only surfaces and bodies have faces. Convert the part first.")
                   : marks == 1 ? tr("1 face clicked")
                   : marks > 0  ? tr("%1 faces clicked").arg(marks)
                                : tr("Click faces in the view."));
  name_->setText(
      QString("%1 · %2").arg(QString::fromStdString(part->name),
                             shelf != nullptr ? text(shelf->label) : tr("own material")));
  for (std::size_t k = 0; k < kMaterialShares.size(); ++k) {
    const int percent =
        static_cast<int>(std::lround(100.0 * shown.material.*kMaterialShares[k].value));
    shares_[k]->setValue(percent);
    numbers_[k]->setText(tr("%1 %").arg(percent));
  }
  if (!colour_->hasFocus()) colour_->setText(hex(shown.colour));
  refreshing_ = false;
}

FaceLook MaterialCard::look() const {
  const Part* part = find_part(model_.document(), model_.chosen_part());
  if (part == nullptr) return {};
  const auto& marks = model_.face_marks().picks;
  const auto drawn = model_.drawn().find(part->id);
  const Body* body = drawn != model_.drawn().end() && drawn->second.shape
                         ? std::get_if<Body>(drawn->second.shape.get())
                         : nullptr;
  if (of_faces() && !marks.empty() && body != nullptr)
    if (const int f = face_with_tag(*body, marks.back().tag); f >= 0)
      if (const int k = looks_of_faces(*body, part->face_looks)[static_cast<std::size_t>(f)];
          k >= 0)
        return part->face_looks[static_cast<std::size_t>(k)];
  return {{}, part->look.colour, part->material};
}

void MaterialCard::give_faces(const std::function<void(FaceLook&)>& change, const QString& label,
                              const QString& merge) {
  if (model_.face_marks().picks.empty()) throw Error("Click faces in the view first.");
  const FaceLook begin = look();
  const auto all = [&](const Document& now) {
    Document d = now;
    for (const Pick& p : model_.face_marks().picks) {
      FaceLook l = begin;
      for (const FaceLook& had : find_part(now, model_.chosen_part())->face_looks)
        if (had.pick.tag == p.tag) l = had;
      l.pick = p;
      change(l);
      d = with_face_look(d, model_.chosen_part(), l);
    }
    return d;
  };
  if (merge.isEmpty() || model_.trial())
    model_.commit_beside(all, label);
  else
    model_.commit(all(model_.document()), label, merge);
}

void MaterialCard::give(const Material& material, const QString& merge) {
  if (of_faces()) {
    model_.attempt([&] {
      give_faces([&](FaceLook& l) { l.material = material; }, tr("Change material"), merge);
    });
    return;
  }
  model_.attempt([&] {
    const auto change = [&](const Document& now) {
      Document d = now;
      for (const PartId id : parts()) d = with_material(d, id, material);
      return d;
    };
    if (merge.isEmpty() || model_.trial())
      model_.commit_beside(change, tr("Change material"));
    else
      model_.commit(change(model_.document()), tr("Change material"), merge);
  });
}

void MaterialCard::give_colour(std::uint32_t colour) {
  if (of_faces()) {
    model_.attempt(
        [&] { give_faces([&](FaceLook& l) { l.colour = colour; }, tr("Change colour"), {}); });
    return;
  }
  model_.attempt([&] {
    model_.commit_beside(
        [&](const Document& now) {
          Document d = now;
          for (const PartId id : parts()) {
            Look look = find_part(d, id)->look;
            look.colour = colour;
            d = with_look(d, id, look);
          }
          return d;
        },
        tr("Change colour"));
  });
}

}  // namespace evenclay
