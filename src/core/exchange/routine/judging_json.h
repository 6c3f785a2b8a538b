// How results come about, as routines and sheets write it: filters and constructed features.
#pragma once

#include "bench/json_fields.h"
#include "requirement/specification.h"

namespace alder {

// Nothing is {}.
Json toJson(const GeneralTolerances& general);
GeneralTolerances readGeneral(const JsonFields& f);
Json toJson(const Filtering& filtering);
// {"kind": "gaussian", "cutoff_mm": 0.8 | "undulations": 15, "outlier_sigma": 3,
// "outlier_percent": 1}; what is wrong is complained of.
Filtering readFiltering(const JsonFields& f);

// {"construct": "middle", "of": [...], "offset": [..], "turn_deg": [..], "diameter": .., "row":
// ..}; the features are left to the caller.
Json toJson(const Construction& construction);
Construction readConstruction(const JsonFields& f);

// A list of plain values; empty when absent, complained of when it is no list.
const Json& elements(const JsonFields& f, const char* key);

// What shapes a requirement beside kind, features, limits and datums: the fields that
// Requirement::judging lists. Absent or null: as the standard has it. Its kind must be read
// already.
void writeJudging(const Requirement& r, Json& json);
void readJudging(const JsonFields& f, Requirement& r);

// Of a datum reference {"letters": [..], "material": "maximum", "boundary": 20.1, "locks": "uv"},
// which names the degrees of freedom that alone it may fix.
Json toJson(const DatumReference& reference);
DatumReference readDatumReference(const JsonFields& f);
void readMayFix(const JsonFields& f, DatumReference& reference);
// "targets" of a datum, each {"point": [..]}, with "to" a line, with "diameter" an area.
Json toJson(const std::vector<DatumTarget>& targets);
std::vector<DatumTarget> readTargets(const JsonFields& f);

} // namespace alder
