#include "paper/callout_layout.h"

#include "base/random.h"
#include "paper/assignment.h"
#include "support.h"
#include <algorithm>
#include <numeric>

using namespace alder;

// Labels round pictures with their anchors by lot: what must not be is looked for by another rule
// than the one by which they were placed.
class CalloutLayoutTest : public QObject {
  Q_OBJECT

  struct View {
    std::vector<CalloutAsked> asked;
    CalloutSpace space;
  };

  static View byLot(int seed, int count) {
    Random random(static_cast<std::uint64_t>(seed));
    View view;
    const double w = random.uniform(160, 240), h = random.uniform(110, 170);
    view.space.all = {0, 0, w, h};
    view.space.middle = Area{0, 0, w, h}.inner(random.uniform(16, 22));
    view.space.gap = 1;
    for (int i = 0; i < count; ++i) {
      const Area& m = view.space.middle;
      CalloutAsked a;
      a.anchor = {random.uniform(m.x, m.right()), random.uniform(m.y, m.bottom())};
      if (i % 7 == 6) a.anchor = view.asked.back().anchor; // two requirements of one place
      a.width = random.uniform(5, 12), a.height = 5;
      view.asked.push_back(a);
    }
    return view;
  }

  // Orientation of three points; crossing where the ends of each lie on both sides of the other.
  static double turn(const Vec2& a, const Vec2& b, const Vec2& c) {
    return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
  }
  static bool cross(const CalloutPlaced& p, const CalloutPlaced& q) {
    return turn(p.from, p.to, q.from) * turn(p.from, p.to, q.to) < -1e-12 &&
           turn(q.from, q.to, p.from) * turn(q.from, q.to, p.to) < -1e-12;
  }
  // Sampled along the leader.
  static bool runsOver(const CalloutPlaced& p, const Area& label) {
    for (int i = 1; i < 50; ++i) {
      const Vec2 at = p.from + (p.to - p.from) * (i / 50.0);
      if (label.inner(0.01).holds(at)) return true;
    }
    return false;
  }
  static std::string wrongIn(const View& view,
                             const std::vector<std::optional<CalloutPlaced>>& placed) {
    for (std::size_t i = 0; i < placed.size(); ++i) {
      if (!placed[i]) continue;
      if (!view.space.all.holds(placed[i]->label)) return "outside";
      if (placed[i]->label.overlaps(view.space.middle, 1e-9)) return "over the picture";
      for (const Area& taken : view.space.taken)
        if (placed[i]->label.overlaps(taken, 1e-9)) return "over what is taken";
      if ((placed[i]->to - view.asked[i].anchor).norm() > 0) return "points elsewhere";
      for (std::size_t k = 0; k < placed.size(); ++k) {
        if (k == i || !placed[k]) continue;
        if (placed[i]->label.overlaps(placed[k]->label, 1e-9)) return "labels overlap";
        if (cross(*placed[i], *placed[k])) return "leaders cross";
        if (runsOver(*placed[i], placed[k]->label)) return "a leader over a label";
      }
    }
    return {};
  }

 private slots:
  void twoHundredViews() {
    for (int seed = 0; seed < 200; ++seed) {
      const View view = byLot(seed, 1 + seed % 40);
      const auto placed = placeCallouts(view.asked, view.space);
      const std::string wrong = wrongIn(view, placed);
      QVERIFY2(wrong.empty(), qPrintable(QString("%1 in %2").arg(wrong.c_str()).arg(seed)));
      QVERIFY2(std::all_of(placed.begin(), placed.end(), [](auto& p) { return p.has_value(); }),
               qPrintable(QString::number(seed)));
    }
  }

  // More than there is room for: those placed are as they should be, the others are told.
  void moreThanHaveRoom() {
    for (int seed = 0; seed < 40; ++seed) {
      View view = byLot(seed, 60);
      view.space.all = {0, 0, 120, 60};
      view.space.middle = view.space.all.inner(18);
      Random random(static_cast<std::uint64_t>(seed));
      for (CalloutAsked& a : view.asked)
        a.anchor = {random.uniform(18, 102), random.uniform(18, 42)};
      const auto placed = placeCallouts(view.asked, view.space);
      const std::string wrong = wrongIn(view, placed);
      QVERIFY2(wrong.empty(), wrong.c_str());
      const auto count = std::count_if(placed.begin(), placed.end(), [](auto& p) { return !!p; });
      QVERIFY(count >= 15 && count < 60);
    }
  }

  // What a person has put somewhere stays; the others make room for it.
  void pinnedStay() {
    for (int seed = 0; seed < 50; ++seed) {
      View view = byLot(seed, 20);
      view.asked[3].pinned = Vec2(2, 30);
      view.space.taken.push_back({60, 0, 30, 12});
      const auto placed = placeCallouts(view.asked, view.space);
      QCOMPARE(placed[3]->label.x, 2.0);
      QCOMPARE(placed[3]->label.y, 30.0);
      for (std::size_t i = 0; i < placed.size(); ++i) {
        if (i == 3 || !placed[i]) continue;
        QVERIFY(!placed[i]->label.overlaps(placed[3]->label));
        QVERIFY(!placed[i]->label.overlaps(view.space.taken.front()));
      }
    }
  }

  void whatIsNotInThePicture() {
    View view = byLot(1, 3);
    view.asked[1].anchor = {-5, 10};
    const auto placed = placeCallouts(view.asked, view.space);
    QVERIFY(placed[0] && !placed[1] && placed[2]);
    QVERIFY(placeCallouts({}, view.space).empty());
  }

  // Against every order, where there are few.
  void assignmentIsLeast() {
    Random random(11);
    for (int seed = 0; seed < 60; ++seed) {
      const int rows = 1 + seed % 5, columns = rows + seed % 3;
      Eigen::MatrixXd cost(rows, columns);
      for (int r = 0; r < rows; ++r)
        for (int c = 0; c < columns; ++c)
          cost(r, c) = random.uniform(0, 10);
      const auto found = leastAssignment(cost);
      double sum = 0, least = 1e300;
      for (int r = 0; r < rows; ++r)
        sum += cost(r, static_cast<int>(found[static_cast<std::size_t>(r)]));
      std::vector<int> order(static_cast<std::size_t>(columns));
      std::iota(order.begin(), order.end(), 0);
      do {
        double s = 0;
        for (int r = 0; r < rows; ++r)
          s += cost(r, order[static_cast<std::size_t>(r)]);
        least = std::min(least, s);
      } while (std::next_permutation(order.begin(), order.end()));
      NEAR(sum, least, 1e-9);
    }
  }

  void crossings() {
    QVERIFY(segmentsCross({0, 0}, {2, 2}, {0, 2}, {2, 0}));
    QVERIFY(!segmentsCross({0, 0}, {1, 1}, {1, 1}, {2, 0})); // ends that touch
    const Area box{1, 1, 2, 2};
    QVERIFY(crossesArea({0, 2}, {4, 2}, box));
    QVERIFY(crossesArea({2, 2}, {9, 9}, box));
    QVERIFY(!crossesArea({0, 0}, {0, 4}, box));
    QVERIFY(!crossesArea({0, 2}, {1, 2}, box)); // up to its edge
    QVERIFY(!crossesArea({0, 3.5}, {0.6, 4}, box));
  }
};

ALDER_TEST(CalloutLayoutTest)
#include "callout_layout_test.moc"
