#include "exchange/routine/view_json.h"

#include <cmath>

namespace alder {

Json toJson(const KeptView& v) {
  Json callouts = Json::array();
  for (const KeptCallout& c : v.callouts) {
    Json one{{"requirement", c.requirement.value}};
    if (c.label) one["right_mm"] = c.label->x(), one["up_mm"] = c.label->y();
    callouts.push_back(std::move(one));
  }
  Json json{{"name", v.name},      {"centre", toJson(v.centre)}, {"towards", toJson(v.towards)},
            {"up", toJson(v.up)},  {"width", v.width},           {"height", v.height},
            {"callouts", callouts}};
  if (v.section)
    json["section"] = {{"normal", toJson(v.section->normal)}, {"at_mm", v.section->at}};
  return json;
}

KeptView viewFrom(const JsonFields& f) {
  KeptView v;
  v.name = f.text("name");
  v.centre = f.vector("centre"), v.towards = f.vector("towards"), v.up = f.vector("up");
  v.width = f.number("width"), v.height = f.number("height");
  if (f.has("section")) {
    const JsonFields section = f.object("section");
    const Vec3 normal = section.vector("normal");
    const double length = normal.norm(), at = section.number("at_mm");
    if (length > 1e-9) // one that was made here stays as it is, to the last bit
      v.section = std::abs(length - 1) < 1e-12 ? CutPlane{normal, at}
                                               : CutPlane{normal / length, at / length};
    else
      section.complain("normal", "must have a length");
  }
  for (const JsonFields& one : f.list("callouts")) {
    KeptCallout c{RequirementId{one.integer("requirement", -1)}, {}};
    if (one.has("right_mm")) c.label = Vec2(one.number("right_mm"), one.number("up_mm"));
    v.callouts.push_back(c);
  }
  return v;
}

} // namespace alder
