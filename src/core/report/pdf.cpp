#include "report/document.h"
namespace alder {
Result<std::string> reportPdf(const ReportModel&, const Plan&) { return fail("pdf"); }
}
