// Fields that texts of a report are filled with: "{part.number}", "{serial}", "{page} of {pages}".
#pragma once

#include "base/error.h"
#include "report/report_model.h"

namespace alder {

struct ReportField {
  std::string_view name, caption; // "part.number", "Part number"
};
const std::vector<ReportField>& reportFields();
bool isField(std::string_view name);
std::string_view captionOf(std::string_view field);

// Its value; of {page} and {pages} signs that are replaced when the pages are counted.
std::string valueOf(std::string_view field, const ReportModel& model);
inline constexpr std::string_view kPageSign = "\uE000", kPagesSign = "\uE001";

// The text with its fields filled in; "{{" is a brace.
std::string filled(const std::string& text, const ReportModel& model);
Done fieldsKnown(const std::string& text);

} // namespace alder
