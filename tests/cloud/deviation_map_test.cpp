#include "base/random.h"
#include "base/units.h"
#include "cloud/deviation_map.h"
#include "cloud/judged_cloud.h"
#include "exchange/results/project_history.h"
#include "part/step_import.h"
#include "random_parts.h"
#include "scan.h"
#include "support.h"
#include <BRepAdaptor_Curve.hxx>
#include <BRepAlgoAPI_Section.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <QTemporaryDir>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <gp_Pln.hxx>

using namespace alder;
using alder::test::heron;
using alder::test::heronPlan;

namespace {

Plan planOf(PartPtr part) {
  Plan plan;
  plan.part = std::move(part);
  return plan;
}

// The CAD library's own section.
TopoDS_Shape librarySection(const PartModel& part, const CutPlane& plane) {
  const Vec3 at = plane.at * plane.normal;
  BRepAlgoAPI_Section section(part.shape,
                              gp_Pln(gp_Pnt(at.x(), at.y(), at.z()),
                                     gp_Dir(plane.normal.x(), plane.normal.y(), plane.normal.z())),
                              false);
  section.Build();
  return section.Shape();
}

Points alongEdges(const TopoDS_Shape& shape) {
  Points all;
  for (TopExp_Explorer e(shape, TopAbs_EDGE); e.More(); e.Next()) {
    const BRepAdaptor_Curve curve(TopoDS::Edge(e.Current()));
    for (int k = 0; k <= 6; ++k) {
      const gp_Pnt p = curve.Value(curve.FirstParameter() +
                                   (curve.LastParameter() - curve.FirstParameter()) * k / 6.0);
      all.emplace_back(p.X(), p.Y(), p.Z());
    }
  }
  return all;
}

double toLines(const std::vector<SectionLine>& lines, const Vec3& p) {
  double least = 1e300;
  for (const SectionLine& line : lines)
    for (std::size_t i = 0; i + 1 < line.points.size(); ++i)
      least = std::min(
          least,
          (closestOnSegment(p, {line.points[i].nominal, line.points[i + 1].nominal}) - p).norm());
  return least;
}

// The Heron as a scanner saw it, and deviations that are a formula of the place.
struct Seen {
  Measurements measured;
  std::vector<FeatureResult> results;
  std::vector<const FeatureResult*> shown() const {
    std::vector<const FeatureResult*> all;
    for (const FeatureResult& r : results)
      all.push_back(&r);
    return all;
  }
};
double formula(const Vec3& p) {
  return 0.001 * p.x() - 0.0005 * p.y() + 0.0008 * p.z();
}
Seen seenHeron(const std::function<bool(const Vec3&, const Vec3&)>& seen = {}) {
  demo::ScanSettings s;
  s.points = 120000, s.noise = 0, s.seen = seen;
  PointCloud cloud;
  cloud.points = demo::scanOf(*heron(), s).points;
  CloudSettings settings;
  settings.start = Frame::Identity();
  const auto placed = placeCloud(heronPlan(), cloud, settings, {});
  Seen all;
  if (!placed) return all;
  all.measured = measurementsOf(heronPlan(), placed->gathered);
  for (const auto& [id, m] : all.measured) {
    FeatureResult r;
    r.feature = id, r.allowed = 0.2, r.moved = 0.01;
    for (const Vec3& p : m.nominals)
      r.deviations.push_back(formula(p) + r.moved);
    all.results.push_back(std::move(r));
  }
  return all;
}

} // namespace

class DeviationMapTest : public QObject {
  Q_OBJECT
 private slots:
  void outlinesAsByTheLibrary();
  void deviationsAlongASection();
  void whatWasNotSeen();
  void areasLeftOut();
  void keptAndUndone();
};

// Of parts drawn by lot, cut anywhere: every place of ours lies on the library's section and every
// one of the library's on ours, as nearly as the triangles follow the surface.
void DeviationMapTest::outlinesAsByTheLibrary() {
  std::vector<PartPtr> parts{heron()};
  for (unsigned seed = 1; seed <= 5; ++seed) {
    const auto made = test::randomPart(seed);
    VERIFY_OK(made);
    const auto part = importStep(made->step, made->name);
    VERIFY_OK(part);
    parts.push_back(*part);
  }
  Random random(4);
  std::size_t compared = 0;
  for (const PartPtr& part : parts) {
    const Box3 box = part->mesh.box();
    const double room = 0.001 * box.sizes().norm() + 0.1;
    for (int k = 0; k < 5; ++k) {
      const Vec3 through = box.center() + 0.35 * Vec3(random.uniform(-1, 1) * box.sizes().x(),
                                                      random.uniform(-1, 1) * box.sizes().y(),
                                                      random.uniform(-1, 1) * box.sizes().z());
      const auto way = k < 3 ? static_cast<SectionWay>(k) : SectionWay::AcrossFeature;
      Ideal ideal;
      ideal.direction = Vec3(random.normal(), random.normal(), random.normal()).normalized();
      const CutPlane plane = cutThrough(through, way, ideal);
      NEAR(plane.normal.dot(through), plane.at, 1e-9);
      const auto lines = deviationSection(planOf(part), {}, plane);
      const TopoDS_Shape theirs = librarySection(*part, plane);
      for (const Vec3& p : alongEdges(theirs)) {
        ++compared;
        QVERIFY2(toLines(lines, p) < room, qPrintable(QString("%1, cut %2: theirs off by %3")
                                                          .arg(part->name.c_str())
                                                          .arg(k)
                                                          .arg(toLines(lines, p))));
      }
      for (const SectionLine& line : lines)
        for (std::size_t i = 0; i < line.points.size(); i += 1 + line.points.size() / 5) {
          const Vec3& p = line.points[i].nominal;
          NEAR(plane.normal.dot(p), plane.at, 1e-6);
          QVERIFY(!line.feature.valid() && !line.points[i].off);
          BRepExtrema_DistShapeShape distance(
              BRepBuilderAPI_MakeVertex(gp_Pnt(p.x(), p.y(), p.z())), theirs);
          ++compared;
          QVERIFY2(distance.IsDone() && distance.Value() < room, part->name.c_str());
        }
    }
  }
  QVERIFY2(compared > 2000, qPrintable(QString::number(compared)));
}

void DeviationMapTest::deviationsAlongASection() {
  const Plan& plan = heronPlan();
  const Seen seen = seenHeron();
  QVERIFY(seen.measured.size() > 10);
  const DeviationMap map = deviationMap(plan, seen.shown(), seen.measured, {});
  QCOMPARE(map.features.size(), seen.measured.size());
  for (const MapPlace& p : map.places) {
    NEAR(p.off, formula(p.at), 1e-12);
    NEAR(p.share, formula(p.at) / 0.1, 1e-9);
    NEAR(*p.deviation - p.off, 0.01, 1e-12);
  }
  std::size_t looked = 0, exact = 0;
  for (std::size_t i = 0; i < map.places.size(); i += 97) {
    const MapPlace& place = map.places[i];
    const NominalFeature& feature = plan.nominal(place.feature);
    for (int way = 0; way < 5; ++way) {
      const CutPlane plane = cutThrough(place.at, static_cast<SectionWay>(way), feature.ideal);
      if (static_cast<SectionWay>(way) == SectionWay::AlongFeature)
        NEAR(plane.normal.dot(feature.ideal.direction), 0.0, 1e-9);
      for (const SectionLine& line : deviationSection(plan, map, plane)) {
        const MapFeature* of = map.of(line.feature);
        if (of) QCOMPARE(line.allowed, 0.2);
        for (const SectionPoint& p : line.points) {
          if (!p.off) continue;
          ++looked;
          QVERIFY(of);
          NEAR(p.outward.dot(plane.normal), 0.0, 1e-9);
          NEAR(p.outward.norm(), 1.0, 1e-9);
          // The formula changes by less over the reach of its places.
          NEAR(*p.off, formula(p.nominal), 0.0015 * 1.4 * of->spacing);
          if ((p.nominal - place.at).norm() > 0.05 * of->spacing || line.face != place.face)
            continue;
          ++exact; // its own, the more the nearer
          NEAR(*p.off, place.off, 0.0015 * 0.1 * of->spacing);
        }
      }
    }
  }
  QVERIFY2(looked > 5000 && exact > 5, qPrintable(QString("%1 %2").arg(looked).arg(exact)));
}

// Half of the part was not looked at: that half is told, and no deviation stands there.
void DeviationMapTest::whatWasNotSeen() {
  const Plan& plan = heronPlan();
  const double middle = heron()->mesh.box().center().x();
  const Seen seen = seenHeron([&](const Vec3& p, const Vec3&) { return p.x() < middle; });
  const DeviationMap map = deviationMap(plan, seen.shown(), seen.measured, {});
  double spacing = 0;
  for (const MapFeature& f : map.features)
    spacing = std::max(spacing, f.spacing);
  const UnshownSurface unshown = unshownSurface(plan, map, {});
  double beyond = 0, all = 0;
  std::set<FaceId> faces;
  for (const MapFeature& f : map.features)
    for (const FaceId face : plan.nominal(f.feature).faces)
      faces.insert(face);
  const Mesh& mesh = plan.part->mesh;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    if (!faces.contains(FaceId{mesh.tags[i]})) continue;
    // by lot over each triangle
    const Triangle t = mesh.triangle(i);
    const double area = 0.5 * (t.b - t.a).cross(t.c - t.a).norm();
    Random random(i);
    for (int k = 0; k < 200; ++k) {
      double u = random.uniform(), v = random.uniform();
      if (u + v > 1) u = 1 - u, v = 1 - v;
      all += area / 200;
      if ((t.a + u * (t.b - t.a) + v * (t.c - t.a)).x() > middle) beyond += area / 200;
    }
  }
  NEAR(unshown.not_seen, beyond / all, 0.06);
  QCOMPARE(unshown.left_out, 0.0);
  for (std::size_t i = 0; i < unshown.mesh.triangles.size(); ++i)
    QCOMPARE(unshown.mesh.tags[i], static_cast<int>(Unshown::NotSeen));
  const CutPlane across = cutThrough(heron()->mesh.box().center(), SectionWay::AcrossZ, {});
  bool here = false, there = false;
  for (const SectionLine& line : deviationSection(plan, map, across))
    for (const SectionPoint& p : line.points) {
      if (p.off) QVERIFY(p.nominal.x() < middle + 1.1 * spacing);
      if (line.feature.valid()) (p.nominal.x() < middle ? here : there) = true;
    }
  QVERIFY(here && there);
  QCOMPARE(unshownSurface(plan, {}, {}).mesh.triangles.size(), std::size_t{0});
}

void DeviationMapTest::areasLeftOut() {
  const Plan& plan = heronPlan();
  const Seen seen = seenHeron();
  const DeviationMap whole = deviationMap(plan, seen.shown(), seen.measured, {});
  const MapPlace& place = whole.places[whole.places.size() / 2];
  const FeatureId other = whole.features.front().feature == place.feature
                              ? whole.features.back().feature
                              : whole.features.front().feature;
  const std::vector<MapArea> areas{{other, 0, Vec3::Zero()}, {place.feature, 4, place.at}};
  const DeviationMap map = deviationMap(plan, seen.shown(), seen.measured, areas);
  std::size_t gone = 0;
  for (const MapPlace& p : whole.places)
    gone += p.feature == other || (p.feature == place.feature && (p.at - place.at).norm() <= 4);
  QCOMPARE(map.places.size(), whole.places.size() - gone);
  QVERIFY(map.of(other) && map.of(other)->places.empty());
  QCOMPARE(map.of(other)->left_out, whole.of(other)->places.size());
  for (const MapPlace& p : map.places)
    QVERIFY(!areas[0].holds(p.feature, p.at) && !areas[1].holds(p.feature, p.at));
  const UnshownSurface before = unshownSurface(plan, whole, {}),
                       after = unshownSurface(plan, map, areas);
  QVERIFY(after.left_out > 0);
  NEAR(after.not_seen, before.not_seen, 1e-3); // what is left out is not what was not seen
  for (const SectionLine& line :
       deviationSection(plan, map, cutThrough(place.at, SectionWay::AcrossZ, {})))
    for (const SectionPoint& p : line.points)
      if (p.off) QVERIFY(!areas[0].holds(line.feature, p.nominal));
  // Nothing else of it depends on what is left out.
  for (const MapPlace& p : map.places) {
    const bool same = std::any_of(whole.places.begin(), whole.places.end(), [&](const MapPlace& w) {
      return w.at == p.at && w.share == p.share && w.deviation == p.deviation;
    });
    QVERIFY(same);
  }
}

void DeviationMapTest::keptAndUndone() {
  const QTemporaryDir folder;
  Project project;
  project.plan = heronPlan();
  ProjectHistory history;
  ResultsEdit edit{"area left out of the map", {}, {}, project.brought};
  edit.brought.left_out = {{FeatureId{3}, 0, Vec3::Zero()}, {FeatureId{7}, 2.5, Vec3(1, 2.25, -3)}};
  history.apply(project, edit);
  const std::string path = folder.filePath("a.alder").toStdString();
  VERIFY_OK(saveProject(project, path));
  const auto again = openProject(path);
  VERIFY_OK(again);
  QVERIFY(again->brought.left_out == edit.brought.left_out);
  history.undo(project);
  QVERIFY(project.brought.left_out.empty());
  history.redo(project);
  QCOMPARE(project.brought.left_out.size(), std::size_t{2});
  for (const char* wrong : {R"({"radius": 2})", R"({"feature": 3, "radius": -1, "at": [0,0,0]})",
                            R"({"feature": 3, "radius": 1})", R"({"feature": "D"})"}) {
    const auto json = parseJson(wrong, "map");
    VERIFY_OK(json);
    const JsonFields f(*json, "map");
    (void)readMapArea(f);
    QVERIFY2(!f.done(), wrong);
  }
}

ALDER_TEST(DeviationMapTest)
#include "deviation_map_test.moc"
