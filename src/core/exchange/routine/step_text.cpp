#include "exchange/routine/step_text.h"

#include "exchange/routine/step_json.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

constexpr const char* kStepsFormat = "alderpoint-steps";

// What is wrong with it is told when the step is read.
int depthOf(const Json& step) {
  const Json depth = step.is_object() ? step.value("depth", Json()) : Json();
  return depth.is_number_integer() ? depth.get<int>() : 0;
}

} // namespace

std::string stepsText(const Plan& plan, const std::vector<StepId>& ids) {
  const std::set<StepId> wanted(ids.begin(), ids.end());
  Steps taken;
  for (std::size_t i = 0; i < plan.steps.size();) {
    if (!wanted.count(plan.steps[i].id)) {
      ++i;
      continue;
    }
    const std::size_t end = endOf(plan.steps, i);
    for (std::size_t k = i; k < end; ++k) {
      taken.push_back(plan.steps[k]);
      taken.back().depth -= plan.steps[i].depth;
    }
    i = end;
  }
  Json list = toTravellingJson(taken, plan.spec);
  for (Json& step : list)
    step.erase("copies"); // they are looked for anew where it is pasted
  return Json{{"format", kStepsFormat}, {"steps", list}}.dump(1);
}

Result<PastedSteps> stepsFromText(const std::string& text, const Plan& plan) {
  Json json = Json::parse(text, nullptr, false);
  if (!json.is_object() || json.value("format", Json()) != kStepsFormat ||
      !json.contains("steps") || !json["steps"].is_array())
    return fail("There are no steps to paste; copy some first.");
  const auto measured = measuringOrder(plan.steps);
  PastedSteps pasted;
  Json kept = Json::array();
  int left_deeper = -1; // depth of a step left behind, with all within it
  std::set<std::string> unknown, twice;
  for (Json& step : json["steps"]) {
    const int depth = depthOf(step);
    if (left_deeper >= 0 && depth > left_deeper) continue;
    left_deeper = -1;
    if (step.is_object() && step.contains("feature_name") && step["feature_name"].is_string()) {
      const auto wanted = step["feature_name"].get<std::string>();
      const auto found = std::find_if(plan.spec.features.begin(), plan.spec.features.end(),
                                      [&](const NominalFeature& f) { return f.name == wanted; });
      const bool there = found != plan.spec.features.end();
      const bool again = there && step.value("kind", Json()) == "measure" &&
                         std::count(measured.begin(), measured.end(), found->id) > 0;
      if (!there || again) {
        (there ? twice : unknown).insert(wanted);
        left_deeper = depth;
        continue;
      }
      step["feature"] = found->id.value;
    }
    kept.push_back(step);
  }
  const Json holder{{"steps", kept}};
  const JsonFields fields(holder, "clipboard");
  pasted.steps = readSteps(fields, "steps", plan.spec);
  if (auto done = fields.done(); !done) return pass(done.error());
  for (std::size_t i = 0; i < pasted.steps.size(); ++i)
    pasted.steps[i].id = StepId{static_cast<int>(i)};
  if (auto valid = validate(pasted.steps); !valid) return pass(valid.error());
  const auto listed = [](const std::set<std::string>& names) {
    std::string text_;
    for (const std::string& n : names)
      text_ += (text_.empty() ? "" : ", ") + n;
    return text_;
  };
  if (!twice.empty()) pasted.left = listed(twice) + ": measured in this routine already. ";
  if (!unknown.empty()) pasted.left += listed(unknown) + ": not in this routine.";
  if (pasted.steps.empty()) return fail("Nothing was pasted. {}", pasted.left);
  return pasted;
}

} // namespace alder
