#include "exchange/qif/qif_file.h"

#include "base/random.h"
#include "base/units.h"
#include "exchange/qif/qif_ids.h"
#include "judge/judge.h"
#include "made_parts.h"
#include "made_routine.h"
#include "made_specification.h"
#include "part/step_import.h"
#include "plain_routine.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/edit.h"
#include "qif_document.h"
#include "random_parts.h"
#include "route/draft.h"
#include "support.h"
#include <set>

using namespace alder;

namespace {

std::string joined(const std::vector<std::string>& lines) {
  return fmt::format("{}", fmt::join(lines, "\n  "));
}

std::string written(const Plan& plan, const KeptQif& kept = {}) {
  return qifDocument({plan, {}, {}, {}, kept}, {}).text;
}

// What the file should say of a requirement, read by another reader.
std::string saidWrong(const test::QifDocument& doc, const Specification& spec,
                      const Requirement& r) {
  const std::string item = fmt::format("/q:QIFDocument/q:Characteristics/q:CharacteristicItems/"
                                       "*[q:CharacteristicDesignator/q:Designator='{}']",
                                       r.balloon);
  const std::string nominal = fmt::format("//q:CharacteristicNominals/*[@id={}]",
                                          doc.text(item + "/q:CharacteristicNominalId"));
  const std::string definition = fmt::format("//q:CharacteristicDefinitions/*[@id={}]",
                                             doc.text(nominal + "/q:CharacteristicDefinitionId"));
  std::vector<std::string> features;
  for (const std::string& id : doc.texts(item + "/q:FeatureItemIds/q:Id"))
    features.push_back(doc.text(fmt::format("//q:FeatureItems/*[@id={}]/q:FeatureName", id)));
  std::vector<std::string> own;
  for (const FeatureId f : r.features)
    own.push_back(spec.feature(f).name);
  if (features != own) return "features " + joined(features);
  const auto is = [&](const std::string& path, double value) {
    const auto v = doc.numbers(path);
    if (!std::isfinite(value)) return v.empty(); // a limit that is open
    return v.size() == 1 && std::abs(v[0] - value) < 1e-9;
  };
  const double scale = r.kind == Characteristic::Angle ? degrees(1) : 1;
  if (isDimension(r.kind)) {
    if (!is(definition + "/q:Tolerance/q:MaxValue", r.upper * scale)) return "upper limit";
    if (!is(definition + "/q:Tolerance/q:MinValue", r.lower * scale)) return "lower limit";
    if (!is(nominal + "/q:TargetValue", r.nominal * scale)) return "nominal";
    return {};
  }
  if (!is(definition + "/q:ToleranceValue", r.tolerance)) return "tolerance";
  const std::string material = doc.text(definition + "/q:MaterialCondition");
  if (material != (r.material == MaterialModifier::Maximum ? "MAXIMUM"
                   : r.material == MaterialModifier::Least ? "LEAST"
                                                           : ""))
    return "material " + material;
  const std::string frame = doc.text(definition + "/q:DatumReferenceFrameId");
  std::string letters, wanted;
  if (!frame.empty())
    for (const std::string& id :
         doc.texts(fmt::format("//q:DatumReferenceFrame[@id={}]//q:DatumDefinitionId", frame)))
      letters += doc.text(fmt::format("//q:DatumDefinition[@id={}]/q:DatumLabel", id)) + " ";
  for (const DatumReference& d : r.datums)
    for (const std::string& l : d.letters)
      wanted += l + " ";
  return letters == wanted ? "" : "datums " + letters;
}

std::string saidWrong(const std::string& text, const Specification& spec) {
  const test::QifDocument doc(text);
  if (const auto faults = doc.faults(); !faults.empty()) return joined(faults);
  for (const Requirement& r : spec.requirements)
    if (const auto wrong = saidWrong(doc, spec, r); !wrong.empty())
      return fmt::format("requirement {} {}: {}", r.balloon, describe(spec, r), wrong);
  return {};
}

// How each is judged, by lot: whatever a requirement can have beside what it asks for.
void judgedByLot(Specification& spec, std::uint64_t seed) {
  Random random(seed);
  const auto chance = [&] { return random.uniform() < 0.25; };
  const auto below = [&](int n) { return std::min(n - 1, static_cast<int>(random.uniform() * n)); };
  Requirement value;
  value.id = spec.requirements.next();
  value.kind = Characteristic::Value;
  value.formula = "#1 * 2";
  value.unit = std::array{"mm", "deg", ""}[static_cast<std::size_t>(below(3))];
  value.nominal = 12.5, value.lower = 12.25, value.upper = 13;
  spec.requirements.push_back(value);
  for (NominalFeature& f : spec.features)
    if (chance()) f.filtering = Filtering{FilterKind::Gaussian, 0.8, 0, 0, 0};
  for (Requirement& r : spec.requirements) {
    if (chance()) r.standard = static_cast<ToleranceStandard>(below(3));
    if (chance()) r.association = static_cast<AssociateBy>(below(15));
    if (chance()) r.datum_association = AssociateBy::LeastSquares;
    if (chance()) r.of = static_cast<Extracted>(below(4));
    if (chance()) r.filtering = Filtering{FilterKind::Robust, 0.8, 15, 3, 0.01};
    if (chance()) r.projected = 12.5;
    if (chance()) r.unit_length = 25;
    if (chance()) r.separate = true;
    if (chance()) r.envelope = true;
    if (chance()) r.along = static_cast<Along>(below(5));
    if (chance()) r.reciprocity = true;
    if (chance()) r.free_offset = true;
    if (chance()) r.together = 1 + below(3);
    if (chance()) r.zone_plane = PlaneIndicator{PlaneRelation::Perpendicular, "B"};
    if (chance()) r.section_plane = PlaneIndicator{PlaneRelation::Including, "A"};
    if (chance()) r.extreme = static_cast<Extreme>(below(3));
    if (chance()) r.uncertainty = 0.0015;
    if (chance()) r.decimals = below(7);
    if (chance() && !isDimension(r.kind)) r.zone = static_cast<Zone>(below(3));
    for (DatumReference& d : r.datums)
      if (chance()) d.boundary = 8.02;
  }
}

Plan withSpecification(const PartPtr& part, std::uint64_t seed) {
  Plan plan;
  plan.name = "made";
  plan.part = part;
  plan.bench = test::heronBench();
  plan.spec = test::madeSpecification(*part, seed);
  for (const NominalFeature& f : plan.spec.features)
    plan.features.push_back({f.id, recipeFor(f, plan.spec, plan.book)});
  judgedByLot(plan.spec, seed);
  int balloon = 0;
  for (Requirement& r : plan.spec.requirements)
    r.balloon = ++balloon, r.entity = 0;
  return plan;
}

} // namespace

// QIF as it is written, seen by another reader; and read back.
class QifTest : public QObject {
  Q_OBJECT

 private slots:
  void heronIsValid() {
    const Plan& plan = test::heronPlan();
    const std::string text = written(plan);
    QCOMPARE(saidWrong(text, plan.spec), std::string());
    QCOMPARE(written(plan), text);
    // Places and touches, too.
    const test::QifDocument doc(text);
    const FeatureId bore = test::named(plan, "Bore ø32");
    const std::string nominal = "//q:CylinderFeatureNominal[q:Name='Bore ø32']";
    const auto axis = doc.numbers(nominal + "/q:Axis/q:Direction");
    QCOMPARE(axis.size(), std::size_t{3});
    NEAR((Vec3(axis[0], axis[1], axis[2]) - plan.nominal(bore).ideal.direction).norm(), 0.0, 1e-12);
    QCOMPARE(
        doc.texts("//q:MeasureFeatureAction[q:Name='Measure Bore ø32']//q:NominalPoint").size(),
        plan.feature(bore).touches.size());
    QCOMPARE(doc.texts("//q:PlanRoot//q:ActionIds/q:Id").size(),
             measuringOrder(plan.steps, false).size() + 1);
    for (const std::string& entity : doc.texts(nominal + "/q:EntityExternalIds/q:Id"))
      QVERIFY(test::heron()->bytes.find("#" + entity + "=") != std::string::npos ||
              test::heron()->bytes.find("#" + entity + " =") != std::string::npos);
  }

  // The schema is no check that cannot fail.
  void schemaFindsFaults() {
    const std::string good = written(test::heronPlan());
    const auto wrong = [&](const std::string& a, const std::string& b) {
      std::string text = good;
      const auto at = text.find(a);
      if (at == std::string::npos) return false;
      text.replace(at, a.size(), b);
      return !test::QifDocument(text).faults().empty();
    };
    QVERIFY(wrong("<InternalExternal>INTERNAL", "<InternalExternal>INSIDE"));
    QVERIFY(wrong("<ToleranceValue>0", "<ToleranceValue>-"));
    QVERIFY(wrong("<FeatureNominalId>", "<FeatureNominalId>99")); // of nothing
    QVERIFY(wrong("FeatureDefinitions n=\"", "FeatureDefinitions n=\"9"));
    QVERIFY(wrong("<FileUnits>", "<FileUnits><Else/>"));
    QVERIFY(wrong("<DatumLabel>A</DatumLabel>", ""));
    QVERIFY(wrong("idMax=\"", "idMax=\"-"));
    QVERIFY(wrong("<CharacteristicNominals n", "<Nominals/><CharacteristicNominals n"));
  }

  void specificationsComeBack_data() {
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 1; seed <= 24; ++seed)
      QTest::addRow("%u", seed) << seed;
  }
  // All that can be asked for, on parts of several units and places.
  void specificationsComeBack() {
    QFETCH(unsigned, seed);
    static const std::vector<PartPtr> kParts = [] {
      std::vector<PartPtr> parts{test::heron()};
      for (const char* unit : {"mm", "inch"})
        if (auto step = test::bracketStep(unit, unit[0] == 'm' ? 1 : 0))
          if (auto part = importStep(*step, "bracket.step")) parts.push_back(*part);
      return parts;
    }();
    QCOMPARE(kParts.size(), std::size_t{3});
    const PartPtr& part = kParts[seed % kParts.size()];
    const Plan plan = withSpecification(part, seed);
    const std::string text = written(plan);
    const std::string wrong = saidWrong(text, plan.spec);
    QVERIFY2(wrong.empty(), wrong.c_str());
    // Onto the part alone, with nothing asked for.
    Plan bare;
    bare.name = plan.name, bare.part = part, bare.bench = plan.bench;
    const auto read = readQif(text, "made.qif", bare, ReadOnto::Routine);
    VERIFY_OK(read);
    QCOMPARE(joined(read->remarks), std::string());
    QCOMPARE(test::firstDifference(test::plainSpecification(plan.spec),
                                   test::plainSpecification(read->plan.spec)),
             std::string());
    QCOMPARE(read->kept, 0);
    // Written again it is the same file.
    Plan again = read->plan;
    const std::string second = written(again, read->qif);
    const test::QifDocument one(text), two(second);
    for (const char* ids :
         {"//q:Characteristics//@id", "//q:Features//@id", "//q:DatumDefinition/@id",
          "//q:FeatureItems/*/q:QPId", "//q:CharacteristicItems/*/q:QPId"}) {
      auto a = one.texts(ids), b = two.texts(ids);
      std::sort(a.begin(), a.end()), std::sort(b.begin(), b.end());
      QCOMPARE(joined(b), joined(a));
    }
    QCOMPARE(saidWrong(second, again.spec), std::string());
  }

  void routinesComeBack_data() {
    QTest::addColumn<int>("seed");
    for (int seed = -2; seed <= 24; ++seed)
      QTest::addRow("%d", seed) << seed;
  }
  // Features, requirements, touches, tips and steps of all kinds, onto the bare part.
  void routinesComeBack() {
    QFETCH(int, seed);
    const Plan plan = seed > 0 ? test::routineByLot(static_cast<unsigned>(seed))
                               : test::routineOfEveryKind(seed % 2 == 0);
    const std::string text = written(plan);
    QCOMPARE(saidWrong(text, plan.spec), std::string());
    Plan base = beginPlan(test::heron(), plan.bench);
    const auto read = readQif(text, "made.qif", base, ReadOnto::Part);
    VERIFY_OK(read);
    QCOMPARE(joined(read->remarks), std::string());
    QCOMPARE(test::firstDifference(test::plainSpecification(plan.spec),
                                   test::plainSpecification(read->plan.spec)),
             std::string());
    QCOMPARE(test::firstDifference(test::plainMeasuring(plan), test::plainMeasuring(read->plan)),
             std::string());
  }

  // A thing has its number and identity whatever else is taken away or put in.
  void identitiesStay() {
    Plan plan = test::heronPlan();
    const std::string before = written(plan);
    const RequirementId gone = test::balloon(plan, 4).id;
    auto spec = withoutRequirement(plan.spec, gone);
    VERIFY_OK(spec);
    plan.spec = *spec;
    Requirement more = plan.spec.requirements.front();
    more.id = plan.spec.requirements.next(), more.balloon = 99;
    plan.spec.requirements.insert(0, more);
    plan.spec.features.find(test::named(plan, "Bore ø32"))->name = "the bore";
    const std::string after = written(plan);
    const test::QifDocument a(before), b(after);
    for (const Requirement& r : test::heronPlan().spec.requirements) {
      const std::string item = fmt::format(
          "//q:CharacteristicItems/*[q:CharacteristicDesignator/q:Designator='{}']", r.balloon);
      for (const char* what : {"/@id", "/q:QPId", "/q:CharacteristicNominalId"}) {
        if (r.id == gone)
          QVERIFY(b.texts(item + what).empty());
        else
          QCOMPARE(b.text(item + what), a.text(item + what));
      }
    }
    QCOMPARE(b.text("//q:FeatureItems/*[q:FeatureName='the bore']/q:QPId"),
             a.text("//q:FeatureItems/*[q:FeatureName='Bore ø32']/q:QPId"));
    std::set<std::string> all;
    for (const std::string& id : b.texts("//q:QPId"))
      QVERIFY2(all.insert(id).second, id.c_str());
  }

  // Of a routine whose requirement says another figure by now: it is changed, and told.
  void changedRequirementIsTold() {
    Plan plan = test::heronPlan();
    const RequirementId id = test::balloon(plan, 4).id;
    plan.spec.requirements.find(id)->tolerance = 0.123;
    plan.spec.requirements.find(id)->upper = 0.123;
    const auto read = readQif(written(plan), "new.qif", test::heronPlan(), ReadOnto::Routine);
    VERIFY_OK(read);
    QCOMPARE(read->remarks.size(), std::size_t{1});
    QVERIFY2(read->remarks[0].find("requirement 4 was cylindricity 0.015, in the file it is "
                                   "cylindricity 0.123") != std::string::npos,
             read->remarks[0].c_str());
    QCOMPARE(read->plan.spec.requirements.size(), plan.spec.requirements.size());
    NEAR(read->plan.spec.requirement(id).tolerance, 0.123, 1e-12);
  }

  // A lower segment whose upper one is not taken over is no composite any more: that is told.
  void upperSegmentMissing() {
    const Plan& plan = test::heronPlan();
    const auto lower = std::find_if(plan.spec.requirements.begin(), plan.spec.requirements.end(),
                                    [](const Requirement& r) { return r.upper_segment.valid(); });
    QVERIFY(lower != plan.spec.requirements.end());
    std::string text = written(plan);
    const int upper = qif::Ids(plan, {}).of(qif::Thing::CharacteristicItem, lower->upper_segment);
    const std::string named = fmt::format("&quot;upper_segment&quot;:{}", upper);
    const auto at = text.find(named);
    QVERIFY(at != std::string::npos);
    text.replace(at, named.size(), "&quot;upper_segment&quot;:99999999");
    const auto read =
        readQif(text, "less.qif", beginPlan(test::heron(), plan.bench), ReadOnto::Part);
    VERIFY_OK(read);
    QCOMPARE(read->remarks.size(), std::size_t{1});
    QVERIFY2(read->remarks[0].find("its upper one is not taken over") != std::string::npos,
             read->remarks[0].c_str());
  }

  // What the model asks for and the file does not is gone from a bare part, and told.
  void lessThanTheModel() {
    Plan plan = test::heronPlan();
    auto spec = withoutRequirement(plan.spec, test::balloon(plan, 4).id);
    VERIFY_OK(spec);
    plan.spec = *spec;
    const auto read =
        readQif(written(plan), "less.qif", beginPlan(test::heron(), plan.bench), ReadOnto::Part);
    VERIFY_OK(read);
    QCOMPARE(joined(read->remarks),
             std::string("less.qif: does not ask for cylindricity 0.015, as the model does"));
    QCOMPARE(read->plan.spec.requirements.size(), plan.spec.requirements.size());
  }
};

ALDER_TEST(QifTest)
#include "qif_test.moc"
