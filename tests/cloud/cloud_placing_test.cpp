#include "base/random.h"
#include "base/units.h"
#include "cloud/best_fit.h"
#include "cloud/face_cells.h"
#include "cloud/place_anywhere.h"
#include "made_cloud.h"
#include "part/step_import.h"
#include "random_parts.h"
#include "support.h"
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRep_Builder.hxx>
#include <TopoDS_Compound.hxx>

using namespace alder;
using alder::test::anyMotion;
using alder::test::heron;

namespace {

// The CAD library's own answer; from the faces, as it has none from within a solid.
double libraryDistance(const PartModel& part, const Vec3& p) {
  TopoDS_Compound faces;
  const BRep_Builder builder;
  builder.MakeCompound(faces);
  for (const TopoDS_Face& face : part.face_shapes)
    builder.Add(faces, face);
  BRepExtrema_DistShapeShape distance(BRepBuilderAPI_MakeVertex(gp_Pnt(p.x(), p.y(), p.z())),
                                      faces);
  return distance.IsDone() ? distance.Value() : -1;
}

PointCloud pointsOf(const demo::Scan& scan) {
  PointCloud cloud;
  cloud.points = scan.points;
  return cloud;
}

// Root mean square of the library's distances of points that are known to be of the part.
double offBy(const PartModel& part, const Points& truth, const Frame& placement) {
  double sum = 0;
  int count = 0;
  for (std::size_t i = 0; i < truth.size(); i += truth.size() / 60 + 1) {
    const double d = libraryDistance(part, placement * truth[i]);
    sum += d * d;
    ++count;
  }
  return std::sqrt(sum / count);
}

bool isWhere(const PartModel& part, const Frame& placement, const Frame& motion, double room) {
  const Box3 box = part.mesh.box();
  for (int k = 0; k < 8; ++k) {
    const Vec3 corner = box.corner(static_cast<Box3::CornerType>(k));
    if ((placement * (motion * corner) - corner).norm() > room) return false;
  }
  return true;
}

} // namespace

class CloudPlacingTest : public QObject {
  Q_OBJECT
 private slots:
  void closestAsByAllTriangles();
  void distancesAsByTheLibrary();
  void fromAnyOrientation();
  void ofPartsDrawnByLot();
  void withoutWhatIsNotOfThePart();
  void whatCannotBePlaced();
  void sameWhereverAndAgain();
  void bestFitIsBest();
  void cellsHoldTheirPlaces();
};

void CloudPlacingTest::closestAsByAllTriangles() {
  const Mesh& mesh = heron()->mesh;
  const MeshTree tree(mesh);
  Random r(3);
  const Box3 box = mesh.box();
  int hint = -1;
  for (int k = 0; k < 300; ++k) {
    Vec3 p = box.center();
    for (int i = 0; i < 3; ++i)
      p[i] += r.uniform(-1, 1) * box.sizes()[i];
    const double within = k % 3 ? 1e9 : 5;
    Vec3 facing = Vec3(r.normal(), r.normal(), r.normal()).normalized();
    const bool faced = k % 4 == 0;
    double least = within;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
      const Triangle triangle = mesh.triangle(t);
      const Vec3 n = (triangle.b - triangle.a).cross(triangle.c - triangle.a).normalized();
      if (faced && !(n.dot(facing) >= 0.5)) continue;
      least = std::min(least, (closestOnTriangle(p, triangle) - p).norm());
    }
    const auto near = tree.closest(p, within, &hint, faced ? &facing : nullptr);
    QCOMPARE(near.has_value(), least < within);
    if (!near) continue;
    NEAR(near->distance, least, 1e-9);
    NEAR((near->point - p).norm(), least, 1e-9);
    QCOMPARE(near->tag, mesh.tags[static_cast<std::size_t>(near->triangle)]);
  }
}

// Of points beside all faces, a little out of the material or in it.
void CloudPlacingTest::distancesAsByTheLibrary() {
  for (const PartPtr& part : {heron(), *importStep(test::randomPart(5)->step, "5.step")}) {
    demo::ScanSettings s;
    s.points = 400, s.noise = 0, s.seed = 5;
    Random r(9);
    std::vector<double> heights;
    s.height = [&](FaceId, const Vec3&, const Vec3&) {
      heights.push_back(0.2 * r.normal());
      return heights.back();
    };
    const auto scan = demo::scanOf(*part, s);
    const NearestSurface surface(part);
    NearestSurface::Asker asker(surface);
    int far = 0;
    for (std::size_t i = 0; i < scan.points.size(); ++i) {
      const auto foot = asker.at(scan.points[i], 2);
      QVERIFY(foot);
      const double library = libraryDistance(*part, scan.points[i]);
      // Beyond an edge the library gives the distance from the edge.
      if (std::abs(std::abs(foot->distance) - library) > 1e-6) ++far;
      NEAR((foot->point + foot->distance * foot->normal - scan.points[i]).norm(), 0.0, 1e-6);
    }
    QVERIFY2(far <= 8, qPrintable(QString::number(far)));
  }
}

void CloudPlacingTest::fromAnyOrientation() {
  const PartPtr part = heron();
  const NearestSurface surface(part);
  for (unsigned seed = 1; seed <= 3; ++seed) {
    demo::ScanSettings s;
    s.points = 20000, s.noise = 0.02, s.seed = seed, s.motion = anyMotion(seed);
    const auto found = placeAnywhere(surface, pointsOf(demo::scanOf(*part, s)), {});
    VERIFY_OK(found);
    QVERIFY2(isWhere(*part, found->placement, s.motion, 0.3),
             qPrintable(QString("seed %1").arg(seed)));
    QVERIFY(found->explained > 0.99);
    QCOMPARE(found->also_turned, 0.0);
  }
}

// Whole clouds, and those that show one side. A part that looks alike turned may lie either way,
// but then that is told.
void CloudPlacingTest::ofPartsDrawnByLot() {
  for (unsigned seed = 1; seed <= 4; ++seed) {
    const auto random_part = test::randomPart(seed);
    VERIFY_OK(random_part);
    const auto part = importStep(random_part->step, random_part->name);
    VERIFY_OK(part);
    const NearestSurface surface(*part);
    demo::ScanSettings s;
    s.points = 20000, s.noise = 0.01, s.seed = seed, s.motion = anyMotion(seed, 2000);
    Random r(seed);
    const Vec3 towards = Vec3(r.normal(), r.normal(), r.normal()).normalized();
    if (seed % 2) s.seen = [towards](const Vec3&, const Vec3& n) { return n.dot(towards) > 0.1; };
    const auto scan = demo::scanOf(**part, s);
    const auto found = placeAnywhere(surface, pointsOf(scan), {});
    VERIFY_OK(found);
    const double size = (*part)->mesh.box().sizes().norm();
    const double off = offBy(**part, scan.points, found->placement);
    QVERIFY2(off < 0.03 + 0.0005 * size,
             qPrintable(QString("%1: off by %2").arg(random_part->name.c_str()).arg(off)));
    if (!isWhere(**part, found->placement, s.motion, 0.1 + 0.005 * size))
      QVERIFY2(found->also_turned > 0, random_part->name.c_str());
  }
}

void CloudPlacingTest::withoutWhatIsNotOfThePart() {
  const PartPtr part = heron();
  const NearestSurface surface(part);
  const Box3 box = part->mesh.box();
  for (const bool table : {false, true}) {
    demo::ScanSettings s;
    s.points = 20000, s.noise = 0.02, s.seed = 4, s.motion = anyMotion(44);
    if (!table) s.spatter = 0.08;
    auto scan = demo::scanOf(*part, s);
    Random r(5);
    // A plate that it stands on, half again as long.
    for (int i = 0; i < 6000 && table; ++i)
      scan.points.push_back(s.motion *
                            Vec3(box.center().x() + 1.5 * box.sizes().x() * (r.uniform() - 0.5),
                                 box.center().y() + 1.5 * box.sizes().y() * (r.uniform() - 0.5),
                                 box.min().z()));
    const auto found = placeAnywhere(surface, pointsOf(scan), {});
    VERIFY_OK(found);
    QVERIFY2(isWhere(*part, found->placement, s.motion, 0.3), table ? "table" : "spatter");
  }
}

void CloudPlacingTest::whatCannotBePlaced() {
  const NearestSurface surface(heron());
  demo::ScanSettings s;
  s.points = 5000, s.noise = 0.01;
  PointCloud cloud = pointsOf(demo::scanOf(*heron(), s));
  PointCloud few;
  few.points.assign(cloud.points.begin(), cloud.points.begin() + 50);
  QVERIFY(!placeAnywhere(surface, few, {}));
  PointCloud one;
  one.points.assign(5000, Vec3(1, 2, 3));
  QVERIFY(!placeAnywhere(surface, one, {}));
  // Another part: a plain ball.
  PointCloud ball;
  Random r(2);
  for (int i = 0; i < 5000; ++i)
    ball.points.push_back(55 * Vec3(r.normal(), r.normal(), r.normal()).normalized());
  const auto no = placeAnywhere(surface, ball, {});
  QVERIFY(!no);
  QVERIFY2(no.error().message.find("does not lie on the part") != std::string::npos,
           no.error().message.c_str());
  // In inch.
  for (Vec3& p : cloud.points)
    p /= 25.4;
  const auto inch = placeAnywhere(surface, cloud, {});
  QVERIFY(!inch);
  QVERIFY2(inch.error().message.find("inch") != std::string::npos, inch.error().message.c_str());
  std::stop_source stop;
  stop.request_stop();
  const auto stopped = placeAnywhere(surface, cloud, {{}, stop.get_token()});
  QVERIFY(!stopped && stopped.error().code == ErrorCode::Cancelled);
}

// The same points laid anywhere, in any order, come to lie in the same place; the same file gives
// the same bytes.
void CloudPlacingTest::sameWhereverAndAgain() {
  const PartPtr part = heron();
  const NearestSurface surface(part);
  const EdgeZone edges(*part, 0.5);
  demo::ScanSettings s;
  s.points = 40000, s.noise = 0.01;
  const PointCloud cloud = pointsOf(demo::scanOf(*part, s));
  const auto laid = [&](const PointCloud& c) {
    const auto found = placeAnywhere(surface, c, {});
    if (!found) throw std::runtime_error(found.error().message);
    Frame placement = found->placement;
    for (int round = 0; round < 3; ++round) {
      const auto g = gather(c, placement, surface, edges, {}, 1, {});
      placement = bestFit(surface, *g, CloudFit::LeastSquares) * placement;
    }
    return placement;
  };
  const Frame first = laid(cloud), again = laid(cloud);
  QCOMPARE(first.matrix(), again.matrix());
  PointCloud other;
  const Frame motion = anyMotion(12, 3000);
  for (std::size_t i = cloud.points.size(); i-- > 0;)
    other.points.push_back(motion * cloud.points[i]);
  // Points at a border may come into another cell; more than a micrometre is not theirs to move.
  QVERIFY(isWhere(*part, laid(other) * motion, first.inverse(), 0.001));
}

void CloudPlacingTest::bestFitIsBest() {
  const PartPtr part = heron();
  const NearestSurface surface(part);
  const EdgeZone edges(*part, 0.5);
  demo::ScanSettings s;
  s.points = 60000, s.noise = 0.01;
  s.height = [](FaceId face, const Vec3&, const Vec3&) { return face.value % 5 == 0 ? 0.08 : 0; };
  const PointCloud cloud = pointsOf(demo::scanOf(*part, s));
  const auto start = gather(cloud, Frame::Identity(), surface, edges, {}, 1, {});
  const auto figures = [&](const Frame& motion) {
    Gathered g = *start;
    move(g, surface, motion);
    double squares = 0, worst = 0;
    for (const Place& p : g.places) {
      const double cell = g.faces[static_cast<std::size_t>(p.face.value)].cell;
      squares += cell * cell * p.deviation * p.deviation;
      worst = std::max(worst, std::abs(p.deviation));
    }
    return std::pair(squares, worst);
  };
  const Frame squares = bestFit(surface, *start, CloudFit::LeastSquares),
              worst = bestFit(surface, *start, CloudFit::LeastWorst);
  const double least = figures(squares).first, least_worst = figures(worst).second;
  QVERIFY(least_worst < figures(squares).second);
  Random r(8);
  for (int k = 0; k < 200; ++k) {
    const double size = std::pow(10, r.uniform(-4, -2));
    const Frame little =
        smallMotion(size / 50 * Vec3(r.normal(), r.normal(), r.normal()),
                    size * Vec3(r.normal(), r.normal(), r.normal()), part->mesh.box().center());
    QVERIFY(figures(little * squares).first > least * (1 - 1e-7));
    QVERIFY(figures(little * worst).second > least_worst - 1e-6);
  }
}

// Every place on a face has one cell; cells are about as large as asked for, rows follow each
// other.
void CloudPlacingTest::cellsHoldTheirPlaces() {
  const PartPtr part = heron();
  demo::ScanSettings s;
  s.points = 60000, s.noise = 0;
  const auto scan = demo::scanOf(*part, s);
  const NearestSurface surface(part);
  NearestSurface::Asker asker(surface);
  std::vector<FaceCells> cells;
  for (const Face& f : part->faces)
    cells.emplace_back(*part, f.id, 1.5);
  std::map<std::pair<int, std::size_t>, Box3> held;
  std::size_t beyond = 0;
  for (const Vec3& p : scan.points) {
    const auto foot = asker.at(p, 0.1);
    QVERIFY(foot);
    const auto cell = cells[static_cast<std::size_t>(foot->face.value)].cellAt(foot->point);
    if (!cell) {
      ++beyond;
      continue;
    }
    QVERIFY(*cell < cells[static_cast<std::size_t>(foot->face.value)].count());
    held[{foot->face.value, *cell}].extend(p);
  }
  QVERIFY2(beyond < 60, qPrintable(QString::number(beyond))); // at borders, by rounding
  for (const auto& [key, box] : held)
    QVERIFY2(box.sizes().norm() < 1.5 * 2.2, qPrintable(QString("face %1").arg(key.first)));
}

ALDER_TEST(CloudPlacingTest)
#include "cloud_placing_test.moc"
