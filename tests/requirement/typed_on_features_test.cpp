#include "base/units.h"
#include "made_parts.h"
#include "part/step_import.h"
#include "requirement/from_pmi.h"
#include "requirement/model_figure.h"
#include "requirement/typed/on_features.h"
#include "requirement/typed/surface_groups.h"
#include "requirement/typed/target.h"
#include "support.h"
#include <set>

using namespace alder;
using alder::test::heron;
using alder::test::heronPlan;
using alder::test::named;

namespace {

const Specification& spec() {
  return heronPlan().spec;
}

// What comes of the text on these features, in one line, or why nothing.
std::string laid(const std::string& text, const std::vector<FeatureId>& features,
                 const TypingSettings& settings = {}) {
  const auto typing = typedText(text, settings);
  if (!typing) return "? " + typing.error().says;
  const auto on = layOn(spec(), features, *typing);
  if (!on) return "! " + on.error().message;
  std::string all;
  for (const Requirement& r : on->requirements)
    all += (all.empty() ? "" : " + ") + std::string(name(r.kind)) + ": " + describe(spec(), r);
  for (const std::string& remark : on->remarks)
    all += " (" + remark + ")";
  return all;
}

} // namespace

class TypedOnFeaturesTest : public QObject {
  Q_OBJECT
 private slots:
  void theModelFillsIn();
  void whatItContradictsIsTold();
  void sizeOrDistance();
  void whatCannotStandThere();
  void likeFeaturesAreTaken();
  void whatIsNotAskedFor();
  void sameAsFromTheModel();
};

void TypedOnFeaturesTest::theModelFillsIn() {
  const FeatureId bore = named(heronPlan(), "Bore ø32");
  QCOMPARE(laid("H7", {bore}), std::string("size: ø32 H7 +0.025/0"));
  QCOMPARE(laid("±0.1", {bore}), std::string("size: ø32 ±0.1"));
  QCOMPARE(laid("32 H7", {bore}), std::string("size: ø32 H7 +0.025/0"));
  QCOMPARE(laid("R16 ±0.1", {bore}), std::string("size: R16 ±0.1"));
  QCOMPARE(laid("R ±0.1", {bore}), std::string("size: R16 ±0.1"));
  QCOMPARE(laid("1.2598 ±.004", {bore}, {LengthUnit::Inch, ToleranceStandard::Iso}),
           std::string("size: ø31.9989 ±0.1016"));
  QVERIFY(laid("⌀0.05 M A", {bore}).starts_with("position: position ø0.05 M | A"));
}

void TypedOnFeaturesTest::whatItContradictsIsTold() {
  const FeatureId bore = named(heronPlan(), "Bore ø32");
  QCOMPARE(laid("33 H7", {bore}),
           std::string("size: ø33 H7 +0.025/0 (33 mm is written; the model has 32 mm)"));
  QCOMPARE(laid("31.99/32.03", {bore}),
           std::string("size: ø32.01 ±0.02 (the model has 32 mm, within the limits)"));
  QVERIFY(laid("6x 32 H7", {bore}).find("6x is written, and 1 feature is selected") !=
          std::string::npos);
  // What the standards ask is told as of any other requirement.
  QVERIFY(laid("flatness 0.02", {bore}).find('(') != std::string::npos);
  QVERIFY(laid("position ø0.1 | X", {bore}).find('(') != std::string::npos);
}

void TypedOnFeaturesTest::sizeOrDistance() {
  std::vector<FeatureId> planes;
  for (const NominalFeature& f : spec().features)
    if (f.ideal.type == SurfaceType::Plane) planes.push_back(f.id);
  int distances = 0;
  for (const FeatureId a : planes)
    for (const FeatureId b : planes) {
      Requirement r;
      r.kind = Characteristic::Distance, r.features = {a, b};
      const auto model = modelFigure(spec(), r);
      if (a == b || !model || *model < 0.1) continue;
      const std::string text = shortFigure(*model) + " ±0.1";
      QCOMPARE(laid(text, {a, b}), "distance: " + text);
      QCOMPARE(laid("±0.1", {a, b}), "distance: " + text);
      ++distances;
    }
  QVERIFY(distances > 0);
  // Two bores: the figure says whether their size is meant or what lies between them.
  std::vector<FeatureId> bores;
  for (const NominalFeature& f : spec().features)
    if (f.ideal.type == SurfaceType::Cylinder && std::abs(f.ideal.diameter - 11) < 1e-6)
      bores.push_back(f.id);
  QVERIFY(bores.size() >= 2);
  bores.resize(2);
  Requirement r;
  r.kind = Characteristic::Distance, r.features = bores;
  const double between = *modelFigure(spec(), r);
  QCOMPARE(laid("11 +0.2/0", bores), std::string("size: ø11 +0.2/0"));
  QCOMPARE(laid(shortFigure(between) + " ±0.2", bores).substr(0, 9), std::string("distance:"));
  QCOMPARE(laid("H11", bores).substr(0, 5), std::string("size:"));
}

void TypedOnFeaturesTest::whatCannotStandThere() {
  const FeatureId bore = named(heronPlan(), "Bore ø32"), plane = named(heronPlan(), "Plane");
  const auto refused = [&](const char* text, const std::vector<FeatureId>& on, const char* why) {
    const std::string said = laid(text, on);
    QVERIFY2(said.starts_with("! ") && said.find(why) != std::string::npos &&
                 said.find('\n') == std::string::npos,
             (std::string(text) + ": " + said).c_str());
  };
  refused("32 H7", {}, "Select");
  QVERIFY(laid("#1 + #2 = 12.5 mm ±0.2", {}).starts_with("value: ")); // speaks of none
  refused("⌀32 H7", {plane}, "no size");
  refused("48 ±0.1", {plane}, "two features");
  refused("□32 ±0.1", {bore}, "not round");
  refused("32 H7", {bore, plane}, "no size");
  refused("M8", {bore}, "thread");
  refused("Ra 1.6", {bore}, "texture");
  refused("[32]", {bore}, "no tolerance");
  refused("[33]", {bore}, "the model has 32");
  refused("(32)", {bore}, "no tolerance");
  refused("32", {bore}, "No limits");
  refused("45° ±1°", {plane}, "two features");
}

void TypedOnFeaturesTest::likeFeaturesAreTaken() {
  const PartModel& part = *heron();
  // A hole of the circle, as a bare face of a part without requirements.
  std::vector<FaceId> hole;
  std::size_t all = 0;
  for (const Surface& s : part.surfaces)
    if (s.ideal.type == SurfaceType::Cylinder && s.ideal.hole &&
        std::abs(s.ideal.diameter - 11) < 1e-6) {
      if (hole.empty()) hole = {s.faces.front()};
      ++all;
    }
  QCOMPARE(all, std::size_t{6});
  const TypedTarget six = typedTarget(part, {}, {}, hole, 6);
  QCOMPARE(six.features.size(), std::size_t{6});
  QCOMPARE(six.picked, std::size_t{1});
  QCOMPARE(six.alike, std::size_t{5});
  const TypedTarget one = typedTarget(part, {}, {}, hole, 1);
  QCOMPARE(one.features.size(), std::size_t{1});
  QCOMPARE(one.alike, std::size_t{5});
  QCOMPARE(typedTarget(part, {}, {}, hole, 4).features.size(), std::size_t{1}); // not guessed
  // With features that are there already none is made twice.
  const TypedTarget known = typedTarget(part, spec(), {}, hole, 6);
  QCOMPARE(known.spec.features.size(), spec().features.size());
  QVERIFY(known.faces.empty());
}

// Each surface of the part once, in groups that are alike; what is asked for is in none.
void TypedOnFeaturesTest::whatIsNotAskedFor() {
  const PartModel& part = *test::heron();
  const auto all = surfacesNotAskedFor(part, {});
  std::set<FaceId> seen;
  for (const SurfaceGroup& g : all) {
    QVERIFY(!g.words.empty() && !g.surfaces.empty());
    for (const auto& faces : g.surfaces)
      for (const FaceId f : faces)
        QVERIFY(seen.insert(f).second);
  }
  QCOMPARE(seen.size(), part.faces.size());
  const auto groupOf = [](const std::vector<SurfaceGroup>& groups, const std::string& words) {
    return std::count_if(groups.begin(), groups.end(),
                         [&](const SurfaceGroup& g) { return g.words.starts_with(words); });
  };
  QCOMPARE(groupOf(all, "6 × Bore ø11 on ø92"), 1);
  QCOMPARE(groupOf(all, "Bore ø32"), 1);
  // Round ones first, the largest first.
  for (std::size_t i = 1; i < all.size(); ++i)
    if (all[i].ideal.type == SurfaceType::Cylinder &&
        all[i - 1].ideal.type == SurfaceType::Cylinder)
      QVERIFY(all[i].ideal.diameter <= all[i - 1].ideal.diameter);
  const auto rest = surfacesNotAskedFor(part, spec());
  QVERIFY(rest.size() < all.size());
  QCOMPARE(groupOf(rest, "6 × Bore ø11"), 0);
  for (const SurfaceGroup& g : rest)
    for (const auto& faces : g.surfaces)
      for (const Requirement& r : spec().requirements)
        for (const FeatureId id : touchedFor(spec(), r.features)) {
          const auto& its = spec().feature(id).faces;
          QVERIFY(std::find(its.begin(), its.end(), faces.front()) == its.end());
        }
}

// What is printed of the model's own requirements comes to the same when typed on their features.
void TypedOnFeaturesTest::sameAsFromTheModel() {
  std::vector<Specification> specs{spec()};
  for (const auto& step : {test::bracketStep("MM", 1), test::shaftStep("INCH", 2)}) {
    VERIFY_OK(step);
    const auto part = importStep(*step, "made.step");
    VERIFY_OK(part);
    std::vector<Note> notes;
    specs.push_back(specificationFromPmi(**part, notes));
  }
  std::size_t same = 0;
  for (const Specification& s : specs)
    for (const Requirement& r : s.requirements) {
      const std::string text = describe(s, r);
      const auto typing = typedText(text, {LengthUnit::Millimetre, s.standard});
      QVERIFY2(typing, text.c_str());
      const auto on = layOn(s, r.features, *typing);
      QVERIFY2(on, (text + ": " + (on ? "" : on.error().message)).c_str());
      Requirement typed = on->requirements.front();
      QVERIFY2(typed.kind == r.kind && typed.zone == r.zone, text.c_str());
      NEAR(typed.nominal, r.nominal, 1e-4);
      NEAR(typed.upper, r.upper, 2e-4);
      NEAR(typed.lower, r.lower, 2e-4);
      NEAR(typed.tolerance, r.tolerance, 2e-4);
      QVERIFY(typed.datums == r.datums && typed.material == r.material &&
              typed.features == r.features);
      ++same;
    }
  QVERIFY(same > 50);
}

ALDER_TEST(TypedOnFeaturesTest)
#include "typed_on_features_test.moc"
