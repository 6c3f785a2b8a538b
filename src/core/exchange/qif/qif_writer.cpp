#include "exchange/qif/qif_file.h"

#include "exchange/points/points_file.h"
#include "exchange/qif/qif_words.h"
#include "exchange/qif/qif_writing.h"
#include "judge/judge.h"
#include <algorithm>
#include <set>
#include <sstream>

namespace alder {
namespace qif {

Node Writing::element(Node parent, const std::string& name, Thing thing, int number) {
  Node node = parent.append_child(name.c_str());
  node.append_attribute("id").set_value(ids.of(thing, number));
  by_key[keyOf(thing, number)] = node;
  return node;
}

namespace {

// A list of elements by its path below the document; made where it is not there.
Node listAt(Node root, const std::string& path) {
  Node at = root;
  std::istringstream names(path);
  for (std::string name; std::getline(names, name, '/');) {
    if (name.empty()) continue;
    const Node there = at.child(name.c_str());
    at = there ? there : at.append_child(name.c_str());
  }
  return at;
}

// First in the element.
Node attributesOf(Node element) {
  const Node there = element.child("Attributes");
  return there ? there : element.prepend_child("Attributes");
}

std::set<int> idsBelow(Node root) {
  std::set<int> ids;
  root.find_node([&](const Node& n) {
    if (const auto id = ownId(n)) ids.insert(*id);
    return false;
  });
  return ids;
}

// Does it speak, in elements that are called Id or end in Id, of what was in the file and is not
// `there` any more? What it never had is not its loss.
bool speaksOfLost(Node node, const std::set<int>& had, const std::set<int>& there) {
  return bool(node.find_node([&](const Node& n) {
    if (!nameOf(n).ends_with("Id") || nameOf(n) == "QPId") return false;
    const auto id = idIn(n);
    return id && had.contains(*id) && !there.contains(*id);
  }));
}

// What was not understood when the routine was read, where it stood. What speaks of elements that
// are gone is left out and told; what is left out may be spoken of by others in turn.
void putBack(Writing& w, Node root) {
  std::vector<std::pair<const KeptQifElement*, Node>> put;
  for (const KeptQifElement& e : w.kept.elements) {
    // "feature_item 5/Attributes" is within a thing, "Features/FeatureItems" is not.
    const auto slash = e.within.find('/');
    const auto key = w.by_key.find(e.within.substr(0, slash));
    const bool of_thing = e.within.find(' ') != std::string::npos;
    if (of_thing && key == w.by_key.end()) continue; // what it belonged to is gone
    Node parent = !of_thing                    ? listAt(root, e.within)
                  : slash == std::string::npos ? key->second
                                               : attributesOf(key->second);
    pugi::xml_document fragment;
    if (!fragment.load_string(e.xml.c_str())) continue;
    const Node before = e.before.empty() ? Node() : parent.child(e.before.c_str());
    put.emplace_back(&e, before ? parent.insert_copy_before(fragment.document_element(), before)
                                : parent.append_copy(fragment.document_element()));
  }
  std::set<int> had;
  for (const auto& [key, id] : w.kept.ids)
    had.insert(id);
  for (const auto& [e, node] : put)
    had.merge(idsBelow(node));
  for (bool again = true; again;) {
    again = false;
    const std::set<int> there = idsBelow(root);
    for (auto& [e, node] : put) {
      if (!node || !speaksOfLost(node, had, there)) continue;
      w.told.push_back(fmt::format("{}: speaks of what is not there any more and was left out",
                                   std::string(node.name())));
      node.parent().remove_child(node);
      node = Node();
      again = true;
    }
  }
  for (const auto& [e, node] : put) {
    Node list = node.parent();
    if (!list.attribute("n") && nameOf(list) != "Attributes") continue;
    list.remove_attribute("n");
    setCount(list);
  }
}

} // namespace
} // namespace qif

bool isQifFile(const std::string& target) {
  if (target.size() < 4) return false;
  std::string end = target.substr(target.size() - 4);
  std::transform(end.begin(), end.end(), end.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return end == ".qif";
}

QifWritten qifDocument(const Project& project, const std::vector<StoredRun>& runs) {
  using namespace qif;
  Writing w(project.plan, project.qif);
  std::vector<WrittenPart> parts;
  for (const StoredRun& run : runs) {
    const auto measured = measurementsIn(run.csv, run.name, project.plan);
    if (!measured) {
      w.told.push_back(measured.error().message);
      continue;
    }
    parts.push_back({run.name, run.csv, run.operated_by, judgeAll(project.plan, *measured)});
  }
  pugi::xml_document doc;
  Node declaration = doc.append_child(pugi::node_declaration);
  declaration.append_attribute("version").set_value("1.0");
  declaration.append_attribute("encoding").set_value("UTF-8");
  Node root = doc.append_child("QIFDocument");
  root.append_attribute("xmlns").set_value(kNamespace);
  root.append_attribute("versionQIF").set_value("3.0.0");
  Node id = root.append_child("QPId");
  writeHead(w, root, parts);
  writeResources(w, root);
  writeDatums(w, root);
  writeProduct(w, root);
  writeFeatures(w, root);
  writeCharacteristics(w, root);
  writePlan(w, root);
  writeResults(w, root, parts);
  writeStatistics(w, root, parts);
  putBack(w, root);
  root.append_attribute("idMax").set_value(std::max(w.ids.max(), project.qif.id_max));
  // Two documents that say the same are the same.
  std::ostringstream out;
  doc.save(out, "  ", pugi::format_indent, pugi::encoding_utf8);
  id.text().set(uuidOf(out.str()).c_str());
  out.str({});
  doc.save(out, "  ", pugi::format_indent, pugi::encoding_utf8);
  return {out.str(), std::move(w.told)};
}

} // namespace alder
