// A placed cloud as a run of the routine: its gathered places stand there as touched points do, so
// that history, capability, report and export treat it alike. The cloud itself stays where it is;
// its name and hash are kept.
#pragma once

#include "cloud/judged_cloud.h"
#include "exchange/clouds/cloud_file.h"
#include "exchange/results/bring_in.h"

namespace alder {

std::string cloudRunText(const Plan& plan, const PlacedCloud& placed, const CloudFile& file,
                         const std::string& unit, const CloudSettings& settings);

// The run that the cloud becomes: named as asked, else as the file. Values that were stated for a
// part of that name are kept with it; a run that was touched is not touched here: the cloud then
// gets a name of its own.
ResultsEdit bringingInCloud(const Project& project, const std::string& csv, const std::string& file,
                            const std::string& run_name);
// The name that it gets.
std::string cloudRunName(const Project& project, const std::string& file, const std::string& asked);

} // namespace alder
