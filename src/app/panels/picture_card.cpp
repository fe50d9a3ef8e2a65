#include "app/panels/picture_card.h"

#include <QBuffer>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSettings>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/panels/picture_sheet.h"
#include "app/view/model_view.h"
#include "app/window/app_model.h"
#include "core/document/project_file.h"

namespace evenclay {

namespace {

struct Size {
  const char* words;
  int width, height;
};
constexpr std::array<Size, 5> kSizes{{{"1280 × 800", 1280, 800},
                                      {"1920 × 1080", 1920, 1080},
                                      {"3840 × 2160", 3840, 2160},
                                      {"7680 × 4320", 7680, 4320},
                                      {QT_TRANSLATE_NOOP("evenclay", "own size"), 0, 0}}};
constexpr std::array<int, 3> kRays{4, 25, 100};

}  // namespace

PictureCard::PictureCard(AppModel& model, ModelView& view, QWidget* parent)
    : QDialog(parent), model_(model), view_(view) {
  setObjectName("picture_card");
  setWindowTitle(tr("Pictures"));
  setAttribute(Qt::WA_DeleteOnClose);
  add_fields();
  auto* buttons = new QHBoxLayout;
  const auto button = [&](const char* name, const QString& label, const QString& help) {
    auto* b = new QPushButton(label, this);
    b->setObjectName(name);
    b->setToolTip(help);
    b->setAutoDefault(false);
    buttons->addWidget(b);
    return b;
  };
  connect(button("picture_save", tr("Save picture…"), tr("The view above as PNG.")),
          &QPushButton::clicked, this, [this] {
            const QString file = ask(tr("Save picture"), "png", tr("Pictures (*.png)"));
            if (!file.isEmpty()) save_picture(file);
          });
  connect(button("picture_sheet", tr("Save sheet…"),
                 tr("All saved views with their names, four on a page, as PDF.")),
          &QPushButton::clicked, this, [this] {
            const QString file = ask(tr("Save sheet"), "pdf", tr("Sheets (*.pdf)"));
            if (!file.isEmpty()) save_sheet(file);
          });
  static_cast<QVBoxLayout*>(layout())->addLayout(buttons);
  connect(&model_, &AppModel::document_changed, this, &PictureCard::refresh);
  refresh();
}

void PictureCard::add_fields() {
  auto* column = new QVBoxLayout(this);
  auto* form = new QFormLayout;
  column->addLayout(form);
  const auto named = [&](auto* field, const char* name, const QString& label, const QString& help) {
    field->setObjectName(name);
    field->setAccessibleName(label);
    field->setToolTip(help);
    return field;
  };
  from_ = named(new QComboBox(this), "picture_from", tr("View"), tr("From where."));
  form->addRow(tr("View"), from_);
  size_ = named(new QComboBox(this), "picture_size", tr("Size"), tr("In pixels."));
  for (const Size& s : kSizes) size_->addItem(tr(s.words));
  form->addRow(tr("Size"), size_);
  auto* own = new QHBoxLayout;
  for (auto [box, name, label] : {std::tuple{&width_, "picture_width", tr("Width")},
                                  {&height_, "picture_height", tr("Height")}}) {
    *box = named(new QSpinBox(this), name, label, tr("In pixels, up to 8192."));
    (*box)->setRange(16, 8192);
    own->addWidget(*box);
  }
  width_->setValue(1600);
  height_->setValue(1200);
  form->addRow(tr("Own"), own);
  const auto enable = [this] {
    const bool is_own = size_->currentIndex() == static_cast<int>(kSizes.size()) - 1;
    width_->setEnabled(is_own);
    height_->setEnabled(is_own);
  };
  connect(size_, &QComboBox::currentIndexChanged, this, enable);
  enable();
  smooth_ = named(new QComboBox(this), "picture_smooth", tr("Light"),
                  tr("Rays a pixel: more take longer and leave less grain."));
  smooth_->addItems({tr("quick"), tr("smooth"), tr("finest")});
  smooth_->setCurrentIndex(1);
  form->addRow(tr("Light"), smooth_);
  transparent_ = named(new QCheckBox(tr("No ground but the shadow"), this), "picture_transparent",
                       tr("No ground"), tr("For laying the picture over others."));
  form->addRow(QString(), transparent_);
}

void PictureCard::refresh() {
  const QString chosen = from_->currentText();
  from_->clear();
  from_->addItem(tr("as it is shown now"));
  for (const SavedView& v : model_.document().views) from_->addItem(QString::fromStdString(v.name));
  from_->setCurrentIndex(std::max(0, from_->findText(chosen)));
  findChild<QPushButton*>("picture_sheet")->setEnabled(!model_.document().views.empty());
}

// As they are drawn: finely enough for pictures, and there already.
std::vector<StudioPart> PictureCard::parts() const {
  std::vector<StudioPart> all;
  for (const Part& part : model_.document().parts) {
    const auto found = model_.drawn().find(part.id);
    if (model_.is_shown(part) && found != model_.drawn().end() && found->second.mesh &&
        found->second.shape)
      for (StudioPart& seen : studio_parts(part, *found->second.shape, found->second.mesh))
        all.push_back(std::move(seen));
  }
  return all;
}

StudioPicture PictureCard::wish() const {
  StudioPicture w;
  const Size& size = kSizes[static_cast<std::size_t>(size_->currentIndex())];
  w.width = size.width > 0 ? size.width : width_->value();
  w.height = size.width > 0 ? size.height : height_->value();
  w.transparent = transparent_->isChecked();
  w.rays = kRays[static_cast<std::size_t>(smooth_->currentIndex())];
  const std::string name = from_->currentText().toStdString();
  if (from_->currentIndex() > 0)
    for (const SavedView& v : model_.document().views)
      if (v.name == name) w.view = v;
  if (from_->currentIndex() <= 0) {
    const Camera& c = view_.camera(view_.main_name());
    w.view = {"", c.target, c.yaw, c.pitch, c.height, c.perspective};
  }
  return w;
}

QString PictureCard::ask(const QString& title, const QString& ending, const QString& filter) {
  QFileDialog dialog(this, title, QSettings().value("folder").toString(), filter);
  dialog.setAcceptMode(QFileDialog::AcceptSave);
  dialog.setFileMode(QFileDialog::AnyFile);
  dialog.setDefaultSuffix(ending);
  dialog.selectFile(model_.title());
  if (dialog.exec() != QDialog::Accepted || dialog.selectedFiles().isEmpty()) return {};
  return dialog.selectedFiles().first();
}

void PictureCard::save_picture(const QString& file) {
  AppModel* model = &model_;
  model_.background().run_plain(
      tr("Saving %1").arg(QFileInfo(file).fileName()),
      [parts = parts(), wish = wish(), path = file.toStdString()](Progress& progress) {
        write_atomically(path, png_of(studio_picture(parts, wish, progress)));
      },
      [model, file] { model->say(tr("Saved %1.").arg(QFileInfo(file).fileName())); },
      [model](const QString& sentence) { model->say_trouble(sentence); });
}

void PictureCard::save_sheet(const QString& file) {
  AppModel* model = &model_;
  SheetWish sheet;
  sheet.title = model_.title();
  sheet.views = model_.document().views;
  sheet.rays = wish().rays;
  model_.background().run_plain(
      tr("Saving %1").arg(QFileInfo(file).fileName()),
      [parts = parts(), sheet, path = file.toStdString()](Progress& progress) {
        write_atomically(path, picture_sheet(parts, sheet, progress));
      },
      [model, file] { model->say(tr("Saved %1.").arg(QFileInfo(file).fileName())); },
      [model](const QString& sentence) { model->say_trouble(sentence); });
}

}  // namespace evenclay
