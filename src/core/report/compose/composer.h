// A layout filled from a report: pages with everything in its place. Tables and long texts go on on
// further pages with their heads repeated; what lies below something that grows moves down.
#pragma once

#include "paper/page_writer.h"
#include "report/layout/layout.h"
#include "report/report_model.h"

namespace alder {

// Where an item of the layout stands on the composed pages; one that goes on stands on several.
struct PlacedPiece {
  std::size_t layout_page = 0, item = 0;
  std::size_t page = 0; // of the composed ones
  Area area;
};

struct Composed {
  std::vector<PaperPage> pages; // at least one
  std::vector<PlacedPiece> placed;
  std::vector<std::string> told; // what could not be set as the layout asks for
};

Composed compose(const Layout& layout, const ReportModel& model, const Plan& plan,
                 const TextSetter& setter);

// The composed pages as a PDF, with the report's own metadata.
Result<std::string> reportPdf(const Composed& composed, const ReportModel& model,
                              const TextSetter& setter);

} // namespace alder
