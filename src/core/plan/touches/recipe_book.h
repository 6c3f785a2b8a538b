// Recipes that a shop keeps by name, with the features they are for. The first that fits a feature
// is followed; where none does, the program proposes one. Lengths mm.
#pragma once

#include "base/error.h"
#include "plan/touches/recipe.h"
#include <limits>
#include <optional>
#include <string>
#include <vector>

namespace alder {

struct BookEntry {
  Recipe recipe; // its name is that of the entry
  SurfaceType type = SurfaceType::Cylinder;
  std::optional<bool> hole; // only inside, or only outside; else both
  double size_from = 0, size_to = std::numeric_limits<double>::infinity(); // diameter, or width
  // Of the tightest tolerance on the feature.
  double tolerance_from = 0, tolerance_to = std::numeric_limits<double>::infinity();
  friend bool operator==(const BookEntry&, const BookEntry&) = default;
};

struct RecipeBook {
  std::vector<BookEntry> entries;
  const BookEntry* named(const std::string& name) const;
  friend bool operator==(const RecipeBook&, const RecipeBook&) = default;
};

bool fits(const BookEntry& entry, const NominalFeature& feature, const Specification& spec);
// Of the book, else as proposed.
Recipe recipeFor(const NominalFeature& feature, const Specification& spec, const RecipeBook& book);
// What a feature's recipe is measured against: the entry of its name, else what is proposed.
Recipe recipeFollowed(const NominalFeature& feature, const Specification& spec,
                      const RecipeBook& book, const Recipe& own);
// An entry made of a feature's recipe, for features like it: its kind, inside or outside, and sizes
// about its own.
BookEntry entryFrom(const NominalFeature& feature, const Recipe& recipe, const std::string& name);
// "cylinders, inside, ø 8 to 16, tolerance up to 0.03"
std::string conditionsText(const BookEntry& entry);

// Names are there once and conditions the right way round.
Done validate(const RecipeBook& book);

} // namespace alder
