// Elements of Office documents by their names without a prefix, which each writer chooses.
#pragma once

#include <pugixml.hpp>
#include <sstream>
#include <string>
#include <string_view>
#include <vector>

namespace alder {

inline std::string_view localName(const char* name) {
  const std::string_view all(name);
  const auto colon = all.find(':');
  return colon == std::string_view::npos ? all : all.substr(colon + 1);
}

inline bool isNamed(const pugi::xml_node& node, std::string_view name) {
  return node.type() == pugi::node_element && localName(node.name()) == name;
}

inline pugi::xml_node kid(const pugi::xml_node& node, std::string_view name) {
  for (const pugi::xml_node& child : node.children())
    if (isNamed(child, name)) return child;
  return {};
}

inline std::vector<pugi::xml_node> kids(const pugi::xml_node& node, std::string_view name) {
  std::vector<pugi::xml_node> all;
  for (const pugi::xml_node& child : node.children())
    if (isNamed(child, name)) all.push_back(child);
  return all;
}

// Under the prefix of its parent.
inline std::string named(const pugi::xml_node& parent, const std::string& name) {
  const std::string_view all(parent.name());
  const auto colon = all.find(':');
  return colon == std::string_view::npos ? name : std::string(all.substr(0, colon + 1)) + name;
}

inline pugi::xml_node addKid(pugi::xml_node parent, const std::string& name) {
  return parent.append_child(named(parent, name).c_str());
}

// As it was written, blanks between elements too.
inline bool parsed(pugi::xml_document& document, const std::string& text) {
  return bool(
      document.load_buffer(text.data(), text.size(), pugi::parse_full | pugi::parse_ws_pcdata));
}

inline std::string printed(const pugi::xml_document& document) {
  std::ostringstream out;
  document.save(out, "", pugi::format_raw | pugi::format_no_declaration);
  return out.str();
}

} // namespace alder
