#include "exchange/routine/recipe_json.h"

#include "base/units.h"

#include <cmath>

namespace alder {
namespace {

constexpr const char* kRecipesFormat = "alderpoint-recipes";

Stroke readStroke(const JsonFields& f) {
  const std::string wanted = f.text("stroke", "touches");
  for (const Stroke s :
       {Stroke::Touches, Stroke::Rows, Stroke::Helix, Stroke::Contour, Stroke::Edge})
    if (wanted == name(s)) return s;
  f.complain("stroke", "must be touches, rows, helix, contour or edge");
  return Stroke::Touches;
}

SurfaceType readType(const JsonFields& f) {
  const std::string wanted = f.text("kind");
  for (int t = 0; t <= static_cast<int>(SurfaceType::Freeform); ++t)
    if (wanted == name(static_cast<SurfaceType>(t))) return static_cast<SurfaceType>(t);
  f.complain("kind", "is not a kind of surface");
  return SurfaceType::Freeform;
}

Json upTo(double value) {
  return std::isfinite(value) ? Json(value) : Json();
}

double readUpTo(const JsonFields& f, const char* key) {
  return f.has(key) ? f.number(key) : std::numeric_limits<double>::infinity();
}

} // namespace

Json toJson(const Recipe& r) {
  Json json{{"name", r.name},
            {"stroke", name(r.stroke)},
            {"rows", r.rows},
            {"per_row", r.per_row},
            {"pitch", r.pitch},
            {"start_angle_deg", shownDegrees(r.start_angle)},
            {"coverage_deg", shownDegrees(r.coverage)},
            {"clockwise", r.clockwise},
            {"first_depth", r.first_depth},
            {"last_depth", r.last_depth},
            {"from_end", r.from_end},
            {"edge_margin", r.edge_margin},
            {"approach", r.approach},
            {"retract", r.retract},
            {"search", r.search},
            {"speed", r.speed}};
  if (isContour(r.stroke))
    json["contour"] = {{"from", toJson(r.contour.from)},
                       {"to", toJson(r.contour.to)},
                       {"below", r.contour.below},
                       {"long_way", r.contour.long_way}};
  return json;
}

Recipe readRecipe(const JsonFields& f) {
  Recipe r;
  r.name = f.text("name");
  r.stroke = readStroke(f);
  r.rows = f.integer("rows", 1);
  r.per_row = f.integer("per_row", 4);
  r.pitch = f.number("pitch", 1);
  r.start_angle = radians(f.number("start_angle_deg", 0));
  r.coverage = f.has("coverage_deg") ? radians(f.number("coverage_deg")) : 2 * kPi;
  r.clockwise = f.flag("clockwise", false);
  r.first_depth = f.number("first_depth", 0);
  r.last_depth = f.number("last_depth", 0);
  r.from_end = f.flag("from_end", false);
  r.edge_margin = f.number("edge_margin", 0.5);
  r.approach = f.number("approach", 2);
  r.retract = f.number("retract", 0);
  r.search = f.number("search", 2);
  r.speed = f.number("speed", 0);
  if (f.has("contour")) {
    const auto c = f.object("contour");
    r.contour = {c.vector("from"), c.vector("to"), c.number("below", 1), c.flag("long_way", false)};
  }
  if (auto valid = validate(r); !valid)
    f.complain(nullptr, "is not valid: " + valid.error().message);
  return r;
}

Json toJson(const RecipeBook& book) {
  Json entries = Json::array();
  for (const BookEntry& e : book.entries)
    entries.push_back({{"kind", name(e.type)},
                       {"hole", e.hole ? Json(*e.hole) : Json()},
                       {"size_from", e.size_from},
                       {"size_to", upTo(e.size_to)},
                       {"tolerance_from", e.tolerance_from},
                       {"tolerance_to", upTo(e.tolerance_to)},
                       {"recipe", toJson(e.recipe)}});
  return {{"entries", entries}};
}

RecipeBook readBook(const JsonFields& f) {
  RecipeBook book;
  for (const auto& item : f.list("entries")) {
    BookEntry e;
    e.type = readType(item);
    if (item.has("hole")) e.hole = item.flag("hole", false);
    e.size_from = item.number("size_from", 0);
    e.size_to = readUpTo(item, "size_to");
    e.tolerance_from = item.number("tolerance_from", 0);
    e.tolerance_to = readUpTo(item, "tolerance_to");
    e.recipe = readRecipe(item.object("recipe"));
    book.entries.push_back(std::move(e));
  }
  if (auto valid = validate(book); !valid)
    f.complain(nullptr, "is not valid: " + valid.error().message);
  return book;
}

std::string bookText(const RecipeBook& book) {
  Json json = toJson(book);
  json["format"] = kRecipesFormat;
  json["version"] = 1;
  return json.dump(1) + "\n";
}

Result<RecipeBook> bookFromText(const std::string& text, const std::string& label) {
  auto json = parseJson(text, label);
  if (!json) return pass(json.error());
  const JsonFields f(*json, label);
  if (f.text("format", "") != kRecipesFormat)
    f.complain("format", fmt::format("must be \"{}\"; this is no recipe book", kRecipesFormat));
  RecipeBook book = readBook(f);
  if (auto done = f.done(); !done) return pass(done.error());
  return book;
}

Json toJson(const PairRule& p) {
  return {{"moving", p.moving},
          {"still", p.still},
          {"off", p.off},
          {"margin", p.margin},
          {"reason", p.reason}};
}

PairRule readPair(const JsonFields& f) {
  PairRule pair{f.text("moving", ""), f.text("still", ""), f.flag("off", false),
                f.number("margin", 0), f.text("reason", "")};
  if (pair.moving == "shank") pair.moving = "shaft"; // as it was called before
  return pair;
}

Json toJson(const Shell& shell) {
  Json json{{"offset_low", toJson(shell.offset_low)}, {"offset_high", toJson(shell.offset_high)}};
  for (std::size_t i = 0; i < shell.barred.size(); ++i)
    json[fmt::format("bar_{}", name(static_cast<ShellSide>(i)))] = shell.barred[i];
  json["turned_deg"] = shownDegrees(shell.turned);
  json["with_part"] = shell.with_part;
  json["along_planes"] = shell.planes;
  return json;
}

Shell readShell(const JsonFields& f) {
  Shell shell;
  shell.offset_low = f.vector("offset_low");
  shell.offset_high = f.vector("offset_high");
  for (std::size_t i = 0; i < shell.barred.size(); ++i)
    shell.barred[i] = f.flag(fmt::format("bar_{}", name(static_cast<ShellSide>(i))).c_str(), false);
  shell.turned = radians(f.number("turned_deg", 0));
  shell.with_part = f.flag("with_part", false);
  shell.planes = f.flag("along_planes", false);
  return shell;
}

} // namespace alder
