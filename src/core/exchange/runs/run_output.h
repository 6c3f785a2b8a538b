// Files that a routine writes while it runs.
#pragma once

#include "run/session.h"
#include <filesystem>

namespace alder {

// The name with what stands in braces filled in: {routine}, {time} and the answer to a question by
// its words; what nobody asked stays away. What a file name cannot hold becomes "-". The ending is
// that of the kind.
std::string outputName(const Output& output, const std::string& routine,
                       const std::vector<Answered>& answers, std::int64_t now);

// What was measured so far, into `folder` unless the name says where. `now`: seconds since 1970.
// Error names the file.
Done writeOutput(const Output& output, const RunSession& session,
                 const std::filesystem::path& folder, std::int64_t now);

} // namespace alder
