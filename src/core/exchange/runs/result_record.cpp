#include "exchange/runs/result_record.h"

#include "base/units.h"
#include "requirement/limits.h"
#include <algorithm>

namespace alder {

std::vector<ResultRecord> resultsOf(const Plan& plan, const std::vector<Evaluation>& evaluations) {
  std::vector<ResultRecord> results;
  for (const Evaluation& e : evaluations) {
    const Requirement& r = plan.spec.requirement(e.requirement);
    const bool angle = r.kind == Characteristic::Angle || r.unit == "deg";
    const auto shown = [&](double v) { return angle ? degrees(v) : v; };
    ResultRecord result{r.balloon,
                        describe(plan.spec, r),
                        {},
                        shown(e.lower),
                        shown(e.upper),
                        e.share,
                        std::string(name(e.verdict)),
                        e.how,
                        r.id};
    if (e.actual) result.actual = shown(*e.actual);
    results.push_back(std::move(result));
  }
  return results;
}

const ResultRecord* recordOf(const Specification& spec, const Requirement& r,
                             const std::vector<ResultRecord>& records) {
  if (std::any_of(records.begin(), records.end(), [](const auto& x) { return x.id.valid(); })) {
    const auto found = std::find_if(records.begin(), records.end(),
                                    [&](const ResultRecord& x) { return x.id == r.id; });
    return found == records.end() ? nullptr : &*found;
  }
  const std::string text = describe(spec, r);
  const ResultRecord *same_text = nullptr, *same_number = nullptr;
  int texts = 0;
  for (const ResultRecord& record : records) {
    if (record.balloon == r.balloon && record.requirement == text) return &record;
    if (record.requirement == text) same_text = &record, ++texts;
    if (record.balloon == r.balloon) same_number = &record;
  }
  if (texts == 1) return same_text;
  if (!same_number) return nullptr;
  // That number was another's then, if another is just what it says.
  const bool of_another = std::any_of(
      spec.requirements.begin(), spec.requirements.end(), [&](const Requirement& other) {
        return other.id != r.id && describe(spec, other) == same_number->requirement;
      });
  return of_another ? nullptr : same_number;
}

bool differ(const ResultRecord& then, const ResultRecord& now) {
  const auto apart = [](double a, double b) { return !sameLimit(a, b, 1e-6); };
  return then.verdict != now.verdict || then.actual.has_value() != now.actual.has_value() ||
         (then.actual && apart(*then.actual, *now.actual)) || apart(then.lower, now.lower) ||
         apart(then.upper, now.upper);
}

Json toJson(const ResultRecord& r) {
  Json json{{"balloon", r.balloon},
            {"requirement", r.requirement},
            {"actual", r.actual ? Json(*r.actual) : Json()},
            {"lower", r.lower},
            {"upper", r.upper},
            {"share", r.share},
            {"verdict", r.verdict},
            {"how", r.how}};
  if (r.id.valid()) json["id"] = r.id.value;
  return json;
}

ResultRecord readResult(const JsonFields& f) {
  ResultRecord r;
  r.balloon = f.integer("balloon", 0);
  r.requirement = f.text("requirement", "");
  if (f.has("actual")) r.actual = f.number("actual");
  r.lower = f.limit("lower", kNoLower, 0);
  r.upper = f.limit("upper", kNoUpper, 0);
  r.share = f.number("share", 0);
  r.verdict = f.text("verdict", "");
  r.how = f.text("how", "");
  r.id = RequirementId{f.integer("id", -1)};
  return r;
}

} // namespace alder
