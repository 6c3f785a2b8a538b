#include "base/random.h"
#include "report/compose/deviation_picture.h"
#include "support.h"
#include <algorithm>
#include <cmath>

using namespace alder;

// Deviations drawn on the part, against figures that are known at each place.
class DeviationPictureTest : public QObject {
  Q_OBJECT

  static constexpr double kDots = 10, kHalf = 0.05;
  static constexpr Area kArea{10, 20, 60, 50};

  static const TextSetter& setter() {
    static const auto one = TextSetter::create();
    return **one;
  }
  static const NominalFeature& face() {
    const Plan& plan = test::heronPlan();
    return plan.nominal(plan.spec.datums.front().features.front()); // a plane
  }
  static double deviationAt(const Vec3& p) { return 0.0012 * (p - face().ideal.point).x(); }

  // Points on the face by lot.
  static ReportRow row(std::size_t count) {
    const PartModel& part = *test::heronPlan().part;
    ReportRow row;
    row.number = "1", row.worst = face().id, row.zone_width = 2 * kHalf;
    std::vector<Triangle> triangles;
    std::vector<double> areas;
    double all = 0;
    for (std::size_t i = 0; i < part.mesh.triangles.size(); ++i) {
      const FaceId of{part.mesh.tags[i]};
      if (std::find(face().faces.begin(), face().faces.end(), of) == face().faces.end()) continue;
      triangles.push_back(part.mesh.triangle(i));
      const Triangle& t = triangles.back();
      areas.push_back(all += (t.b - t.a).cross(t.c - t.a).norm());
    }
    Random random(3);
    while (row.points.size() < count) {
      const auto found = std::upper_bound(areas.begin(), areas.end(), random.uniform(0, all));
      const Triangle& t = triangles[static_cast<std::size_t>(found - areas.begin())];
      double u = random.uniform(), v = random.uniform();
      if (u + v > 1) u = 1 - u, v = 1 - v;
      const Vec3 p = t.a + u * (t.b - t.a) + v * (t.c - t.a);
      row.points.push_back({p, face().ideal.direction, deviationAt(p), false});
    }
    return row;
  }

  struct Drawn {
    PartPicture picture;
    DeviationPicture off;
    PartView view;
    double scale; // mm of paper a mm of the part
  };
  static Drawn drawn(const std::vector<const ReportRow*>& rows, DeviationsAs as, const Vec3& eye,
                     const std::optional<CutPlane>& section = {}) {
    static const ReportModel model;
    static ViewFinder views(test::heronPlan());
    static std::vector<std::string> told;
    static ComposeContext context{model, test::heronPlan(), setter(), views, nullptr, told};
    const PartView view{eye, anyPerpendicular(eye), {}, section};
    // The picture is kept where it does not move.
    static std::vector<std::unique_ptr<PartPicture>> kept;
    kept.push_back(std::make_unique<PartPicture>(
        *test::heronPlan().part, eye, view.up, static_cast<int>(kDots * kArea.w),
        static_cast<int>(kDots * kArea.h), view.window, section));
    const PartPicture& picture = *kept.back();
    const double scale = (picture.project(view.up) - picture.project(Vec3::Zero())).norm() / kDots;
    return {picture, DeviationPicture(rows, as, {picture, kArea, kDots, view}, context), view,
            scale};
  }
  static double magnified(const DeviationPicture& off) {
    for (const Mark& m : off.scale({0, 0, 100, 8}))
      if (const auto* t = std::get_if<TextMark>(&m); t && t->text.starts_with("deviations × "))
        return std::stod(t->text.substr(std::string("deviations × ").size()));
    return 0;
  }
  static std::vector<LineMark> lines(const DeviationPicture& off, double width) {
    std::vector<LineMark> found;
    for (const Mark& m : off.marks())
      if (const auto* l = std::get_if<LineMark>(&m); l && std::abs(l->width - width) < 1e-9)
        found.push_back(*l);
    return found;
  }

 private slots:
  // Each colour of the map is that of the deviation there; other faces keep theirs.
  void mapTellsWhatIsThere() {
    const ReportRow dense = row(2500);
    const Drawn d = drawn({&dense}, DeviationsAs::Map, face().ideal.direction);
    const auto tint = d.off.tint();
    QVERIFY(tint);
    int compared = 0, others = 0, bare = 0;
    for (int y = 0; y < static_cast<int>(kDots * kArea.h); y += 3)
      for (int x = 0; x < static_cast<int>(kDots * kArea.w); x += 3) {
        const auto shown = d.picture.shownAt(x, y);
        if (!shown) continue;
        const auto color = tint(*shown);
        const bool own =
            std::find(face().faces.begin(), face().faces.end(), shown->face) != face().faces.end();
        if (!own) {
          QVERIFY(!color);
          ++others;
          continue;
        }
        if (!color) { // between points that lie apart by lot
          ++bare;
          continue;
        }
        const Ink right = deviationInk(paperInks(), deviationAt(shown->place) / kHalf);
        NEAR(static_cast<double>((*color)[0]), right.r, 0.06);
        NEAR(static_cast<double>((*color)[1]), right.g, 0.06);
        NEAR(static_cast<double>((*color)[2]), right.b, 0.06);
        ++compared;
      }
    QVERIFY2(compared > 1000 && others > 300,
             qPrintable(QString("%1 %2 %3").arg(compared).arg(others).arg(bare)));
  }

  // Whiskers where points stand apart, a map where they would run together.
  void asSuitsThePoints() {
    const ReportRow few = row(20), dense = row(2500);
    const Vec3 eye = face().ideal.direction;
    QVERIFY(!drawn({&few}, DeviationsAs::Suitable, eye).off.tint());
    QVERIFY(drawn({&dense}, DeviationsAs::Suitable, eye).off.tint());
    QVERIFY(!drawn({&dense}, DeviationsAs::Whiskers, eye).off.tint());
    QCOMPARE(lines(drawn({&few}, DeviationsAs::Suitable, eye).off, 0.35).size(), std::size_t(20));
    QVERIFY(lines(drawn({&few}, DeviationsAs::Dots, eye).off, 0.35).empty());
    const ReportRow none = row(0);
    QVERIFY(drawn({&none}, DeviationsAs::Map, eye).off.empty());
  }

  // Seen from aside a whisker is as long as its deviation, so many times as the picture says; the
  // zone is as wide as the tolerance, as many times.
  void asLongAsItSays() {
    const ReportRow few = row(30);
    const Vec3 n = face().ideal.direction;
    const Vec3 eye = (anyPerpendicular(n) + 0.6 * n).normalized();
    const double across = std::sqrt(1 - eye.dot(n) * eye.dot(n));
    const Drawn d = drawn({&few}, DeviationsAs::Zone, eye);
    const double times = magnified(d.off);
    QVERIFY(times > 1);
    const auto whiskers = lines(d.off, 0.35), zones = lines(d.off, 0.9);
    QVERIFY(whiskers.size() > 5 && whiskers.size() == zones.size());
    for (const LineMark& zone : zones)
      NEAR((zone.points[1] - zone.points[0]).norm(), 2 * kHalf * times * d.scale * across, 1e-6);
    for (const LineMark& whisker : whiskers) {
      const bool known = std::any_of(few.points.begin(), few.points.end(), [&](const SeenPoint& p) {
        const double long_as = std::abs(p.deviation) * times * d.scale * across;
        return std::abs((whisker.points[1] - whisker.points[0]).norm() - long_as) < 1e-6;
      });
      QVERIFY(known);
    }
  }

  // The actual axis lies off the nominal one as many times as the picture says, in a zone as wide;
  // two of them bear their numbers.
  void axesInTheirZones() {
    ReportRow row;
    row.number = "9", row.zone_width = 0.2;
    const Vec3 along = face().ideal.direction, u = anyPerpendicular(along);
    for (int k = 0; k < 2; ++k) {
      const Vec3 at = face().ideal.point + 20 * k * u;
      row.derived.push_back({face().id,
                             "9." + std::to_string(k + 1),
                             {at, at + 15 * along},
                             {0.04 * u, 0.07 * u},
                             true,
                             0.2,
                             true,
                             Verdict::Within});
    }
    const Vec3 eye = (along.cross(u) + 0.5 * along).normalized(); // square to what is off
    const Drawn d = drawn({&row}, DeviationsAs::Suitable, eye);
    QVERIFY(!d.off.empty() && !d.off.tint());
    const double times = magnified(d.off);
    const auto actual = lines(d.off, 0.6);
    QCOMPARE(actual.size(), std::size_t(2));
    const auto onPaper = [&](const Vec3& p) -> Vec2 {
      return Vec2(kArea.x, kArea.y) + d.picture.project(p) / kDots;
    };
    const SeenDerived& first = row.derived[0];
    for (std::size_t k = 0; k < 2; ++k) {
      NEAR((actual[0].points[k] - onPaper(first.nominal[k])).norm(),
           first.off[k].norm() * times * d.scale, 1e-6);
    }
    int zones = 0, numbers = 0;
    for (const Mark& m : d.off.marks()) {
      if (const auto* ring = std::get_if<LineMark>(&m); ring && ring->dashed && ring->closed) {
        Vec2 middle = Vec2::Zero();
        double farthest = 0;
        for (const Vec2& p : ring->points)
          middle += p / static_cast<double>(ring->points.size());
        for (const Vec2& p : ring->points)
          farthest = std::max(farthest, (p - middle).norm());
        NEAR(farthest, 0.1 * times * d.scale, 0.01 * farthest); // seen aslant, across its length
        ++zones;
      }
      if (const auto* text = std::get_if<TextMark>(&m))
        numbers += text->text == "9.1" || text->text == "9.2";
    }
    QCOMPARE(zones, 4);
    QCOMPARE(numbers, 2);
    // A middle plane: a bar as wide as its planar zone at each place; of an axis there none.
    for (SeenDerived& one : row.derived)
      one.axis = one.round = false, one.across = u;
    const Drawn plane = drawn({&row}, DeviationsAs::Suitable, eye);
    const auto bars = lines(plane.off, 0.9);
    QCOMPARE(bars.size(), std::size_t(4));
    for (const LineMark& bar : bars)
      NEAR((bar.points[1] - bar.points[0]).norm(), 0.2 * magnified(plane.off) * plane.scale, 1e-6);
    for (SeenDerived& one : row.derived)
      one.across.reset();
    const Drawn unknown = drawn({&row}, DeviationsAs::Suitable, eye);
    QVERIFY(lines(unknown.off, 0.9).empty());
    for (const Mark& m : unknown.off.scale({0, 0, 100, 8}))
      if (const auto* t = std::get_if<TextMark>(&m))
        QVERIFY(t->text.find("zone") == std::string::npos);
  }

  // What a section takes away bears no deviations; with two tolerances the scale names limits.
  void cutAwayAndTogether() {
    const ReportRow few = row(30);
    const Vec3 n = face().ideal.direction, u = anyPerpendicular(n),
               eye = (n + 0.3 * u).normalized();
    const CutPlane plane{u, u.dot(face().ideal.point)};
    const auto all = lines(drawn({&few}, DeviationsAs::Whiskers, eye).off, 0.35).size(),
               half = lines(drawn({&few}, DeviationsAs::Whiskers, eye, plane).off, 0.35).size();
    const auto kept = std::count_if(few.points.begin(), few.points.end(), [&](const SeenPoint& p) {
      return plane.height(p.place) <= 0.4;
    });
    QVERIFY(half < all && half <= static_cast<std::size_t>(kept) && half > 0);
    ReportRow wide = few;
    wide.zone_width = 1;
    const Drawn both = drawn({&few, &wide}, DeviationsAs::Whiskers, eye);
    bool named = false;
    for (const Mark& m : both.off.scale({0, 0, 100, 8}))
      if (const auto* t = std::get_if<TextMark>(&m)) named |= t->text == "upper limit";
    QVERIFY(named);
  }
};
ALDER_TEST(DeviationPictureTest)
#include "deviation_picture_test.moc"
