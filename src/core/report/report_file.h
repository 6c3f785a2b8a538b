// Reports as files, in the form that the ending of the name asks for.
#pragma once

#include "report/compose/composer.h"

namespace alder {

// Layouts that come with the program, by their file's name: "full", "short", "failed".
std::vector<std::string> shippedLayouts();
Result<Layout> shippedLayout(const std::string& name);
Result<Layout> readLayout(const std::string& path);

bool isReportFile(std::string_view path); // by its ending

struct ReportFile {
  std::string bytes;
  std::vector<std::string> told; // what could not be set as the layout asks for
};
// .csv: the table of requirements; .xlsx, .html; else the layout as a PDF.
Result<ReportFile> reportFile(const std::string& target, const Layout& layout,
                              const ReportModel& model, const Plan& plan, const TextSetter& setter);
// By the full layout.
Result<ReportFile> reportFile(const std::string& target, const ReportModel& model,
                              const Plan& plan);

} // namespace alder
