// A report as one web page: tables as tables, drawings as SVG, nothing loaded from elsewhere.
#pragma once

#include "paper/text_setter.h"
#include "report/layout/layout.h"
#include "report/report_model.h"

namespace alder {

// `told`: what could not be shown as the layout asks for.
std::string reportHtml(const Layout& layout, const ReportModel& model, const Plan& plan,
                       const TextSetter& setter, std::vector<std::string>& told);

} // namespace alder
