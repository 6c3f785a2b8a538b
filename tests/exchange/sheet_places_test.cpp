#include "sheets.h"

using namespace alder;
using namespace alder::test;

// Figures exact by construction hold wherever the part lay, and decide the same: accepted just
// below them, rejected just above.
class SheetPlacesTest : public QObject {
  Q_OBJECT

  static std::vector<Frame> motions() {
    const auto by = [](const Vec3& shift, double angle, const Vec3& axis) {
      Frame f(Eigen::AngleAxisd(radians(angle), axis.normalized()));
      f.pretranslate(shift);
      return f;
    };
    return {Frame::Identity(), by(Vec3(3, -2, 1.7), 0.2, Vec3(1, 2, 0.5)),
            by(Vec3(18, -12, 13), 3, Vec3(2, -1, 1)), by(Vec3(-700, 400, 900), 170, Vec3(1, 1, 3))};
  }
  static void everywhere(const J& features, J r, double expected, double within,
                         const char* standard = "ISO") {
    for (const Frame& motion : motions()) {
      const J moved = movedBy(features, motion);
      r["tolerance"] = expected + 2 * within + 1e-4;
      figure(moved, r, expected, within, standard);
      QVERIFY(evaluate(moved, r, standard)->verdict != Verdict::Outside);
      r["tolerance"] = expected - 2 * within - 1e-4;
      QVERIFY(evaluate(moved, r, standard)->verdict == Verdict::Outside);
    }
  }
  static J wall(const char* id, const Vec3& at, const Vec3& normal) {
    J points = J::array();
    const Vec3 along = normal.cross(Vec3::UnitZ());
    for (const double a : {-25.0, 3.0, 28.0})
      for (const double z : {2.0, 13.0, 27.0}) {
        const Vec3 p = at + a * along + z * Vec3::UnitZ();
        points.push_back({p.x(), p.y(), p.z()});
      }
    return {{"id", id},
            {"shape", "plane"},
            {"nominal",
             {{"point", {at.x(), at.y(), at.z()}}, {"direction", {normal.x(), normal.y(), 0}}}},
            {"points", points}};
  }
  static J datums() {
    return {plane("A", 0, flat, -1), wall("B", Vec3(0, -40, 0), -Vec3::UnitY()),
            wall("C", Vec3(-40, 0, 0), -Vec3::UnitX())};
  }
  static J inOrder() { return {{{"feature", "A"}}, {{"feature", "B"}}, {{"feature", "C"}}}; }

 private slots:
  // The axis leans; its ends are those of the bore, where the datums place it.
  void endsOfAxes() {
    J rings = J::array();
    for (const double z : {5.0, 12.0, 25.0})
      rings.push_back(ring(
          24, z, [](double) { return 4.0; }, 30 + 0.02 + 0.002 * z, 20));
    J features = datums();
    features.push_back(cylinder("h", true, 30, 20, 8, rings));
    J r{{"kind", "position"}, {"feature", "h"}, {"datums", inOrder()}, {"association", "ls"}};
    // Rings of a leaning cylinder are circles here, so that its axis is exact to second order.
    everywhere(features, r, 2 * (0.02 + 0.002 * 30), 2e-6);
    r["projected"] = 20; // from the side of A: z = 0 to -20
    everywhere(features, r, 2 * std::abs(0.02 - 0.002 * 20), 2e-6);
  }
  // What is touched as a section is judged as one, however the part lay.
  void sectionsStay() {
    J rings = J::array();
    for (int k = 0; k < 6; ++k) // close together: regrouped by height they would mix when tilted
      rings.push_back(
          ring(36, 0.5 * k, [k](double a) { return 20 + 0.001 * k * std::cos(3 * a) + 0.01 * k; }));
    everywhere(J::array({cylinder("B", true, 0, 0, 40, rings)}),
               {{"kind", "roundness"}, {"feature", "B"}}, 0.01, 2e-6);
  }
  // A section as oval as one cut askew: rolled out of its plane it would fit the cylinder.
  void profileDoesNotRoll() {
    const J rings = J::array({ring(48, 15, [](double a) { return 10 + 0.02 * std::cos(2 * a); })});
    everywhere(J::array({cylinder("B", false, 0, 0, 20, rings)}),
               {{"kind", "line_profile"}, {"feature", "B"}}, 0.04, 2e-6);
  }
  // A is wavy but for its targets.
  void datumTargets() {
    J features = datums();
    const auto at_target = [](double x, double y) {
      return (x == 0 && y == 0) || (x == 100 && y == 0) || (x == 50 && y == 60);
    };
    features[0] = plane(
        "A", 0, [&](double x, double y) { return at_target(x, y) ? 0 : (x == 50 ? -0.2 : 0.3); },
        -1);
    features.push_back(plane("T", 30, [](double x, double) { return x == 100 ? 0.03 : 0; }));
    J a{{"feature", "A"}, {"targets", J::array()}};
    for (const auto& [x, y] : {std::pair{0, 0}, {100, 0}, {50, 60}})
      a["targets"].push_back({{"point", {x, y, 0}}});
    everywhere(features,
               {{"kind", "surface_profile"},
                {"feature", "T"},
                {"datums", {a, {{"feature", "B"}}, {{"feature", "C"}}}}},
               0.06, 2e-6);
  }
  // Small beside how far it lies off: a bore and a slot as datums, found all the same.
  void smallDatums() {
    J slot{{"id", "C"},
           {"shape", "slot"},
           {"hole", true},
           {"nominal", {{"point", {60, 0, 15}}, {"direction", {0, 1, 0}}, {"width", 6}}},
           {"points", J::array()}};
    for (const double x : {55.0, 65.0})
      for (const double y : {-3.0, 3.0})
        for (const double z : {5.0, 25.0})
          slot["points"].push_back({x, y, z});
    const J features{plane("A", 0, flat, -1), cylinder("B", true, 0, 0, 6, 6.0), slot,
                     cylinder("h", true, 30, 20, 8,
                              J::array({ring(
                                            24, 5, [](double) { return 4.0; }, 30.03, 20.04),
                                        ring(
                                            24, 25, [](double) { return 4.0; }, 30.03, 20.04)}))};
    everywhere(features, {{"kind", "position"}, {"feature", "h"}, {"datums", inOrder()}}, 0.1,
               2e-6);
  }
};

ALDER_TEST(SheetPlacesTest)
#include "sheet_places_test.moc"
