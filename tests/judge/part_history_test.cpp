#include "base/random.h"
#include "judge/part_history.h"
#include "requirement/limits.h"
#include "support.h"

using namespace alder;

class PartHistoryTest : public QObject {
  Q_OBJECT
 private slots:
  // Worked by hand: figures 1 2 4 3, limits 0 and 6.
  void workedByHand() {
    const PartHistory h = historyOf({1, 2, 4, 3}, 0.0, 6.0);
    NEAR(h.mean, 2.5, 1e-12);
    NEAR(h.spread, std::sqrt(5.0 / 3), 1e-12);
    NEAR(h.within, (1 + 2 + 1) / 3.0 / 1.128379167, 1e-9);
    NEAR(h.control_high, 2.5 + 2.659574 * 4 / 3, 1e-6);
    NEAR(h.range_high, 3.266532 * 4 / 3, 1e-6);
    NEAR(h.pp->value, 6 / (6 * h.spread), 1e-12);
    NEAR(h.ppk->value, 2.5 / (3 * h.spread), 1e-12);
    NEAR(h.cp->value, 6 / (6 * h.within), 1e-12);
    // chi-squared with 3 degrees of freedom: 0.215795 and 9.348404
    NEAR(h.pp->low, h.pp->value * std::sqrt(0.2157953 / 3), 1e-6);
    NEAR(h.pp->high, h.pp->value * std::sqrt(9.3484036 / 3), 1e-6);
    QVERIFY(h.beyond.empty() && h.outside.empty());
  }
  void oneLimitAlone() {
    const PartHistory h = historyOf({0.01, 0.02, 0.015, 0.05}, std::nullopt, 0.04);
    QVERIFY(!h.cp && !h.pp && h.cpk && h.ppk);
    QVERIFY(h.outside == std::vector<std::size_t>{3});
    Requirement r;
    r.lower = 0.012, r.upper = kNoUpper;
    const PartHistory low = historyOf(r, {0.01, 0.02, 0.015, 0.05});
    QVERIFY(!low.cp && !low.pp && low.cpk && low.ppk);
    NEAR(low.ppk->value, (low.mean - 0.012) / (3 * low.spread), 1e-12);
    QVERIFY(low.outside == std::vector<std::size_t>{0});
  }
  void tooFewOrAlike() {
    QCOMPARE(historyOf({}, 0.0, 1.0).count, std::size_t(0));
    const PartHistory one = historyOf({2.0}, 0.0, 1.0);
    QVERIFY(!one.ppk && one.outside.size() == 1);
    const PartHistory alike = historyOf({0.5, 0.5, 0.5}, 0.0, 1.0);
    QVERIFY(!alike.ppk && !alike.cpk && alike.beyond.empty());
  }
  // A jump is beyond what the process does by itself.
  void aJumpIsSeen() {
    std::vector<double> figures;
    Random random(2);
    for (int i = 0; i < 30; ++i)
      figures.push_back(0.01 * random.normal());
    figures[20] = 0.2;
    const PartHistory h = historyOf(figures, -1.0, 1.0);
    QVERIFY(std::find(h.beyond.begin(), h.beyond.end(), 20) != h.beyond.end());
  }
  // Over many drawn samples the intervals hold the truth about as often as they say, and units and
  // the sign of the figures do not matter.
  void intervalsHoldTheTruth() {
    Random random(7);
    int pp_holds = 0, ppk_holds = 0;
    constexpr int kSamples = 1000;
    for (int k = 0; k < kSamples; ++k) {
      std::vector<double> figures, mirrored;
      for (int i = 0; i < 25; ++i) {
        figures.push_back(0.2 + 0.25 * random.normal());
        mirrored.push_back(-1000 * figures.back());
      }
      const PartHistory h = historyOf(figures, -1.0, 1.0), m = historyOf(mirrored, -1000.0, 1000.0);
      pp_holds += h.pp->low <= 2 / 1.5 && 2 / 1.5 <= h.pp->high;
      ppk_holds += h.ppk->low <= 0.8 / 0.75 && 0.8 / 0.75 <= h.ppk->high;
      NEAR(m.ppk->value, h.ppk->value, 1e-9);
      NEAR(m.cpk->low, h.cpk->low, 1e-9);
    }
    QVERIFY(pp_holds > 0.93 * kSamples && pp_holds < 0.97 * kSamples);
    QVERIFY(ppk_holds > 0.92 * kSamples && ppk_holds < 0.98 * kSamples);
  }
};
ALDER_TEST(PartHistoryTest)
#include "part_history_test.moc"
