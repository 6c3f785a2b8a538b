#include "exchange/points/cloud_head.h"

#include "bench/json_fields.h"
#include "plan/id_text.h"
#include <algorithm>

namespace alder {
namespace {

std::size_t countIn(const JsonFields& f, const char* key) {
  return static_cast<std::size_t>(std::clamp(f.number(key, 0), 0.0, 1e15));
}

constexpr std::string_view kLine = "# cloud ";

} // namespace

std::string cloudLine(const CloudHead& h) {
  Json placement = Json::array(), features = Json::array();
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 4; ++j)
      placement.push_back(h.placement(i, j));
  for (const auto& [id, points] : h.from)
    features.push_back({{"feature", id.value}, {"points", points}});
  const Json json{{"file", h.file},   {"hash", h.hash},         {"form", h.form},
                  {"unit", h.unit},   {"fit", h.fit},           {"points", h.points},
                  {"used", h.used},   {"rms", h.rms},           {"edge", h.edge},
                  {"reach", h.reach}, {"placement", placement}, {"features", features}};
  return std::string(kLine) + json.dump(-1, ' ', false, Json::error_handler_t::replace) + "\n";
}

std::optional<CloudHead> cloudHeadIn(const std::string& csv) {
  for (std::size_t at = 0; at < csv.size() && csv[at] == '#';) {
    const auto end = std::min(csv.find('\n', at), csv.size());
    const std::string_view line = std::string_view(csv).substr(at, end - at);
    at = end + 1;
    if (!line.starts_with(kLine)) continue;
    const Json json = Json::parse(line.substr(kLine.size()), nullptr, false);
    if (!json.is_object()) return {};
    const JsonFields f(json, "cloud");
    CloudHead h;
    h.file = f.text("file", ""), h.hash = f.text("hash", ""), h.form = f.text("form", "");
    h.unit = f.text("unit", "mm"), h.fit = f.text("fit", "");
    h.points = countIn(f, "points");
    h.used = countIn(f, "used");
    h.rms = f.number("rms", 0), h.edge = f.number("edge", 0), h.reach = f.number("reach", 0);
    for (const auto& item : f.list("features"))
      h.from[FeatureId{item.integer("feature", -1)}] = countIn(item, "points");
    if (!f.done()) return {};
    const auto placement = json.find("placement");
    if (placement != json.end() && placement->is_array() && placement->size() == 12)
      for (int k = 0; k < 12; ++k)
        if (const Json& v = (*placement)[static_cast<std::size_t>(k)]; v.is_number())
          h.placement(k / 4, k % 4) = v.get<double>();
    return h;
  }
  return {};
}

} // namespace alder
