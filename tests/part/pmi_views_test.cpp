#include "base/error.h"

#include "base/random.h"
#include "cad_requirements.h"
#include "made_parts.h"
#include "made_views.h"
#include "part/pmi/pmi_reader.h"
#include "part/pmi/views.h"
#include "part/step_import.h"
#include "pmi_cases.h"
#include "support.h"

using namespace alder;

// Where the designer drew a requirement, and the views that were saved.
class PmiViewsTest : public QObject {
  Q_OBJECT

  static constexpr int kSeeds = 300;
  static inline const std::string kRequirements =
      "#60=FLATNESS_TOLERANCE('','',#41,#13);\n#61=FLATNESS_TOLERANCE('','',#41,#15);\n"
      "#62=CYLINDRICITY_TOLERANCE('','',#41,#11);\n#63=DIMENSIONAL_SIZE(#11,'diameter');\n"
      "#64=SHAPE_DIMENSION_REPRESENTATION('',(#65),#900);\n"
      "#65=(LENGTH_MEASURE_WITH_UNIT()MEASURE_REPRESENTATION_ITEM()MEASURE_WITH_UNIT("
      "LENGTH_MEASURE(10.),#1)REPRESENTATION_ITEM('nominal value'));\n"
      "#66=DIMENSIONAL_CHARACTERISTIC_REPRESENTATION(#63,#64);\n"
      "#67=PLUS_MINUS_TOLERANCE(#68,#63);\n#68=TOLERANCE_VALUE(#41,#41);\n";

  struct Answer {
    Pmi pmi;
    std::vector<Note> notes;
  };
  static Answer read(std::string file) {
    Answer a;
    if (const auto text = StepText::parse(std::move(file)))
      a.pmi = readPmi(*text, test::pmiFacesOf, a.notes);
    return a;
  }
  // The unit of the file's geometry is another than that of its measures.
  static std::string fileIn(double mm_per_unit, const std::string& records) {
    std::string file = test::pmiFile(records);
    if (mm_per_unit == 1) return file;
    const auto at = file.find("GLOBAL_UNIT_ASSIGNED_CONTEXT((#1,");
    return file.replace(at, 33, "GLOBAL_UNIT_ASSIGNED_CONTEXT((#3,");
  }
  static test::ViewsWanted wanted(int seed) {
    test::ViewsWanted w;
    w.seed = static_cast<std::uint64_t>(seed);
    w.requirements = {60, 61, 62, 63};
    w.mm_per_unit = seed % 2 == 0 ? 1 : 25.4;
    w.part = {10, -20, 30};
    return w;
  }
  static Box3 boxAbout(const Vec3& middle) {
    return {middle - Vec3(30, 20, 10), middle + Vec3(30, 20, 10)};
  }

 private slots:
  void calloutsStandWhereTheyWereDrawn() {
    for (int seed = 1; seed <= kSeeds; ++seed) {
      const auto w = wanted(seed);
      const auto made = test::madeViews(w);
      const Answer a = read(fileIn(w.mm_per_unit, kRequirements + made.records));
      QCOMPARE(a.pmi.callouts.size(), made.callouts.size());
      for (const test::MadeCallout& c : made.callouts) {
        const auto found = std::find_if(a.pmi.callouts.begin(), a.pmi.callouts.end(),
                                        [&](const PmiCallout& r) { return r.of == c.of; });
        QVERIFY(found != a.pmi.callouts.end());
        const double off = (found->at - c.middle).norm();
        QVERIFY2(off < c.reach,
                 qPrintable(QString("seed %1: #%2 is %3 mm off").arg(seed).arg(c.of).arg(off)));
      }
    }
  }

  void viewsAreThoseSaved() {
    for (int seed = 1; seed <= kSeeds; ++seed) {
      const auto w = wanted(seed);
      const auto made = test::madeViews(w);
      const Answer a = read(fileIn(w.mm_per_unit, kRequirements + made.records));
      QCOMPARE(a.pmi.views.size(), made.views.size());
      for (const test::MadeView& v : made.views) {
        const auto found = std::find_if(a.pmi.views.begin(), a.pmi.views.end(),
                                        [&](const PmiView& r) { return r.name == v.name; });
        QVERIFY2(found != a.pmi.views.end(), qPrintable(QString("seed %1").arg(seed)));
        QVERIFY(found->shows == v.shows);
        QCOMPARE(found->cut, v.cut);
        QCOMPARE(found->section.has_value(), v.section.has_value());
        if (v.section) {
          NEAR((found->section->normal - v.section->second).norm(), 0.0, 1e-9);
          NEAR(found->section->height(v.section->first), 0.0, 1e-6);
        }
        NEAR((found->towards - v.towards).norm(), 0.0, 1e-9);
        NEAR((found->up - v.up).norm(), 0.0, 1e-9);
        NEAR((found->right - v.up.cross(v.towards)).norm(), 0.0, 1e-9);
        QCOMPARE(found->eye.has_value(), v.eye.has_value());
        if (v.eye) NEAR((*found->eye - *v.eye).norm(), 0.0, 1e-6);
        const ParallelView seen = parallelView(*found, boxAbout(w.part));
        double scale = 1;
        Vec3 middle = v.middle;
        if (v.eye) { // similar triangles with the eye at the top
          scale = (*v.eye - w.part).dot(v.towards) / (*v.eye - v.middle).dot(v.towards);
          middle = *v.eye + scale * (v.middle - *v.eye);
        }
        NEAR(seen.width, scale * v.width, 1e-6);
        NEAR(seen.height, scale * v.height, 1e-6);
        NEAR((seen.centre - middle).norm(), 0.0, 1e-6);
      }
    }
  }

  // Nothing that hangs on no requirement is told of one, and nothing makes it count less.
  void nothingToldOfThem() {
    const Answer bare = read(fileIn(1, kRequirements));
    auto w = wanted(2);
    const Answer a = read(fileIn(1, kRequirements + test::madeViews(w).records));
    for (const Note& n : a.notes)
      QVERIFY2(std::count(bare.notes.begin(), bare.notes.end(), n) == 1, n.text.c_str());
  }

  void windowsThatMissThePartShowAllOfIt() {
    PmiView view;
    view.corner = {1000, 0, 0};
    view.width = view.height = 50;
    const Box3 part = boxAbout({0, 0, 0});
    const ParallelView seen = parallelView(view, part);
    QCOMPARE(seen.width, 0.0);
    NEAR((seen.centre - part.center()).norm(), 0.0, 0.0);
    view.corner = {-25, -25, 0};
    QCOMPARE(parallelView(view, part).width, 50.0);
    view.eye = Vec3(0, 0, -100); // behind the window: nothing is seen from there
    QCOMPARE(parallelView(view, part).width, 0.0);
    view.eye.reset();
    view.width = std::nan("");
    QCOMPARE(parallelView(view, part).width, 0.0);
  }

  // A component may lie anywhere: its callouts are not placed, its views left out, both told.
  void componentsAreTold() {
    auto w = wanted(2);
    const auto made = test::madeViews(w);
    const std::string assembly =
        "#999=PRODUCT_DEFINITION('part','',#998,#997);\n#996=PRODUCT_DEFINITION('all','',#998,"
        "#997);\n#995=NEXT_ASSEMBLY_USAGE_OCCURRENCE('1','','',#996,#999,$);\n";
    const Answer a = read(fileIn(1, kRequirements + made.records + assembly));
    QVERIFY(a.pmi.callouts.empty());
    std::size_t bare = 0; // views that show nothing
    for (const test::MadeView& v : made.views)
      bare += v.shows.empty() ? 1 : 0;
    QCOMPARE(a.pmi.views.size(), bare);
    std::string all;
    for (const Note& n : a.notes)
      all += n.text + "\n";
    QVERIFY(all.find("4 callouts drawn on components") != std::string::npos);
    QVERIFY(all.find("is of a component of the assembly") != std::string::npos);
    // The whole's own are as ever.
    const std::string other = "#999=PRODUCT_DEFINITION('all','',#998,#997);\n"
                              "#996=PRODUCT_DEFINITION('part','',#998,#997);\n"
                              "#995=NEXT_ASSEMBLY_USAGE_OCCURRENCE('1','','',#999,#996,$);\n";
    QCOMPARE(read(fileIn(1, kRequirements + made.records + other)).pmi.callouts.size(),
             std::size_t(4));
  }

  // Damage changes pictures at most: the requirements stay, and every number is one.
  void damaged() {
    const auto requirements = [](const Answer& a) {
      return std::pair(a.pmi.tolerances.size(), a.pmi.dimensions.size());
    };
    const auto expected = requirements(read(fileIn(1, kRequirements)));
    for (int seed = 1; seed <= 3000; ++seed) {
      const auto w = wanted(1 + seed % 40);
      std::string records = test::madeViews(w).records;
      Random random(static_cast<std::uint64_t>(seed));
      for (int k = 0; k < 3; ++k) {
        const auto at = 1 + static_cast<std::size_t>(random.uniform() *
                                                     static_cast<double>(records.size() - 1));
        if (records[at - 1] == '#') continue; // another's number
        if (records[at] == ';' || records[at] == '\n' || records[at] == '=' || records[at] == '\'')
          continue;
        static constexpr char kOther[] = "0123456789#.,()$*";
        records[at] = kOther[static_cast<std::size_t>(random.uniform() * 17)];
      }
      const Answer a = read(fileIn(w.mm_per_unit, kRequirements + records));
      for (const PmiCallout& c : a.pmi.callouts)
        QVERIFY(c.at.allFinite());
      for (const PmiView& v : a.pmi.views) {
        const ParallelView seen = parallelView(v, boxAbout(w.part));
        QVERIFY(seen.centre.allFinite());
        QVERIFY(std::isfinite(seen.width) && std::isfinite(seen.height));
        NEAR(seen.towards.norm(), 1.0, 1e-9);
        NEAR(seen.up.dot(seen.towards), 0.0, 1e-9);
      }
      QVERIFY(requirements(a) == expected);
    }
  }

  // A second reader, which shares no code with ours.
  void asTheCadLibraryReadsThem() {
    for (const char* unit : {"MM", "INCH"}) {
      const auto step = test::bracketStep(unit, 1);
      VERIFY_OK(step);
      const double mm = unit == std::string("MM") ? 1 : 25.4;
      const auto part = importStep(*step, "bracket.step");
      VERIFY_OK(part);
      const Box3 box = (*part)->mesh.box();
      const auto text = StepText::parse(*step);
      VERIFY_OK(text);
      test::ViewsWanted w;
      w.first_id = text->lastId() + 1;
      w.context = 0;
      for (const char* type : {"ADVANCED_BREP_SHAPE_REPRESENTATION", "SHAPE_REPRESENTATION"})
        for (int id : text->ofType(type))
          if (w.context == 0) w.context = text->instance(id)->records.front().values[2].reference;
      w.mm_per_unit = mm;
      w.part = box.center();
      w.simple = true;
      for (const PmiTolerance& t : (*part)->pmi.tolerances)
        w.requirements.push_back(t.entity);
      for (int seed = 1; seed <= 5; ++seed) {
        w.seed = static_cast<std::uint64_t>(seed);
        std::string file = *step;
        file.insert(text->end(), "\n" + test::madeViews(w).records);
        const auto with = importStep(file, "bracket.step");
        VERIFY_OK(with);
        const auto theirs = test::cadViews(file);
        QCOMPARE((*with)->pmi.views.size(), theirs.size());
        QCOMPARE((*with)->pmi.callouts.size(), w.requirements.size());
        for (std::size_t i = 0; i < theirs.size(); ++i) {
          const auto found =
              std::find_if((*with)->pmi.views.begin(), (*with)->pmi.views.end(),
                           [&](const PmiView& v) { return v.name == theirs[i].name; });
          QVERIFY(found != (*with)->pmi.views.end());
          NEAR((found->towards - theirs[i].towards).norm(), 0.0, 1e-6);
          NEAR((found->up - theirs[i].up).norm(), 0.0, 1e-6);
          NEAR(found->width, theirs[i].width * mm, 1e-6);
          NEAR(found->height, theirs[i].height * mm, 1e-6);
        }
      }
    }
  }
};

ALDER_TEST(PmiViewsTest)
#include "pmi_views_test.moc"
