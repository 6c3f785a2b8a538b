// Evaluation sheets: features with measured points of any source and requirements on them, without
// CAD. The file is described in docs/files.md; the shapes are those of the judge.
#pragma once

#include "judge/verdict.h"
#include <filesystem>

namespace alder {

// A routine's specification without a part, and the points. The first `listed` requirements are
// those of the sheet, with their names; more hold the size limits that features state.
struct Sheet {
  Plan plan;
  Measurements measured;
  std::vector<std::string> ids;
  std::size_t listed = 0;
};

// Files of points are looked for beside the sheet. One error names the field or the line.
Result<Sheet> readSheet(const std::string& text, const std::filesystem::path& path);

} // namespace alder
