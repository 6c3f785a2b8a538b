// The rules by which lines of a file are read, made from its lines for one way of cutting them.
#pragma once

#include "exchange/results/kind_lines.h"
#include "exchange/results/propose_kind.h"

namespace alder {

FileKind kindFor(const ResultText& text, const CellLayout& layout, char decimal,
                 const std::vector<Pointing>& pointings);

} // namespace alder
