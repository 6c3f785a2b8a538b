// Rules for files in which characteristics stand side by side, a part a line.
#pragma once

#include "exchange/results/kind_lines.h"

namespace alder {

// Adds them; false where the file is none of those.
bool acrossRules(const ResultText& text, const std::vector<LookedLine>& lines, FileKind& kind);

// A line, or its beginning, by which the kind is known again.
void addMark(FileKind& kind, const std::string& line);

} // namespace alder
