#include "base/random.h"
#include "base/units.h"
#include "judge/conditioning.h"
#include "judge/judge.h"
#include "judge/verdict.h"
#include "plan/edit.h"
#include "support.h"

using namespace alder;

// What happens to the points before they are judged, on features of the Heron.
class ConditioningTest : public QObject {
  Q_OBJECT

  const Plan& plan_ = test::heronPlan();
  FeatureId of(int balloon) const { return test::balloon(plan_, balloon).features[0]; }

  // A cylinder of the plan measured in rings of n points, radius by angle.
  MeasuredFeature rings(FeatureId id, int n, const std::function<double(double)>& extra,
                        double from = 0, double to = 2 * kPi) const {
    const Ideal& i = plan_.nominal(id).ideal;
    const Frame frame = frameOf(i.point, i.direction);
    MeasuredFeature m;
    for (int row = 0; row < 3; ++row)
      for (int k = 0; k < n; ++k) {
        const double a = from + (to - from) * k / n, r = i.diameter / 2 + extra(a);
        m.points.push_back(frame *
                           Vec3(r * std::cos(a), r * std::sin(a), i.length * (0.25 + 0.25 * row)));
        m.rows.push_back(row);
        m.faces.push_back(plan_.nominal(id).faces.front());
        m.nominals.push_back(m.points.back());
      }
    return m;
  }
  static double range(const MeasuredFeature& m, const NominalFeature& f) {
    return actualOf(f, m)->form;
  }

 private slots:
  void nothingAskedNothingDone() {
    const Measurements raw = test::exactly(plan_);
    for (const Requirement& r : plan_.spec.requirements) {
      const auto c = conditioned(plan_, r, raw);
      VERIFY_OK(c);
      QVERIFY(c->how.empty() && c->why.empty());
      for (const auto& [id, m] : c->measured) {
        QVERIFY(m.points == raw.at(id).points);
        QVERIFY(m.origin.empty());
      }
    }
  }
  void wavesFade() {
    const FeatureId bore = of(2);
    const NominalFeature& f = plan_.nominal(bore);
    const auto m = rings(
        bore, 360, [](double a) { return 0.01 * std::cos(5 * a) + 0.002 * std::cos(60 * a); });
    const auto gauss = filteredFeature(plan_, f, m, {FilterKind::Gaussian, 0, 20, 0, 0});
    VERIFY_OK(gauss);
    NEAR(range(*gauss, f), 0.02 * std::exp(-std::log(2.0) / 16), 2e-5);
    // The same said in mm along the circumference.
    const double cutoff = kPi * f.ideal.diameter / 20;
    const auto in_mm = filteredFeature(plan_, f, m, {FilterKind::Gaussian, cutoff, 0, 0, 0});
    VERIFY_OK(in_mm);
    NEAR(range(*in_mm, f), range(*gauss, f), 1e-7);
  }
  // A filter of a filter would fade twice: it always begins from the points as measured.
  void neverFilteredTwice() {
    Plan plan = plan_;
    const FeatureId bore = of(2);
    const Filtering filtering{FilterKind::Gaussian, 0, 10, 0, 0};
    plan.spec.features[static_cast<std::size_t>(bore.value)].filtering = filtering;
    Requirement own = test::balloon(plan, 4);
    own.filtering = filtering;
    Measurements raw = test::exactly(plan);
    raw[bore] = rings(bore, 120, [](double a) { return 0.01 * std::cos(6 * a); });
    const Requirement& inherited = test::balloon(plan, 4);
    const auto a = judge(plan, inherited, raw), b = judge(plan, own, raw);
    QVERIFY(a.actual && b.actual);
    NEAR(*a.actual, *b.actual, 1e-12);
    own.filtering = Filtering{};
    QVERIFY(*judge(plan, own, raw).actual > *a.actual + 1e-3);
  }
  void openArcsAreNotJoined() {
    const FeatureId bore = of(2);
    const NominalFeature& f = plan_.nominal(bore);
    // Two thirds of a turn: undulations per revolution mean nothing, a cut-off in mm does.
    const auto arc = rings(
        bore, 100, [](double a) { return 0.001 * a; }, 0, 4 * kPi / 3);
    const auto refused = filteredFeature(plan_, f, arc, {FilterKind::Gaussian, 0, 15, 0, 0});
    QVERIFY(!refused && refused.error().message.find("cut-off in mm") != std::string::npos);
    const auto smooth = filteredFeature(plan_, f, arc, {FilterKind::Gaussian, 5, 0, 0, 0});
    VERIFY_OK(smooth);
    double moved = 0;
    for (std::size_t i = 0; i < arc.points.size(); ++i)
      moved = std::max(moved, (smooth->points[i] - arc.points[i]).norm());
    QVERIFY(moved < 2e-4); // a slow change stays, at the ends too
  }
  void outliersAndTheirPlaces() {
    const FeatureId bore = of(2);
    const NominalFeature& f = plan_.nominal(bore);
    Random random(7);
    auto m = rings(bore, 60, [&](double) { return 0.0005 * random.normal(); });
    const std::vector<std::size_t> wild{7, 66, 130};
    for (const std::size_t i : wild)
      m.points[i] += 0.05 * (m.points[i] - f.ideal.point).normalized();
    const auto kept = filteredFeature(plan_, f, m, {FilterKind::None, 0, 0, 5, 0});
    VERIFY_OK(kept);
    QCOMPARE(kept->points.size(), m.points.size() - 3);
    for (const std::size_t i : wild)
      QVERIFY(std::find(kept->origin.begin(), kept->origin.end(), i) == kept->origin.end());
    for (std::size_t k = 0; k < kept->points.size(); ++k)
      QVERIFY(kept->points[k] == m.points[kept->origin[k]]);
    // By share the same three go first, though one wild point shifts the first fit.
    const auto share = filteredFeature(plan_, f, m, {FilterKind::None, 0, 0, 0, 3.0 / 180});
    VERIFY_OK(share);
    QVERIFY(share->origin == kept->origin);
    // The verdict speaks of the points as they came.
    Plan plan = plan_;
    Requirement r = test::balloon(plan, 4);
    r.filtering = Filtering{FilterKind::None, 0, 0, 5, 0};
    Measurements raw = test::exactly(plan);
    raw[bore] = m;
    const auto e = judge(plan, r, raw);
    QVERIFY2(e.actual && *e.actual < 0.01, e.how.c_str());
    QCOMPARE(e.features[0].deviations.size(), m.points.size());
    for (const std::size_t i : wild)
      QVERIFY(std::isnan(e.features[0].deviations[i]));
    for (const Contact& c : e.features[0].contacts)
      QVERIFY(std::find(wild.begin(), wild.end(), c.point) == wild.end());
  }
  // Neither the frame of the points nor their order within a ring changes a filtered figure.
  void framesAndOrderDoNotMatter() {
    const FeatureId bore = of(2);
    Requirement r = test::balloon(plan_, 4);
    r.filtering = Filtering{FilterKind::Robust, 0, 12, 0, 0};
    Random random(11);
    Measurements raw = test::exactly(plan_);
    raw[bore] = rings(bore, 90,
                      [&](double a) { return 0.004 * std::cos(4 * a) + 0.0005 * random.normal(); });
    const double before = *judge(plan_, r, raw).actual;
    Measurements turned = raw;
    const Frame f = smallMotion(Vec3(0.004, -0.007, 0.01), Vec3(2, -1, 3), Vec3(10, 20, 30));
    for (auto& [id, m] : turned)
      m.points = test::moved(m.points, f);
    NEAR(*judge(plan_, r, turned).actual, before, 1e-8);
    Measurements shuffled = raw;
    auto& m = shuffled[bore];
    for (std::size_t i = m.points.size() - 1; i > 0; --i) {
      const auto k = static_cast<std::size_t>(random.uniform() * static_cast<double>(i + 1));
      std::swap(m.points[i], m.points[k]);
      std::swap(m.rows[i], m.rows[k]);
      std::swap(m.nominals[i], m.nominals[k]);
    }
    NEAR(*judge(plan_, r, shuffled).actual, before, 1e-9);
  }
  // A constructed feature goes with its parents wherever they are measured.
  void constructedFeaturesFollow() {
    Plan plan = plan_;
    const auto holes = test::balloon(plan, 9).features;
    Construction circle;
    circle.kind = ConstructionKind::CircleThrough;
    circle.of = holes;
    VERIFY_OK(applyEdit(plan, SetSpecification{*withConstructed(plan, circle)}));
    const FeatureId id = plan.spec.features.back().id;
    Requirement r;
    r.features = {id};
    Measurements raw = test::exactly(plan_);
    const auto centre = [&](const Measurements& m) {
      const auto c = conditioned(plan, r, m);
      return measuredShape(plan.nominal(id), c->measured.at(id))->ideal.point;
    };
    const Vec3 here = centre(raw);
    NEAR((here - plan.nominal(id).ideal.point).norm(), 0.0, 1e-6);
    for (FeatureId hole : holes)
      for (Vec3& p : raw[hole].points)
        p += Vec3(0.02, -0.01, 0);
    NEAR((centre(raw) - here - Vec3(0.02, -0.01, 0)).norm(), 0.0, 1e-6);
    raw.erase(holes[2]);
    const auto c = conditioned(plan, r, raw);
    VERIFY_OK(c);
    QVERIFY(c->why.at(id).find("is not measured") != std::string::npos);
    r.kind = Characteristic::Size;
    r.tolerance = 1;
    QVERIFY(judge(plan, r, raw).verdict == Verdict::Unmeasured);
  }
};

ALDER_TEST(ConditioningTest)
#include "conditioning_test.moc"
