#include "base/error.h"
#include "judge/judge.h"

#include "base/units.h"
#include "judge/actual.h"
#include "judge/datum_system.h"
#include "judge/verdict.h"
#include "support.h"

using namespace alder;

// Associations, derived features and dimensions on made features; no CAD needed.
class ActualTest : public QObject {
  Q_OBJECT

  static NominalFeature feature(SurfaceType type, bool hole = true) {
    NominalFeature f{FeatureId{0}, "made", {}, {}};
    f.ideal = {type, Vec3(10, 20, 30), Vec3(0, 0.6, 0.8), 12, radians(20), 25, hole};
    return f;
  }
  // Points on the feature with its diameter changed by `grown`, then moved.
  static MeasuredFeature points(const NominalFeature& f, double grown,
                                const Frame& motion = Frame::Identity()) {
    MeasuredFeature m;
    const Frame frame = frameOf(f.ideal.point, f.ideal.direction);
    const double r = (f.ideal.diameter + grown) / 2;
    for (int row = 0; row < 3; ++row)
      for (int k = 0; k < 8; ++k) {
        const double a = k * kPi / 4, z = 2 + 10.0 * row;
        Vec3 q;
        switch (f.ideal.type) {
        case SurfaceType::Cylinder:
          q = Vec3(r * std::cos(a), r * std::sin(a), z);
          break;
        case SurfaceType::Cone: {
          const double rho = r + z * std::tan(f.ideal.half_angle);
          q = Vec3(rho * std::cos(a), rho * std::sin(a), z);
          break;
        }
        case SurfaceType::Sphere: {
          const double polar = 0.3 + 0.4 * row;
          q = r *
              Vec3(std::sin(polar) * std::cos(a), std::sin(polar) * std::sin(a), std::cos(polar));
          break;
        }
        case SurfaceType::Slot:
          q = Vec3(5.0 * (k % 4), 8.0 * row, k < 4 ? -r : r);
          break;
        default:
          q = Vec3(5.0 * k, 8.0 * row, 0.001 * ((k + row) % 2));
          break;
        }
        m.points.push_back(motion * (frame * q));
        m.rows.push_back(row);
      }
    return m;
  }

 private slots:
  void sizesAndAxes_data() {
    QTest::addColumn<int>("type");
    QTest::addColumn<bool>("hole");
    for (SurfaceType t : {SurfaceType::Cylinder, SurfaceType::Sphere, SurfaceType::Slot})
      for (bool hole : {true, false})
        QTest::newRow(
            qPrintable(QString::fromUtf8(name(t).data()) + (hole ? " inside" : " outside")))
            << int(t) << hole;
  }
  void sizesAndAxes() {
    QFETCH(int, type);
    QFETCH(bool, hole);
    const NominalFeature f = feature(static_cast<SurfaceType>(type), hole);
    const Frame motion =
        smallMotion(Vec3(0.002, -0.001, 0.003), Vec3(0.1, 0.2, -0.1), f.ideal.point);
    const auto a = actualOf(f, points(f, 0.04, motion));
    VERIFY_OK(a);
    NEAR(*a->size, 12.04, 1e-6);
    NEAR(a->form, 0.0, 1e-6);
    const Vec3 direction = turn(motion, f.ideal.direction), point = motion * f.ideal.point;
    if (type != int(SurfaceType::Sphere)) NEAR(a->derived.direction.dot(direction), 1.0, 1e-9);
    const Vec3 off = a->derived.point - point;
    if (type == int(SurfaceType::Slot))
      NEAR(off.dot(direction), 0.0, 1e-6);
    else if (type == int(SurfaceType::Cylinder))
      NEAR((off - off.dot(direction) * direction).norm(), 0.0, 1e-6);
    else
      NEAR(off.norm(), 0.0, 1e-6);
  }
  // Deviations count outward from the material: a dent in a bore's wall is negative outside a hole.
  void deviationsHaveTheirSign() {
    for (bool hole : {true, false}) {
      const NominalFeature f = feature(SurfaceType::Cylinder, hole);
      MeasuredFeature m = points(f, 0);
      const Vec3 axis = f.ideal.direction, r = m.points[9] - f.ideal.point;
      const Vec3 out =
          (r - r.dot(axis) * axis).normalized() * (hole ? -1 : 1); // out of the material
      m.points[9] += 0.02 * out;
      const auto a = actualOf(f, m);
      VERIFY_OK(a);
      QVERIFY(a->deviations[9] > 0.01);
      QCOMPARE(std::max_element(a->deviations.begin(), a->deviations.end()) - a->deviations.begin(),
               9);
    }
  }
  void conesKeepAngleAndAxis() {
    const NominalFeature f = feature(SurfaceType::Cone);
    const auto a = actualOf(f, points(f, 0.1));
    VERIFY_OK(a);
    NEAR(degrees(*a->half_angle), 20.0, 1e-6);
    QVERIFY(!a->size);
    NEAR(a->derived.to - a->derived.from, 25.0, 1e-6); // over the nominal length
  }
  void planes() {
    const NominalFeature f = feature(SurfaceType::Plane);
    const auto a = actualOf(f, points(f, 0));
    VERIFY_OK(a);
    QVERIFY(a->derived.kind == Derived::Kind::Plane);
    NEAR(a->form, 0.001, 2e-4);
    NEAR(a->derived.direction.dot(f.ideal.direction), 1.0, 1e-6);
  }
  void whatHasNoAxisSaysSo() {
    for (SurfaceType t : {SurfaceType::Freeform}) {
      const auto a = actualOf(feature(t), points(feature(t), 0));
      QVERIFY(!a && a.error().message.find("made") != std::string::npos);
    }
    const NominalFeature slot = feature(SurfaceType::Slot);
    MeasuredFeature one_side = points(slot, 0);
    one_side.points.resize(1);
    QVERIFY(!actualOf(slot, one_side));
  }

  // Distances between every pair of kinds, worked out by hand.
  void distances_data() {
    QTest::addColumn<int>("a");
    QTest::addColumn<int>("b");
    QTest::addColumn<double>("expected");
    QTest::newRow("plane to plane") << int(SurfaceType::Plane) << int(SurfaceType::Plane) << 40.0;
    QTest::newRow("plane to axis") << int(SurfaceType::Plane) << int(SurfaceType::Cylinder) << 40.0;
    QTest::newRow("axis to plane") << int(SurfaceType::Cylinder) << int(SurfaceType::Plane) << 40.0;
    QTest::newRow("plane to centre") << int(SurfaceType::Plane) << int(SurfaceType::Sphere) << 40.0;
    QTest::newRow("axis to axis") << int(SurfaceType::Cylinder) << int(SurfaceType::Cylinder)
                                  << 50.0;
    QTest::newRow("axis to centre")
        << int(SurfaceType::Cylinder) << int(SurfaceType::Sphere) << 50.0;
    QTest::newRow("centre to centre")
        << int(SurfaceType::Sphere) << int(SurfaceType::Sphere) << 50.0;
    QTest::newRow("slot to slot") << int(SurfaceType::Slot) << int(SurfaceType::Slot) << 40.0;
  }
  void distances() {
    QFETCH(int, a);
    QFETCH(int, b);
    QFETCH(double, expected);
    // second lies 30 along X and 40 along Y from the first; planes face Y, axes run along Z
    Plan plan;
    Measurements m;
    Requirement r;
    r.kind = Characteristic::Distance;
    int id = 0;
    for (int type : {a, b}) {
      NominalFeature f = feature(static_cast<SurfaceType>(type));
      f.id = FeatureId{id};
      f.ideal.point = id == 0 ? Vec3(0, 0, 0) : Vec3(30, 40, 0);
      const bool flat = type == int(SurfaceType::Plane) || type == int(SurfaceType::Slot);
      f.ideal.direction = flat ? Vec3::UnitY() : Vec3::UnitZ();
      m[f.id] = points(f, 0);
      if (type == int(SurfaceType::Plane))
        for (Vec3& p : m[f.id].points)
          p.y() = f.ideal.point.y();
      plan.spec.features.push_back(f);
      plan.features.push_back({f.id});
      r.features.push_back(f.id);
      ++id;
    }
    r.id = RequirementId{0};
    r.nominal = expected, r.lower = expected - 0.1, r.upper = expected + 0.1, r.tolerance = 0.2;
    plan.spec.requirements.push_back(r);
    const Evaluation e = judge(plan, r, m);
    QVERIFY2(e.actual.has_value(), e.how.c_str());
    NEAR(*e.actual, expected, 1e-6);
    QVERIFY(e.verdict == Verdict::Within);
  }

  // Angles between axes and planes; the one that the drawing means is taken.
  void angles_data() {
    QTest::addColumn<int>("a");
    QTest::addColumn<int>("b");
    QTest::addColumn<double>("between");
    QTest::addColumn<double>("nominal");
    QTest::addColumn<double>("expected");
    const int plane = int(SurfaceType::Plane), axis = int(SurfaceType::Cylinder);
    QTest::newRow("axes") << axis << axis << 30.0 << 30.0 << 30.0;
    QTest::newRow("axes, the other angle") << axis << axis << 30.0 << 150.0 << 150.0;
    QTest::newRow("planes") << plane << plane << 60.0 << 60.0 << 60.0;
    QTest::newRow("planes, the other angle") << plane << plane << 60.0 << 120.0 << 120.0;
    QTest::newRow("axis and plane") << axis << plane << 90.0 << 0.0 << 0.0;
    QTest::newRow("axis and plane, slanted") << axis << plane << 25.0 << 65.0 << 65.0;
  }
  void angles() {
    QFETCH(int, a);
    QFETCH(int, b);
    QFETCH(double, between);
    QFETCH(double, nominal);
    QFETCH(double, expected);
    Plan plan;
    Measurements m;
    Requirement r;
    r.kind = Characteristic::Angle;
    r.id = RequirementId{0};
    int id = 0;
    for (int type : {a, b}) {
      NominalFeature f = feature(static_cast<SurfaceType>(type));
      f.id = FeatureId{id};
      const double t = id == 0 ? 0 : radians(between);
      f.ideal.direction = Vec3(std::sin(t), 0, std::cos(t));
      m[f.id] = points(f, 0);
      if (type == int(SurfaceType::Plane))
        for (Vec3& p : m[f.id].points)
          p -= (p - f.ideal.point).dot(f.ideal.direction) * f.ideal.direction;
      plan.spec.features.push_back(f);
      r.features.push_back(f.id);
      ++id;
    }
    r.nominal = radians(nominal), r.lower = radians(nominal - 0.5),
    r.upper = radians(nominal + 0.5), r.tolerance = radians(1);
    plan.spec.requirements.push_back(r);
    const Evaluation e = judge(plan, r, m);
    QVERIFY2(e.actual.has_value(), e.how.c_str());
    NEAR(degrees(*e.actual), expected, 1e-5);
  }
  void sizesAsRadius() {
    Plan plan;
    NominalFeature f = feature(SurfaceType::Cylinder);
    plan.spec.features.push_back(f);
    Requirement r;
    r.id = RequirementId{0};
    r.features = {f.id};
    r.radius = true;
    r.nominal = 6, r.lower = 5.95, r.upper = 6.05, r.tolerance = 0.1;
    plan.spec.requirements.push_back(r);
    const Measurements m{{f.id, points(f, 0.06)}};
    const Evaluation e = judge(plan, r, m);
    NEAR(*e.actual, 6.03, 1e-6);
    NEAR(e.share, 0.6, 1e-4);
    NEAR(*e.deviation, 0.03, 1e-6);
  }
  void requirementsWithoutLimits() {
    Plan plan;
    NominalFeature f = feature(SurfaceType::Cylinder);
    plan.spec.features.push_back(f);
    Requirement r;
    r.id = RequirementId{0};
    r.features = {f.id};
    r.nominal = 12, r.lower = r.upper = 12, r.tolerance = 0;
    plan.spec.requirements.push_back(r);
    const Evaluation e = judge(plan, r, {{f.id, points(f, 0)}});
    QVERIFY(!e.actual && e.how.find("no limits") != std::string::npos);
  }
};
ALDER_TEST(ActualTest)
#include "actual_test.moc"
