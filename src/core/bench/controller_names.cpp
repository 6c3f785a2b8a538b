#include "bench/controller_names.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kSamePosture = 1e-4; // rad, well below the step of an indexing head

ControllerAngle readAngle(const JsonFields& f) {
  ControllerAngle angle;
  angle.sign = f.number("sign", 1);
  if (std::abs(angle.sign) != 1) f.complain("sign", "must be 1 or -1");
  angle.zero = radians(f.number("zero_deg", 0));
  return angle;
}

} // namespace

const ControllerTool* ControllerNames::toolFor(const std::string& stylus, const std::string& tip,
                                               double at_a, double at_b) const {
  const ControllerTool* at_all = nullptr;
  for (const ControllerTool& t : tools) {
    if (t.stylus != stylus || t.tip != tip) continue;
    if (!t.a)
      at_all = at_all ? at_all : &t;
    else if (std::abs(*t.a - at_a) < kSamePosture && std::abs(*t.b - at_b) < kSamePosture)
      return &t;
  }
  return at_all;
}

const ControllerTool* ControllerNames::named(const std::string& name) const {
  const auto found = std::find_if(tools.begin(), tools.end(),
                                  [&](const ControllerTool& t) { return t.name == name; });
  return found == tools.end() ? nullptr : &*found;
}

std::optional<std::pair<std::string, std::string>>
ControllerNames::tipOf(const std::string& tool) const {
  if (const ControllerTool* told = named(tool)) return std::pair(told->stylus, told->tip);
  std::optional<std::pair<std::string, std::string>> found;
  for (const auto& [stylus, tip] : tips)
    if (asciiName(stylus + "/" + tip) == tool) {
      if (found) return {};
      found = {stylus, tip};
    }
  return found;
}

std::string ControllerNames::plainName(const std::string& stylus, const std::string& tip) const {
  const std::string name = asciiName(stylus + "/" + tip);
  const auto alike = std::count_if(tips.begin(), tips.end(), [&](const auto& t) {
    return asciiName(t.first + "/" + t.second) == name;
  });
  return alike > 1 ? "" : name;
}

std::string asciiName(const std::string& text) {
  std::string name;
  for (const char c : text) {
    const auto byte = static_cast<unsigned char>(c);
    if ((byte & 0xc0) == 0x80) continue; // goes on with the character before
    name += byte < 32 || byte > 126 || c == '"' ? '_' : c;
  }
  return name;
}

ControllerNames readControllerNames(const JsonFields& f, const std::vector<Stylus>& styli) {
  ControllerNames names;
  for (const auto& t : f.list("tools")) {
    ControllerTool tool{t.text("stylus"), t.text("tip"), {}, {}, t.text("tool")};
    const auto stylus = std::find_if(styli.begin(), styli.end(),
                                     [&](const Stylus& s) { return s.name == tool.stylus; });
    if (stylus == styli.end())
      t.complain("stylus", fmt::format("\"{}\" is not among the styli", tool.stylus));
    else if (std::none_of(stylus->tips.begin(), stylus->tips.end(),
                          [&](const Tip& tip) { return tip.name == tool.tip; }))
      t.complain("tip", fmt::format("\"{}\" is no tip of {}", tool.tip, tool.stylus));
    if (t.has("a_deg") != t.has("b_deg"))
      t.complain("b_deg", "stands together with a_deg, or neither does");
    if (t.has("a_deg") && t.has("b_deg")) {
      tool.a = radians(t.number("a_deg"));
      tool.b = radians(t.number("b_deg"));
    }
    if (tool.name.empty() || asciiName(tool.name) != tool.name)
      t.complain("tool", "must be printable ASCII without quotation marks");
    if (names.named(tool.name)) t.complain("tool", fmt::format("\"{}\" is named twice", tool.name));
    names.tools.push_back(std::move(tool));
  }
  if (f.has("a")) names.a = readAngle(f.object("a"));
  if (f.has("b")) names.b = readAngle(f.object("b"));
  return names;
}

void nameController(Json& bench, const ControllerTool& tool) {
  Json& tools = bench["controller"]["tools"];
  if (!tools.is_array()) tools = Json::array();
  const bool posture = tool.a && tool.b;
  for (std::size_t i = tools.size(); i-- > 0;) {
    const Json& t = tools[i];
    if (t.value("stylus", "") != tool.stylus || t.value("tip", "") != tool.tip ||
        t.contains("a_deg") != posture)
      continue;
    if (posture && (std::abs(radians(t.value("a_deg", 0.0)) - *tool.a) > kSamePosture ||
                    std::abs(radians(t.value("b_deg", 0.0)) - *tool.b) > kSamePosture))
      continue;
    tools.erase(i);
  }
  if (tool.name.empty()) return;
  Json named{{"stylus", tool.stylus}, {"tip", tool.tip}, {"tool", tool.name}};
  if (posture) {
    named["a_deg"] = shownDegrees(*tool.a);
    named["b_deg"] = shownDegrees(*tool.b);
  }
  tools.push_back(std::move(named));
}

} // namespace alder
