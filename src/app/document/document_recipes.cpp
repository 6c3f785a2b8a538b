// The recipe book and who follows it.
#include "document/document.h"

#include "plan/touches/contour.h"
namespace alder::app {

void Document::keepRecipe(FeatureId id) {
  const NominalFeature& n = plan().nominal(id);
  std::string name;
  for (int k = 1; name.empty() || plan().book.named(name); ++k)
    name = fmt::format("own {} {}", alder::name(n.ideal.type), k);
  RecipeBook book = plan().book;
  book.entries.push_back(entryFrom(n, plan().feature(id).recipe, name));
  const Recipe recipe = book.entries.back().recipe;
  edit("Keep a recipe", {SetBook{std::move(book)}, SetRecipe{id, recipe, plan().feature(id).touches,
                                                             plan().feature(id).why_not}});
}

void Document::renameRecipe(std::size_t entry, const std::string& name) {
  RecipeBook book = plan().book;
  const std::string old = book.entries[entry].recipe.name;
  book.entries[entry].recipe.name = name;
  std::vector<Edit> edits{SetBook{std::move(book)}};
  for (const Feature& f : plan().features) {
    if (f.recipe.name != old || plan().nominal(f.id).isConstructed()) continue;
    Recipe r = f.recipe;
    r.name = name;
    edits.push_back(SetRecipe{f.id, r, f.touches, f.why_not});
  }
  edit("Name the recipe", std::move(edits));
}

void Document::followEverywhere(std::size_t entry) {
  const BookEntry& e = plan().book.entries[entry];
  std::vector<Edit> edits;
  for (const NominalFeature& n : plan().spec.features)
    if (!n.isConstructed() && fits(e, n, plan().spec))
      edits.push_back(SetRecipe{n.id, e.recipe, {}, {}});
  if (edits.empty())
    emit message("No feature of this part is as the recipe asks", true);
  else
    edit("Follow “" + QString::fromStdString(e.recipe.name) + "”", std::move(edits));
}

void Document::followRecipe(const std::string& name) {
  const BookEntry* e = plan().book.named(name);
  std::vector<Edit> edits;
  for (FeatureId id : selection_.features) {
    const NominalFeature& n = plan().nominal(id);
    if (!n.isConstructed())
      edits.push_back(SetRecipe{id, e ? e->recipe : recipeFor(n, plan().spec), {}, {}});
  }
  edit("Follow another recipe", std::move(edits));
}

const std::vector<std::string>& Document::touchFaults(FeatureId id) {
  auto found = faults_.find(id);
  if (found == faults_.end()) {
    const Feature& f = plan().feature(id);
    const double ball = f.access.valid() ? plan().tip(f.access).edgeRoom() : 0;
    found = faults_.emplace(id, faultsOf(*plan().part, plan().nominal(id), f.touches, ball)).first;
  }
  return found->second;
}

void Document::strokeBy(Stroke stroke) {
  std::vector<Edit> edits;
  for (FeatureId id : selection_.features) {
    const Feature& f = plan().feature(id);
    if (plan().nominal(id).isConstructed()) continue;
    Recipe recipe = f.recipe;
    recipe.stroke = stroke;
    if ((stroke == Stroke::Rows || stroke == Stroke::Helix) && recipe.rows < 2) recipe.rows = 2;
    if (isContour(stroke) && !isContour(f.recipe.stroke)) {
      const double room = f.access.valid() ? plan().tip(f.access).edgeRoom() : 1.5;
      Points places;
      for (const Touch& t : f.touches)
        places.push_back(t.point);
      recipe.contour = likelyEnds(places, room + recipe.edge_margin);
    }
    if (stroke == Stroke::Edge) recipe.contour.to = recipe.contour.from; // all round
    edits.push_back(SetRecipe{id, recipe, {}, {}});
  }
  edit("Touch or scan", std::move(edits));
}

} // namespace alder::app
