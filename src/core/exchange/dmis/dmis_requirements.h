// Requirements that a DMIS program asks for: TOL defines them, OUTPUT says of which features.
#pragma once

#include "exchange/dmis/dmis_matching.h"
#include <map>

namespace alder::dmis {

class ProgramRequirements {
 public:
  // False where it is none of ours.
  bool define(const Statement& tolerance, const Units& units);
  bool knows(const std::string& label) const { return tolerances_.count(label) > 0; }
  // Features of one tolerance come in several statements.
  void output(const std::string& label, const std::vector<FeatureId>& features);
  // In the order of their first results; one that the plan has is that one.
  void addTo(Plan& plan) const;

 private:
  std::map<std::string, Requirement> tolerances_;
  std::map<std::string, std::vector<FeatureId>> outputs_;
  std::vector<std::string> order_;
};

} // namespace alder::dmis
