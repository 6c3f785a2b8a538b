// Results in QIF: measured points and features, measured characteristics with their status, for
// each measured part.
#include "exchange/qif/qif_words.h"
#include "exchange/qif/qif_writing.h"

#include "base/units.h"
#include "exchange/points/csv.h"
#include "exchange/points/points_file.h"
#include "exchange/results/stated_lines.h"
#include "judge/conditioning.h"
#include "plan/id_text.h"
#include <algorithm>

namespace alder::qif {
namespace {

// What the uncertainty leaves open passes no part.
const char* statusOf(Verdict v) {
  switch (v) {
  case Verdict::Within:
  case Verdict::Near:
    return "PASS";
  case Verdict::Outside:
    return "FAIL";
  case Verdict::NotProved:
    return "UNKNOWN";
  case Verdict::Unmeasured:
    break;
  }
  return "NOT_MEASURED";
}

const char* statusOf(const std::vector<Evaluation>& all) {
  const auto any = [&](Verdict v) {
    return std::any_of(all.begin(), all.end(), [&](const Evaluation& e) { return e.verdict == v; });
  };
  return any(Verdict::Outside)                                 ? "FAIL"
         : any(Verdict::NotProved) || any(Verdict::Unmeasured) ? "UNKNOWN"
                                                               : "PASS";
}

// Three cells of a row as they stand.
std::string vectorAt(const std::vector<std::string>& row, const std::array<int, 3>& columns) {
  std::string text;
  for (const int c : columns)
    text += (text.empty() ? "" : " ") + row[static_cast<std::size_t>(c)];
  return text;
}

struct Column {
  const char* element;
  std::array<const char*, 3> names; // one name alone: the first
};
constexpr std::array<Column, 5> kColumns{{{"Point", {"x", "y", "z"}},
                                          {"NominalPoint", {"nx", "ny", "nz"}},
                                          {"NominalNormal", {"i", "j", "k"}},
                                          {"BallCenter", {"ball_x", "ball_y", "ball_z"}},
                                          {"BallDiameter", {"ball_diameter", nullptr, nullptr}}}};
// Of places of a cloud, for which QIF has no element.
constexpr std::array<const char*, 3> kOwnColumns{"row", "face", "noise"};

class PartResults {
 public:
  PartResults(Writing& w, const WrittenPart& part, const Measurements& measured,
              const CsvTable& table)
      : w_(w)
      , part_(part)
      , measured_(measured)
      , table_(table) {}

  void write(Node results) {
    addOwn(results, {{kOwnRun, ownRun()}});
    add(results, "QPId", uuidOf("run " + part_.csv));
    add(results, "SerialNumber", part_.name);
    const Node trace = add(results, "InspectionTraceability");
    if (!part_.operated_by.empty()) add(trace, "OperatorName", part_.operated_by);
    addIds(trace, "MeasurementDeviceIds", {w_.ids.of(Thing::Machine, 0)});
    writeFeatures(add(results, "MeasuredFeatures"));
    writeCharacteristics(add(results, "MeasuredCharacteristics"));
    add(add(results, "InspectionStatus"), "InspectionStatusEnum", statusOf(part_.evaluations));
  }

 private:
  // Lines above the points, but for the values: they stand with their characteristics.
  Json ownRun() const {
    Json head = Json::array();
    for (std::size_t at = 0; at < part_.csv.size() && part_.csv[at] == '#';) {
      const auto end = std::min(part_.csv.find('\n', at), part_.csv.size());
      const std::string line = part_.csv.substr(at, end - at);
      if (!statedLine(line)) head.push_back(line);
      at = end + 1;
    }
    return {{"head", head}, {"columns", table_.header}};
  }

  std::optional<Actual> actualFeature(const NominalFeature& f) const {
    if (!f.from) {
      const auto found = measured_.find(f.id);
      if (found == measured_.end()) return {};
      auto actual = actualOf(f, found->second);
      return actual ? std::optional(std::move(*actual)) : std::nullopt;
    }
    // A constructed one is worked out for the requirements that are about it.
    for (const Requirement& r : w_.plan.spec.requirements) {
      const auto needed = neededBy(w_.plan.spec, r);
      if (std::find(needed.begin(), needed.end(), f.id) == needed.end()) continue;
      const auto with = conditioned(w_.plan, r, measured_);
      if (!with) continue;
      const auto found = with->measured.find(f.id);
      if (found == with->measured.end()) continue;
      auto actual = actualOf(f, found->second);
      if (actual) return std::move(*actual);
    }
    return {};
  }

  void writeFeatures(Node list) {
    const int feature = table_.column("feature");
    std::map<FeatureId, std::vector<std::size_t>> rows;
    for (std::size_t i = 0; feature >= 0 && i < table_.rows.size(); ++i)
      if (const auto id = featureNamed(w_.plan, table_.rows[i][static_cast<std::size_t>(feature)]))
        rows[*id].push_back(i);
    for (const NominalFeature& f : w_.plan.spec.features) {
      const auto actual = actualFeature(f);
      const auto points = rows.find(f.id);
      if (!actual && points == rows.end()) continue;
      Node node =
          add(list, (std::string(stemOf(featureKindOf(f.ideal))) + "FeatureMeasurement").c_str());
      const int id = w_.ids.fresh();
      measured_ids_[f.id] = id;
      node.append_attribute("id").set_value(id);
      if (points != rows.end()) addOwn(node, {{kOwnRun, ownColumns(points->second)}});
      add(node, "FeatureItemId", std::to_string(w_.ids.of(Thing::FeatureItem, f.id)));
      if (actual) writeActual(node, f, *actual);
      if (points != rows.end()) writePoints(node, points->second);
    }
    setCount(list);
  }

  void writeActual(Node node, const NominalFeature& f, const Actual& a) const {
    Ideal i = f.ideal;
    i.point = a.derived.point, i.direction = a.derived.direction;
    if (i.direction.dot(f.ideal.direction) < 0) i.direction = -i.direction;
    if (a.derived.kind == Derived::Kind::Point) i.direction = f.ideal.direction;
    writeGeometry(node, i);
    if (a.size && *a.size > 0)
      add(node, f.ideal.type == SurfaceType::Slot ? "Width" : "Diameter", *a.size);
    if (a.half_angle) add(node, "HalfAngle", shownDegrees(*a.half_angle));
    add(node, "Form", a.form);
  }

  Json ownColumns(const std::vector<std::size_t>& rows) const {
    Json own = Json::object();
    for (const char* name : kOwnColumns) {
      const int column = table_.column(name);
      if (column < 0) continue;
      std::string cells;
      for (const std::size_t i : rows)
        cells += (cells.empty() ? "" : " ") + table_.rows[i][static_cast<std::size_t>(column)];
      own[name] = cells;
    }
    return own;
  }

  void writePoints(Node node, const std::vector<std::size_t>& rows) const {
    const Node points = add(node, "MeasuredPoints");
    const int touch = table_.column("touch");
    for (const std::size_t i : rows) {
      const auto& row = table_.rows[i];
      Node point = add(points, "MeasuredPoint");
      if (touch >= 0)
        point.append_attribute("number").set_value(row[static_cast<std::size_t>(touch)].c_str());
      for (const Column& c : kColumns) {
        std::array<int, 3> at{};
        for (std::size_t k = 0; k < 3; ++k)
          at[k] = c.names[k] ? table_.column(c.names[k]) : 0;
        if (at[0] < 0 || at[1] < 0 || at[2] < 0) continue;
        add(point, c.element,
            c.names[1] ? vectorAt(row, at) : row[static_cast<std::size_t>(at[0])]);
      }
    }
    setCount(points);
  }

  void writeCharacteristics(Node list) {
    std::map<RequirementId, StatedLine> stated;
    for (StatedLine& s : statedIn(part_.csv))
      stated.insert_or_assign(s.requirement, std::move(s));
    for (const Evaluation& e : part_.evaluations) {
      const Requirement& r = w_.plan.spec.requirement(e.requirement);
      Node node = add(
          list, (std::string(stemOf(w_.plan.spec, r).name) + "CharacteristicMeasurement").c_str());
      node.append_attribute("id").set_value(w_.ids.fresh());
      Json own = Json::object();
      if (const auto value = stated.find(r.id); value != stated.end())
        own = {{"file", value->second.file},
               {"name", value->second.name},
               {"line", value->second.line}};
      addOwn(node, {{kOwnValue, own}});
      add(add(node, "Status"), "CharacteristicStatusEnum", statusOf(e.verdict));
      add(node, "CharacteristicItemId", std::to_string(w_.ids.of(Thing::CharacteristicItem, r.id)));
      std::vector<int> features;
      for (const FeatureId f : r.features)
        if (const auto found = measured_ids_.find(f); found != measured_ids_.end())
          features.push_back(found->second);
      addIds(node, "FeatureMeasurementIds", features);
      if (e.actual) add(node, "Value", shownFigure(r, *e.actual));
      if (!e.how.empty()) add(node, "Notes", e.how);
    }
    setCount(list);
  }

  Writing& w_;
  const WrittenPart& part_;
  const Measurements& measured_;
  const CsvTable& table_;
  std::map<FeatureId, int> measured_ids_;
};

} // namespace

void writeResults(Writing& w, Node root, const std::vector<WrittenPart>& parts) {
  if (parts.empty()) return;
  const Node set = add(add(root, "MeasurementsResults"), "MeasurementResultsSet");
  for (const WrittenPart& part : parts) {
    const auto measured = measurementsIn(part.csv, part.name, w.plan);
    const auto table = readCsv(part.csv, part.name);
    if (!measured || !table) {
      w.told.push_back((measured ? table.error() : measured.error()).message);
      continue;
    }
    Node results = add(set, "MeasurementResults");
    results.append_attribute("id").set_value(w.ids.fresh());
    PartResults(w, part, *measured, *table).write(results);
  }
  setCount(set);
}

} // namespace alder::qif
