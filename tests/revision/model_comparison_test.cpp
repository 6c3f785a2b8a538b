#include "revision/model_comparison.h"

#include "made_revision.h"
#include "part/step_import.h"
#include "pmi_writer.h"
#include "random_parts.h"
#include "support.h"
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <TopExp_Explorer.hxx>
#include <algorithm>

namespace {

using namespace alder;

std::string told(const std::vector<ModelChange>& changes) {
  std::string all;
  for (const ModelChange& c : changes)
    all += "\n  " + c.words;
  return all;
}

// Each that was made is told once, and nothing else.
std::string wrongIn(const test::MadeRevision& made, std::vector<ModelChange> changes) {
  for (const test::MadeChange& m : made.changes) {
    const auto found = std::find_if(changes.begin(), changes.end(), [&](const ModelChange& c) {
      return c.fate == m.fate && (c.move.translation() - m.move).norm() < 1e-3;
    });
    if (found == changes.end())
      return fmt::format("{} by ({}, {}, {}) is not told", name(m.fate), m.move.x(), m.move.y(),
                         m.move.z());
    changes.erase(found);
  }
  return changes.empty() ? "" : "told and not made: " + changes.front().words;
}

class ModelComparisonTest : public QObject {
  Q_OBJECT

 private slots:
  void platesByLot() {
    std::size_t made_of_all = 0;
    for (unsigned seed = 1; seed <= 10; ++seed) {
      const auto made = test::revisedPlate(seed);
      VERIFY_OK(made);
      const auto before = importStep(made->before, "before.step"),
                 now = importStep(made->now, "now.step");
      VERIFY_OK(before);
      VERIFY_OK(now);
      const ModelComparison c = compareModels(**before, **now);
      QVERIFY(!c.elsewhere);
      const auto changes = changesOf(**before, **now, c, {});
      const std::string wrong = wrongIn(*made, changes);
      QVERIFY2(wrong.empty(),
               fmt::format("seed {}: {}; told:{}", seed, wrong, told(changes)).c_str());
      made_of_all += made->changes.size();
      // And the other way round, with what came and went exchanged.
      const ModelComparison back = compareModels(**now, **before);
      QCOMPARE(changesOf(**now, **before, back, {}).size(), made->changes.size());
      // Nothing changed between a model and itself.
      QVERIFY(changesOf(**now, **now, compareModels(**now, **now), {}).empty());
    }
    QVERIFY(made_of_all > 50);
  }

  // Parts of strangers, turned and far away: exported anew in another unit nothing differs; with a
  // hole drilled into a face that one alone is new.
  void foreignParts() {
    for (unsigned seed = 1; seed <= 6; ++seed) {
      const auto made = test::randomPart(seed);
      VERIFY_OK(made);
      const auto part = importStep(made->step, "a.step");
      VERIFY_OK(part);
      const char* unit = seed % 2 ? "MM" : "INCH";
      const auto anew = demo::PmiWriter::begin((*part)->shape, "p", unit);
      VERIFY_OK(anew);
      const auto same = importStep(anew->text(), "b.step");
      VERIFY_OK(same);
      const auto none = changesOf(**part, **same, compareModels(**part, **same), {});
      QVERIFY2(none.empty(), (made->name + told(none)).c_str());
      const auto& faces = (*part)->faces;
      const auto flat = std::max_element(faces.begin(), faces.end(), [](auto& a, auto& b) {
        const auto key = [](const Face& f) {
          return f.ideal.type == SurfaceType::Plane ? f.area : 0;
        };
        return key(a) < key(b);
      });
      const Mesh& mesh = (*part)->mesh;
      const auto at = std::find(mesh.tags.begin(), mesh.tags.end(), flat->id.value);
      const Triangle t = mesh.triangle(static_cast<std::size_t>(at - mesh.tags.begin()));
      const Vec3 from = (t.a + t.b + t.c) / 3 + flat->ideal.direction;
      const Vec3 into = -flat->ideal.direction;
      const gp_Ax2 axis(gp_Pnt(from.x(), from.y(), from.z()), gp_Dir(into.x(), into.y(), into.z()));
      const TopoDS_Shape cut =
          BRepAlgoAPI_Cut((*part)->shape, BRepPrimAPI_MakeCylinder(axis, 0.85, 4).Shape()).Shape();
      const TopExp_Explorer solid(cut, TopAbs_SOLID);
      const auto drilled = demo::PmiWriter::begin(solid.Current(), "p", unit);
      VERIFY_OK(drilled);
      const auto now = importStep(drilled->text(), "c.step");
      VERIFY_OK(now);
      const auto changes = changesOf(**part, **now, compareModels(**part, **now), {});
      QVERIFY2(changes.size() == 1 && changes.front().isNew(),
               (made->name + told(changes)).c_str());
    }
  }

  // A model that was exported in another frame is told as a whole, not face by face.
  void elsewhere() {
    const auto made = test::revisedPlate(3);
    VERIFY_OK(made);
    const auto part = importStep(made->before, "before.step");
    VERIFY_OK(part);
    gp_Trsf turned, by;
    turned.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)), M_PI / 2);
    by.SetTranslation(gp_Vec(10, -20, 300));
    const auto away = demo::PmiWriter::begin(
        BRepBuilderAPI_Transform((*part)->shape, by * turned, true).Shape(), "away");
    VERIFY_OK(away);
    const auto other = importStep(away->text(), "away.step");
    VERIFY_OK(other);
    const ModelComparison c = compareModels(**part, **other);
    QVERIFY(c.found < 0.2);
    QVERIFY(c.elsewhere);
    const Vec3 corner(1, 2, 3);
    gp_Pnt p(1, 2, 3);
    p.Transform(by * turned);
    QVERIFY((*c.elsewhere * Vec3(p.X(), p.Y(), p.Z()) - corner).norm() < 0.2);
  }
};

} // namespace

ALDER_TEST(ModelComparisonTest)
#include "model_comparison_test.moc"
