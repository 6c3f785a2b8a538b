#include "base/random.h"
#include "judge/actual.h"
#include "judge/judge.h"
#include "made_block.h"
#include "support.h"

using namespace alder;

// What must hold of any judgement at M and L, whatever the part: more material never helps at M,
// less never at L; a wider zone never harms; the bonus is no more than the size gives.
class MonotonyTest : public QObject {
  Q_OBJECT

  static Vec3 outOfMaterial(const Ideal& i, const Vec3& p) {
    const Vec3 r = p - i.point, along = r.dot(i.direction) * i.direction;
    const Vec3 out = i.type == SurfaceType::Sphere ? r
                     : i.type == SurfaceType::Slot ? along
                                                   : Vec3(r - along);
    return (i.hole ? -1 : 1) * out.normalized();
  }
  // Material added (taken away where `grown` is negative), more in one place than in another.
  static void grow(test::MadeBlock& block, FeatureId id, double grown, std::uint64_t seed) {
    Random random(seed);
    for (Vec3& p : block.measured.at(id).points)
      p += grown * random.uniform() * outOfMaterial(block.plan.nominal(id).ideal, p);
  }
  static double margin(const test::MadeBlock& block, const Requirement& r) {
    const Evaluation e = judge(block.plan, r, block.measured);
    if (!e.actual) qFatal("%s: %s", test::describe(block, r).c_str(), e.how.c_str());
    return e.upper - *e.actual;
  }
  static std::vector<Requirement> withModifier(const test::MadeBlock& block) {
    std::vector<Requirement> all;
    for (const Requirement& r : block.plan.spec.requirements)
      if (r.material != MaterialModifier::None) all.push_back(r);
    return all;
  }
  // By ASME requirements of the same datums are held together, and a pattern is one; here each
  // feature is looked at by itself, as a placement that serves one better may serve another worse.
  static test::MadeBlock blockOf(int seed, bool iso) {
    test::MadeBlock block = test::madeBlock(static_cast<std::uint64_t>(seed), 0.03,
                                            iso ? ToleranceStandard::Iso : ToleranceStandard::Asme);
    Table<Requirement> each;
    for (Requirement& r : block.plan.spec.requirements) {
      r.separate = true;
      const bool split = !iso && r.material != MaterialModifier::None && r.features.size() > 1;
      for (const FeatureId id : split ? r.features : std::vector<FeatureId>{FeatureId{}}) {
        Requirement one = r;
        if (split) one.features = {id};
        one.id = each.next();
        each.push_back(std::move(one));
      }
    }
    block.plan.spec.requirements = std::move(each);
    return block;
  }
  static void rows() {
    QTest::addColumn<int>("seed");
    QTest::addColumn<bool>("iso");
    for (int seed = 1; seed <= 4; ++seed)
      for (const bool iso : {true, false})
        QTest::addRow("%d %s", seed, iso ? "ISO" : "ASME") << seed << iso;
  }

 private slots:
  void material_data() { rows(); }
  void material() {
    QFETCH(int, seed);
    QFETCH(bool, iso);
    const auto block = blockOf(seed, iso);
    int tried = 0, better = 0, worse = 0;
    for (const Requirement& r : withModifier(block)) {
      const double before = margin(block, r);
      auto features = r.features;
      for (const DatumReference& d : r.datums)
        if (d.material == r.material)
          features.push_back(block.plan.spec.datum(d.letters.front())->features.front());
      for (const FeatureId id : features)
        for (const double amount : {0.001, 0.01, 0.05}) {
          auto grown = block;
          grow(grown, id, r.material == MaterialModifier::Maximum ? amount : -amount,
               static_cast<std::uint64_t>(seed));
          ++tried;
          const double after = margin(grown, r);
          worse += after < before - 1e-5;
          if (after <= before + 1e-7) continue;
          ++better;
          qWarning("%s: %g mm on %s, margin %.7f, was %.7f", test::describe(block, r).c_str(),
                   amount, block.plan.nominal(id).name.c_str(), after, before);
        }
    }
    QVERIFY(tried > 40 && worse > tried / 2);
    QCOMPARE(better, 0);
  }
  void widerZone_data() { rows(); }
  void widerZone() {
    QFETCH(int, seed);
    QFETCH(bool, iso);
    const auto block = blockOf(seed, iso);
    for (const Requirement& r : block.plan.spec.requirements) {
      if (isDimension(r.kind)) continue;
      auto wider = block;
      Requirement& w = wider.plan.spec.requirements[static_cast<std::size_t>(r.id.value)];
      w.tolerance += 0.03;
      const Evaluation before = judge(block.plan, r, block.measured),
                       after = judge(wider.plan, w, wider.measured);
      QVERIFY2(before.actual && after.actual, before.how.c_str());
      QVERIFY2(after.verdict <= before.verdict, test::describe(block, r).c_str());
      QVERIFY2(after.upper - *after.actual >= before.upper - *before.actual - 1e-7,
               test::describe(block, r).c_str());
    }
  }
  void bonus_data() { rows(); }
  void bonus() {
    QFETCH(int, seed);
    QFETCH(bool, iso);
    const auto block = blockOf(seed, iso);
    for (const Requirement& r : withModifier(block)) {
      const Evaluation e = judge(block.plan, r, block.measured);
      double room = 0;
      for (const FeatureId id : r.features) {
        const NominalFeature& f = block.plan.nominal(id);
        const Requirement& size = *block.plan.spec.sizeOf(id);
        const bool most = r.material == MaterialModifier::Maximum, lower = f.ideal.hole == most;
        const auto envelope =
            actualOf(f, block.measured.at(id), most ? matingEnvelope(f) : materialEnvelope(f));
        VERIFY_OK(envelope);
        room = std::max(room, lower ? *envelope->size - size.lower : size.upper - *envelope->size);
      }
      QVERIFY2(e.upper <= r.tolerance + room + 1e-6,
               qPrintable(QString("%1: %2 allowed, the size gives %3")
                              .arg(test::describe(block, r).c_str())
                              .arg(e.upper, 0, 'f', 7)
                              .arg(r.tolerance + room, 0, 'f', 7)));
    }
  }
};
ALDER_TEST(MonotonyTest)
#include "monotony_test.moc"
