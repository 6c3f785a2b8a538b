// What a routine keeps of files of results that were brought in: the files themselves, the
// descriptions of their kinds, which of their values prove what, and what is left out of the
// pictures of them.
#pragma once

#include "cloud/map_area.h"
#include "exchange/results/file_kind.h"
#include "exchange/results/result_matching.h"
#include <memory>

namespace alder {

struct KeptResultFile {
  std::string name; // without folders
  std::string hash;
  std::shared_ptr<const std::string> bytes;
  friend bool operator==(const KeptResultFile& a, const KeptResultFile& b) {
    return a.name == b.name && a.hash == b.hash;
  }
};

struct BroughtResults {
  std::vector<KeptResultFile> files; // the last brought in last
  std::vector<FileKind> kinds;
  std::vector<MatchDecision> decisions;
  std::vector<MapArea> left_out; // of the deviation map
  bool empty() const {
    return files.empty() && kinds.empty() && decisions.empty() && left_out.empty();
  }
  friend bool operator==(const BroughtResults&, const BroughtResults&) = default;
};

std::string resultFileHash(const std::string& bytes);

// Without the bytes of the files, which stand beside it in the project.
Json toJson(const BroughtResults& brought);
BroughtResults readBrought(const JsonFields& f);
std::string entryNameOf(const KeptResultFile& file); // in the project file

} // namespace alder
