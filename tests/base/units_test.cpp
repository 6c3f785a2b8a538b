#include "base/files.h"
#include "base/random.h"
#include "base/units.h"
#include "support.h"
#include <QTemporaryDir>

using namespace alder;

class UnitsTest : public QObject {
  Q_OBJECT
 private slots:
  void quantities_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<double>("mm");
    QTest::newRow("plain") << "12.5" << 12.5;
    QTest::newRow("sum") << "12+0.5" << 12.5;
    QTest::newRow("inch") << "0.25in" << 6.35;
    QTest::newRow("mixed") << "1in + 1" << 26.4;
    QTest::newRow("precedence") << "2+3*4" << 14.0;
    QTest::newRow("parentheses") << "2*(3+1)cm" << 80.0;
    QTest::newRow("sign") << "-(1.5-2)" << 0.5;
    QTest::newRow("metre") << " 0.002 m " << 2.0;
    QTest::newRow("divide") << "25.4/2" << 12.7;
  }
  void quantities() {
    QFETCH(QString, text);
    QFETCH(double, mm);
    const auto value = parseQuantity(text.toStdString(), Quantity::Length);
    VERIFY_OK(value);
    NEAR(*value, mm, 1e-12);
  }
  void refused_data() {
    QTest::addColumn<QString>("text");
    for (const char* t : {"", "abc", "1+", "(2", "3 deg", "1/0", "2 3", "1e999"})
      QTest::newRow(t) << QString(t);
  }
  void refused() {
    QFETCH(QString, text);
    const auto value = parseQuantity(text.toStdString(), Quantity::Length);
    QVERIFY(!value);
    QVERIFY(!value.error().message.empty());
  }
  void anglesAreRadiansInside() {
    NEAR(*parseQuantity("90", Quantity::Angle), kPi / 2, 1e-15);
    NEAR(*parseQuantity("45°", Quantity::Angle), kPi / 4, 1e-15);
    NEAR(*parseQuantity("1rad", Quantity::Angle), 1.0, 1e-15);
    QVERIFY(!parseQuantity("1mm", Quantity::Angle));
  }
  void figuresHaveNoNegativeZero() {
    QCOMPARE(figure(-0.0004, 3), std::string("0.000"));
    QCOMPARE(figure(-0.0006, 3), std::string("-0.001"));
    QCOMPARE(shortFigure(12.5000), std::string("12.5"));
    QCOMPARE(shortFigure(-0.1), std::string("-0.1"));
    QCOMPARE(shownDegrees(radians(-150)), -150.0);
  }
  void filesAreReplacedWhole() {
    QTemporaryDir dir;
    const std::filesystem::path path = dir.filePath("a.txt").toStdString();
    VERIFY_OK(writeFile(path, "first"));
    VERIFY_OK(writeFile(path, "second"));
    QCOMPARE(*readFile(path), std::string("second"));
    QVERIFY(!std::filesystem::exists(path.string() + ".part"));
    // a folder that is not there: an error, and nothing is left behind
    QVERIFY(!writeFile(dir.filePath("no/such/a.txt").toStdString(), "x"));
    QVERIFY(!readFile(dir.path().toStdString()));
  }
  void noiseIsTheSameForOneSeed() {
    Random a(7), b(7), c(8);
    double sum = 0, squares = 0;
    bool differs = false;
    for (int i = 0; i < 20000; ++i) {
      const double x = a.normal();
      QCOMPARE(x, b.normal());
      differs |= x != c.normal();
      sum += x, squares += x * x;
    }
    QVERIFY(differs);
    NEAR(sum / 20000, 0.0, 0.03);
    NEAR(squares / 20000, 1.0, 0.03);
  }
};
ALDER_TEST(UnitsTest)
#include "units_test.moc"
