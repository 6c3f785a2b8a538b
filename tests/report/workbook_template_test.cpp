#include "base/files.h"
#include "judge/judge.h"
#include "report/workbook/workbook_template.h"
#include "support.h"
#include <QRandomGenerator>
#include <QTemporaryDir>
#include <map>
#include <pugixml.hpp>
#include <set>
#include <zip.h>

using namespace alder;

// Workbooks that other programs wrote (openpyxl; the same saved anew by LibreOffice), filled in and
// read again.
class WorkbookTemplateTest : public QObject {
  Q_OBJECT

  using Parts = std::map<std::string, std::string>;
  static Parts partsOf(const std::string& bytes) {
    Parts parts;
    zip_error_t error;
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    zip_t* zip = zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error);
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

  static ReportModel model() {
    const Plan& plan = test::heronPlan();
    Measurements m = test::exactly(plan);
    for (Vec3& p : m.at(test::balloon(plan, 31).features[0]).points)
      p.x() += 0.4;
    ReportSource source;
    source.measured = m;
    source.evaluations = judgeAll(plan, m);
    source.serial = "HB-0042";
    for (const char* name : {"HB-0040", "HB-0041", "HB-0042"})
      source.parts.push_back({name, "", brief(source.evaluations), {}});
    ReportModel report = reportOf(plan, source);
    report.header = {{"Part number", "TW-40 <&>"}, {"Part name", "Heron \"head\""}};
    return report;
  }
  static std::string bytesOf(const char* writer) {
    const auto bytes = readFile(
        (dataFolder() / "tests" / "data" / "workbooks" / (std::string(writer) + ".xlsx")).string());
    return bytes ? *bytes : std::string();
  }

  // The first workbook with another fourth sheet.
  static std::string withPart(const std::string& xml) {
    const std::string bytes = bytesOf("openpyxl");
    zip_error_t error;
    zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
    zip_source_keep(source);
    zip_t* zip = zip_open_from_source(source, 0, &error);
    zip_file_add(zip, "xl/worksheets/sheet4.xml", zip_source_buffer(zip, xml.data(), xml.size(), 0),
                 ZIP_FL_OVERWRITE);
    zip_close(zip);
    zip_stat_t stat;
    zip_source_stat(source, &stat);
    std::string out(stat.size, '\0');
    zip_source_open(source);
    zip_source_read(source, out.data(), out.size());
    zip_source_close(source);
    zip_source_free(source);
    return out;
  }
  static std::string withSheet4(const std::string& data_and_more) {
    return withPart("<?xml version=\"1.0\"?><worksheet "
                    "xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\">"
                    "<sheetData>" +
                    data_and_more + "</worksheet>");
  }

  struct Cell {
    std::string text, formula, style;
    bool number = false, value = false;
  };
  static std::map<std::string, Cell> cellsOf(const Parts& parts, const std::string& sheet) {
    pugi::xml_document strings, xml;
    if (const auto shared = parts.find("xl/sharedStrings.xml"); shared != parts.end())
      strings.load_string(shared->second.c_str());
    xml.load_string(parts.at(sheet).c_str());
    std::vector<std::string> texts;
    for (const auto& si : strings.child("sst").children("si"))
      texts.emplace_back(si.child("t").text().get());
    std::map<std::string, Cell> cells;
    for (const auto& row : xml.child("worksheet").child("sheetData").children("row"))
      for (const auto& c : row.children("c")) {
        Cell cell;
        const std::string type = c.attribute("t").value(), v = c.child("v").text().get();
        cell.value = bool(c.child("v"));
        cell.number = cell.value && (type.empty() || type == "n");
        cell.text = type == "s"           ? texts.at(std::stoul(v))
                    : type == "inlineStr" ? c.child("is").child("t").text().get()
                                          : v;
        cell.formula = c.child("f").text().get();
        cell.style = c.attribute("s").value();
        // Rows are in order and say their own cells.
        if (std::string(c.attribute("r").value()).find(row.attribute("r").value()) ==
            std::string::npos)
          cell.text = "WRONG ROW";
        cells[c.attribute("r").value()] = cell;
      }
    return cells;
  }

 private slots:
  void filled_data() {
    QTest::addColumn<QString>("writer");
    QTest::newRow("openpyxl") << "openpyxl";
    QTest::newRow("LibreOffice") << "libreoffice";
  }
  void filled() {
    QFETCH(QString, writer);
    const std::string before = bytesOf(qPrintable(writer));
    QVERIFY(!before.empty());
    const ReportModel report = model();
    const auto file = filledWorkbook(before, "own.xlsx", report, test::heronPlan());
    VERIFY_OK(file);
    const Parts was = partsOf(before), is = partsOf(file->bytes);
    QCOMPARE(is.size() + (was.contains("xl/calcChain.xml") ? 1 : 0), was.size());
    const auto cells = cellsOf(is, "xl/worksheets/sheet1.xml");
    QCOMPARE(cells.at("A1").text, std::string("Inspection of TW-40 <&>, Heron \"head\""));
    QCOMPARE(cells.at("B2").text, std::string("HB-0042"));
    QVERIFY(cells.at("E2").number);
    const auto count = static_cast<int>(report.rows.size());
    QCOMPARE(cells.at("E2").text, std::to_string(count));
    const auto old_cells = cellsOf(was, "xl/worksheets/sheet1.xml");
    for (int k = 0; k < count; ++k) {
      const ReportRow& row = report.rows[static_cast<std::size_t>(k)];
      const std::string at = std::to_string(6 + k);
      QCOMPARE(cells.at("A" + at).text, row.number);
      QVERIFY(cells.at("A" + at).number);
      QCOMPARE(cells.at("B" + at).text, row.text + " on " + row.features);
      if (!row.upper.empty())
        NEAR(std::stod(cells.at("C" + at).text), row.upper.value,
             0.51 * std::pow(10, -row.upper.decimals));
      NEAR(std::stod(cells.at("D" + at).text), row.actual.value,
           0.51 * std::pow(10, -row.actual.decimals));
      QVERIFY(cells.at("D" + at).number);
      QCOMPARE(cells.at("E" + at).formula, fmt::format("C{0}-D{0}+$C$2*0", at));
      QVERIFY(!cells.at("E" + at).value);
      QCOMPARE(cells.at("F" + at).text, std::string(words(row.verdict)));
      for (const char* column : {"A", "C", "D", "E", "F"})
        QCOMPARE(cells.at(column + at).style, old_cells.at(column + std::string("6")).style);
    }
    const int last = 5 + count, sum = 8 + count - 1;
    const auto formula = [&](const char* column, int row) {
      return cells.at(column + std::to_string(row)).formula;
    };
    QCOMPARE(formula("D", sum), fmt::format("SUM(D6:D{})", last));
    QCOMPARE(formula("E", sum), fmt::format("SUM(E$6:E${})", last));
    QCOMPARE(formula("G", sum), fmt::format("D{}+0", sum));
    // Three measured parts below.
    for (int k = 0; k < 3; ++k) {
      QCOMPARE(cells.at("A" + std::to_string(sum + 1 + k)).text,
               report.parts[static_cast<std::size_t>(k)].name);
      NEAR(std::stod(cells.at("C" + std::to_string(sum + 1 + k)).text), report.rows[1].actual.value,
           1e-3);
    }
    QCOMPARE(formula("A", sum + 5), fmt::format("AVERAGE(C{}:C{})", sum + 1, sum + 3));
    QCOMPARE(formula("B", sum + 5), fmt::format("IF(D{}>0,\"E6 stays\",\"D6:D6\")", sum));
    // What is no field is left and told.
    QCOMPARE(cells.at("A3").text, std::string("{no.such.field}"));
    QCOMPARE(cells.at("B3").text, std::string("plain {braces} stay"));
    QCOMPARE(file->told.size(), std::size_t(2));
    QVERIFY2(file->told[0].find("Report, A3") != std::string::npos, file->told[0].c_str());
  }

  void whatStandsRoundIt_data() { filled_data(); }
  void whatStandsRoundIt() {
    QFETCH(QString, writer);
    const std::string before = bytesOf(qPrintable(writer));
    const ReportModel report = model();
    const auto file = filledWorkbook(before, "own.xlsx", report, test::heronPlan());
    VERIFY_OK(file);
    const Parts was = partsOf(before), is = partsOf(file->bytes);
    const auto count = static_cast<int>(report.rows.size());
    const int last = 5 + count;
    pugi::xml_document xml;
    QVERIFY(xml.load_string(is.at("xl/worksheets/sheet1.xml").c_str()));
    const auto sheet = xml.child("worksheet");
    std::set<std::string> formatted, merged;
    for (const auto& f : sheet.children("conditionalFormatting"))
      formatted.insert(f.attribute("sqref").value());
    QVERIFY2(formatted.contains(fmt::format("D6:D{}", last)), formatted.begin()->c_str());
    QVERIFY(formatted.contains(fmt::format("D6:D{}", last + 2)));
    for (const auto& m : sheet.child("mergeCells").children("mergeCell"))
      merged.insert(m.attribute("ref").value());
    for (int row = 6; row <= last; ++row)
      QVERIFY(merged.contains(fmt::format("F{0}:G{0}", row)));
    QVERIFY(merged.contains("A1:F1"));
    const int more = count - 1 + 2;
    QVERIFY(merged.contains(fmt::format("A{}:B{}", 12 + more, 13 + more)));
    QCOMPARE(std::string(
                 sheet.child("dataValidations").child("dataValidation").attribute("sqref").value()),
             fmt::format("G6:G{}", last));
    QVERIFY(std::string(sheet.child("headerFooter").child("oddFooter").text().get())
                .find("TW-40 <&> HB-0042") != std::string::npos);
    // The chart speaks of all rows, and stands below them as it did.
    bool charted = false, anchored = false;
    for (const auto& [name, text] : is) {
      if (name.starts_with("xl/charts/chart")) {
        charted |= text.find(fmt::format("$D$6:$D${}", last)) != std::string::npos;
        QVERIFY(text.find("$D$6<") == std::string::npos);
      }
      if (name.starts_with("xl/drawings/drawing") && text.find("graphicFrame") != std::string::npos)
        anchored |= text.find(fmt::format("row>{}<", 14 + more)) != std::string::npos;
    }
    QVERIFY(charted && anchored);
    // Other sheets follow by name; the one that nothing reaches is as it was, byte by byte.
    const auto cover = cellsOf(is, "xl/worksheets/sheet2.xml");
    QVERIFY(cover.at("A1").formula.find(fmt::format("D{}", 8 + count - 1)) != std::string::npos);
    QVERIFY(cover.at("A2").formula.find(fmt::format("D{}", last)) != std::string::npos);
    QVERIFY(!cover.at("A1").value && !cover.at("A4").value);
    QVERIFY(!cellsOf(is, "xl/worksheets/sheet3.xml").at("A1").value);
    for (const char* same : {"xl/worksheets/sheet4.xml", "xl/styles.xml", "xl/sharedStrings.xml"})
      if (was.contains(same)) QVERIFY2(is.at(same) == was.at(same), same);
    for (const auto& [name, text] : was)
      if (name.starts_with("xl/media/")) QVERIFY(is.at(name) == text);
    QVERIFY(is.at("xl/workbook.xml").find("fullCalcOnLoad=\"1\"") != std::string::npos);
    QVERIFY(is.at("xl/workbook.xml").find(fmt::format("$D${}", 8 + count - 1)) !=
            std::string::npos);
  }

  // A sheet that names fields in its foot alone, and links that lead to moved rows.
  void feetAndLinks() {
    const ReportModel report = model();
    for (const bool foot : {true, false}) {
      const std::string sheet =
          foot ? "<row r=\"1\"><c r=\"A1\"><v>1</v></c></row></sheetData><headerFooter><oddFooter>"
                 "&amp;C{serial}</oddFooter></headerFooter>"
               : "<row r=\"1\"><c r=\"A1\" t=\"inlineStr\"><is><t>{serial}</t></is></c></row>"
                 "</sheetData><hyperlinks><hyperlink ref=\"A1\" location=\"Report!A8\"/>"
                 "</hyperlinks>";
      const auto file = filledWorkbook(withSheet4(sheet), "own.xlsx", report, test::heronPlan());
      VERIFY_OK(file);
      const std::string is = partsOf(file->bytes).at("xl/worksheets/sheet4.xml");
      const std::string wanted =
          foot ? "&amp;CHB-0042<" : fmt::format("Report!A{}\"", 8 + report.rows.size() - 1);
      QVERIFY2(is.find(wanted) != std::string::npos, is.c_str());
    }
  }

  // No requirement, no part: the rows stay once, empty.
  void nothingMeasured() {
    ReportModel empty;
    const auto file = filledWorkbook(bytesOf("openpyxl"), "own.xlsx", empty, test::heronPlan());
    VERIFY_OK(file);
    const auto cells = cellsOf(partsOf(file->bytes), "xl/worksheets/sheet1.xml");
    QVERIFY(!cells.at("A6").value && cells.at("A6").text.empty());
    QCOMPARE(cells.at("D8").formula, std::string("SUM(D6:D6)"));
  }

  void sameBytes() {
    const auto one = filledWorkbook(bytesOf("openpyxl"), "a.xlsx", model(), test::heronPlan());
    const auto two = filledWorkbook(bytesOf("openpyxl"), "a.xlsx", model(), test::heronPlan());
    VERIFY_OK(one);
    QVERIFY(one->bytes == two->bytes);
  }

  // Damaged anywhere: filled in or one clear line, never a crash.
  void damaged() {
    const std::string whole = bytesOf("openpyxl");
    QRandomGenerator random(3);
    int refused = 0;
    for (int lot = 0; lot < 400; ++lot) {
      std::string bytes = whole;
      if (lot % 3 == 0)
        bytes.resize(static_cast<std::size_t>(random.bounded(static_cast<int>(bytes.size()))));
      for (int k = random.bounded(6); k > 0 && !bytes.empty(); --k)
        bytes[static_cast<std::size_t>(random.bounded(static_cast<int>(bytes.size())))] =
            static_cast<char>(random.bounded(256));
      const auto file = filledWorkbook(bytes, "own.xlsx", model(), test::heronPlan());
      if (!file) {
        ++refused;
        QVERIFY2(file.error().message.find("own.xlsx: ") == 0, file.error().message.c_str());
      }
    }
    QVERIFY(refused > 150);
    for (const char* wrong : {"", "PK", "not a workbook"})
      QVERIFY(!filledWorkbook(wrong, "own.xlsx", model(), test::heronPlan()));
  }

  // Other prefixes, places left out, texts in runs, shared formulas.
  void foreignLooking() {
    const auto file = filledWorkbook(
        withPart("<?xml version=\"1.0\"?><x:worksheet "
                 "xmlns:x=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\">"
                 "<x:sheetData>"
                 "<x:row><x:c t=\"inlineStr\"><x:is><x:r><x:rPr><x:b/></x:rPr><x:t>Serial "
                 "</x:t></x:r><x:r><x:t>{serial}</x:t></x:r></x:is></x:c></x:row>"
                 "<x:row><x:c t=\"inlineStr\"><x:is><x:t>{member.number}</x:t></x:is></x:c>"
                 "<x:c><x:f t=\"shared\" ref=\"B2:B4\" si=\"0\">LEN(A2)</x:f></x:c></x:row>"
                 "<x:row r=\"4\"><x:c r=\"B4\"><x:f t=\"shared\" "
                 "si=\"0\"/><x:v>1</x:v></x:c></x:row></x:sheetData></x:worksheet>"),
        "own.xlsx", model(), test::heronPlan());
    VERIFY_OK(file);
    pugi::xml_document xml;
    QVERIFY(xml.load_string(partsOf(file->bytes).at("xl/worksheets/sheet4.xml").c_str()));
    std::map<std::string, std::string> formulas, texts;
    for (const auto& row : xml.child("x:worksheet").child("x:sheetData").children("x:row"))
      for (const auto& c : row.children("x:c")) {
        formulas[c.attribute("r").value()] = c.child("x:f").text().get();
        std::string text = c.child("x:is").child("x:t").text().get();
        for (const auto& r : c.child("x:is").children("x:r"))
          text += r.child("x:t").text().get();
        texts[c.attribute("r").value()] = text + c.child("x:v").text().get();
      }
    std::size_t members = 0;
    for (const ReportRow& row : model().rows)
      members += std::max<std::size_t>(1, row.members.size());
    QCOMPARE(texts["A1"], std::string("Serial HB-0042"));
    QCOMPARE(formulas["B3"], std::string("LEN(A3)"));
    const std::string below = std::to_string(4 + members - 1);
    QCOMPARE(formulas["B" + below], "LEN(A" + below + ")");
    const std::size_t eighth = 7; // after seven that have no members: 8.1 to 8.6
    QCOMPARE(texts["A" + std::to_string(2 + eighth)], model().rows[7].members[0].number);
  }
};
ALDER_TEST(WorkbookTemplateTest)
#include "workbook_template_test.moc"
