#include "plan/bench_following.h"

#include <algorithm>

namespace alder {
namespace {

// The same ball at the same place of the head.
bool sameTip(const Tip& a, const Tip& b) {
  return a.ball_diameter == b.ball_diameter && a.pivot_to_ball == b.pivot_to_ball &&
         a.direction == b.direction;
}

// The stylus that stands in its place under a name that was not there before: it was renamed.
bool renamed(const Bench& before, const Bench& now, int stylus) {
  if (before.styli.size() != now.styli.size()) return false;
  const std::string& name = now.styli[static_cast<std::size_t>(stylus)].name;
  return std::none_of(before.styli.begin(), before.styli.end(),
                      [&](const Stylus& s) { return s.name == name; });
}

// Where a tip of one bench is found in another, by names; nothing where it is gone.
std::optional<Access> sameNamed(const Bench& before, const Bench& now, Access access) {
  const Stylus& old = before.styli[static_cast<std::size_t>(access.stylus)];
  const std::string& tip = old.tips[static_cast<std::size_t>(access.tip)].name;
  for (std::size_t s = 0; s < now.styli.size(); ++s)
    for (std::size_t t = 0; t < now.styli[s].tips.size(); ++t)
      if (now.styli[s].tips[t].name == tip &&
          (now.styli[s].name == old.name ||
           (static_cast<int>(s) == access.stylus && renamed(before, now, access.stylus)))) {
        access.stylus = static_cast<int>(s), access.tip = static_cast<int>(t);
        return access;
      }
  return {};
}

} // namespace

SetBench::Following followingOf(const Plan& plan, const Bench& now) {
  SetBench::Following f;
  for (const Feature& feature : plan.features) {
    std::optional<Access> access;
    if (feature.access.valid()) access = sameNamed(plan.bench, now, feature.access);
    if (access) {
      access->a = now.head.a.nearest(access->a);
      access->b = now.head.b.nearest(access->b);
    }
    f.accesses.push_back({access.value_or(Access{}), access && feature.access_forced});
  }
  f.qualified.sphere = plan.qualified.sphere;
  const bool same_sphere = plan.bench.has_sphere == now.has_sphere &&
                           plan.bench.sphere.centre == now.sphere.centre &&
                           plan.bench.sphere.diameter == now.sphere.diameter;
  for (QualifiedTip tip : plan.qualified.tips) {
    const auto there = sameNamed(plan.bench, now, tip.access);
    if (!same_sphere || !there) continue;
    const Tip& old = plan.tip(tip.access);
    tip.access = *there;
    if (sameTip(old, now.styli[static_cast<std::size_t>(there->stylus)]
                         .tips[static_cast<std::size_t>(there->tip)]))
      f.qualified.tips.push_back(tip);
  }
  return f;
}

} // namespace alder
