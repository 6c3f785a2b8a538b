// Tables in and out as comma-separated text (RFC 4180): measured points, machine positions.
#pragma once

#include "judge/measurement.h"
#include "rehearse/rehearsal.h"
#include "run/run.h"

namespace alder {

struct CsvTable {
  std::vector<std::string> header;
  std::vector<std::vector<std::string>> rows;
  std::vector<int> lines;                  // line of each row in the file
  int column(std::string_view name) const; // -1 if absent
};
// Error names the line. Empty lines and lines that begin with # are passed over.
Result<CsvTable> readCsv(const std::string& text, const std::string& label);

// x, y, z columns only; for fits.
Result<Points> pointsFromCsv(const std::string& text, const std::string& label);

std::string pointsCsv(const Run& run);
// Rows without a feature of the plan are an error that names the line; rows of a feature that was
// taken out of the routine since are passed over.
Result<Measurements> measurementsFromCsv(const std::string& text, const std::string& label,
                                         const Plan& plan);
// Touches as the machine returned them, for a frame; rows beyond the planned touches are left out.
// Error when the file holds no centres of the ball, or as above.
Result<std::vector<RawTouch>> touchesFromCsv(const std::string& text, const std::string& label,
                                             const Plan& plan);

// One row per machine position; the columns are those of the contract in docs/files.md.
std::string pathCsv(const Plan& plan, const Way& way, const std::vector<double>& times);

} // namespace alder
