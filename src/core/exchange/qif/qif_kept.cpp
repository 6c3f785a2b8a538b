#include "exchange/qif/qif_kept.h"

#include <algorithm>

namespace alder {

Json toJson(const KeptQif& kept) {
  Json elements = Json::array();
  for (const KeptQifElement& e : kept.elements)
    elements.push_back({{"within", e.within}, {"before", e.before}, {"xml", e.xml}});
  return {{"document", kept.document},
          {"id_max", kept.id_max},
          {"ids", kept.ids},
          {"uuids", kept.uuids},
          {"elements", elements}};
}

KeptQif readKeptQif(const JsonFields& f) {
  KeptQif kept;
  kept.document = f.text("document", "");
  kept.id_max = std::max(f.integer("id_max", 0), 0);
  if (f.has("ids") && f.json()["ids"].is_object())
    for (const auto& [key, id] : f.json()["ids"].items())
      if (id.is_number_integer()) kept.ids[key] = id.get<int>();
  if (f.has("uuids") && f.json()["uuids"].is_object())
    for (const auto& [key, id] : f.json()["uuids"].items())
      if (id.is_string()) kept.uuids[key] = id.get<std::string>();
  for (const JsonFields& one : f.list("elements"))
    kept.elements.push_back({one.text("within"), one.text("before", ""), one.text("xml")});
  return kept;
}

} // namespace alder
