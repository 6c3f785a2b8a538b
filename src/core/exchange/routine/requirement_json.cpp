#include "exchange/routine/requirement_json.h"

#include "base/units.h"
#include "exchange/routine/ids_json.h"
#include "exchange/routine/judging_json.h"
#include "exchange/routine/named.h"
#include "requirement/limits.h"
#include <algorithm>

namespace alder {

Json toJson(const Requirement& r) {
  Json datums = Json::array();
  for (const auto& d : r.datums)
    datums.push_back(toJson(d));
  const auto shown = [&](double v) {
    return r.kind == Characteristic::Angle ? shownDegrees(v) : v;
  };
  Json json{{"id", r.id.value},
            {"balloon", r.balloon},
            {"kind", name(r.kind)},
            {"features", idsJson(r.features)},
            {"nominal", shown(r.nominal)},
            {"lower", shown(r.lower)},
            {"upper", shown(r.upper)},
            {"tolerance", isDimension(r.kind) ? shown(r.tolerance) : r.tolerance},
            {"zone", name(r.zone)},
            {"material", name(r.material)},
            {"datums", datums},
            {"radius", r.radius},
            {"upper_segment", r.upper_segment.value},
            {"fit", r.fit},
            {"decimals", r.decimals},
            {"entity", r.entity}};
  writeJudging(r, json);
  if (r.spot)
    json["spot"] = {{"drawing", r.spot->drawing},
                    {"page", r.spot->page},
                    {"x_mm", r.spot->x},
                    {"y_mm", r.spot->y}};
  if (r.spot && r.spot->balloon)
    json["spot"]["balloon"] = {{"x_mm", r.spot->balloon->x},
                               {"y_mm", r.spot->balloon->y},
                               {"pinned", r.spot->balloon->pinned}};
  return json;
}

Requirement requirementFrom(const JsonFields& f) {
  Requirement r;
  r.balloon = f.integer("balloon", 0);
  const auto kind = characteristicNamed(f.text("kind"));
  if (!kind) f.complain("kind", "is not a characteristic");
  r.kind = kind.value_or(Characteristic::Size);
  const double scale = r.kind == Characteristic::Angle ? kPi / 180 : 1;
  r.nominal = f.number("nominal", 0) * scale;
  r.lower = f.limit("lower", kNoLower, 0) * scale;
  r.upper = f.limit("upper", kNoUpper, 0) * scale;
  if (isDimension(r.kind) && !hasLower(r) && !hasUpper(r)) f.complain("upper", "is missing");
  r.tolerance =
      hasSingleLimit(r) ? kNoUpper : f.number("tolerance") * (isDimension(r.kind) ? scale : 1);
  r.zone = readNamed(f, "zone", 3, Zone::Planar);
  r.material = readNamed(f, "material", 3, MaterialModifier::None);
  for (const auto& d : f.list("datums"))
    r.datums.push_back(readDatumReference(d));
  r.radius = f.flag("radius", false);
  r.upper_segment = RequirementId{f.integer("upper_segment", -1)};
  r.fit = f.text("fit", "");
  r.decimals = std::clamp(f.integer("decimals", 3), 0, 6);
  r.entity = f.wide("entity", 0);
  readJudging(f, r);
  if (f.has("spot")) {
    const JsonFields spot = f.object("spot");
    r.spot = DrawingSpot{spot.text("drawing"),
                         std::max(1, spot.integer("page", 1)),
                         spot.number("x_mm", 0),
                         spot.number("y_mm", 0),
                         {}};
    if (spot.has("balloon")) {
      const JsonFields balloon = spot.object("balloon");
      r.spot->balloon = DrawingSpot::Balloon{balloon.number("x_mm", 0), balloon.number("y_mm", 0),
                                             balloon.flag("pinned", false)};
    }
  }
  return r;
}

} // namespace alder
