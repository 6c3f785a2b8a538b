#include "plan/touches/recipe_book.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

double sizeOf(const Ideal& ideal) {
  return ideal.diameter;
}

// "8 to 16", "from 8", "up to 16"; empty when all are meant.
std::string rangeText(double from, double to) {
  const bool low = from > 0, high = std::isfinite(to);
  if (low && high) return fmt::format("{:g} to {:g}", from, to);
  if (low) return fmt::format("from {:g}", from);
  if (high) return fmt::format("up to {:g}", to);
  return {};
}

} // namespace

const BookEntry* RecipeBook::named(const std::string& name) const {
  const auto found = std::find_if(entries.begin(), entries.end(),
                                  [&](const BookEntry& e) { return e.recipe.name == name; });
  return found == entries.end() ? nullptr : &*found;
}

bool fits(const BookEntry& e, const NominalFeature& feature, const Specification& spec) {
  const Ideal& i = feature.ideal;
  if (i.type != e.type || (e.hole && *e.hole != i.hole)) return false;
  if (const double size = sizeOf(i); size < e.size_from || size > e.size_to) return false;
  const double tightest = tightestTolerance(feature.id, spec);
  return tightest >= e.tolerance_from && tightest <= e.tolerance_to;
}

Recipe recipeFor(const NominalFeature& feature, const Specification& spec, const RecipeBook& book) {
  for (const BookEntry& e : book.entries)
    if (fits(e, feature, spec)) return e.recipe;
  return recipeFor(feature, spec);
}

Recipe recipeFollowed(const NominalFeature& feature, const Specification& spec,
                      const RecipeBook& book, const Recipe& own) {
  if (const BookEntry* e = book.named(own.name)) return e->recipe;
  return recipeFor(feature, spec);
}

BookEntry entryFrom(const NominalFeature& feature, const Recipe& recipe, const std::string& name) {
  BookEntry e;
  e.recipe = recipe;
  e.recipe.name = name;
  e.type = feature.ideal.type;
  const bool sided = e.type == SurfaceType::Cylinder || e.type == SurfaceType::Cone ||
                     e.type == SurfaceType::Sphere || e.type == SurfaceType::Slot;
  if (sided) e.hole = feature.ideal.hole;
  if (const double size = sizeOf(feature.ideal); size > 0) {
    e.size_from = std::floor(size * 0.8);
    e.size_to = std::ceil(size * 1.25);
  }
  return e;
}

std::string conditionsText(const BookEntry& e) {
  std::string text(name(e.type));
  if (e.hole) text += *e.hole ? ", inside" : ", outside";
  if (const auto range = rangeText(e.size_from, e.size_to); !range.empty()) text += ", ø " + range;
  if (const auto range = rangeText(e.tolerance_from, e.tolerance_to); !range.empty())
    text += ", tolerance " + range;
  return text;
}

Done validate(const RecipeBook& book) {
  for (std::size_t i = 0; i < book.entries.size(); ++i) {
    const BookEntry& e = book.entries[i];
    if (e.recipe.name.empty()) return fail("A recipe of the book needs a name.");
    if (auto valid = validate(e.recipe); !valid)
      return fail("{}: {}", e.recipe.name, valid.error().message);
    for (std::size_t k = 0; k < i; ++k)
      if (book.entries[k].recipe.name == e.recipe.name)
        return fail("The book has a recipe “{}” already.", e.recipe.name);
    if (!(e.size_from >= 0 && e.size_from <= e.size_to))
      return fail("{}: the smallest size must not lie above the largest.", e.recipe.name);
    if (!(e.tolerance_from >= 0 && e.tolerance_from <= e.tolerance_to))
      return fail("{}: the tightest tolerance must not lie above the widest.", e.recipe.name);
  }
  return {};
}

} // namespace alder
