#include "exchange/runs/correction.h"

#include "base/files.h"
#include "exchange/runs/run_frames.h"

namespace alder {
namespace {

Result<std::string> inForm(const SetupCorrection& c, const std::string& name,
                           const std::string& target, const std::string& form) {
  const std::string ending = std::filesystem::path(target).extension().string();
  if (ending == ".csv") return correctionTable(c);
  if (ending == ".json") return correctionJson(c);
  if (ending == ".txt") return correctionMatrix(c);
  if (ending == ".step" || ending == ".stp") return correctionStep(c, name);
  if (ending != ".nc")
    return fail("{}: the kind of file is not known; use .csv, .json, .txt, .step or .nc.", target);
  auto text = readFile(form.empty() ? dataFolder() / "assets" / "templates" / "correction.nc"
                                    : std::filesystem::path(form));
  if (!text) return pass(text.error());
  return correctionFromTemplate(c, name, *text);
}

} // namespace

Result<SetupCorrection> correctionOfPoints(const Plan& plan, const std::string& csv,
                                           const std::string& label, CorrectionAxes axes,
                                           const std::string& order) {
  const auto found = partFrameOf(plan, csv, label);
  if (!found) return pass(found.error());
  return correctionBetween(plan.placement, *found,
                           axes == CorrectionAxes::Machine ? Frame::Identity() : plan.placement,
                           order);
}

Done writeCorrection(const SetupCorrection& correction, const std::string& name,
                     const std::string& target, const std::string& form) {
  auto text = inForm(correction, name, target, form);
  if (!text) return pass(text.error());
  return writeFile(target, *text);
}

} // namespace alder
