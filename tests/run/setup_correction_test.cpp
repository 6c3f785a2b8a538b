#include "base/files.h"
#include "base/units.h"
#include "exchange/points/points_file.h"
#include "run/setup_correction.h"
#include "run/simulated_run.h"
#include "support.h"

using namespace alder;

class SetupCorrectionTest : public QObject {
  Q_OBJECT
 private slots:
  // By hand: a quarter turn about z and a move, seen in the part's frame.
  void knownMotion() {
    const Frame planned = test::anyMotion(3);
    const Frame motion = smallMotion(Vec3(0, 0, radians(30.0)), Vec3(1, 2, 3), Vec3::Zero());
    const auto c = correctionBetween(planned, planned * motion, planned, "xyz");
    VERIFY_OK(c);
    NEAR(degrees(c->turn.z()), 30.0, 1e-9);
    NEAR((c->move - Vec3(1, 2, 3)).norm(), 0.0, 1e-9);
    NEAR(c->turn.head<2>().norm(), 0.0, 1e-12);
    QCOMPARE(describe(*c), std::string("move 1.000, 2.000, 3.000 mm; turn 0.0000, 0.0000, 30.0000 "
                                       "deg (xyz)"));
  }
  // Applied, the figures lead to where the part was found, in any order and any frame.
  void appliedItLeadsBack() {
    for (unsigned seed = 0; seed < 20; ++seed) {
      const Frame planned = test::anyMotion(seed), found = test::anyMotion(seed + 100),
                  in = seed % 2 ? Frame::Identity() : planned;
      for (const char* order : {"xyz", "xzy", "yxz", "yzx", "zxy", "zyx"}) {
        const auto c = correctionBetween(planned, found, in, order);
        VERIFY_OK(c);
        const Frame moved = in * motionOf(*c) * in.inverse() * planned;
        NEAR((moved.matrix() - found.matrix()).cwiseAbs().maxCoeff(), 0.0, 1e-6);
      }
    }
    QVERIFY(!correctionBetween(Frame::Identity(), Frame::Identity(), Frame::Identity(), "xxz"));
    QVERIFY(!correctionBetween(Frame::Identity(), Frame::Identity(), Frame::Identity(), ""));
  }
  // A part that lies off is corrected by what its run measured.
  void fromARun() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0;
    Defects d;
    d.misplacement =
        smallMotion(Vec3(0, 0, radians(1.5)), Vec3(4, -3, 0), plan.placement.translation());
    const auto run = runOnSimulatedMachine(plan, test::heronWay(), d, 2);
    VERIFY_OK(run);
    const auto touches = touchesIn(pointsText(*run), "points", plan);
    VERIFY_OK(touches);
    QCOMPARE(touches->size(), run->points.size());
    const auto found = alignedFrame(plan, *touches, run->part_frame);
    VERIFY_OK(found);
    const auto c = correctionBetween(plan.placement, *found, plan.placement, "zyx");
    VERIFY_OK(c);
    const Frame expected = plan.placement.inverse() * d.misplacement * plan.placement;
    NEAR((motionOf(*c).matrix() - expected.matrix()).cwiseAbs().maxCoeff(), 0.0, 2e-3);
  }
  void writtenInEachForm() {
    SetupCorrection c;
    c.move = Vec3(1.5, -2, 0), c.turn = Vec3(0, 0, radians(0.5));
    QCOMPARE(correctionTable(c), std::string("order,x_mm,y_mm,z_mm,a_deg,b_deg,c_deg\nxyz,1.500000,"
                                             "-2.000000,0.000000,0.0000000,0.0000000,0.5000000\n"));
    QVERIFY(correctionJson(c).find("\"matrix\"") != std::string::npos);
    const std::string matrix = correctionMatrix(c);
    QCOMPARE(std::count(matrix.begin(), matrix.end(), '\n'), 4);
    QVERIFY(correctionStep(c, "Heron's").find("AXIS2_PLACEMENT_3D") != std::string::npos);
    const auto shipped = readFile(dataFolder() / "assets" / "templates" / "correction.nc");
    VERIFY_OK(shipped);
    const auto program = correctionFromTemplate(c, "Heron", *shipped);
    VERIFY_OK(program);
    QVERIFY(program->find("G92 X1.500000 Y-2.000000 Z0.000000") != std::string::npos);
    QVERIFY(program->find('{') == std::string::npos);
    QVERIFY(!correctionFromTemplate(c, "Heron", "G1 X{q}"));
    QVERIFY(!correctionFromTemplate(c, "Heron", "G1 X{x"));
  }
};
ALDER_TEST(SetupCorrectionTest)
#include "setup_correction_test.moc"
