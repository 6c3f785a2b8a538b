#include "route/sequence.h"

#include "base/random.h"
#include "support.h"
#include <numeric>

using namespace alder;

// Orders of visits against the best of all orders where there are few, and against the bound where
// there are many.
class SequenceTest : public QObject {
  Q_OBJECT

  struct Instance {
    std::vector<Vec3> at;
    std::vector<int> access; // changing it takes five more seconds
    double between(std::size_t i, std::size_t j) const {
      return 0.1 + (at[i] - at[j]).norm() / 100 + (access[i] == access[j] ? 0 : 5);
    }
    double start(std::size_t i) const { return (at[i] - Vec3(-50, 0, 0)).norm() / 100; }
    double cost(const std::vector<std::size_t>& order) const {
      double sum = start(order[0]);
      for (std::size_t i = 1; i < order.size(); ++i)
        sum += between(order[i - 1], order[i]);
      return sum;
    }
    Sequence solve(bool bound = false) const {
      return shortSequence(
          at.size(), [&](std::size_t i) { return start(i); },
          [&](std::size_t i, std::size_t j) { return between(i, j); }, bound);
    }
  };
  static Instance instance(std::size_t count, std::uint64_t seed, int accesses) {
    Random r(seed);
    Instance x;
    for (std::size_t i = 0; i < count; ++i) {
      x.at.emplace_back(r.uniform(0, 500), r.uniform(0, 400), r.uniform(0, 100));
      x.access.push_back(static_cast<int>(r.uniform() * accesses));
    }
    return x;
  }
  static void isOrder(const Sequence& s, std::size_t count) {
    std::vector<std::size_t> sorted = s.order, all(count);
    std::sort(sorted.begin(), sorted.end());
    std::iota(all.begin(), all.end(), 0);
    QCOMPARE(sorted, all);
  }

 private slots:
  void fewAreBest() {
    for (std::uint64_t seed = 1; seed <= 60; ++seed)
      for (const std::size_t count : {1, 2, 3, 5, 7, 8}) {
        const Instance x = instance(count, seed, static_cast<int>(seed % 4 + 1));
        const Sequence s = x.solve(count > 2);
        isOrder(s, count);
        NEAR(s.cost, x.cost(s.order), 1e-9);
        std::vector<std::size_t> order(count);
        std::iota(order.begin(), order.end(), 0);
        double best = 1e300;
        do
          best = std::min(best, x.cost(order));
        while (std::next_permutation(order.begin(), order.end()));
        NEAR(s.cost, best, 1e-9);
        if (count > 2) QVERIFY(s.bound <= best + 1e-6);
      }
  }
  // Of as many as are weighed whole no exchange of a stretch, turned or not, makes the order cheaper,
  // and it does not lie below the bound that local search is measured by.
  void twelveAreBest() {
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
      const Instance x = instance(12, seed, static_cast<int>(seed % 4 + 1));
      const Sequence s = x.solve(true);
      isOrder(s, 12);
      NEAR(s.cost, x.cost(s.order), 1e-9);
      for (std::size_t i = 0; i < 12; ++i)
        for (std::size_t j = i + 1; j <= 12; ++j)
          for (std::size_t to = 0; to + (j - i) <= 12; ++to)
            for (const bool turned : {false, true}) {
              std::vector<std::size_t> moved = s.order,
                                       stretch(moved.begin() + static_cast<std::ptrdiff_t>(i),
                                               moved.begin() + static_cast<std::ptrdiff_t>(j));
              moved.erase(moved.begin() + static_cast<std::ptrdiff_t>(i),
                          moved.begin() + static_cast<std::ptrdiff_t>(j));
              if (turned) std::reverse(stretch.begin(), stretch.end());
              moved.insert(moved.begin() + static_cast<std::ptrdiff_t>(to), stretch.begin(),
                           stretch.end());
              QVERIFY(x.cost(moved) >= s.cost - 1e-9);
            }
    }
  }
  // Costs that depend on the direction.
  void oneWay() {
    Random random(5);
    for (int k = 0; k < 30; ++k) {
      constexpr std::size_t kCount = 7;
      std::vector<double> cost(kCount * kCount);
      for (double& c : cost)
        c = random.uniform(1, 10);
      const auto between = [&](std::size_t i, std::size_t j) { return cost[i * kCount + j]; };
      const auto start = [&](std::size_t i) { return cost[i * kCount + i]; };
      const Sequence s = shortSequence(kCount, start, between);
      std::vector<std::size_t> order(kCount);
      std::iota(order.begin(), order.end(), 0);
      double best = 1e300;
      do {
        double sum = start(order[0]);
        for (std::size_t i = 1; i < kCount; ++i)
          sum += between(order[i - 1], order[i]);
        best = std::min(best, sum);
      } while (std::next_permutation(order.begin(), order.end()));
      NEAR(s.cost, best, 1e-9);
    }
  }
  void manyAreNearTheBound_data() {
    QTest::addColumn<int>("count");
    QTest::addColumn<int>("accesses");
    QTest::newRow("60, one access") << 60 << 1;
    QTest::newRow("60, five") << 60 << 5;
    QTest::newRow("200, one") << 200 << 1;
    QTest::newRow("200, eight") << 200 << 8;
    QTest::newRow("500, ten") << 500 << 10;
  }
  void manyAreNearTheBound() {
    QFETCH(int, count);
    QFETCH(int, accesses);
    const Instance x = instance(static_cast<std::size_t>(count), 7, accesses);
    const Sequence s = x.solve(true);
    isOrder(s, static_cast<std::size_t>(count));
    QVERIFY(s.bound > 0 && s.bound <= s.cost + 1e-6);
    QVERIFY2(s.cost <= 1.05 * s.bound, qPrintable(QString::number(s.cost / s.bound)));
    QVERIFY(x.solve().order == s.order); // the same again
  }
  void nothingToDo() { QVERIFY(shortSequence(0, {}, {}).order.empty()); }
};
ALDER_TEST(SequenceTest)
#include "sequence_test.moc"
