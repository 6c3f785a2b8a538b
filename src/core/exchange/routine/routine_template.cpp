#include "exchange/routine/routine_template.h"

#include "exchange/routine/judging_json.h"
#include "exchange/routine/recipe_json.h"
#include "exchange/routine/step_json.h"
#include "plan/references.h"
#include "plan/steps/step_edit.h"
#include "route/draft.h"
#include <algorithm>

namespace alder {
namespace {

constexpr const char* kTemplateFormat = "alderpoint-template";
constexpr int kVersion = 1;

bool measures(const StepBody& body) {
  return traitsOf(body).holds != StepTraits::Holds::Nothing;
}

// Those outside of all others, from the first on as long as nothing is measured.
template <class Iterator> Steps generalFrom(Iterator first, Iterator last) {
  Steps steps;
  for (; first != last && !(first->depth == 0 && measures(first->body)) && first->depth == 0;
       ++first)
    if (isGeneral(first->body)) steps.push_back(*first);
  return steps;
}

Done complain(const std::string& label, const Done& done) {
  return done ? done : fail("{}: {}", label, done.error().message);
}

} // namespace

RoutineTemplate templateOf(const Plan& plan) {
  RoutineTemplate t{plan.bench,
                    plan.book,
                    plan.shell,
                    plan.pairs,
                    plan.spec.standard,
                    plan.spec.uncertainty,
                    plan.spec.near_share,
                    plan.spec.general,
                    generalFrom(plan.steps.begin(), plan.steps.end()),
                    generalFrom(plan.steps.rbegin(), plan.steps.rend())};
  std::reverse(t.closing.begin(), t.closing.end());
  int id = 0;
  for (Steps* steps : {&t.opening, &t.closing})
    for (RoutineStep& s : *steps) {
      s.id = StepId{id++};
      // A template is text: pictures stay with the routine.
      if (std::string* picture = pictureIn(s.body)) picture->clear();
    }
  return t;
}

std::string templateText(const RoutineTemplate& t) {
  Json pairs = Json::array();
  for (const PairRule& p : t.pairs)
    pairs.push_back(toJson(p));
  return Json{{"format", kTemplateFormat},
              {"version", kVersion},
              {"bench", Json::parse(t.bench.json)},
              {"recipes", toJson(t.book)},
              {"shell", toJson(t.shell)},
              {"pairs", pairs},
              {"judging",
               {{"standard", name(t.standard)},
                {"uncertainty", t.uncertainty},
                {"near_share", t.near_share},
                {"general", toJson(t.general)}}},
              {"opening", toJson(t.opening)},
              {"closing", toJson(t.closing)}}
             .dump(1) +
         "\n";
}

Result<RoutineTemplate> templateFromText(const std::string& text, const std::string& label) {
  auto json = parseJson(text, label);
  if (!json) return pass(json.error());
  const JsonFields f(*json, label);
  if (!json->is_object() || f.text("format", "") != kTemplateFormat)
    return fail("{}: is no template of Alderpoint.", label);
  if (f.integer("version", 0) > kVersion)
    return fail("{}: was written by a newer Alderpoint; update to use it.", label);
  if (!f.has("bench")) return fail("{}: has no bench.", label);
  try {
    auto bench = readBench((*json)["bench"].dump(1), label + " (bench)");
    if (!bench) return pass(bench.error());
    RoutineTemplate t;
    t.bench = std::move(*bench);
    if (f.has("recipes")) t.book = readBook(f.object("recipes"));
    if (f.has("shell")) t.shell = readShell(f.object("shell"));
    for (const auto& p : f.list("pairs"))
      t.pairs.push_back(readPair(p));
    if (f.has("judging")) {
      const auto j = f.object("judging");
      const auto standard = standardNamed(j.text("standard", "ISO"));
      if (!standard) j.complain("standard", "is not a standard that is known");
      t.standard = standard.value_or(ToleranceStandard::Iso);
      t.uncertainty = j.number("uncertainty", 0);
      t.near_share = j.number("near_share", 0.9);
      if (j.has("general")) t.general = readGeneral(j.object("general"));
    }
    // They speak of no features, so that none is known here.
    t.opening = readSteps(f, "opening", {});
    t.closing = readSteps(f, "closing", {});
    if (auto done = f.done(); !done) return pass(done.error());
    for (const Steps* steps : {&t.opening, &t.closing})
      if (auto valid = complain(label, validate(*steps)); !valid) return pass(valid.error());
    return t;
  } catch (const Json::exception&) {
    return fail("{}: a field holds the wrong kind of value.", label);
  }
}

Plan beginPlan(PartPtr part, const RoutineTemplate& t) {
  Plan plan = beginPlan(std::move(part), t.bench);
  plan.book = t.book;
  plan.shell = t.shell;
  plan.pairs = t.pairs;
  plan.spec.standard = t.standard;
  plan.spec.uncertainty = t.uncertainty;
  plan.spec.near_share = t.near_share;
  plan.spec.general = t.general;
  for (Feature& f : plan.features)
    f.recipe = recipeFor(plan.nominal(f.id), plan.spec, plan.book);
  return plan;
}

Done addTemplateSteps(Plan& plan, const RoutineTemplate& t) {
  for (const auto& [steps, at] :
       {std::pair(&t.closing, plan.steps.size()), std::pair(&t.opening, std::size_t{0})}) {
    if (steps->empty()) continue;
    auto put = insertSteps(plan, *steps, at, 0);
    if (!put) return pass(put.error());
    if (auto done = applyEdit(plan, *put); !done) return pass(done.error());
  }
  return {};
}

} // namespace alder
