#include "app/panels/export_card.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QPointer>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/panels/length_field.h"
#include "app/window/app_model.h"

namespace evenclay {

namespace {

QString text(std::string_view words) {
  return QString::fromUtf8(words.data(), static_cast<qsizetype>(words.size()));
}

QString grouped(double x) {
  QString digits = QLocale::c().toString(x, 'f', 0);
  for (auto at = digits.size() - 3; at > 0; at -= 3) digits.insert(at, QChar(0x202F));
  return digits;
}

}  // namespace

ExportCard::ExportCard(AppModel& model, QWidget* parent) : QDialog(parent), model_(model) {
  setObjectName("export_card");
  setWindowTitle(tr("Export"));
  setAttribute(Qt::WA_DeleteOnClose);
  auto* column = new QVBoxLayout(this);
  auto* form = new QFormLayout;
  column->addLayout(form);
  const auto combo = [&](const char* name, const QString& label, const QString& help) {
    auto* box = new QComboBox(this);
    box->setObjectName(name);
    box->setAccessibleName(label);
    box->setToolTip(help);
    form->addRow(label, box);
    return box;
  };
  which_ = combo("export_parts", tr("Parts"), tr("The chosen part, or all that are visible."));
  which_->addItems({tr("the chosen part"), tr("all visible parts")});
  format_ = combo("export_format", tr("Format"),
                  tr("STEP and IGES hold exact surfaces, the others triangles, points or lines."));
  for (const OutFormat& f : out_formats())
    if (f.ending != ".stp" && f.ending != ".igs")
      format_->addItem(QString("%1 (%2)").arg(text(f.name), text(f.ending)), text(f.ending));
  unit_ = combo("export_unit", tr("Unit"), tr("Of formats that say none; the others say theirs."));
  unit_->addItems({tr("millimetres"), tr("centimetres"), tr("metres"), tr("inches")});
  chord_ = length_field(this);
  chord_->setObjectName("export_chord");
  chord_->setRange(0.0001, 10.0);
  chord_->setDecimals(4);
  chord_->setSingleStep(0.01);
  chord_->setValue(0.02);
  chord_->setKeyboardTracking(false);
  chord_->setAccessibleName(tr("Within"));
  chord_->setToolTip(tr("How far triangles and lines may leave the shape."));
  form->addRow(tr("Within"), chord_);
  angle_ = new QDoubleSpinBox(this);
  angle_->setObjectName("export_angle");
  angle_->setLocale(QLocale::c());
  angle_->setRange(0.0, 90.0);
  angle_->setDecimals(1);
  angle_->setSingleStep(1.0);
  angle_->setSuffix(QString::fromUtf8("°"));
  angle_->setSpecialValueText(tr("any"));
  angle_->setKeyboardTracking(false);
  angle_->setAccessibleName(tr("Turning by"));
  angle_->setToolTip(tr(
      "By how much the surface may turn within a triangle: small roundings get enough of them."));
  form->addRow(tr("Turning by"), angle_);
  text_ = new QCheckBox(tr("as text"), this);
  text_->setObjectName("export_text");
  text_->setToolTip(tr("STL that can be read by eye, five times as large."));
  form->addRow(QString(), text_);
  views_ = new QCheckBox(tr("three views with sizes"), this);
  views_->setObjectName("export_views");
  views_->setToolTip(
      tr("SVG as a drawing from the front, from above and from the left, hidden lines left out."));
  form->addRow(QString(), views_);
  says_ = new QLabel(this);
  says_->setObjectName("export_says");
  says_->setWordWrap(true);
  says_->setMinimumWidth(330);
  column->addWidget(says_);
  auto* row = new QHBoxLayout;
  row->addStretch(1);
  write_ = new QPushButton(tr("Write file…"), this);
  write_->setObjectName("export_write");
  write_->setProperty("primary", true);
  row->addWidget(write_);
  column->addLayout(row);
  // Only now: filling a box asks for what is made after it.
  for (QComboBox* box : {which_, format_, unit_})
    connect(box, &QComboBox::currentIndexChanged, this, &ExportCard::refresh);
  connect(write_, &QPushButton::clicked, this, &ExportCard::ask_and_write);
  for (QDoubleSpinBox* field : {chord_, angle_})
    connect(field, &QDoubleSpinBox::valueChanged, this, &ExportCard::estimate_soon);
  connect(text_, &QCheckBox::toggled, this, &ExportCard::estimate_soon);
  connect(views_, &QCheckBox::toggled, this, &ExportCard::estimate_soon);
  connect(&model_, &AppModel::chosen_changed, this, &ExportCard::estimate_soon);
  connect(&model_, &AppModel::answered, this, &ExportCard::estimate_soon);
  soon_.setSingleShot(true);
  soon_.setInterval(250);
  connect(&soon_, &QTimer::timeout, this, &ExportCard::estimate_now);
  refresh();
}

ExportCard::~ExportCard() {
  if (running_) running_->cancel();
}

std::string ExportCard::ending() const {
  return format_->currentData().toString().toStdString();
}

OutOptions ExportCard::options() const {
  return {.chord = chord_->value(),
          .angle = angle_->value(),
          .unit = static_cast<OutUnit>(unit_->currentIndex()),
          .text = text_->isChecked(),
          .views = views_->isChecked()};
}

// As they were drawn last: what is not computed yet is not handed over.
std::vector<OutPart> ExportCard::chosen() const {
  std::vector<OutPart> parts;
  for (const Part& p : model_.document().parts) {
    const bool wanted = which_->currentIndex() == 0 ? p.id == model_.chosen_part()
                                                    : is_visible(model_.document(), p);
    const auto drawn = model_.drawn().find(p.id);
    if (wanted && drawn != model_.drawn().end() && drawn->second.shape)
      parts.push_back(out_part(p, drawn->second.shape));
  }
  return parts;
}

void ExportCard::refresh() {
  const OutFormat* f = out_format("a" + ending());
  if (f == nullptr) return;
  const bool exact = f->ending == ".step" || f->ending == ".iges" || f->ending == ".surface.json";
  unit_->setEnabled(!f->has_unit);
  chord_->setEnabled(!exact);
  angle_->setEnabled(!exact && (f->takes & kMesh) != 0);
  text_->setEnabled(f->ending == ".stl");
  views_->setEnabled(f->ending == ".svg");
  estimate_soon();
}

void ExportCard::estimate_soon() {
  soon_.start();
}

void ExportCard::estimate_now() {
  if (running_) running_->cancel();
  const std::vector<OutPart> parts = chosen();
  if (parts.empty()) {
    says_->setText(tr("Choose a part that has a shape."));
    return;
  }
  says_->setText(tr("Counting…"));
  const QPointer<ExportCard> self(this);
  running_ = model_.background().run<OutEstimate>(
      {},
      [parts, file = "a" + ending(), o = options()](Progress& progress) {
        return estimate(parts, file, o, progress);
      },
      [self](OutEstimate&& e) {
        if (!self) return;
        const double mega = static_cast<double>(e.bytes) / 1e6;
        const QString size = mega < 0.1
                                 ? tr("less than 0.1 MB")
                                 : tr("about %1 MB").arg(QLocale::c().toString(mega, 'f', 1));
        self->says_->setText(
            e.triangles > 0
                ? tr("%1 triangles, %2.").arg(grouped(static_cast<double>(e.triangles)), size)
                : tr("%1.").arg(size));
      },
      [self](const QString& sentence) {
        if (self) self->says_->setText(sentence);
      });
}

void ExportCard::ask_and_write() {
  const std::vector<OutPart> parts = chosen();
  const QString name =
      parts.size() == 1 ? QString::fromStdString(parts.front().name) : model_.title();
  const QString end = format_->currentData().toString();
  QFileDialog dialog(this, tr("Export"), QSettings().value("folder").toString(),
                     QString("%1 (*%2)").arg(format_->currentText().section(' ', 0, 0), end));
  dialog.setAcceptMode(QFileDialog::AcceptSave);
  dialog.setDefaultSuffix(end.mid(1));
  dialog.selectFile(name + end);
  if (dialog.exec() == QDialog::Accepted && !dialog.selectedFiles().isEmpty())
    write(dialog.selectedFiles().front());
}

void ExportCard::write(const QString& file) {
  const std::vector<OutPart> parts = chosen();
  if (parts.empty()) {
    model_.say_trouble(tr("Choose a part that has a shape."));
    return;
  }
  AppModel& model = model_;
  model_.background().run<std::vector<std::string>>(
      tr("Exporting %1").arg(QFileInfo(file).fileName()),
      [parts, path = file.toStdString(), o = options()](Progress& progress) {
        return export_parts(parts, path, o, progress);
      },
      [&model, file](std::vector<std::string>&& left_out) {
        QSettings().setValue("folder", QFileInfo(file).absolutePath());
        QStringList names;
        for (const std::string& n : left_out) names << QString::fromStdString(n);
        if (names.isEmpty())
          model.say(tr("Exported %1.").arg(QFileInfo(file).fileName()));
        else
          model.say(tr("Exported %1; this format cannot hold %2.")
                        .arg(QFileInfo(file).fileName(), names.join(", ")));
      },
      [&model](const QString& sentence) { model.say_trouble(sentence); });
}

}  // namespace evenclay
