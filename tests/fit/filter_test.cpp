#include "base/random.h"
#include "base/units.h"
#include "fit/filter.h"
#include "support.h"

using namespace alder;

namespace {

Profile waveProfile(int points, double length, double wavelength, double amplitude, bool closed) {
  Profile p;
  p.period = closed ? length : 0;
  for (int i = 0; i < points; ++i) {
    const double x = length * i / (closed ? points : points - 1);
    p.positions.push_back(x);
    p.values.push_back(amplitude * std::cos(2 * kPi * x / wavelength));
  }
  return p;
}

double amplitudeOf(const Profile& p, const std::vector<double>& values) {
  double most = 0;
  for (std::size_t i = 0; i < values.size(); ++i)
    if (p.period > 0 || (p.positions[i] > 3 && p.positions[i] < p.positions.back() - 3))
      most = std::max(most, std::abs(values[i]));
  return most;
}

} // namespace

class FilterTest : public QObject {
  Q_OBJECT

 private slots:
  // ISO 16610-21: transmission exp(-pi (alpha cutoff / wavelength)^2), one half at the cut-off.
  void transmissionOfWaves() {
    for (const double wavelength : {0.5, 0.8, 1.6, 4.0, 8.0})
      for (const bool closed : {true, false}) {
        const Profile p = waveProfile(4000, 40, wavelength, 1, closed);
        const double ratio = 0.8 / wavelength;
        NEAR(amplitudeOf(p, filtered(p, FilterKind::Gaussian, 0.8)),
             std::exp(-std::log(2.0) * ratio * ratio), 2e-4);
      }
  }
  // The moment criterion of ISO 16610-28 leaves a slope as it is, to the very ends.
  void straightLinesPassAnOpenFilter() {
    Profile p = waveProfile(200, 10, 1, 0, false);
    Random random(3);
    for (std::size_t i = 0; i < p.positions.size(); ++i) {
      p.positions[i] += random.uniform(-0.02, 0.02); // also of unequal spacing
      p.values[i] = 0.3 - 0.05 * p.positions[i];
    }
    for (const auto kind : {FilterKind::Gaussian, FilterKind::Robust}) {
      const auto out = filtered(p, kind, 2.5);
      for (std::size_t i = 0; i < out.size(); ++i)
        NEAR(out[i], p.values[i], 1e-9);
    }
  }
  void constantsPassAClosedFilter() {
    Profile p = waveProfile(90, 60, 60, 0, true);
    for (double& v : p.values)
      v = 0.25;
    for (const double cutoff : {0.1, 5.0, 200.0, 1e300})
      for (const double v : filtered(p, FilterKind::Gaussian, cutoff))
        NEAR(v, 0.25, 1e-12);
  }
  // Where the profile is cut open does not matter.
  void closedProfilesHaveNoSeam() {
    Random random(5);
    Profile p = waveProfile(100, 60, 60, 0.01, true), turned = p;
    for (std::size_t i = 0; i < 100; ++i)
      p.values[i] += 0.002 * random.normal();
    for (std::size_t i = 0; i < 100; ++i)
      turned.values[i] = p.values[(i + 37) % 100];
    const auto a = filtered(p, FilterKind::Gaussian, 4),
               b = filtered(turned, FilterKind::Gaussian, 4);
    for (std::size_t i = 0; i < 100; ++i)
      NEAR(b[i], a[(i + 37) % 100], 1e-12);
  }
  void aSpikeBendsOnlyThePlainFilter() {
    Profile p = waveProfile(400, 40, 20, 0.01, false);
    const auto clean = filtered(p, FilterKind::Gaussian, 2.5);
    p.values[200] += 0.5;
    const auto plain = filtered(p, FilterKind::Gaussian, 2.5);
    const auto robust = filtered(p, FilterKind::Robust, 2.5);
    QVERIFY(std::abs(plain[200] - clean[200]) > 0.01);
    NEAR(robust[200], clean[200], 5e-5);
  }
  void nothingToFilter() {
    const Profile p = waveProfile(50, 10, 2, 1, false);
    QVERIFY(filtered(p, FilterKind::None, 1) == p.values);
    QVERIFY(filtered({{1}, {2}, 0}, FilterKind::Gaussian, 1) == std::vector<double>{2});
  }
  void outliersBySigmaGoUntilNoneIsLeft() {
    // 100 values of alternating sign and two that the first pass hides.
    std::vector<double> all;
    for (int i = 0; i < 100; ++i)
      all.push_back(i % 2 ? 0.001 : -0.001);
    all[10] = 1;
    all[20] = 0.05;
    Filtering f;
    f.outlier_sigma = 3;
    const DeviationsOf deviations = [&](const std::vector<std::size_t>& kept) {
      std::vector<double> d;
      for (const std::size_t i : kept)
        d.push_back(all[i]);
      return Result<std::vector<double>>(d);
    };
    const auto kept = withoutOutliers(all.size(), f, deviations);
    VERIFY_OK(kept);
    QCOMPARE(kept->size(), std::size_t(98));
    QVERIFY(std::find(kept->begin(), kept->end(), std::size_t(20)) == kept->end());
  }
  void outliersByShareAreTheFarthest() {
    Filtering f;
    f.outlier_share = 0.1;
    const auto kept = withoutOutliers(50, f, [](const std::vector<std::size_t>& rest) {
      std::vector<double> d;
      for (const std::size_t i : rest)
        d.push_back(i % 2 ? static_cast<double>(i) : -static_cast<double>(i));
      return Result<std::vector<double>>(d);
    });
    VERIFY_OK(kept);
    QCOMPARE(kept->size(), std::size_t(45));
    QCOMPARE(kept->back(), std::size_t(44));
  }
  void settingsThatMakeNoSense() {
    const auto refused = [](Filtering f) { return !validate(f).has_value(); };
    QVERIFY(refused({FilterKind::Gaussian, 0, 0, 0, 0}));
    QVERIFY(refused({FilterKind::Gaussian, -1, 0, 0, 0}));
    QVERIFY(refused({FilterKind::None, 0, 0, 0.5, 0}));
    QVERIFY(refused({FilterKind::None, 0, 0, 0, 0.6}));
    QVERIFY(!refused({FilterKind::Robust, 0, 15, 3, 0.01}));
    QVERIFY(!filterKindNamed("spline"));
    QCOMPARE(describe(Filtering{FilterKind::Gaussian, 0, 15, 3, 0}),
             std::string("Gaussian filter 15 undulations per revolution, outliers beyond 3 sigma "
                         "left out"));
  }
};

ALDER_TEST(FilterTest)
#include "filter_test.moc"
