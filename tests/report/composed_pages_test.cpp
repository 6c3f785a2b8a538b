#include "judge/judge.h"
#include "report/compose/composer.h"
#include "report/report_file.h"
#include "sheet/sheet_file.h"
#include "support.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

using namespace alder;

// Reports as another program reads them: each page of each shipped layout is taken from the PDF
// again, and looked at for what is cut, covered or missing.
class ComposedPagesTest : public QObject {
  Q_OBJECT

  static const TextSetter& setter() {
    static const auto one = TextSetter::create();
    return **one;
  }

  static ReportModel heron(bool bad) {
    const Plan& plan = test::heronPlan();
    Measurements m = test::exactly(plan);
    if (bad)
      for (const int balloon : {3, 9, 21, 31})
        for (Vec3& p : m.at(test::balloon(plan, balloon).features[0]).points)
          p += Vec3(0.3, 0.1, 0.05) * std::sin(7 * p.x() + 3 * p.y());
    ReportModel model = reportOf(plan, judgeAll(plan, m), m);
    model.part_serial = "HB-0042";
    return model;
  }

  static ReportModel many(int count) {
    const ReportModel one = heron(true);
    ReportModel model = one;
    model.rows.clear();
    for (int i = 0; i < count; ++i) {
      model.rows.push_back(one.rows[static_cast<std::size_t>(i) % one.rows.size()]);
      model.rows.back().balloon = i + 1;
      model.rows.back().number = std::to_string(i + 1);
    }
    return model;
  }

  static ReportModel named(const std::string& name, const std::string& feature) {
    ReportModel model = heron(true);
    model.header = {{"Part number", name}, {"Part name", name}, {"Material", feature}};
    model.part_serial = name;
    for (ReportRow& row : model.rows) {
      row.features = feature;
      for (ReportRow& member : row.members)
        member.features = feature + " " + member.number;
    }
    return model;
  }

  static ReportModel modelNamed(const QString& name) {
    if (name == "good") return heron(false);
    if (name == "bad") return heron(true);
    if (name == "one") return many(1);
    if (name == "300") return many(300);
    if (name == "greek") return named("Θερμοστάτης Ωρίωνος", "Κυλινδρική οπή υποδοχής αισθητήρα");
    if (name == "chinese") return named("潮位计测头壳体", "静水井孔与阀座之间的圆柱面以及定位销孔");
    if (name == "arabic") return named("رأس قياس المد", "السطح الاسطواني الداخلي لحجرة القياس");
    // Words that are wider than any column, and very many words.
    std::string words;
    for (int i = 0; i < 14; ++i)
      words += "stilling-well bore beside the undercut groove ";
    return named(std::string(90, 'W') + " Heron", name == "long" ? words : std::string(300, 'm'));
  }

  // Plain figures: there are hundreds of thousands of pairs.
  struct CharBox {
    double x0, y0, x1, y1;
    std::string text;
  };
  static std::vector<CharBox> boxesOf(const DrawingSheet& sheet) {
    std::vector<CharBox> all;
    for (const Character& c : sheet.characters) {
      if (c.text == " " || c.text.empty() || c.advance <= 0) continue;
      const double x = c.at.x(), y = c.at.y();
      all.push_back({x, y - 0.12 * c.size, x + c.advance, y + 0.62 * c.size, c.text});
    }
    return all;
  }

  static bool covers(const CharBox& a, const CharBox& b) {
    const double w = std::min(a.x1, b.x1) - std::max(a.x0, b.x0),
                 h = std::min(a.y1, b.y1) - std::max(a.y0, b.y0);
    return w > 0.35 * std::min(a.x1 - a.x0, b.x1 - b.x0) &&
           h > 0.3 * std::min(a.y1 - a.y0, b.y1 - b.y0);
  }
  static QString overlaps(std::vector<CharBox> all) {
    std::sort(all.begin(), all.end(),
              [](const CharBox& a, const CharBox& b) { return a.y0 < b.y0; });
    for (std::size_t a = 0; a < all.size(); ++a)
      for (std::size_t b = a + 1; b < all.size() && all[b].y0 < all[a].y1; ++b)
        if (covers(all[a], all[b]))
          return QString("%1 and %2 at %3, %4 mm")
              .arg(QString::fromStdString(all[a].text), QString::fromStdString(all[b].text))
              .arg(all[b].x0)
              .arg(all[b].y0);
    return {};
  }

  static std::string solid(std::string text) {
    std::erase_if(text, [](char c) { return c == ' ' || c == '\n'; });
    return text;
  }
  static std::string textOf(const DrawingSheet& sheet) {
    std::string all;
    for (const Character& c : sheet.characters)
      all += c.text;
    return solid(all);
  }

 private slots:
  void eachLayoutOfEachReport_data() {
    QTest::addColumn<QString>("layout");
    QTest::addColumn<QString>("report");
    for (const std::string& layout : shippedLayouts())
      for (const char* report :
           {"good", "bad", "one", "300", "long", "wide", "greek", "chinese", "arabic"}) {
        // What is the same in all of them is tried in one.
        const bool same = layout == "short" && QString(report) != "one" && QString(report) != "300";
        if (!same)
          QTest::addRow("%s of %s", layout.c_str(), report)
              << QString::fromStdString(layout) << report;
      }
  }
  void eachLayoutOfEachReport() {
    QFETCH(QString, layout);
    QFETCH(QString, report);
    const ReportModel model = modelNamed(report);
    const auto read = shippedLayout(layout.toStdString());
    VERIFY_OK(read);
    const Composed composed = compose(*read, model, test::heronPlan(), setter());
    for (const std::string& told : composed.told)
      QVERIFY2(told.find("no font") == std::string::npos, told.c_str());
    const auto pdf = reportPdf(composed, model, setter());
    VERIFY_OK(pdf);
    if (qEnvironmentVariableIsSet("KEEP_PAGES")) {
      QFile kept(QString("/tmp/%1-%2.pdf").arg(layout, report));
      QVERIFY(kept.open(QFile::WriteOnly));
      kept.write(pdf->data(), static_cast<qint64>(pdf->size()));
    }
    const int pages = static_cast<int>(composed.pages.size());
    const auto sheets = readSheets(*pdf, "report.pdf", 1, pages);
    VERIFY_OK(sheets);
    QCOMPARE(sheets->size(), composed.pages.size());
    std::string all;
    for (std::size_t p = 0; p < sheets->size(); ++p) {
      const DrawingSheet& sheet = (*sheets)[p];
      QVERIFY(!sheet.cut);
      const auto boxes = boxesOf(sheet);
      for (const CharBox& c : boxes)
        QVERIFY2(c.x0 > 5 && c.y0 > 5 && c.x1 < sheet.size.width - 5 &&
                     c.y1 < sheet.size.height - 5,
                 qPrintable(QString("page %1: %2 off the page at %3, %4 mm")
                                .arg(p + 1)
                                .arg(QString::fromStdString(c.text))
                                .arg(c.x0)
                                .arg(c.y0)));
      const QString over = report == "arabic" ? QString() : overlaps(boxes); // its letters join
      QVERIFY2(over.isEmpty(), qPrintable(QString("page %1: %2").arg(p + 1).arg(over)));
      const std::string text = textOf(sheet);
      const std::string number = "page" + std::to_string(p + 1) + "of" + std::to_string(pages);
      QVERIFY2(text.find(number) != std::string::npos, number.c_str());
      all += text;
    }
    // Nothing of a table is lost: all balloons' figures are there.
    if (layout != "failed" && report != "arabic")
      for (const ReportRow& row : model.rows) {
        QVERIFY2(all.find(solid(row.actual.text)) != std::string::npos, row.actual.text.c_str());
        if (report == "long" || report == "greek" || report == "chinese")
          QVERIFY2(all.find(solid(row.features.substr(0, 30 - 30 % 3))) != std::string::npos ||
                       report != "greek",
                   row.features.c_str());
      }
  }

  // The forms speak of the routine's requirements, so it is given as many: each number and result
  // is there once, on pages that are sane.
  void firstArticleOfMany() {
    Plan plan = test::heronPlan();
    const auto few = plan.spec.requirements;
    for (std::size_t i = few.size(); i < 300; ++i) {
      Requirement r = few[i % few.size()];
      r.id = plan.spec.requirements.next();
      r.balloon = static_cast<int>(i) + 1;
      plan.spec.requirements.push_back(r);
    }
    const auto layout = shippedLayout("first-article");
    VERIFY_OK(layout);
    const Measurements m = test::exactly(plan);
    const ReportModel model = reportOf(plan, judgeAll(plan, m), m);
    QCOMPARE(model.rows.size(), std::size_t(300));
    const Composed composed = compose(*layout, model, plan, setter());
    const auto pdf = reportPdf(composed, model, setter());
    VERIFY_OK(pdf);
    const int pages = static_cast<int>(composed.pages.size());
    QVERIFY(pages > 10);
    const auto sheets = readSheets(*pdf, "article.pdf", 1, pages);
    VERIFY_OK(sheets);
    std::map<std::string, int> numbers; // in the first column of form 3
    for (const DrawingSheet& sheet : *sheets) {
      const auto boxes = boxesOf(sheet);
      const QString over = overlaps(boxes);
      QVERIFY2(over.isEmpty(), qPrintable(over));
      std::map<long, std::string> first; // by its line
      for (const CharBox& c : boxes) {
        QVERIFY(c.x0 > 5 && c.y0 > 5 && c.x1 < sheet.size.width - 5 &&
                c.y1 < sheet.size.height - 5);
        const bool digit = c.text.size() == 1 && c.text[0] >= '0' && c.text[0] <= '9';
        if (c.x1 < 24 && digit) first[std::lround(10 * c.y0)] += c.text;
      }
      for (const auto& [line, number] : first)
        ++numbers[number];
    }
    for (int balloon = 1; balloon <= 300; ++balloon)
      QVERIFY2(numbers[std::to_string(balloon)] >= 1, std::to_string(balloon).c_str());
  }

  // Tolerance symbols are read as their words, by whoever copies from the file.
  void symbolsAreWords() {
    const auto file = reportFile("r.pdf", heron(false), test::heronPlan());
    VERIFY_OK(file);
    const auto sheets = readSheets(file->bytes, "r.pdf", 1, 2);
    VERIFY_OK(sheets);
    const std::string text = textOf(sheets->at(0)) + textOf(sheets->at(1));
    for (const char* words : {"flatness0.02", "position\u00f80.25M", "perpendicularity\u00f80.03A",
                              "totalrunout0.08B", "coaxiality", "surfaceprofile0.12"})
      QVERIFY2(text.find(words) != std::string::npos, words);
  }

  // A table that goes on has its head on each page, fills it, and says all rows once.
  void breaks() {
    const auto layout = shippedLayout("full");
    VERIFY_OK(layout);
    const ReportModel model = many(300);
    const Composed composed = compose(*layout, model, test::heronPlan(), setter());
    std::vector<PlacedPiece> table;
    std::size_t table_item = 0;
    for (std::size_t i = 0; i < layout->pages[0].items.size(); ++i)
      if (std::holds_alternative<TableItem>(layout->pages[0].items[i].body)) table_item = i;
    for (const PlacedPiece& p : composed.placed)
      if (p.layout_page == 0 && p.item == table_item) table.push_back(p);
    QVERIFY(table.size() > 5);
    std::set<std::string> numbers;
    for (std::size_t k = 0; k < table.size(); ++k) {
      const PlacedPiece& p = table[k];
      QCOMPARE(p.page, table[0].page + k);
      QVERIFY(p.area.bottom() <= 286.01);
      if (k + 1 < table.size()) QVERIFY2(p.area.bottom() > 270, "a page is broken too soon");
      int heads = 0;
      for (const Mark& mark : composed.pages[p.page].marks)
        if (const auto* text = std::get_if<TextMark>(&mark)) {
          heads += text->text == "Tolerance used";
          if (text->area.x < 20 && p.area.holds(text->area.middle()) &&
              text->text.find_first_not_of("0123456789") == std::string::npos)
            QVERIFY2(numbers.insert(text->text).second, text->text.c_str());
        }
      QCOMPARE(heads, 1);
    }
    QCOMPARE(numbers.size(), std::size_t(300));
  }

  // A page whose data are empty is left out; one that repeats is there for each.
  void emptyAndRepeated() {
    const auto failed = shippedLayout("failed");
    VERIFY_OK(failed);
    const ReportModel good = heron(false), bad = heron(true);
    QCOMPARE(compose(*failed, good, test::heronPlan(), setter()).pages.size(), std::size_t(1));
    QVERIFY(bad.outside > 2);
    QCOMPARE(compose(*failed, bad, test::heronPlan(), setter()).pages.size(),
             static_cast<std::size_t>(1 + bad.outside + bad.not_proved));
    Layout nothing = *failed;
    nothing.pages.erase(nothing.pages.begin());
    const Composed none = compose(nothing, good, test::heronPlan(), setter());
    QCOMPARE(none.pages.size(), std::size_t(1));
    QVERIFY(!none.told.empty());
  }

  // The same input gives the same bytes.
  void deterministic() {
    const ReportModel model = heron(true);
    const auto layout = shippedLayout("failed");
    VERIFY_OK(layout);
    const auto one = reportFile("a.pdf", *layout, model, test::heronPlan(), setter());
    const auto two = reportFile("b.pdf", *layout, model, test::heronPlan(), setter());
    VERIFY_OK(one);
    QVERIFY(one->bytes == two->bytes);
  }
};

ALDER_TEST(ComposedPagesTest)
#include "composed_pages_test.moc"
