#include "exchange/points/points_file.h"

#include "exchange/points/csv.h"
#include "exchange/results/stated_lines.h"
#include "plan/id_text.h"
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace alder {
namespace {

std::optional<double> number(const std::string& text) {
  double v = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
  if (code != std::errc{} || end != text.data() + text.size() || !std::isfinite(v)) return {};
  return v;
}

// Three numbers of one row, by column.
class RowReader {
 public:
  RowReader(const CsvTable& table, std::string label)
      : table_(table)
      , label_(std::move(label)) {}
  Result<Vec3> vector(std::size_t row, const std::array<int, 3>& columns) const {
    Vec3 v = Vec3::Zero();
    for (int k = 0; k < 3; ++k) {
      const auto& text =
          table_.rows[row][static_cast<std::size_t>(columns[static_cast<std::size_t>(k)])];
      const auto n = number(text);
      if (!n)
        return fail("{}: line {}: \"{}\" is not a number; correct it.", label_, table_.lines[row],
                    text);
      v[k] = *n;
    }
    return v;
  }

 private:
  const CsvTable& table_;
  std::string label_;
};

Result<std::array<int, 3>> columns(const CsvTable& table, const std::string& label,
                                   const std::array<const char*, 3>& names) {
  std::array<int, 3> result{};
  for (std::size_t k = 0; k < 3; ++k) {
    result[k] = table.column(names[k]);
    if (result[k] < 0)
      return fail("{}: line 1: column \"{}\" is missing; the header must name it.", label,
                  names[k]);
  }
  return result;
}

} // namespace

Result<Points> barePointsIn(const std::string& text, const std::string& label) {
  auto table = readCsv(text, label);
  if (!table) return pass(table.error());
  auto xyz = columns(*table, label, {"x", "y", "z"});
  if (!xyz) return pass(xyz.error());
  Points result;
  const RowReader reader(*table, label);
  for (std::size_t i = 0; i < table->rows.size(); ++i) {
    auto p = reader.vector(i, *xyz);
    if (!p) return pass(p.error());
    result.push_back(*p);
  }
  return result;
}

bool isRunOfPoints(const std::string& text) {
  std::size_t at = 0;
  while (at < text.size() && (text[at] == '#' || text[at] == '\n' || text[at] == '\r')) {
    const auto end = text.find('\n', at);
    if (end == std::string::npos) return false;
    at = end + 1;
  }
  return std::string_view(text).substr(at).starts_with("feature,touch,x,y,z");
}

std::string pointsText(const Run& run) {
  std::string out = "feature,touch,x,y,z,nx,ny,nz,i,j,k,ball_x,ball_y,ball_z,ball_diameter\n";
  for (const MeasuredPoint& p : run.points)
    out += fmt::format("{},{},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:.9f},{:.9f},{:.9f},{:.6f}"
                       ",{:.6f},{:.6f},{:g}\n",
                       idText(p.feature), p.touch + 1, p.surface.x(), p.surface.y(), p.surface.z(),
                       p.nominal.x(), p.nominal.y(), p.nominal.z(), p.normal.x(), p.normal.y(),
                       p.normal.z(), p.ball.x(), p.ball.y(), p.ball.z(), p.ball_diameter);
  return out;
}

std::string placesText(const Plan& plan, const Measurements& measured) {
  std::string out = "feature,touch,x,y,z,nx,ny,nz,i,j,k,row,face,noise\n";
  for (const auto& [id, m] : measured) {
    const NominalSurface surface(plan.part, plan.nominal(id));
    for (std::size_t k = 0; k < m.points.size(); ++k) {
      const Vec3 &p = m.points[k], &at = m.nominals[k], n = surface.normal(m.faces[k], at);
      out +=
          fmt::format("{},{},{:.6f},{:.6f},{:.6f},{:.4f},{:.4f},{:.4f},{:.5f},{:.5f},{:.5f},{},"
                      "{},{:.6f}\n",
                      idText(id), k + 1, p.x(), p.y(), p.z(), at.x(), at.y(), at.z(), n.x(), n.y(),
                      n.z(), m.rows[k], m.faces[k].value, k < m.noise.size() ? m.noise[k] : 0);
    }
  }
  return out;
}

namespace {

// Of places of a cloud, which no touch was planned for.
class PlaceColumns {
 public:
  PlaceColumns(const CsvTable& table, const std::string& label)
      : row_(table.column("row"))
      , face_(table.column("face"))
      , noise_(table.column("noise")) {
    if (row_ < 0 || face_ < 0 || noise_ < 0) return;
    if (auto found = columns(table, label, {"nx", "ny", "nz"})) nominal_ = *found;
  }
  bool there() const { return nominal_.has_value(); }
  // Nothing where the row does not say.
  Result<void> add(const RowReader& reader, const CsvTable& table, std::size_t i,
                   const std::string& label, const std::vector<FaceId>& faces,
                   MeasuredFeature& m) const {
    const auto& row = table.rows[i];
    const auto ring = number(row[static_cast<std::size_t>(row_)]),
               face = number(row[static_cast<std::size_t>(face_)]),
               noise = number(row[static_cast<std::size_t>(noise_)]);
    auto meant = reader.vector(i, *nominal_);
    if (!meant) return pass(meant.error());
    if (!ring || !face || !noise || std::abs(*ring) > 1e6 || std::abs(*face) > 1e6 ||
        !(*noise >= 0))
      return fail("{}: line {}: row, face and noise must be numbers; correct them.", label,
                  table.lines[i]);
    // A model read anew may number its faces otherwise.
    const auto known = std::find(faces.begin(), faces.end(), FaceId{static_cast<int>(*face)});
    m.rows.push_back(static_cast<int>(*ring));
    m.faces.push_back(known != faces.end() ? *known : faces.front());
    m.nominals.push_back(*meant);
    m.noise.push_back(*noise);
    return {};
  }

 private:
  int row_, face_, noise_;
  std::optional<std::array<int, 3>> nominal_;
};

} // namespace

Result<Measurements> measurementsIn(const std::string& text, const std::string& label,
                                    const Plan& plan) {
  auto table = readCsv(text, label);
  if (!table) return pass(table.error());
  auto xyz = columns(*table, label, {"x", "y", "z"});
  if (!xyz) return pass(xyz.error());
  const int feature = table->column("feature"), touch = table->column("touch");
  if (feature < 0)
    return fail("{}: line 1: column \"feature\" is missing; the header must name it.", label);
  Measurements result;
  result.stated = statedFigures(plan, text);
  const RowReader reader(*table, label);
  const PlaceColumns places(*table, label);
  for (std::size_t i = 0; i < table->rows.size(); ++i) {
    const auto& row = table->rows[i];
    const auto id = featureNamed(plan, row[static_cast<std::size_t>(feature)]);
    if (!id && namesGoneFeature(plan, row[static_cast<std::size_t>(feature)])) continue;
    if (!id)
      return fail("{}: line {}: \"{}\" is not a feature of this routine.", label, table->lines[i],
                  row[static_cast<std::size_t>(feature)]);
    auto p = reader.vector(i, *xyz);
    if (!p) return pass(p.error());
    MeasuredFeature& m = result[*id];
    if (plan.nominal(*id).faces.empty())
      return fail("{}: line {}: {} is constructed and has no points of its own.", label,
                  table->lines[i], plan.nominal(*id).name);
    const auto number_of = touch >= 0 ? number(row[static_cast<std::size_t>(touch)]) : std::nullopt;
    const auto& touches = plan.feature(*id).touches;
    // from 1; any other number is of no planned touch
    const double place = number_of.value_or(static_cast<double>(m.points.size() + 1));
    const bool counts = place >= 1 && place <= static_cast<double>(touches.size());
    const std::size_t index = counts ? static_cast<std::size_t>(place) - 1 : touches.size();
    m.points.push_back(*p);
    if (places.there()) {
      auto done = places.add(reader, *table, i, label, plan.nominal(*id).faces, m);
      if (!done) return pass(done.error());
      continue;
    }
    // Points beyond the planned touches belong to whatever lies nearest.
    const bool planned = index < touches.size();
    m.rows.push_back(planned ? touches[index].row : 0);
    m.faces.push_back(planned ? touches[index].face : plan.nominal(*id).faces.front());
    m.nominals.push_back(planned ? touches[index].point : *p);
  }
  return result;
}

Result<std::vector<RawTouch>> touchesIn(const std::string& text, const std::string& label,
                                        const Plan& plan) {
  auto table = readCsv(text, label);
  if (!table) return pass(table.error());
  auto ball = columns(*table, label, {"ball_x", "ball_y", "ball_z"});
  if (!ball) return pass(ball.error());
  const int feature = table->column("feature"), touch = table->column("touch"),
            diameter = table->column("ball_diameter");
  if (feature < 0 || touch < 0 || diameter < 0)
    return fail("{}: line 1: columns \"feature\", \"touch\" and \"ball_diameter\" are needed.",
                label);
  std::vector<RawTouch> touches;
  const RowReader reader(*table, label);
  for (std::size_t i = 0; i < table->rows.size(); ++i) {
    const auto& row = table->rows[i];
    const auto id = featureNamed(plan, row[static_cast<std::size_t>(feature)]);
    if (!id && namesGoneFeature(plan, row[static_cast<std::size_t>(feature)])) continue;
    auto place = reader.vector(i, *ball);
    const auto index = number(row[static_cast<std::size_t>(touch)]),
               size = number(row[static_cast<std::size_t>(diameter)]);
    if (!id || !index || !size)
      return fail("{}: line {}: is no touch of this routine.", label, table->lines[i]);
    if (!place) return pass(place.error());
    const auto planned = static_cast<double>(plan.feature(*id).touches.size());
    if (*index >= 1 && *index <= planned)
      touches.push_back({*id, static_cast<int>(*index) - 1, *place, *size / 2});
  }
  return touches;
}

} // namespace alder
