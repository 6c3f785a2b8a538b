#include "base/random.h"
#include "exchange/routine/view_json.h"
#include "judge/judge.h"
#include "paper/callout_layout.h"
#include "plan/edit.h"
#include "report/compose/composer.h"
#include "report/layout/layout_json.h"
#include "report/report_file.h"
#include "support.h"
#include <QTemporaryDir>
#include <algorithm>
#include <limits>

using namespace alder;

// Views that a person keeps: in the routine, and as pictures of a report.
class KeptViewTest : public QObject {
  Q_OBJECT

  static const TextSetter& setter() {
    static const auto one = TextSetter::create();
    return **one;
  }
  static KeptView fromAbove() {
    const Plan& plan = test::heronPlan();
    KeptView v;
    v.name = "From above";
    Box3 box;
    for (const Face& f : plan.part->faces)
      box.extend(f.box);
    v.centre = box.center(), v.towards = Vec3::UnitZ(), v.up = Vec3::UnitY();
    v.width = v.height = 1.2 * box.sizes().norm();
    for (const int balloon : {2, 9, 34})
      v.callouts.push_back({test::balloon(plan, balloon).id, {}});
    return v;
  }
  static Composed composed(const Plan& plan, const std::string& kept) {
    ViewItem view;
    view.kept = kept;
    LayoutPage page;
    page.items = {{{14, 20, 182, 150}, false, view}};
    const Measurements m = test::exactly(plan);
    return compose({"t", {page}}, reportOf(plan, judgeAll(plan, m), m), plan, setter());
  }
  // The balloons that are drawn, with their middles.
  static std::map<std::string, Vec2> balloons(const Composed& c) {
    std::map<std::string, Vec2> all;
    for (const Mark& mark : c.pages[0].marks)
      if (const auto* t = std::get_if<TextMark>(&mark); t && t->style.align == Align::Middle)
        all[t->text] = t->area.middle();
    return all;
  }

 private slots:
  void calloutsOfTheViewAlone() {
    Plan plan = test::heronPlan();
    plan.views = {fromAbove()};
    const auto drawn = balloons(composed(plan, "From above"));
    QCOMPARE(drawn.size(), std::size_t(3));
    QVERIFY(drawn.contains("2") && drawn.contains("9") && drawn.contains("34"));
    QVERIFY(balloons(composed(plan, "")).size() > 20);
    // One that is not there is told, and the part is shown.
    const Composed gone = composed(plan, "From below");
    QVERIFY(!gone.told.empty());
    QVERIFY2(gone.told[0].find("no view From below") != std::string::npos, gone.told[0].c_str());
  }

  // On a page of its own, first thing on it, whatever the report is written as.
  void toldByAllForms() {
    ViewItem view;
    view.kept = "From below";
    LayoutPage page;
    page.items = {{{14, 20, 182, 150}, false, view}};
    const Plan& plan = test::heronPlan();
    const ReportModel model = reportOf(plan, judgeAll(plan, {}));
    for (const char* target : {"a.pdf", "a.xlsx", "a.html"}) {
      const auto file = reportFile(target, Layout{"t", {page}}, model, plan, setter());
      VERIFY_OK(file);
      QVERIFY2(std::any_of(file->told.begin(), file->told.end(),
                           [](const std::string& line) {
                             return line.find("no view From below") != std::string::npos;
                           }),
               target);
    }
  }

  // Moved by hand it stays where it was put: so many mm of the part, at the picture's scale.
  void labelsStayWhereTheyArePut() {
    Plan plan = test::heronPlan();
    KeptView view = fromAbove();
    view.callouts[0].label = Vec2(5, 40);
    plan.views = {view};
    const Vec2 first = balloons(composed(plan, "From above")).at("2");
    view.callouts[0].label = Vec2(25, 10);
    plan.views = {view};
    const Vec2 second = balloons(composed(plan, "From above")).at("2");
    const Vec2 by = second - first;
    const double scale = by.x() / 20;
    QVERIFY(scale > 0.2);
    NEAR(by.y(), 30 * scale, 0.05); // down on paper
    // Whatever is round it gives way.
    const auto all = balloons(composed(plan, "From above"));
    for (const auto& [a, at] : all)
      for (const auto& [b, other] : all)
        if (a < b) QVERIFY((at - other).norm() > 4.9);
  }

  // The page of a requirement shows it by the view that calls it out.
  void ofTheRequirementItself() {
    Plan plan = test::heronPlan();
    ViewItem item;
    item.of_page = true;
    LayoutPage page;
    page.repeats = Repeats::EachRequirement;
    page.filter.numbers = "9";
    page.items = {{{14, 20, 182, 150}, false, item}};
    const auto pictured = [&] {
      const Measurements m = test::exactly(plan);
      const Composed c =
          compose({"t", {page}}, reportOf(plan, judgeAll(plan, m), m), plan, setter());
      std::vector<std::uint32_t> pixels;
      for (const Mark& mark : c.pages[0].marks)
        if (const auto* p = std::get_if<PictureMark>(&mark)) pixels = p->raster->pixels;
      return pixels;
    };
    const auto proposed = pictured();
    plan.views = {fromAbove()};
    QVERIFY(!proposed.empty() && pictured() != proposed);
    plan.views[0].callouts.clear();
    QVERIFY(pictured() == proposed);
  }

  void keptInTheRoutine() {
    Plan plan = test::heronPlan();
    KeptView view = fromAbove();
    view.callouts[1].label = Vec2(-12.5, 7);
    VERIFY_OK(applyEdit(plan, SetViews{{view}}));
    QTemporaryDir folder;
    const std::string path = folder.filePath("a.alder").toStdString();
    VERIFY_OK(saveProject({plan, {}, {}}, path));
    const auto again = openProject(path);
    VERIFY_OK(again);
    QVERIFY(again->plan.views == plan.views);
    QCOMPARE(routineKey(plan), routineKey(test::heronPlan()));
  }

  // Written and read to the last bit, whichever way it lies; one typed by hand is made a unit.
  void sectionIsKept() {
    Random random(7);
    for (int i = 0; i < 40; ++i) {
      KeptView view = fromAbove();
      view.section = CutPlane{Vec3(random.normal(), random.normal(), random.normal()).normalized(),
                              random.uniform(-50, 50)};
      const Json json = Json::parse(toJson(view).dump());
      const JsonFields f(json, "a");
      QVERIFY(viewFrom(f) == view);
      VERIFY_OK(f.done());
    }
    KeptView view = fromAbove();
    view.section = CutPlane{};
    Json json = toJson(view);
    json["section"] = {{"normal", {0, 3, 4}}, {"at_mm", 10}};
    const JsonFields typed(json, "a");
    const KeptView read = viewFrom(typed);
    VERIFY_OK(typed.done());
    NEAR((read.section->normal - Vec3(0, 0.6, 0.8)).norm(), 0.0, 1e-12);
    NEAR(read.section->at, 2.0, 1e-12);
    json["section"]["normal"] = {0, 0, 0};
    const JsonFields spoilt(json, "a");
    viewFrom(spoilt);
    QVERIFY(!spoilt.done());
    QVERIFY(spoilt.done().error().message.find("normal") != std::string::npos);
  }

  // The picture of a report is cut where the view is.
  void sectionIsDrawn() {
    Plan plan = test::heronPlan();
    plan.views = {fromAbove()};
    const auto pixels = [&] {
      std::map<std::uint32_t, int> colors;
      const Composed c = composed(plan, "From above");
      for (const Mark& mark : c.pages[0].marks)
        if (const auto* p = std::get_if<PictureMark>(&mark))
          for (const std::uint32_t color : p->raster->pixels)
            ++colors[color];
      return colors;
    };
    const auto whole = pixels();
    plan.views[0].section = CutPlane{Vec3::UnitZ(), plan.part->mesh.box().center().z()};
    const auto cut = pixels();
    QVERIFY(cut != whole);
    int fresh = 0; // in the colours of the section
    for (const auto& [color, count] : cut)
      if (!whole.contains(color)) fresh += count;
    QVERIFY2(fresh > 20000, qPrintable(QString::number(fresh)));
  }

  void wrongOnes() {
    const KeptView good = fromAbove();
    VERIFY_OK(validate(std::vector{good}));
    const auto refused = [&](const std::function<void(KeptView&)>& spoil) {
      KeptView bad = good;
      spoil(bad);
      return !validate(std::vector{bad});
    };
    QVERIFY(refused([](KeptView& v) { v.name = " "; }));
    QVERIFY(refused([](KeptView& v) { v.width = 0; }));
    QVERIFY(refused([](KeptView& v) { v.height = std::numeric_limits<double>::infinity(); }));
    QVERIFY(refused([](KeptView& v) { v.up = v.towards; }));
    QVERIFY(refused([](KeptView& v) { v.section = CutPlane{Vec3(0, 0, 2), 0}; }));
    QVERIFY(refused([](KeptView& v) { v.callouts.push_back(v.callouts[0]); }));
    QVERIFY(!validate(std::vector{good, good}));
    QCOMPARE(freeViewName({good}, "From above"), std::string("From above 2"));
    QCOMPARE(freeViewName({good}, ""), std::string("View 1"));
  }

  void namedInLayouts() {
    ViewItem view;
    view.kept = "From above";
    LayoutPage page;
    page.items = {{{14, 20, 182, 150}, false, view}};
    const Layout layout{"t", {page}};
    const auto again = layoutFrom(layoutText(layout), "t");
    VERIFY_OK(again);
    QVERIFY(*again == layout);
  }
};
ALDER_TEST(KeptViewTest)
#include "kept_view_test.moc"
