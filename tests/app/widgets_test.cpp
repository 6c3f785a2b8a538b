#include "base/units.h"
#include "card/fields.h"
#include "card/requirement/callout_label.h"
#include "judge/judge.h"
#include "requirement/limits.h"
#include "requirements/progress_head.h"
#include "requirements/row_delegate.h"
#include "shell/command_box.h"
#include "support.h"
#include "theme/symbols.h"
#include "timeline/parts_chart.h"
#include "timeline/short_label.h"
#include "timeline/step_list.h"

#include <QApplication>
#include <QSignalSpy>

using namespace alder;
using namespace alder::app;

// The parts of the window by themselves: fields, symbols, list and chart.
class WidgetsTest : public QObject {
  Q_OBJECT
  std::unique_ptr<Theme> theme_;

  static QImage canvas(int w = 40, int h = 40) {
    QImage i(w, h, QImage::Format_ARGB32);
    i.fill(Qt::white);
    return i;
  }
  static int inked(const QImage& i) {
    int n = 0;
    for (int y = 0; y < i.height(); ++y)
      for (int x = 0; x < i.width(); ++x)
        n += qGray(i.pixel(x, y)) < 200;
    return n;
  }
  static bool idle(Document& d) {
    return QTest::qWaitFor([&] { return !d.jobs().busy() && d.routed(); }, 600000);
  }

 private slots:
  void initTestCase() {
    auto theme = Theme::load(false);
    QVERIFY(theme.has_value());
    theme_ = std::make_unique<Theme>(*theme);
  }
  void palettesAreComplete() {
    auto dark = Theme::load(true);
    QVERIFY(dark.has_value());
    for (const char* name :
         {"paper",       "panel",     "ink",          "second", "line",      "accent",
          "accent_soft", "field",     "within",       "near",   "outside",   "unmeasured",
          "turn",        "swap",      "wait",         "hop",    "hop_close", "bar",
          "track",       "stage_top", "stage_bottom", "part",   "part_grey", "fixture",
          "tool",        "ball",      "low",          "middle", "high"}) {
      QVERIFY2(theme_->color(name) != QColor(255, 0, 255), name);
      QVERIFY2(dark->color(name) != QColor(255, 0, 255), name);
    }
  }
  // Text on what it stands on: at least 4.5 to 1 (WCAG 2, relative luminance).
  void textCanBeRead_data() {
    QTest::addColumn<bool>("dark");
    QTest::newRow("light") << false;
    QTest::newRow("dark") << true;
  }
  void textCanBeRead() {
    QFETCH(bool, dark);
    auto theme = Theme::load(dark);
    QVERIFY(theme.has_value());
    const auto luminance = [](const QColor& c) {
      const auto channel = [](double v) {
        return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
      };
      return 0.2126 * channel(c.redF()) + 0.7152 * channel(c.greenF()) +
             0.0722 * channel(c.blueF());
    };
    const auto contrast = [&](const char* a, const char* b) {
      const double x = luminance(theme->color(a)), y = luminance(theme->color(b));
      return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
    };
    for (const auto& [ink, ground] : {std::pair{"ink", "panel"},
                                      {"ink", "paper"},
                                      {"ink", "field"},
                                      {"ink", "accent_soft"},
                                      {"second", "panel"},
                                      {"second", "paper"},
                                      {"ink", "bar"},
                                      {"ink", "wait"},
                                      {"accent", "panel"},
                                      {"outside", "panel"}})
      QVERIFY2(contrast(ink, ground) >= 4.5,
               qPrintable(QString("%1 on %2: %3").arg(ink).arg(ground).arg(contrast(ink, ground))));
  }
  // Each characteristic has its own symbol.
  void symbolsDiffer() {
    QList<QImage> seen;
    for (int k = 0; k <= static_cast<int>(Characteristic::TotalRunout); ++k) {
      QImage i = canvas();
      QPainter p(&i);
      p.setPen(QPen(Qt::black, 1.5));
      drawSymbol(p, {20, 20}, 28, static_cast<Characteristic>(k));
      p.end();
      QVERIFY2(inked(i) > 15, qPrintable(QString::number(k)));
      for (const QImage& other : seen)
        QVERIFY(other != i);
      seen << i;
    }
  }
  // Verdicts differ by shape, not by colour alone: also in grey.
  void verdictsDifferByShape() {
    QList<QImage> seen;
    for (Verdict v : {Verdict::Within, Verdict::Near, Verdict::Outside, Verdict::Unmeasured}) {
      QImage i = canvas();
      QPainter p(&i);
      theme_->drawVerdict(p, {20, 20}, 10, v);
      p.end();
      QImage shape = canvas();
      for (int y = 0; y < 40; ++y)
        for (int x = 0; x < 40; ++x)
          shape.setPixel(x, y, qGray(i.pixel(x, y)) < 225 ? 0xff000000 : 0xffffffff);
      QVERIFY(inked(shape) > 20);
      for (const QImage& other : seen)
        QVERIFY(other != shape);
      seen << shape;
    }
  }
  void deviationColoursAreTwoSided() {
    QCOMPARE(theme_->deviationColor(0), theme_->color("middle"));
    QCOMPARE(theme_->deviationColor(1), theme_->color("high"));
    QCOMPARE(theme_->deviationColor(-3), theme_->color("low"));
    QVERIFY(theme_->deviationColor(0.5) != theme_->deviationColor(-0.5));
  }
  void calloutsEndWhereTheyAreDrawn() {
    for (const Requirement& r : test::heronPlan().spec.requirements) {
      QImage i = canvas(500, 40);
      QPainter p(&i);
      const double end = drawCallout(p, *theme_, {10, 20}, r, 20);
      p.end();
      int last = 0;
      for (int x = 0; x < 500; ++x)
        for (int y = 0; y < 40; ++y)
          if (qGray(i.pixel(x, y)) < 160) last = x;
      QVERIFY2(std::abs(last - end) < 6, describe(r).c_str());
    }
  }
  // Cut names still tell what differs.
  void shortLabels() {
    const QFontMetricsF m(theme_->text(8.5));
    const auto room = [&](const char* text) { return m.horizontalAdvance(text) + 0.5; };
    const QString bore = "Bore ø11 · 3", angles = "short ø3 · A90 B150";
    QCOMPARE(shortLabel(bore, m, room("Bore ø11 · 3")), bore);
    QCOMPARE(shortLabel(bore, m, room("ø11 · 3")), QString("ø11 · 3"));
    QCOMPARE(shortLabel(bore, m, room("3")), QString("3"));
    QCOMPARE(shortLabel("Plane · 4", m, room("4") + 2), QString("4"));
    QCOMPARE(shortLabel("Plane · 4", m, room("Pl… 4")), QString("Pl… 4"));
    QCOMPARE(shortLabel(angles, m, room("A90 B150")), QString("A90 B150"));
    QCOMPARE(shortLabel(angles, m, room("B150")), QString("B150"));
    QCOMPARE(shortLabel(angles, m, 2), QString());
    for (double width = 0; width < 120; width += 3)
      for (const QString& text : {bore, angles, QString("Housing"), QString("Pitch circle 1")})
        QVERIFY(m.horizontalAdvance(shortLabel(text, m, width)) <=
                std::max(width, m.horizontalAdvance("…")));
  }
  // Each cell of a row has its head over it.
  void headsStandOverTheirCells() {
    QWidget both;
    both.resize(330, 200);
    auto* list = new QListView(&both);
    auto* made = new ProgressHead(*list, *theme_);
    made->setParent(&both);
    made->setGeometry(200, 0, 130, made->height());
    list->setGeometry(0, 50, 330, 150);
    both.show();
    QVERIFY(QTest::qWaitForWindowExposed(&both));
    ProgressHead& head = *made;
    QImage image(head.size(), QImage::Format_ARGB32);
    image.fill(Qt::white);
    head.render(&image);
    int dark = 0;
    for (int y = 0; y < image.height(); ++y)
      for (int x = 0; x < image.width(); ++x)
        dark += qGray(image.pixel(x, y)) < 200;
    QVERIFY2(dark > 60, qPrintable(QString::number(dark)));
    for (const ProgressCell& cell : kProgressCells)
      QVERIFY(head.accessibleName().contains(cell.head));
  }
  void quantityFields() {
    QuantityEdit edit(Quantity::Length, 2);
    QSignalSpy entered(&edit, &QuantityEdit::entered);
    edit.setValue(2);
    QCOMPARE(edit.text(), QString("2.00 mm"));
    const auto type = [&](const char* t) {
      edit.selectAll();
      QTest::keyClicks(&edit, t);
    };
    type("1in/2");
    QVERIFY(!edit.property("bad").toBool());
    QTest::keyClick(&edit, Qt::Key_Return);
    QCOMPARE(entered.count(), 1);
    NEAR(entered[0][0].toDouble(), 12.7, 1e-12);
    QCOMPARE(edit.text(), QString("12.70 mm"));
    type("7 kg");
    QVERIFY(edit.property("bad").toBool());
    QTest::keyClick(&edit, Qt::Key_Return); // what cannot be read is given back
    QCOMPARE(edit.text(), QString("12.70 mm"));
    QCOMPARE(entered.count(), 1);
    QTest::keyClick(&edit, Qt::Key_Up);
    NEAR(entered[1][0].toDouble(), 12.8, 1e-9);
    QTest::keyClick(&edit, Qt::Key_Return); // unchanged: nothing is said
    QCOMPARE(entered.count(), 2);
    QuantityEdit angle(Quantity::Angle, 1);
    angle.setValue(kPi / 2);
    QCOMPARE(angle.text(), QString("90.0°"));
    QuantityEdit depth(Quantity::Length, 2);
    depth.setWordFor(0, "auto");
    depth.setValue(0);
    QCOMPARE(depth.text(), QString("auto"));
    QVERIFY(!depth.property("bad").toBool());
    // An open limit: written by its word or by nothing, and a figure again.
    QuantityEdit limit(Quantity::Length, 3);
    limit.setWordFor(kNoUpper, "none");
    limit.setValue(32.1);
    QSignalSpy limits(&limit, &QuantityEdit::entered);
    for (const auto& [typed, value, shows] : {std::tuple{"none", kNoUpper, "none"},
                                              {"32", 32.0, "32.000 mm"},
                                              {"", kNoUpper, "none"},
                                              {"0", 0.0, "0.000 mm"}}) {
      limit.selectAll();
      QTest::keyClick(&limit, Qt::Key_Delete);
      QTest::keyClicks(&limit, typed);
      QTest::keyClick(&limit, Qt::Key_Return);
      QCOMPARE(limits.back()[0].toDouble(), value);
      QCOMPARE(limit.text(), QString(shows));
    }
    limit.setValue(kNoUpper);
    QTest::keyClick(&limit, Qt::Key_Up); // nowhere to step
    QCOMPARE(limit.text(), QString("none"));
  }
  void stepListHasTheRoutine() {
    Document d;
    StepList list(d, *theme_);
    d.open(QString::fromStdString(test::dataPath("heron-clamp.alder")));
    QVERIFY(idle(d));
    const auto& rows = *list.model();
    const auto cell = [&](int r, int column) { return rows.index(r, column).data().toString(); };
    QCOMPARE(rows.rowCount(), static_cast<int>(d.routed()->way.steps.size()));
    int clashes = 0, touches = 0;
    for (int r = 0; r < rows.rowCount(); ++r) {
      clashes += !cell(r, 5).isEmpty();
      touches += cell(r, 4).toInt();
      QVERIFY(!cell(r, 1).isEmpty());
    }
    QCOMPARE(clashes, 1);
    int contacts = 0;
    for (const Position& p : d.routed()->way.positions)
      contacts += p.contact;
    QCOMPARE(touches, contacts);
    // choosing a row selects the step and moves the machine to its start
    int row = -1;
    for (std::size_t i = 0; i < d.routed()->way.steps.size(); ++i)
      if (d.routed()->way.steps[i].kind == StepKind::Measure &&
          d.routed()->way.steps[i].feature == measuringOrder(d.plan().steps)[7])
        row = static_cast<int>(i);
    list.setCurrentIndex(rows.index(row, 1));
    QCOMPARE(d.selection().step, row);
    QVERIFY(d.playhead() > 0);
    // Alt+Up moves the feature forward in the order
    const FeatureId moved = measuringOrder(d.plan().steps)[7];
    QTest::keyClick(&list, Qt::Key_Up, Qt::AltModifier);
    QVERIFY(idle(d));
    QCOMPARE(measuringOrder(d.plan().steps)[6], moved);
  }
  void partsChartChoosesRuns() {
    Document d;
    PartsChart chart(d, *theme_);
    chart.resize(900, 190);
    const auto picture = [&] { return chart.grab().toImage(); };
    const QImage empty = picture();
    d.open(QString::fromStdString(test::dataPath("heron.alder")));
    QVERIFY(idle(d));
    for (int seed : {1, 2, 3}) {
      d.run({}, static_cast<std::uint64_t>(seed));
      QVERIFY(idle(d));
    }
    QCOMPARE(d.currentRunIndex(), 2);
    d.selectRequirement(RequirementId{0});
    QVERIFY(picture() != empty);
    QTest::keyClick(&chart, Qt::Key_Left);
    QCOMPARE(d.currentRunIndex(), 1);
    QTest::keyClick(&chart, Qt::Key_Left);
    QTest::keyClick(&chart, Qt::Key_Left); // there is none before the first
    QCOMPARE(d.currentRunIndex(), 0);
    QTest::mouseClick(&chart, Qt::LeftButton, {}, QPoint(84 + int((900 - 108) / 12.0 * 2.5), 100));
    QCOMPARE(d.currentRunIndex(), 2);
  }
  void rowsArePaintedForEachDesk() {
    Document d;
    d.open(QString::fromStdString(test::dataPath("heron.alder")));
    QVERIFY(idle(d));
    d.run({}, 1);
    QVERIFY(idle(d));
    RequirementModel model(d);
    RowDelegate delegate(d, *theme_, nullptr);
    const auto paint = [&](Desk desk, int row, bool selected) {
      delegate.setDesk(desk);
      QImage i = canvas(300, 38);
      QPainter p(&i);
      QStyleOptionViewItem option;
      option.rect = QRect(0, 0, 300, 38);
      if (selected) option.state |= QStyle::State_Selected;
      delegate.paint(&p, option, model.index(row));
      return i;
    };
    QVERIFY(paint(Desk::Part, 8, false) != paint(Desk::Verdict, 8, false));
    QVERIFY(paint(Desk::Part, 8, false) != paint(Desk::Part, 8, true));
    QVERIFY(paint(Desk::Part, 8, false) != paint(Desk::Part, 9, false));
    for (int row = 0; row < model.rowCount(); ++row) {
      QVERIFY(inked(paint(Desk::Verdict, row, false)) > 60);
      const QString tip = model.data(model.index(row), Qt::ToolTipRole).toString();
      QVERIFY(tip.contains("is measured"));
      QVERIFY(!model.data(model.index(row), Qt::AccessibleTextRole).toString().isEmpty());
    }
  }
  void zonePictures() {
    const Plan& plan = test::heronPlan();
    Measurements m = test::exactly(plan);
    const Requirement& r = test::balloon(plan, 9);
    for (Vec3& p : m.at(r.features[2]).points)
      p.x() += 0.3;
    const Evaluation e = judge(plan, r, m);
    ZonePicture picture(*theme_, plan, r, e);
    picture.resize(240, 226);
    const QImage image = picture.grab().toImage();
    // the diamond of what is outside
    int vermilion = 0;
    for (int y = 0; y < image.height(); ++y)
      for (int x = 0; x < image.width(); ++x) {
        const QColor c = image.pixelColor(x, y);
        vermilion += c.red() > 180 && c.green() < 110 && c.blue() < 80;
      }
    QVERIFY(vermilion > 15);
    CalloutLabel narrow(*theme_, test::balloon(plan, 3), Verdict::Within),
        wide(*theme_, test::balloon(plan, 28), Verdict::Within);
    QVERIFY(wide.height() > narrow.height()); // the word goes below where the callout is long
  }
  void commandBoxByItself() {
    QWidget window;
    window.resize(600, 400);
    Document d;
    Actions actions(window);
    int ran = 0;
    actions.add("a", "Polish the lens", "", std::nullopt, [&] { ran = 1; });
    actions.add("b", "Polish the table", "", std::nullopt, [&] { ran = 2; })->setEnabled(false);
    actions.add("c", "Count the balls", "", std::nullopt, [&] { ran = 3; });
    CommandBox box(d, actions, &window);
    window.show();
    QVERIFY(QTest::qWaitForWindowExposed(&window));
    QTest::keyClicks(&box, "polish");
    QCOMPARE(box.results().count(), 1); // what cannot be done is not offered
    QTest::keyClick(&box, Qt::Key_Return);
    QCOMPARE(ran, 1);
    QTest::keyClicks(&box, "the");
    QCOMPARE(box.results().count(), 2);
    QTest::keyClick(&box, Qt::Key_Down);
    QTest::keyClick(&box, Qt::Key_Return);
    QCOMPARE(ran, 3);
    QTest::keyClicks(&box, "xyzzy");
    QTest::keyClick(&box, Qt::Key_Return);
    QCOMPARE(ran, 3);
    QTest::keyClick(&box, Qt::Key_Escape);
    QVERIFY(box.text().isEmpty());
    QVERIFY(actions.find("b") && !actions.find("nothing"));
  }
};
ALDER_TEST(WidgetsTest)
#include "widgets_test.moc"
