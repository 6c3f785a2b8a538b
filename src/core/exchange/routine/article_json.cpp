#include "exchange/routine/article_json.h"

#include "exchange/routine/ids_json.h"
#include "exchange/routine/named.h"
#include "exchange/routine/requirement_json.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

// An entry of one of the lists by its fields.
Json entryJson(const auto& entry) {
  Json json = Json::object();
  const auto write = [&](const char* key, const char*, const std::string& value) {
    if (!value.empty()) json[key] = value;
  };
  std::decay_t<decltype(entry)>::fields(entry, write);
  return json;
}

template <class Entry> Entry entryFrom(const JsonFields& f) {
  Entry entry{};
  const auto read = [&](const char* key, const char*, std::string& value) {
    value = f.text(key, "");
  };
  Entry::fields(entry, read);
  return entry;
}

template <class Entry> std::vector<Entry> entriesFrom(const JsonFields& f, const char* key) {
  std::vector<Entry> all;
  for (const JsonFields& one : f.list(key))
    all.push_back(entryFrom<Entry>(one));
  return all;
}

Json baselineJson(const ArticleBaseline& b) {
  Json characteristics = Json::array();
  for (const BaselineCharacteristic& c : b.characteristics) {
    Json shapes = Json::array();
    for (const FeatureShape& s : c.shapes)
      shapes.push_back(
          {{"feature", s.feature.value}, {"type", name(s.type)}, {"figures", s.figures}});
    characteristics.push_back(
        {{"asked", toJson(c.asked)}, {"shapes", shapes}, {"outside", c.outside}});
  }
  return {{"identifier", b.identifier},
          {"part", b.part},
          {"revision", b.revision},
          {"date", b.date},
          {"characteristics", characteristics}};
}

ArticleBaseline baselineFrom(const JsonFields& f) {
  ArticleBaseline b{
      f.text("identifier", ""), f.text("part", ""), f.text("revision", ""), f.text("date", ""), {}};
  for (const JsonFields& item : f.list("characteristics")) {
    BaselineCharacteristic c;
    const JsonFields asked = item.object("asked");
    c.asked = requirementFrom(asked);
    c.asked.id = RequirementId{asked.integer("id", -1)};
    c.asked.features = idsFrom<FeatureId>(asked, "features");
    c.outside = item.flag("outside", false);
    for (const JsonFields& s : item.list("shapes")) {
      FeatureShape shape{FeatureId{s.integer("feature", -1)}, SurfaceType::Freeform, {}};
      shape.type = readNamed(s, "type", static_cast<int>(SurfaceType::Freeform) + 1, shape.type);
      const Json figures = s.json().value("figures", Json::array());
      for (const Json& one : figures)
        if (one.is_number()) shape.figures.push_back(one.get<double>());
      c.shapes.push_back(std::move(shape));
    }
    b.characteristics.push_back(std::move(c));
  }
  return b;
}

// Keys that the reader of a file knows, with those of the entries of its lists.
std::set<std::string> keysOf(const auto& fields, std::set<std::string> more = {}) {
  fields([&](const char* key, const char*, const std::string&) { more.insert(key); });
  return more;
}

void noOthers(const JsonFields& f, const std::set<std::string>& known) {
  if (!f.json().is_object()) return;
  for (const auto& [key, value] : f.json().items())
    if (!known.contains(key)) f.complain(key.c_str(), "is not known here");
}

template <class Entry>
void noOthersIn(const JsonFields& f, const char* key, std::set<std::string> more = {}) {
  const Entry entry{};
  const auto known = keysOf([&](auto g) { Entry::fields(entry, g); }, std::move(more));
  for (const JsonFields& one : f.list(key))
    noOthers(one, known);
}

} // namespace

Json toJson(const FirstArticle& a) {
  Json json = Json::object();
  for (std::size_t i = 0; i < kArticleFields; ++i)
    if (!a.texts[i].empty()) json[std::string(name(static_cast<ArticleField>(i)))] = a.texts[i];
  json["scope"] = name(a.scope);
  if (a.assembly) json["assembly"] = true;
  if (!a.chosen.empty()) json["chosen"] = a.chosen;
  for (const ArticlePart& p : a.parts)
    json["parts"].push_back(entryJson(p));
  for (const ArticleProduct& p : a.products)
    json["products"].push_back(entryJson(p));
  for (const ArticleTest& t : a.tests)
    json["tests"].push_back(entryJson(t));
  for (const ArticleCharacteristic& c : a.characteristics) {
    Json one = entryJson(c);
    one["requirement"] = c.requirement.value;
    json["characteristics"].push_back(std::move(one));
  }
  if (a.baseline) json["baseline"] = baselineJson(*a.baseline);
  return json;
}

FirstArticle articleFrom(const JsonFields& f) {
  FirstArticle a;
  for (std::size_t i = 0; i < kArticleFields; ++i)
    a.texts[i] = f.text(std::string(name(static_cast<ArticleField>(i))).c_str(), "");
  a.scope = readNamed(f, "scope", 3, ArticleScope::Full);
  a.assembly = f.flag("assembly", false);
  a.chosen = f.text("chosen", "");
  a.parts = entriesFrom<ArticlePart>(f, "parts");
  a.products = entriesFrom<ArticleProduct>(f, "products");
  a.tests = entriesFrom<ArticleTest>(f, "tests");
  for (const JsonFields& one : f.list("characteristics")) {
    auto c = entryFrom<ArticleCharacteristic>(one);
    c.requirement = RequirementId{one.integer("requirement", -1)};
    a.set(c);
  }
  if (f.has("baseline")) a.baseline = baselineFrom(f.object("baseline"));
  return a;
}

Result<FirstArticle> articleFromFile(const std::string& text, const std::string& label,
                                     const Specification& spec) {
  const auto json = parseJson(text, label);
  if (!json) return pass(json.error());
  if (!json->is_object()) return fail("{}: must be an object with the fields of the forms.", label);
  const JsonFields f(*json, label);
  std::set<std::string> known{"scope",    "assembly", "chosen",         "parts",
                              "products", "tests",    "characteristics"};
  for (std::size_t i = 0; i < kArticleFields; ++i)
    known.insert(std::string(name(static_cast<ArticleField>(i))));
  noOthers(f, known);
  noOthersIn<ArticlePart>(f, "parts");
  noOthersIn<ArticleProduct>(f, "products");
  noOthersIn<ArticleTest>(f, "tests");
  noOthersIn<ArticleCharacteristic>(f, "characteristics", {"number"});
  FirstArticle a = articleFrom(f);
  a.characteristics.clear();
  for (const JsonFields& one : f.list("characteristics")) {
    auto c = entryFrom<ArticleCharacteristic>(one);
    const int number = one.integer("number", 0);
    const auto found = std::find_if(spec.requirements.begin(), spec.requirements.end(),
                                    [&](const Requirement& r) { return r.balloon == number; });
    if (found == spec.requirements.end()) {
      one.complain("number", "is none of a requirement");
      continue;
    }
    c.requirement = found->id;
    a.set(c);
  }
  if (auto done = f.done(); !done) return pass(done.error());
  if (auto done = validate(a); !done) return fail("{}: {}", label, done.error().message);
  return a;
}

} // namespace alder
