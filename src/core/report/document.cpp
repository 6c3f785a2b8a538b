#include "report/document.h"

#include <map>

#include "base/local_time.h"
#include "base/units.h"
#include "report/pdf.h"
#include "requirement/limits.h"
#include <chrono>
#include <ctime>

namespace alder {
namespace {

std::string field(std::string text) {
  if (text.find_first_of(",\"\n") == std::string::npos) return text;
  for (std::size_t i = text.find('"'); i != std::string::npos; i = text.find('"', i + 2))
    text.insert(i, "\"");
  return "\"" + text + "\"";
}

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm parts{};
  localtime_r(&now, &parts);
  char text[16];
  std::strftime(text, sizeof text, "%Y-%m-%d", &parts);
  return text;
}

ReportRow rowOf(const Plan& plan, const Evaluation& e) {
  const Requirement& r = plan.spec.requirement(e.requirement);
  const bool angle = r.kind == Characteristic::Angle;
  const auto shown = [&](double v) { return figure(angle ? degrees(v) : v, r.decimals); };
  ReportRow row{r.id,      r.balloon, describe(plan.spec, r), "", "", "", "", "", "", {},
                e.verdict, e.how};
  if (!hasSingleLimit(r)) row.share = e.share;
  if (!r.features.empty()) row.features = plan.nominal(r.features.front()).name;
  if (r.features.size() > 1) row.features += fmt::format(" and {} more", r.features.size() - 1);
  if (isDimension(r.kind)) {
    row.nominal = shown(r.nominal);
    if (hasLower(r)) row.lower = shown(e.lower);
  }
  if (!isDimension(r.kind) || hasUpper(r)) row.upper = shown(e.upper);
  if (e.actual) row.actual = shown(*e.actual);
  if (e.deviation && isDimension(r.kind)) row.deviation = shown(*e.deviation);
  return row;
}

std::string tipLine(const Plan& plan, const Access& access) {
  const std::string tip = nameOf(plan, access) + ": ";
  const QualifiedTip* t = plan.qualified.find(access);
  if (!t) return tip + "not qualified.";
  const std::string date = localTime(t->seconds, "%Y-%m-%d %H:%M");
  const auto beyond = beyondLimits(*t, plan.bench);
  return tip + fmt::format("qualified {} with {} touches, effective ø {}, offset {}, form {}, "
                           "standard deviation {} mm{}",
                           date, t->touches, figure(t->diameter, 4), figure(t->offset.norm(), 4),
                           figure(t->form, 4), figure(t->sigma, 4),
                           beyond.empty() ? "." : "; out of limits: " + beyond + ".");
}

std::string wordsOf(ToleranceStandard standard) {
  return standard == ToleranceStandard::Iso    ? "ISO GPS"
         : standard == ToleranceStandard::Asme ? "ASME Y14.5-2018"
                                               : "ASME Y14.5-2009";
}

// "ISO GPS; ASME Y14.5-2018: 3, 7".
std::string standards(const Plan& plan) {
  std::map<ToleranceStandard, std::string> others;
  for (const Requirement& r : plan.spec.requirements) {
    if (plan.spec.standardOf(r) == plan.spec.standard) continue;
    std::string& balloons = others[plan.spec.standardOf(r)];
    balloons += (balloons.empty() ? "" : ", ") + std::to_string(r.balloon);
  }
  std::string text = wordsOf(plan.spec.standard);
  for (const auto& [standard, balloons] : others)
    text += "; " + wordsOf(standard) + ": " + balloons;
  return text;
}

} // namespace

ReportModel reportOf(const Plan& plan, const std::vector<Evaluation>& evaluations) {
  ReportModel model;
  model.title = plan.name, model.part = plan.part->name, model.bench = plan.bench.name;
  for (std::size_t i = 0; i < kHeaderFields; ++i)
    if (!plan.header.fields[i].empty())
      model.header.emplace_back(words(static_cast<HeaderField>(i)), plan.header.fields[i]);
  std::string attached;
  for (const AttachedDocument& d : plan.header.documents)
    attached += (attached.empty() ? "" : ", ") + d.name;
  if (!attached.empty()) model.header.emplace_back("Attached", attached);
  model.date = today(), model.standard = standards(plan);
  if (tipsReported(plan))
    for (const Access& a : accessesUsed(plan))
      model.tips.push_back(tipLine(plan, a));
  for (const Evaluation& e : evaluations) {
    model.rows.push_back(rowOf(plan, e));
    switch (e.verdict) {
    case Verdict::Within:
      ++model.within;
      break;
    case Verdict::Near:
      ++model.near;
      break;
    case Verdict::NotProved:
      ++model.not_proved;
      break;
    case Verdict::Outside:
      ++model.outside;
      break;
    case Verdict::Unmeasured:
      ++model.unmeasured;
      break;
    }
  }
  return model;
}

std::string reportTable(const ReportModel& model) {
  std::string out = "balloon,requirement,feature,nominal,lower,upper,actual,deviation,share_"
                    "percent,verdict,how\n";
  for (const ReportRow& r : model.rows)
    out += fmt::format("{},{},{},{},{},{},{},{},{},{},{}\n", r.balloon, field(r.text),
                       field(r.features), r.nominal, r.lower, r.upper, r.actual, r.deviation,
                       r.actual.empty() || !r.share ? "" : figure(100 * *r.share, 0),
                       name(r.verdict), field(r.how));
  return out;
}

Result<std::string> reportFile(const std::string& target, const ReportModel& model,
                               const Plan& plan) {
  if (target.ends_with(".csv")) return reportTable(model);
  return reportPdf(model, plan);
}

} // namespace alder
