// Routines and results as QIF 3 (ISO 23952), written and read. What is written is laid down in
// docs/qif/alderpoint-qif3.xsd; docs/qif/README.md tells what of it was taken from memory.
#pragma once

#include "exchange/machine/program_file.h"
#include "exchange/routine/project.h"

namespace alder {

bool isQifFile(const std::string& target); // *.qif, in any case
bool isQif(std::string_view text);         // by its first lines
// Whether a file holds measured parts; false where it cannot be read.
bool holdsQifResults(const std::string& path);

struct QifWritten {
  std::string text;
  std::vector<std::string> told; // what does not stand in it, a sentence each
};
// Part, features, datums, characteristics and plan; of `runs` the results, and statistics where
// there are several. The same routine and runs give the same bytes.
QifWritten qifDocument(const Project& project, const std::vector<StoredRun>& runs);

// Features, datums and characteristics of the file on the features of `base`; its plan. Of a bare
// part the requirements of the model give way to those of the file, and what the file does not say
// (touches, tips, order) is drafted. Of a routine they are added to, and what the file has
// otherwise is told. Error when the text holds no QIF document, or nothing of these.
Result<ProgramRead> readQif(const std::string& text, const std::string& label, Plan base,
                            ReadOnto onto, const Progress& progress = {});

} // namespace alder
