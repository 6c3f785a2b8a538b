#include "report/history_table.h"

#include "base/units.h"
#include "requirement/limits.h"
#include <cmath>

namespace alder {
namespace {

std::string quoted(const std::string& text) {
  if (text.find_first_of(",\"\n") == std::string::npos) return text;
  std::string out = "\"";
  for (const char c : text)
    out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

std::string cell(const std::optional<double>& value) {
  return value ? fmt::format("{:.9g}", *value) : "";
}
std::string cell(const std::optional<Index>& index) {
  return index ? fmt::format("{:.4g},{:.4g},{:.4g}", index->value, index->low, index->high) : ",,";
}

void addRows(const Specification& spec, const Requirement& r, const std::vector<JudgedPart>& parts,
             std::string& csv) {
  const bool angle = r.kind == Characteristic::Angle || r.unit == "deg";
  const auto shown = [&](double v) { return angle ? degrees(v) : v; };
  std::vector<double> figures;
  for (const JudgedPart& p : parts)
    if (const auto v = p.verdicts.find(r.id); v != p.verdicts.end() && v->second.actual)
      figures.push_back(*v->second.actual);
  const PartHistory h = historyOf(r, figures);
  const bool some = h.count > 1;
  const std::string process =
      fmt::format("{},{},{},{},{},{},{},{},{},{}", h.count,
                  cell(h.count > 0 ? std::optional(shown(h.mean)) : std::nullopt),
                  cell(some ? std::optional(shown(h.spread)) : std::nullopt),
                  cell(some ? std::optional(shown(h.control_low)) : std::nullopt),
                  cell(some ? std::optional(shown(h.control_high)) : std::nullopt),
                  cell(some ? std::optional(shown(h.range_high)) : std::nullopt), cell(h.cp),
                  cell(h.cpk), cell(h.pp), cell(h.ppk));
  const auto limit = [&](const BriefVerdict& e, double value) -> std::optional<double> {
    return e.actual && std::isfinite(value) ? std::optional(shown(value)) : std::nullopt;
  };
  std::optional<double> before;
  for (const JudgedPart& p : parts) {
    const auto judged = p.verdicts.find(r.id);
    const BriefVerdict e = judged == p.verdicts.end() ? BriefVerdict{} : judged->second;
    const auto then = p.judged_then.find(r.balloon);
    std::optional<double> actual, range;
    if (e.actual) actual = shown(*e.actual);
    if (actual && before) range = std::abs(*actual - *before);
    if (actual) before = actual;
    csv += fmt::format("{},{},{},{},{},{},{},{},{},{},{},{}\n", r.balloon,
                       quoted(describe(spec, r)), quoted(p.name), quoted(p.when), cell(actual),
                       cell(limit(e, e.lower)), cell(limit(e, e.upper)),
                       cell(e.actual && !hasSingleLimit(r) ? std::optional(e.share) : std::nullopt),
                       name(e.verdict), then == p.judged_then.end() ? "" : then->second,
                       cell(range), process);
  }
}

} // namespace

std::string historyTable(const Plan& plan, const std::vector<JudgedPart>& parts) {
  std::string csv =
      "balloon,requirement,part,when,actual,lower,upper,share,verdict,verdict_then,moving_range,"
      "parts,mean,spread,control_low,control_high,range_high,cp,cp_low,cp_high,cpk,cpk_low,"
      "cpk_high,pp,pp_low,pp_high,ppk,ppk_low,ppk_high\n";
  for (const Requirement& r : plan.spec.requirements)
    addRows(plan.spec, r, parts, csv);
  return csv;
}

} // namespace alder
