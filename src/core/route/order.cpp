#include "route/order.h"

#include "fit/small_linear.h"
#include "plan/steps/steps.h"
#include "requirement/modifiers.h"
#include "route/feature_router.h"
#include "route/sequence.h"
#include "route/time_model.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace alder {
namespace {

// In its place what is touched of it in the set-up that is worked on, if anything is.
std::optional<FeatureId> inThisSetup(const Plan& plan, FeatureId id) {
  if (isOfSetup(plan, plan.feature(id))) return id;
  for (FeatureId joining : joiningIn(plan, plan.setup))
    if (plan.nominal(joining).portion->of == id) return joining;
  return {};
}

// The datum system that most requirements use; longer ones win, since they fix more of the frame.
std::vector<FeatureId> mostUsedDatums(const Plan& plan) {
  std::map<std::string, std::pair<int, std::vector<FeatureId>>> systems;
  for (const Requirement& r : plan.spec.requirements) {
    if (r.datums.empty()) continue;
    std::vector<FeatureId> features;
    for (const auto& d : r.datums)
      for (const auto& letter : d.letters)
        if (const Datum* datum = plan.spec.datum(letter))
          for (FeatureId f : datum->features)
            if (std::find(features.begin(), features.end(), f) == features.end())
              features.push_back(f);
    auto& entry = systems[describe(r.datums)];
    entry.first += static_cast<int>(1 + 3 * r.datums.size());
    entry.second = features;
  }
  std::vector<FeatureId> best;
  int most = 0;
  for (const auto& [name, entry] : systems)
    if (entry.first > most) most = entry.first, best = entry.second;
  std::vector<FeatureId> here;
  for (FeatureId id : best)
    if (const auto found = inThisSetup(plan, id)) here.push_back(*found);
  return here;
}

bool canAlign(SurfaceType type) {
  return type != SurfaceType::Freeform && type != SurfaceType::Torus;
}

double size(const PartModel& part, const NominalFeature& f) {
  double area = 0;
  for (FaceId id : f.faces)
    area += part.face(id).area;
  return area;
}

// In how many ways of six the touches of these features hold the part, and how firmly: the sum of
// the logarithms of what holds each of these ways. A feature that holds a turn by a short lever,
// or nearly along its own axis, makes much of its own error: the part would lie askew.
struct Hold {
  int ways = 0;
  double firmness = 0;
};
Hold holdOf(const Plan& plan, const std::vector<FeatureId>& features) {
  constexpr double kHeld = 1e-4; // of the best held way
  const Box3 box = plan.part->mesh.box();
  const double reach = std::max(1.0, box.diagonal().norm() / 2);
  SmallMatrix sum = SmallMatrix::Zero(6, 6);
  for (FeatureId id : features) {
    const auto& touches = plan.feature(id).touches;
    for (const Touch& t : touches) {
      SmallVector row(6);
      row << (t.point - box.center()).cross(t.normal) / reach, t.normal;
      sum += row * row.transpose() / static_cast<double>(touches.size());
    }
  }
  const SmallVector values = eigenpairs(sum).values;
  Hold hold;
  for (int k = 0; k < 6 && values[5] > 0; ++k)
    if (values[k] > kHeld * values[5]) ++hold.ways, hold.firmness += std::log(values[k]);
  return hold;
}

// A feature like one that is there already adds little: same plane direction, same axis.
bool isLike(const Plan& plan, FeatureId f, FeatureId o) {
  const Ideal &i = plan.nominal(f).ideal, &other = plan.nominal(o).ideal;
  const bool planes = other.type == SurfaceType::Plane && i.type == SurfaceType::Plane;
  const bool axes = other.type != SurfaceType::Plane && i.type != SurfaceType::Plane;
  const Vec3 between = i.point - other.point;
  const bool parallel = std::abs(i.direction.dot(other.direction)) > 0.999;
  return o == f || (parallel && (planes || (axes && between.cross(other.direction).norm() < 1)));
}

// Three features at least, more where three leave the part free to slide or turn: each the one that
// holds it in most further ways, of equals the firmest.
void completeAlignment(const Plan& plan, std::vector<FeatureId>& alignment) {
  constexpr std::size_t kLeast = 3, kMost = 5;
  constexpr int kAllWays = 6;
  std::erase_if(alignment, [&](FeatureId f) { return !plan.feature(f).covered(); });
  std::vector<FeatureId> rest;
  for (const Feature& f : plan.features)
    if (isOfSetup(plan, f) && f.covered() && canAlign(plan.nominal(f.id).ideal.type))
      rest.push_back(f.id);
  std::stable_sort(rest.begin(), rest.end(), [&](FeatureId a, FeatureId b) {
    return size(*plan.part, plan.nominal(a)) > size(*plan.part, plan.nominal(b));
  });
  int held = holdOf(plan, alignment).ways;
  while (alignment.size() < kMost && (alignment.size() < kLeast || held < kAllWays)) {
    std::optional<FeatureId> best;
    Hold most{held, 0};
    for (FeatureId f : rest) {
      if (std::any_of(alignment.begin(), alignment.end(), [&](FeatureId o) {
            return o == f || (held == kAllWays && isLike(plan, f, o));
          }))
        continue;
      auto with = alignment;
      with.push_back(f);
      const Hold then = holdOf(plan, with);
      const bool unlike = std::none_of(alignment.begin(), alignment.end(),
                                       [&](FeatureId o) { return isLike(plan, f, o); });
      const bool firmer =
          then.ways == most.ways && then.ways > held && then.firmness > most.firmness + 1e-9;
      if (then.ways > most.ways || firmer || (!best && unlike && alignment.size() < kLeast))
        best = f, most = then;
    }
    if (!best) break;
    alignment.push_back(*best);
    held = most.ways;
  }
}

// Where the ball comes in and goes out, machine frame.
struct Ends {
  Vec3 in, out;
};
Ends endsOf(const Plan& plan, const Feature& f) {
  if (f.touches.empty()) return {Vec3::Zero(), Vec3::Zero()};
  const double radius = f.access.valid() ? plan.tip(f.access).ball_diameter / 2 : 0;
  return {touchMove(plan, f, f.touches.front(), radius).approach,
          touchMove(plan, f, f.touches.back(), radius).retract};
}

// Seconds from one feature to the next: straight where the head stays as it is, else up, across at
// the height at which it turns, and down.
double seconds(const Plan& plan, double above, const Feature& from, const Feature& to) {
  const Machine& machine = plan.bench.machine;
  const Vec3 start = endsOf(plan, from).out, end = endsOf(plan, to).in;
  if (!from.access.valid() || !to.access.valid() || from.access == to.access)
    return moveSeconds(machine, start, end);
  const double height = std::max({above, start.z(), end.z()});
  const Vec3 up(start.x(), start.y(), height), down(end.x(), end.y(), height);
  const double swap = from.access.stylus == to.access.stylus ? 0 : kSwapSeconds;
  return moveSeconds(machine, start, up) + moveSeconds(machine, up, down) +
         moveSeconds(machine, down, end) + swap +
         turnSeconds(plan.bench.head, from.access, to.access);
}

// What is ordered as one: a measure step with what stands within it and notes before it, or a
// group; pinned features with the one that they stay behind.
struct Chain {
  Steps steps;
  std::vector<FeatureId> features; // measured in it; empty: it does something else and stays put
};

// The steps at one depth from `begin` to `end`, parted into chains.
std::vector<Chain> chainsOf(const Plan& plan, const Steps& steps, std::size_t begin,
                            std::size_t end) {
  std::vector<Chain> chains;
  Steps notes;
  for (std::size_t i = begin; i < end;) {
    const std::size_t next = endOf(steps, i);
    Chain chain{std::move(notes), {}};
    notes.clear();
    chain.steps.insert(chain.steps.end(), steps.begin() + static_cast<std::ptrdiff_t>(i),
                       steps.begin() + static_cast<std::ptrdiff_t>(next));
    const bool measures = measuredIn(steps[i].body).valid() ||
                          traitsOf(steps[i].body).holds == StepTraits::Holds::All;
    if (measures) chain.features = measuringOrder(chain.steps);
    i = next;
    if (traitsOf(chain.steps.back().body).with_next && !measures && i < end) {
      notes = std::move(chain.steps);
      continue;
    }
    const bool joins = !chain.features.empty() && plan.feature(chain.features.front()).pinned &&
                       !chains.empty() && !chains.back().features.empty();
    if (!joins) {
      chains.push_back(std::move(chain));
      continue;
    }
    Chain& before = chains.back();
    before.steps.insert(before.steps.end(), chain.steps.begin(), chain.steps.end());
    before.features.insert(before.features.end(), chain.features.begin(), chain.features.end());
  }
  return chains;
}

// About the height at which there is room to turn.
double turningHeight(const Plan& plan) {
  return transformed(plan.part->mesh.box(), plan.placement).max().z() + 150;
}

} // namespace

namespace {

class Orderer {
 public:
  explicit Orderer(const Plan& plan)
      : plan_(plan)
      , above_(turningHeight(plan)) {}

  // Features of the part frame lead and stay as they are.
  Steps ordered() {
    const Steps& steps = plan_.steps;
    Steps result;
    std::size_t begin = 0;
    std::set<FeatureId> left(plan_.alignment.begin(), plan_.alignment.end());
    while (begin < steps.size() && !left.empty()) {
      const std::size_t next = endOf(steps, begin);
      for (; begin < next; ++begin) {
        result.push_back(steps[begin]);
        if (const FeatureId id = measuredIn(steps[begin].body); id.valid())
          left.erase(id), last_ = id;
      }
    }
    for (Chain& c : orderedChains(chainsOf(plan_, steps, begin, steps.size())))
      result.insert(result.end(), c.steps.begin(), c.steps.end());
    return result;
  }

 private:
  double between(FeatureId a, FeatureId b) const {
    return seconds(plan_, above_, plan_.feature(a), plan_.feature(b));
  }

  // Between two chains that do something else, the others in the order that takes least time.
  std::vector<Chain> orderedChains(std::vector<Chain> chains) {
    std::vector<Chain> result;
    for (std::size_t i = 0; i < chains.size();) {
      if (chains[i].features.empty()) {
        result.push_back(std::move(chains[i++]));
        continue;
      }
      std::size_t end = i;
      std::vector<Chain> run;
      for (; end < chains.size() && !chains[end].features.empty(); ++end)
        run.push_back(std::move(chains[end]));
      i = end;
      const Sequence best = shortSequence(
          run.size(),
          [&](std::size_t k) {
            return last_.valid() ? between(last_, run[k].features.front()) : 0.0;
          },
          [&](std::size_t a, std::size_t b) {
            return between(run[a].features.back(), run[b].features.front());
          });
      for (const std::size_t k : best.order) {
        withinGroup(run[k]);
        last_ = run[k].features.back();
        result.push_back(std::move(run[k]));
      }
    }
    return result;
  }

  // What a group holds, from where the machine comes; its place is settled.
  void withinGroup(Chain& chain) {
    if (chain.steps.empty() || traitsOf(chain.steps.front().body).holds != StepTraits::Holds::All ||
        endOf(chain.steps, 0) != chain.steps.size())
      return;
    const auto inner = orderedChains(chainsOf(plan_, chain.steps, 1, chain.steps.size()));
    Steps steps{chain.steps.front()};
    for (const Chain& c : inner)
      steps.insert(steps.end(), c.steps.begin(), c.steps.end());
    chain.steps = std::move(steps);
    chain.features = measuringOrder(chain.steps);
  }

  const Plan& plan_;
  double above_;
  FeatureId last_; // measured before what is being ordered
};

} // namespace

std::size_t cheapestPlace(const Plan& plan, FeatureId feature) {
  const double above = turningHeight(plan);
  const Feature& f = plan.feature(feature);
  const auto cost = [&](FeatureId from, FeatureId to) {
    return from.valid() && to.valid() ? seconds(plan, above, plan.feature(from), plan.feature(to))
                                      : 0.0;
  };
  // Places are before steps that stand in no other, and the end.
  std::set<FeatureId> aligning(plan.alignment.begin(), plan.alignment.end());
  std::size_t best = plan.steps.size();
  double least = 1e300;
  FeatureId before;
  for (std::size_t i = 0; i <= plan.steps.size();) {
    const std::size_t next = i < plan.steps.size() ? endOf(plan.steps, i) : i + 1;
    std::vector<FeatureId> inside;
    if (i < plan.steps.size())
      inside = measuringOrder(Steps(plan.steps.begin() + static_cast<std::ptrdiff_t>(i),
                                    plan.steps.begin() + static_cast<std::ptrdiff_t>(next)));
    std::erase(inside, feature);
    const FeatureId after = inside.empty() ? FeatureId{} : inside.front();
    const bool follows = after.valid() && plan.feature(after).pinned;
    if (aligning.empty() && !(follows && before.valid())) {
      double more = cost(before, feature);
      if (after.valid()) more += seconds(plan, above, f, plan.feature(after)) - cost(before, after);
      if (more < least - 1e-9) least = more, best = i;
    }
    for (FeatureId id : inside)
      aligning.erase(id), before = id;
    i = next;
  }
  return best;
}

void orderForTime(Plan& plan) {
  plan.steps = Orderer(plan).ordered();
}

void planOrder(Plan& plan) {
  plan.alignment = mostUsedDatums(plan);
  completeAlignment(plan, plan.alignment);
  std::vector<FeatureId> order = plan.alignment;
  const std::set<FeatureId> first(plan.alignment.begin(), plan.alignment.end());
  for (const Feature& f : plan.features)
    if (isOfSetup(plan, f) && !first.count(f.id) && !plan.nominal(f.id).isConstructed())
      order.push_back(f.id);
  plan.steps = measureSteps(order);
  orderForTime(plan);
}

} // namespace alder
