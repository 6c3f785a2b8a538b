#include "base/random.h"
#include "route/cover.h"
#include "support.h"

using namespace alder;

namespace {

std::vector<CoverSet> anySets(Random& r, std::size_t items, std::size_t count, double share) {
  std::vector<CoverSet> sets(count);
  for (std::size_t s = 0; s < count; ++s) {
    sets[s].cost = r.uniform(0.5, 2);
    for (std::size_t i = 0; i < items; ++i)
      if (r.uniform(0, 1) < share || i % count == s) sets[s].items.push_back(i);
  }
  return sets;
}

bool holdsAll(std::size_t items, const std::vector<CoverSet>& sets,
              const std::vector<std::size_t>& chosen) {
  std::vector<bool> held(items, false);
  for (std::size_t s : chosen)
    for (std::size_t i : sets[s].items)
      held[i] = true;
  return std::find(held.begin(), held.end(), false) == held.end();
}

} // namespace

class CoverTest : public QObject {
  Q_OBJECT
 private slots:
  // Against all choices of a dozen sets: never more than the best, never a bound above it.
  void againstAllChoices() {
    Random r(5);
    int exact = 0;
    for (int k = 0; k < 60; ++k) {
      const std::size_t items = 14, count = 12;
      const auto sets = anySets(r, items, count, 0.25);
      double best = 1e300;
      for (unsigned mask = 0; mask < (1u << count); ++mask) {
        std::vector<std::size_t> chosen;
        double cost = 0;
        for (std::size_t s = 0; s < count; ++s)
          if (mask >> s & 1) chosen.push_back(s), cost += sets[s].cost;
        if (cost < best && holdsAll(items, sets, chosen)) best = cost;
      }
      const Cover found = cheapestCover(items, sets);
      QVERIFY(holdsAll(items, sets, found.sets));
      QVERIFY(found.cost >= best - 1e-9);
      QVERIFY2(found.cost <= 1.1 * best, qPrintable(QString::number(found.cost / best)));
      QVERIFY(found.bound <= best + 1e-9);
      exact += found.cost < best + 1e-9;
    }
    QVERIFY2(exact >= 50, qPrintable(QString::number(exact)));
  }
  // As large as a part with many features: near the bound.
  void nearTheBound() {
    Random r(6);
    for (int k = 0; k < 5; ++k) {
      const auto sets = anySets(r, 120, 150, 0.06);
      const Cover found = cheapestCover(120, sets);
      QVERIFY(holdsAll(120, sets, found.sets));
      QVERIFY2(found.cost <= 1.2 * found.bound,
               qPrintable(QString::number(found.cost / found.bound)));
    }
  }
  void edges() {
    QVERIFY(cheapestCover(3, {}).sets.empty());
    const Cover one = cheapestCover(2, {{1, {0}}, {1, {0, 1}}, {3, {1}}});
    QCOMPARE(one.sets, std::vector<std::size_t>{1});
    NEAR(one.bound, 1.0, 1e-6);
    // an item that nothing holds does not stop the others
    QCOMPARE(cheapestCover(3, {{1, {0, 1}}}).sets, std::vector<std::size_t>{0});
  }
};
ALDER_TEST(CoverTest)
#include "cover_test.moc"
