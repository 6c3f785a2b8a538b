#include "exchange/points/csv.h"
#include "judge/judge.h"
#include "report/document.h"
#include "report/pdf.h"
#include "report/picture.h"
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
 private slots:
  void countsAndFigures() {
    const ReportModel r = model();
    QCOMPARE(r.rows.size(), std::size_t(35));
    QCOMPARE(r.within + r.near + r.outside + r.unmeasured, 35);
    QVERIFY(r.outside >= 1);
    QCOMPARE(r.unmeasured, 2); // size and position of the cup
    QCOMPARE(r.rows[30].actual, std::string("0.0800"));
    QVERIFY(r.rows[30].verdict == Verdict::Outside);
    QVERIFY(r.rows[18].actual.empty());
    QVERIFY(r.rows[15].nominal == "90.000");
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
    const auto pdf = reportPdf(model(), test::heronPlan());
    VERIFY_OK(pdf);
    QVERIFY(pdf->starts_with("%PDF-"));
    QVERIFY(pdf->find("%%EOF") != std::string::npos);
    // fonts are embedded
    QVERIFY(pdf->find("FontFile") != std::string::npos);
    QVERIFY(pdf->size() > 30000);
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
