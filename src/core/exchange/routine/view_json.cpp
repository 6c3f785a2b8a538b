#include "exchange/routine/view_json.h"

namespace alder {

Json toJson(const KeptView& v) {
  Json callouts = Json::array();
  for (const KeptCallout& c : v.callouts) {
    Json one{{"requirement", c.requirement.value}};
    if (c.label) one["right_mm"] = c.label->x(), one["up_mm"] = c.label->y();
    callouts.push_back(std::move(one));
  }
  return {{"name", v.name},      {"centre", toJson(v.centre)}, {"towards", toJson(v.towards)},
          {"up", toJson(v.up)},  {"width", v.width},           {"height", v.height},
          {"callouts", callouts}};
}

KeptView viewFrom(const JsonFields& f) {
  KeptView v;
  v.name = f.text("name");
  v.centre = f.vector("centre"), v.towards = f.vector("towards"), v.up = f.vector("up");
  v.width = f.number("width"), v.height = f.number("height");
  for (const JsonFields& one : f.list("callouts")) {
    KeptCallout c{RequirementId{one.integer("requirement", -1)}, {}};
    if (one.has("right_mm")) c.label = Vec2(one.number("right_mm"), one.number("up_mm"));
    v.callouts.push_back(c);
  }
  return v;
}

} // namespace alder
