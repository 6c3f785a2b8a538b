// What the PMI cases are put together from.
#pragma once

#include "pmi_cases.h"

namespace alder::test {

using PmiCases = std::vector<PmiCase>;

struct PmiKind {
  const char* entity;
  const char* words;
  const char* aspect; // its number
  const char* datum;  // number of one, or ""
  const char* letter;
  bool round_zone;
};
const std::vector<PmiKind>& pmiKinds();
const PmiKind& pmiKind(const std::string& entity);
std::string zoneOf(const PmiKind& k);
std::string systemOf(const PmiKind& k, const std::string& modifiers = "$");
// As `pmiAnswer` says it.
std::string toleranceText(const PmiKind& k, double value, const std::string& behind = "",
                          const std::string& datum_behind = "");

void addToleranceCases(PmiCases& out);
void addDimensionCases(PmiCases& out);
void addAspectCases(PmiCases& out);

} // namespace alder::test
