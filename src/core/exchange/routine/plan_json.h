// The plan as JSON, both directions, kept side by side. Lengths mm, angles degrees in the file.
#pragma once

#include "bench/json_fields.h"
#include "plan/plan.h"

namespace alder {

// 2: ids need not count up, zones and modifiers by name.
inline constexpr int kRoutineVersion = 3;

Json toJson(const Plan& plan);
// Where a routine file holds its report layouts, by their place in the list.
std::string layoutEntry(std::size_t place, bool workbook);
// "ids_given" beside it in a file: from where on ids are free. Two routines that differ in nothing
// else are the same.
Json idsGivenJson(const Plan& plan);
// `part` and `bench` are already read; error names the field that is wrong.
Result<Plan> planFromJson(const Json& json, const std::string& label, PartPtr part, Bench bench);

// Of what was read, the fields that this version does not write for what it made of it; items of
// lists with ids keep these. Null: it knows all.
Json onlyUnknown(const Json& read, const Json& known);
// Fields of `old` that `fresh` does not know are added to it: what a newer program wrote survives
// being saved by this one.
void keepUnknown(const Json& old, Json& fresh);

} // namespace alder
