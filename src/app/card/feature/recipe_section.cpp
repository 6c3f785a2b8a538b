// How a feature is touched: the recipe it follows, what it does otherwise, and the book that
// recipes are kept in.
#include "base/files.h"
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include "exchange/routine/recipe_json.h"
#include "geometry/place_text.h"
#include <QFileDialog>
#include <QFileInfo>
#include <algorithm>
#include <cmath>

namespace alder::app {

void Card::editBook(const QString& what, const std::function<void(RecipeBook&)>& change) {
  RecipeBook book = document_.plan().book;
  change(book);
  document_.edit(what, {SetBook{std::move(book)}});
}

// Which recipe, and what the feature does otherwise.
void Card::followedRecipe(const Feature& f) {
  const Plan& plan = document_.plan();
  const NominalFeature& n = plan.nominal(f.id);
  QStringList names{"as proposed"};
  int current = 0;
  std::vector<std::string> kept;
  for (const BookEntry& e : plan.book.entries)
    if (e.type == n.ideal.type) {
      kept.push_back(e.recipe.name);
      names << text(e.recipe.name);
      if (e.recipe.name == f.recipe.name) current = static_cast<int>(names.size()) - 1;
    }
  choice("follows", "followRecipe", names, current, [this, kept](int index) {
    document_.followRecipe(index > 0 ? kept[static_cast<std::size_t>(index) - 1] : std::string());
  });
  QString otherwise;
  for (const auto& word : differences(f.recipe, recipeFollowed(n, plan.spec, plan.book, f.recipe)))
    otherwise += (otherwise.isEmpty() ? "" : ", ") + text(word);
  if (!otherwise.isEmpty()) paragraph("Otherwise than it: " + otherwise + ".");
}

void Card::keepRecipe(const Feature& f) {
  link("Keep this recipe in the book", "keepRecipe",
       [this, id = f.id] { document_.keepRecipe(id); });
}

void Card::strokeFields(const Feature& f, SurfaceType type) {
  const bool round = type == SurfaceType::Cylinder || type == SurfaceType::Cone;
  const Recipe& r = f.recipe;
  QStringList words{"touch by touch"};
  std::vector<Stroke> strokes{Stroke::Touches};
  const auto offer = [&](const char* what, Stroke stroke) {
    words << what;
    strokes.push_back(stroke);
  };
  if (round || type == SurfaceType::Plane) offer(round ? "scan rings" : "scan lines", Stroke::Rows);
  if (round) offer("scan a helix", Stroke::Helix);
  if (type != SurfaceType::Slot) {
    offer("scan a contour", Stroke::Contour);
    offer("scan an edge", Stroke::Edge);
  }
  const auto current = std::find(strokes.begin(), strokes.end(), r.stroke);
  if (strokes.size() > 1)
    choice("method", "stroke", words, static_cast<int>(current - strokes.begin()),
           [this, strokes](int index) {
             document_.strokeBy(strokes[static_cast<std::size_t>(index)]);
           });
  if (r.stroke != Stroke::Touches)
    quantity("point spacing", "pitch", Quantity::Length, 2, r.pitch,
             [this](double v) { editRecipe("Change the point spacing", [v](Recipe& x) { x.pitch = v; }); });
  if (isContour(r.stroke)) contourFields(f);
  if (!round || isContour(r.stroke)) return;
  quantity("arc covered", "coverage", Quantity::Angle, 1, r.coverage, [this](double v) {
    editRecipe("Change the arc covered", [v](Recipe& x) { x.coverage = v; });
  });
  choice("direction", "clockwise", {"anticlockwise", "clockwise"}, r.clockwise ? 1 : 0,
         [this](int index) {
           editRecipe("Change the direction", [index](Recipe& x) { x.clockwise = index == 1; });
         });
  choice("depths from", "fromEnd", {"the start", "the far end"}, r.from_end ? 1 : 0,
         [this](int index) {
           editRecipe("Change where depths count from",
                      [index](Recipe& x) { x.from_end = index == 1; });
         });
}

void Card::contourFields(const Feature& f) {
  const auto& ends = f.recipe.contour;
  const auto place = [&](const QString& label, const char* id, const Vec3& at,
                         Vec3 ContourEnds::*to) {
    auto* edit = new QLineEdit(text(placesText({at})));
    edit->setObjectName(id);
    edit->setToolTip("x, y, z in the frame of the part");
    edit->setCursorPosition(0);
    connect(edit, &QLineEdit::editingFinished, this, [this, edit, to] {
      if (!edit->isModified()) return;
      edit->setModified(false);
      auto read = placesFromText(edit->text().toStdString());
      if (!read || read->size() != 1) {
        emit document_.message("An end of the scan is one place: x, y, z", true);
        return;
      }
      editRecipe("Move an end of the scan",
                 [to, at = read->front()](Recipe& x) { x.contour.*to = at; });
    });
    row(label, edit);
  };
  place("from", "contourFrom", ends.from, &ContourEnds::from);
  place("to", "contourTo", ends.to, &ContourEnds::to);
  if (f.recipe.stroke == Stroke::Edge) {
    quantity("below the edge", "contourBelow", Quantity::Length, 2, ends.below, [this](double v) {
      editRecipe("Change the distance below the edge", [v](Recipe& x) { x.contour.below = v; });
    });
    choice("way round", "contourLong", {"the shorter", "the longer"}, ends.long_way ? 1 : 0,
           [this](int index) {
             editRecipe("Go round the other way",
                        [index](Recipe& x) { x.contour.long_way = index == 1; });
           });
  }
  if (!document_.selection().picked || document_.selection().features.size() != 1) return;
  link("Begin the scan where picked", "beginScan", [this] { document_.contourEnd(true); });
  link("End the scan where picked", "endScan", [this] { document_.contourEnd(false); });
}

void Card::strokeSpeeds(const Feature& f) {
  quantity(
      "retract", "retract", Quantity::Length, 2, f.recipe.retract,
      [this](double v) { editRecipe("Change the retract", [v](Recipe& r) { r.retract = v; }); },
      "as approach");
  quantity("search", "search", Quantity::Length, 2, f.recipe.search, [this](double v) {
    editRecipe("Change the search distance", [v](Recipe& r) { r.search = v; });
  });
  quantity(
      "speed in mm/s", "touchSpeed", Quantity::Plain, 1, f.recipe.speed,
      [this](double v) { editRecipe("Change the speed", [v](Recipe& r) { r.speed = v; }); },
      "machine's");
}

// The book: each entry with the features it is for.
void Card::bookSection() {
  const Plan& plan = document_.plan();
  head("Recipe book");
  if (plan.book.entries.empty())
    paragraph(
        "Empty: the program proposes how to touch. Select a feature to keep its recipe here.");
  for (std::size_t i = 0; i < plan.book.entries.size(); ++i) {
    const BookEntry& e = plan.book.entries[i];
    const auto followers =
        std::count_if(plan.features.begin(), plan.features.end(),
                      [&](const Feature& f) { return f.recipe.name == e.recipe.name; });
    const bool open = book_entry_ == static_cast<int>(i);
    link(text(e.recipe.name) + (open ? "  ▾" : ""), QString("entry%1").arg(i).toLatin1(),
         [this, i, open] {
           book_entry_ = open ? -1 : static_cast<int>(i);
           refreshLater();
         });
    paragraph(QString("%1 · %2 follow%3 it")
                  .arg(text(conditionsText(e)))
                  .arg(followers)
                  .arg(followers == 1 ? "s" : ""));
    if (open) bookEntryFields(e, i);
  }
  link("Read a book …", "readBook", [this] {
    const QString path = QFileDialog::getOpenFileName(this, "Recipe book", {}, "Recipes (*.json)");
    if (path.isEmpty()) return;
    auto text_read = readFile(path.toStdString());
    auto book = text_read ? bookFromText(*text_read, QFileInfo(path).fileName().toStdString())
                          : Result<RecipeBook>(pass(text_read.error()));
    if (!book) {
      emit document_.message(text(book.error().message), true);
      return;
    }
    document_.edit("Read a recipe book", {SetBook{std::move(*book)}});
  });
  if (plan.book.entries.empty()) return;
  link("Write the book …", "writeBook", [this] {
    const QString path =
        QFileDialog::getSaveFileName(this, "Recipe book", "recipes.json", "Recipes (*.json)");
    if (path.isEmpty()) return;
    auto done = writeFile(path.toStdString(), bookText(document_.plan().book));
    emit document_.message(
        done ? "Wrote " + QFileInfo(path).fileName() : text(done.error().message), !done);
  });
}

void Card::bookEntryFields(const BookEntry& e, std::size_t i) {
  const auto change = [this, i](const std::function<void(BookEntry&)>& how) {
    editBook("Change the recipe book", [&](RecipeBook& b) { how(b.entries[i]); });
  };
  auto* called = new QLineEdit(text(e.recipe.name));
  called->setObjectName("entryName");
  connect(called, &QLineEdit::editingFinished, this, [this, called, e, i] {
    const std::string fresh = called->text().trimmed().toStdString();
    if (fresh.empty() || fresh == e.recipe.name) return;
    document_.renameRecipe(i, fresh);
  });
  row("name", called);
  choice("for", "entrySide", {"inside and outside", "inside", "outside"},
         !e.hole   ? 0
         : *e.hole ? 1
                   : 2,
         [change](int index) {
           change([index](BookEntry& x) {
             x.hole = index == 0 ? std::nullopt : std::optional<bool>(index == 1);
           });
         });
  const auto bound = [&](const QString& label, const char* id, double value,
                         double BookEntry::*to) {
    const bool end = to == &BookEntry::size_to || to == &BookEntry::tolerance_to;
    quantity(
        label, id, Quantity::Length, 3, std::isfinite(value) ? value : 0,
        [change, to, end](double v) {
          change([=](BookEntry& x) {
            x.*to = end && v == 0 ? std::numeric_limits<double>::infinity() : v;
          });
        },
        "any");
  };
  bound("size from", "entrySizeFrom", e.size_from, &BookEntry::size_from);
  bound("size to", "entrySizeTo", e.size_to, &BookEntry::size_to);
  bound("tolerance from", "entryToleranceFrom", e.tolerance_from, &BookEntry::tolerance_from);
  bound("tolerance to", "entryToleranceTo", e.tolerance_to, &BookEntry::tolerance_to);
  const auto number = [&](const QString& label, const char* id, Quantity quantity_, int decimals,
                          double value, std::function<void(Recipe&, double)> set) {
    quantity(label, id, quantity_, decimals, value,
             [change, set](double v) { change([=](BookEntry& x) { set(x.recipe, v); }); });
  };
  number("sections", "entryRows", Quantity::Plain, 0, e.recipe.rows,
         [](Recipe& r, double v) { r.rows = static_cast<int>(v); });
  number("per section", "entryPerRow", Quantity::Plain, 0, e.recipe.per_row,
         [](Recipe& r, double v) { r.per_row = static_cast<int>(v); });
  number("edge margin", "entryEdge", Quantity::Length, 2, e.recipe.edge_margin,
         [](Recipe& r, double v) { r.edge_margin = v; });
  number("approach", "entryApproach", Quantity::Length, 2, e.recipe.approach,
         [](Recipe& r, double v) { r.approach = v; });
  link("Let all features it is for follow it", "applyEntry",
       [this, i] { document_.followEverywhere(i); });
  link("Remove from the book", "dropEntry", [this, i] {
    book_entry_ = -1;
    editBook("Remove a recipe", [i](RecipeBook& b) {
      b.entries.erase(b.entries.begin() + static_cast<std::ptrdiff_t>(i));
    });
  });
}

} // namespace alder::app
