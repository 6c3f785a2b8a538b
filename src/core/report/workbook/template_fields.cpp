#include "report/workbook/template_fields.h"

#include "base/units.h"
#include "report/layout/fields.h"
#include "report/layout/pick.h"
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace alder {
namespace {

constexpr std::size_t kLongestText = 32767; // bytes at most, of characters that a cell holds

constexpr std::array<std::string_view, 16> kRowFields{
    "number", "callout", "feature", "zone",      "key",   "kind",    "unit", "nominal",
    "lower",  "upper",   "actual",  "deviation", "share", "verdict", "how",  "uncertainty"};

bool startsWith(std::string_view text, std::string_view with) {
  return text.substr(0, with.size()) == with;
}

std::string_view behindDot(std::string_view field) {
  return field.substr(field.find('.') + 1);
}

FieldValue valueOfFigure(const ReportFigure& figure) {
  if (figure.empty()) return {};
  const double power = std::pow(10, figure.decimals);
  return {figure.text, std::round(figure.value * power) / power}; // as it is shown
}

FieldValue rowValue(std::string_view name, const ReportRow& row) {
  if (name == "number")
    return row.feature.valid() ? FieldValue{row.number}
                               : FieldValue{row.number, static_cast<double>(row.balloon)};
  if (name == "callout") return {row.text};
  if (name == "feature") return {row.features};
  if (name == "zone") return {row.zone};
  if (name == "key") return {row.key};
  if (name == "kind") return {row.group};
  if (name == "unit") return {row.unit};
  if (name == "verdict") return {std::string(words(row.verdict))};
  if (name == "how") return {row.how};
  if (name == "share" && row.share && !row.actual.empty())
    return {textOf(row, Column::Share, false), *row.share};
  if (name == "uncertainty" && row.uncertainty)
    return {textOf(row, Column::Uncertainty, false), *row.uncertainty};
  for (const auto& [field, figure] :
       {std::pair("nominal", &row.nominal), std::pair("lower", &row.lower),
        std::pair("upper", &row.upper), std::pair("actual", &row.actual),
        std::pair("deviation", &row.deviation)})
    if (name == field) return valueOfFigure(*figure);
  return {};
}

std::optional<int> balloonIn(std::string_view text) {
  int value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size()) return {};
  return value;
}

// "actual.7" of a measured part: the figure of requirement 7.
FieldValue partValue(std::string_view name, const JudgedPart& part, const Plan& plan) {
  if (name == "serial") return {part.name};
  if (name == "when") return {part.when};
  if (name == "outside") {
    const auto outside = std::count_if(part.verdicts.begin(), part.verdicts.end(), [](auto& v) {
      return v.second.verdict == Verdict::Outside;
    });
    return {std::to_string(outside), static_cast<double>(outside)};
  }
  const auto balloon = balloonIn(behindDot(name));
  for (const Requirement& r : plan.spec.requirements) {
    if (r.balloon != balloon) continue;
    const auto found = part.verdicts.find(r.id);
    if (found == part.verdicts.end()) return {};
    if (startsWith(name, "verdict.")) return {std::string(words(found->second.verdict))};
    if (!found->second.actual) return {};
    const bool angle = r.kind == Characteristic::Angle || r.unit == "deg";
    const double shown = angle ? degrees(*found->second.actual) : *found->second.actual;
    return valueOfFigure({figure(shown, r.decimals), shown, r.decimals});
  }
  return {};
}

} // namespace

RowOf rowOf(std::string_view field) {
  if (startsWith(field, "requirement.")) return RowOf::Requirements;
  if (startsWith(field, "member.")) return RowOf::Members;
  if (startsWith(field, "measured.")) return RowOf::Parts;
  return RowOf::Nothing;
}

bool isTemplateField(std::string_view field) {
  const std::string_view name = behindDot(field);
  switch (rowOf(field)) {
  case RowOf::Nothing:
    return isField(field) && field != "page" && field != "pages";
  case RowOf::Parts:
    return name == "serial" || name == "when" || name == "outside" ||
           ((startsWith(name, "actual.") || startsWith(name, "verdict.")) &&
            balloonIn(behindDot(name)));
  default:
    return std::find(kRowFields.begin(), kRowFields.end(), name) != kRowFields.end();
  }
}

std::vector<RowSubject> subjectsOf(RowOf kind, const ReportModel& model) {
  std::vector<RowSubject> all;
  if (kind == RowOf::Parts)
    for (const JudgedPart& part : model.parts)
      all.push_back({nullptr, &part});
  if (kind == RowOf::Requirements || kind == RowOf::Members)
    for (const ReportRow& row : model.rows) {
      if (kind == RowOf::Requirements || row.members.empty()) all.push_back({&row, nullptr});
      if (kind == RowOf::Members)
        for (const ReportRow& member : row.members)
          all.push_back({&member, nullptr});
    }
  return all;
}

FieldValue fieldValue(std::string_view field, const RowSubject& subject, const ReportModel& model,
                      const Plan& plan) {
  if (rowOf(field) == RowOf::Nothing) {
    FieldValue value{valueOf(field, model)};
    if (startsWith(field, "count.")) value.number = std::stod(value.text);
    return value;
  }
  if (subject.part) return partValue(behindDot(field), *subject.part, plan);
  return subject.row ? rowValue(behindDot(field), *subject.row) : FieldValue{};
}

void eachField(const std::string& text, const std::function<void(const std::string&)>& plain,
               const std::function<void(const std::string&)>& named) {
  std::size_t at = 0;
  while (at < text.size()) {
    const std::size_t open = text.find('{', at);
    const std::size_t close = open == std::string::npos ? open : text.find_first_of("{}", open + 1);
    if (close == std::string::npos) break;
    if (text[close] == '{') { // a brace alone
      plain(text.substr(at, close - at));
      at = close;
      continue;
    }
    if (open > at) plain(text.substr(at, open - at));
    named(text.substr(open + 1, close - open - 1));
    at = close + 1;
  }
  if (at < text.size()) plain(text.substr(at));
}

std::string cellText(const std::string& text) {
  std::string out;
  for (const char c : text)
    if (static_cast<unsigned char>(c) >= 32 || c == '\n' || c == '\t') out += c;
  if (out.size() > kLongestText) {
    out.resize(kLongestText - 8);
    while (!out.empty() && (static_cast<unsigned char>(out.back()) & 0xC0) == 0x80)
      out.pop_back();
    if (!out.empty()) out.pop_back();
    out += " …";
  }
  return out;
}

} // namespace alder
