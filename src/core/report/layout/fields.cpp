#include "report/layout/fields.h"

#include "report/approval_state.h"
#include <algorithm>

namespace alder {
namespace {

std::string headerOf(const ReportModel& model, HeaderField field) {
  for (const auto& [what, which] : model.header)
    if (what == words(field)) return which;
  return {};
}

// Gives every piece of text and every name in braces to the two functions, in order.
void parts(const std::string& text, const auto& plain, const auto& named) {
  std::size_t at = 0;
  while (at < text.size()) {
    const std::size_t open = text.find('{', at);
    if (open == std::string::npos) return plain(text.substr(at));
    plain(text.substr(at, open - at));
    if (open + 1 < text.size() && text[open + 1] == '{') {
      plain("{");
      at = open + 2;
      continue;
    }
    const std::size_t close = text.find('}', open);
    if (close == std::string::npos) return plain(text.substr(open));
    named(text.substr(open + 1, close - open - 1));
    at = close + 1;
  }
}

} // namespace

const std::vector<ReportField>& reportFields() {
  static const std::vector<ReportField> kFields{
      {"part.number", "Part number"},
      {"part.name", "Part name"},
      {"part.revision", "Revision"},
      {"part.order", "Order"},
      {"part.supplier", "Supplier"},
      {"part.customer", "Customer"},
      {"part.material", "Material"},
      {"part.processes", "Processes"},
      {"part.documents", "Attached"},
      {"part.file", "Model"},
      {"routine", "Routine"},
      {"serial", "Serial number"},
      {"operator", "Operator"},
      {"date", "Date"},
      {"bench", "Bench"},
      {"standard", "Standard"},
      {"outcome", "Outcome"},
      {"approval", "Approval"},
      {"count.all", "Requirements"},
      {"count.within", "Within"},
      {"count.near", "Near a limit"},
      {"count.not_proved", "Not proved"},
      {"count.outside", "Outside"},
      {"count.unmeasured", "Not measured"},
      {"page", "Page"},
      {"pages", "Pages"},
  };
  return kFields;
}

bool isField(std::string_view name) {
  const auto& all = reportFields();
  return std::any_of(all.begin(), all.end(), [&](const auto& f) { return f.name == name; });
}

std::string_view captionOf(std::string_view field) {
  for (const ReportField& f : reportFields())
    if (f.name == field) return f.caption;
  return field;
}

// The worst that any requirement is; by the same words as the operator is told.
static std::string outcome(const ReportModel& m) {
  return m.outside        ? "Outside its limits"
         : m.unmeasured   ? "Measured in part"
         : m.not_proved   ? "Not proved"
         : m.near         ? "Within its limits, near to some"
         : m.rows.empty() ? ""
                          : "Within its limits";
}

std::string valueOf(std::string_view field, const ReportModel& m) {
  static const std::pair<std::string_view, HeaderField> kHeader[]{
      {"part.number", HeaderField::Number},     {"part.name", HeaderField::Name},
      {"part.revision", HeaderField::Revision}, {"part.order", HeaderField::Order},
      {"part.supplier", HeaderField::Supplier}, {"part.customer", HeaderField::Customer},
      {"part.material", HeaderField::Material}, {"part.processes", HeaderField::Processes}};
  for (const auto& [name, which] : kHeader)
    if (name == field) return headerOf(m, which);
  if (field == "part.documents") {
    for (const auto& [what, which] : m.header)
      if (what == "Attached") return which;
    return {};
  }
  if (field == "part.file") return m.part;
  if (field == "routine") return m.title;
  if (field == "serial") return m.part_serial;
  if (field == "operator") return m.operated_by;
  if (field == "date") return m.date;
  if (field == "bench") return m.bench;
  if (field == "standard") return m.standard;
  if (field == "outcome") return outcome(m);
  if (field == "approval") return m.part_serial.empty() ? "" : approvalWords(m.approval);
  if (field == "count.all") return std::to_string(m.rows.size());
  if (field == "count.within") return std::to_string(m.within);
  if (field == "count.near") return std::to_string(m.near);
  if (field == "count.not_proved") return std::to_string(m.not_proved);
  if (field == "count.outside") return std::to_string(m.outside);
  if (field == "count.unmeasured") return std::to_string(m.unmeasured);
  if (field == "page") return std::string(kPageSign);
  if (field == "pages") return std::string(kPagesSign);
  return {};
}

std::string filled(const std::string& text, const ReportModel& model) {
  std::string out;
  parts(
      text, [&](const std::string& plain) { out += plain; },
      [&](const std::string& field) { out += valueOf(field, model); });
  // Blanks round fields that are empty
  const auto first = out.find_first_not_of(" \n");
  if (first == std::string::npos) return {};
  return out.substr(first, out.find_last_not_of(" \n") - first + 1);
}

Done fieldsKnown(const std::string& text) {
  std::string unknown;
  parts(
      text, [](const std::string&) {},
      [&](const std::string& field) {
        if (unknown.empty() && !isField(field)) unknown = field;
      });
  if (!unknown.empty()) return fail("there is no field \"{}\"", unknown);
  return {};
}

} // namespace alder
