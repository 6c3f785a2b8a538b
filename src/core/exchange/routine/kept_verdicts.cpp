#include "exchange/routine/kept_verdicts.h"

#include "base/hash.h"
#include "exchange/routine/judge_source.h"
#include "exchange/routine/named.h"
#include "exchange/routine/plan_json.h"
#include "requirement/limits.h"

namespace alder {

std::string pointsKey(const std::string& csv) {
  return hashText(hashOfLong(csv));
}

VerdictKeys::VerdictKeys(const Plan& plan)
    : plan_(plan)
    , before_(hashOfLong(plan.part ? plan.part->bytes : std::string_view(), hashOf(kJudgeSource))) {
}

// As text of the routine's file, so that no field can be forgotten.
std::string VerdictKeys::of(const Requirement& requirement) const {
  const Plan excerpt = excerptFor(plan_, basisOf(plan_.spec, requirement));
  return hashText(hashOfLong(toJson(excerpt).dump(), before_));
}

Json toJson(const KeptVerdicts& kept) {
  Json all = Json::array();
  for (const KeptVerdict& k : kept.all)
    all.push_back({{"requirement", k.requirement.value},
                   {"basis", k.basis},
                   {"verdict", name(k.verdict.verdict)},
                   {"actual", k.verdict.actual ? Json(*k.verdict.actual) : Json()},
                   {"lower", k.verdict.lower},
                   {"upper", k.verdict.upper},
                   {"share", k.verdict.share}});
  return {{"points", kept.points}, {"verdicts", all}};
}

KeptVerdicts readKeptVerdicts(const JsonFields& f) {
  KeptVerdicts kept;
  kept.points = f.text("points", "");
  for (const JsonFields& one : f.list("verdicts")) {
    KeptVerdict k{RequirementId{one.integer("requirement", -1)}, one.text("basis", ""), {}};
    k.verdict.verdict = readNamed<Verdict>(one, "verdict", kVerdictCount);
    if (one.has("actual")) k.verdict.actual = one.number("actual");
    k.verdict.lower = one.limit("lower", kNoLower, 0);
    k.verdict.upper = one.limit("upper", kNoUpper, 0);
    k.verdict.share = one.number("share", 0);
    kept.all.push_back(std::move(k));
  }
  return kept;
}

} // namespace alder
