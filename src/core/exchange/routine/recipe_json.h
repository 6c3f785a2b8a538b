// Recipes, the recipe book, shells and pair rules as JSON; the format is described in
// docs/files.md.
#pragma once

#include "plan/plan.h"

namespace alder {

Json toJson(const Recipe& recipe);
Recipe readRecipe(const JsonFields& fields);

Json toJson(const RecipeBook& book);
RecipeBook readBook(const JsonFields& fields);
// A book of its own file, to be handed on.
std::string bookText(const RecipeBook& book);
Result<RecipeBook> bookFromText(const std::string& text, const std::string& label);

Json toJson(const Shell& shell);
Shell readShell(const JsonFields& fields);

Json toJson(const PairRule& rule);
PairRule readPair(const JsonFields& fields);

} // namespace alder
