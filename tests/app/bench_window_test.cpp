// The Bench desk and the recipe book, driven as a user would.
#include "registry.h"
#include "timeline/step_list.h"
#include "window_driver.h"
#include <QComboBox>
#include <QLabel>
#include <QPushButton>

using namespace alder;
using namespace alder::app;

class BenchWindowTest : public WindowDriver {
  Q_OBJECT

  const Bench& bench() { return document().plan().bench; }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
  }
  void init() {
    document().clearSelection();
    document().setBenchFocus({});
    window_->setDesk(Desk::Bench);
    QTest::qWait(30);
  }
  void cleanup() { undoAll(); }
  void cleanupTestCase() { window_.reset(); }

  void theBenchHasTheHeight() {
    auto* bottom = window_->findChild<QWidget*>("bottom");
    QVERIFY(bottom);
    window_->setDesk(Desk::Routine);
    QTest::qWait(30);
    const int elsewhere = bottom->height();
    window_->setDesk(Desk::Bench);
    QTest::qWait(30);
    QVERIFY2(bottom->height() < elsewhere / 2, qPrintable(QString::number(bottom->height())));
    window_->setDesk(Desk::Verdict);
    QTest::qWait(30);
    QCOMPARE(bottom->height(), elsewhere);
  }
  void anotherBenchAndBack() {
    choose("shippedBench", "lapwing");
    QCOMPARE(bench().name, std::string("Lapwing bench"));
    QVERIFY2(told().contains("not reached here"), qPrintable(told()));
    QVERIFY(!document().isOpen() || document().unsaved());
    press("undo");
    QVERIFY(idle());
    QCOMPARE(bench().name, std::string("Curlew bench"));
    QVERIFY(document().routed()->rehearsal.clear());
  }

  // A stylus is unfolded, seen, and built by its elements; what does not assemble is refused.
  void stylusByItsElements() {
    const QImage plain = window_->stage().view().grabFramebuffer();
    click("stylus0");
    QCOMPARE(document().benchFocus().stylus, 0);
    QTest::qWait(300);
    QVERIFY(window_->stage().view().grabFramebuffer() != plain);
    type("tip0_element0_length", "40");
    QVERIFY(idle());
    QCOMPARE(bench().styli[0].length(), 40.0);
    type("tip0_element0_diameter", "3");
    QVERIFY(told().contains("must be below that of the ball"));
    QCOMPARE(bench().styli[0].tips[0].elements[0].diameter, 1.8);
    type("tip0_element0_far", "2.4");
    QVERIFY(idle());
    QVERIFY(bench().styli[0].tips[0].rods.size() > 5); // a cone
    click("tip0_addElement");
    QCOMPARE(bench().styli[0].tips[0].elements.size(), std::size_t(4));
    QCOMPARE(bench().styli[0].length(), 60.0);
    choose("tip0_element1_part", "shaft");
    QCOMPARE(bench().styli[0].tips[0].elements[1].part, std::string("shaft"));
    choose("tip0_element1_part", "remove it");
    QCOMPARE(bench().styli[0].tips[0].elements.size(), std::size_t(3));
    type("stylusName", "short ø3 cone");
    QVERIFY(idle());
    QCOMPARE(bench().rack->ports[0].stylus, std::string("short ø3 cone"));
    for (const Feature& f : document().plan().features)
      QVERIFY(f.covered() || document().plan().nominal(f.id).isConstructed());
    // What the controller calls it follows the stylus.
    type("tip0_tool", "T7");
    QVERIFY(idle());
    QCOMPARE(bench().controller.toolFor("short ø3 cone", "1", 0, 0)->name, std::string("T7"));
    type("stylusName", "short ø3");
    QVERIFY(idle());
    QCOMPARE(bench().controller.toolFor("short ø3", "1", 0, 0)->name, std::string("T7"));
    type("tip0_tool", "ø7");
    QVERIFY(told().contains("printable ASCII"));
    type("tip0_tool", "");
    QVERIFY(idle());
    QVERIFY(bench().controller.tools.empty());
    // too long for the probe: said at once
    type("tip0_element0_length", "160");
    QVERIFY(idle());
    QVERIFY(cardSays("carries up to 150 mm"));
    undoAll();
    QCOMPARE(bench().styli[0].length(), 32.0);
  }
  void tipsAndStyliComeAndGo() {
    click("stylus0");
    click("addTip");
    QCOMPARE(bench().styli[0].tips.size(), std::size_t(2));
    QVERIFY(!bench().styli[0].tips[1].straight());
    click("tip1_dropTip");
    click("copyStylus");
    QCOMPARE(bench().styli.size(), std::size_t(4));
    QCOMPARE(document().benchFocus().stylus, 3);
    click("dropStylus");
    QCOMPARE(bench().styli.size(), std::size_t(3));
    // taking away one that is in use leaves its features without
    click("stylus0");
    const auto covered = [&] {
      int n = 0;
      for (const Feature& f : document().plan().features)
        n += f.covered();
      return n;
    };
    const int before = covered();
    click("dropStylus");
    QVERIFY(covered() < before);
    press("undo");
    QVERIFY(idle());
    QCOMPARE(covered(), before);
  }

  void fixtureFromTheKit() {
    choose("addPiece", "rest");
    QCOMPARE(bench().fixture.bodies.size(), std::size_t(7));
    QCOMPARE(document().benchFocus().body, std::string("rest 4"));
    QVERIFY(document().setupFindings().empty());
    type("atX", "475"); // under the flange and into it
    type("atY", "600");
    type("piece_height_mm", "120");
    QVERIFY(idle());
    QVERIFY(cardSays("The part and rest 4 stand in each other"));
    type("piece_height_mm", "0");
    QVERIFY(told().contains("must be above 0"));
    click("copyBody");
    QCOMPARE(document().benchFocus().body, std::string("rest 5"));
    click("dropBody");
    QCOMPARE(bench().fixture.bodies.size(), std::size_t(7));
    undoAll();
    QVERIFY(QTest::qWaitFor([&] { return document().setupFindings().empty(); }, 10000));
  }
  // A click on a body unfolds it; a clamp opens, and the way has more room.
  void clampsOpen() {
    click("body4");
    QCOMPARE(document().benchFocus().body, std::string("clamp 1"));
    choose("bodyOpen", "open");
    QVERIFY(bench().fixture.bodies[4].open);
    QVERIFY(document().undoText().contains("Open clamp 1"));
    choose("bodyOpen", "closed");
    QVERIFY(!bench().fixture.bodies[4].open);
  }
  void pickedInTheStage() {
    auto& view = window_->stage().view();
    const Vec3 on = bench().fixture.bodies[0].mesh.box().max() - Vec3(8, 200, 0);
    const QPointF at = window_->stage().project(on);
    QTest::mouseClick(&view, Qt::LeftButton, {}, at.toPoint());
    QCOMPARE(document().benchFocus().body, std::string("plate"));
  }

  // The part is lifted, and set down again by its face on a rest; then turned in place.
  void partSetAgainstItsSeats() {
    const Frame before = document().plan().placement;
    type("originZ", "150");
    QVERIFY(idle());
    const NominalFeature& face = document().plan().nominal(FeatureId{0});
    QCOMPARE(face.ideal.type, SurfaceType::Plane);
    document().selectFeatures({face.id});
    choose("mate", "rest 1, top"); // it turns over, if it must
    QVERIFY(document().mates().size() == 1);
    const Frame now = document().plan().placement;
    QVERIFY((turn(now, face.ideal.direction) + Vec3::UnitZ()).norm() < 1e-6);
    QVERIFY(std::abs((now * face.ideal.point).z() - 90) < 1e-4);
    QVERIFY(!now.isApprox(before));
    QVERIFY(cardSays("Holds: "));
    click("letGo");
    QVERIFY(document().mates().empty());
    const Vec3 middle = document().plan().part->mesh.box().center();
    const Vec3 at = document().plan().placement * middle;
    type("turnX", "90");
    QVERIFY(idle());
    QVERIFY((document().plan().placement * middle - at).norm() < 1e-9);
    type("originX", "-300");
    QVERIFY(idle());
    QVERIFY(cardSays("beyond the travel in X"));
  }

  void sidesAndPairs() {
    choose("barleft", "barred");
    QVERIFY(document().plan().shell.barred[0]);
    choose("pairMoving", "ram");
    choose("pairStill", "clamp 1");
    click("addPair");
    QVERIFY(told().contains("Say why"));
    choose("pairMoving", "ram");
    choose("pairStill", "clamp 1");
    auto* why = field<QLineEdit>("pairReason");
    QTest::keyClicks(why, "it is lowered");
    click("addPair");
    QCOMPARE(document().plan().pairs.size(), std::size_t(1));
    QVERIFY(document().plan().pairs[0].off);
    choose("pairStill", "plate");
    QTest::keyClicks(field<QLineEdit>("pairReason"), "5");
    click("addPair");
    QCOMPARE(document().plan().pairs[1].margin, 5.0);
    window_->setDesk(Desk::Rehearsal); // said wherever "clear" is said
    QVERIFY(cardSays("ram and clamp 1: not checked (it is lowered)"));
    QVERIFY(cardSays("plate: 5 mm apart"));
    window_->setDesk(Desk::Bench);
    click("dropPair0");
    QCOMPARE(document().plan().pairs.size(), std::size_t(1));
  }

  // From a feature into the book, named, conditioned, and followed by its like.
  void recipesAreKept() {
    window_->setDesk(Desk::Routine);
    FeatureId bore;
    for (const NominalFeature& n : document().plan().spec.features)
      if (n.name == "Bore ø11 · 2") bore = n.id;
    document().selectFeatures({bore});
    type("perRow", "5");
    QVERIFY(idle());
    QVERIFY(cardSays("Otherwise than it: count"));
    click("keepRecipe");
    QCOMPARE(document().plan().book.entries.size(), std::size_t(1));
    QVERIFY(!cardSays("Otherwise"));
    document().clearSelection();
    click("entry0");
    type("entryName", "pitch circle");
    QVERIFY(idle());
    QCOMPARE(document().plan().feature(bore).recipe.name, std::string("pitch circle"));
    type("entrySizeFrom", "10");
    type("entrySizeTo", "12");
    type("entryPerRow", "6");
    QVERIFY(idle());
    click("applyEntry");
    int follow = 0;
    for (const Feature& f : document().plan().features)
      follow += f.recipe.name == "pitch circle" && f.recipe.per_row == 6;
    QCOMPARE(follow, 6);
    type("entrySizeTo", "9");
    QVERIFY(told().contains("must not lie above the largest"));
    document().selectFeatures({bore});
    choose("followRecipe", "as proposed");
    QVERIFY(document().plan().feature(bore).recipe.name != "pitch circle");
    document().clearSelection();
    click("dropEntry");
    QVERIFY(document().plan().book.entries.empty());
  }
  void scannedInAHelix() {
    window_->setDesk(Desk::Routine);
    FeatureId bore;
    for (const NominalFeature& n : document().plan().spec.features)
      if (n.name == "Bore ø32") bore = n.id;
    document().selectFeatures({bore});
    const auto before = document().plan().feature(bore).touches.size();
    choose("stroke", "scan a helix");
    type("pitch", "2");
    QVERIFY(idle());
    QVERIFY(document().plan().feature(bore).touches.size() > 2 * before);
    QVERIFY(document().routed()->rehearsal.clear());
    type("pitch", "0");
    QVERIFY(told().contains("step of a scan"));
  }

  // A larger ball: touches that have come too near an edge are told and crossed out.
  void touchesThatNoLongerFit() {
    const FeatureId id{0};
    document().selectFeatures({id});
    window_->setDesk(Desk::Routine);
    QVERIFY(!cardSays("from an edge"));
    const int stylus = document().plan().feature(id).access.stylus;
    const QImage before = window_->stage().view().grabFramebuffer();
    QVERIFY(document().editBench("A large ball", [&](Json& bench) {
      bench["styli"][stylus]["tips"][0]["ball_diameter_mm"] = 24;
    }));
    QVERIFY(idle());
    QVERIFY(cardSays("the ball needs 12.00"));
    QTest::qWait(200);
    QVERIFY(window_->stage().view().grabFramebuffer() != before);
  }

  // Where the bench names no place, the part stands on rests, until they are removed.
  void theSupports() {
    choose("shippedBench", "lapwing");
    const auto supports = document().plan().supports.size(), bodies = bench().fixture.bodies.size();
    QVERIFY(supports > 0);
    QCOMPARE(bodies, supports);
    const std::string first = bench().fixture.bodies.front().name;
    choose("addPiece", "rest");
    QCOMPARE(bench().fixture.bodies.size(), bodies + 1);
    QCOMPARE(document().plan().supports.size(), supports);
    document().setBenchFocus({-1, first});
    click("dropBody");
    QVERIFY(document().plan().supports.empty());
    QCOMPARE(bench().fixture.bodies.size(), std::size_t(1));
    press("undo");
    QVERIFY(idle());
    QCOMPARE(bench().fixture.bodies.size(), bodies + 1);
  }

  // Ctrl and Shift select several blocks, which are dragged and entered together.
  void severalInTheTimeline() {
    window_->setDesk(Desk::Routine);
    const auto order = measured();
    auto& timeline = window_->timeline();
    const auto at = [&](FeatureId id) { return timeline.blockOf(id).center().toPoint(); };
    QTest::mouseClick(&timeline, Qt::LeftButton, {}, at(order[8]));
    QTest::mouseClick(&timeline, Qt::LeftButton, Qt::ShiftModifier, at(order[10]));
    QCOMPARE(document().selection().features.size(), std::size_t(3));
    QTest::mouseClick(&timeline, Qt::LeftButton, Qt::ControlModifier, at(order[9]));
    QCOMPARE(document().selection().features.size(), std::size_t(2));
    press("hopOver");
    QVERIFY(idle());
    for (const std::size_t k : {8u, 10u})
      QCOMPARE(document().plan().feature(order[k]).entry, HopMode::Over);
    dragBefore(order[10], order[6]);
    const auto now = measured();
    QCOMPARE(now[6], order[8]);
    QCOMPARE(now[7], order[10]);
    QCOMPARE(now[8], order[6]);
  }
  void severalInTheList() {
    window_->setDesk(Desk::Routine);
    press("stepList");
    auto* list = window_->findChild<StepList*>();
    QVERIFY(list);
    const auto order = measured();
    std::vector<int> rows;
    const auto& steps = document().routed()->way.steps;
    for (std::size_t i = 0; i < steps.size(); ++i)
      if (steps[i].kind == StepKind::Measure &&
          (steps[i].feature == order[8] || steps[i].feature == order[9]))
        rows.push_back(static_cast<int>(i));
    QCOMPARE(rows.size(), std::size_t(2));
    list->clearSelection();
    for (const int row : rows)
      list->selectionModel()->select(list->model()->index(row, 0),
                                     QItemSelectionModel::Select | QItemSelectionModel::Rows);
    QCOMPARE(document().selection().features.size(), std::size_t(2));
    QTest::keyClick(list, Qt::Key_Up, Qt::AltModifier);
    QVERIFY(idle());
    QCOMPARE(measured()[7], order[8]);
    QCOMPARE(measured()[8], order[9]);
    QCOMPARE(measured()[9], order[7]);
    press("stepList");
  }
};
ALDER_TEST(BenchWindowTest)
#include "bench_window_test.moc"
