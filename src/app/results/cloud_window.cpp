#include "results/cloud_window.h"

#include "base/units.h"
#include "judge/judge.h"
#include <QComboBox>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QSplitter>
#include <QTableWidget>
#include <QVBoxLayout>

namespace alder::app {
namespace {

QString text(std::string_view s) {
  return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

QString thousands(std::size_t n) {
  return QLocale(QLocale::English).toString(static_cast<qulonglong>(n)).replace(',', ' ');
}

// The column of names takes what room there is.
QTableWidget* tableOf(const char* name, const QStringList& titles, int names, const Theme& theme) {
  auto* table = new QTableWidget;
  table->setObjectName(name);
  table->setColumnCount(static_cast<int>(titles.size()));
  table->setHorizontalHeaderLabels(titles);
  table->verticalHeader()->hide();
  table->setShowGrid(false);
  table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->setSelectionMode(QAbstractItemView::SingleSelection);
  table->horizontalHeader()->setHighlightSections(false);
  table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table->horizontalHeader()->setSectionResizeMode(names, QHeaderView::Stretch);
  table->horizontalHeaderItem(names)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table->setStyleSheet("QTableView::item { padding: 0 7px; }");
  table->setTabKeyNavigation(false);
  table->setFont(theme.text(9.5));
  return table;
}

QTableWidgetItem* cellOf(const QString& words, const QFont* figures = nullptr) {
  auto* item = new QTableWidgetItem(words);
  if (figures) {
    item->setFont(*figures);
    item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
  }
  return item;
}

CloudPtr inMillimetres(const CloudPtr& file, double mm) {
  if (mm == 1) return file;
  auto scaled = std::make_shared<CloudFile>(*file);
  for (Vec3& p : scaled->cloud.points)
    p *= mm;
  return scaled;
}

} // namespace

CloudWindow::CloudWindow(Document& document, const QString& path, const Theme& theme,
                         QWidget* parent)
    : QDialog(parent)
    , document_(document)
    , theme_(theme) {
  setObjectName("cloud");
  setWindowTitle("Point cloud to bring in");
  setAttribute(Qt::WA_DeleteOnClose);
  resize(1180, 740);
  QPalette colors = palette();
  colors.setColor(QPalette::Window, theme.color("paper"));
  colors.setColor(QPalette::Base, theme.color("panel"));
  setPalette(colors);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 14, 16, 14);
  layout->setSpacing(10);
  layout->addWidget(buildHead());
  layout->addWidget(buildSettings());
  layout->addWidget(buildTables(), 1);
  remarks_ = new QLabel;
  remarks_->setObjectName("cloudRemarks");
  remarks_->setWordWrap(true);
  layout->addWidget(remarks_);
  layout->addWidget(buildButtons());
  connect(&jobs_, &JobRunner::busyChanged, this, &CloudWindow::tellProgress);
  connect(&jobs_, &JobRunner::progressed, this, [this](double fraction, const QString& what) {
    progress_->setValue(static_cast<int>(1000 * fraction));
    summary_->setText(what + " …");
  });
  connect(&jobs_, &JobRunner::broke, this,
          [this](const QString& words, JobKind) { summary_->setText(words); });
  connect(&document_, &Document::opening, this, &QWidget::close);
  // What was placed was judged by other requirements.
  connect(&document_, &Document::planChanged, this, [this] {
    fillFits();
    stale_ = true;
    if (!jobs_.busy()) judgeAgain();
  });
  read(path);
}

QWidget* CloudWindow::buildHead() {
  auto* head = new QWidget;
  auto* row = new QHBoxLayout(head);
  row->setContentsMargins(0, 0, 0, 0);
  about_ = new QLabel;
  about_->setObjectName("cloudAbout");
  about_->setTextFormat(Qt::PlainText);
  about_->setWordWrap(true);
  row->addWidget(about_, 1);
  return head;
}

QWidget* CloudWindow::buildSettings() {
  auto* bar = new QWidget;
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  const auto labelled = [&](const QString& label, QWidget* field, const char* name,
                            const QString& tip) {
    auto* words = new QLabel(label);
    words->setBuddy(field);
    field->setObjectName(name);
    field->setToolTip(tip);
    row->addWidget(words);
    row->addWidget(field);
  };
  unit_ = new QComboBox;
  for (const CloudUnit& u : cloudUnits())
    unit_->addItem(text(u.name), text(u.name));
  labelled("&Unit of the file", unit_, "cloudUnit",
           "Such files do not say it; the one offered fits the size of the part.");
  fit_ = new QComboBox;
  fit_->setMinimumWidth(210);
  labelled("&Placed by", fit_, "cloudFit", "How the cloud is laid on the part in the end");
  edge_ = new QLineEdit("0.5");
  edge_->setMaximumWidth(70);
  labelled("&Edges left out", edge_, "cloudEdge", "Width along each edge, mm");
  reach_ = new QLineEdit("1");
  reach_->setMaximumWidth(70);
  labelled("&Counts within", reach_, "cloudReach",
           "Points farther from the surface are of something else, mm");
  row->addStretch(1);
  place_ = new QPushButton("Place and judge");
  place_->setObjectName("cloudPlace");
  place_->setDefault(true);
  place_->setEnabled(false);
  row->addWidget(place_);
  connect(place_, &QPushButton::clicked, this, &CloudWindow::place);
  fillFits();
  return bar;
}

void CloudWindow::fillFits() {
  const QVariant before = fit_->currentData();
  fit_->clear();
  fit_->addItem("best fit, least squares", -1);
  fit_->addItem("best fit, least largest deviation", -2);
  for (const Requirement& r : document_.plan().spec.requirements)
    if (!r.datums.empty())
      fit_->addItem(QString("datums of %1 %2")
                        .arg(r.balloon)
                        .arg(QString::fromStdString(describe(document_.plan().spec, r))),
                    r.id.value);
  fit_->setCurrentIndex(std::max(0, fit_->findData(before)));
}

QWidget* CloudWindow::buildTables() {
  auto* panes = new QSplitter(Qt::Horizontal);
  features_ =
      tableOf("cloudFeatures",
              {"Feature", "Points", "Places", "Noise", "of a place", "At edges", "Far"}, 0, theme_);
  features_->setAccessibleName("Points by feature");
  requirements_ =
      tableOf("cloudRequirements", {"", "Requirement", "Actual", "U", "Verdict"}, 1, theme_);
  requirements_->setAccessibleName("Requirements judged by the cloud");
  const auto tip = [](QTableWidget* table, int column, const char* words) {
    table->horizontalHeaderItem(column)->setToolTip(words);
  };
  tip(features_, 1, "Points of the cloud that count");
  tip(features_, 2, "Cells in which they were gathered; each is judged as a touch");
  tip(features_, 3, "Standard deviation of one point, mm");
  tip(features_, 4, "Standard deviation of one place, mm");
  tip(features_, 5, "Points left out along edges");
  tip(features_, 6, "Points left out as too far from the surface, or askew to it");
  tip(requirements_, 3, "What the noise of the points alone leaves open (k = 2)");
  panes->addWidget(features_);
  panes->addWidget(requirements_);
  panes->setChildrenCollapsible(false);
  connect(requirements_, &QTableWidget::currentCellChanged, this, [this](int row) {
    if (row < 0 || row >= static_cast<int>(verdicts_.size())) return;
    const RequirementId id = verdicts_[static_cast<std::size_t>(row)].requirement;
    if (document_.plan().spec.requirements.holds(id)) document_.selectRequirement(id);
  });
  return panes;
}

QWidget* CloudWindow::buildButtons() {
  auto* foot = new QWidget;
  auto* row = new QHBoxLayout(foot);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  summary_ = new QLabel;
  summary_->setObjectName("cloudSummary");
  summary_->setWordWrap(true);
  row->addWidget(summary_, 1);
  progress_ = new QProgressBar;
  progress_->setRange(0, 1000);
  progress_->setTextVisible(false);
  progress_->setFixedWidth(140);
  row->addWidget(progress_);
  stop_ = new QPushButton("Stop");
  stop_->setObjectName("cloudStop");
  stop_->setAutoDefault(false);
  row->addWidget(stop_);
  connect(stop_, &QPushButton::clicked, this, [this] {
    jobs_.cancel();
    summary_->setText("Stopped.");
  });
  auto* label = new QLabel("&As part");
  name_ = new QLineEdit;
  name_->setObjectName("cloudName");
  name_->setMaximumWidth(160);
  label->setBuddy(name_);
  row->addWidget(label);
  row->addWidget(name_);
  auto* leave = new QPushButton("Leave it");
  leave->setObjectName("cloudLeave");
  leave->setAutoDefault(false);
  row->addWidget(leave);
  connect(leave, &QPushButton::clicked, this, &QDialog::reject);
  take_ = new QPushButton("Bring in");
  take_->setObjectName("cloudTake");
  take_->setAutoDefault(false);
  take_->setEnabled(false);
  take_->setProperty("role", "primary");
  take_->setToolTip("Ctrl+Return");
  row->addWidget(take_);
  connect(take_, &QPushButton::clicked, this, &CloudWindow::take);
  return foot;
}

void CloudWindow::tellProgress() {
  const bool busy = jobs_.busy();
  progress_->setVisible(busy);
  stop_->setVisible(busy);
  place_->setEnabled(!busy && file_);
  take_->setEnabled(!busy && placed_);
}

void CloudWindow::read(const QString& path) {
  about_->setText(QFileInfo(path).fileName());
  jobs_.start("Reading points", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto read = readCloudFile(path.toStdString(), progress);
    auto file = std::make_shared<Result<CloudFile>>(std::move(read));
    return [=, this] {
      if (!*file) {
        summary_->setText(QString::fromStdString(file->error().message));
        return;
      }
      file_ = CloudPtr(file, &**file);
      wasRead();
    };
  });
}

void CloudWindow::wasRead() {
  const Box3 box = file_->cloud.box();
  const Vec3 size = box.sizes();
  about_->setText(QString("%1:  %2 points, %3 × %4 × %5; %6")
                      .arg(text(file_->name))
                      .arg(thousands(file_->cloud.points.size()))
                      .arg(QString::fromStdString(shortFigure(size.x(), 3)))
                      .arg(QString::fromStdString(shortFigure(size.y(), 3)))
                      .arg(QString::fromStdString(shortFigure(size.z(), 3)))
                      .arg(text(file_->form)));
  const auto likely = document_.plan().part ? likelyUnit(box, document_.plan().part->mesh.box())
                                            : std::optional<CloudUnit>{};
  const auto offered = file_->unit ? file_->unit : likely;
  if (offered) unit_->setCurrentIndex(std::max(0, unit_->findData(text(offered->name))));
  name_->setText(QString::fromStdString(cloudRunName(document_.project(), file_->name, "")));
  QStringList notes;
  for (const std::string& n : file_->notes)
    notes << QString::fromStdString(n);
  remarks_->setText(notes.join(" "));
  summary_->setText(file_->unit
                        ? QString("The file says that it is in %1.").arg(text(file_->unit->name))
                    : likely ? QString("Its size fits the part in %1.").arg(text(likely->name))
                             : QString("Its size fits the part in no unit; say which it is."));
  tellProgress();
  place_->setFocus();
}

std::optional<CloudSettings> CloudWindow::settings() {
  CloudSettings s;
  const auto length = [&](QLineEdit* field, const char* what) -> std::optional<double> {
    const auto v = parseQuantity(field->text().toStdString(), Quantity::Length);
    if (v && *v >= 0) return *v;
    summary_->setText(QString("%1: %2").arg(what).arg(
        v ? QString("must not be negative") : QString::fromStdString(v.error().message)));
    field->setFocus();
    return {};
  };
  const auto edge = length(edge_, "Edges left out"), reach = length(reach_, "Counts within");
  if (!edge || !reach) return {};
  s.gather.edge = *edge;
  s.gather.reach = std::max(*reach, 1e-3);
  const int fit = fit_->currentData().toInt();
  if (fit == -2) s.fit = CloudFit::LeastWorst;
  if (fit >= 0) s.datums = RequirementId{fit};
  return s;
}

void CloudWindow::place() {
  if (!file_ || jobs_.busy()) return;
  const auto chosen = settings();
  const auto unit = cloudUnitNamed(unit_->currentData().toString().toStdString());
  if (!chosen || !unit) return;
  // A plan of its own: the window's may change meanwhile.
  const auto plan = std::make_shared<const Plan>(document_.plan());
  // What was placed before stands for other settings.
  placed_.reset();
  verdicts_.clear();
  features_->setRowCount(0);
  requirements_->setRowCount(0);
  summary_->setText("Placing the cloud …");
  jobs_.start("Placing the cloud",
              [=, this, file = file_](const Progress& progress) -> JobRunner::Apply {
                const CloudPtr in_mm = inMillimetres(file, unit->mm);
                auto placed = std::make_shared<Result<PlacedCloud>>(
                    placeCloud(*plan, in_mm->cloud, *chosen, progress));
                auto verdicts = std::make_shared<std::vector<Evaluation>>();
                if (*placed) {
                  progress.step(0.99, "judging");
                  *verdicts = judgeAll(*plan, measurementsOf(*plan, (*placed)->gathered));
                }
                return [=, this] {
                  if (!*placed) {
                    summary_->setText(QString::fromStdString(placed->error().message));
                    return;
                  }
                  placed_ = std::shared_ptr<PlacedCloud>(placed, &**placed);
                  verdicts_ = std::move(*verdicts);
                  part_ = plan->part;
                  used_ = *chosen;
                  unit_used_ = unit->name;
                  wasPlaced();
                };
              });
  tellProgress();
}

void CloudWindow::judgeAgain() {
  stale_ = false;
  if (!placed_) return;
  if (part_ != document_.plan().part) {
    placed_.reset();
    verdicts_.clear();
    features_->setRowCount(0);
    requirements_->setRowCount(0);
    summary_->setText("The model is another one now; place the cloud again.");
    return tellProgress();
  }
  const auto plan = std::make_shared<const Plan>(document_.plan());
  jobs_.start("Judging the cloud",
              [=, this, placed = placed_](const Progress&) -> JobRunner::Apply {
                auto verdicts = std::make_shared<std::vector<Evaluation>>(
                    judgeAll(*plan, measurementsOf(*plan, placed->gathered)));
                return [=, this] {
                  verdicts_ = std::move(*verdicts);
                  wasPlaced();
                };
              });
}

void CloudWindow::wasPlaced() {
  if (stale_) return judgeAgain();
  showFeatures(measurementsOf(document_.plan(), placed_->gathered));
  showVerdicts();
  QStringList words;
  for (const std::string& n : file_->notes)
    words << QString::fromStdString(n);
  for (const std::string& r : placed_->remarks)
    words << QString::fromStdString(r);
  remarks_->setText(words.join(" "));
  tellProgress();
  take_->setFocus();
}

void CloudWindow::showFeatures(const Measurements& measured) {
  const QFont figures = theme_.figures(9);
  const Specification& spec = document_.plan().spec;
  features_->setRowCount(0);
  for (const NominalFeature& f : spec.features) {
    if (f.isConstructed() || f.faces.empty()) continue;
    const FaceTally t = tallyOf(f, placed_->gathered);
    const auto m = measured.find(f.id);
    const int row = features_->rowCount();
    features_->insertRow(row);
    features_->setItem(row, 0, cellOf(QString::fromStdString(f.name)));
    const QStringList cells{thousands(t.used),
                            thousands(m == measured.end() ? 0 : m->second.points.size()),
                            QString::fromStdString(figure(t.noise, 4)),
                            QString::fromStdString(figure(t.place_noise, 4)),
                            thousands(t.at_edges),
                            thousands(t.far + t.askew)};
    for (int k = 0; k < cells.size(); ++k)
      features_->setItem(row, k + 1, cellOf(cells[k], &figures));
  }
}

void CloudWindow::showVerdicts() {
  const QFont figures = theme_.figures(9);
  const Specification& spec = document_.plan().spec;
  const QSignalBlocker quiet(requirements_);
  // Some may have gone while they were judged.
  std::erase_if(verdicts_,
                [&](const Evaluation& e) { return !spec.requirements.holds(e.requirement); });
  requirements_->setRowCount(static_cast<int>(verdicts_.size()));
  std::array<int, kVerdictCount> counts{};
  for (int row = 0; row < static_cast<int>(verdicts_.size()); ++row) {
    const Evaluation& e = verdicts_[static_cast<std::size_t>(row)];
    const Requirement& r = spec.requirement(e.requirement);
    const double scale = r.kind == Characteristic::Angle ? degrees(1) : 1;
    ++counts[static_cast<std::size_t>(e.verdict)];
    requirements_->setItem(row, 0, cellOf(QString::number(r.balloon), &figures));
    requirements_->setItem(row, 1, cellOf(QString::fromStdString(describe(spec, r))));
    requirements_->setItem(
        row, 2,
        cellOf(e.actual ? QString::fromStdString(figure(*e.actual * scale, r.decimals)) : "–",
               &figures));
    requirements_->setItem(
        row, 3,
        cellOf(e.guard > 0 ? QString::fromStdString(figure(2 * e.guard / 1.65 * scale, r.decimals))
                           : "–",
               &figures));
    auto* verdict = cellOf(text(words(e.verdict)));
    verdict->setToolTip(QString::fromStdString(e.how));
    const char* color = e.verdict == Verdict::Within    ? "within"
                        : e.verdict == Verdict::Outside ? "outside"
                        : e.verdict == Verdict::Near || e.verdict == Verdict::NotProved
                            ? "near"
                            : "unmeasured";
    verdict->setForeground(theme_.color(color));
    requirements_->setItem(row, 4, verdict);
  }
  QStringList told;
  for (const Verdict v :
       {Verdict::Within, Verdict::Near, Verdict::NotProved, Verdict::Outside, Verdict::Unmeasured})
    if (const int n = counts[static_cast<std::size_t>(v)])
      told << QString("%1 %2").arg(n).arg(text(words(v)));
  summary_->setText(QString("%1 of %2 points used, rms %3 mm. %4.")
                        .arg(thousands(placed_->gathered.used()))
                        .arg(thousands(placed_->points))
                        .arg(QString::fromStdString(figure(placed_->gathered.rms, 4)))
                        .arg(told.join(", ")));
}

void CloudWindow::take() {
  if (!placed_ || jobs_.busy()) return;
  document_.bringInCloud(cloudRunText(document_.plan(), *placed_, *file_, unit_used_, used_),
                         file_->name, name_->text().trimmed().toStdString());
  accept();
}

bool CloudWindow::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride) {
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->modifiers() == Qt::ControlModifier &&
        (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter)) {
      event->accept();
      return true;
    }
  }
  return QDialog::event(event);
}

void CloudWindow::keyPressEvent(QKeyEvent* event) {
  const bool enter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (enter && event->modifiers() & Qt::ControlModifier) {
    if (take_->isEnabled()) take();
    return;
  }
  // What runs is stopped first; once more closes.
  if (event->key() == Qt::Key_Escape && jobs_.busy()) return stop_->click();
  QDialog::keyPressEvent(event);
}

} // namespace alder::app
