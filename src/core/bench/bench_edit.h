// Changes of a bench's file, as a person makes them: on its JSON, so that nothing in the file is
// lost and the result is checked as any file is (`readBench`).
#pragma once

#include "bench/bench.h"
#include <functional>

namespace alder {

// A body of the fixtures, by its name. False where there is none.
bool changeBody(Json& bench, const std::string& name, const std::function<void(Json&)>& change);
bool dropBody(Json& bench, const std::string& name);
void addBody(Json& bench, Json body);
// As it stands in the file; null for what is not in it, a pedestal say.
Json bodyOf(const Bench& bench, const std::string& name);
// A second one beside it, under that name.
Json copyOfBody(const Json& body, const std::string& name);
// "rest 4" after "rest 3".
std::string freeBodyName(const Bench& bench, const std::string& stem);

// The rack and the controller's names follow the names of styli.
void renameStylus(Json& bench, std::size_t stylus, const std::string& name);
void dropStylus(Json& bench, std::size_t stylus);
void copyStylus(Json& bench, std::size_t stylus, const std::string& name);
// Like the last one, standing out to +Y: its shank level, what is above it up the stem.
void addTip(Json& bench, std::size_t stylus);
void dropTip(Json& bench, std::size_t stylus, std::size_t tip);
// An extension above the shank of the tip.
void addElement(Json& tip);

} // namespace alder
