#include "base/random.h"
#include "base/units.h"
#include "judge/datum_system.h"
#include "judge/judge.h"
#include "judge/nominal_figure.h"
#include "judge/verdict.h"
#include "support.h"

using namespace alder;

// Exact points with one thing wrong at a time; the figure that must come out is worked out by hand.
class JudgeTest : public QObject {
  Q_OBJECT

  static Points& points(Measurements& m, FeatureId f) { return m.at(f).points; }
  static void shift(Measurements& m, FeatureId f, const Vec3& by) {
    for (Vec3& p : points(m, f))
      p += by;
  }
  static void motion(Measurements& m, FeatureId f, const Frame& frame) {
    for (Vec3& p : points(m, f))
      p = frame * p;
  }
  static void resize(const Plan& plan, Measurements& m, FeatureId f, double diameter_change) {
    const auto& touches = plan.feature(f).touches;
    const bool hole = plan.nominal(f).ideal.hole;
    for (std::size_t i = 0; i < touches.size(); ++i)
      points(m, f)[i] += touches[i].normal * (hole ? -1 : 1) * diameter_change / 2;
  }
  static double actual(const Plan& plan, int balloon, const Measurements& m) {
    const Evaluation e = judge(plan, test::balloon(plan, balloon), m);
    if (!e.actual) qWarning("%s", e.how.c_str());
    return e.actual.value_or(-1);
  }

  const Plan& plan_ = test::heronPlan();
  FeatureId of(int balloon, std::size_t k = 0) const {
    return test::balloon(plan_, balloon).features[k];
  }

 private slots:
  void perfectPartsHaveNoError() {
    const auto all = judgeAll(plan_, test::exactly(plan_));
    QCOMPARE(all.size(), std::size_t(35));
    for (const Evaluation& e : all) {
      const Requirement& r = plan_.spec.requirement(e.requirement);
      QVERIFY2(e.actual.has_value(), e.how.c_str());
      const double expected = isDimension(r.kind) ? r.nominal : 2 * std::abs(r.unequal);
      NEAR(*e.actual, expected, 2e-6);
      QVERIFY(!e.how.empty());
    }
  }
  void nominalFiguresAreNominal() {
    for (const Requirement& r : plan_.spec.requirements) {
      const auto figure = nominalFigure(plan_, r);
      QVERIFY(figure);
      NEAR(*figure, isDimension(r.kind) ? r.nominal : 2 * std::abs(r.unequal), 2e-6);
    }
    QVERIFY(!nominalFigure(plan_, Requirement{}));
  }
  // Whatever frame the points come in, each requirement is judged in its own datum system.
  void figuresDoNotDependOnTheFrame() {
    Measurements m = test::exactly(plan_);
    shift(m, of(9, 1), Vec3(0.03, 0.04, 0));
    resize(plan_, m, of(29), 0.02);
    shift(m, of(28), Vec3(-0.01, 0, 0));
    const auto before = judgeAll(plan_, m);
    const Frame f = smallMotion(Vec3(0.004, -0.007, 0.01), Vec3(2, -1, 3), Vec3(10, 20, 30));
    for (auto& [id, feature] : m)
      for (Vec3& p : feature.points)
        p = f * p;
    const auto after = judgeAll(plan_, m);
    for (std::size_t i = 0; i < before.size(); ++i) {
      if (std::abs(*after[i].actual - *before[i].actual) > 5e-6) qWarning("requirement %zu", i + 1);
      NEAR(*after[i].actual, *before[i].actual, 5e-6);
    }
  }
  void sizes() {
    Measurements m = test::exactly(plan_);
    resize(plan_, m, of(2), 0.018);
    NEAR(actual(plan_, 2, m), 32.018, 1e-6);
    resize(plan_, m, of(29), -0.05);
    NEAR(actual(plan_, 29, m), 59.95, 1e-6);
    resize(plan_, m, of(21), 0.07);
    NEAR(actual(plan_, 21, m), 6.07, 1e-6);
    resize(plan_, m, of(19), 0.03);
    NEAR(actual(plan_, 19, m), 18.03, 1e-6);
    // the worst of the pattern counts
    resize(plan_, m, of(8, 2), 0.19);
    NEAR(actual(plan_, 8, m), 11.19, 1e-6);
    QVERIFY(judge(plan_, test::balloon(plan_, 8), m).verdict == Verdict::Near);
  }
  void distanceAndAngles() {
    Measurements m = test::exactly(plan_);
    shift(m, of(33, 1), Vec3(0, 0, 0.04));
    NEAR(actual(plan_, 33, m), 40.04, 1e-6);
    motion(m, of(27, 0),
           smallMotion(Vec3(0, 0.002, 0), Vec3::Zero(), plan_.nominal(of(27, 0)).ideal.point));
    NEAR(std::abs(actual(plan_, 27, m) - kPi / 2), 0.002, 1e-6);
  }
  // +d, -d alternating along the mounting face: flatness 2 d once the plane is fitted away; a wave
  // that no plane can follow keeps its range.
  void flatness() {
    Measurements m = test::exactly(plan_);
    auto& p = points(m, of(1));
    Vec3 c = Vec3::Zero();
    for (const Vec3& q : p)
      c += q / double(p.size());
    // a pure tilt and shift is no form error
    motion(m, of(1), smallMotion(Vec3(0.001, 0.002, 0), Vec3(0, 0, 1), c));
    NEAR(actual(plan_, 1, m), 0.0, 1e-9);
    p[0] += Vec3(0, 0, 0.01);
    const double f = actual(plan_, 1, m);
    QVERIFY(f > 0.008 && f <= 0.01 + 1e-9);
  }
  void roundnessAndCylindricity() {
    Measurements m = test::exactly(plan_);
    const FeatureId bore = of(4);
    const Ideal& i = plan_.nominal(bore).ideal;
    const Frame inverse = frameOf(i.point, i.direction).inverse();
    // three lobes of +-d on whole rings: least squares keeps axis and size, the range is near 2 d
    for (Vec3& p : points(m, bore)) {
      const Vec3 q = inverse * p;
      const double a = std::atan2(q.y(), q.x());
      const Vec3 out = (p - i.point) - (p - i.point).dot(i.direction) * i.direction;
      p += out.normalized() * 0.004 * std::cos(3 * a);
    }
    const double c = actual(plan_, 4, m);
    QVERIFY2(c > 0.0065 && c < 0.0095, qPrintable(QString::number(c)));
  }
  // Touches on a cone lie at different heights, which are no deviation; strewn over half of it too.
  void roundnessOfACone() {
    const auto cone =
        std::find_if(plan_.spec.features.begin(), plan_.spec.features.end(),
                     [](const NominalFeature& f) { return f.ideal.type == SurfaceType::Cone; });
    QVERIFY(cone != plan_.spec.features.end());
    const Ideal& i = cone->ideal;
    const Frame frame = frameOf(i.point, i.direction);
    Requirement r = test::balloon(plan_, 4);
    r.kind = Characteristic::Roundness;
    r.features = {cone->id};
    r.datums.clear();
    const auto strewn = [&](double lobes) {
      Random random(5);
      MeasuredFeature m;
      for (int k = 0; k < 60; ++k) {
        const double a = kPi * k / 50, z = i.length * random.uniform(0.1, 0.9);
        const double rho = i.diameter / 2 + z * std::tan(i.half_angle) + lobes * std::cos(5 * a);
        m.points.push_back(frame * Vec3(rho * std::cos(a), rho * std::sin(a), z));
        m.rows.push_back(0);
      }
      Measurements all;
      all[cone->id] = std::move(m);
      const Evaluation e = judge(plan_, r, all);
      return e.actual.value_or(99);
    };
    // Touched along its normals all round, a surface that is e cos 5 phi off in each section.
    const double e = 0.005, slope = i.half_angle;
    Measurements rings;
    MeasuredFeature& m = rings[cone->id];
    for (int row = 0; row < 2; ++row)
      for (int k = 0; k < 40; ++k) {
        const double a = 2 * kPi * k / 40, z = i.length * (0.3 + 0.4 * row);
        const double rho = i.diameter / 2 + z * std::tan(slope);
        const Vec3 out(std::cos(a), std::sin(a), 0);
        const Vec3 normal = std::cos(slope) * out - std::sin(slope) * Vec3::UnitZ();
        const Vec3 place = rho * out + Vec3(0, 0, z);
        m.points.push_back(frame * Vec3(place + e * std::cos(5 * a) * std::cos(slope) * normal));
        m.rows.push_back(row);
      }
    NEAR(judge(plan_, r, rings).actual.value_or(99), 2 * e, 2e-4);
    NEAR(strewn(0), 0.0, 1e-6);
    NEAR(strewn(0.01), 0.02, 3e-3); // the cone follows the lobes a little
  }
  void straightnessOfGenerators() {
    Measurements m = test::exactly(plan_);
    const FeatureId bore = of(5);
    const auto& f = m.at(bore);
    // barrel: the middle rows lie d deeper on all generators: range of (0, d, d, 0) about its line
    // is d
    for (std::size_t k = 0; k < f.points.size(); ++k)
      if (f.rows[k] == 1 || f.rows[k] == 2)
        points(m, bore)[k] -= 0.005 * plan_.feature(bore).touches[k].normal;
    // (a generator that lacks one touch is tilted by its own line: 1.071 d)
    NEAR(actual(plan_, 5, m), 0.005, 4e-4);
  }
  // A tilt by t of the bore against A: zone diameter is its length times t.
  void perpendicularityOfAnAxis() {
    Measurements m = test::exactly(plan_);
    const FeatureId bore = of(3);
    const Ideal& i = plan_.nominal(bore).ideal;
    motion(m, bore,
           smallMotion(Vec3(0.0003, 0, 0), Vec3::Zero(), i.point + i.length / 2 * i.direction));
    NEAR(actual(plan_, 3, m), i.length * std::tan(0.0003), 1e-6);
  }
  // A tilt of the top face: zone width is its touched extent square to the tilt axis times t.
  void parallelismOfAPlane() {
    Measurements m = test::exactly(plan_);
    const FeatureId top = of(32);
    double low = 1e9, high = -1e9;
    for (const Touch& t : plan_.feature(top).touches)
      low = std::min(low, t.point.y()), high = std::max(high, t.point.y());
    motion(m, top, smallMotion(Vec3(0.0004, 0, 0), Vec3::Zero(), plan_.nominal(top).ideal.point));
    NEAR(actual(plan_, 32, m), (high - low) * 0.0004, 1e-6);
  }
  // Turning the flank about A's normal is free for perpendicularity to A; leaning it is not.
  void perpendicularityLeavesTheTurnFree() {
    Measurements m = test::exactly(plan_);
    const FeatureId flank = of(26);
    const Vec3 c = plan_.nominal(flank).ideal.point;
    motion(m, flank, smallMotion(Vec3(0, 0, 0.001), Vec3::Zero(), c));
    NEAR(actual(plan_, 26, m), 0.0, 1e-6);
    double low = 1e9, high = -1e9;
    for (const Vec3& p : points(m, flank))
      low = std::min(low, p.z()), high = std::max(high, p.z());
    motion(m, flank, smallMotion(Vec3(0, 0.0005, 0), Vec3::Zero(), c));
    NEAR(actual(plan_, 26, m), (high - low) * 0.0005, 5e-6);
  }
  void angularity() {
    Measurements m = test::exactly(plan_);
    const FeatureId port = of(14);
    const Ideal& i = plan_.nominal(port).ideal;
    // lean it within the upright plane through its axis
    const Vec3 lean = i.direction.cross(Vec3::UnitZ()).normalized();
    motion(m, port, smallMotion(0.001 * lean, Vec3::Zero(), i.point + i.length / 2 * i.direction));
    NEAR(actual(plan_, 14, m), i.length * 0.001, 2e-5);
    // turning about A's normal is free
    Measurements n = test::exactly(plan_);
    motion(n, port, smallMotion(Vec3(0, 0, 0.001), Vec3::Zero(), i.point));
    NEAR(actual(plan_, 14, n), 0.0, 1e-6);
  }
  // A hole off by (0.03, 0.04): position twice 0.05; bonus from its size.
  void positionWithBonus() {
    Measurements m = test::exactly(plan_);
    shift(m, of(9, 3), Vec3(0.03, 0.04, 0));
    for (std::size_t k = 0; k < 6; ++k)
      resize(plan_, m, of(9, k), 0.05); // 11.05, maximum material 10.9
    const Evaluation e = judge(plan_, test::balloon(plan_, 9), m);
    NEAR(*e.actual, 0.1, 1e-5);
    NEAR(e.upper, 0.25 + 0.15, 1e-5);
    QCOMPARE(e.features.front().feature, of(9, 3));
    NEAR(e.features.front().offset.x(), 0.03, 1e-5);
    NEAR(e.features.front().offset.y(), 0.04, 1e-5);
    QVERIFY(e.verdict == Verdict::Within);
  }
  // The lower segment lets the whole pattern move in A: a common shift costs nothing there.
  // Two patterns turned against each other: each can be turned back by itself, both at once cannot.
  void heldTogether() {
    Plan plan = plan_;
    Measurements m = test::exactly(plan);
    Requirement& lower = plan.spec.requirements[9]; // balloon 10: the hole pattern, free in A
    QVERIFY(lower.upper_segment.valid());
    Requirement other = lower;
    other.id = RequirementId{static_cast<int>(plan.spec.requirements.size())};
    other.balloon = 99;
    other.features.assign(lower.features.begin() + 3, lower.features.end());
    lower.features.resize(3);
    plan.spec.requirements.push_back(other);
    const Vec3 axis = plan.nominal(plan.spec.datum("B")->features[0]).ideal.point;
    for (std::size_t k = 0; k < 3; ++k) {
      motion(m, plan.spec.requirements[9].features[k],
             smallMotion(Vec3(0, 0, 0.002), Vec3::Zero(), axis));
      motion(m, other.features[k], smallMotion(Vec3(0, 0, -0.002), Vec3::Zero(), axis));
    }
    const auto figure = [&](int index) {
      return *judge(plan, plan.spec.requirements[static_cast<std::size_t>(index)], m).actual;
    };
    const int last = other.id.value;
    NEAR(figure(9), 0.0, 1e-5);
    NEAR(figure(last), 0.0, 1e-5);
    plan.spec.requirements[9].together = plan.spec.requirements.back().together = 1;
    QVERIFY(figure(9) > 0.05 || figure(last) > 0.05);
    const auto how = judge(plan, plan.spec.requirements[9], m).how;
    QVERIFY2(how.find("at the same time") != std::string::npos, how.c_str());
    plan.spec.requirements.back().together = 2; // another group
    NEAR(figure(9), 0.0, 1e-5);
  }
  void compositePosition() {
    Measurements m = test::exactly(plan_);
    for (std::size_t k = 0; k < 6; ++k)
      shift(m, of(9, k), Vec3(0.06, 0.08, 0));
    NEAR(actual(plan_, 9, m), 0.2, 1e-5);
    NEAR(actual(plan_, 10, m), 0.0, 1e-5);
  }
  void positionOfPlanesAndPoints() {
    Measurements m = test::exactly(plan_);
    shift(m, of(22), Vec3(0, 0, 0.03)); // groove up by 0.03: planar zone 0.06
    NEAR(actual(plan_, 22, m), 0.06, 1e-6);
    shift(m, of(25), Vec3(0.01, 0, 0)); // keyway aside
    NEAR(actual(plan_, 25, m), 0.02, 1e-6);
    shift(m, of(20), Vec3(0.01, 0.02, 0.02)); // cup: twice 0.03
    NEAR(actual(plan_, 20, m), 0.06, 1e-6);
  }
  void coaxiality() {
    Measurements m = test::exactly(plan_);
    shift(m, of(31), Vec3(0.006, -0.008, 0));
    NEAR(actual(plan_, 31, m), 0.02, 1e-6);
  }
  // An excentric boss runs out by about twice its excentricity, seen at the touched places.
  void runout() {
    Measurements m = test::exactly(plan_);
    shift(m, of(30), Vec3(0.01, 0, 0));
    double low = 1, high = -1;
    for (const Vec3& p : points(m, of(30))) {
      const double d = std::hypot(p.x(), p.y()) - 30;
      low = std::min(low, d), high = std::max(high, d);
    }
    NEAR(actual(plan_, 30, m), high - low, 1e-6);
    QVERIFY(high - low > 0.015);
    // a taper is total runout, not circular
    Measurements n = test::exactly(plan_);
    for (Vec3& p : points(n, of(35)))
      p += Vec3(p.x(), p.y(), 0).normalized() * 0.001 * p.z();
    NEAR(actual(plan_, 35, n), 0.0, 1e-6);
  }
  // The zone of the fairing lies 0.02 farther out: on the nominal surface twice 0.02 is used, 0.02
  // out nothing, 0.03 in twice 0.05.
  void unequallyDisposedProfile() {
    for (const auto& [out, expected] : {std::pair{0.0, 0.04}, {0.02, 0.0}, {-0.03, 0.1}}) {
      Measurements m = test::exactly(plan_);
      const auto& touches = plan_.feature(of(28)).touches;
      for (std::size_t i = 0; i < touches.size(); ++i)
        points(m, of(28))[i] += out * touches[i].normal;
      NEAR(actual(plan_, 28, m), expected, 1e-5);
    }
  }
  void whatIsMissingIsSaid() {
    Measurements m = test::exactly(plan_);
    m.erase(of(2)); // bore: datum B
    const Evaluation size = judge(plan_, test::balloon(plan_, 2), m);
    QVERIFY(size.verdict == Verdict::Unmeasured && !size.actual);
    const Evaluation position = judge(plan_, test::balloon(plan_, 9), m);
    QVERIFY(!position.actual);
    QVERIFY(position.how.find("datum B") != std::string::npos);
    m[of(1)].points.resize(2);
    QVERIFY(!judge(plan_, test::balloon(plan_, 1), m).actual);
  }
  void limitsDecide() {
    Measurements m = test::exactly(plan_);
    for (const auto& [change, verdict] : {std::pair{0.05, Verdict::Within},
                                          {0.095, Verdict::Near},
                                          {0.101, Verdict::Outside},
                                          {-0.101, Verdict::Outside}}) {
      Measurements n = m;
      resize(plan_, n, of(29), change);
      QVERIFY(judge(plan_, test::balloon(plan_, 29), n).verdict == verdict);
    }
  }
};
ALDER_TEST(JudgeTest)
#include "judge_test.moc"
