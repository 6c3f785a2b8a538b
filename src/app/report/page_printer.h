// Pages of a report on paper.
#pragma once

#include "base/error.h"
#include "paper/text_setter.h"

class QPrinter;

namespace alder::app {

// Each page in its own format, upright or across, at the printer's resolution up to 600 dots an
// inch. Error: the printer takes no pages.
Done printPages(QPrinter& printer, const std::vector<PaperPage>& pages, const TextSetter& setter);

} // namespace alder::app
