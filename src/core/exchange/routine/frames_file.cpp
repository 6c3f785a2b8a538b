#include "exchange/routine/frames_file.h"

#include "exchange/routine/frame_json.h"
#include <algorithm>

namespace alder {
namespace {

constexpr const char* kFramesFormat = "alderpoint-frames";

} // namespace

std::vector<FeatureId> featuresByName(const JsonFields& stage, const Plan& plan) {
  std::vector<FeatureId> ids;
  const Json names = stage.json().is_object() ? stage.json().value("features", Json()) : Json();
  if (!names.is_array()) {
    stage.complain("features", "must be a list of names");
    return ids;
  }
  for (const Json& item : names) {
    const std::string wanted = item.is_string() ? item.get<std::string>() : item.dump();
    const auto found = std::find_if(plan.spec.features.begin(), plan.spec.features.end(),
                                    [&](const NominalFeature& f) { return f.name == wanted; });
    if (found == plan.spec.features.end())
      stage.complain("features",
                     fmt::format("names \"{}\", which is no feature of this routine", wanted));
    else if (found->isConstructed())
      stage.complain("features", fmt::format("names \"{}\", which is not touched", wanted));
    else
      ids.push_back(found->id);
  }
  return ids;
}

std::string framesText(const Plan& plan, const FramesFile& file) {
  Json frames = Json::array(), places = Json::array();
  for (const PartFrame& f : file.frames)
    frames.push_back(frameJson(f, [&](FeatureId id) { return Json(plan.nominal(id).name); }));
  for (const KeptFrame& k : file.kept)
    places.push_back(toJson(k));
  return Json{{"format", kFramesFormat}, {"version", 1}, {"frames", frames}, {"places", places}}
             .dump(1) +
         "\n";
}

Result<FramesFile> framesFromText(const std::string& text, const std::string& label,
                                  const Plan& plan) {
  auto json = parseJson(text, label);
  if (!json) return pass(json.error());
  const JsonFields f(*json, label);
  if (f.text("format", "") != kFramesFormat)
    return fail("{}: holds no part frames; choose a file that was written with them.", label);
  if (f.integer("version", 1) != 1)
    return fail("{}: was written by a newer version; update Alderpoint.", label);
  FramesFile file;
  for (const auto& item : f.list("frames"))
    file.frames.push_back(
        readPartFrame(item, [&](const JsonFields& stage) { return featuresByName(stage, plan); }));
  for (const auto& item : f.list("places"))
    file.kept.push_back(readKeptFrame(item));
  if (auto done = f.done(); !done) return pass(done.error());
  return file;
}

std::vector<PartFrame> withFrames(std::vector<PartFrame> frames,
                                  const std::vector<PartFrame>& more) {
  for (const PartFrame& m : more) {
    const auto same = std::find_if(frames.begin(), frames.end(),
                                   [&](const PartFrame& f) { return f.name == m.name; });
    if (same == frames.end())
      frames.push_back(m);
    else
      *same = m;
  }
  return frames;
}

} // namespace alder
