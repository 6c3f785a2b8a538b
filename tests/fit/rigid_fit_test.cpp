#include "base/random.h"
#include "base/units.h"
#include "fit/rigid_fit.h"
#include "support.h"

using namespace alder;
using alder::test::moved;

namespace {

SurfacePoints planeAt(const Vec3& point, const Vec3& normal, const Points& points) {
  return {[=](const Vec3& p) { return (p - point).dot(normal); },
          [=](const Vec3&) { return normal; }, points};
}

SurfacePoints boreAt(const Vec3& point, const Vec3& axis, double radius, const Points& points) {
  const auto radial = [=](const Vec3& p) {
    const Vec3 r = p - point;
    return Vec3(r - r.dot(axis) * axis);
  };
  return {[=](const Vec3& p) { return radius - radial(p).norm(); },
          [=](const Vec3& p) { return Vec3(-radial(p).normalized()); }, points, 0, true};
}

Points square(const Vec3& o, const Vec3& u, const Vec3& v) {
  Points p;
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j)
      p.push_back(o + u * i * 10 + v * j * 10);
  return p;
}

Points ring(const Vec3& o, double radius, double depth) {
  Points p;
  for (int z = 0; z < 3; ++z)
    for (int k = 0; k < 8; ++k)
      p.push_back(o +
                  Vec3(radius * std::cos(k * kPi / 4), radius * std::sin(k * kPi / 4), -depth * z));
  return p;
}

} // namespace

class RigidFitTest : public QObject {
  Q_OBJECT
  Frame motion_ = smallMotion(Vec3(0.01, -0.02, 0.015), Vec3(0.4, -0.7, 0.2), Vec3(20, 5, 0));

  DatumStage plane(const char* name, const Vec3& o, const Vec3& n, const Vec3& u, const Vec3& v) {
    return {name, {planeAt(o, n, moved(square(o, u, v), motion_))}};
  }
  DatumStage bore(const char* name, const Vec3& o, double nominal, double actual) {
    return {name, {boreAt(o, Vec3::UnitZ(), nominal, moved(ring(o, actual, 5), motion_))}};
  }
  const Vec3 x_ = Vec3::UnitX(), y_ = Vec3::UnitY(), z_ = Vec3::UnitZ();

 private slots:
  void threePlanesFixAll() {
    const auto fit =
        fitInOrder({plane("A", {0, 0, 0}, z_, x_, y_), plane("B", {0, 0, 0}, -y_, x_, -z_),
                    plane("C", {0, 0, 0}, -x_, y_, -z_)},
                   Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->taken, (std::vector<int>{3, 2, 1}));
    QCOMPARE(fit->freedom.cols(), 0);
    NEAR((fit->placement.matrix() - motion_.matrix()).norm(), 0.0, 1e-9);
  }
  // One more than it takes: nothing is left for it, and nothing breaks.
  void whatIsFixedStays() {
    const auto fit =
        fitInOrder({plane("A", {0, 0, 0}, z_, x_, y_), plane("B", {0, 0, 0}, -y_, x_, -z_),
                    plane("C", {0, 0, 0}, -x_, y_, -z_), plane("D", {0, 0, 0.2}, z_, x_, y_)},
                   Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->taken, (std::vector<int>{3, 2, 1, 0}));
    NEAR((fit->placement.matrix() - motion_.matrix()).norm(), 0.0, 1e-9);
  }
  // Nothing holds a turned part about its axis: noise does not turn it either.
  void noiseTurnsNoTurnedPart() {
    for (std::uint64_t seed = 1; seed <= 50; ++seed) {
      Random random(seed);
      std::vector<DatumStage> stages{bore("A", {0, 0, 0}, 8, 8.1),
                                     plane("B", {-10, -10, 0}, z_, x_, y_),
                                     plane("C", {-10, -10, 5}, z_, x_, y_)};
      for (DatumStage& stage : stages)
        for (Vec3& p : stage.surfaces[0].points)
          p += 1e-3 * Vec3(random.normal(), random.normal(), random.normal());
      const auto fit = fitInOrder(stages, motion_);
      VERIFY_OK(fit);
      QCOMPARE(fit->taken, (std::vector<int>{4, 1, 0}));
      const double off = (fit->placement.linear() - motion_.linear()).norm();
      QVERIFY2(off < 2e-3, qPrintable(QString::number(off)));
    }
  }
  // Bores may have any size; only their axes count.
  void planeAndTwoBores() {
    const auto fit = fitInOrder({plane("A", {0, 0, 0}, z_, x_, y_), bore("B", {0, 0, 0}, 8, 8.3),
                                 bore("C", {40, 0, 0}, 4, 3.9)},
                                Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->taken, (std::vector<int>{3, 2, 1}));
    NEAR((fit->placement.matrix() - motion_.matrix()).norm(), 0.0, 1e-9);
  }
  void whatStaysFree() {
    auto fit = fitInOrder({plane("A", {0, 0, 0}, z_, x_, y_)}, Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->freedom.cols(), 3);
    QCOMPARE(fit->withTranslations().cols(), 4);
    fit = fitInOrder({bore("B", {0, 0, 0}, 8, 8)}, Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->taken, (std::vector<int>{4}));
    // a second plane parallel to the first adds nothing
    fit = fitInOrder({plane("A", {0, 0, 0}, z_, x_, y_), plane("B", {0, 0, 5}, z_, x_, y_)},
                     Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->taken, (std::vector<int>{3, 0}));
  }
  // A datum that may not fix all it can leaves the rest to those after it.
  void datumsThatFixLess() {
    DatumStage a = plane("A", {0, 0, 0}, z_, x_, y_);
    a.locks = "z";
    auto fit = fitInOrder({a}, Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->taken, (std::vector<int>{1}));
    a.locks = "uv";
    fit = fitInOrder({a}, Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->taken, (std::vector<int>{2}));
    NEAR((fit->freedom.transpose() * fit->freedom - Eigen::MatrixXd::Identity(4, 4)).norm(), 0.0,
         1e-9);
    // What is left by A is taken by the next that can.
    fit = fitInOrder({a, plane("B", {0, 0, 5}, z_, x_, y_)}, Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->taken, (std::vector<int>{2, 1}));
    a.locks = "xyzuvw";
    fit = fitInOrder({a}, Frame::Identity());
    VERIFY_OK(fit);
    QCOMPARE(fit->taken, (std::vector<int>{3}));
  }
  // B is tilted against A: the first datum keeps all it fixes, the second gives way.
  void orderDecides() {
    const Frame tilt = smallMotion(Vec3(0.002, 0, 0), Vec3::Zero(), Vec3::Zero());
    DatumStage a{"A", {planeAt({0, 0, 0}, z_, square({0, 0, 0}, x_, y_))}};
    DatumStage b{"B", {planeAt({0, 0, 0}, -y_, moved(square({0, 0, 0}, x_, -z_), tilt))}};
    auto fit = fitInOrder({a, b}, Frame::Identity());
    VERIFY_OK(fit);
    NEAR((fit->placement.linear().col(2) - z_).norm(), 0.0, 1e-12);
    fit = fitInOrder({b, a}, Frame::Identity());
    VERIFY_OK(fit);
    NEAR((fit->placement.linear().col(2) - tilt.linear().col(2)).norm(), 0.0, 1e-9);
  }
  void missingPointsAreNamed() {
    const auto fit = fitInOrder({{"B", {planeAt({0, 0, 0}, z_, {})}}}, Frame::Identity());
    QVERIFY(!fit);
    QVERIFY(fit.error().message.find("datum B") != std::string::npos);
  }
  // Four offsets in a plane that may shift: the best worst case is the radius of the smallest
  // circle round them, here of the two farthest.
  void worstCaseIsTheSmallestCircle() {
    const Points offsets{{0.3, 0, 0}, {-0.1, 0, 0}, {0.1, 0.1, 0}, {0.05, -0.12, 0}};
    RigidFit fit;
    Freedom freedom = Freedom::Zero(6, 2);
    freedom(3, 0) = freedom(4, 1) = 1;
    Residuals residuals;
    residuals.count = offsets.size();
    residuals.at = [&](const Frame& f) {
      return
          [&offsets, at = Vec3(f.translation())](std::size_t i) { return Vec3(offsets[i] - at); };
    };
    const LeastWorst best = minimiseWorst(fit, freedom, residuals);
    NEAR((best.placement.translation() - Vec3(0.1, 0, 0)).norm(), 0.0, 1e-7);
    const double worst = best.worst;
    NEAR(worst, 0.2, 1e-9);
  }
};
ALDER_TEST(RigidFitTest)
#include "rigid_fit_test.moc"
