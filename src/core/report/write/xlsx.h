// A report as a workbook: a sheet for each page of the layout, figures as numbers in their formats,
// verdicts coloured by their limits, pictures.
#pragma once

#include "paper/text_setter.h"
#include "report/layout/layout.h"
#include "report/report_model.h"

namespace alder {

// `told`: what could not be shown as the layout asks for.
Result<std::string> reportXlsx(const Layout& layout, const ReportModel& model, const Plan& plan,
                               const TextSetter& setter, std::vector<std::string>& told);

} // namespace alder
