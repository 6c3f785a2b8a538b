// Numbers and identities in a QIF file. A thing of the routine has the same id and the same QPId
// (a UUID) in every file that is written of it: both follow from its own number, which the routine
// never gives twice.
#pragma once

#include "exchange/qif/qif_kept.h"
#include "plan/plan.h"

namespace alder::qif {

enum class Thing {
  FeatureDefinition,
  FeatureNominal,
  FeatureItem,
  CharacteristicDefinition,
  CharacteristicNominal,
  CharacteristicItem,
  Datum,
  DatumTarget,
  ReferenceFrame,
  Action,
  Tip,
  Part,
  Machine,
};

// "feature_nominal 5"
std::string keyOf(Thing thing, int number);
inline std::string keyOf(Thing thing, FeatureId id) {
  return keyOf(thing, id.value);
}
inline std::string keyOf(Thing thing, RequirementId id) {
  return keyOf(thing, id.value);
}
// A number that follows from the letter alone as long as it is one or two capitals.
int datumNumber(const Specification& spec, const std::string& letter);

// Tells one datum system from another.
std::string systemKey(const Requirement& requirement);

class Ids {
 public:
  Ids(const Plan& plan, const KeptQif& kept);
  int of(Thing thing, int number);
  int of(Thing thing, FeatureId id) { return of(thing, id.value); }
  int of(Thing thing, RequirementId id) { return of(thing, id.value); }
  // Of what the routine has no number for: results.
  int fresh() { return max_ = std::max(max_, first_fresh_) + 1; }
  int max() const { return max_; }
  std::string uuid(Thing thing, int number) const;

 private:
  const KeptQif& kept_;
  std::string part_; // what identities stand on: the model
  int base_ = 0, first_fresh_ = 0, max_ = 0;
};

// By name within a space of our own (RFC 4122 clause 4.3, SHA-1).
std::string uuidOf(std::string_view name);
std::string uuidOf(const Plan& plan, const KeptQif& kept, Thing thing, int number);

} // namespace alder::qif
