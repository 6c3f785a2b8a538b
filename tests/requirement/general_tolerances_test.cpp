#include "requirement/general_tolerances.h"

#include "base/units.h"
#include "exchange/routine/judging_json.h"
#include "exchange/routine/routine_template.h"
#include "requirement/typed/on_features.h"
#include "support.h"
#include <QTemporaryDir>

using namespace alder;
using alder::test::heronPlan;

namespace {

GeneralTolerances iso2768(char letter) {
  GeneralTolerances g;
  g.rule = GeneralRule::Iso2768, g.linear = letter;
  return g;
}

Requirement dimension(Characteristic kind, double nominal, bool radius = false) {
  Requirement r;
  r.kind = kind, r.nominal = nominal, r.radius = radius;
  return r;
}

double half(const GeneralTolerances& g, const Requirement& r, int decimals = 0, double leg = 20) {
  const auto found =
      generalTolerance(g, r, decimals, [leg](const Requirement&) { return std::optional(leg); });
  return found ? *found : -1;
}

} // namespace

class GeneralTolerancesTest : public QObject {
  Q_OBJECT
 private slots:
  void byIso2768();
  void byOtherRules();
  void typedWithoutLimits();
  void followAnotherRule();
  void keptInFiles();
};

void GeneralTolerancesTest::byIso2768() {
  const auto size = [](double nominal) { return dimension(Characteristic::Size, nominal); };
  // Limits of the ranges belong to the smaller ones.
  for (const auto& [nominal, f, m, c, v] : {std::tuple{3.0, 0.05, 0.1, 0.2, -1.0},
                                            {3.01, 0.05, 0.1, 0.3, 0.5},
                                            {6.0, 0.05, 0.1, 0.3, 0.5},
                                            {30.0, 0.1, 0.2, 0.5, 1.0},
                                            {30.1, 0.15, 0.3, 0.8, 1.5},
                                            {120.0, 0.15, 0.3, 0.8, 1.5},
                                            {400.0, 0.2, 0.5, 1.2, 2.5},
                                            {1000.0, 0.3, 0.8, 2.0, 4.0},
                                            {2000.0, 0.5, 1.2, 3.0, 6.0},
                                            {4000.0, -1.0, 2.0, 4.0, 8.0},
                                            {4001.0, -1.0, -1.0, -1.0, -1.0},
                                            {0.4, -1.0, -1.0, -1.0, -1.0}}) {
    NEAR(half(iso2768('f'), size(nominal)), f, 1e-12);
    NEAR(half(iso2768('m'), size(nominal)), m, 1e-12);
    NEAR(half(iso2768('c'), size(nominal)), c, 1e-12);
    NEAR(half(iso2768('v'), size(nominal)), v, 1e-12);
  }
  NEAR(half(iso2768('m'), dimension(Characteristic::Size, 5, true)), 0.5, 1e-12);
  NEAR(half(iso2768('c'), dimension(Characteristic::Size, 50, true)), 2.0, 1e-12);
  const Requirement angle = dimension(Characteristic::Angle, radians(45));
  NEAR(half(iso2768('m'), angle, 0, 10), radians(1), 1e-12);
  NEAR(half(iso2768('m'), angle, 0, 11), radians(0.5), 1e-12);
  NEAR(half(iso2768('f'), angle, 0, 500), radians(5.0 / 60), 1e-12);
  NEAR(half(iso2768('v'), angle, 0, 100), radians(1), 1e-12);
  const auto unknown = generalTolerance(iso2768('m'), angle, 0, {});
  QVERIFY(!unknown && unknown.error().message.find("legs") != std::string::npos);
  // The coarser class never asks for more.
  for (double nominal = 0.6; nominal < 4000; nominal *= 1.07)
    for (const auto& [a, b] : {std::pair{'f', 'm'}, {'m', 'c'}, {'c', 'v'}})
      if (half(iso2768(a), size(nominal)) > 0 && half(iso2768(b), size(nominal)) > 0)
        QVERIFY(half(iso2768(a), size(nominal)) <= half(iso2768(b), size(nominal)));
}

void GeneralTolerancesTest::byOtherRules() {
  GeneralTolerances g;
  g.rule = GeneralRule::Iso22081, g.length = 0.15;
  NEAR(half(g, dimension(Characteristic::Distance, 700)), 0.15, 1e-12);
  NEAR(half(g, dimension(Characteristic::Angle, 1)), -1.0, 1e-12); // none given
  g.angle = radians(0.5);
  NEAR(half(g, dimension(Characteristic::Angle, 1)), radians(0.5), 1e-12);
  g.rule = GeneralRule::ByDecimals, g.by_decimals = {0, 0.5, 0.25, 0.1, 0};
  for (const auto& [decimals, is] : {std::pair{0, -1.0}, {1, 0.5}, {2, 0.25}, {3, 0.1}, {4, -1.0}})
    NEAR(half(g, dimension(Characteristic::Size, 12), decimals), is, 1e-12);
}

void GeneralTolerancesTest::typedWithoutLimits() {
  Specification spec = heronPlan().spec;
  const FeatureId bore = test::named(heronPlan(), "Bore ø32");
  const auto typed = typedText("32");
  QVERIFY(typed);
  QVERIFY(!layOn(spec, {bore}, *typed)); // no rule
  spec.general = iso2768('m');
  auto on = layOn(spec, {bore}, *typed);
  VERIFY_OK(on);
  QCOMPARE(describe(on->requirements[0]), std::string("ø32 ±0.3 by ISO 2768-m"));
  // A chamfer: the angle by the leg of the cone.
  for (const NominalFeature& f : spec.features)
    if (f.ideal.type == SurfaceType::Cone) {
      const auto chamfer =
          typedText(fmt::format("2x{}°", shortFigure(degrees(f.ideal.half_angle))));
      QVERIFY(chamfer);
      on = layOn(spec, {f.id}, *chamfer, legsOf(*heronPlan().part, spec));
      VERIFY_OK(on);
      QCOMPARE(on->requirements.size(), std::size_t{1});
      QCOMPARE(on->requirements[0].kind, Characteristic::Angle);
      QVERIFY(on->requirements[0].general == "ISO 2768-m" && !on->remarks.empty());
    }
  // Legs of planes: how far they reach away from where they meet.
  std::vector<FeatureId> planes;
  for (const NominalFeature& f : spec.features)
    if (f.ideal.type == SurfaceType::Plane) planes.push_back(f.id);
  const LegOf legs = legsOf(*heronPlan().part, spec);
  int known = 0;
  for (const FeatureId a : planes)
    for (const FeatureId b : planes) {
      Requirement r;
      r.kind = Characteristic::Angle, r.features = {a, b};
      const auto leg = legs(r);
      if (!leg) continue;
      ++known;
      QVERIFY(*leg > 0 && *leg <= heronPlan().part->mesh.box().sizes().norm());
      std::swap(r.features[0], r.features[1]);
      NEAR(*legs(r), *leg, 1e-9);
    }
  QVERIFY(known > 0);
}

void GeneralTolerancesTest::followAnotherRule() {
  Specification spec = heronPlan().spec;
  spec.general = iso2768('f');
  Requirement own = spec.requirements[0], given = dimension(Characteristic::Size, 32),
              odd = dimension(Characteristic::Size, 5000);
  given.features = odd.features = {test::named(heronPlan(), "Bore ø32")};
  VERIFY_OK(giveGeneral(spec, given, 1, {}));
  odd.general = "ISO 2768-f", odd.lower = 4999, odd.upper = 5001;
  for (Requirement* r : {&given, &odd}) {
    r->id = spec.requirements.next();
    r->balloon = 90 + r->id.value;
    spec.requirements.push_back(*r);
  }
  std::vector<std::string> notes;
  const Specification coarse = withGeneral(spec, iso2768('c'), {}, notes);
  const Requirement& followed = coarse.requirement(given.id);
  NEAR(followed.upper, 32.8, 1e-12);
  QCOMPARE(followed.general, std::string("ISO 2768-c"));
  // What the rule has nothing for keeps its limits, and that is told; the others are untouched.
  const Requirement& kept = coarse.requirement(odd.id);
  QVERIFY(kept.general.empty() && kept.lower == 4999 && kept.upper == 5001);
  QCOMPARE(notes.size(), std::size_t{1});
  QVERIFY(notes[0].find(std::to_string(odd.balloon)) != std::string::npos);
  QVERIFY(coarse.requirements[0] == own);
  GeneralTolerances decimals;
  decimals.rule = GeneralRule::ByDecimals, decimals.by_decimals = {1, 0.4, 0.2, 0.1, 0.05};
  NEAR(withGeneral(coarse, decimals, {}, notes).requirement(given.id).upper, 32.4, 1e-12);
  notes.clear();
  const Specification none = withGeneral(coarse, {}, {}, notes);
  QVERIFY(none.requirement(given.id).general.empty());
  NEAR(none.requirement(given.id).upper, 32.8, 1e-12);
  QCOMPARE(notes.size(), std::size_t{1});
}

void GeneralTolerancesTest::keptInFiles() {
  const QTemporaryDir folder;
  GeneralTolerances decimals;
  decimals.rule = GeneralRule::ByDecimals, decimals.by_decimals = {1, 0.4, 0.2, 0, 0.05};
  decimals.angle = radians(0.5);
  GeneralTolerances one;
  one.rule = GeneralRule::Iso22081, one.length = 0.3;
  for (const GeneralTolerances& g : {GeneralTolerances{}, iso2768('v'), one, decimals}) {
    Project project;
    project.plan = heronPlan();
    project.plan.spec.general = g;
    Requirement& r = project.plan.spec.requirements[1];
    r.general = name(g), r.written_decimals = 2;
    const std::string path = folder.filePath("a.alder").toStdString();
    VERIFY_OK(saveProject(project, path));
    const auto again = openProject(path);
    VERIFY_OK(again);
    QVERIFY(again->plan.spec.general == g);
    QVERIFY(again->plan.spec.requirements[1] == r);
    const auto text = templateText(templateOf(project.plan));
    const auto start = templateFromText(text, "t");
    VERIFY_OK(start);
    QVERIFY(start->general == g);
  }
  for (const char* wrong : {R"({"rule": "iso"})", R"({"rule": "iso_2768", "class": "x"})",
                            R"({"rule": "iso_22081", "length": "wide"})"}) {
    const auto json = parseJson(wrong, "general");
    VERIFY_OK(json);
    const JsonFields f(*json, "general");
    (void)readGeneral(f);
    QVERIFY2(!f.done(), wrong);
  }
}

ALDER_TEST(GeneralTolerancesTest)
#include "general_tolerances_test.moc"
