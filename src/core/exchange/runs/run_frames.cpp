#include "exchange/runs/run_frames.h"

#include "exchange/points/points_file.h"

namespace alder {
namespace {

constexpr std::string_view kPartFrame = "# part frame ", kNamedFrame = "# frame ";

std::optional<KeptFrame> frameIn(const std::string& line, std::string_view sign) {
  if (!line.starts_with(sign)) return {};
  const Json json = Json::parse(line.substr(sign.size()), nullptr, false);
  const JsonFields f(json, "frame");
  KeptFrame kept = readKeptFrame(f);
  return f.done() ? std::optional(std::move(kept)) : std::nullopt;
}

} // namespace

std::string frameLines(const Run& run) {
  std::string lines =
      std::string(kPartFrame) + toJson(KeptFrame{"part frame", run.part_frame}).dump() + "\n";
  for (const UsedFrame& f : run.frames)
    lines += std::string(kNamedFrame) + toJson(KeptFrame{f.name, f.after}).dump() + "\n";
  return lines;
}

RunFrames framesIn(const std::string& csv) {
  RunFrames found;
  for (std::size_t at = 0; at < csv.size() && csv[at] == '#';) {
    const auto end = std::min(csv.find('\n', at), csv.size());
    const std::string line = csv.substr(at, end - at);
    at = end + 1;
    if (auto part = frameIn(line, kPartFrame))
      found.part = part->placement;
    else if (auto named = frameIn(line, kNamedFrame))
      found.named.push_back(std::move(*named));
  }
  return found;
}

Result<Frame> partFrameOf(const Plan& plan, const std::string& csv, const std::string& label) {
  if (const auto told = framesIn(csv).part) return *told;
  auto touches = touchesIn(csv, label, plan);
  if (!touches) return pass(touches.error());
  if (plan.alignment.empty() || touches->empty())
    return fail("{}: does not tell where the part lay; measure a part again.", label);
  return alignedFrame(plan, *touches, frameByPlaces(plan, *touches).value_or(plan.placement));
}

} // namespace alder
