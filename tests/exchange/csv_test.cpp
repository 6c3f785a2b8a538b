#include "base/error.h"

#include "exchange/points/csv.h"
#include "exchange/points/points_file.h"
#include "support.h"

using namespace alder;

class CsvTest : public QObject {
  Q_OBJECT
 private slots:
  void fieldsInEveryDress() {
    const auto t =
        readCsv("name;value\n\"a, b\";1\n# a remark\n\n\"say \"\"so\"\"\" ; 2 \r\n", "t.csv");
    VERIFY_OK(t);
    QCOMPARE(t->header, (std::vector<std::string>{"name", "value"}));
    QCOMPARE(t->rows.size(), std::size_t(2));
    QCOMPARE(t->rows[0][0], std::string("a, b"));
    QCOMPARE(t->rows[1][0], std::string("say \"so\""));
    QCOMPARE(t->rows[1][1], std::string("2"));
    QCOMPARE(t->lines, (std::vector<int>{2, 5})); // lines of the file, for messages
    QCOMPARE(t->column("value"), 1);
    QCOMPARE(t->column("nothing"), -1);
  }
  void tabsAndLastLineWithoutEnd() {
    const auto p = barePointsIn("z\ty\tx\n3\t2\t1\n6\t5\t4", "p.csv");
    VERIFY_OK(p);
    QCOMPARE(p->size(), std::size_t(2));
    QVERIFY((*p)[1] == Vec3(4, 5, 6)); // by name, not by place
  }
  void figuresInEveryForm() {
    const auto p = barePointsIn("x,y,z\n1e-3,-2.5E+1,.5\n", "p.csv");
    VERIFY_OK(p);
    QVERIFY((*p)[0] == Vec3(0.001, -25, 0.5));
    for (const char* bad :
         {"x,y,z\n1,2,3mm\n", "x,y,z\n1,,3\n", "x,y,z\n1,nan,3\n", "x,y,z\n1 2,2,3\n"})
      QVERIFY2(!barePointsIn(bad, "p.csv"), bad);
  }
  void pointsBeyondThePlannedTouches() {
    const Plan& plan = test::heronPlan();
    std::string csv = "feature,touch,x,y,z\n";
    for (int k = 1; k <= 40; ++k)
      csv += fmt::format("F1,{},{},{},20\n", k, 30 + k % 7, k % 5);
    const auto m = measurementsIn(csv, "m.csv", plan);
    VERIFY_OK(m);
    QCOMPARE(m->at(FeatureId{0}).points.size(), std::size_t(40));
    QCOMPARE(m->at(FeatureId{0}).faces.size(), std::size_t(40));
    // features by name too
    QVERIFY(measurementsIn("feature,x,y,z\nBore ø32,16,0,10\n", "m.csv", plan).has_value());
  }
  // Numbers of touches that cannot be are of no planned touch; the point counts all the same.
  void oddNumbersOfTouches() {
    const Plan& plan = test::heronPlan();
    for (const char* odd : {"0", "-1", "1e300", "-1e300", "1e18", "", "first"}) {
      const auto m =
          measurementsIn(fmt::format("feature,touch,x,y,z\nF1,{},30,2,20\n", odd), "m.csv", plan);
      VERIFY_OK(m);
      const MeasuredFeature& f = m->begin()->second;
      QCOMPARE(f.points.size(), std::size_t(1));
      QCOMPARE(f.faces.size(), std::size_t(1));
      const bool ordered = std::string_view(odd).empty() || odd == std::string_view("first");
      if (!ordered) QVERIFY2(f.nominals[0] == f.points[0], odd);
    }
  }
  void constructedFeaturesHaveNoPoints() {
    Plan plan = test::heronPlan();
    NominalFeature f;
    f.id = plan.spec.features.next();
    f.name = "Middle";
    f.from.emplace();
    plan.spec.features.push_back(f);
    plan.features.push_back({f.id, {}});
    const auto m = measurementsIn("feature,touch,x,y,z\nMiddle,1,30,2,20\n", "m.csv", plan);
    QVERIFY(!m);
    QVERIFY2(m.error().message.find("line 2") != std::string::npos &&
                 m.error().message.find("constructed") != std::string::npos,
             m.error().message.c_str());
  }
};
ALDER_TEST(CsvTest)
#include "csv_test.moc"
