// The model as STEP AP242 with the requirements of a routine as semantic PMI (ISO 10303-242): the
// file as it was read, in which what is as it was stays letter by letter, what was corrected or
// added is written, and what was taken away is gone.
#pragma once

#include "exchange/step/stated.h"

namespace alder {

struct StepExport {
  std::string bytes;
  RequirementEntities entities; // of each requirement that stands in it, kept or written
  int kept = 0, written = 0, removed = 0;
  std::vector<std::string> told; // what does not stand in it, or not wholly; a line each
};

// `notes`: on what was not taken over from the file. Error where the part has no STEP file, or
// nothing in it to attach requirements to. Throws nothing.
Result<StepExport> stepWithRequirements(const PartModel& part, const Specification& spec,
                                        const std::vector<Note>& notes);

// What a reader makes of it that it should not: a line for each requirement that is absent or says
// something else. `read`: the part that `bytes` were read back as. Empty: all say the same.
std::vector<std::string> differencesReadBack(const StepExport& written, const PartModel& part,
                                             const Specification& spec, const PartModel& read);

} // namespace alder
