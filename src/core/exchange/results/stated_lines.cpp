#include "exchange/results/stated_lines.h"

#include "base/units.h"
#include "bench/json_fields.h"
#include <algorithm>

namespace alder {
namespace {

constexpr std::string_view kValueLine = "# value ";
constexpr std::string_view kColumns =
    "feature,touch,x,y,z,nx,ny,nz,i,j,k,ball_x,ball_y,ball_z,ball_diameter\n";

// Calls `each` with every line above the table, its end included.
template <class Each> void forHeadLines(const std::string& csv, const Each& each) {
  for (std::size_t at = 0; at < csv.size() && csv[at] == '#';) {
    const auto end = std::min(csv.find('\n', at), csv.size() - 1) + 1;
    each(std::string_view(csv).substr(at, end - at));
    at = end;
  }
}

} // namespace

std::optional<StatedLine> statedLine(std::string_view line) {
  if (!line.starts_with(kValueLine)) return {};
  const Json json = Json::parse(line.substr(kValueLine.size()), nullptr, false);
  if (!json.is_object()) return {};
  const JsonFields f(json, "value");
  StatedLine s{RequirementId{f.integer("requirement", -1)}, f.number("value"), f.text("file", ""),
               f.text("name", ""), f.integer("line", 0)};
  if (!f.done() || !s.requirement.valid()) return {};
  return s;
}

std::vector<StatedLine> statedIn(const std::string& csv) {
  std::vector<StatedLine> lines;
  forHeadLines(csv, [&](std::string_view line) {
    if (auto s = statedLine(line)) lines.push_back(std::move(*s));
  });
  return lines;
}

std::string withStated(const std::string& csv, const std::vector<StatedLine>& lines) {
  std::string head;
  std::size_t size = 0;
  forHeadLines(csv, [&](std::string_view line) {
    size += line.size();
    if (!line.starts_with(kValueLine)) head += line;
  });
  for (const StatedLine& s : lines)
    head += std::string(kValueLine) +
            Json{{"requirement", s.requirement.value},
                 {"value", s.value},
                 {"file", s.file},
                 {"name", s.name},
                 {"line", s.line}}
                .dump(-1, ' ', false, Json::error_handler_t::replace) +
            "\n";
  return head + csv.substr(size);
}

std::string runWithoutPoints(const std::string& id) {
  return "# run: " + id + "\n" + std::string(kColumns);
}

bool holdsPoints(const std::string& csv) {
  std::size_t size = 0;
  forHeadLines(csv, [&](std::string_view line) { size += line.size(); });
  const auto titles = csv.find('\n', size);
  return titles != std::string::npos && csv.find_first_not_of(" \r\n", titles) != std::string::npos;
}

std::map<RequirementId, std::vector<StatedFigure>> statedFigures(const Plan& plan,
                                                                 const std::string& csv) {
  std::map<RequirementId, std::vector<StatedFigure>> figures;
  for (const StatedLine& s : statedIn(csv)) {
    const Requirement* r = plan.spec.requirements.find(s.requirement);
    if (!r) continue;
    const bool angle = r->kind == Characteristic::Angle;
    std::string source = s.file + (s.line > 0 ? fmt::format(", line {}", s.line) : "") +
                         (s.name.empty() ? "" : " (" + s.name + ")");
    figures[r->id].push_back({angle ? radians(s.value) : s.value, std::move(source)});
  }
  return figures;
}

} // namespace alder
