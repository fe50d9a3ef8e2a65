#include "app/panels/checks_card.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLocale>
#include <QPointer>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

#include "app/look/colours.h"
#include "app/look/preferences.h"
#include "app/look/words.h"
#include "app/view/model_view.h"
#include "app/window/app_model.h"
#include "core/display/check_report.h"
#include "core/document/project_file.h"

namespace evenclay {

namespace {

constexpr int kSoon = 500;  // ms after a change
const std::array<Vec3, 3> kPulls{{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};

QColor colour_of(CheckLevel level) {
  const look::Colours& c = look::colours();
  return level == CheckLevel::Good ? c.good : (level == CheckLevel::Caution ? c.caution : c.bad);
}

QString words_of(CheckLevel level) {
  return level == CheckLevel::Good      ? ChecksCard::tr("good")
         : level == CheckLevel::Caution ? ChecksCard::tr("look")
                                        : ChecksCard::tr("bad");
}

}  // namespace

ChecksCard::ChecksCard(AppModel& model, ModelView& view, QWidget* parent)
    : QDialog(parent), model_(model), view_(view) {
  setObjectName("checks");
  setWindowTitle(tr("Checks"));
  setAttribute(Qt::WA_DeleteOnClose);
  resize(560, 520);
  auto* column = new QVBoxLayout(this);
  state_ = new QLabel(this);
  state_->setObjectName("checks_state");
  column->addWidget(state_);
  rows_ = new QTreeWidget(this);
  rows_->setObjectName("checks_list");
  rows_->setAccessibleName(tr("Checks of all visible parts"));
  rows_->setHeaderLabels({tr("Part, check"), tr("State"), tr("Measured")});
  rows_->header()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
  rows_->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
  rows_->setRootIsDecorated(false);
  column->addWidget(rows_, 1);
  connect(rows_, &QTreeWidget::itemActivated, this, [this](QTreeWidgetItem* i) { frame(i); });
  connect(rows_, &QTreeWidget::itemClicked, this, [this](QTreeWidgetItem* i) { frame(i); });
  auto* title = new QLabel(tr("Limits; 0 is not looked at"), this);
  title->setProperty("quiet", true);
  column->addWidget(title);
  limits_ = new QGridLayout;
  column->addLayout(limits_);
  gap_ = limit(tr("Gap up to"), tr("Greatest gap between joined faces."), "limit_gap", " mm");
  radius_ = limit(tr("Radius from"), tr("Least radius of curvature."), "limit_radius", " mm");
  thickness_ =
      limit(tr("Thickness from"), tr("Least thickness of closed parts."), "limit_thickness", " mm");
  draft_ =
      limit(tr("Draft from"), tr("Least angle between walls and the pull."), "limit_draft", " °");
  pull_ = new QComboBox(this);
  pull_->setObjectName("limit_pull");
  pull_->setAccessibleName(tr("Pull"));
  pull_->setToolTip(tr("Along which the mould opens."));
  pull_->addItems({tr("pull along x"), tr("pull along y"), tr("pull along z")});
  limits_->addWidget(pull_, 1, 4, 1, 2);
  auto* buttons = new QHBoxLayout;
  auto* save = new QPushButton(tr("Save report…"), this);
  save->setObjectName("save_report");
  save->setAutoDefault(false);
  buttons->addStretch(1);
  buttons->addWidget(save);
  column->addLayout(buttons);
  connect(save, &QPushButton::clicked, this, &ChecksCard::save_report);
  connect(pull_, &QComboBox::activated, this, &ChecksCard::take_limits);
  soon_.setSingleShot(true);
  soon_.setInterval(kSoon);
  connect(&soon_, &QTimer::timeout, this, &ChecksCard::look_again);
  connect(&model_, &AppModel::document_changed, this, [this] {
    fill_limits();
    soon_.start();
  });
  fill_limits();
  look_again();
}

ChecksCard::~ChecksCard() {
  if (running_) running_->cancel();
  view_.set(&ViewSettings::mark, std::optional<PlaceMark>());
}

QDoubleSpinBox* ChecksCard::limit(const QString& label, const QString& help, const char* name,
                                  const QString& unit) {
  const int k = limits_->count() / 2;
  auto* field = new QDoubleSpinBox(this);
  field->setObjectName(name);
  field->setAccessibleName(label);
  field->setToolTip(help);
  field->setLocale(QLocale::c());
  field->setRange(0.0, 10000.0);
  field->setDecimals(3);
  field->setSuffix(unit);
  field->setKeyboardTracking(false);
  limits_->addWidget(new QLabel(label, this), k / 3, 2 * (k % 3));
  limits_->addWidget(field, k / 3, 2 * (k % 3) + 1);
  connect(field, &QDoubleSpinBox::valueChanged, this, &ChecksCard::take_limits);
  return field;
}

void ChecksCard::fill_limits() {
  filling_ = true;
  const CheckLimits& m = model_.document().limits;
  gap_->setValue(m.gap);
  radius_->setValue(m.radius);
  thickness_->setValue(m.thickness);
  draft_->setValue(m.draft);
  for (int a = 0; a < 3; ++a)
    if (std::abs(dot(m.pull, kPulls[static_cast<std::size_t>(a)])) > 0.999)
      pull_->setCurrentIndex(a);
  filling_ = false;
}

void ChecksCard::take_limits() {
  if (filling_) return;
  model_.attempt([&] {
    model_.commit_beside(
        [&](const Document& d) {
          CheckLimits m = d.limits;
          m.gap = gap_->value();
          m.radius = radius_->value();
          m.thickness = thickness_->value();
          m.draft = draft_->value();
          m.pull = kPulls[static_cast<std::size_t>(pull_->currentIndex())];
          return with_limits(d, m);
        },
        tr("Change limits of the checks"));
  });
}

void ChecksCard::look_again() {
  if (running_) running_->cancel();
  state_->setText(tr("Looking…"));
  const Document document = model_.document();
  const QPointer<ChecksCard> self(this);
  running_ = model_.background().run<CheckList>(
      tr("Checking"),
      [document](Progress& progress) {
        Evaluator evaluator;
        return all_checks(document, evaluator, progress);
      },
      [self](CheckList&& list) {
        if (self) self->show_list(std::move(list));
      },
      [self](const QString& sentence) {
        if (self) self->state_->setText(sentence);
      });
}

void ChecksCard::show_list(CheckList&& list) {
  list_ = std::move(list);
  rows_->clear();
  QTreeWidgetItem* part = nullptr;
  std::array<int, 3> count{};
  for (std::size_t k = 0; k < list_.lines.size(); ++k) {
    const CheckLine& line = list_.lines[k];
    ++count[static_cast<std::size_t>(line.level)];
    if (part == nullptr || part->data(0, Qt::UserRole).toInt() != line.part) {
      part = new QTreeWidgetItem(rows_, {QString::fromStdString(line.part_name)});
      part->setData(0, Qt::UserRole, line.part);
      part->setData(0, Qt::UserRole + 1, -1);
      QFont bold = part->font(0);
      bold.setBold(true);
      part->setFont(0, bold);
      part->setExpanded(true);
    }
    auto* row = new QTreeWidgetItem(part, {look::words(line.what), words_of(line.level),
                                           look::in_shown_unit(QString::fromStdString(line.says))});
    row->setForeground(1, colour_of(line.level));
    row->setData(0, Qt::UserRole, line.part);
    row->setData(0, Qt::UserRole + 1, static_cast<int>(k));
    row->setToolTip(2, row->text(2));
  }
  rows_->expandAll();
  state_->setText(tr("%1 parts: %2 bad, %3 to be looked at, %4 good. A click shows the place.")
                      .arg(list_.parts)
                      .arg(count[2])
                      .arg(count[1])
                      .arg(count[0]));
}

// The part is chosen, and its place brought before the eye and named.
void ChecksCard::frame(const QTreeWidgetItem* item) {
  const PartId part = item->data(0, Qt::UserRole).toInt();
  const int number = item->data(0, Qt::UserRole + 1).toInt();
  if (find_part(model_.document(), part) == nullptr) return;
  model_.choose_part(part);
  if (number < 0 || number >= static_cast<int>(list_.lines.size())) return;
  const CheckLine& line = list_.lines[static_cast<std::size_t>(number)];
  std::optional<PlaceMark> mark;
  if (line.at) mark = PlaceMark{*line.at, QString::fromStdString(line.what + ": " + line.says)};
  view_.set(&ViewSettings::mark, mark);
  if (line.at) view_.turn_to(*line.at);
}

void ChecksCard::save_report() {
  const QString file = QFileDialog::getSaveFileName(
      this, tr("Save report"), model_.title() + tr(" checks.html"), tr("Report (*.html *.json)"));
  if (file.isEmpty()) return;
  const Document document = model_.document();
  const std::string title = tr("Checks of %1").arg(model_.title()).toStdString();
  model_.background().run_plain(
      tr("Writing the report"),
      [document, title, file](Progress& progress) {
        Evaluator evaluator;
        const CheckList list = all_checks(document, evaluator, progress);
        write_atomically(file.toStdString(),
                         file.endsWith(".json")
                             ? checks_json(document, list)
                             : checks_html(document, list, title, evaluator, progress));
      },
      [this_ = QPointer<ChecksCard>(this)] {
        if (this_) this_->model_.say(tr("The report is written."));
      },
      [this_ = QPointer<ChecksCard>(this)](const QString& sentence) {
        if (this_) this_->model_.say_trouble(sentence);
      });
}

}  // namespace evenclay
