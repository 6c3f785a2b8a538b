#include "base/files.h"
#include "base/random.h"
#include "cad_files.h"
#include "geometry/mesh_check.h"
#include "made_parts.h"
#include "part/cad_kind.h"
#include "part/cad_process.h"
#include "part/mesh_file.h"
#include "route/draft.h"
#include "support.h"
#include <BRep_Builder.hxx>
#include <QTemporaryDir>
#include <TopExp_Explorer.hxx>
#include <TopoDS_Compound.hxx>

using namespace alder;

// IGES, BREP and meshes come in as STEP does: the same faces, volume and place, whatever the unit;
// assemblies with their tree, and only what the file shows, or what was chosen.
class CadKindsTest : public QObject {
  Q_OBJECT

  // Areas by kind of surface, in mm²: what must not depend on the kind of file.
  static std::map<SurfaceType, double> areas(const PartModel& part) {
    std::map<SurfaceType, double> sums;
    for (const Surface& s : part.surfaces)
      for (const FaceId f : s.faces)
        sums[s.ideal.type] += part.face(f).area;
    return sums;
  }
  static void same(const PartModel& a, const PartModel& b) {
    const auto one = areas(a), other = areas(b);
    QCOMPARE(one.size(), other.size());
    for (const auto& [type, area] : one)
      NEAR(other.at(type), area, 1e-4 * area);
    NEAR(volumeOf(b.mesh), volumeOf(a.mesh), 1e-3 * std::abs(volumeOf(a.mesh)));
    const Box3 x = a.mesh.box(), y = b.mesh.box();
    NEAR((x.min() - y.min()).norm() + (x.max() - y.max()).norm(), 0.0, 0.02);
  }
  static bool tells(const std::vector<Note>& notes, const std::string& words) {
    return std::any_of(notes.begin(), notes.end(),
                       [&](const Note& n) { return n.text.find(words) != std::string::npos; });
  }

 private slots:
  void kindsAreToldApart() {
    const auto step = test::plateStep(1);
    VERIFY_OK(step);
    const auto part = importCadApart(*step, "plate.step");
    VERIFY_OK(part);
    const TopoDS_Shape& shape = (*part)->shape;
    const Vec3 size(1, 2, 3);
    for (const auto& [bytes, kind] : std::vector<std::pair<std::string, CadKind>>{
             {*step, CadKind::Step},
             {test::igesOf(shape, true), CadKind::Iges},
             {test::brepOf(shape, false), CadKind::Brep},
             {test::brepOf(shape, true), CadKind::Brep},
             {test::boxStl(size, false), CadKind::Stl},
             {test::boxStl(size, true), CadKind::Stl},
             {test::boxPly(size, false), CadKind::Ply},
             {test::boxPly(size, true), CadKind::Ply},
             {test::boxes3mf(size, "inch"), CadKind::ThreeMf}})
      QVERIFY2(cadKindOf(bytes) == kind, std::string(name(kind)).c_str());
    for (const std::string& other : {std::string(), std::string("some text\n"),
                                     std::string(200, '\0'), std::string("PK\x03\x04 docx")})
      QVERIFY(!cadKindOf(other));
  }

  void theSamePartFromEachKind() {
    for (const auto& step : {test::bracketStep("MM", 1), test::shaftStep("INCH", 0)}) {
      VERIFY_OK(step);
      const auto part = importCadApart(*step, "made.step");
      VERIFY_OK(part);
      for (const char* unit : {"MM", "INCH", "M"})
        for (const bool solids : {true, false}) {
          const auto read = importCadApart(test::igesOf((*part)->shape, solids, unit), "made.igs");
          VERIFY_OK(read);
          QCOMPARE((*read)->schema, std::string("IGES"));
          QCOMPARE((*read)->bodies.size(), std::size_t(1));
          same(**part, **read);
        }
      for (const bool binary : {false, true}) {
        const auto read = importCadApart(test::brepOf((*part)->shape, binary), "made.brep");
        VERIFY_OK(read);
        QVERIFY(tells((*read)->notes, "taken as mm"));
        same(**part, **read);
      }
    }
  }

  void openSurfacesAreTold() {
    const auto step = test::plateStep(1);
    const auto part = importCadApart(*step, "plate.step");
    VERIFY_OK(part);
    BRep_Builder builder;
    TopoDS_Compound some;
    builder.MakeCompound(some);
    for (std::size_t i = 0; i + 1 < (*part)->face_shapes.size(); ++i)
      builder.Add(some, (*part)->face_shapes[i]);
    const auto read = importCadApart(test::igesOf(some, false), "open.igs");
    VERIFY_OK(read);
    QVERIFY(tells((*read)->notes, "enclose no volume"));
    QCOMPARE((*read)->faces.size(), (*part)->faces.size() - 1);
  }

  void meshesInMillimetres() {
    const Vec3 size(30, 20, 10);
    QTemporaryDir dir;
    const auto write = [&](const char* file, const std::string& bytes) {
      const std::string path = dir.filePath(file).toStdString();
      (void)writeFile(path, bytes);
      return path;
    };
    for (const std::string& path :
         {write("a.stl", test::boxStl(size, false)), write("b.STL", test::boxStl(size, true)),
          write("a.ply", test::boxPly(size, false)), write("b.ply", test::boxPly(size, true))}) {
      const auto mesh = readMeshFile(path);
      VERIFY_OK(mesh);
      NEAR(std::abs(volumeOf(*mesh)), 6000.0, 1e-3);
      NEAR((mesh->box().sizes() - size).norm(), 0.0, 1e-5);
    }
    for (const auto& [unit, mm] : std::vector<std::pair<std::string, double>>{
             {"millimeter", 1}, {"inch", 25.4}, {"meter", 1000}, {"centimeter", 10}}) {
      const auto mesh = readMeshFile(write("a.3mf", test::boxes3mf(size, unit)));
      VERIFY_OK(mesh);
      NEAR(mesh->box().sizes().x() / mm, 130.0, 1e-3);
      NEAR(std::abs(volumeOf(*mesh)) / (mm * mm * mm), 12000.0, 0.1);
    }
    const auto odd = readMeshFile(write("odd.3mf", test::boxes3mf(size, "cubit")));
    QVERIFY(!odd && odd.error().message.find("cubit") != std::string::npos);
    const auto part = importCadApart(test::boxStl(size, true), "box.stl");
    QVERIFY(!part && part.error().message.find("no surfaces") != std::string::npos);
  }

  void assembliesWithTheirTree() {
    const std::string step = test::assemblyStep();
    QVERIFY(!step.empty());
    const auto part = importCadApart(step, "gauge.step");
    VERIFY_OK(part);
    const PartModel& p = **part;
    std::vector<std::string> tree;
    for (const CadComponent& c : p.components)
      tree.push_back((c.parent < 0 ? "" : p.components[std::size_t(c.parent)].name + "/") + c.name);
    const std::vector<std::string> expected{"gauge",      "gauge/tool", "gauge/frame",
                                            "gauge/pins", "pins/pin",   "pins/pin"};
    QVERIFY2(tree == expected, fmt::format("{}", fmt::join(tree, ", ")).c_str());
    QCOMPARE(p.bodies.size(), std::size_t(4));
    // What is hidden is there, but not of the part.
    QCOMPARE(leftOut(p).size(), std::size_t(1));
    QCOMPARE(p.bodies[std::size_t(leftOut(p)[0])].name, std::string("tool"));
    NEAR(volumeOf(p.mesh), 60000 + 2 * M_PI * 16 * 30, 15.0);
    for (const Surface& s : p.surfaces)
      for (const FaceId f : s.faces)
        QVERIFY(p.takes(f));
    // The second pin lies where its tree puts it.
    Box3 pins;
    for (const Face& f : p.faces)
      if (p.bodies[std::size_t(f.body)].name.starts_with("pin")) pins.extend(f.box);
    NEAR(pins.sizes().x(), 48.0, 0.05);
  }

  void bodiesByChoice() {
    const std::string step = test::assemblyStep();
    const auto shown = importCadApart(step, "gauge.step");
    VERIFY_OK(shown);
    const auto all = importCadApart(step, "gauge.step", {}, BodyChoice{std::vector<int>{}});
    VERIFY_OK(all);
    QVERIFY(leftOut(**all).empty());
    NEAR(volumeOf((*all)->mesh) - volumeOf((*shown)->mesh), 8000.0, 1.0);
    // Faces have the same numbers whatever is chosen.
    QCOMPARE((*all)->faces.size(), (*shown)->faces.size());
    for (std::size_t i = 0; i < (*all)->faces.size(); ++i)
      QVERIFY((*all)->faces[i].ideal == (*shown)->faces[i].ideal);
    QCOMPARE(TopExp_Explorer(shapeTaken(**shown), TopAbs_SOLID).More(), true);
    const auto none =
        importCadApart(step, "gauge.step", {}, BodyChoice{std::vector<int>{0, 1, 2, 3}});
    QVERIFY(!none && none.error().message.find("one body at least") != std::string::npos);
    const auto odd = importCadApart(step, "gauge.step", {}, BodyChoice{std::vector<int>{9}});
    QVERIFY(!odd && odd.error().message.find("no number 10") != std::string::npos);
  }

  // A routine keeps its CAD file as given, and which bodies are its part.
  void keptInTheRoutine() {
    QTemporaryDir dir;
    const auto plate = importCadApart(*test::plateStep(1), "plate.step");
    for (const auto& [bytes, label, choice] :
         std::vector<std::tuple<std::string, std::string, BodyChoice>>{
             {test::igesOf((*plate)->shape, true, "INCH"), "plate.igs", {}},
             {test::brepOf((*plate)->shape, false), "plate.brep", {}},
             {test::assemblyStep(), "gauge.step", BodyChoice{std::vector<int>{1, 2}}}}) {
      const auto part = importCadApart(bytes, label, {}, choice);
      VERIFY_OK(part);
      const std::string path = dir.filePath("r.alder").toStdString();
      VERIFY_OK(saveProject({beginPlan(*part, *defaultBench()), {}, {}}, path));
      const auto again = openProject(path);
      VERIFY_OK(again);
      QVERIFY(again->plan.part->bytes == bytes);
      QVERIFY(leftOut(*again->plan.part) == leftOut(**part));
      same(**part, *again->plan.part);
    }
  }

  // Whatever is in a file: a part, or one line.
  void damagedFiles() {
    const auto plate = importCadApart(*test::plateStep(1), "plate.step");
    const std::vector<std::pair<std::string, std::string>> whole{
        {test::igesOf((*plate)->shape, true), "a.igs"},
        {test::igesOf((*plate)->shape, false), "b.igs"},
        {test::brepOf((*plate)->shape, false), "a.brep"},
        {test::brepOf((*plate)->shape, true), "b.brep"},
        {test::boxes3mf(Vec3(1, 2, 3), "inch"), "a.3mf"},
        {test::boxPly(Vec3(1, 2, 3), true), "a.ply"}};
    for (std::uint64_t seed = 0; seed < 48; ++seed) {
      const auto& [bytes, label] = whole[seed % whole.size()];
      Random random(seed);
      std::string bad = bytes;
      const auto at = [&] {
        return static_cast<std::size_t>(random.uniform() * static_cast<double>(bad.size()));
      };
      if (seed % 3 == 0)
        bad.erase(at());
      else
        for (int k = 0; k < 30; ++k)
          bad[at()] = static_cast<char>(32 + random.uniform() * 95);
      ReaderLimits limits;
      limits.seconds = 10, limits.megabytes = 2000;
      const auto mesh = meshApart(bad, label, {}, limits);
      if (!mesh)
        QVERIFY2(mesh.error().message.find('\n') == std::string::npos,
                 mesh.error().message.c_str());
      const auto part = importCadApart(bad, label, {}, {}, limits);
      if (!part)
        QVERIFY2(part.error().message.find('\n') == std::string::npos,
                 part.error().message.c_str());
    }
  }
};

ALDER_TEST(CadKindsTest)
#include "cad_kinds_test.moc"
