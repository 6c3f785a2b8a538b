// What a model file says of a requirement in semantic PMI (ISO 10303-47, -242), so that what was
// read, what shall be written and what was read back can be compared.
#pragma once

#include "exchange/routine/judging_json.h"

namespace alder {

// Limits as deviations, mm or radians. Faces stand for features, in whatever order they are.
struct Stated {
  Characteristic kind = Characteristic::Size;
  std::vector<std::vector<FaceId>> features;
  double nominal = 0, lower = 0, upper = 0;
  double tolerance = 0;
  Zone zone = Zone::Planar;
  MaterialModifier material = MaterialModifier::None;
  std::vector<DatumReference> datums;
  Json modifiers; // as in routines, without those of `judgedBy`
  bool radius = false;
  std::string fit;
  EntityNumber upper_segment = 0;     // of the segment above; 0: none
  std::vector<EntityNumber> one_with; // held by one placement, ascending, itself among them
};

// `entities`: number of each requirement in the file, by id; 0: it has none yet; absent: it stands
// in no file.
using RequirementEntities = std::map<RequirementId, EntityNumber>;
RequirementEntities entitiesOf(const Specification& spec);
Stated statedOf(const Specification& spec, const Requirement& r,
                const RequirementEntities& entities);

// In words; empty where both say the same. Figures within 1e-9 of each other are the same.
std::vector<std::string> differences(const Stated& a, const Stated& b);
// Same faces and targets.
bool sameDatum(const Specification& a, const Datum& of_a, const Specification& b,
               const Datum& of_b);

// Why a file cannot say it, in words that follow its name: "is of a constructed feature"; empty
// where it can.
std::string cannotBeStated(const Specification& spec, const Requirement& r);
std::string cannotBeStated(const Specification& spec, const Datum& datum);
// How it is judged beside what a file says of it: "its filter". What is required is the same.
std::vector<std::string> judgedBy(const Requirement& r);

} // namespace alder
