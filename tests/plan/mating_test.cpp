#include "base/units.h"
#include "plan/mating.h"
#include "support.h"

using namespace alder;

class MatingTest : public QObject {
  Q_OBJECT

  static Mate face(const Vec3& part, const Vec3& out, const Vec3& seat, const Vec3& seat_out) {
    return {false, part, out.normalized(), seat, seat_out.normalized(), "face"};
  }

 private slots:
  // A face goes against a face by the least motion: along the normal only, once it is parallel.
  void faceOnFace() {
    Frame from = Frame::Identity();
    from.translation() = Vec3(100, 200, 300);
    const auto f = mated(from, {face({5, 5, 0}, -Vec3::UnitZ(), {0, 0, 90}, Vec3::UnitZ())});
    VERIFY_OK(f);
    NEAR((f->translation() - Vec3(100, 200, 90)).norm(), 0.0, 1e-6);
    NEAR((f->linear() - Mat3::Identity()).norm(), 0.0, 1e-9);
  }
  // Face, face and axis from any start: each holds afterwards, also when the part must turn over.
  void threeInARow() {
    for (unsigned seed = 0; seed < 40; ++seed) {
      Frame f = test::anyMotion(seed);
      std::vector<Mate> mates;
      mates.push_back(face({3, 4, 0}, -Vec3::UnitZ(), {450, 600, 90}, Vec3::UnitZ()));
      mates.push_back(face({-20, 0, 8}, -Vec3::UnitX(), {400, 0, 0}, {1, 0.2, 0}));
      mates.push_back({true, {7, -9, 0}, Vec3::UnitZ(), {470, 590, 0}, Vec3::UnitZ(), "axis"});
      for (std::size_t n = 1; n <= 2; ++n) {
        const auto next = mated(f, {mates.begin(), mates.begin() + static_cast<std::ptrdiff_t>(n)});
        VERIFY_OK(next);
        f = *next;
        for (std::size_t k = 0; k < n; ++k) {
          NEAR(turn(f, mates[k].part_direction).dot(mates[k].seat_direction), -1.0, 1e-9);
          NEAR((f * mates[k].part_point - mates[k].seat_point).dot(mates[k].seat_direction), 0.0,
               1e-4);
        }
      }
      NEAR((f.linear().transpose() * f.linear() - Mat3::Identity()).norm(), 0.0, 1e-12);
      // face down and axis: three left freedoms are gone but the turn about it
      const auto axis = mated(f, {mates[0], mates[2]});
      VERIFY_OK(axis);
      const Vec3 off = *axis * mates[2].part_point - mates[2].seat_point;
      NEAR(std::hypot(off.x(), off.y()), 0.0, 1e-4);
    }
  }
  void contradictions() {
    const auto f =
        mated(Frame::Identity(), {face(Vec3::Zero(), -Vec3::UnitZ(), {0, 0, 10}, Vec3::UnitZ()),
                                  face({0, 0, 0}, -Vec3::UnitZ(), {0, 0, 12}, Vec3::UnitZ())});
    QVERIFY(!f);
    QVERIFY(f.error().message.find("let go of one") != std::string::npos);
  }
};
ALDER_TEST(MatingTest)
#include "mating_test.moc"
