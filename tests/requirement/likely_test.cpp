#include "requirement/likely.h"
#include "support.h"

using namespace alder;

class LikelyTest : public QObject {
  Q_OBJECT

 private slots:
  void theLikeliestFirst() {
    const auto first = [](SurfaceType type, double diameter) {
      Ideal i;
      i.type = type;
      i.diameter = diameter;
      return likelyRequirements(i, {}).front();
    };
    QCOMPARE(first(SurfaceType::Cylinder, 16).words, std::string("Size ø16 ±0.1"));
    QVERIFY(first(SurfaceType::Cylinder, 16).requirement.zone == Zone::Diametral);
    QCOMPARE(first(SurfaceType::Slot, 20).words, std::string("Width 20 ±0.1"));
    QVERIFY(first(SurfaceType::Slot, 20).requirement.zone == Zone::Planar);
    QVERIFY(first(SurfaceType::Plane, 0).requirement.kind == Characteristic::Flatness);
    QVERIFY(first(SurfaceType::Cone, 12).requirement.kind == Characteristic::Roundness);
    QVERIFY(first(SurfaceType::Freeform, 0).requirement.kind == Characteristic::SurfaceProfile);
    const Requirement size = first(SurfaceType::Sphere, 8).requirement;
    NEAR(size.lower, 7.9, 1e-12);
    NEAR(size.upper, 8.1, 1e-12);
    NEAR(size.tolerance, 0.2, 1e-12);
  }
  void positionNeedsDatums() {
    Ideal bore;
    bore.type = SurfaceType::Cylinder;
    bore.diameter = 8;
    const auto positions = [&](const std::vector<Datum>& datums) {
      std::vector<Requirement> found;
      for (const auto& l : likelyRequirements(bore, datums))
        if (l.requirement.kind == Characteristic::Position) found.push_back(l.requirement);
      return found;
    };
    QVERIFY(positions({}).empty());
    Datum a, b;
    a.letter = "A", b.letter = "B";
    const auto found = positions({a, b});
    QCOMPARE(found.size(), std::size_t(1));
    QCOMPARE(found[0].datums.size(), std::size_t(2));
  }
  void lettersAsTheStandardHasThem() {
    Specification spec;
    std::string letters;
    for (int k = 0; k < 23; ++k) {
      Datum d;
      d.letter = freeDatumLetter(spec);
      letters += d.letter;
      spec.datums.push_back(d);
    }
    QCOMPARE(letters, std::string("ABCDEFGHJKLMNPRSTUVWXYZ"));
    QCOMPARE(freeDatumLetter(spec), std::string("AA"));
  }
};
ALDER_TEST(LikelyTest)
#include "likely_test.moc"
