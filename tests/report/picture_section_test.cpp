#include "base/random.h"
#include "part/step_import.h"
#include "random_parts.h"
#include "report/picture.h"
#include "support.h"
#include <BRepClass3d_SolidClassifier.hxx>
#include <cmath>

using namespace alder;

// Pictures of parts that are cut, against what the CAD library says of each place of the plane:
// a pixel shows the section where the plane runs through material, and nowhere else.
class PictureSectionTest : public QObject {
  Q_OBJECT

  static constexpr int kWidth = 160, kHeight = 120;

  static Vec3 directionOf(Random& random) {
    return Vec3(random.normal(), random.normal(), random.normal()).normalized();
  }

  // The place of the plane that a pixel looks at, from the projection alone.
  static Vec3 onPlane(const PartPicture& picture, const CutPlane& plane, const Vec3& eye, int x,
                      int y) {
    // Two places beside each other in the picture give its scale.
    const Vec3 u = anyPerpendicular(eye), v = eye.cross(u);
    const Vec2 o = picture.project(Vec3::Zero()), du = picture.project(u) - o,
               dv = picture.project(v) - o;
    const Vec2 d = Vec2(x + 0.5, y + 0.5) - o;
    const double square = du.x() * dv.y() - du.y() * dv.x();
    const Vec3 seen = (d.x() * dv.y() - d.y() * dv.x()) / square * u +
                      (du.x() * d.y() - du.y() * d.x()) / square * v;
    return seen - plane.height(seen) / plane.normal.dot(eye) * eye;
  }

  static void compare(const PartModel& part, Random& random, int planes, int* looked, int* cut) {
    const Box3 box = part.mesh.box();
    for (int i = 0; i < planes; ++i) {
      const Vec3 eye = directionOf(random);
      CutPlane plane{directionOf(random), 0};
      if (std::abs(plane.normal.dot(eye)) < 0.15) continue; // nearly edge-on: steep
      plane.at = plane.normal.dot(box.center()) + random.uniform(-0.3, 0.3) * box.sizes().norm();
      const PartPicture picture(part, eye, anyPerpendicular(eye), kWidth, kHeight, {}, plane);
      BRepClass3d_SolidClassifier inside(part.shape);
      for (int k = 0; k < 60; ++k) {
        const int x = static_cast<int>(random.uniform(0, kWidth - 1e-9)),
                  y = static_cast<int>(random.uniform(0, kHeight - 1e-9));
        const Vec3 at = onPlane(picture, plane, eye, x, y);
        const double near = 0.004 * box.sizes().norm(); // triangles are not quite the surface
        inside.Perform(gp_Pnt(at.x(), at.y(), at.z()), near);
        if (inside.State() == TopAbs_ON) continue;
        ++*looked;
        const bool in = inside.State() == TopAbs_IN;
        *cut += in;
        QVERIFY2(picture.cutAt(x, y) == in,
                 qPrintable(QString("plane %1, pixel %2 %3, at %4 %5 %6, %7")
                                .arg(i)
                                .arg(x)
                                .arg(y)
                                .arg(at.x())
                                .arg(at.y())
                                .arg(at.z())
                                .arg(in ? "in the material" : "outside")));
      }
    }
  }

 private slots:
  void cutWhereTheMaterialIs_data() {
    QTest::addColumn<int>("seed");
    for (int seed = 0; seed < 12; ++seed)
      QTest::newRow(qPrintable(QString("seed %1").arg(seed))) << seed;
  }
  void cutWhereTheMaterialIs() {
    QFETCH(int, seed);
    Random random(static_cast<std::uint64_t>(seed) + 100);
    PartPtr part = test::heron();
    if (seed > 0) {
      const auto made = test::randomPart(static_cast<unsigned>(seed));
      VERIFY_OK(made);
      const auto read = importStep(made->step, made->name);
      VERIFY_OK(read);
      part = *read;
    }
    int looked = 0, cut = 0;
    compare(*part, random, 12, &looked, &cut);
    QVERIFY2(looked > 300 && cut > looked / 40,
             qPrintable(QString("%1 of %2").arg(cut).arg(looked)));
  }

  // What lies before the plane is not seen, what lies behind it is: down into the stilling well.
  void seenBehindThePlane() {
    const auto part = test::heron();
    const Vec3 up = Vec3::UnitZ();
    const CutPlane plane{up, 15};
    const PartPicture whole(*part, up, Vec3::UnitY(), 400, 400),
        cut(*part, up, Vec3::UnitY(), 400, 400, {}, plane);
    QVERIFY(!cut.visible(Vec3(0, -60, 30), 0.4));
    for (int y = 0; y < 400; ++y)
      for (int x = 0; x < 400; ++x) {
        QVERIFY(!whole.cutAt(x, y));
        if (const auto shown = cut.shownAt(x, y)) {
          QVERIFY(plane.height(shown->place) < 1e-3);
          QVERIFY(shown->face.valid());
        }
      }
    // The same plane named from its other side is the same cut.
    const PartPicture turned(*part, up, Vec3::UnitY(), 400, 400, {}, CutPlane{-up, -15});
    QVERIFY(turned.draw().pixels == cut.draw().pixels);
  }

  // No pixel in the middle of a section shows anything else, and none in the middle of a face shows
  // the section.
  void withoutSpecks() {
    const auto part = test::heron();
    Random random(21);
    int cut = 0;
    for (int i = 0; i < 12; ++i) {
      const Vec3 eye = i == 0 ? Vec3(0.4, -0.9, 0.5).normalized() : directionOf(random),
                 normal = i == 0 ? Vec3::UnitY() : directionOf(random);
      const PartPicture picture(*part, eye, anyPerpendicular(eye), 700, 600, {},
                                CutPlane{normal, normal.dot(part->mesh.box().center())});
      for (int y = 1; y < 599; ++y)
        for (int x = 1; x < 699; ++x) {
          int round = 0;
          for (int k = 0; k < 9; ++k)
            if (k != 4) round += picture.cutAt(x - 1 + k % 3, y - 1 + k / 3);
          cut += picture.cutAt(x, y);
          const bool speck = picture.cutAt(x, y) ? round == 0 : round == 8;
          QVERIFY2(
              !speck,
              qPrintable(
                  QString("view %1, pixel %2 %3, %4 round it").arg(i).arg(x).arg(y).arg(round)));
        }
    }
    QVERIFY(cut > 300000);
  }

  // A shell that is not closed has no inside.
  void openShell() {
    PartModel part = *test::heron();
    part.mesh.triangles.clear(), part.mesh.tags.clear(), part.mesh.vertices.clear();
    const int face = part.faces.front().id.value;
    part.mesh.vertices = {{0, 0, 0}, {20, 0, 0}, {0, 20, 0}};
    part.mesh.triangles = {{0, 2, 1}}; // seen from below alone
    part.mesh.tags = {face};
    for (const double at : {5.0, -5.0}) {
      const PartPicture picture(part, Vec3(0.1, 0.2, 1), Vec3::UnitY(), 100, 100, {},
                                CutPlane{Vec3::UnitZ(), at});
      for (int y = 0; y < 100; ++y)
        for (int x = 0; x < 100; ++x)
          QVERIFY(!picture.cutAt(x, y) && !picture.shownAt(x, y));
    }
    part.mesh.triangles = {{0, 1, 2}}; // from above, and there is nothing under it
    const PartPicture above(part, Vec3(0.1, 0.2, 1), Vec3::UnitY(), 100, 100, {},
                            CutPlane{Vec3::UnitZ(), -5});
    for (int y = 0; y < 100; ++y)
      for (int x = 0; x < 100; ++x)
        QVERIFY(!above.cutAt(x, y));
  }
};
ALDER_TEST(PictureSectionTest)
#include "picture_section_test.moc"
