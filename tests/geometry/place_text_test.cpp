#include "geometry/place_text.h"

#include "support.h"

using namespace alder;

class PlaceTextTest : public QObject {
  Q_OBJECT

 private slots:
  void numbers() {
    QCOMPARE(numberFromText(" -12.5 ").value_or(0), -12.5);
    QCOMPARE(numberFromText("1e-3").value_or(0), 0.001);
    for (const char* bad : {"", " ", "a", "1 2", "1,2", "inf", "nan", "1e999", "--1"})
      QVERIFY2(!numberFromText(bad), bad);
  }
  void places() {
    const auto p = placeFromText("1, -2.5 ,3");
    QVERIFY(p && (*p - Vec3(1, -2.5, 3)).norm() < 1e-12);
    for (const char* bad : {"", "1, 2", "1, 2, 3, 4", "1; 2; 3", "x, 2, 3"})
      QVERIFY2(!placeFromText(bad), bad);
  }
  void lists() {
    const auto places = placesFromText(" 1,2,3 ; ; 4, 5, 6;");
    VERIFY_OK(places);
    QCOMPARE(places->size(), std::size_t(2));
    const auto again = placesFromText(placesText(*places));
    VERIFY_OK(again);
    QVERIFY(*again == *places);
    QVERIFY(placesFromText("")->empty());
    const auto refused = placesFromText("1, 2, 3; 4, 5");
    QVERIFY(!refused && refused.error().message.find("Place 2 (\"4, 5\")") == 0);
  }
};
ALDER_TEST(PlaceTextTest)
#include "place_text_test.moc"
