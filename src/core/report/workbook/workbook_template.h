// A workbook of one's own that is filled in: texts in braces in its cells are replaced, a row with
// fields of requirements, features or parts stands once for each of them. All else, formats,
// formulas, conditional formats, charts and pictures, stays; sheets that nothing is filled in and
// that no figure reaches stay byte by byte. Cells by ECMA-376, see docs/files.md for the fields.
#pragma once

#include "report/report_file.h"

namespace alder {

// `label` names it in messages. Error: it cannot be read, or holds macros. What stands in braces
// and is no field is left and told, with sheet and cell.
Result<ReportFile> filledWorkbook(const std::string& bytes, const std::string& label,
                                  const ReportModel& model, const Plan& plan);

} // namespace alder
