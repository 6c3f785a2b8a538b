// A PDF with balloons drawn over its pages; what is on them stays as it is.
#pragma once

#include "sheet/sheet_file.h"

namespace alder {

Result<std::string> ballooned(const std::string& bytes, const std::string& label,
                              const std::vector<BalloonMark>& marks);

} // namespace alder
