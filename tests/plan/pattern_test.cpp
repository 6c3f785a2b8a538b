#include "base/units.h"
#include "plan/repeats/pattern.h"
#include "support.h"

using namespace alder;

// Places of copies, by rules and by tables.
class PatternTest : public QObject {
  Q_OBJECT

  static Points placesFrom(const Pattern& p, const Vec3& original) {
    Points all{original};
    for (const Motion& m : motionsOf(p))
      all.push_back(m.place(original));
    return all;
  }
  static bool same(Points a, Points b) {
    const auto less = [](const Vec3& p, const Vec3& q) {
      const auto key = [](const Vec3& v) {
        return std::array{std::round(v.x() * 1e6), std::round(v.y() * 1e6),
                          std::round(v.z() * 1e6)};
      };
      return key(p) < key(q);
    };
    std::sort(a.begin(), a.end(), less);
    std::sort(b.begin(), b.end(), less);
    return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                      [](const Vec3& p, const Vec3& q) { return (p - q).norm() < 1e-9; });
  }

 private slots:
  void rows() {
    Pattern p;
    p.count = 3, p.step = Vec3(5, 0, 0);
    QVERIFY(same(placesFrom(p, Vec3(1, 2, 3)), {{1, 2, 3}, {6, 2, 3}, {11, 2, 3}}));
    p.kind = PatternKind::Grid;
    p.rows = 2, p.to_row = Vec3(0, 7, 0);
    QVERIFY(same(placesFrom(p, Vec3::Zero()),
                 {{0, 0, 0}, {5, 0, 0}, {10, 0, 0}, {0, 7, 0}, {5, 7, 0}, {10, 7, 0}}));
  }
  void roundAnAxis() {
    Pattern p;
    p.kind = PatternKind::Rotary;
    p.count = 4, p.point = Vec3(10, 0, 0);
    QVERIFY(same(placesFrom(p, Vec3(13, 0, 2)), {{13, 0, 2}, {10, 3, 2}, {7, 0, 2}, {10, -3, 2}}));
    p.count = 2, p.angle = radians(-90);
    QVERIFY(same(placesFrom(p, Vec3(13, 0, 2)), {{13, 0, 2}, {10, -3, 2}}));
    QVERIFY(motionsOf(p).front().turns());
  }
  void mirrored() {
    Pattern p;
    p.kind = PatternKind::Mirrored;
    p.point = Vec3(4, 0, 0), p.axis = Vec3(2, 0, 0);
    QVERIFY(same(placesFrom(p, Vec3(5, 1, 1)), {{5, 1, 1}, {3, 1, 1}}));
    // Twice is where it was.
    const Motion m = motionsOf(p).front();
    NEAR((m.place(m.place(Vec3(1, 2, 3))) - Vec3(1, 2, 3)).norm(), 0.0, 1e-12);
  }
  void fromASpreadsheet() {
    const auto places =
        listedFromText("X\tY\tZ\tturn\r\n10\t20\t0\t0\r\n10,5\t20\t0\t90\r\n\n30;20;5");
    VERIFY_OK(places);
    QCOMPARE(places->size(), std::size_t(2));
    QCOMPARE(places->front().shift, Vec3(0.5, 0, 0));
    NEAR(places->front().turn, kPi / 2, 1e-12);
    QCOMPARE(places->back().shift, Vec3(20, 0, 5));
    const auto blanks = listedFromText("0, 0\n1.5, 2");
    VERIFY_OK(blanks);
    QCOMPARE(blanks->front().shift, Vec3(1.5, 2, 0));
    const auto back = listedFromText(listedText(*places));
    VERIFY_OK(back);
    QCOMPARE(back->size(), places->size());
    QCOMPARE(back->back(), places->back());
    for (const char* bad : {"", "0\t0\t0", "0\t0\t0\nfoo\t1\t2", "0\t0\n1\t2\t3\t4\t5"})
      QVERIFY2(!listedFromText(bad), bad);
    QVERIFY(listedFromText("0\t0\t0\nfoo\t1\t2").error().message.find("Row 2") !=
            std::string::npos);
  }
  void refused() {
    Pattern p;
    p.count = 0;
    QVERIFY(!validate(p));
    p.count = 2000;
    QVERIFY(!validate(p));
    p.count = 2, p.step = Vec3::Zero();
    QVERIFY(!validate(p));
    p.kind = PatternKind::Rotary, p.axis = Vec3::Zero();
    QVERIFY(!validate(p));
    p.axis = Vec3::UnitX(), p.angle = NAN;
    QVERIFY(!validate(p));
  }
  // The rule that is found leads to the places that it was found from, however they are turned.
  void rulesAreFound() {
    const Vec3 original(20, 0, 5);
    Pattern row, grid, circle;
    row.count = 5, row.step = Vec3(3, 4, 0);
    grid.kind = PatternKind::Grid;
    grid.count = 4, grid.step = Vec3(6, 0, 0), grid.rows = 3, grid.to_row = Vec3(0, 9, 0);
    circle.kind = PatternKind::Rotary;
    circle.count = 6;
    for (unsigned seed = 0; seed < 10; ++seed) {
      const Frame motion = test::anyMotion(seed);
      for (const Pattern& p : {row, grid, circle}) {
        Points places = placesFrom(p, original);
        for (Vec3& q : places)
          q = motion * q;
        const Points others(places.begin() + 1, places.end());
        const Pattern found = patternThrough(places.front(), turn(motion, Vec3::UnitZ()), others);
        QCOMPARE(name(found.kind), name(p.kind));
        QVERIFY2(same(placesFrom(found, places.front()), places), name(p.kind).data());
      }
      // Without a rule they are listed.
      Points some{motion * Vec3(0, 0, 0), motion * Vec3(10, 1, 0), motion * Vec3(7, 22, 3)};
      const Pattern listed = patternThrough(some[0], Vec3::UnitZ(), {some[1], some[2]});
      QCOMPARE(name(listed.kind), name(PatternKind::Listed));
      QVERIFY(same(placesFrom(listed, some[0]), some));
    }
  }
};

ALDER_TEST(PatternTest)
#include "pattern_test.moc"
