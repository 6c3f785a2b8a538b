// Pages of a report on paper.
#pragma once

#include "base/error.h"
#include "paper/text_setter.h"

class QPrinter;

namespace alder::app {

// Each page in its own format, upright or across, at the printer's resolution up to 600 dots an
// inch; those that the printer was told to print. How many; error: the printer takes no pages.
Result<int> printPages(QPrinter& printer, const std::vector<PaperPage>& pages,
                       const TextSetter& setter);

} // namespace alder::app
