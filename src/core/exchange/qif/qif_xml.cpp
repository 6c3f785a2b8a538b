#include "exchange/qif/qif_xml.h"

#include "exchange/results/result_text.h"
#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <libxml/parser.h>
#include <sstream>

namespace alder::qif {

std::string textOf(double value) {
  return fmt::format("{}", value == 0 ? 0.0 : value);
}

std::string textOf(const Vec3& v) {
  return textOf(v.x()) + " " + textOf(v.y()) + " " + textOf(v.z());
}

Node add(Node parent, const char* name) {
  return parent.append_child(name);
}

Node add(Node parent, const char* name, const std::string& text) {
  const Node node = add(parent, name);
  std::string plain = text;
  for (char& c : plain) // no XML holds these
    if (static_cast<unsigned char>(c) < ' ' && c != '\n' && c != '\t') c = '?';
  node.text().set(plain.c_str());
  return node;
}

Node add(Node parent, const char* name, double value) {
  return add(parent, name, textOf(value));
}

Node add(Node parent, const char* name, const Vec3& value) {
  return add(parent, name, textOf(value));
}

void addIds(Node parent, const char* name, const std::vector<int>& ids) {
  if (ids.empty()) return;
  const Node list = add(parent, name);
  for (const int id : ids)
    add(list, "Id", std::to_string(id));
  setCount(list);
}

void setCount(Node list) {
  const auto children = list.children();
  list.append_attribute("n").set_value(
      static_cast<unsigned>(std::distance(children.begin(), children.end())));
}

void addOwn(Node element, const Own& own) {
  Node list;
  for (const auto& [name, value] : own) {
    if (value.is_null() || (value.is_structured() && value.empty())) continue;
    if (!list) list = element.prepend_child("Attributes");
    Node one = add(list, "AttributeStr");
    one.append_attribute("name").set_value(name);
    one.append_attribute("value").set_value(
        value.is_string() ? value.get<std::string>().c_str()
                          : value.dump(-1, ' ', false, Json::error_handler_t::replace).c_str());
  }
  if (list) setCount(list);
}

Json ownIn(Node element, const char* name) {
  for (const Node one : element.child("Attributes").children("AttributeStr"))
    if (std::strcmp(one.attribute("name").value(), name) == 0) {
      const char* text = one.attribute("value").value();
      Json json = Json::parse(text, nullptr, false);
      return json.is_discarded() ? Json(text) : json;
    }
  return {};
}

int Source::lineOf(Node node) const {
  const auto offset = static_cast<std::size_t>(std::max<std::ptrdiff_t>(node.offset_debug(), 0));
  const auto after = std::upper_bound(line_starts.begin(), line_starts.end(), offset);
  return static_cast<int>(after - line_starts.begin());
}

std::string Source::at(Node node) const {
  return fmt::format("{}, line {}", label, lineOf(node));
}

Node Source::find(int id) const {
  const auto found = by_id.find(id);
  return found == by_id.end() ? Node() : found->second;
}

bool looksLikeQif(std::string_view text) {
  // As UTF-16 every other byte is nothing.
  std::string plain;
  for (const char c : text.substr(0, 8192))
    if (c != '\0') plain += c;
  const auto root = plain.find("QIFDocument");
  return root != std::string::npos && plain.find('<') < root;
}

namespace {

// Elements of the standard's name space by their plain names, whatever stands before them.
void dropPrefix(Node node, const std::string& prefix) {
  const std::string name = node.name();
  if (!prefix.empty() && name.starts_with(prefix)) node.set_name(name.c_str() + prefix.size());
  for (Node child : node.children())
    if (child.type() == pugi::node_element) dropPrefix(child, prefix);
}

// Depth first, without recursion that a made-up file could make deep.
template <class Each> void forAll(Node root, const Each& each) {
  int depth = 0;
  for (Node node = root; node;) {
    if (node.type() == pugi::node_element) each(node, depth);
    if (node.first_child()) {
      node = node.first_child();
      ++depth;
      continue;
    }
    while (node != root && !node.next_sibling()) {
      node = node.parent();
      --depth;
    }
    node = node == root ? Node() : node.next_sibling();
  }
}

constexpr int kDeepest = 200;

// By a strict reader: what is kept of a file is written again, and must be XML then.
Done wellFormed(const std::string& text, const std::string& label) {
  xmlParserCtxt* parser = xmlNewParserCtxt();
  xmlDoc* doc =
      xmlCtxtReadMemory(parser, text.data(), static_cast<int>(text.size()), nullptr, "UTF-8",
                        XML_PARSE_NOERROR | XML_PARSE_NOWARNING | XML_PARSE_NONET | XML_PARSE_HUGE);
  std::string why = "it is empty";
  int line = 1;
  if (const xmlError* error = xmlCtxtGetLastError(parser); error && error->message) {
    why = error->message;
    line = error->line;
  }
  const bool good = doc && parser->wellFormed;
  xmlFreeDoc(doc);
  xmlFreeParserCtxt(parser);
  if (good) return {};
  why = why.substr(0, why.find('\n'));
  return fail("{}: line {} is not valid XML ({}); ask for the file again.", label,
              std::max(line, 1), why);
}

constexpr std::size_t kMostBytes = 512u << 20;

// As UTF-8, whatever its declaration says.
Result<std::string> utf8Of(std::string_view bytes, const std::string& label) {
  if (bytes.size() > kMostBytes)
    return fail("{}: holds {} MB; {} MB of QIF are read at most.", label, bytes.size() >> 20,
                kMostBytes >> 20);
  auto plain = plainText(bytes);
  if (!plain)
    return fail("{}: holds bytes that no text has; a QIF file is XML. Ask for it again.", label);
  return std::move(plain->text);
}

constexpr std::size_t kLongLine = 4000;

std::string inLines(const std::string& text) {
  std::size_t longest = 0, begin = 0;
  for (std::size_t i = 0; i <= text.size(); ++i)
    if (i == text.size() || text[i] == '\n') longest = std::max(longest, i - begin), begin = i + 1;
  if (longest < kLongLine) return text;
  std::string out;
  out.reserve(text.size() + text.size() / 20);
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (text[i] == '<' && i > 0 && text[i - 1] == '>') out += '\n';
    out += text[i];
  }
  return out;
}

} // namespace

Result<std::unique_ptr<Source>> readSource(std::string_view bytes, const std::string& label,
                                           bool broken) {
  auto text = utf8Of(bytes, label);
  if (!text) return pass(text.error());
  if (auto good = wellFormed(*text, label); !good) return pass(good.error());
  auto source = std::make_unique<Source>();
  source->label = label;
  source->text = broken ? inLines(*text) : std::move(*text);
  source->line_starts.push_back(0);
  for (std::size_t i = 0; i < source->text.size(); ++i)
    if (source->text[i] == '\n') source->line_starts.push_back(i + 1);
  if (!source->xml.load_buffer(source->text.data(), source->text.size(), pugi::parse_default,
                               pugi::encoding_utf8))
    return fail("{}: is not valid XML; ask for the file again.", label);
  const std::string root = source->root().name();
  const auto colon = root.find(':');
  if (root.substr(colon == std::string::npos ? 0 : colon + 1) != "QIFDocument")
    return fail("{}: holds no QIF document; it would begin with QIFDocument.", label);
  int deepest = 0;
  forAll(source->root(), [&](Node, int depth) { deepest = std::max(deepest, depth); });
  if (deepest > kDeepest)
    return fail("{}: its elements stand more than {} deep in each other; it is damaged.", label,
                kDeepest);
  if (colon != std::string::npos) dropPrefix(source->root(), root.substr(0, colon + 1));
  const std::string version = source->root().attribute("versionQIF").value();
  if (!version.empty() && version[0] != '3')
    return fail("{}: is QIF {}; QIF 3 is read here: ask for the file as QIF 3.", label, version);
  std::optional<int> twice;
  forAll(source->root(), [&](Node node, int) {
    const auto id = ownId(node);
    if (!id || nameOf(node) == "QIFDocument") return;
    if (!source->by_id.emplace(*id, node).second && !twice) twice = *id;
    source->id_max = std::max(source->id_max, *id);
  });
  if (twice)
    return fail("{}: the id {} is given twice; what refers to it is not known. Ask for the file "
                "again.",
                label, *twice);
  return source;
}

std::string wordsIn(Node node) {
  const std::string_view text = node.child_value();
  const auto from = text.find_first_not_of(" \t\r\n"), to = text.find_last_not_of(" \t\r\n");
  return from == std::string_view::npos ? std::string()
                                        : std::string(text.substr(from, to - from + 1));
}

std::optional<double> numberFrom(std::string_view text) {
  if (text.starts_with('+')) text.remove_prefix(1);
  double v = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
  if (code != std::errc{} || end != text.data() + text.size() || !std::isfinite(v)) return {};
  return v;
}

std::optional<int> wholeFrom(std::string_view text) {
  int v = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
  if (code != std::errc{} || end != text.data() + text.size() || v < 0 || v > 1'000'000'000)
    return {};
  return v;
}

std::optional<double> numberIn(Node node) {
  return numberFrom(wordsIn(node));
}

std::optional<int> idIn(Node node) {
  return wholeFrom(wordsIn(node));
}

std::optional<int> ownId(Node node) {
  return wholeFrom(node.attribute("id").value());
}

std::optional<Vec3> vectorIn(Node node) {
  std::istringstream in(wordsIn(node));
  Vec3 v = Vec3::Zero();
  std::string word;
  for (int k = 0; k < 3; ++k) {
    if (!(in >> word)) return {};
    const auto n = numberFrom(word);
    if (!n) return {};
    v[k] = *n;
  }
  return in >> word ? std::nullopt : std::optional(v);
}

std::string wordsOf(Node node, const char* child) {
  return wordsIn(node.child(child));
}

Node below(Node node, const char* name) {
  return node.find_node([&](const Node& n) { return std::strcmp(n.name(), name) == 0; });
}

std::vector<int> idsIn(Node list) {
  std::vector<int> ids;
  for (const Node one : list.children())
    if (const auto id = idIn(one)) ids.push_back(*id);
  return ids;
}

std::string xmlOf(Node node) {
  std::ostringstream out;
  node.print(out, "", pugi::format_raw);
  return out.str();
}

} // namespace alder::qif
