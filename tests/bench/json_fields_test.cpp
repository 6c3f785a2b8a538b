#include "bench/json_fields.h"

#include "base/units.h"
#include "bench/solids.h"
#include "support.h"

using namespace alder;

class JsonFieldsTest : public QObject {
  Q_OBJECT
 private slots:
  void firstComplaintStays() {
    const Json json = Json::parse(R"({"a": 1, "list": [{"b": "x"}, 5], "o": {"v": [1,2]}})");
    const JsonFields f(json, "file.json");
    QCOMPARE(f.number("a"), 1.0);
    QVERIFY(f.done().has_value());
    QCOMPARE(f.number("missing", 7.0), 7.0);
    QVERIFY(f.done().has_value());
    (void)f.object("o").vector("v");
    (void)f.number("a2");
    const auto done = f.done();
    QVERIFY(!done);
    QCOMPARE(done.error().message, std::string("file.json: o.v must be a list of three numbers."));
  }
  void everyGetterNamesItsField_data() {
    QTest::addColumn<int>("getter");
    QTest::addColumn<QString>("says");
    QTest::newRow("number") << 0 << "n must be a number";
    QTest::newRow("positive") << 1 << "z must be above 0";
    QTest::newRow("integer") << 2 << "x must be a whole number";
    QTest::newRow("flag") << 3 << "x must be true or false";
    QTest::newRow("text") << 4 << "x must be a text";
    QTest::newRow("object") << 5 << "x must be an object";
    QTest::newRow("list") << 6 << "x must be a list";
    QTest::newRow("item") << 7 << "l[1] must be an object";
    QTest::newRow("missing text") << 8 << "q is missing";
    QTest::newRow("missing vector") << 9 << "q is missing";
  }
  void everyGetterNamesItsField() {
    QFETCH(int, getter);
    QFETCH(QString, says);
    const Json json = Json::parse(R"({"n": "one", "z": 0, "x": 1.5, "l": [{}, 3]})");
    const JsonFields f(json, "f");
    switch (getter) {
    case 0:
      (void)f.number("n");
      break;
    case 1:
      (void)f.positive("z");
      break;
    case 2:
      (void)f.integer("x", 0);
      break;
    case 3:
      (void)f.flag("x", false);
      break;
    case 4:
      (void)f.text("x", "");
      break;
    case 5:
      (void)f.object("x");
      break;
    case 6:
      (void)f.list("x");
      break;
    case 7:
      (void)f.list("l");
      break;
    case 8:
      (void)f.text("q");
      break;
    case 9:
      (void)f.vector("q");
      break;
    default:
      break;
    }
    const auto done = f.done();
    QVERIFY(!done);
    QVERIFY2(QString::fromStdString(done.error().message).contains(says),
             done.error().message.c_str());
  }
  void parseErrorsNameTheLine() {
    const auto bad = parseJson("{\n\"a\": 1,\n\"b\": }\n", "x.json");
    QVERIFY(!bad);
    QVERIFY(bad.error().message.find("line 3") != std::string::npos);
    QVERIFY(!parseJson("", "x.json"));
  }
  // Prisms stand round their cylinder, never inside, and are closed.
  void cylinders() {
    Mesh m;
    appendCylinder(m, {1, 2, 3}, {1, 2, 13}, 8);
    double volume = 0;
    for (std::size_t i = 0; i < m.triangles.size(); ++i) {
      const Triangle t = m.triangle(i);
      volume += t.a.dot(t.b.cross(t.c)) / 6;
    }
    const double exact = kPi * 16 * 10;
    QVERIFY(volume >= exact && volume < 1.01 * exact);
    QCOMPARE(m.tags.size(), m.triangles.size());
    const MeshTree tree(m);
    for (double a = 0; a < 6.3; a += 0.1) {
      const auto hit = tree.firstHit(Vec3(1, 2, 8) + 20 * Vec3(std::cos(a), std::sin(a), 0),
                                     -Vec3(std::cos(a), std::sin(a), 0));
      QVERIFY(hit && 20 - *hit >= 4 - 1e-9 && 20 - *hit < 4.03);
    }
  }
};
ALDER_TEST(JsonFieldsTest)
#include "json_fields_test.moc"
