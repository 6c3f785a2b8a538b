#include "drafting/heron_drawing.h"
#include "exchange/routine/article_json.h"
#include "heron.h"
#include "judge/judge.h"
#include "part/step_import.h"
#include "plan/article/article_scope.h"
#include "plan/edit.h"
#include "report/article/forms.h"
#include "report/report_file.h"
#include "revision/revision.h"
#include "sheet/sheet_file.h"
#include "support.h"
#include <QTemporaryDir>
#include <algorithm>
#include <map>
#include <pugixml.hpp>
#include <set>
#include <zip.h>

using namespace alder;

// The forms of a first article against data that were made up for them, each value with a word of
// its own, so that a value in the wrong field shows.
class FirstArticleTest : public QObject {
  Q_OBJECT

  static const TextSetter& setter() {
    static const auto one = TextSetter::create();
    return **one;
  }

  static Plan filledPlan() {
    Plan plan = test::heronPlan();
    plan.header[HeaderField::Number] = "TW-40-117";
    plan.header[HeaderField::Name] = "Heron gauge head";
    plan.header[HeaderField::Revision] = "B2";
    FirstArticle& a = plan.article;
    for (std::size_t i = 0; i < kArticleFields; ++i)
      a.texts[i] = "made-up-" + std::string(name(static_cast<ArticleField>(i)));
    a[ArticleField::Identifier] = "FAI-{serial}";
    a.assembly = true;
    a.parts = {{"TW-41", "Lid", "Detail", "FAI-lid"}, {"TW-42", "Seal", "Standard part", "n/a"}};
    a.products = {{"CuSn8", "EN 12163", "C8", "Quillfoundry", "Yes", "CoC-771"},
                  {"Passivation", "SI-210", "P2", "Brinework", "Not applicable", "CoC-902"}};
    a.tests = {{"FTP-12", "AR-55"}};
    a.set({test::balloon(plan, 3).id, "Plug gauge G-7", "", "bore gauged too"});
    a.set({test::balloon(plan, 31).id, "", "NCR-0815", ""});
    return plan;
  }
  static ReportModel modelOf(const Plan& plan, bool bad) {
    Measurements m = test::exactly(plan);
    if (bad)
      for (Vec3& p : m.at(test::balloon(plan, 31).features[0]).points)
        p.x() += 0.4;
    ReportModel model = reportOf(plan, judgeAll(plan, m), m);
    model.part_serial = "HB-0042";
    return model;
  }

  using Cells = std::map<std::pair<int, int>, std::string>; // row, column, from 1
  // A sheet of the workbook by its own XML.
  static Cells sheetOf(const std::string& bytes, int sheet) {
    const auto entry = [&](const std::string& name) {
      zip_error_t error;
      zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
      zip_t* zip = zip_open_from_source(source, ZIP_RDONLY, &error);
      zip_stat_t stat;
      std::string text;
      if (zip && zip_stat(zip, name.c_str(), 0, &stat) == 0) {
        text.resize(stat.size);
        zip_file_t* file = zip_fopen(zip, name.c_str(), 0);
        zip_fread(file, text.data(), text.size());
        zip_fclose(file);
      }
      if (zip) zip_discard(zip);
      return text;
    };
    pugi::xml_document strings, xml;
    strings.load_string(entry("xl/sharedStrings.xml").c_str());
    xml.load_string(entry("xl/worksheets/sheet" + std::to_string(sheet) + ".xml").c_str());
    std::vector<std::string> texts;
    for (const auto& si : strings.child("sst").children("si"))
      texts.emplace_back(si.child("t").text().get());
    Cells cells;
    for (const auto& row : xml.child("worksheet").child("sheetData").children("row"))
      for (const auto& c : row.children("c")) {
        const std::string value = c.child("v").text().get(), at = c.attribute("r").value();
        cells[{std::stoi(at.substr(1)), at[0] - 'A' + 1}] =
            std::string(c.attribute("t").value()) == "s" ? texts.at(std::stoul(value)) : value;
      }
    return cells;
  }
  static std::string workbook(const Plan& plan, const ReportModel& model) {
    const auto layout = shippedLayout("first-article");
    const auto file = layout ? reportFile("a.xlsx", *layout, model, plan, setter())
                             : Result<ReportFile>(pass(layout.error()));
    return file ? file->bytes : std::string();
  }
  // What stands beside the caption that begins with a field's number.
  static std::string besides(const Cells& cells, const std::string& caption) {
    for (const auto& [at, text] : cells)
      if (at.second == 1 && text == caption) {
        const auto found = cells.find({at.first, 3});
        return found == cells.end() ? "" : found->second;
      }
    return "no such field";
  }
  // Rows below the one that begins with this caption, as many columns as it has.
  static std::vector<std::vector<std::string>> below(const Cells& cells,
                                                     const std::string& caption) {
    std::vector<std::vector<std::string>> rows;
    for (const auto& [at, text] : cells) {
      if (at.second != 1 || text != caption) continue;
      int columns = 0;
      while (cells.contains({at.first, columns + 1}))
        ++columns;
      for (int r = at.first + 1;; ++r) {
        std::vector<std::string> row;
        bool any = false;
        for (int c = 1; c <= columns; ++c) {
          const auto found = cells.find({r, c});
          any |= found != cells.end();
          row.push_back(found == cells.end() ? "" : found->second);
        }
        if (!any) return rows;
        rows.push_back(row);
      }
    }
    return rows;
  }

 private slots:
  void formOneFieldByField() {
    const Plan plan = filledPlan();
    const Cells cells = sheetOf(workbook(plan, modelOf(plan, true)), 1);
    const std::pair<const char*, const char*> asked[]{
        {"1 Part number", "TW-40-117"},
        {"2 Part name", "Heron gauge head"},
        {"3 Serial number", "HB-0042"},
        {"4 FAIR identifier", "FAI-HB-0042"},
        {"5 Part revision level", "B2"},
        {"6 Drawing number", "made-up-drawing_number"},
        {"7 Drawing revision level", "made-up-drawing_revision"},
        {"8 Additional changes", "made-up-changes"},
        {"9 Manufacturing process reference", "made-up-process_reference"},
        {"10 Organization name", "made-up-organization"},
        {"11 Supplier code", "made-up-supplier_code"},
        {"12 Purchase order number", "made-up-purchase_order"},
        {"13 Detail or assembly FAI", "Assembly FAI"},
        {"14 Full or partial FAI", "Full FAI"},
        {"14 Reason for full or partial FAI", "made-up-reason"},
        {"19 Does the FAIR contain a documented nonconformance?", "Yes"},
        {"20 FAIR verified by", "made-up-verified_by"},
        {"21 Date verified", "made-up-verified_on"},
        {"22 FAIR reviewed and approved by", "made-up-reviewed_by"},
        {"23 Date reviewed", "made-up-reviewed_on"},
        {"24 Customer approval", "made-up-customer_approval"},
        {"25 Date of customer approval", "made-up-customer_approved_on"},
        {"26 Comments", "made-up-comments"}};
    for (const auto& [caption, value] : asked)
      QCOMPARE(QString::fromStdString(besides(cells, caption)), QString(value));
    const auto parts = below(cells, "15 Part number");
    QCOMPARE(parts.size(), std::size_t(2));
    QVERIFY((parts[0] == std::vector<std::string>{"TW-41", "Lid", "Detail", "FAI-lid"}));
    QVERIFY((parts[1] == std::vector<std::string>{"TW-42", "Seal", "Standard part", "n/a"}));
  }

  void formTwoFieldByField() {
    Plan plan = filledPlan();
    plan.header.documents = {{"coc-771.pdf", std::make_shared<const std::string>("%PDF")}};
    const Cells cells = sheetOf(workbook(plan, modelOf(plan, false)), 2);
    const auto products = below(cells, "5 Material or process name");
    QCOMPARE(products.size(), std::size_t(2));
    QVERIFY((products[0] == std::vector<std::string>{"CuSn8", "EN 12163", "C8", "Quillfoundry",
                                                     "Yes", "CoC-771"}));
    QVERIFY((products[1] == std::vector<std::string>{"Passivation", "SI-210", "P2", "Brinework",
                                                     "Not applicable", "CoC-902"}));
    const auto tests = below(cells, "11 Functional test procedure number");
    QVERIFY((tests == std::vector<std::vector<std::string>>{{"FTP-12", "AR-55"}}));
    QCOMPARE(besides(cells, "13 Comments"), std::string("Attached: coc-771.pdf"));
    QCOMPARE(besides(cells, "4 FAIR identifier"), std::string("FAI-HB-0042"));
  }

  void formThreeFieldByField() {
    Plan plan = filledPlan();
    Requirement r = test::balloon(plan, 3);
    r.key = "KC-1", r.sheet_zone = "C4";
    VERIFY_OK(applyEdit(plan, SetRequirement{r}));
    const ReportModel model = modelOf(plan, true);
    const auto rows = below(sheetOf(workbook(plan, model), 3), "5 Char. no.");
    QCOMPARE(rows.size(), plan.spec.requirements.size());
    for (std::size_t i = 0; i < rows.size(); ++i) {
      const ReportRow& row = model.rows[i];
      QCOMPARE(rows[i][0], row.number);
      QCOMPARE(rows[i][3], row.text);
      if (row.members.empty()) {
        NEAR(std::stod(rows[i][4]), row.actual.value, 0.51 * std::pow(10, -row.actual.decimals));
      } else {
        for (const ReportRow& member : row.members)
          QVERIFY(rows[i][4].find(member.number + ": " + member.actual.text) != std::string::npos);
      }
      const bool is_3 = row.balloon == 3, is_31 = row.balloon == 31;
      QCOMPARE(rows[i][1], std::string(is_3 ? "C4" : ""));
      QCOMPARE(rows[i][2], std::string(is_3 ? "KC-1" : ""));
      QCOMPARE(rows[i][5], std::string(is_3 ? "Plug gauge G-7" : ""));
      QCOMPARE(rows[i][6], std::string(is_31 ? "NCR-0815" : ""));
      const std::string outside = row.verdict == Verdict::Outside ? "outside its limits" : "";
      QCOMPARE(rows[i][7], is_3 ? std::string("bore gauged too") : outside);
    }
  }

  // What is lacking is told; nothing is lacking of what is filled in.
  void whatIsNotKnown() {
    Plan plan = filledPlan();
    const auto lacking = [&](bool bad) {
      std::string all;
      for (const std::string& line : articleGaps(plan, modelOf(plan, bad)))
        all += line + "\n";
      return all;
    };
    QCOMPARE(lacking(false), std::string());
    QVERIFY(!hasNonconformance(test::heronPlan(), modelOf(test::heronPlan(), false)));
    QVERIFY(hasNonconformance(test::heronPlan(), modelOf(test::heronPlan(), true)));
    plan.article.characteristics.clear();
    QVERIFY2(lacking(true).find("11 Nonconformance number of") != std::string::npos,
             lacking(true).c_str());
    plan.article.products.clear();
    plan.article[ArticleField::DrawingNumber].clear();
    QVERIFY2(lacking(false).find("Form 1: not known yet: 6 Drawing number.\nForm 2: not known yet: "
                                 "5 Material or process name.") != std::string::npos,
             lacking(false).c_str());
    plan.header[HeaderField::Material] = "CuSn8";
    QVERIFY(lacking(false).find("Form 2") == std::string::npos);
    plan.article.scope = ArticleScope::Delta;
    QVERIFY(lacking(false).find("14 Baseline") != std::string::npos);
    plan.article.scope = ArticleScope::Partial;
    QVERIFY(lacking(false).find("14 Which characteristics") != std::string::npos);
    const auto layout = shippedLayout("first-article");
    VERIFY_OK(layout);
    const Composed composed = compose(*layout, modelOf(plan, false), plan, setter());
    QVERIFY(!composed.told.empty());
  }

  void partialHasTheChosen() {
    Plan plan = filledPlan();
    plan.article.scope = ArticleScope::Partial;
    plan.article.chosen = "2-4, 9";
    std::vector<int> numbers;
    for (const ArticleEntry& e : articleEntries(plan))
      numbers.push_back(plan.spec.requirement(e.requirement).balloon);
    QVERIFY((numbers == std::vector<int>{2, 3, 4, 9}));
    plan.article.chosen = "2 to 4";
    QVERIFY(!validate(plan.article));
  }

  // Changes are made one by one; the delta article has those that each touches and no other.
  void deltaHasJustWhatChanged() {
    Plan plan = filledPlan();
    plan.article.baseline = baselineOf(plan, {}, "2026-03-01");
    plan.article.scope = ArticleScope::Delta;
    const auto changed = [&] {
      std::set<int> numbers;
      for (const ArticleEntry& e : articleEntries(plan))
        numbers.insert(plan.spec.requirement(e.requirement).balloon);
      return numbers;
    };
    QVERIFY(changed().empty());
    // Renumbered, renamed, read anew with more decimals: nothing that is asked.
    const Plan before = plan;
    for (Requirement& r : plan.spec.requirements)
      r.decimals = 4, r.sheet_zone = "B2", r.key = "KC";
    QVERIFY(changed().empty());
    plan = before;
    plan.spec.requirements.at(test::balloon(plan, 5).id).upper += 0.01;
    plan.spec.requirements.at(test::balloon(plan, 5).id).tolerance += 0.01;
    QVERIFY((changed() == std::set<int>{5}));
    plan = before;
    // A feature that lies elsewhere: its requirements, and those that have it in their datums.
    for (const Requirement& of : before.spec.requirements) {
      if (of.features.empty() || before.nominal(of.features[0]).isConstructed()) continue;
      const FeatureId moved = of.features[0];
      plan = before;
      Ideal& ideal = plan.spec.features.at(moved).ideal;
      if (ideal.type == SurfaceType::Freeform || ideal.type == SurfaceType::Torus) continue;
      ideal.point += 0.02 * ideal.direction + 0.02 * ideal.direction.unitOrthogonal();
      std::set<int> expected;
      for (const Requirement& r : before.spec.requirements) {
        bool hit = std::find(r.features.begin(), r.features.end(), moved) != r.features.end();
        for (const DatumReference& d : r.datums)
          for (const std::string& letter : d.letters) {
            const auto& all = before.spec.datum(letter)->features;
            hit |= std::find(all.begin(), all.end(), moved) != all.end();
          }
        if (hit) expected.insert(r.balloon);
      }
      // Along a plane or an axis nothing is moved: here every one moves across it too.
      QVERIFY2(changed() == expected, before.nominal(moved).name.c_str());
      // Only where it ends is otherwise: nothing.
      plan = before;
      Ideal& longer = plan.spec.features.at(moved).ideal;
      longer.length += 1;
      QVERIFY(changed().empty());
    }
    plan = before;
    plan.article.baseline->characteristics[6].outside = true; // to be shown good now
    QCOMPARE(changed().size(), std::size_t(1));
    plan = before;
    plan.article.baseline->characteristics.erase(plan.article.baseline->characteristics.begin() +
                                                 4);
    QVERIFY((changed() == std::set<int>{before.spec.requirements[4].balloon}));
  }

  // The demo's own revision C: what its makers changed, and no other.
  void deltaOfARevision() {
    Plan plan = filledPlan();
    plan.article.baseline = baselineOf(plan, {}, "2026-03-01");
    const auto step = demo::heronStep("INCH", demo::HeronRevision::C);
    VERIFY_OK(step);
    const auto part = importStep(*step, "heron-c.step");
    VERIFY_OK(part);
    const auto revision = revisionOf(plan, {*part, {}});
    VERIFY_OK(revision);
    std::set<std::string> said;
    std::set<FeatureId> remade;
    for (const RevisionEntry& e : revision->entries) {
      if (e.subject == RevisionSubject::Model) remade.insert(e.features.begin(), e.features.end());
    }
    const auto group = revisedRoutine(
        plan, *revision, std::vector<Decision>(revision->entries.size(), Decision::Taken));
    VERIFY_OK(group);
    const Plan before = plan;
    VERIFY_OK(applyEdits(plan, *group));
    plan.article.scope = ArticleScope::Delta;
    std::set<RequirementId> got;
    for (const ArticleEntry& e : articleEntries(plan)) {
      QVERIFY(!e.why.empty());
      got.insert(e.requirement);
    }
    // By another way: what the comparison of the models and of the requirements says.
    std::set<RequirementId> expected;
    for (const RevisionEntry& e : revision->entries)
      if (e.subject == RevisionSubject::Requirement && e.was &&
          plan.spec.requirements.holds(e.was->id))
        expected.insert(e.was->id);
    for (const Requirement& r : plan.spec.requirements) {
      if (!before.spec.requirements.holds(r.id)) expected.insert(r.id);
      const auto hit = [&](FeatureId id) { return remade.contains(id); };
      if (std::any_of(r.features.begin(), r.features.end(), hit)) expected.insert(r.id);
      for (const DatumReference& d : r.datums)
        for (const std::string& letter : d.letters)
          if (const Datum* datum = plan.spec.datum(letter))
            if (std::any_of(datum->features.begin(), datum->features.end(), hit))
              expected.insert(r.id);
    }
    const auto told = [&](const std::set<RequirementId>& ids) {
      std::string all;
      for (const RequirementId id : ids)
        all += fmt::format("{} ", plan.spec.requirement(id).balloon);
      return all;
    };
    QCOMPARE(told(got), told(expected));
    QVERIFY(!got.empty() && got.size() < plan.spec.requirements.size() / 2);
    QCOMPARE(goneSince(plan, *plan.article.baseline).size(), std::size_t(2));
  }

  // What was asked once is there when the file is opened again, the baseline with it.
  void keptInTheRoutine() {
    Plan plan = filledPlan();
    plan.article.baseline = baselineOf(plan, {test::balloon(plan, 7).id}, "2026-03-01");
    plan.article.scope = ArticleScope::Delta;
    QTemporaryDir folder;
    const std::string path = folder.filePath("a.alder").toStdString();
    VERIFY_OK(saveProject({plan, {}, {}}, path));
    const auto again = openProject(path);
    VERIFY_OK(again);
    FirstArticle there = again->plan.article, here = plan.article;
    // Figures go through text; the characteristics are the same ones.
    QCOMPARE(there.baseline->characteristics.size(), here.baseline->characteristics.size());
    for (std::size_t i = 0; i < there.baseline->characteristics.size(); ++i) {
      QVERIFY(there.baseline->characteristics[i].asked.id ==
              here.baseline->characteristics[i].asked.id);
      QCOMPARE(there.baseline->characteristics[i].outside,
               here.baseline->characteristics[i].outside);
    }
    const auto entries = articleEntries(again->plan);
    QCOMPARE(entries.size(), std::size_t(1)); // the one that was outside
    there.baseline.reset(), here.baseline.reset();
    QVERIFY(there == here);
    QCOMPARE(routineKey(plan), routineKey(test::heronPlan())); // no figure depends on it
  }

  void filesOfData() {
    const Plan& plan = test::heronPlan();
    const auto read = [&](const char* text) { return articleFromFile(text, "a.json", plan.spec); };
    const auto good = read(R"({"identifier": "FAI-1", "scope": "partial", "chosen": "1-3",
      "characteristics": [{"number": 3, "tooling": "G-7"}]})");
    VERIFY_OK(good);
    QCOMPARE(good->find(test::balloon(plan, 3).id)->tooling, std::string("G-7"));
    const std::pair<const char*, const char*> bad[]{
        {R"({"identifer": "FAI-1"})", "identifer"},
        {R"({"characteristics": [{"number": 999}]})", "number"},
        {R"({"products": [{"nmae": "x"}]})", "nmae"},
        {R"({"scope": "half"})", "scope"},
        {R"({"chosen": "a-b"})", "a-b"},
        {R"([1])", "object"},
        {R"({)", "JSON"}};
    for (const auto& [text, said] : bad) {
      const auto result = read(text);
      QVERIFY2(!result && result.error().message.find(said) != std::string::npos,
               result ? text : result.error().message.c_str());
    }
  }

  // On paper nothing is cut and all of it is there.
  void onPaper() {
    Plan plan = filledPlan();
    const auto layout = shippedLayout("first-article");
    VERIFY_OK(layout);
    const ReportModel model = modelOf(plan, true);
    const Composed composed = compose(*layout, model, plan, setter());
    QVERIFY2(composed.told.size() <= 1, composed.told.back().c_str());
    const auto pdf = reportPdf(composed, model, setter());
    VERIFY_OK(pdf);
    const auto pages = sheetsOf(*pdf, "a.pdf");
    VERIFY_OK(pages);
    const auto sheets = readSheets(*pdf, "a.pdf", 1, static_cast<int>(pages->size()));
    VERIFY_OK(sheets);
    std::string all;
    for (const DrawingSheet& sheet : *sheets)
      for (const Character& c : sheet.characters)
        if (c.text != " ") all += c.text;
    for (const char* value : {"TW-40-117", "FAI-HB-0042", "made-up-customer_approved_on", "CoC-902",
                              "NCR-0815", "PluggaugeG-7", "Quillfoundry"})
      QVERIFY2(all.find(value) != std::string::npos, value);
  }
};
ALDER_TEST(FirstArticleTest)
#include "first_article_test.moc"
