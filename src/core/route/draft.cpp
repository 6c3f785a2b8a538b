#include "route/draft.h"

#include "requirement/from_pmi.h"
#include "route/cover.h"
#include "route/draft_setups.h"
#include "route/order.h"
#include "route/touch_leverage.h"
#include <algorithm>
#include <map>
#include <set>

namespace alder {
namespace {

constexpr const char* kNoStanding =
    "it has no flat face on which it can stand, and floats; build its fixture in the Bench desk";

// Where nobody has placed it: as most features seem to be open.
void standBest(Plan& plan) {
  const auto standings = standingsOf(*plan.part, plan.spec, plan.bench);
  stand(plan, standings.empty() ? inTheAir(*plan.part, plan.spec, plan.bench) : standings.front());
  std::erase_if(plan.notes, [](const Note& n) { return n.text == kNoStanding; });
  if (standings.empty()) plan.notes.push_back({0, kNoStanding});
}

// What this standing does not reach, and another might.
std::vector<FeatureId> openOf(const Plan& plan) {
  std::vector<FeatureId> open;
  for (const Feature& f : plan.features) {
    if (plan.nominal(f.id).portion) continue;
    if (f.covered() ? touchedPoorly(plan, f) : hasPlaces(plan, f.id)) open.push_back(f.id);
  }
  return open;
}

// Which of these features are reached so; poorly: on a small part of them, which few tolerances
// allow.
struct Reached {
  std::vector<FeatureId> well, poorly;
};
Result<Reached> reachedSo(const Plan& begun, const Standing& standing,
                          const std::vector<FeatureId>& features, const Progress& progress) {
  auto other = standingSo(begun, standing);
  if (!other) return pass(other.error());
  other->setup = SetupId{other->setup.value + 1}; // only these are planned
  for (FeatureId id : features)
    other->feature(id).setup = other->setup;
  auto done = plannedAll(std::move(*other), progress, nullptr);
  if (!done) return pass(done.error());
  Reached reached;
  for (FeatureId id : features)
    if (const Feature& f = done->feature(id); f.covered())
      (touchedPoorly(*done, f) ? reached.poorly : reached.well).push_back(id);
  return reached;
}

struct Choice {
  std::vector<std::size_t> further; // of the standings
  bool alone = false;               // the only one of them reaches all that is open
};

// Other standings for what is open, the fewest that reach most of it; poorly where `best` does not
// reach it at all, nor any of them well.
Result<Choice> choose(const Plan& begun, const Plan& best, const std::vector<Standing>& standings,
                      const std::vector<FeatureId>& open, const Progress& progress) {
  const auto among = [](const std::vector<FeatureId>& ids, FeatureId id) {
    return std::find(ids.begin(), ids.end(), id) != ids.end();
  };
  std::vector<Reached> reached;
  for (std::size_t i = 0; i < standings.size(); ++i) {
    const auto n = static_cast<double>(standings.size());
    const double from = static_cast<double>(i) / n;
    auto here = reachedSo(begun, standings[i], open, partOf(progress, from, from + 1 / n));
    if (!here) return pass(here.error());
    reached.push_back(std::move(*here));
  }
  const auto well = [&](FeatureId id) {
    return std::any_of(reached.begin(), reached.end(),
                       [&](const Reached& r) { return among(r.well, id); });
  };
  std::vector<CoverSet> sets;
  std::vector<std::size_t> which;
  for (std::size_t i = 0; i < standings.size(); ++i) {
    CoverSet set{1 + 0.001 * static_cast<double>(i), {}}; // of equals the one that is more open
    for (std::size_t k = 0; k < open.size(); ++k) {
      const bool poorly =
          among(reached[i].poorly, open[k]) && !best.feature(open[k]).covered() && !well(open[k]);
      if (among(reached[i].well, open[k]) || poorly) set.items.push_back(k);
    }
    if (set.items.empty()) continue;
    sets.push_back(std::move(set));
    which.push_back(i);
  }
  Choice choice;
  const Cover cover = cheapestCover(open.size(), sets);
  for (std::size_t s : cover.sets) {
    choice.further.push_back(which[s]);
    choice.alone = cover.sets.size() == 1 && sets[s].items.size() == open.size();
  }
  return choice;
}

// Standings chosen together, for what they let be judged: a requirement whose features are all
// reached in one of them, or in several that features which both reach hold together.
class Together {
 public:
  explicit Together(const std::vector<TriedStanding>& tried)
      : tried_(tried) {
    for (const TriedStanding& t : tried_)
      reached_.push_back(reachedIn(t.plan));
    const Plan& plan = tried_.front().plan;
    for (const Requirement& r : plan.spec.requirements) {
      std::vector<FeatureId> needed;
      for (FeatureId id : featuresNeeded(plan.spec, r))
        if (!plan.nominal(id).portion && !plan.nominal(id).faces.empty()) needed.push_back(id);
      needed_.push_back(std::move(needed));
    }
  }

  // For each beginning the one that adds most follows; of equals the fewer, and those that come
  // first.
  std::vector<std::size_t> best() {
    std::vector<std::size_t> best;
    std::size_t most = 0;
    for (std::size_t first = 0; first < tried_.size(); ++first) {
      std::vector<std::size_t> chosen{first};
      std::size_t now = judged(chosen);
      while (true) {
        std::optional<std::size_t> next;
        std::size_t then = now;
        for (std::size_t i = 0; i < tried_.size(); ++i) {
          chosen.push_back(i);
          if (const std::size_t with = judged(chosen); with > then) next = i, then = with;
          chosen.pop_back();
        }
        if (next) {
          chosen.push_back(*next);
          now = then;
        } else if (const auto pair = bestPair(chosen, now)) {
          chosen.insert(chosen.end(), {pair->first, pair->second});
          now = judged(chosen);
        } else {
          break;
        }
      }
      if (now > most || (now == most && chosen.size() < best.size()))
        best = std::move(chosen), most = now;
    }
    return best;
  }

 private:
  // Two that add something only with each other.
  std::optional<std::pair<std::size_t, std::size_t>> bestPair(std::vector<std::size_t> chosen,
                                                              std::size_t now) {
    std::optional<std::pair<std::size_t, std::size_t>> best;
    for (std::size_t i = 0; i < tried_.size(); ++i)
      for (std::size_t j = 0; j < tried_.size(); ++j) {
        if (i == j) continue;
        chosen.insert(chosen.end(), {i, j});
        if (const std::size_t with = judged(chosen); with > now) best = {i, j}, now = with;
        chosen.resize(chosen.size() - 2);
      }
    return best;
  }

  bool firm(std::size_t a, std::size_t b) {
    const auto key = std::pair{std::min(a, b), std::max(a, b)};
    if (!firm_.count(key)) firm_[key] = joinFirmly(tried_[key.first].plan, tried_[key.second].plan);
    return firm_[key];
  }
  // How many requirements can be judged.
  std::size_t judged(const std::vector<std::size_t>& chosen) {
    std::set<FeatureId> together = reached_[chosen.front()];
    std::vector<std::size_t> joined{chosen.front()};
    for (std::size_t k = 1; k < chosen.size(); ++k)
      if (std::any_of(joined.begin(), joined.end(),
                      [&](std::size_t j) { return firm(j, chosen[k]); })) {
        joined.push_back(chosen[k]);
        together.insert(reached_[chosen[k]].begin(), reached_[chosen[k]].end());
      }
    const auto within = [](const std::vector<FeatureId>& needed, const std::set<FeatureId>& set) {
      return std::all_of(needed.begin(), needed.end(),
                         [&](FeatureId id) { return set.count(id) > 0; });
    };
    return static_cast<std::size_t>(
        std::count_if(needed_.begin(), needed_.end(), [&](const std::vector<FeatureId>& needed) {
          return within(needed, together) ||
                 std::any_of(chosen.begin(), chosen.end(),
                             [&](std::size_t c) { return within(needed, reached_[c]); });
        }));
  }

  const std::vector<TriedStanding>& tried_;
  std::vector<std::set<FeatureId>> reached_;
  std::vector<std::vector<FeatureId>> needed_; // by requirement
  std::map<std::pair<std::size_t, std::size_t>, bool> firm_;
};

// A reason speaks of one standing; what is left was sought in all. `elsewhere`: planned as a whole.
void tellWhatWasTried(Plan& plan, const std::vector<TriedStanding>& elsewhere,
                      std::size_t standings) {
  for (Feature& f : plan.features) {
    if (f.covered() || plan.nominal(f.id).portion) continue;
    const auto there =
        std::find_if(elsewhere.begin(), elsewhere.end(), [&](const TriedStanding& t) {
          return t.plan.features.holds(f.id) && t.plan.feature(f.id).covered();
        });
    const std::size_t at = f.why_not.find(kAnotherStandingMay);
    if (there != elsewhere.end())
      f.why_not =
          fmt::format("it is reached with the part on {}, but that set-up cannot be joined: "
                      "what both would touch leaves the part free",
                      liesOn(plan, there->standing.placement, there->standing.supports));
    else if (at != std::string::npos)
      f.why_not.replace(at, kAnotherStandingMay.size(),
                        fmt::format("nor does any of the {} standings that were tried", standings));
  }
}

// Set-ups for what one standing leaves open.
Done addFurther(Plan& best, const Plan& begun, const std::vector<FeatureId>& open,
                const Progress& progress) {
  std::vector<Standing> others;
  bool by_hand = true; // it stands as a person has set it
  for (Standing& s : standingsOf(*begun.part, begun.spec, begun.bench)) {
    if (stands(begun, s))
      by_hand = false;
    else
      others.push_back(std::move(s));
  }
  auto choice = choose(begun, best, others, open, partOf(progress, 0, 0.6));
  if (!choice) return pass(choice.error());
  std::vector<Standing> chosen;
  for (std::size_t i : choice->further)
    chosen.push_back(others[i]);
  auto tried = tryStandings(begun, chosen, partOf(progress, 0.6, 0.7));
  if (!tried) return pass(tried.error());
  // One standing that reaches all is better than two.
  if (choice->alone && !by_hand && openOf(tried->front().plan).empty()) {
    best = std::move(tried->front().plan);
    return {};
  }
  std::vector<TriedStanding> elsewhere;
  const bool apart = std::any_of(tried->begin(), tried->end(),
                                 [&](const TriedStanding& t) { return !joinFirmly(best, t.plan); });
  if (apart && !by_hand) {
    auto all = tryStandings(begun, others, partOf(progress, 0.7, 0.9));
    if (!all) return pass(all.error());
    all->insert(all->begin(), {standingNow(best), best});
    const auto together = Together(*all).best();
    best = (*all)[together.front()].plan;
    tried->clear();
    for (std::size_t i = 1; i < together.size(); ++i)
      tried->push_back((*all)[together[i]]);
    elsewhere = std::move(*all);
  }
  for (const TriedStanding& t : *tried)
    if (auto done = addSetup(best, t, partOf(progress, 0.9, 1)); !done) return done;
  tellWhatWasTried(best, elsewhere, others.size() + 1);
  return {};
}

} // namespace

Plan beginPlan(PartPtr part, Bench bench) {
  Plan plan;
  plan.name = part->name;
  plan.part = std::move(part);
  plan.bench = std::move(bench);
  plan.notes = plan.part->notes;
  Specification spec = specificationFromPmi(*plan.part, plan.notes);
  if (spec.requirements.empty())
    plan.notes.push_back({0, "the model holds no tolerances that can be read"});
  if (plan.bench.fixture.placement) plan.placement = *plan.bench.fixture.placement;
  return withSpecification(std::move(plan), std::move(spec));
}

Plan withSpecification(Plan plan, Specification spec) {
  plan.spec = std::move(spec);
  if (!plan.bench.fixture.placement) standBest(plan);
  plan.features = {};
  for (const NominalFeature& nominal : plan.spec.features)
    plan.features.push_back({nominal.id, recipeFor(nominal, plan.spec, plan.book)});
  return plan;
}

Result<Plan> completePlan(Plan plan, const Progress& progress, AccessCount* count) {
  auto best = plannedAll(plan, partOf(progress, 0, 0.4), count);
  if (!best) return best;
  if (const auto open = openOf(*best); !open.empty())
    if (auto done = addFurther(*best, plan, open, partOf(progress, 0.4, 1)); !done)
      return pass(done.error());
  if (best->setups.empty()) planOrder(*best);
  return best;
}

Result<Plan> draftPlan(PartPtr part, Bench bench, const Progress& progress, AccessCount* count) {
  return completePlan(beginPlan(std::move(part), std::move(bench)), progress, count);
}

} // namespace alder
