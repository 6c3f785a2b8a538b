#include "base/units.h"
#include "requirement/datum_freedom.h"
#include "requirement/proofread.h"
#include "support.h"

using namespace alder;

// Callouts that break a rule, each with the words that say so and the correction that cures it.
class ProofreadTest : public QObject {
  Q_OBJECT

  // A: a plane, B: a bore square to it, C: a slot through the bore, D: a second plane beside A; S:
  // a ball, K: a cone on the bore's axis.
  static Specification spec() {
    Specification s;
    const auto add = [&](const char* id, SurfaceType type, const Vec3& point, const Vec3& direction,
                         double diameter) {
      NominalFeature f;
      f.id = FeatureId{static_cast<int>(s.features.size())};
      f.name = id;
      f.ideal.type = type;
      f.ideal.point = point;
      f.ideal.direction = direction;
      f.ideal.diameter = diameter;
      f.ideal.length = 20;
      f.ideal.half_angle = type == SurfaceType::Cone ? 0.5 : 0;
      s.features.push_back(f);
      s.datums.push_back({id, {f.id}});
    };
    add("A", SurfaceType::Plane, {0, 0, 0}, {0, 0, -1}, 0);
    add("B", SurfaceType::Cylinder, {10, 10, 0}, {0, 0, 1}, 8);
    add("C", SurfaceType::Slot, {50, 10, 0}, {0, 1, 0}, 6);
    add("D", SurfaceType::Plane, {0, 0, 30}, {0, 0, 1}, 0);
    add("S", SurfaceType::Sphere, {70, 10, 10}, {0, 0, 1}, 10);
    add("K", SurfaceType::Cone, {10, 10, 30}, {0, 0, 1}, 8);
    return s;
  }
  static Requirement on(int feature, Characteristic kind, double tolerance,
                        const std::vector<std::string>& datums = {}) {
    Requirement r;
    r.id = RequirementId{0};
    r.kind = kind;
    r.features = {FeatureId{feature}};
    r.tolerance = r.upper = tolerance;
    for (const auto& d : datums)
      r.datums.push_back({{d}});
    return r;
  }
  // The first remark says so, and its correction leaves nothing of the kind to say.
  static void remarks(const Specification& s, const Requirement& r, const char* words,
                      bool curable = true) {
    const auto all = proofread(s, r);
    QVERIFY(!all.empty());
    QVERIFY2(all[0].says.find(words) != std::string::npos, all[0].says.c_str());
    QCOMPARE(all[0].corrected.has_value(), curable);
    QCOMPARE(all[0].fix.empty(), !curable);
    if (!curable) return;
    for (const Remark& left : proofread(s, *all[0].corrected))
      QVERIFY2(left.says != all[0].says, left.says.c_str());
  }

 private slots:
  void goodCalloutsPass() {
    const auto s = spec();
    QVERIFY(proofread(s, on(0, Characteristic::Flatness, 0.02)).empty());
    auto position = on(1, Characteristic::Position, 0.1, {"A", "C"});
    position.zone = Zone::Diametral;
    QVERIFY(proofread(s, position).empty());
    QVERIFY(proofread(s, on(3, Characteristic::Parallelism, 0.02, {"A"})).empty());
    QVERIFY(proofread(s, on(5, Characteristic::CircularRunout, 0.02, {"B"})).empty());
    for (const Requirement& r : test::heronPlan().spec.requirements)
      for (const Remark& remark : proofread(test::heronPlan().spec, r))
        qWarning("%d: %s", r.balloon, remark.says.c_str());
  }
  void datumsAreRead() {
    const auto s = spec();
    remarks(s, on(0, Characteristic::Flatness, 0.02, {"B"}), "no datums");
    remarks(s, on(3, Characteristic::Parallelism, 0.02), "needs a datum", false);
    remarks(s, on(3, Characteristic::Parallelism, 0.02, {"Q"}), "not defined");
    remarks(s, on(3, Characteristic::Parallelism, 0.02, {"A", "A"}), "twice");
    remarks(s, on(3, Characteristic::Parallelism, 0.02, {"D"}), "itself");
    remarks(s, on(5, Characteristic::CircularRunout, 0.02, {"A"}), "about an axis", false);
    remarks(s, on(3, Characteristic::Position, 0.1, {"A", "B", "C", "S"}), "adds nothing");
  }
  void freedomIsCounted() {
    const auto s = spec();
    const auto taken = [&](std::vector<DatumReference> d) { return freedomTaken(s, d); };
    QCOMPARE(taken({{{"A"}}, {{"B"}}, {{"C"}}}), (std::vector<int>{3, 2, 1}));
    QCOMPARE(taken({{{"B"}}, {{"A"}}, {{"C"}}}), (std::vector<int>{4, 1, 1}));
    QCOMPARE(taken({{{"A"}}, {{"D"}}}), (std::vector<int>{3, 0}));
    QCOMPARE(taken({{{"K"}}, {{"S"}}}), (std::vector<int>{5, 1}));
    QCOMPARE(taken({{{"S"}}, {{"B"}}}), (std::vector<int>{3, 3}));
    QCOMPARE(taken({{{"B", "K"}}}), (std::vector<int>{5}));
  }
  void modifiersAndZones() {
    auto s = spec();
    auto r = on(5, Characteristic::TotalRunout, 0.1, {"B"});
    r.material = MaterialModifier::Maximum;
    remarks(s, r, "not allowed");
    r = on(0, Characteristic::Position, 0.1, {"B"});
    r.material = MaterialModifier::Maximum;
    remarks(s, r, "feature of size");
    r = on(1, Characteristic::Position, 0.1, {"A"});
    r.zone = Zone::Diametral;
    r.material = MaterialModifier::Maximum;
    remarks(s, r, "size with limits", false);
    r.material = MaterialModifier::None;
    r.datums[0].material = MaterialModifier::Maximum;
    remarks(s, r, "modifier on datum A");
    r = on(3, Characteristic::Position, 0.1, {"B"});
    r.zone = Zone::Diametral;
    remarks(s, r, "no diameter");
    r = on(4, Characteristic::Position, 0.1, {"A"});
    r.zone = Zone::Diametral;
    remarks(s, r, "sphere");
    r = on(1, Characteristic::Roundness, 0.1);
    r.zone = Zone::Diametral;
    remarks(s, r, "no diameter");
    remarks(s, on(5, Characteristic::Cylindricity, 0.1), "of cylinders");
    remarks(s, on(0, Characteristic::Roundness, 0.1), "round features", false);
    s.standard = ToleranceStandard::Asme;
    remarks(s, on(2, Characteristic::Symmetry, 0.1, {"B"}), "Y14.5-2018 has no");
    remarks(s, on(3, Characteristic::Position, 0.1, {"B"}), "by its profile");
  }
  void tighterIsAskedFor() {
    auto s = spec();
    auto parallel = on(3, Characteristic::Parallelism, 0.05, {"A"});
    parallel.id = RequirementId{1};
    s.requirements = {on(3, Characteristic::Flatness, 0.05), parallel};
    remarks(s, s.requirements[0], "must be tighter");
    s.requirements[0].tolerance = 0.02;
    QVERIFY(proofread(s, s.requirements[0]).empty());
    auto upper = on(1, Characteristic::Position, 0.2, {"A", "C"}), lower = upper;
    upper.zone = lower.zone = Zone::Diametral;
    lower.id = RequirementId{1};
    lower.upper_segment = RequirementId{0};
    s.requirements = {upper, lower};
    remarks(s, s.requirements[1], "lower segment");
  }
  void limitsAndFeatures() {
    const auto s = spec();
    auto size = on(1, Characteristic::Size, 0);
    size.lower = 8.1, size.upper = 8.0;
    remarks(s, size, "above the upper");
    auto loose = on(1, Characteristic::Position, 0.1, {"A"});
    loose.features.clear();
    remarks(s, loose, "tied to no feature", false);
    remarks(s, on(0, Characteristic::Flatness, 0), "zero", false);
  }

 private slots:
  void formulas() {
    Specification s = spec();
    const auto value = [&](int balloon, const char* formula) {
      Requirement r;
      r.id = RequirementId{balloon - 1};
      r.balloon = balloon;
      r.kind = Characteristic::Value;
      r.formula = formula;
      return r;
    };
    s.requirements = {value(1, "#2 + 1"), value(2, "2 * #3"), value(3, "#1 / 2"),
                      value(4, "\"B\".diameter - 8")};
    remarks(s, value(5, ""), "no formula", false);
    remarks(s, value(5, "2 * (3"), "2 * (3", false);
    remarks(s, value(5, "#9 + 1"), "no requirement #9", false);
    remarks(s, value(5, "\"X\".diameter"), "no feature \"X\"", false);
    remarks(s, s.requirements[0], "#1 -> #2 -> #3 -> #1", false);
    remarks(s, value(5, "#5"), "#5 -> #5", false);
    QVERIFY(proofread(s, s.requirements[3]).empty());
    QVERIFY(
        proofread(s, value(5, "1 / #4")).empty()); // what the values make of it is not its fault
    Requirement crossed = value(5, "#4");
    crossed.lower = 1, crossed.upper = -1;
    remarks(s, crossed, "above the upper");
  }
  void reciprocityAndOffset() {
    const Specification s = spec();
    Requirement r = on(1, Characteristic::Position, 0.1, {"A"});
    r.zone = Zone::Diametral;
    r.reciprocity = true;
    remarks(s, r, "R goes with M or L");
    r.material = MaterialModifier::Maximum;
    r.standard = ToleranceStandard::Asme;
    remarks(s, r, "knows no reciprocity");
    Requirement p = on(3, Characteristic::SurfaceProfile, 0.1, {"A"});
    p.free_offset = true;
    QVERIFY(proofread(s, p).empty());
    p.unequal = 0.02;
    remarks(s, p, "no middle of its own");
    p.unequal = 0;
    p.standard = ToleranceStandard::Asme2009;
    remarks(s, p, "no dynamic profile");
    Requirement f = on(3, Characteristic::Flatness, 0.1);
    f.free_offset = true;
    remarks(s, f, "Only the zone of a profile");
  }
  void dimensionsWithOneFeature() {
    const Specification s = spec();
    Requirement d = on(1, Characteristic::Distance, 0.1);
    remarks(s, d, "needs two features", false);
    d.along = Along::Radial;
    QVERIFY(proofread(s, d).empty());
    d.kind = Characteristic::Angle;
    remarks(s, d, "about X, Y or Z");
  }
};
ALDER_TEST(ProofreadTest)
#include "proofread_test.moc"
