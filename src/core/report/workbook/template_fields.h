// The fields that cells of a workbook template name, and what they hold.
#pragma once

#include "report/report_model.h"
#include <functional>
#include <optional>

namespace alder {

struct FieldValue {
  std::string text;
  std::optional<double> number = {}; // the same as a number
};

// What a row of a template stands once for.
enum class RowOf { Nothing, Requirements, Members, Parts };

// "requirement.actual" stands in a row of requirements; "serial" in none.
RowOf rowOf(std::string_view field);
bool isTemplateField(std::string_view field);

// One of the rows that a template row becomes; none of its own: the report alone.
struct RowSubject {
  const ReportRow* row = nullptr;
  const JudgedPart* part = nullptr;
};
std::vector<RowSubject> subjectsOf(RowOf kind, const ReportModel& model);
FieldValue fieldValue(std::string_view field, const RowSubject& subject, const ReportModel& model,
                      const Plan& plan);

// Calls for each piece of text and each name in braces, in order.
void eachField(const std::string& text, const std::function<void(const std::string&)>& plain,
               const std::function<void(const std::string&)>& named);

// Without the characters that XML has no form for; not longer than a cell holds.
std::string cellText(const std::string& text);

} // namespace alder
