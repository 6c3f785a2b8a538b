// Requirements that a DMIS program asks for: TOL defines them, OUTPUT says of which features.
#pragma once

#include "exchange/dmis/dmis_matching.h"
#include <map>
#include <set>

namespace alder::dmis {

class ProgramRequirements {
 public:
  // False where it is none of ours.
  bool define(const std::string& label, const Statement& tolerance, const Units& units);
  bool knows(const std::string& label) const { return tolerances_.count(label) > 0; }
  Characteristic kind(const std::string& label) const { return tolerances_.at(label).kind; }
  // Once for each statement; the same again, evaluated and put out, is one result.
  void output(const std::string& label, const std::vector<FeatureId>& features);
  // The results of this tolerance are one requirement of all their features.
  void asOne(const std::string& label) { as_one_.insert(label); }
  // In the order of their first results; one that the plan has, of all the features of a tolerance
  // or of those of one result, is that one.
  void addTo(Plan& plan) const;

 private:
  std::map<std::string, Requirement> tolerances_;
  std::map<std::string, std::vector<std::vector<FeatureId>>> outputs_;
  std::vector<std::string> order_;
  std::set<std::string> as_one_;
};

} // namespace alder::dmis
