#include "base/units.h"
#include "plan/edit.h"
#include "plan/touches/contour.h"
#include "support.h"

using namespace alder;

// Open contours: sections of a surface and lines below an edge.
class ContourTest : public QObject {
  Q_OBJECT

  static FeatureId freeform() {
    for (const NominalFeature& f : test::heronPlan().spec.features)
      if (f.ideal.type == SurfaceType::Freeform) return f.id;
    return {};
  }
  static ContourEnds endsOf(FeatureId id) {
    Points places;
    for (const Touch& t : test::heronPlan().feature(id).touches)
      places.push_back(t.point);
    return likelyEnds(places, 2);
  }
  static FeatureId face() { return test::heronPlan().spec.datum("A")->features[0]; }

 private slots:
  void sectionStaysInItsPlane() {
    const FeatureId id = freeform();
    QVERIFY(id.valid());
    const FaceRegion region(*test::heron(), test::heronPlan().nominal(id).faces);
    const ContourEnds ends = endsOf(id);
    for (const double pitch : {0.5, 2.0}) {
      const auto places = sectionPlaces(region, ends, pitch);
      QVERIFY(places.size() > 8);
      NEAR((places.front().point - ends.from).norm(), 0.0, 1e-3);
      NEAR((places.back().point - ends.to).norm(), 0.0, 1e-3);
      // All in one plane that holds both ends; a step apart, measured along the chord.
      const Vec3 chord = (places.back().point - places.front().point).normalized();
      const Vec3 across = chord.cross(places.front().normal + places.back().normal).normalized();
      double along = -1e300;
      for (std::size_t i = 0; i < places.size(); ++i) {
        NEAR((places[i].point - places.front().point).dot(across), 0.0, 1e-4);
        QVERIFY(region.at(places[i].point, 1e-4));
        QVERIFY(places[i].point.dot(chord) > along);
        along = places[i].point.dot(chord);
        if (i > 0) QVERIFY((places[i].point - places[i - 1].point).norm() < 1.3 * pitch);
      }
    }
  }
  void backwardsIsTheSameLine() {
    const FeatureId id = freeform();
    const FaceRegion region(*test::heron(), test::heronPlan().nominal(id).faces);
    ContourEnds ends = endsOf(id);
    const auto there = sectionPlaces(region, ends, 1);
    std::swap(ends.from, ends.to);
    const auto back = sectionPlaces(region, ends, 1);
    QVERIFY(std::abs(int(there.size()) - int(back.size())) <= 1);
    for (const SurfacePoint& p : there) {
      double nearest = 1e300;
      for (std::size_t i = 1; i < back.size(); ++i)
        nearest = std::min(
            nearest,
            (closestOnSegment(p.point, {back[i - 1].point, back[i].point}) - p.point).norm());
      QVERIFY(nearest < 0.05); // chords of the other run
    }
  }
  // On a face with holes: so far below the edge everywhere, all the way round.
  void alongAnEdge() {
    const FaceRegion region(*test::heron(), test::heronPlan().nominal(face()).faces);
    const auto lines = region.boundary();
    QVERIFY(lines.size() > 1); // the rim and holes
    for (const Points& line : lines)
      QVERIFY(line.front() == line.back());
    ContourEnds ends = endsOf(face());
    ends.to = ends.from;
    const auto places = edgePlaces(region, ends, 1);
    QVERIFY(places.size() > 50);
    NEAR((places.front().point - places.back().point).norm(), 0.0, 1e-6);
    for (const SurfacePoint& p : places) {
      const double off = region.edgeDistance(p.point);
      QVERIFY(off > 0.9 * ends.below && off < ends.below + 1e-6);
    }
  }
  // The two ways between two places of a ring make it up.
  void shortAndLongWay() {
    const FaceRegion region(*test::heron(), test::heronPlan().nominal(face()).faces);
    ContourEnds ends = endsOf(face());
    const auto length = [&](const std::vector<SurfacePoint>& p) {
      double sum = 0;
      for (std::size_t i = 1; i < p.size(); ++i)
        sum += (p[i].point - p[i - 1].point).norm();
      return sum;
    };
    ContourEnds round = ends;
    round.to = round.from;
    const double all = length(edgePlaces(region, round, 1));
    // From the rim to the rim: the far end picked beside the same line.
    const auto whole = edgePlaces(region, round, 1);
    ends.to = whole[whole.size() / 3].point;
    const double near = length(edgePlaces(region, ends, 1));
    ends.long_way = true;
    const double far = length(edgePlaces(region, ends, 1));
    QVERIFY(near < far);
    QVERIFY(std::abs(near + far - all) < 0.05 * all);
  }
  void routineScansTheContour() {
    Plan plan = test::heronPlan();
    const FeatureId id = freeform();
    Recipe recipe = plan.feature(id).recipe;
    recipe.stroke = Stroke::Contour;
    recipe.contour = endsOf(id);
    recipe.pitch = 1;
    const auto before = plan.feature(id).touches.size();
    VERIFY_OK(applyEdit(plan, SetRecipe{id, recipe, {}, {}}));
    QVERIFY(plan.feature(id).touches.size() > before);
    const auto way = routePlan(plan, test::heronObstacles());
    VERIFY_OK(way);
    // Contact follows contact: the ball stays on the surface.
    int on = 0;
    for (std::size_t i = 1; i < way->positions.size(); ++i)
      on += way->positions[i].feature == id && way->positions[i].contact &&
            way->positions[i - 1].contact;
    QVERIFY(on > int(plan.feature(id).touches.size()) / 2);
    QVERIFY(test::rehearsed(plan).clear());
  }
  void impossibleContoursAreRefused() {
    Plan plan = test::heronPlan();
    const FeatureId id = freeform();
    Recipe recipe = plan.feature(id).recipe;
    recipe.stroke = Stroke::Contour;
    recipe.contour = endsOf(id);
    recipe.contour.to += Vec3(0, 0, 400); // off the part
    const auto refused = applyEdit(plan, SetRecipe{id, recipe, {}, {}});
    QVERIFY(!refused);
    QVERIFY(refused.error().message.find("ends must lie on the surface") != std::string::npos);
    recipe.contour = endsOf(id);
    recipe.contour.below = 0;
    QVERIFY(!applyEdit(plan, SetRecipe{id, recipe, {}, {}}));
  }
};
ALDER_TEST(ContourTest)
#include "contour_test.moc"
