// A file of results, of whatever form: tables and reports by the description of their kind,
// programs' output (DMIS, ISO 22093) and QIF (ISO 23952) by the standard.
#pragma once

#include "exchange/results/brought.h"
#include "exchange/results/propose_kind.h"

namespace alder {

struct ResultFile {
  std::string name; // without folders
  std::string bytes;
  ResultText text;
  FileKind kind;      // its name is empty where it was proposed and nobody named it
  bool known = false; // a kind that was kept
  bool fixed = false; // laid down by a standard: nothing to be pointed at
  ResultsRead read;
};

// By the kind of `kept` that it is of, else by a proposal. Error names the file.
Result<ResultFile> readResultFile(std::string bytes, const std::string& name,
                                  const std::vector<FileKind>& kept);
// By this kind.
Result<ResultFile> readResultFile(std::string bytes, const std::string& name, const FileKind& kind);
// The same file read by another kind.
void readAgain(ResultFile& file, FileKind kind);

// dmis_results.cpp
bool isDmisOutput(const ResultText& text);
ResultsRead readDmisOutput(const ResultText& text);
// qif/qif_results_reader.cpp; error where it is damaged.
struct QifResults {
  ResultText text; // an element a line, where it stands in long ones
  ResultsRead read;
};
Result<QifResults> readQifResults(const std::string& bytes, const std::string& label);

} // namespace alder
