#include "plan/setups/setup.h"

#include "plan/plan.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

constexpr const char* kOnly = "set-up 1";
constexpr const char* kFixtureKeys[] = {"fixture", "fixtures"};

Json fixtureOf(const Bench& bench) {
  const Json json = Json::parse(bench.json, nullptr, false);
  Json fixture = Json::object();
  for (const char* key : kFixtureKeys)
    if (json.is_object() && json.contains(key)) fixture[key] = json[key];
  return fixture;
}

// The content of the fields in the record of the set-up.
Setup filled(const Plan& plan, Setup setup) {
  setup.placement = plan.placement;
  setup.supports = plan.supports;
  setup.fixture = fixtureOf(plan.bench);
  setup.steps = plan.steps;
  setup.alignment = plan.alignment;
  setup.shell = plan.shell;
  return setup;
}

} // namespace

bool operator==(const Setup& a, const Setup& b) {
  return a.id == b.id && a.name == b.name && a.how == b.how && a.most_misfit == b.most_misfit &&
         a.placement.matrix() == b.placement.matrix() && a.supports == b.supports &&
         a.fixture == b.fixture && a.steps == b.steps && a.alignment == b.alignment &&
         a.shell == b.shell;
}

std::vector<Setup> setupsOf(const Plan& plan) {
  std::vector<Setup> all = plan.setups;
  if (all.empty()) all.push_back({plan.setup, kOnly});
  for (Setup& s : all)
    if (s.id == plan.setup) s = filled(plan, std::move(s));
  return all;
}

bool isAlone(const std::vector<Setup>& setups) {
  return setups.size() == 1 && setups[0].name == kOnly && setups[0].how.empty() &&
         setups[0].most_misfit == kMostMisfit;
}

Done workOn(Plan& plan, const Setup& setup) {
  if (setup.fixture != fixtureOf(plan.bench)) {
    Json json = Json::parse(plan.bench.json, nullptr, false);
    if (!json.is_object()) return fail("The bench has no file that a fixture can be put into.");
    for (const char* key : kFixtureKeys) {
      json.erase(key);
      if (setup.fixture.contains(key)) json[key] = setup.fixture[key];
    }
    auto bench = readBench(json.dump(2), setup.name);
    if (!bench) return pass(bench.error());
    plan.bench = std::move(*bench);
  }
  plan.setup = setup.id;
  plan.placement = setup.placement;
  plan.supports = setup.supports;
  plan.steps = setup.steps;
  plan.alignment = setup.alignment;
  plan.shell = setup.shell;
  standOn(plan.bench, plan.placement, plan.supports);
  return {};
}

Plan inSetup(const Plan& plan, SetupId id) {
  Plan other = plan;
  if (id == plan.setup) return other;
  other.setups = setupsOf(plan);
  for (const Setup& s : other.setups)
    if (s.id == id && !workOn(other, s)) return plan; // its fixture was read before
  return other;
}

SetupId firstSetup(const Plan& plan) {
  return plan.setups.empty() ? plan.setup : plan.setups.front().id;
}

std::size_t setupCount(const Plan& plan) {
  return std::max<std::size_t>(1, plan.setups.size());
}

std::string nameOfSetup(const Plan& plan, SetupId id) {
  for (const Setup& s : plan.setups)
    if (s.id == id) return s.name;
  return kOnly;
}

Done validate(const std::vector<Setup>& setups) {
  std::set<SetupId> ids;
  std::set<std::string> names;
  for (const Setup& s : setups) {
    if (!s.id.valid() || !ids.insert(s.id).second) return fail("Two set-ups have one number.");
    if (s.name.empty()) return fail("A set-up needs a name.");
    if (!names.insert(s.name).second)
      return fail("There is a set-up {} already; choose another name.", s.name);
    if (!(s.most_misfit > 0)) return fail("The misfit that is allowed must be above 0.");
    if (auto good = validate(s.supports); !good) return good;
    if (auto good = validate(s.steps); !good) return good;
  }
  return {};
}

} // namespace alder
