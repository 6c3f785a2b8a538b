// Semantic PMI made by entity, from the tables of ISO 10303-47 and -1101 and not by what a writer
// of ours does: every kind, every modifier in every encoding that the schemas allow, units and
// groupings, each with what it has to be read as.
#pragma once

#include "part/model.h"
#include "requirement/specification.h"

namespace alder::test {

struct PmiCase {
  std::string name;
  std::string records; // beside those of `pmiFile`; the requirement in question is #60
  // As `pmiAnswer` says it; "told": taken over in part at most, and a note on it; "not judged": no
  // requirement, and a note.
  std::string expected;
};
std::vector<PmiCase> pmiCases();

// A file with units (mm, inch, degree, thousandth of an inch), aspects of the faces of `pmiPart`
// and the datums A, B, C.
std::string pmiFile(const std::string& records);
// Faces 501 and so on in the file are 0 and so on: a bore ø10, two planes 30 apart, planes and a
// shaft as datums, a slot, a cone, a sphere, six bores ø8.
PartModel pmiPart();
std::vector<FaceId> pmiFacesOf(int entity);
// The same with the tolerances of a file, as the importer would make it.
Result<PartModel> pmiPartOf(const std::string& file);

// What the readers make of a file: requirements by entity as one line, and all notes.
struct PmiAnswer {
  std::map<EntityNumber, std::string> requirements;
  std::vector<Note> notes;
  bool told(EntityNumber entity) const;
};
PmiAnswer pmiAnswer(const std::string& file);

} // namespace alder::test
