#include "exchange/routine/frame_json.h"

#include "base/units.h"

namespace alder {

Json frameJson(const PartFrame& frame, const std::function<Json(FeatureId)>& feature) {
  Json stages = Json::array();
  for (const FrameStage& s : frame.stages) {
    Json features = Json::array();
    for (FeatureId id : s.features)
      features.push_back(feature(id));
    stages.push_back({{"features", features}, {"locks", s.locks}, {"weight", s.weight}});
    // Always written: what is missing would be taken for a field of a newer version and kept.
    stages.back()["band"] =
        s.band ? Json{{"lower", s.band->lower}, {"upper", s.band->upper}} : Json();
  }
  return {{"name", frame.name},
          {"fit", name(frame.fit)},
          {"stages", stages},
          {"held", frame.held},
          {"shift", toJson(frame.shift)},
          {"turn_deg", toJson(Vec3(frame.turn / radians(1)))}};
}

PartFrame readPartFrame(const JsonFields& f,
                        const std::function<std::vector<FeatureId>(const JsonFields&)>& features) {
  PartFrame frame;
  frame.name = f.text("name");
  const std::string fit = f.text("fit", "in order");
  bool known = false;
  for (const FrameFit k : kFrameFits)
    if (fit == name(k) || (fit == "least worst" && name(k) == "minimax")) // as it was called before
      frame.fit = k, known = true;
  if (!known)
    f.complain("fit", "is not one of in order, least squares, minimax, inside the band");
  for (const auto& item : f.list("stages")) {
    FrameStage stage{features(item), item.text("locks", ""), item.number("weight", 1), {}};
    if (item.has("band")) {
      const auto band = item.object("band");
      stage.band = Band{band.number("lower"), band.number("upper")};
    }
    frame.stages.push_back(std::move(stage));
  }
  frame.held = f.text("held", "");
  if (f.has("shift")) frame.shift = f.vector("shift");
  if (f.has("turn_deg")) frame.turn = f.vector("turn_deg") * radians(1);
  if (auto good = validate(frame); !good) f.complain("stages", good.error().message);
  return frame;
}

} // namespace alder
