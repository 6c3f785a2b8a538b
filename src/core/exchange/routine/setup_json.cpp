#include "exchange/routine/setup_json.h"

#include "exchange/routine/ids_json.h"
#include "exchange/routine/recipe_json.h"
#include "exchange/routine/step_json.h"
#include <cmath>

namespace alder {
namespace {

Support readSupport(const JsonFields& f) {
  if (f.has("diameter_mm")) return {f.vector("at"), f.positive("diameter_mm"), 0};
  return {f.vector("at"), f.positive("length_mm"), f.positive("width_mm")};
}

} // namespace

Json rigidJson(const Frame& f) {
  Json rows = Json::array();
  for (int r = 0; r < 3; ++r)
    rows.push_back({f.matrix()(r, 0), f.matrix()(r, 1), f.matrix()(r, 2), f.matrix()(r, 3)});
  return rows;
}

Frame readRigid(const JsonFields& f, const char* key) {
  Frame frame = Frame::Identity();
  const Json rows = f.json().value(key, Json());
  bool good = rows.is_array() && rows.size() == 3;
  for (std::size_t r = 0; good && r < 3; ++r) {
    good = rows[r].is_array() && rows[r].size() == 4;
    for (std::size_t c = 0; good && c < 4; ++c) {
      good = rows[r][c].is_number();
      if (good) frame.matrix()(static_cast<int>(r), static_cast<int>(c)) = rows[r][c].get<double>();
    }
  }
  if (!good || std::abs(frame.linear().determinant() - 1) > 1e-6)
    f.complain(key, "must be three rows of four numbers that form a rigid placement");
  return frame;
}

Json toJson(const Supports& supports) {
  Json list = Json::array();
  for (const Support& s : supports) {
    Json j{{"at", toJson(s.at)}};
    if (s.round())
      j["diameter_mm"] = s.length;
    else
      j["length_mm"] = s.length, j["width_mm"] = s.width;
    list.push_back(std::move(j));
  }
  return list;
}

Supports readSupports(const JsonFields& f) {
  Supports supports;
  for (const JsonFields& s : f.list("supports"))
    supports.push_back(readSupport(s));
  if (auto valid = validate(supports); !valid) f.complain("supports", valid.error().message);
  return supports;
}

Json toJson(const Setup& s, bool worked_on) {
  Json json{
      {"id", s.id.value}, {"name", s.name}, {"how", s.how}, {"most_misfit_mm", s.most_misfit}};
  if (worked_on) return json;
  json["placement"] = rigidJson(s.placement);
  json["supports"] = toJson(s.supports);
  json["bench"] = s.fixture;
  json["steps"] = toJson(s.steps);
  json["alignment"] = idsJson(s.alignment);
  json["shell"] = toJson(s.shell);
  return json;
}

Setup readSetup(const JsonFields& f, bool worked_on, const Specification& spec,
                const ReadFeatures& features) {
  Setup s;
  s.id = SetupId{f.integer("id", -1)};
  s.name = f.text("name");
  s.how = f.text("how", "");
  s.most_misfit = f.has("most_misfit_mm") ? f.positive("most_misfit_mm") : kMostMisfit;
  if (worked_on) return s;
  s.placement = readRigid(f, "placement");
  s.supports = readSupports(f);
  s.fixture = f.json().value("bench", Json::object());
  if (!s.fixture.is_object()) f.complain("bench", "must hold the fixture of the set-up");
  s.steps = readSteps(f, "steps", spec);
  s.alignment = features(f, "alignment");
  if (f.has("shell")) s.shell = readShell(f.object("shell"));
  return s;
}

} // namespace alder
