#include "exchange/points/csv.h"
#include "judge/judge.h"
#include "report/picture.h"
#include "report/report_file.h"
#include "report/report_model.h"
#include "sheet/sheet_file.h"
#include "support.h"

using namespace alder;

class ReportTest : public QObject {
  Q_OBJECT
  static ReportModel model() {
    Measurements m = test::exactly(test::heronPlan());
    for (Vec3& p : m.at(test::balloon(test::heronPlan(), 31).features[0]).points)
      p.x() += 0.04;
    m.erase(test::named(test::heronPlan(), "Internal sphere"));
    return reportOf(test::heronPlan(), judgeAll(test::heronPlan(), m));
  }
  static Result<std::string> pdfOfFull(const ReportModel& model, const Plan& plan) {
    auto file = reportFile("report.pdf", model, plan);
    if (!file) return pass(file.error());
    return std::move(file->bytes);
  }
 private slots:
  void countsAndFigures() {
    const ReportModel r = model();
    QCOMPARE(r.rows.size(), std::size_t(35));
    QCOMPARE(r.within + r.near + r.outside + r.unmeasured, 35);
    QVERIFY(r.outside >= 1);
    QCOMPARE(r.unmeasured, 2); // size and position of the cup
    QCOMPARE(r.rows[30].actual.text, std::string("0.0800"));
    QVERIFY(r.rows[30].verdict == Verdict::Outside);
    QVERIFY(r.rows[18].actual.empty());
    QVERIFY(r.rows[15].nominal.text == "90.000");
  }
  // The standard that was used, and those requirements that another one decides.
  void namesTheStandard() {
    Plan plan = test::heronPlan();
    const auto of = [&] { return reportOf(plan, judgeAll(plan, {})).standard; };
    plan.spec.standard = ToleranceStandard::Iso;
    for (Requirement& r : plan.spec.requirements)
      r.standard.reset();
    QCOMPARE(of(), std::string("ISO GPS"));
    plan.spec.standard = ToleranceStandard::Asme;
    QCOMPARE(of(), std::string("ASME Y14.5-2018"));
    plan.spec.requirements[2].standard = ToleranceStandard::Iso;
    QCOMPARE(of(), std::string("ASME Y14.5-2018; ISO GPS: 3"));
  }
  // Near a limit and not proved are two states, in the counts as in the rows.
  void threeStates() {
    const Plan plan = test::heronPlan();
    auto all = judgeAll(plan, test::exactly(plan));
    for (Evaluation& e : all)
      e.verdict = Verdict::Within;
    all[0].verdict = Verdict::Near;
    all[1].verdict = all[2].verdict = Verdict::NotProved;
    const ReportModel r = reportOf(plan, all);
    QCOMPARE(r.near, 1);
    QCOMPARE(r.not_proved, 2);
    QCOMPARE(r.within, static_cast<int>(all.size()) - 3);
    const auto table = readCsv(reportTable(r), "report.csv");
    VERIFY_OK(table);
    const auto column = static_cast<std::size_t>(table->column("verdict"));
    QVERIFY(table->rows[0][column] != table->rows[1][column]);
    QVERIFY(table->rows[3][column] != table->rows[0][column]);
  }
  void csvHoldsEveryRow() {
    const auto table = readCsv(reportTable(model()), "report.csv");
    VERIFY_OK(table);
    QCOMPARE(table->rows.size(), std::size_t(35));
    QCOMPARE(table->rows[30][static_cast<std::size_t>(table->column("verdict"))],
             std::string("outside"));
    QCOMPARE(table->rows[1][static_cast<std::size_t>(table->column("lower"))],
             std::string("32.000"));
  }
  void pdfIsWholeAndReadable() {
    const auto pdf = pdfOfFull(model(), test::heronPlan());
    VERIFY_OK(pdf);
    QVERIFY(pdf->starts_with("%PDF-"));
    QVERIFY(pdf->find("%%EOF") != std::string::npos);
    QVERIFY(pdf->size() > 30000);
  }
  // What is known of the part stands on the first page, read by another program.
  void partDataIsPrinted() {
    Plan plan = test::heronPlan();
    plan.header[HeaderField::Number] = "TW-40";
    plan.header[HeaderField::Revision] = "C";
    plan.header[HeaderField::Order] = "4711-08";
    plan.header[HeaderField::Material] = "CuSn8";
    plan.header.documents = {{"cert31.pdf", std::make_shared<const std::string>("%PDF")}};
    const auto pdf = pdfOfFull(reportOf(plan, judgeAll(plan, {})), plan);
    VERIFY_OK(pdf);
    const auto sheets = readSheets(*pdf, "report.pdf", 1, 1);
    VERIFY_OK(sheets);
    std::string all;
    for (const Character& c : sheets->front().characters)
      all += c.text;
    std::erase(all, ' ');
    for (const char* text : {"TW-40", "4711-08", "CuSn8", "cert31.pdf", "Revision", "Material"})
      QVERIFY2(all.find(text) != std::string::npos, text);
  }
  // About a place, with one face lit: that face is seen, and the rest of the part is not all of it.
  void pictureOfAPlace() {
    const auto part = test::heron();
    const FeatureId bore = test::named(test::heronPlan(), "Bore ø11");
    const auto& faces = test::heronPlan().nominal(bore).faces;
    const std::set<FaceId> lit(faces.begin(), faces.end());
    const PictureWindow window{part->face(faces.front()).box.center(), 40};
    const PartPicture picture(*part, Vec3(0.3, -0.4, 1), Vec3::UnitZ(), 200, 150, window);
    QVERIFY(picture.pixelsOf(lit) > 200);
    const Picture image = picture.draw({0xffffffffu, 0xff808080u, 0xff2b5fb3u, 0xff000000u, lit});
    const auto blue = std::count_if(image.pixels.begin(), image.pixels.end(),
                                    [](auto p) { return (p & 0xffu) > ((p >> 16) & 0xffu) + 20; });
    QVERIFY(blue > 100 && blue <= picture.pixelsOf(lit));
    const Vec2 middle = picture.project(window.middle);
    NEAR(middle.x(), 100.0, 1e-9);
    NEAR(middle.y(), 75.0, 1e-9);
  }
  void pictureShowsThePart() {
    const auto part = test::heron();
    const PartPicture picture(*part, Vec3(0.5, -1, 0.8), Vec3::UnitZ(), 300, 200);
    const Picture image = picture.draw();
    int filled = 0;
    for (auto p : image.pixels)
      filled += (p >> 24) != 0;
    QVERIFY(filled > 300 * 200 / 5 && filled < 300 * 200);
    // the rim towards the eye is seen, the far one is not
    QVERIFY(picture.visible(Vec3(0, -60, 10), 0.5));
    QVERIFY(!picture.visible(Vec3(0, 60, 10), 0.5));
  }
};
ALDER_TEST(ReportTest)
#include "report_test.moc"
