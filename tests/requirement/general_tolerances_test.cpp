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
  void byOwnTable();
  void tablesAsTyped_data();
  void tablesAsTyped();
  void geometryByIso2768();
  void geometryOnThePart();
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

void GeneralTolerancesTest::byOwnTable() {
  GeneralTolerances g;
  g.rule = GeneralRule::BySize, g.by_size = {{6, 0.1}, {30, 0.2}, {120, 0.35}};
  for (const auto& [nominal, is] :
       {std::pair{0.2, 0.1}, {6.0, 0.1}, {6.001, 0.2}, {30.0, 0.2}, {120.0, 0.35}, {120.1, -1.0}})
    NEAR(half(g, dimension(Characteristic::Distance, nominal)), is, 1e-12);
  NEAR(half(g, dimension(Characteristic::Angle, 1)), -1.0, 1e-12);
  QCOMPARE(name(g), std::string("table"));
  const auto again = generalRows(textOf(g.by_size));
  VERIFY_OK(again);
  QVERIFY(*again == g.by_size);
}

void GeneralTolerancesTest::tablesAsTyped_data() {
  QTest::addColumn<QString>("is"); // rows, or what is wrong
  const auto row = [](const char* text, const char* is) { QTest::newRow(text) << QString(is); };
  row("6 0.1\n30 0.2", "up to 6: ±0.1\nup to 30: ±0.2\n");
  row("up to 6: ±0,1\nup to 30: ±0,2\n\n", "up to 6: ±0.1\nup to 30: ±0.2\n");
  row("Nominal\tTolerance\r\n0,5\t6\t0,1\r\n6\t30\t0,2\r\n", "up to 6: ±0.1\nup to 30: ±0.2\n");
  row("over 0.5 up to 3 .05\nover 3 up to 6 .1", "up to 3: ±0.05\nup to 6: ±0.1\n");
  row("", "");
  row("6", "Line 1: two figures");
  row("6 0.1\nwords", "Line 2: two figures");
  row("6 0.1\n6 0.2", "Line 2: 6 is not above");
  row("6 0.1\n\n7 30 0.2", "Line 3: it begins at 7, and the line before ends at 6");
  row("6 0", "Line 1: the size and its ±");
  row("0.1 6", "Line 1: the size and its ±");
  row("1 2 3 4", "Line 1: two figures");
}

void GeneralTolerancesTest::tablesAsTyped() {
  QFETCH(QString, is);
  const auto rows = generalRows(QTest::currentDataTag());
  const std::string came = rows ? textOf(*rows) : rows.error().message;
  QVERIFY2(rows ? came == is.toStdString() : came.starts_with(is.toStdString()) && !is.isEmpty(),
           came.c_str());
}

void GeneralTolerancesTest::geometryByIso2768() {
  Specification spec;
  NominalFeature face, base;
  face.id = FeatureId{0}, base.id = FeatureId{1};
  spec.features.push_back(face), spec.features.push_back(base);
  spec.datums = {{"A", {base.id}, {}}};
  const auto zone = [&](Characteristic kind, char letter, double length) {
    spec.general = iso2768('m');
    spec.general.geometrical = letter;
    Requirement r;
    r.kind = kind, r.features = {face.id};
    if (!isForm(kind)) r.datums = {{{"A"}}};
    const auto found =
        generalZone(spec, r, [&](const Requirement&) { return std::optional(length); });
    return found ? *found : -1;
  };
  using K = Characteristic;
  // ISO 2768-2:1989, tables 1 to 4; limits of the ranges belong to the smaller ones.
  for (const auto& [length, h, k, l] : {std::tuple{10.0, 0.02, 0.05, 0.1},
                                        {10.1, 0.05, 0.1, 0.2},
                                        {100.0, 0.1, 0.2, 0.4},
                                        {300.0, 0.2, 0.4, 0.8},
                                        {1000.0, 0.3, 0.6, 1.2},
                                        {3000.0, 0.4, 0.8, 1.6},
                                        {3001.0, -1.0, -1.0, -1.0}})
    for (const K kind : {K::Flatness, K::Straightness}) {
      NEAR(zone(kind, 'H', length), h, 1e-12);
      NEAR(zone(kind, 'K', length), k, 1e-12);
      NEAR(zone(kind, 'L', length), l, 1e-12);
    }
  for (const auto& [length, h, k, l] : {std::tuple{100.0, 0.2, 0.4, 0.6},
                                        {101.0, 0.3, 0.6, 1.0},
                                        {1000.0, 0.4, 0.8, 1.5},
                                        {1001.0, 0.5, 1.0, 2.0}}) {
    NEAR(zone(K::Perpendicularity, 'H', length), h, 1e-12);
    NEAR(zone(K::Perpendicularity, 'K', length), k, 1e-12);
    NEAR(zone(K::Perpendicularity, 'L', length), l, 1e-12);
  }
  for (const auto& [length, h, k, l] : {std::tuple{100.0, 0.5, 0.6, 0.6},
                                        {300.0, 0.5, 0.6, 1.0},
                                        {1000.0, 0.5, 0.8, 1.5},
                                        {3000.0, 0.5, 1.0, 2.0}}) {
    NEAR(zone(K::Symmetry, 'H', length), h, 1e-12);
    NEAR(zone(K::Symmetry, 'K', length), k, 1e-12);
    NEAR(zone(K::Symmetry, 'L', length), l, 1e-12);
  }
  NEAR(zone(K::CircularRunout, 'H', 1), 0.1, 1e-12);
  NEAR(zone(K::CircularRunout, 'K', 1), 0.2, 1e-12);
  NEAR(zone(K::CircularRunout, 'L', 1), 0.5, 1e-12);
  NEAR(zone(K::Position, 'K', 50), -1.0, 1e-12); // none for it
  NEAR(zone(K::Flatness, ' ', 50), -1.0, 1e-12);
  // By its diameter's tolerance, at most that of runout; none without one.
  NEAR(zone(K::Roundness, 'K', 50), -1.0, 1e-12);
  Requirement size = dimension(K::Size, 20);
  size.id = spec.requirements.next(), size.features = {face.id};
  size.lower = 19.96, size.upper = 20.04;
  spec.requirements.push_back(size);
  NEAR(zone(K::Roundness, 'K', 50), 0.08, 1e-12);
  spec.requirements.at(size.id).upper = 21;
  NEAR(zone(K::Roundness, 'K', 50), 0.2, 1e-12);
  // The greater of the distance's tolerance and of flatness.
  NEAR(zone(K::Parallelism, 'K', 50), -1.0, 1e-12);
  Requirement apart = dimension(K::Distance, 20);
  apart.id = spec.requirements.next(), apart.features = {base.id, face.id};
  apart.lower = 19.9, apart.upper = 20.2;
  spec.requirements.push_back(apart);
  NEAR(zone(K::Parallelism, 'K', 50), 0.3, 1e-12);
  NEAR(zone(K::Parallelism, 'K', 900), 0.6, 1e-12);
  // ISO 22081: one profile.
  spec.general = {};
  spec.general.rule = GeneralRule::Iso22081, spec.general.profile = 0.4;
  Requirement profile;
  profile.kind = K::SurfaceProfile, profile.features = {face.id};
  NEAR(*generalZone(spec, profile, {}), 0.4, 1e-12);
  spec.general.profile = 0;
  QVERIFY(!generalZone(spec, profile, {}));
}

// On the part, by the lengths that are found on it.
void GeneralTolerancesTest::geometryOnThePart() {
  const PartPtr part = test::heron();
  Specification spec = heronPlan().spec;
  const DecidingLength lengths = decidingLengths(*part, spec);
  const Box3 box = part->mesh.box();
  int discs = 0;
  for (const NominalFeature& f : spec.features) {
    if (f.ideal.type != SurfaceType::Plane) continue;
    Requirement one;
    one.kind = Characteristic::Flatness, one.features = {f.id};
    const auto length = lengths(one);
    QVERIFY2(length, f.name.c_str());
    // No longer than the diagonal of its places, and no shorter than that over sqrt 2.
    Box3 own;
    for (std::size_t t = 0; t < part->mesh.triangles.size(); ++t)
      if (std::binary_search(f.faces.begin(), f.faces.end(), FaceId{part->mesh.tags[t]}))
        for (const int v : part->mesh.triangles[t])
          own.extend(part->mesh.vertices[static_cast<std::size_t>(v)]);
    QVERIFY(*length <= own.sizes().norm() + 1e-9 && *length >= own.sizes().norm() / 2);
    QVERIFY(*length <= box.sizes().norm());
    ++discs;
  }
  QVERIFY(discs > 2);
  // Typed without a figure on what is picked, and followed when the class changes.
  spec.general = iso2768('m');
  spec.general.geometrical = 'K';
  const auto flat = std::find_if(spec.features.begin(), spec.features.end(),
                                 [](const auto& f) { return f.ideal.type == SurfaceType::Plane; });
  TypingSettings settings;
  QVERIFY(!typedText("flatness", settings));
  settings.open_zones = true;
  const auto typed = typedText("flatness", settings);
  QVERIFY(typed && typed->front().limits_open);
  QVERIFY(typedText("perp A", settings) && typedText("// A", settings));
  const auto on = layOn(spec, {flat->id}, *typed, decidingLengths(*part, spec));
  VERIFY_OK(on);
  Requirement r = on->requirements.front();
  QCOMPARE(r.general, std::string("ISO 2768-mK"));
  QVERIFY(describe(spec, r).ends_with(" by ISO 2768-mK"));
  // What is printed is read back as inherited, or as its own where it is another figure.
  const auto again = typedText(describe(spec, r), settings);
  QVERIFY(again);
  QVERIFY(layOn(spec, {flat->id}, *again, decidingLengths(*part, spec))->requirements[0].general ==
          r.general);
  const auto other = typedText("flatness 0.0123 by ISO 2768-mK", settings);
  QVERIFY(other);
  QVERIFY(layOn(spec, {flat->id}, *other, decidingLengths(*part, spec))
              ->requirements[0]
              .general.empty());
  r.id = spec.requirements.next();
  spec.requirements.push_back(r);
  std::vector<std::string> notes;
  GeneralTolerances coarse = spec.general;
  coarse.geometrical = 'L';
  const Specification with = withGeneral(spec, coarse, decidingLengths(*part, spec), notes);
  QVERIFY(notes.empty());
  NEAR(with.requirement(r.id).tolerance, 2 * r.tolerance, 1e-12); // L is twice K in table 1
  NEAR(with.requirement(r.id).upper, 2 * r.tolerance, 1e-12);
  coarse.geometrical = ' ';
  QVERIFY(withGeneral(with, coarse, decidingLengths(*part, spec), notes)
              .requirement(r.id)
              .general.empty());
  QCOMPARE(notes.size(), std::size_t{1});
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
      on = layOn(spec, {f.id}, *chamfer, decidingLengths(*heronPlan().part, spec));
      VERIFY_OK(on);
      QCOMPARE(on->requirements.size(), std::size_t{1});
      QCOMPARE(on->requirements[0].kind, Characteristic::Angle);
      QVERIFY(on->requirements[0].general == "ISO 2768-m" && !on->remarks.empty());
    }
  // Legs of planes: how far they reach away from where they meet.
  std::vector<FeatureId> planes;
  for (const NominalFeature& f : spec.features)
    if (f.ideal.type == SurfaceType::Plane) planes.push_back(f.id);
  const DecidingLength legs = decidingLengths(*heronPlan().part, spec);
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
  one.profile = 0.4;
  GeneralTolerances both = iso2768('m'), table;
  both.geometrical = 'K';
  table.rule = GeneralRule::BySize, table.by_size = {{6, 0.1}, {30.5, 0.25}};
  for (const GeneralTolerances& g :
       {GeneralTolerances{}, iso2768('v'), one, decimals, both, table}) {
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
                            R"({"rule": "iso_22081", "length": "wide"})",
                            R"({"rule": "iso_2768", "geometrical_class": "M"})",
                            R"({"rule": "by_size", "by_size": [{"up_to": 6}]})",
                            R"({"rule": "by_size", "by_size": [{"up_to": 6, "half": 0.1},
                                                               {"up_to": 5, "half": 0.2}]})"}) {
    const auto json = parseJson(wrong, "general");
    VERIFY_OK(json);
    const JsonFields f(*json, "general");
    (void)readGeneral(f);
    QVERIFY2(!f.done(), wrong);
  }
}

ALDER_TEST(GeneralTolerancesTest)
#include "general_tolerances_test.moc"
