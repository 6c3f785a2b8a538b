// Balloons of the Heron's drawing and of sheets drawn by lot: on free paper, leaders apart.
#include "drawing/balloon_layout.h"

#include "drafting/heron_drawing.h"
#include "drawing/accept.h"
#include "heron.h"
#include "part/step_import.h"
#include "sheet/sheet_file.h"
#include "support.h"

namespace {

using namespace alder;

class BalloonLayoutTest : public QObject {
  Q_OBJECT
  std::vector<DrawingSheet> sheets_;
  Specification taken_;

  // Of crossings of lines, by their end points alone.
  static bool meet(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
    const Vec2 u = b - a, v = d - c, w = c - a;
    const double turn = u.x() * v.y() - u.y() * v.x();
    if (std::abs(turn) < 1e-12) return false;
    const double s = (w.x() * v.y() - w.y() * v.x()) / turn,
                 t = (w.x() * u.y() - w.y() * u.x()) / turn;
    return s > 0.001 && s < 0.999 && t > 0.001 && t < 0.999;
  }

 private slots:
  void initTestCase() {
    const auto pdf = demo::heronDrawing();
    const auto step = demo::heronPlainStep();
    QVERIFY(pdf && step);
    auto sheets = readSheets(*pdf, "heron.pdf", 1, 2);
    const auto part = importStep(*step, "heron.step");
    QVERIFY(sheets && part);
    sheets_ = *sheets;
    const DrawingReading reading = readingOf(sheets_);
    taken_ = acceptProposals(**part, {}, reading, "heron.pdf",
                             sureChoices(reading, tiesOf(reading, sheets_, **part)))
                 .spec;
  }

  void standFreeAndApart() {
    const Specification spec = withBalloons(taken_, "heron.pdf", sheets_);
    const DrawingReading reading = readingOf(sheets_);
    for (int page = 1; page <= 2; ++page) {
      std::vector<Vec2> balloons;
      std::vector<BalloonLeader> leaders;
      for (const Requirement& r : spec.requirements) {
        if (r.spot->page != page) continue;
        QVERIFY(r.spot->balloon && !r.spot->balloon->pinned);
        const Vec2 at(r.spot->balloon->x, r.spot->balloon->y);
        const DrawingProposal* own = nullptr;
        for (const DrawingProposal& p : reading.proposals) {
          if (p.page != page) continue;
          const Box2 text = p.box.bounds();
          QVERIFY2(std::sqrt(text.squaredExteriorDistance(at)) >= kBalloonRadius - 1e-9,
                   (std::to_string(r.balloon) + " covers " + p.text).c_str());
          if ((p.box.middle() - Vec2(r.spot->x, r.spot->y)).norm() < 0.1) own = &p;
        }
        QVERIFY(own);
        QVERIFY((at - own->box.middle()).norm() < 60);
        balloons.push_back(at);
        leaders.push_back(leaderOf(at, own->box.bounds()));
      }
      for (std::size_t i = 0; i < balloons.size(); ++i)
        for (std::size_t k = i + 1; k < balloons.size(); ++k) {
          QVERIFY((balloons[i] - balloons[k]).norm() >= 2 * kBalloonRadius);
          QVERIFY(!meet(leaders[i].from, leaders[i].to, leaders[k].from, leaders[k].to));
        }
    }
  }

  // Kept: what has its place stays there, whatever comes later or is pinned.
  void whatHasAPlaceKeepsIt() {
    Specification some = taken_;
    for (Requirement& r : some.requirements)
      if (r.balloon > 20) r.spot.reset();
    some = withBalloons(some, "heron.pdf", sheets_);
    Specification all = some;
    for (Requirement& r : all.requirements)
      if (r.balloon > 20) r.spot = taken_.requirement(r.id).spot;
    all.requirements[3].spot->balloon = DrawingSpot::Balloon{50, 50, true};
    const Specification later = withBalloons(all, "heron.pdf", sheets_);
    for (const Requirement& r : later.requirements) {
      QVERIFY(r.spot->balloon);
      if (r.balloon <= 20) QVERIFY(r.spot->balloon == all.requirement(r.id).spot->balloon);
    }
    QVERIFY(withBalloons(later, "heron.pdf", sheets_) == later);
    QVERIFY(withBalloons(taken_, "another.pdf", sheets_) == taken_);
  }
};

} // namespace

ALDER_TEST(BalloonLayoutTest)
#include "balloon_layout_test.moc"
