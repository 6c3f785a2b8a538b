#include "requirement/formula.h"
#include "support.h"

using namespace alder;

class FormulaTest : public QObject {
  Q_OBJECT

  // Requirement n has the figure 10 n; a feature's quantity counts the letters of both names.
  static Result<double> known(const FormulaReference& r) {
    if (r.balloon > 100) return fail("There is no requirement {}.", r.text);
    if (r.balloon > 0) return 10.0 * r.balloon;
    return static_cast<double>(r.feature.size() + r.quantity.size());
  }

 private slots:
  void computes_data() {
    QTest::addColumn<QString>("formula");
    QTest::addColumn<double>("expected");
    QTest::newRow("arithmetic") << "2 + 3 * 4 ^ 2 / (1 + 1)" << 26.0;
    QTest::newRow("reference") << "#3" << 30.0;
    QTest::newRow("two references") << "#12 - #1" << 110.0;
    QTest::newRow("reference at the end of a sum") << "1+#2" << 21.0;
    QTest::newRow("feature") << "\"Bore 1\".diameter" << 14.0;
    QTest::newRow("feature with arithmetic in its name") << "\"a+b*#9\".x * 2" << 14.0;
    QTest::newRow("functions") << "max(#1, #2) + min(1, 2) + sqrt(9) + abs(0 - 4)" << 28.0;
    QTest::newRow("degrees") << "cos(60) + tan(45) + atan(1)" << 46.5;
    QTest::newRow("arc") << "asin(1) + acos(1)" << 90.0;
    QTest::newRow("units") << "1in + 2mm + 3deg" << 30.4;
    QTest::newRow("choice") << "#1 > 5 ? 1 : 2" << 1.0;
  }
  void computes() {
    QFETCH(QString, formula);
    QFETCH(double, expected);
    const auto value = evaluateFormula(formula.toStdString(), known);
    VERIFY_OK(value);
    NEAR(*value, expected, 1e-12);
  }
  void refuses_data() {
    QTest::addColumn<QString>("formula");
    QTest::addColumn<QString>("says");
    QTest::newRow("nothing") << ""
                             << "";
    QTest::newRow("half") << "#1 +"
                          << "#1 +";
    QTest::newRow("bare mark") << "# + 1"
                               << "number of a requirement";
    QTest::newRow("no such") << "#200"
                             << "no requirement #200";
    QTest::newRow("huge") << "#99999999999999999999"
                          << "";
    QTest::newRow("open quote") << "\"Bore"
                                << "not closed";
    QTest::newRow("no quantity") << "\"Bore\" + 1"
                                 << "quantity is missing";
    QTest::newRow("unknown word") << "bore + 1"
                                  << "bore";
    QTest::newRow("unknown function") << "system(1)"
                                      << "system";
    QTest::newRow("infinite") << "1 / 0"
                              << "not a number";
    QTest::newRow("no real root") << "sqrt(0 - 1)"
                                  << "not a number";
    QTest::newRow("brackets") << "((1)"
                              << "";
  }
  void refuses() {
    QFETCH(QString, formula);
    QFETCH(QString, says);
    const auto value = evaluateFormula(formula.toStdString(), known);
    QVERIFY(!value);
    QVERIFY2(value.error().message.find(says.toStdString()) != std::string::npos,
             value.error().message.c_str());
    QVERIFY(value.error().message.find('\n') == std::string::npos);
  }
  void referencesInOrder() {
    const auto all = referencesIn("#4 + \"Ring 1\".form - #2");
    VERIFY_OK(all);
    QCOMPARE(all->size(), std::size_t(3));
    QCOMPARE((*all)[0].balloon, 4);
    QCOMPARE((*all)[1].feature, std::string("Ring 1"));
    QCOMPARE((*all)[1].quantity, std::string("form"));
    QCOMPARE((*all)[2].text, std::string("#2"));
  }
};

ALDER_TEST(FormulaTest)
#include "formula_test.moc"
