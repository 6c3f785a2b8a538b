#include "bench/bench_edit.h"

#include <algorithm>

namespace alder {
namespace {

// Visits the lists of bodies in `fixture` and `fixtures`, until one says it is done.
bool anyBodies(Json& bench, const std::function<bool(Json&)>& done) {
  const auto in = [&](Json& fixture) {
    return fixture.is_object() && fixture.contains("bodies") && done(fixture["bodies"]);
  };
  if (bench.contains("fixture") && in(bench["fixture"])) return true;
  return bench.contains("fixtures") &&
         std::any_of(bench["fixtures"].begin(), bench["fixtures"].end(), in);
}

auto named(Json& bodies, const std::string& name) {
  return std::find_if(bodies.begin(), bodies.end(),
                      [&](const Json& b) { return b.value("name", "") == name; });
}

Json* portsOf(Json& bench) {
  return bench.contains("rack") && bench["rack"].contains("ports") ? &bench["rack"]["ports"]
                                                                   : nullptr;
}

Json* toolsOf(Json& bench) {
  return bench.contains("controller") && bench["controller"].contains("tools")
             ? &bench["controller"]["tools"]
             : nullptr;
}

} // namespace

bool changeBody(Json& bench, const std::string& name, const std::function<void(Json&)>& change) {
  return anyBodies(bench, [&](Json& bodies) {
    const auto found = named(bodies, name);
    if (found == bodies.end()) return false;
    change(*found);
    return true;
  });
}

bool dropBody(Json& bench, const std::string& name) {
  return anyBodies(bench, [&](Json& bodies) {
    const auto found = named(bodies, name);
    if (found == bodies.end()) return false;
    bodies.erase(found);
    return true;
  });
}

void addBody(Json& bench, Json body) {
  bench["fixture"]["bodies"].push_back(std::move(body));
}

Json bodyOf(const Bench& bench, const std::string& name) {
  Json json = Json::parse(bench.json, nullptr, false), found;
  if (json.is_object()) changeBody(json, name, [&](Json& body) { found = body; });
  return found;
}

Json copyOfBody(const Json& body, const std::string& name) {
  constexpr double kBeside = 40; // mm
  Json copy = body;
  copy["name"] = name;
  const auto shift = [](Json& place) { place[0] = place[0].get<double>() + kBeside; };
  if (copy.contains("at")) shift(copy["at"]);
  // Boxes and cylinders have places of their own, and so has the axis about which they open.
  for (const char* solids : {"boxes", "cylinders"}) {
    if (!copy.contains(solids)) continue;
    for (Json& s : copy[solids]) {
      if (s.contains("at")) {
        shift(s["at"]);
        continue;
      }
      for (const char* corner : {"min", "max", "from", "to"})
        if (s.contains(corner)) shift(s[corner]);
    }
  }
  if (copy.contains("opens")) shift(copy["opens"]["about"]);
  return copy;
}

std::string freeBodyName(const Bench& bench, const std::string& stem) {
  const auto& bodies = bench.fixture.bodies;
  for (int k = 1;; ++k) {
    std::string name = fmt::format("{} {}", stem, k);
    if (std::none_of(bodies.begin(), bodies.end(),
                     [&](const FixtureBody& b) { return b.name == name; }))
      return name;
  }
}

void renameStylus(Json& bench, std::size_t stylus, const std::string& name) {
  Json& s = bench["styli"][stylus];
  const std::string old = s.value("name", "");
  s["name"] = name;
  if (Json* ports = portsOf(bench))
    for (Json& port : *ports)
      if (port.value("stylus", "") == old) port["stylus"] = name;
  if (Json* tools = toolsOf(bench))
    for (Json& tool : *tools)
      if (tool.value("stylus", "") == old) tool["stylus"] = name;
}

void dropStylus(Json& bench, std::size_t stylus) {
  const std::string name = bench["styli"][stylus].value("name", "");
  bench["styli"].erase(stylus);
  for (Json* all : {portsOf(bench), toolsOf(bench)})
    for (std::size_t i = all ? all->size() : 0; i-- > 0;)
      if ((*all)[i].value("stylus", "") == name) all->erase(i);
}

void copyStylus(Json& bench, std::size_t stylus, const std::string& name) {
  Json copy = bench["styli"][stylus];
  copy["name"] = name;
  bench["styli"].push_back(std::move(copy));
}

void dropTip(Json& bench, std::size_t stylus, std::size_t tip) {
  Json& s = bench["styli"][stylus];
  const std::string of = s.value("name", ""), name = s["tips"][tip].value("name", "");
  s["tips"].erase(tip);
  if (Json* tools = toolsOf(bench))
    for (std::size_t i = tools->size(); i-- > 0;)
      if ((*tools)[i].value("stylus", "") == of && (*tools)[i].value("tip", "") == name)
        tools->erase(i);
}

void addTip(Json& bench, std::size_t stylus) {
  Json& tips = bench["styli"][stylus]["tips"];
  Json tip = tips.back();
  tip["name"] = fmt::format("{}", tips.size() + 1);
  tip["direction"] = {0, 1, 0};
  for (std::size_t e = 1; e < tip["elements"].size(); ++e)
    tip["elements"][e]["on_stem"] = true;
  tips.push_back(std::move(tip));
}

void addElement(Json& tip) {
  Json& all = tip["elements"];
  Json added{{"part", "extension"}, {"length_mm", 20}, {"diameter_mm", 6}};
  if (all.size() > 1 && all[1].contains("on_stem")) added["on_stem"] = true;
  all.insert(all.begin() + std::min<std::ptrdiff_t>(1, static_cast<std::ptrdiff_t>(all.size())),
             added);
}

} // namespace alder
