// Reports as files, in the form that the ending of the name asks for.
#pragma once

#include "report/compose/composer.h"

namespace alder {

// Layouts that come with the program, by their file's name: "full", "short", "failed".
std::vector<std::string> shippedLayouts();
Result<Layout> shippedLayout(const std::string& name);
Result<Layout> readLayout(const std::string& path);
// Those that a shop keeps for all its routines, files *.alder-report in a folder that the
// environment variable ALDERPOINT_LAYOUTS names; the window sets it from its settings.
std::vector<std::string> shopLayouts();
// One that the routine keeps, else the shop's, else one that comes with the program; empty: the
// full one.
Result<Layout> layoutNamed(const Plan& plan, const std::string& name);
// Names of all that a report of this routine can be written by, each once: its own first, then the
// shop's, then those that come with the program.
std::vector<std::string> layoutsFor(const Plan& plan);

// A workbook of one's own among those that the routine keeps; it writes workbooks only.
bool isWorkbookTemplate(const Plan& plan, const std::string& name);

// What a report is written by: a layout, or a workbook of one's own, see workbook_template.h.
struct ReportForm {
  std::string name;
  Layout layout;
  std::string workbook; // its bytes; empty: the layout
};
// A name as above, or the path of a file *.alder-report or *.xlsx.
Result<ReportForm> reportForm(const Plan& plan, const std::string& named);

bool isReportFile(std::string_view path); // by its ending

struct ReportFile {
  std::string bytes;
  std::vector<std::string> told; // what could not be set as the layout asks for
};
// .csv: the table of requirements; .xlsx, .html; else the layout as a PDF.
Result<ReportFile> reportFile(const std::string& target, const Layout& layout,
                              const ReportModel& model, const Plan& plan, const TextSetter& setter);
Result<ReportFile> reportFile(const std::string& target, const ReportForm& form,
                              const ReportModel& model, const Plan& plan, const TextSetter& setter);
Result<ReportFile> reportFile(const std::string& target, const ReportModel& model, const Plan& plan,
                              const std::string& layout = {});

} // namespace alder
