// Elements of a QIF file, read and written.
#pragma once

#include "base/error.h"
#include "bench/json_fields.h"
#include "geometry/vec.h"
#include <map>
#include <memory>
#include <optional>
#include <pugixml.hpp>
#include <string>
#include <string_view>
#include <vector>

namespace alder::qif {

using Node = pugi::xml_node;

inline constexpr const char* kNamespace = "http://qifstandards.org/xsd/qif3";

// Writing.
std::string textOf(double value); // the shortest that gives the same value again
std::string textOf(const Vec3& value);
Node add(Node parent, const char* name);
Node add(Node parent, const char* name, const std::string& text);
Node add(Node parent, const char* name, double value);
Node add(Node parent, const char* name, const Vec3& value);
// "<FeatureItemIds n="2"><Id>3</Id>…": nothing where there are none.
void addIds(Node parent, const char* name, const std::vector<int>& ids);
// Tells how many it holds, as lists of QIF do.
void setCount(Node list);

// What QIF has no element for stands as text in an attribute of the element that it is about, with
// a name of ours: first in it, as the standard has it. Nothing is written for an empty object.
using Own = std::vector<std::pair<const char*, Json>>;
void addOwn(Node element, const Own& own);
// Null where it has none. What is no JSON is a string.
Json ownIn(Node element, const char* name);

// Reading.
struct Source {
  pugi::xml_document xml;
  std::string text, label;
  std::map<int, Node> by_id;
  int id_max = 0;
  std::vector<std::size_t> line_starts; // offsets

  Node root() const { return xml.document_element(); }
  int lineOf(Node node) const; // from 1
  // "part.qif, line 12"
  std::string at(Node node) const;
  Node find(int id) const;
};
// Is it XML that begins with a QIF document? Of a few kB at its start.
bool looksLikeQif(std::string_view text);
// Bytes in any encoding. Error names file, line and what is wrong. `broken`: where all stands in a
// few long lines each element begins one of its own.
Result<std::unique_ptr<Source>> readSource(std::string_view bytes, const std::string& label,
                                           bool broken = false);

inline std::string_view nameOf(Node node) {
  return node.name();
}
std::optional<double> numberFrom(std::string_view text);
std::optional<int> wholeFrom(std::string_view text); // from 0 on
std::string wordsIn(Node node);                      // its text, without blanks about it
std::optional<double> numberIn(Node node);
std::optional<int> idIn(Node node); // of its text
std::optional<int> ownId(Node node);
std::optional<Vec3> vectorIn(Node node);
// The text of a child; empty where there is none.
std::string wordsOf(Node node, const char* child);
// The first below it of this name, however deep.
Node below(Node node, const char* name);
// Ids in a list of them: "<FeatureItemIds><Id>3</Id>…".
std::vector<int> idsIn(Node list);
std::string xmlOf(Node node);

} // namespace alder::qif
