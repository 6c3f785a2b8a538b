#include "exchange/results/brought.h"

#include "base/hash.h"

namespace alder {

std::string resultFileHash(const std::string& bytes) {
  return hashText(hashOfLong(bytes));
}

std::string entryNameOf(const KeptResultFile& file) {
  return "results/" + file.hash + "/" + file.name;
}

Json toJson(const BroughtResults& brought) {
  Json files = Json::array(), kinds = Json::array(), decisions = Json::array();
  for (const KeptResultFile& f : brought.files)
    files.push_back({{"name", f.name}, {"hash", f.hash}});
  for (const FileKind& k : brought.kinds)
    kinds.push_back(toJson(k));
  for (const MatchDecision& d : brought.decisions) {
    Json one{{"kind", d.kind}, {"value", d.key.text}, {"again", d.key.again}};
    if (d.requirement.valid()) one["requirement"] = d.requirement.value;
    if (!d.let_stand.empty()) one["let_stand"] = d.let_stand;
    decisions.push_back(std::move(one));
  }
  Json all{{"files", files}, {"kinds", kinds}, {"decisions", decisions}};
  for (const MapArea& a : brought.left_out)
    all["left_out_of_map"].push_back(toJson(a));
  return all;
}

BroughtResults readBrought(const JsonFields& f) {
  BroughtResults brought;
  for (const JsonFields& one : f.list("files"))
    brought.files.push_back({one.text("name"), one.text("hash"), nullptr});
  for (const JsonFields& one : f.list("kinds")) {
    auto kind = fileKindFromText(one.json().dump(), "kind");
    if (kind)
      brought.kinds.push_back(std::move(*kind));
    else
      f.complain("kinds", kind.error().message);
  }
  for (const JsonFields& one : f.list("decisions")) {
    MatchDecision d;
    d.kind = one.text("kind", "");
    d.key = {one.text("value"), static_cast<std::size_t>(std::max(one.integer("again", 0), 0))};
    d.requirement = RequirementId{one.integer("requirement", -1)};
    if (one.has("let_stand") && one.json()["let_stand"].is_array())
      for (const Json& s : one.json()["let_stand"])
        if (s.is_string()) d.let_stand.push_back(s.get<std::string>());
    brought.decisions.push_back(std::move(d));
  }
  for (const JsonFields& one : f.list("left_out_of_map"))
    brought.left_out.push_back(readMapArea(one));
  return brought;
}

} // namespace alder
