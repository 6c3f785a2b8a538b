#include "base/files.h"
#include "base/units.h"
#include "heron.h"
#include "part/model.h"
#include "part/recognise.h"
#include "part/step_import.h"
#include "part/step_text.h"
#include "pmi_writer.h"
#include "requirement/from_pmi.h"
#include "support.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <Interface_Static.hxx>
#include <QTemporaryDir>
#include <STEPCAFControl_Reader.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <XCAFDoc_Area.hxx>
#include <XCAFDoc_Centroid.hxx>
#include <XCAFDoc_DimTolTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XCAFDoc_Volume.hxx>
#include <cmath>
#include <sstream>

using namespace alder;

namespace {

// A plate 60 x 40 x 10 with a bore of 12, and three tolerances of known value.
Result<std::string> plate(const std::string& unit, const gp_Trsf& motion = {}) {
  const TopoDS_Shape solid =
      BRepAlgoAPI_Cut(
          BRepPrimAPI_MakeBox(60., 40., 10.).Shape(),
          BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(20, 15, -1), gp_Dir(0, 0, 1)), 6, 12).Shape())
          .Shape();
  const TopoDS_Shape shape = BRepBuilderAPI_Transform(solid, motion, true).Shape();
  demo::FaceShapes top, bore;
  for (TopExp_Explorer f(shape, TopAbs_FACE); f.More(); f.Next()) {
    const Ideal i = idealOf(TopoDS::Face(f.Current()));
    gp_Vec up(0, 0, 1);
    up.Transform(motion);
    gp_Pnt p(0, 0, 10);
    p.Transform(motion);
    const Vec3 z(up.X(), up.Y(), up.Z()), o(p.X(), p.Y(), p.Z());
    if (i.type == SurfaceType::Cylinder) bore.push_back(TopoDS::Face(f.Current()));
    if (i.type == SurfaceType::Plane && (i.direction - z).norm() < 1e-9 &&
        std::abs((i.point - o).dot(z)) < 1e-6)
      top.push_back(TopoDS::Face(f.Current()));
  }
  auto w = demo::PmiWriter::begin(shape, "plate", unit);
  if (!w) return pass(w.error());
  w->datum("A", top);
  w->size({.faces = bore, .nominal = 12, .lower = -0.05, .upper = 0.15});
  w->tolerance({.type = ToleranceType::Position,
                .magnitude = 0.2,
                .faces = bore,
                .datums = {{"A"}},
                .zone = ZoneForm::Cylindrical,
                .material = MaterialModifier::Maximum});
  w->tolerance({.type = ToleranceType::Flatness, .magnitude = 0.03, .faces = top});
  w->tolerance({.type = ToleranceType::SurfaceProfile,
                .magnitude = 0.1,
                .faces = top,
                .datums = {{"A"}},
                .unequal = -0.02});
  return w->text();
}

} // namespace

class ImportTest : public QObject {
  Q_OBJECT
 private slots:
  // The same part from a file with numbers beyond 31 bits, a byte order mark and comments.
  void foreignNumbering() {
    const auto bytes = plate("INCH");
    VERIFY_OK(bytes);
    std::string odd = "\xEF\xBB\xBF";
    bool quoted = false;
    for (std::size_t k = 0; k < bytes->size(); ++k) {
      const char c = (*bytes)[k];
      if (c == '\'') quoted = !quoted;
      odd += c;
      if (!quoted && c == '#') odd += "77000";
      if (!quoted && c == '=') odd += "/* = ; */";
    }
    const auto part = importStep(odd, "odd.step"), same = importStep(*bytes, "plate.step");
    VERIFY_OK(part);
    VERIFY_OK(same);
    std::vector<Note> notes;
    const Specification a = specificationFromPmi(**part, notes);
    const Specification b = specificationFromPmi(**same, notes);
    QCOMPARE(a.requirements.size(), b.requirements.size());
    QVERIFY(!a.requirements.empty());
    for (std::size_t k = 0; k < a.requirements.size(); ++k) {
      QCOMPARE(describe(a, a.requirements[k]), describe(b, b.requirements[k]));
      QVERIFY(a.requirements[k].features == b.requirements[k].features);
      QCOMPARE(QString::number(a.requirements[k].entity),
               "77000" + QString::number(b.requirements[k].entity));
    }
  }
  // Volume, area and centroid that another program wrote into the file.
  void sumsOfTheFile_data() {
    QTest::addColumn<double>("volume");
    QTest::addColumn<double>("area");
    QTest::addColumn<double>("shift");
    QTest::addColumn<QString>("told");
    QTest::newRow("as read") << 1.0 << 1.0 << 0.0 << "";
    QTest::newRow("rounded") << 1.0005 << 0.9995 << 0.05 << "";
    QTest::newRow("volume") << 1.01 << 1.0 << 0.0 << "volume is 23.0977";
    QTest::newRow("area") << 1.0 << 0.98 << 0.0 << "area is 68.";
    QTest::newRow("centroid") << 1.0 << 1.0 << 0.5 << "centroid lies 0.5 mm";
  }
  void sumsOfTheFile() {
    QFETCH(double, volume);
    QFETCH(double, area);
    QFETCH(double, shift);
    QFETCH(QString, told);
    const auto bytes = plate("MM");
    VERIFY_OK(bytes);
    Handle(TDocStd_Document) doc = new TDocStd_Document("BinXCAF");
    STEPCAFControl_Reader reader;
    std::istringstream in(*bytes);
    QCOMPARE(reader.ChangeReader().ReadStream("plate", in), IFSelect_RetDone);
    QVERIFY(reader.Transfer(doc));
    TDF_LabelSequence roots;
    XCAFDoc_DocumentTool::ShapeTool(doc->Main())->GetFreeShapes(roots);
    // By hand: a plate 60 x 40 x 10 with a bore of 12 at (20, 15).
    const double bore = std::acos(-1.0) * 36;
    const double solid = 60 * 40 * 10 - bore * 10;
    const double skin = 2 * (60 * 40 - bore) + 2 * (60 + 40) * 10 + std::acos(-1.0) * 12 * 10;
    const gp_Pnt centre((24000 * 30 - bore * 10 * 20) / solid + shift,
                        (24000 * 20 - bore * 10 * 15) / solid, 5);
    XCAFDoc_Volume::Set(roots.Value(1), solid * volume);
    XCAFDoc_Area::Set(roots.Value(1), skin * area);
    XCAFDoc_Centroid::Set(roots.Value(1), centre);
    for (const char* unit : {"MM", "INCH"}) {
      Interface_Static::SetCVal("write.step.unit", unit);
      STEPCAFControl_Writer writer;
      writer.SetPropsMode(true);
      QVERIFY(writer.Transfer(doc));
      QTemporaryDir dir;
      const QString path = dir.filePath("sums.step");
      QCOMPARE(writer.Write(qPrintable(path)), IFSelect_RetDone);
      Interface_Static::SetCVal("write.step.unit", "MM");
      const auto part = importStepFile(path.toStdString());
      VERIFY_OK(part);
      QCOMPARE((*part)->notes.size(), told.isEmpty() ? std::size_t(0) : std::size_t(1));
      if (!told.isEmpty())
        QVERIFY2(QString::fromStdString((*part)->notes.front().text).contains(told),
                 (*part)->notes.front().text.c_str());
      QVERIFY(StepText::parse((*part)->bytes)->ofType("PROPERTY_DEFINITION").size() >= 3);
    }
  }
  void everyUnit_data() {
    QTest::addColumn<QString>("unit");
    for (const char* u : {"MM", "INCH", "M"})
      QTest::newRow(u) << u;
  }
  // The same part in any unit: the same millimetres, limits included.
  void everyUnit() {
    QFETCH(QString, unit);
    const auto text = plate(unit.toStdString());
    VERIFY_OK(text);
    const auto part = importStep(*text, "plate.step");
    VERIFY_OK(part);
    NEAR((*part)->mesh.box().sizes().x(), 60.0, 1e-6);
    NEAR((*part)->mesh.box().sizes().z(), 10.0, 1e-6);
    QCOMPARE((*part)->faces.size(), std::size_t(7));
    const auto& pmi = (*part)->pmi;
    QCOMPARE(pmi.dimensions.size(), std::size_t(1));
    NEAR(*pmi.dimensions[0].nominal, 12.0, 1e-9);
    NEAR(*pmi.dimensions[0].lower, -0.05, 1e-9);
    NEAR(*pmi.dimensions[0].upper, 0.15, 1e-9);
    QCOMPARE(pmi.tolerances.size(), std::size_t(3));
    NEAR(pmi.tolerances[0].magnitude, 0.2, 1e-9);
    QVERIFY(pmi.tolerances[0].zone == ZoneForm::Cylindrical);
    QVERIFY(pmi.tolerances[0].material == MaterialModifier::Maximum);
    QCOMPARE(pmi.tolerances[0].datums[0].letters, std::vector<std::string>{"A"});
    NEAR(pmi.tolerances[1].magnitude, 0.03, 1e-9);
    NEAR(*pmi.tolerances[2].unequal, -0.02, 1e-9);
    QCOMPARE((*part)->notes.size(), std::size_t(0));
    std::vector<Note> notes;
    const Specification spec = specificationFromPmi(**part, notes);
    NEAR(spec.requirements[0].lower, 11.95, 1e-9);
    NEAR(spec.feature(spec.requirements[0].features[0]).ideal.diameter, 12.0, 1e-6);
    QVERIFY(spec.feature(spec.requirements[0].features[0]).ideal.hole);
  }
  // Far from the origin and turned: geometry follows, figures stay.
  void placedAnywhere() {
    gp_Trsf turn, move;
    turn.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(1, 2, 3)), 1.1);
    move.SetTranslation(gp_Vec(3000, -2000, 1500));
    const auto text = plate("INCH", move * turn);
    VERIFY_OK(text);
    const auto part = importStep(*text, "plate.step");
    VERIFY_OK(part);
    const auto bore =
        std::find_if((*part)->surfaces.begin(), (*part)->surfaces.end(),
                     [](const Surface& s) { return s.ideal.type == SurfaceType::Cylinder; });
    QVERIFY(bore != (*part)->surfaces.end());
    NEAR(bore->ideal.diameter, 12.0, 1e-6);
    NEAR(bore->ideal.length, 10.0, 1e-5);
    gp_Vec axis(0, 0, 1);
    axis.Transform(turn);
    NEAR(std::abs(bore->ideal.direction.dot(Vec3(axis.X(), axis.Y(), axis.Z()))), 1.0, 1e-9);
    QCOMPARE((*part)->pmi.tolerances.size(), std::size_t(3));
  }
  // What the library itself reads from our file agrees in number.
  void theLibrarySeesTheSameTolerances() {
    QTemporaryDir dir;
    const auto text = plate("MM");
    VERIFY_OK(text);
    const QString path = dir.filePath("plate.step");
    VERIFY_OK(writeFile(path.toStdString(), *text));
    Handle(TDocStd_Document) doc = new TDocStd_Document("BinXCAF");
    STEPCAFControl_Reader reader;
    reader.SetGDTMode(true);
    QCOMPARE(reader.ReadFile(qPrintable(path)), IFSelect_RetDone);
    QVERIFY(reader.Transfer(doc));
    const auto tool = XCAFDoc_DocumentTool::DimTolTool(doc->Main());
    TDF_LabelSequence dims, tols;
    tool->GetDimensionLabels(dims);
    tool->GetGeomToleranceLabels(tols);
    QCOMPARE(dims.Length(), 1);
    QCOMPARE(tols.Length(), 3);
    // and written again by the library, we read it the same
    STEPCAFControl_Writer writer;
    writer.SetDimTolMode(true);
    QVERIFY(writer.Transfer(doc));
    const QString again = dir.filePath("again.step");
    QCOMPARE(writer.Write(qPrintable(again)), IFSelect_RetDone);
    const auto part = importStepFile(again.toStdString());
    VERIFY_OK(part);
    QCOMPARE((*part)->pmi.tolerances.size(), std::size_t(3));
    QCOMPARE((*part)->pmi.dimensions.size(), std::size_t(1));
    NEAR(*(*part)->pmi.dimensions[0].lower, -0.05, 1e-9);
    NEAR(*(*part)->pmi.dimensions[0].upper, 0.15, 1e-9);
    for (const auto& t : (*part)->pmi.tolerances)
      QVERIFY(!t.faces.empty());
    QCOMPARE((*part)->pmi.datums.size(), std::size_t(1));
    QVERIFY(!(*part)->pmi.datums[0].faces.empty());
  }
  void assembliesKeepTheirPlacements() {
    Handle(TDocStd_Document) doc = new TDocStd_Document("BinXCAF");
    const auto shapes = XCAFDoc_DocumentTool::ShapeTool(doc->Main());
    const TDF_Label pin = shapes->AddShape(BRepPrimAPI_MakeBox(10., 10., 10.).Shape(), false);
    const TDF_Label assembly = shapes->NewShape();
    for (double x : {0.0, 100.0}) {
      gp_Trsf t;
      t.SetTranslation(gp_Vec(x, 0, 0));
      shapes->AddComponent(assembly, pin, TopLoc_Location(t));
    }
    shapes->UpdateAssemblies();
    QTemporaryDir dir;
    STEPCAFControl_Writer writer;
    QVERIFY(writer.Transfer(doc));
    const QString path = dir.filePath("pins.step");
    QCOMPARE(writer.Write(qPrintable(path)), IFSelect_RetDone);
    const auto part = importStepFile(path.toStdString());
    VERIFY_OK(part);
    QCOMPARE((*part)->bodies.size(), std::size_t(2));
    QCOMPARE((*part)->faces.size(), std::size_t(12));
    NEAR((*part)->mesh.box().max().x(), 110.0, 1e-6);
  }
  void theHeronHasItsSurfaces() {
    const auto part = test::heron();
    QCOMPARE(part->pmi.tolerances.size() + part->pmi.dimensions.size(), std::size_t(35));
    QCOMPARE(part->pmi.datums.size(), std::size_t(3));
    QVERIFY(part->notes.empty());
    int holes = 0, cones = 0, spheres = 0, freeform = 0;
    for (const Surface& s : part->surfaces) {
      holes += s.ideal.type == SurfaceType::Cylinder && s.ideal.hole;
      cones += s.ideal.type == SurfaceType::Cone;
      spheres += s.ideal.type == SurfaceType::Sphere;
      freeform += s.ideal.type == SurfaceType::Freeform;
    }
    QCOMPARE(holes, 11); // bore, dowel, six, two side ports, sensor port
    QCOMPARE(cones, 1);
    QCOMPARE(spheres, 1);
    QCOMPARE(freeform, 1);
    // triangles are closed: each edge belongs to two triangles of opposite sense
    double volume = 0;
    for (std::size_t i = 0; i < part->mesh.triangles.size(); ++i) {
      const Triangle t = part->mesh.triangle(i);
      volume += t.a.dot(t.b.cross(t.c)) / 6;
    }
    QVERIFY2(volume > 200000 && volume < 320000, qPrintable(QString::number(volume)));
  }
  void badFiles_data() {
    QTest::addColumn<QByteArray>("bytes");
    QTest::newRow("empty") << QByteArray();
    QTest::newRow("foreign") << QByteArray("solid cube\nfacet normal 0 0 1\n");
    QTest::newRow("no data") << QByteArray(
        "ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\nENDSEC;\nEND-ISO-10303-21;\n");
    QByteArray half(test::heron()->bytes.data(),
                    static_cast<qsizetype>(test::heron()->bytes.size()));
    QTest::newRow("cut off") << half.left(half.size() / 3);
  }
  void badFiles() {
    QFETCH(QByteArray, bytes);
    const auto part = importStep(bytes.toStdString(), "odd.step");
    if (part) { // half a file may still hold whole faces, but then it says so
      QVERIFY(!(*part)->faces.empty());
      return;
    }
    QVERIFY(part.error().message.starts_with("odd.step"));
    QVERIFY(part.error().message.find('\n') == std::string::npos);
  }
};
ALDER_TEST(ImportTest)
#include "import_test.moc"
