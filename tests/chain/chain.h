// A part drawn by lot is taken through the whole job by the batch program, as a stranger would.
#pragma once

#include <string>
#include <vector>

namespace alder::test {

struct ChainResult {
  std::string name;
  int requirements = 0, covered = 0;
  std::vector<std::string> faults; // what is not as it should be; none: it holds
  std::vector<std::string> why_not; // reasons of what is not covered, confirmed
};

// Draft, rehearsal, independent check of the way, qualification, run, verdicts, run with defects,
// report. Files are left in `folder`.
ChainResult runChain(unsigned seed, const std::string& folder);

} // namespace alder::test
