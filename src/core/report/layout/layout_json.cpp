#include "report/layout/layout_json.h"

#include "bench/json_fields.h"
#include <cmath>
#include <glib.h>

namespace alder {
namespace {

using Ordered = nlohmann::ordered_json;
constexpr int kVersion = 1;
constexpr int kVerdicts = kVerdictCount;

// Millimetres to the hundredth.
double rounded(double mm) {
  return std::round(100 * mm) / 100;
}

template <class E> std::optional<E> enumNamed(const std::string& text, int count) {
  for (int i = 0; i < count; ++i)
    if (name(static_cast<E>(i)) == text) return static_cast<E>(i);
  return {};
}

std::string oneOf(int count, const auto& nameAt) {
  std::string all;
  for (int i = 0; i < count; ++i) {
    const std::string_view one = nameAt(i);
    if (one.empty()) continue;
    all += (all.empty() ? "" : ", ") + std::string(one);
  }
  return all;
}

class Writer {
 public:
  explicit Writer(Ordered& json)
      : json_(json) {}
  void operator()(const char* key, const std::string& v) { json_[key] = v; }
  void operator()(const char* key, bool v) { json_[key] = v; }
  void operator()(const char* key, int v) { json_[key] = v; }
  // Of what is seldom so.
  void whereSaid(const char* key, const std::string& v) {
    if (!v.empty()) json_[key] = v;
  }
  void whereTrue(const char* key, bool v) {
    if (v) json_[key] = true;
  }
  void operator()(const char* key, const std::vector<std::string>& v) { json_[key] = v; }
  void operator()(const char* key, const RequirementFilter& v) {
    if (v == RequirementFilter{}) return;
    Ordered f = Ordered::object();
    for (const Verdict verdict : v.verdicts)
      f["verdicts"].push_back(std::string(name(verdict)));
    if (!v.numbers.empty()) f["numbers"] = v.numbers;
    if (!v.groups.empty()) f["groups"] = v.groups;
    if (v.key_only) f["key_only"] = true;
    json_[key] = f;
  }
  void named(const char* key, auto v, int) { json_[key] = std::string(name(v)); }
  void list(const char* key, const auto& v, int) {
    json_[key] = Ordered::array();
    for (const auto one : v)
      json_[key].push_back(std::string(name(one)));
  }
  void bytes(const char* key, const std::shared_ptr<const std::string>& v) {
    if (!v) return;
    gchar* text = g_base64_encode(reinterpret_cast<const guchar*>(v->data()), v->size());
    json_[key] = std::string(text);
    g_free(text);
  }

 private:
  Ordered& json_;
};

class Reader {
 public:
  explicit Reader(const JsonFields& f)
      : f_(f) {}
  void operator()(const char* key, std::string& v) {
    known_.insert(key);
    v = f_.text(key, v);
  }
  void operator()(const char* key, bool& v) {
    known_.insert(key);
    v = f_.flag(key, v);
  }
  void whereTrue(const char* key, bool& v) { (*this)(key, v); }
  void whereSaid(const char* key, std::string& v) { (*this)(key, v); }
  void operator()(const char* key, int& v) {
    known_.insert(key);
    v = f_.integer(key, v);
  }
  void operator()(const char* key, std::vector<std::string>& v) {
    if (!f_.has(key)) return knows(key);
    v.clear();
    for (const Json& one : array(key)) {
      if (!one.is_string()) return f_.complain(key, "must hold texts");
      v.push_back(one.get<std::string>());
    }
  }
  void operator()(const char* key, RequirementFilter& v) {
    known_.insert(key);
    v = {};
    if (!f_.has(key)) return;
    Reader in(f_.object(key));
    std::vector<Verdict> verdicts;
    in.list("verdicts", verdicts, kVerdicts);
    v.verdicts = {verdicts.begin(), verdicts.end()};
    in("numbers", v.numbers);
    in("groups", v.groups);
    in.whereTrue("key_only", v.key_only);
    in.noOthers();
  }
  template <class E> void named(const char* key, E& v, int count) {
    known_.insert(key);
    const std::string text = f_.text(key, std::string(name(v)));
    if (const auto found = enumNamed<E>(text, count))
      v = *found;
    else
      f_.complain(key,
                  "must be one of: " + oneOf(count, [](int i) { return name(static_cast<E>(i)); }));
  }
  template <class E> void list(const char* key, std::vector<E>& v, int count) {
    known_.insert(key);
    if (!f_.has(key)) return;
    v.clear();
    for (const Json& one : array(key)) {
      const auto found =
          one.is_string() ? enumNamed<E>(one.get<std::string>(), count) : std::optional<E>{};
      if (!found)
        return f_.complain(key, "must hold some of: " +
                                    oneOf(count, [](int i) { return name(static_cast<E>(i)); }));
      v.push_back(*found);
    }
  }
  void bytes(const char* key, std::shared_ptr<const std::string>& v) {
    constexpr const char* kBefore = "png"; // when only these were taken
    known_.insert({key, kBefore});
    v.reset();
    const std::string text = f_.text(f_.has(key) ? key : kBefore, "");
    if (text.empty()) return;
    gsize length = 0;
    guchar* data = g_base64_decode(text.c_str(), &length);
    v = std::make_shared<const std::string>(reinterpret_cast<const char*>(data), length);
    g_free(data);
  }
  // What is left is an error.
  void noOthers() const {
    for (const auto& [key, value] : f_.json().items())
      if (!known_.contains(key)) f_.complain(key.c_str(), "is not known here");
  }
  void knows(const char* key) { known_.insert(key); }

 private:
  Json array(const char* key) {
    known_.insert(key);
    if (!f_.has(key)) return Json::array();
    const Json& v = f_.json().at(key);
    if (v.is_array()) return v;
    f_.complain(key, "must be a list");
    return Json::array();
  }

  JsonFields f_;
  std::set<std::string> known_;
};

// One of each kind, by the kind's name.
template <std::size_t I = 0> std::optional<ItemBody> bodyNamed(const std::string& kind) {
  if constexpr (I < std::variant_size_v<ItemBody>) {
    using Item = std::variant_alternative_t<I, ItemBody>;
    if (kind == Item::kKind) return ItemBody(Item{});
    return bodyNamed<I + 1>(kind);
  } else {
    return {};
  }
}

template <std::size_t... I> std::string kinds(std::index_sequence<I...>) {
  std::string all;
  ((all += (all.empty() ? "" : ", ") + std::string(std::variant_alternative_t<I, ItemBody>::kKind)),
   ...);
  return all;
}

LayoutItem itemFrom(const JsonFields& f) {
  LayoutItem item;
  Reader in(f);
  const std::string kind = f.text("kind");
  const Json at = f.json().value("at", Json());
  const auto number = [](const Json& v) { return v.is_number(); };
  if (at.is_array() && at.size() == 4 && std::all_of(at.begin(), at.end(), number))
    item.area = {at[0], at[1], at[2], at[3]};
  else
    f.complain("at", "must be four numbers: from the left, from the top, width, height in mm");
  for (const char* key : {"kind", "at"})
    in.knows(key);
  in.whereTrue("every_page", item.every_page);
  if (auto body = bodyNamed(kind)) {
    item.body = std::move(*body);
    std::visit([&](auto& b) { std::decay_t<decltype(b)>::fields(b, in); }, item.body);
  } else {
    f.complain("kind", "must be one of: " +
                           kinds(std::make_index_sequence<std::variant_size_v<ItemBody>>()));
  }
  in.noOthers();
  return item;
}

LayoutPage pageFrom(const JsonFields& f) {
  LayoutPage page;
  Reader in(f);
  in("name", page.name);
  in.named("format", page.format, 3);
  in.whereTrue("landscape", page.landscape);
  page.margin = f.number("margin", page.margin);
  in.named("repeats", page.repeats, 2);
  in("filter", page.filter);
  in.whereTrue("empty_too", page.empty_too);
  for (const JsonFields& item : f.list("items"))
    page.items.push_back(itemFrom(item));
  for (const char* key : {"margin", "items"})
    in.knows(key);
  in.noOthers();
  return page;
}

Ordered toJson(const LayoutItem& item) {
  Ordered json;
  json["kind"] = std::string(kindOf(item.body));
  const Area& a = item.area;
  json["at"] = {rounded(a.x), rounded(a.y), rounded(a.w), rounded(a.h)};
  Writer out(json);
  out.whereTrue("every_page", item.every_page);
  std::visit([&](const auto& b) { std::decay_t<decltype(b)>::fields(b, out); }, item.body);
  return json;
}

Ordered toJson(const LayoutPage& page) {
  Ordered json;
  Writer out(json);
  out("name", page.name);
  out.named("format", page.format, 3);
  out.whereTrue("landscape", page.landscape);
  json["margin"] = rounded(page.margin);
  out.named("repeats", page.repeats, 2);
  out("filter", page.filter);
  out.whereTrue("empty_too", page.empty_too);
  json["items"] = Ordered::array();
  for (const LayoutItem& item : page.items)
    json["items"].push_back(toJson(item));
  return json;
}

} // namespace

std::string layoutText(const Layout& layout) {
  Ordered json;
  json["alderpoint"] = "report layout";
  json["version"] = kVersion;
  json["name"] = layout.name;
  json["pages"] = Ordered::array();
  for (const LayoutPage& page : layout.pages)
    json["pages"].push_back(toJson(page));
  // Short lists in one line, as they are read.
  const std::string text = json.dump(1, ' ', false, Ordered::error_handler_t::replace);
  std::string out;
  bool in_text = false, escaped = false;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (!in_text && c == '[') {
      const std::size_t end = text.find_first_of("]{\"", i + 1);
      if (end != std::string::npos && text[end] == ']') {
        for (; i <= end; ++i)
          if (text[i] != ' ' && text[i] != '\n') out += text[i];
        --i;
        continue;
      }
    }
    out += c;
    if (c == '"' && !escaped) in_text = !in_text;
    escaped = in_text && c == '\\' && !escaped;
  }
  return out + "\n";
}

Result<Layout> layoutFrom(const std::string& text, const std::string& label) {
  auto json = parseJson(text, label);
  if (!json) return pass(json.error());
  if (!json->is_object() || json->value("alderpoint", Json()) != "report layout")
    return fail("{}: is no report layout of Alderpoint.", label);
  const JsonFields f(*json, label);
  if (f.integer("version", 0) > kVersion)
    return fail("{}: was written by a newer Alderpoint; open it with that one.", label);
  Layout layout;
  Reader in(f);
  in("name", layout.name);
  for (const JsonFields& page : f.list("pages"))
    layout.pages.push_back(pageFrom(page));
  for (const char* key : {"alderpoint", "version", "pages"})
    in.knows(key);
  in.noOthers();
  if (auto done = f.done(); !done) return pass(done.error());
  if (auto done = validate(layout); !done) return fail("{}: {}", label, done.error().message);
  return layout;
}

} // namespace alder
