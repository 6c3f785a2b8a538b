#include "judge/judge.h"
#include "sheets.h"

using namespace alder;
using namespace alder::test;

// Orientation plane and intersection plane indicators: figures exact by construction.
class SheetPlanesTest : public QObject {
  Q_OBJECT

  // Nine points on a plane square to X or Y.
  static J wall(const char* id, const Vec3& normal) {
    J points = J::array();
    const Vec3 along = normal.cross(Vec3::UnitZ());
    for (const double a : {-30.0, 0.0, 30.0})
      for (const double z : {0.0, 15.0, 30.0}) {
        const Vec3 p = -40 * normal + a * along + z * Vec3::UnitZ();
        points.push_back({p.x(), p.y(), p.z()});
      }
    return {{"id", id},
            {"shape", "plane"},
            {"nominal",
             {{"point", {-40 * normal.x(), -40 * normal.y(), 0}},
              {"direction", {-normal.x(), -normal.y(), 0}}}},
            {"points", points}};
  }
  // A bore whose axis goes from `low` at z = 0 to `high` at z = 30.
  static J bore(const char* id, double x, const Vec3& low, const Vec3& high) {
    J rings = J::array();
    for (const double z : {0.0, 15.0, 30.0}) {
      const Vec3 at = low + (high - low) * z / 30;
      rings.push_back(ring(
          24, z, [](double) { return 4.0; }, x + at.x(), at.y()));
    }
    return cylinder(id, true, x, 0, 8, rings);
  }
  static J block(const J& more) {
    J features{plane("A", 0, flat, -1), wall("B", Vec3::UnitX()), wall("C", Vec3::UnitY())};
    for (const J& f : more)
      features.push_back(f);
    return features;
  }
  static void unmeasured(const J& features, const J& r, const char* says) {
    const auto e = evaluate(features, r);
    VERIFY_OK(e);
    QVERIFY2(!e->actual, "a figure was given");
    QVERIFY2(e->how.find(says) != std::string::npos, e->how.c_str());
  }

 private slots:
  void positionBetweenPlanes() {
    const Vec3 off(0.15, 0.02, 0);
    const J features = block(J::array({bore("h", 20, off, off)}));
    J r{{"kind", "position"},
        {"feature", "h"},
        {"tolerance", 0.1},
        {"zone", "planar"},
        {"datums", {{{"feature", "A"}}, {{"feature", "B"}}, {{"feature", "C"}}}}};
    figure(features, r, 2 * off.norm());
    for (const auto& [plane, width] : std::map<std::string, double>{{"parallel B", 0.3},
                                                                    {"perpendicular C", 0.3},
                                                                    {"parallel C", 0.04},
                                                                    {"perpendicular B", 0.04}}) {
      r["zone_plane"] = plane;
      figure(features, r, width);
      const auto e = evaluate(features, r);
      QVERIFY(e->how.find("orientation plane") != std::string::npos);
      QCOMPARE(e->verdict, width > 0.1 ? Verdict::Outside : Verdict::Within);
    }
    r["zone_plane"] = "parallel A";
    unmeasured(features, r, "cannot lie between planes");
    r["zone_plane"] = "including B";
    unmeasured(features, r, "which is no axis");
    r["zone_plane"] = "parallel B";
    r["zone"] = "diameter";
    unmeasured(features, r, "this zone is none");
    r["zone"] = "planar";
    r["zone_plane"] = "parallel Z";
    QVERIFY(!evaluate(features, r));
  }
  // The datum that gives the planes their direction need not be among those of the tolerance; it
  // then holds the turn alone, as measured, wherever the part lay.
  void axisToAxis() {
    const J features = block(J::array({bore("D", 0, Vec3::Zero(), Vec3::Zero()),
                                       bore("h", 20, Vec3(0.5, -1, 0), Vec3(0.56, -0.6, 0))}));
    J r{{"kind", "parallelism"},
        {"feature", "h"},
        {"tolerance", 0.1},
        {"zone", "planar"},
        {"datums", J::array({{{"feature", "D"}}})}};
    for (const double angle : {0.0, 3.0, 90.0}) {
      Frame motion(Eigen::AngleAxisd(radians(angle), Vec3(0.02, 0.01, 1).normalized()));
      motion.pretranslate(Vec3(4, -3, 8));
      const J moved = movedBy(features, motion);
      r["zone_plane"] = "parallel B";
      figure(moved, r, 0.06, 2e-6);
      QVERIFY(evaluate(moved, r)->verdict == Verdict::Within);
      r["zone_plane"] = "perpendicular B";
      figure(moved, r, 0.4, 2e-5);
      QVERIFY(evaluate(moved, r)->verdict == Verdict::Outside);
    }
  }
  // A further datum cannot be added for one of several that are held together.
  void notBesideOthersOfOneSystem() {
    const J features = block(J::array({bore("h", 20, Vec3(0.05, 0, 0), Vec3(0.05, 0, 0)),
                                       bore("k", 40, Vec3::Zero(), Vec3::Zero())}));
    const auto position = [](const char* id, const char* feature, const char* plane) {
      return J{{"id", id},           {"kind", "position"},
               {"feature", feature}, {"tolerance", 0.2},
               {"zone", "planar"},   {"zone_plane", plane},
               {"together", 1},      {"datums", {{{"feature", "A"}}, {{"feature", "B"}}}}};
    };
    const auto judged = [&](const char* plane) {
      const J sheet{
          {"standard", "ISO"},
          {"features", features},
          {"requirements", {position("1", "h", plane), position("2", "k", "parallel B")}}};
      const auto read = readSheet(sheet.dump(), "sheet.json");
      return judge(read->plan, read->plan.spec.requirements[0], read->measured);
    };
    QVERIFY(judged("parallel B").actual.has_value());
    const Evaluation e = judged("parallel C");
    QVERIFY(!e.actual);
    QVERIFY2(e.how.find("name it among the datums") != std::string::npos, e.how.c_str());
  }
  // A face that waves along Y alone, touched in lines both ways.
  void straightnessInAnIntersectionPlane() {
    J lines = J::array(), along_x = J::array();
    const auto height = [](double y) { return 0.01 * std::cos(kPi * y / 10); };
    for (const double at : {-20.0, 0.0, 20.0}) {
      J x = J::array(), y = J::array();
      for (int k = -3; k <= 3; ++k) {
        x.push_back({10.0 * k, at, 30 + height(at)});
        y.push_back({at, 10.0 * k, 30 + height(10.0 * k)});
      }
      lines.push_back(x), lines.push_back(y), along_x.push_back(x);
    }
    J top{{"id", "T"},
          {"shape", "plane"},
          {"nominal", {{"point", {0, 0, 30}}, {"direction", {0, 0, 1}}}},
          {"sections", lines}};
    const J features = block(J::array({top}));
    J r{{"kind", "straightness"}, {"feature", "T"}, {"tolerance", 0.01}};
    figure(features, r, 0.02);
    r["section_plane"] = "parallel B"; // so the lines run along Y
    figure(features, r, 0.02);
    r["section_plane"] = "parallel C";
    figure(features, r, 0.0);
    r["section_plane"] = "perpendicular B";
    figure(features, r, 0.0);
    QVERIFY(evaluate(features, r)->how.find("intersection plane ⟂ B") != std::string::npos);
    top["sections"] = along_x;
    r["section_plane"] = "parallel B";
    unmeasured(block(J::array({top})), r, "no line of at least three touches");
    J round = r;
    round["kind"] = "flatness";
    unmeasured(features, round, "this is neither");
  }
  void lineProfileInAnIntersectionPlane() {
    J rows = J::array();
    for (const double at : {-20.0, 20.0}) {
      J x = J::array(), y = J::array();
      for (int k = -3; k <= 3; ++k) {
        x.push_back({10.0 * k, at, 30.0});
        y.push_back({at, 10.0 * k, 30 + 0.001 * k * k});
      }
      rows.push_back(x), rows.push_back(y);
    }
    const J top{{"id", "T"},
                {"shape", "plane"},
                {"nominal", {{"point", {0, 0, 30}}, {"direction", {0, 0, 1}}}},
                {"sections", rows}};
    J r{{"kind", "line_profile"},
        {"feature", "T"},
        {"tolerance", 0.05},
        {"datums", {{{"feature", "A"}}, {{"feature", "B"}}, {{"feature", "C"}}}}};
    const J features = block(J::array({top}));
    figure(features, r, 2 * 0.009);
    r["section_plane"] = "parallel B";
    figure(features, r, 2 * 0.009);
    r["section_plane"] = "parallel C";
    figure(features, r, 0.0);
    r["section_plane"] = "parallel A";
    unmeasured(features, r, "no section of touches");
  }
};

ALDER_TEST(SheetPlanesTest)
#include "sheet_planes_test.moc"
