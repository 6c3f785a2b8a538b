// Measured points as text, whatever its form: what is read and written here, the rest of the
// program asks for by what it is. So far a table of comma-separated values, a row for each touch.
#pragma once

#include "judge/measurement.h"
#include "rehearse/rehearsal.h"
#include "run/run.h"

namespace alder {

// x, y, z alone; for fits.
Result<Points> barePointsIn(const std::string& text, const std::string& label);

std::string pointsText(const Run& run);
// Places of a cloud, with the row, the face and the noise of each.
std::string placesText(const Plan& plan, const Measurements& measured);
// Text that such a run begins with, whatever stands above its table.
bool isRunOfPoints(const std::string& text);
// With figures that are stated above the table, see exchange/results/stated_lines.h.
// Rows without a feature of the plan are an error that names the line; rows of a feature that was
// taken out of the routine since are passed over.
Result<Measurements> measurementsIn(const std::string& text, const std::string& label,
                                    const Plan& plan);
// Touches as the machine returned them, for a frame; rows beyond the planned touches are left out.
// Error when the file holds no centres of the ball, or as above.
Result<std::vector<RawTouch>> touchesIn(const std::string& text, const std::string& label,
                                        const Plan& plan);

} // namespace alder
