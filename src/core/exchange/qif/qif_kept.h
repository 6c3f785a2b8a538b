// What a routine keeps of a QIF file that it was read from, so that the next file that is written
// carries the same numbers and identities, and what was not understood stands in it again.
#pragma once

#include "bench/json_fields.h"
#include <map>
#include <string>
#include <vector>

namespace alder {

// An element that was not understood, as it stood.
struct KeptQifElement {
  std::string within; // "Features/FeatureNominals", or the key of the element it stands in
  std::string before; // name of the element that followed it; empty: it was the last
  std::string xml;
  friend bool operator==(const KeptQifElement&, const KeptQifElement&) = default;
};

// Keys name a thing of the routine: "feature_nominal 5"; see QifIds.
struct KeptQif {
  std::string document;                     // QPId of the file
  int id_max = 0;                           // ids up to it are the file's own
  std::map<std::string, int> ids;           // by key
  std::map<std::string, std::string> uuids; // QPId, by key
  std::vector<KeptQifElement> elements;
  bool empty() const { return document.empty() && ids.empty() && elements.empty(); }
  friend bool operator==(const KeptQif&, const KeptQif&) = default;
};

Json toJson(const KeptQif& kept);
KeptQif readKeptQif(const JsonFields& f);

} // namespace alder
