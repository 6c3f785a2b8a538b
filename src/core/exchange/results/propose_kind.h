// A description of a kind of result file, proposed from the text of one file and from what a person
// pointed at.
#pragma once

#include "exchange/results/result_reader.h"

namespace alder {

// "This piece of this line is the nominal."
struct Pointing {
  std::size_t line = 0;         // counted from 0
  std::size_t from = 0, to = 0; // bytes
  ResultRole role = ResultRole::None;
};

struct KindProposal {
  FileKind kind;
  ResultsRead read; // of the text by it
  double score = 0; // the best of several descriptions has the highest
};

// Always one; of a text without results it reads nothing.
KindProposal proposeKind(const ResultText& text, const std::vector<Pointing>& pointings = {});

// The kind with one more thing pointed at, the rest as it is: for kinds that are kept.
FileKind withPointing(const FileKind& kind, const ResultText& text, const Pointing& pointing);

// Of those kept the one that the text is of; null: none of them.
const FileKind* kindOf(const std::vector<FileKind>& kept, const ResultText& text);

} // namespace alder
