#include "judge/judge.h"
#include "report/layout/layout_json.h"
#include "report/report_file.h"
#include "support.h"
#include <cmath>
#include <map>
#include <pugixml.hpp>
#include <zip.h>

using namespace alder;

// Workbooks and web pages of reports, read again from their XML.
class WorkbookTest : public QObject {
  Q_OBJECT

  static const TextSetter& setter() {
    static const auto one = TextSetter::create();
    return **one;
  }
  static ReportModel model() {
    const Plan& plan = test::heronPlan();
    Measurements m = test::exactly(plan);
    for (Vec3& p : m.at(test::balloon(plan, 31).features[0]).points)
      p.x() += 0.04;
    ReportModel model = reportOf(plan, judgeAll(plan, m), m);
    model.part_serial = "=1+1"; // a text, whatever it looks like
    model.date = "2026-03-01";
    model.header = {{"Part name", "阀座 <Θερμο> & \"رأس\""}};
    return model;
  }
  static std::string write(const std::string& layout, const std::string& target,
                           const ReportModel& report) {
    const auto read = shippedLayout(layout);
    if (!read) return {};
    const auto file = reportFile(target, *read, report, test::heronPlan(), setter());
    return file ? file->bytes : std::string();
  }

  using Parts = std::map<std::string, std::string>;
  static Parts partsOf(const std::string& bytes) {
    Parts parts;
    zip_error_t error;
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    zip_t* zip = zip_open_from_source(source, ZIP_RDONLY, &error);
    for (zip_int64_t i = 0; zip && i < zip_get_num_entries(zip, 0); ++i) {
      zip_stat_t stat;
      zip_stat_index(zip, static_cast<zip_uint64_t>(i), 0, &stat);
      std::string text(stat.size, '\0');
      zip_file_t* file = zip_fopen_index(zip, static_cast<zip_uint64_t>(i), 0);
      zip_fread(file, text.data(), text.size());
      zip_fclose(file);
      parts[stat.name] = std::move(text);
    }
    if (zip) zip_discard(zip);
    return parts;
  }

  struct Cell {
    bool number = false;
    double value = 0;
    std::string text, format;
  };
  // "C7" to what it holds, of one sheet.
  static std::map<std::string, Cell> cellsOf(const Parts& parts, int sheet) {
    pugi::xml_document strings, styles, xml;
    strings.load_string(parts.at("xl/sharedStrings.xml").c_str());
    styles.load_string(parts.at("xl/styles.xml").c_str());
    xml.load_string(parts.at("xl/worksheets/sheet" + std::to_string(sheet) + ".xml").c_str());
    std::vector<std::string> texts, formats;
    for (const auto& si : strings.child("sst").children("si"))
      texts.emplace_back(si.child("t").text().get());
    std::map<int, std::string> codes;
    for (const auto& f : styles.child("styleSheet").child("numFmts").children("numFmt"))
      codes[f.attribute("numFmtId").as_int()] = f.attribute("formatCode").value();
    for (const auto& xf : styles.child("styleSheet").child("cellXfs").children("xf"))
      formats.push_back(codes[xf.attribute("numFmtId").as_int()]);
    std::map<std::string, Cell> cells;
    for (const auto& row : xml.child("worksheet").child("sheetData").children("row"))
      for (const auto& c : row.children("c")) {
        Cell cell;
        const std::string value = c.child("v").text().get();
        cell.number = std::string(c.attribute("t").value()).empty() && !value.empty();
        if (cell.number)
          cell.value = std::stod(value);
        else if (!value.empty())
          cell.text = texts.at(static_cast<std::size_t>(std::stoul(value)));
        cell.format = formats.at(c.attribute("s").as_uint());
        if (c.child("f")) cell.text = "FORMULA";
        cells[c.attribute("r").value()] = cell;
      }
    return cells;
  }

 private slots:
  // Each figure of the table is a number with the decimals of its requirement.
  void figuresAreNumbers() {
    const ReportModel report = model();
    const Parts parts = partsOf(write("full", "a.xlsx", report));
    QVERIFY(parts.contains("xl/workbook.xml"));
    const auto cells = cellsOf(parts, 1);
    int head = 0;
    for (const auto& [name, cell] : cells)
      if (cell.text == "No.") head = std::stoi(name.substr(1));
    QVERIFY(head > 0);
    for (std::size_t i = 0; i < report.rows.size(); ++i) {
      const ReportRow& row = report.rows[i];
      const std::string at = std::to_string(head + 1 + static_cast<int>(i));
      QCOMPARE(cells.at("A" + at).value, static_cast<double>(row.balloon));
      QVERIFY2(cells.at("B" + at).text == row.text, row.text.c_str());
      const std::pair<const char*, const ReportFigure*> figures[]{{"D", &row.nominal},
                                                                  {"E", &row.lower},
                                                                  {"F", &row.upper},
                                                                  {"G", &row.actual},
                                                                  {"H", &row.deviation}};
      for (const auto& [column, figure] : figures) {
        const auto cell = cells.find(column + at);
        if (figure->empty()) {
          QVERIFY(cell == cells.end() || !cell->second.number);
          continue;
        }
        QVERIFY(cell != cells.end() && cell->second.number);
        NEAR(cell->second.value, std::stod(figure->text), 1e-12);
        QCOMPARE(cell->second.format.size(), static_cast<std::size_t>(2 + figure->decimals));
      }
      if (row.share) {
        NEAR(cells.at("I" + at).value, *row.share, 1e-12);
        QVERIFY(cells.at("I" + at).format == "0%" || cells.at("I" + at).number);
      }
      QVERIFY(cells.at("J" + at).text == words(row.verdict));
    }
  }

  void textsStayTexts() {
    const Parts parts = partsOf(write("full", "a.xlsx", model()));
    bool serial = false, name = false;
    for (const auto& [at, cell] : cellsOf(parts, 1)) {
      QVERIFY2(cell.text != "FORMULA", at.c_str());
      serial |= cell.text == "=1+1";
      name |= cell.text == "阀座 <Θερμο> & \"رأس\"";
    }
    QVERIFY(serial && name);
  }

  // Colours by the cells themselves; a picture; a sheet for each page, with a name it can have.
  void sheets() {
    auto layout = shippedLayout("full");
    VERIFY_OK(layout);
    layout->pages[0].name = "Results: [a very/long] name that no sheet may have?";
    layout->pages[1].name = layout->pages[0].name;
    const auto file = reportFile("a.xlsx", *layout, model(), test::heronPlan(), setter());
    VERIFY_OK(file);
    const Parts parts = partsOf(file->bytes);
    QVERIFY(parts.at("xl/worksheets/sheet1.xml").find("<conditionalFormatting") !=
            std::string::npos);
    QVERIFY(parts.at("xl/worksheets/sheet1.xml").find("<autoFilter") != std::string::npos);
    QVERIFY(parts.contains("xl/media/image1.png"));
    pugi::xml_document book;
    QVERIFY(book.load_string(parts.at("xl/workbook.xml").c_str()));
    std::set<std::string> names;
    for (const auto& sheet : book.child("workbook").child("sheets").children("sheet")) {
      const std::string name = sheet.attribute("name").value();
      QVERIFY(name.size() <= 31 && name.find_first_of("[]:*?/\\") == std::string::npos);
      QVERIFY(names.insert(name).second);
    }
    QCOMPARE(names.size(), std::size_t(2));
  }

  void sameBytes() {
    QVERIFY(write("failed", "a.xlsx", model()) == write("failed", "a.xlsx", model()));
    QVERIFY(write("failed", "a.html", model()) == write("failed", "a.html", model()));
  }

  // Well formed, nothing fetched, all rows, drawings as SVG.
  void webPage() {
    for (const std::string& layout : shippedLayouts()) {
      const std::string html = write(layout, "a.html", model());
      QVERIFY(html.starts_with("<!DOCTYPE html>"));
      pugi::xml_document xml;
      std::string closed = html.substr(html.find("<html"));
      for (const char* open : {"<meta charset=\"utf-8\">", "<hr>", "<br>"}) // HTML's own way
        for (std::size_t at; (at = closed.find(open)) != std::string::npos;)
          closed.erase(at, std::string_view(open).size());
      const auto parsed = xml.load_string(closed.c_str());
      QVERIFY2(parsed, parsed.description());
      for (const char* fetched : {"src=\"http", "href=\"http", "@import", "<script"})
        QVERIFY2(html.find(fetched) == std::string::npos, fetched);
      QVERIFY(html.find("阀座 &lt;Θερμο&gt; &amp;") != std::string::npos || layout == "x");
      if (layout == "first-article")
        QCOMPARE(xml.select_nodes("//table[.//th[contains(., 'Char. no.')]]/tbody/tr").size(),
                 std::size_t(35));
      else if (layout != "failed")
        QCOMPARE(xml.select_nodes("//tbody/tr").size(), std::size_t(35));
      if (layout == "full" || layout == "failed")
        QVERIFY(!xml.select_nodes("//*[local-name()='svg']").empty());
    }
  }
};

ALDER_TEST(WorkbookTest)
#include "workbook_test.moc"
