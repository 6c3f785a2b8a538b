// alderpoint-shots FOLDER: drives the real window with the demo data and writes one picture of each
// main view. Run by scripts/shots under a virtual display of 1280x800.
#include "base/files.h"
#include "results/cloud_window.h"
#include "shell/main_window.h"
#include "theme/marks_image.h"

#include <QApplication>
#include <QElapsedTimer>
#include <QPushButton>
#include <QScreen>
#include <QScrollArea>
#include <QSettings>
#include <QTemporaryDir>
#include <QTest>
#include <cstdio>

using namespace alder;
using namespace alder::app;

namespace {

class Shooter {
 public:
  Shooter(MainWindow& window, QString folder)
      : window_(window)
      , folder_(std::move(folder)) {}

  bool waitIdle() {
    QElapsedTimer timer;
    timer.start();
    do
      QTest::qWait(50);
    while ((window_.document().jobs().busy() || !window_.document().routed() ||
            window_.document().tryingVerdicts() || window_.document().judging()) &&
           timer.elapsed() < 60000);
    QTest::qWait(400);
    return window_.document().routed() != nullptr;
  }

  void take(const char* name) {
    QTest::qWait(500);
    window_.repaint();
    QTest::qWait(300);
    const QPixmap picture = window_.screen()->grabWindow(window_.winId());
    const QString path = folder_ + "/" + name + ".png";
    if (!picture.save(path)) failed_ = true;
    std::printf("%s\n", qPrintable(path));
  }
  // Another window than the main one.
  void takeOf(QWidget& other, const char* name) {
    QTest::qWait(300);
    const QString path = folder_ + "/" + name + ".png";
    if (!other.grab().save(path)) failed_ = true;
    std::printf("%s\n", qPrintable(path));
  }
  void keep(const QImage& picture, const char* name) {
    const QString path = folder_ + "/" + name + ".png";
    if (!picture.save(path)) failed_ = true;
    std::printf("%s\n", qPrintable(path));
  }
  bool failed() const { return failed_; }

 private:
  MainWindow& window_;
  QString folder_;
  bool failed_ = false;
};

QString data(const char* name) {
  return QString::fromStdString((dataFolder() / "demo" / "data" / name).string());
}

std::optional<RequirementId> balloon(const Document& document, int number) {
  for (const Requirement& r : document.plan().spec.requirements)
    if (r.balloon == number) return r.id;
  return {};
}

struct Session {
  MainWindow& window;
  Document& document;
  Shooter& shooter;
  const Theme& theme;
};

void select(Document& document, int number) {
  if (const auto id = balloon(document, number)) document.selectRequirement(*id);
}

void takePart(Session& on) {
  [[maybe_unused]] MainWindow& window = on.window;
  [[maybe_unused]] Document& document = on.document;
  Shooter& shooter = on.shooter;
  select(document, 3);
  QTest::qWait(200);
  if (auto* indicator = window.findChild<QWidget*>("indicator")) {
    indicator->setFocus();
    QTest::keyClick(indicator, Qt::Key_End);
    QTest::keyClicks(indicator, "q"); // no such datum: a remark
  }
  shooter.take("part");
  if (auto* indicator = window.findChild<QWidget*>("indicator"))
    QTest::keyClick(indicator, Qt::Key_Escape);
}

void takeBench(Session& on) {
  [[maybe_unused]] MainWindow& window = on.window;
  [[maybe_unused]] Document& document = on.document;
  Shooter& shooter = on.shooter;
  window.setDesk(Desk::Bench);
  document.clearSelection();
  window.stage().view().fitAll();
  shooter.take("bench");
  document.setBenchFocus({-1, "clamp 1"});
  QTest::qWait(200);
  if (auto* area = window.findChild<QScrollArea*>("cardArea"))
    if (auto* link = window.findChild<QWidget*>("addPiece")) area->ensureWidgetVisible(link, 0, 40);
  shooter.take("fixture");
  document.setBenchFocus({});
  document.qualify(document.tipsToQualify(), false);
  shooter.waitIdle();
  QTest::qWait(100);
  if (auto* area = window.findChild<QScrollArea*>("cardArea"))
    if (auto* link = window.findChild<QWidget*>("qualifyMoved"))
      area->ensureWidgetVisible(link, 0, 40);
  shooter.take("qualification");
}

void takeRoutine(Session& on) {
  [[maybe_unused]] MainWindow& window = on.window;
  [[maybe_unused]] Document& document = on.document;
  Shooter& shooter = on.shooter;
  window.setDesk(Desk::Routine);
  document.clearSelection();
  select(document, 9);
  const QRectF block = window.timeline().blockOf(document.selection().features.front());
  if (!block.isEmpty())
    QTest::mouseClick(&window.timeline(), Qt::LeftButton, {}, block.center().toPoint());
  document.setPlayhead(document.playhead() + 2);
  window.stage().frameSelection();
  window.stage().view().fitAll();
  shooter.take("routine");
  // Several features have no map of their own.
  document.selectFeatures({document.selection().features.front()});
  (void)QTest::qWaitFor([&] { return window.findChild<QWidget*>("reachPlot") != nullptr; }, 20000);
  QTest::qWait(300);
  if (auto* area = window.findChild<QScrollArea*>("cardArea"))
    if (auto* plot = window.findChild<QWidget*>("reachPlot"))
      area->ensureWidgetVisible(plot, 0, 60);
  shooter.take("reach");
}

void takeSteps(Session& on) {
  [[maybe_unused]] MainWindow& window = on.window;
  [[maybe_unused]] Document& document = on.document;
  Shooter& shooter = on.shooter;
  document.insertStep(WaitStep{"Take the clamp off", "clamp 1", true, 30});
  shooter.waitIdle();
  for (const Step& s : document.routed()->way.steps)
    if (s.kind == StepKind::Wait)
      document.setPlayhead(document.routed()->rehearsal.times[static_cast<std::size_t>(s.last)] +
                           6);
  shooter.take("steps");
  document.undo();
  shooter.waitIdle();
  while (!document.undoText().isEmpty())
    document.undo();
  shooter.waitIdle();
}

bool takeRehearsal(Session& on) {
  [[maybe_unused]] MainWindow& window = on.window;
  [[maybe_unused]] Document& document = on.document;
  Shooter& shooter = on.shooter;
  // The variant: one hop forced close, which hits a clamp.
  document.open(data("heron-clamp.alder"));
  QTest::qWait(300);
  if (!shooter.waitIdle()) return false;
  window.setDesk(Desk::Rehearsal);
  window.timeline().nextClash();
  shooter.take("rehearsal-clash");
  document.open(data("heron.alder"));
  QTest::qWait(300);
  if (!shooter.waitIdle()) return false;
  window.setOperating(true);
  if (auto* start = window.findChild<QPushButton*>("operator0")) start->click();
  QElapsedTimer running;
  running.start();
  while (window.operatorView().worker().scene().done < 40 && running.elapsed() < 30000)
    QTest::qWait(20);
  window.operatorView().worker().pause(true);
  shooter.take("operator");
  window.operatorView().worker().stop();
  while (window.operatorView().running())
    QTest::qWait(20);
  window.setOperating(false);
  return true;
}

// The desk on which a report is laid out, and a page of each layout that comes with the program.
void takeReport(Session& on) {
  ReportEditor& editor = on.window.reportEditor();
  on.window.setComposing(true);
  const auto composed = [&] {
    (void)QTest::qWaitFor([&] { return !editor.composing() && !editor.composed().pages.empty(); },
                          30000);
    QTest::qWait(200);
  };
  editor.changeArticle("First article", [&](FirstArticle& a) {
    a[ArticleField::Identifier] = "FAI-{serial}", a[ArticleField::ProcessReference] = "RT-4";
    a[ArticleField::DrawingNumber] = "TW-40-D1", a[ArticleField::DrawingRevision] = "B";
    a[ArticleField::Organization] = "Saltmarsh Instruments";
    a.set({on.document.plan().spec.requirements[2].id, "Plug gauge G-7", "", ""});
    a.set({on.document.plan().spec.requirements[8].id, "", "NCR-0815", "to be reworked"});
  });
  // Three upright pages, below them two forms of the first article, the second one landscape.
  constexpr int kWide = 410, kHigh = 580, kGap = 12;
  QImage sheet(3 * kWide + 4 * kGap, 2 * kHigh + 3 * kGap, QImage::Format_RGB32);
  sheet.fill(on.theme.color("track"));
  QPainter p(&sheet);
  struct Shown {
    const char* layout;
    std::size_t page;
    int column, row;
  };
  for (const Shown& s : {Shown{"full", 0, 0, 0}, Shown{"short", 0, 1, 0}, Shown{"failed", 1, 2, 0},
                         Shown{"first-article", 0, 0, 1}, Shown{"first-article", 2, 1, 1}}) {
    editor.choose(s.layout);
    composed();
    const PaperPage& shown =
        editor.composed().pages[std::min(s.page, editor.composed().pages.size() - 1)];
    const bool landscape = shown.size.width > shown.size.height;
    const int wide = landscape ? 2 * kWide + kGap : kWide;
    const double scale = std::min(wide / shown.size.width, kHigh / shown.size.height);
    const QImage image = imageOf(shown, scale, on.theme);
    const QPoint corner(kGap + s.column * (kWide + kGap), kGap + s.row * (kHigh + kGap));
    p.fillRect(QRect(corner, image.size()), Qt::white);
    p.drawImage(corner, image);
  }
  p.end();
  on.document.undo();
  on.shooter.keep(sheet, "report-pages");
  editor.choose("full");
  composed();
  const auto& items = editor.layout().pages[0].items;
  for (std::size_t i = 0; i < items.size(); ++i)
    if (std::holds_alternative<TableItem>(items[i].body)) editor.select(LayoutPlace{0, i});
  on.shooter.take("report-layout");
  on.window.setComposing(false);
}

void takeVerdict(Session& on) {
  [[maybe_unused]] MainWindow& window = on.window;
  [[maybe_unused]] Document& document = on.document;
  Shooter& shooter = on.shooter;
  window.setDesk(Desk::Verdict);
  for (int seed = 1; seed <= 6; ++seed) {
    document.run(seed == 6 ? data("heron-defects.json") : QString(),
                 static_cast<std::uint64_t>(seed));
    shooter.waitIdle();
  }
  select(document, 9);
  shooter.take("verdict");
  select(document, 4);
  window.stage().frameSelection();
  document.setSection(SectionWay::AlongFeature);
  shooter.take("verdict-form");
  document.setSection({});
  document.clearSelection();
  takeReport(on);
  document.readResults(data("heron-report.txt"));
  QWidget* results = nullptr;
  const auto read = [&] {
    for (QWidget* top : QApplication::topLevelWidgets())
      if (top->objectName() == "results") results = top;
    return results != nullptr;
  };
  if (!QTest::qWaitFor(read, 30000)) return;
  QTest::qWait(500);
  QTest::keyClick(results, Qt::Key_J, Qt::ControlModifier);
  shooter.takeOf(*results, "results");
  results->close();
  window.openCloud(data("heron-scan.ply"));
  CloudWindow* cloud = window.findChild<CloudWindow*>();
  const auto ended = [&] {
    return cloud && QTest::qWaitFor([&] { return !cloud->busy(); }, 120000);
  };
  if (!ended()) return;
  QTest::keyClick(cloud, Qt::Key_Return);
  if (!ended()) return;
  shooter.takeOf(*cloud, "cloud");
  QTest::keyClick(cloud, Qt::Key_Return, Qt::ControlModifier);
  shooter.waitIdle();
}

// A part without tolerances beside its drawing, most of it taken.
void takeDrawing(Session& on) {
  OpenDrawings& drawings = on.window.drawings();
  on.document.open(data("heron-plain.step"), data("bench.json"));
  on.shooter.waitIdle();
  on.window.addDrawing(data("heron-drawing.pdf"));
  const auto understood = [&] {
    const auto* read = drawings.read();
    return read && read->whole() && !read->ties.suggestions.empty();
  };
  if (!QTest::qWaitFor(understood, 30000)) return;
  std::vector<std::size_t> upper; // of the first page
  const auto& all = drawings.read()->reading.proposals;
  for (std::size_t i = 0; i < all.size(); ++i)
    if (all[i].page == 1 && all[i].box.middle().y() > 60) upper.push_back(i);
  drawings.take(upper);
  on.shooter.waitIdle();
  for (const Requirement& r : on.document.plan().spec.requirements)
    if (describe(r).starts_with("perpendicularity ø0.03")) on.document.selectRequirement(r.id);
  on.shooter.take("drawing");
}

// The same part a revision later, half gone through.
void takeRevision(Session& on) {
  OpenRevision& revision = on.window.revision();
  on.window.drawings().takeAllSure();
  on.shooter.waitIdle();
  on.window.openRevision({data("heron-plain-c.step"), data("heron-drawing-c.pdf")});
  if (!QTest::qWaitFor([&] { return revision.revision() != nullptr; }, 30000)) return;
  RevisionPane& pane = on.window.revisionPane();
  for (int i = 0; i < 5; ++i)
    pane.decideCurrent(Decision::Taken);
  if (!QTest::qWaitFor([&] { return !pane.now().image().isNull(); }, 10000)) return;
  on.shooter.take("revision");
  revision.giveUp();
}

// The second part: other ways for it to stand, and its second set-up.
void takeSetups(Session& on) {
  on.document.open(data("redshank.alder"));
  if (!on.shooter.waitIdle()) return;
  on.window.setDesk(Desk::Bench);
  on.document.clearSelection();
  on.window.stage().view().fitAll();
  on.document.tryOtherStandings();
  on.shooter.waitIdle();
  if (auto* area = on.window.findChild<QScrollArea*>("cardArea"))
    if (auto* link = on.window.findChild<QWidget*>("layOn1"))
      area->ensureWidgetVisible(link, 0, 200);
  on.shooter.take("standings");
  on.document.workOn(on.document.plan().setups.back().id);
  on.shooter.waitIdle();
  on.window.stage().view().fitAll();
  on.shooter.take("set-up");
}

} // namespace

int main(int argc, char** argv) {
  QElapsedTimer since_start;
  since_start.start();
  OcctView::prepare();
  QApplication app(argc, argv);
  const bool dark = argc > 2 && QString(argv[2]) == "--dark";
  auto theme = Theme::load(dark);
  if (argc < 2 || !theme) return 2;
  QApplication::setFont(theme->text());
  const QTemporaryDir runs; // not those of the user
  qputenv("ALDERPOINT_RUNS", runs.path().toUtf8());
  qputenv("ALDERPOINT_STATE", (runs.path() + "/unsaved").toUtf8());
  QSettings::setDefaultFormat(QSettings::IniFormat);
  QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, runs.path());
  MainWindow window(*theme);
  window.setGeometry(0, 0, 1280, 800);
  window.show();
  QApplication::setActiveWindow(&window); // no window manager does it
  Shooter shooter(window, argv[1]);
  Document& document = window.document();
  // What a person waits for: the part in the stage.
  bool opened = false, seen = false;
  QObject::connect(&document, &Document::opened, [&] { opened = true; });
  QObject::connect(&window.stage().view(), &QOpenGLWidget::frameSwapped, [&] {
    if (opened && !seen)
      std::printf("first picture after %lld ms\n", static_cast<long long>(since_start.elapsed()));
    seen |= opened;
  });
  document.open(data("heron.step"), data("bench.json"));
  if (!shooter.waitIdle()) return 1;

  Session on{window, document, shooter, *theme};
  takePart(on);
  takeBench(on);
  takeRoutine(on);
  takeSteps(on);
  if (!takeRehearsal(on)) return 1;
  takeVerdict(on);
  takeDrawing(on);
  takeRevision(on);
  takeSetups(on);
  return shooter.failed() ? 1 : 0;
}
