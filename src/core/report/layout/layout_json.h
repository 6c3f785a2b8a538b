// Report layouts as readable JSON; see docs/files.md.
#pragma once

#include "report/layout/layout.h"

namespace alder {

std::string layoutText(const Layout& layout);
// The error names the file, the page, the item and what to do. What is not known is an error too: a
// layout says nothing that has no effect.
Result<Layout> layoutFrom(const std::string& text, const std::string& label);

inline constexpr std::string_view kLayoutEnding = ".alder-report";

} // namespace alder
