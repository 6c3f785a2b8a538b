// What one touch of a run costs when many have come before it: the time for each in a run of 3,000
// and of 10,000, over that in a run of 1,000. What comes next and how many are left is asked each
// time, as the operator's view does.
#include "ratio.h"
#include "run/session.h"

namespace alder::bench {
namespace {

constexpr int kTouches = 20; // of a feature

struct Long {
  std::shared_ptr<Plan> plan = std::make_shared<Plan>();
  std::shared_ptr<Way> way = std::make_shared<Way>();
};

Long longRun(int touches) {
  Long l;
  l.plan->bench.styli = {Stylus{}};
  l.plan->bench.styli[0].tips = {Tip{}};
  for (int f = 0; f < touches / kTouches; ++f) {
    const FeatureId id{f};
    NominalFeature n;
    n.id = id;
    l.plan->spec.features.push_back(std::move(n));
    Feature feature;
    feature.id = id;
    feature.access = {0, 0, 0, 0};
    l.way->steps.push_back({StepKind::Measure, "", id});
    l.way->steps.back().first = static_cast<int>(l.way->positions.size());
    for (int k = 0; k < kTouches; ++k) {
      const Vec3 at(f % 100, f / 100, k);
      feature.touches.push_back({at, Vec3::UnitX(), FaceId{0}, 0});
      for (const MoveKind kind : {MoveKind::Approach, MoveKind::Touch, MoveKind::Retract})
        l.way->positions.push_back({kind, at, feature.access, f, id, k, kind == MoveKind::Touch});
    }
    l.way->steps.back().last = static_cast<int>(l.way->positions.size()) - 1;
    l.plan->features.push_back(std::move(feature));
  }
  l.plan->steps = measureSteps([&] {
    std::vector<FeatureId> all;
    for (const Feature& f : l.plan->features)
      all.push_back(f.id);
    return all;
  }());
  return l;
}

double secondsForEach(int touches) {
  const Long l = longRun(touches);
  int done = 0, left = 0;
  const double seconds = medianSeconds(
      [&] {
        RunSession session(l.plan, l.way);
        done = 0;
        while (const auto task = session.next()) {
          left += session.touchesLeft();
          if (task->kind != RunTask::Kind::Touch) {
            session.moved(*task);
            continue;
          }
          if (!session.take(Touched{{task->feature, task->touch_index, task->ball, 1}})) break;
          ++done;
        }
      },
      5);
  return done == touches ? seconds / touches : 1e9; // it did not come to its end
}

double growth(int touches) {
  return secondsForEach(touches) / secondsForEach(1000);
}

} // namespace

std::vector<Ratio> runEvents() {
  return {{"run/a-touch of 3000 over one of 1000", 1.5, [] { return growth(3000); }},
          {"run/a-touch of 10000 over one of 1000", 1.5, [] { return growth(10000); }}};
}

} // namespace alder::bench
