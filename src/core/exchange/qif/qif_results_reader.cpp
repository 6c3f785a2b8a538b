// Results of others in QIF: values of characteristics, and the points of their features.
#include "base/units.h"
#include "exchange/qif/qif_reading.h"
#include "exchange/qif/qif_words.h"
#include "exchange/results/result_file.h"
#include <algorithm>
#include <array>

namespace alder {
namespace qif {
namespace {

// What a characteristic is called in files of results.
std::string wordFor(const Stem& stem) {
  switch (stem.kind) {
  case Characteristic::SurfaceProfile:
    return "profile of a surface";
  case Characteristic::LineProfile:
    return "profile of a line";
  case Characteristic::CircularRunout:
    return "circular runout";
  case Characteristic::TotalRunout:
    return "total runout";
  case Characteristic::Roundness:
    return "circularity";
  case Characteristic::Size:
    return stem.radius ? "radius" : stem.zone == Zone::Planar ? "width" : "diameter";
  case Characteristic::Value:
    return {};
  default:
    return std::string(name(stem.kind));
  }
}

// Half of the last digit that a value shows decides whether two are the same.
double lastDigit(const std::string& text, double scale) {
  const auto dot = text.find('.');
  const bool plain = text.find_first_of("eE") == std::string::npos;
  const double decimals = dot == std::string::npos ? 0 : static_cast<double>(text.size() - dot - 1);
  constexpr double kFinest = 1e-6;
  return plain ? std::max(std::pow(10, -decimals) * scale, kFinest) : kFinest;
}

struct PointColumn {
  const char* element;
  const char* titles;
};
constexpr std::array<PointColumn, 5> kPointColumns{{{"Point", "x,y,z"},
                                                    {"NominalPoint", "nx,ny,nz"},
                                                    {"NominalNormal", "i,j,k"},
                                                    {"BallCenter", "ball_x,ball_y,ball_z"},
                                                    {"BallDiameter", "ball_diameter"}}};

class ResultsReader {
 public:
  explicit ResultsReader(const Source& source, std::size_t lines)
      : source_(source)
      , units_(source) {
    read_.lines.resize(lines);
  }

  ResultsRead read() {
    const Node root = source_.root();
    for (const Node results : setIn(root).children())
      if (nameOf(results) == "MeasurementResults") part(results);
    for (const auto& [what, count] : not_read_)
      read_.remarks.push_back(fmt::format("{}: {} of them are not read.", what, count));
    return std::move(read_);
  }

 private:
  static Node setIn(Node root) {
    const Node results = root.child("MeasurementsResults") ? root.child("MeasurementsResults")
                                                           : root.child("Results");
    const Node set = results.child("MeasurementResultsSet");
    return set ? set : results;
  }

  void mark(Node node, LineUse use, ResultRole role) {
    const auto line = static_cast<std::size_t>(std::max(source_.lineOf(node), 1)) - 1;
    if (line >= read_.lines.size()) return;
    read_.lines[line].use = use;
    const auto at =
        static_cast<std::size_t>(std::max<std::ptrdiff_t>(node.first_child().offset_debug(), 0));
    const std::size_t start = source_.line_starts[line], size = wordsIn(node).size();
    if (size > 0 && at >= start)
      read_.lines[line].spans.push_back({at - start, at - start + size, role});
  }

  void part(Node results) {
    ResultsOfPart part;
    const Node whole = source_.root().child("PreInspectionTraceability");
    const auto either = [&](const char* name, ResultRole role) {
      Node node = below(results, name);
      if (!node) node = below(whole, name);
      if (node) mark(node, LineUse::Part, role);
      return wordsIn(node);
    };
    part.serial = either("SerialNumber", ResultRole::Serial);
    part.operated_by = either("OperatorName", ResultRole::Operator);
    if (part.operated_by.empty())
      part.operated_by = wordsOf(below(results, "InspectionOperator"), "Name");
    part.machine = wordsOf(whole, "MachineName");
    for (const char* name : {"InspectionDate", "InspectionStart"})
      if (part.date.empty()) part.date = wordsIn(below(results, name));
    if (const Json own = ownIn(results, kOwnRun); own.is_object() && own.contains("head"))
      for (const Json& line : own["head"])
        if (line.is_string() && line.get<std::string>().starts_with("#") &&
            line.get<std::string>().find('\n') == std::string::npos)
          part.head.push_back(line.get<std::string>());
    points(results.child("MeasuredFeatures"), part);
    for (const Node measured : results.child("MeasuredCharacteristics").children())
      value(measured, part);
    read_.parts.push_back(std::move(part));
  }

  void value(Node measured, ResultsOfPart& part) {
    const auto stem_name = stemIn(measured.name(), "CharacteristicMeasurement");
    const Stem* stem = stem_name ? characteristicStem(*stem_name) : nullptr;
    const Node at = measured.child("Value");
    const auto number = numberIn(at);
    if (!stem) {
      if (measured.type() == pugi::node_element) ++not_read_[measured.name()];
      return;
    }
    const Node item = itemOf(measured, "CharacteristicItemId"),
               nominal = itemOf(item, "CharacteristicNominalId"),
               definition = itemOf(nominal, "CharacteristicDefinitionId");
    if (!number) return; // not measured
    StatedResult v;
    v.line = source_.lineOf(at);
    v.name = wordsOf(item, item.child("Description") ? "Description" : "Name");
    if (v.name.empty()) v.name = "characteristic " + wordsOf(measured, "CharacteristicItemId");
    v.id = wordsIn(below(item, "Designator"));
    v.uuid = wordsOf(item, "QPId");
    v.axis = wordFor(*stem);
    for (const int id : idsIn(item.child("FeatureItemIds")))
      if (const std::string name = wordsOf(source_.find(id), "FeatureName"); !name.empty())
        v.feature += (v.feature.empty() ? "" : ", ") + name;
    const Json own = ownIn(definition, kOwnJudging);
    const bool angle = stem->kind == Characteristic::Angle || stem->unit == "deg";
    const bool plain = stem->kind == Characteristic::Value && stem->unit.empty();
    v.degrees = angle;
    const auto scaled = [&](Node node) -> std::optional<double> {
      const auto n = numberIn(node);
      if (!n) return {};
      return plain ? *n : angle ? degrees(*n * units_.angle(node)) : *n * units_.length(node);
    };
    v.actual = scaled(at);
    v.last_digit = lastDigit(wordsIn(at), *number != 0 ? *v.actual / *number : 1);
    limits(definition, nominal, scaled, v);
    const std::string status = wordsIn(below(measured, "CharacteristicStatusEnum"));
    if (status == "PASS" || status == "FAIL") v.status = status == "PASS" ? "ok" : "nok";
    if (const Json source = ownIn(measured, kOwnValue);
        source.is_object() && source.contains("file"))
      v.name +=
          fmt::format(" (from {})", source["file"].is_string() ? source["file"].get<std::string>()
                                                               : "another file");
    mark(at, LineUse::Record, ResultRole::Actual);
    part.values.push_back(std::move(v));
  }

  template <class Scaled>
  void limits(Node definition, Node nominal, const Scaled& scaled, StatedResult& v) const {
    if (const auto zone = scaled(definition.child("ToleranceValue"))) {
      v.upper = zone;
      return;
    }
    const Node tolerance = definition.child("Tolerance");
    v.nominal = scaled(nominal.child("TargetValue"));
    const auto [lower, upper] = limitsIn(tolerance, v.nominal, scaled);
    v.lower = lower, v.upper = upper;
    if (v.nominal && v.actual) v.deviation = *v.actual - *v.nominal;
  }

  Node itemOf(Node node, const char* child) const {
    const auto id = idIn(node.child(child));
    return id ? source_.find(*id) : Node();
  }

  // Three figures or one in mm; as they stand where the file counts so.
  std::string cells(Node node) const {
    const bool vector = std::string_view(node.name()) != "BallDiameter";
    const auto point = vector ? vectorIn(node) : std::nullopt;
    const auto figure_of = vector ? std::nullopt : numberIn(node);
    if (!point && !figure_of) return {};
    const bool direction = std::string_view(node.name()) == "NominalNormal";
    const double scale = direction ? 1 : units_.length(node);
    if (scale == 1) {
      std::string text;
      for (const char c : wordsIn(node))
        if (!std::isspace(static_cast<unsigned char>(c)))
          text += c;
        else if (!text.empty() && text.back() != ',')
          text += ',';
      return text;
    }
    return point ? fmt::format("{:.7f},{:.7f},{:.7f}", scale * point->x(), scale * point->y(),
                               scale * point->z())
                 : fmt::format("{:.7f}", scale * *figure_of);
  }

  void points(Node features, ResultsOfPart& part) {
    // Columns that all points have.
    std::vector<const PointColumn*> columns;
    std::vector<Node> with_points;
    std::vector<std::string> own_columns{"row", "face", "noise"};
    for (const Node f : features.children())
      if (f.child("MeasuredPoints").child("MeasuredPoint")) with_points.push_back(f);
    if (with_points.empty()) return;
    for (const PointColumn& c : kPointColumns) {
      bool all = true;
      for (const Node f : with_points)
        for (const Node p : f.child("MeasuredPoints").children("MeasuredPoint"))
          all = all && p.child(c.element);
      if (all) columns.push_back(&c);
    }
    if (columns.empty() || columns.front() != &kPointColumns.front()) {
      read_.remarks.push_back("Measured points without a place are not read.");
      return;
    }
    const bool own = std::all_of(with_points.begin(), with_points.end(), [&](Node f) {
      const Json said = ownIn(f, kOwnRun);
      return std::all_of(own_columns.begin(), own_columns.end(), [&](const std::string& c) {
        return said.is_object() && said.contains(c) && said[c].is_string();
      });
    });
    part.columns = "touch";
    for (const PointColumn* c : columns)
      part.columns += std::string(",") + c->titles;
    if (own) part.columns += ",row,face,noise";
    for (const Node f : with_points)
      featurePoints(f, columns, own, part);
  }

  static bool columnsHold(const std::vector<const PointColumn*>& columns, std::string_view name) {
    return std::any_of(columns.begin(), columns.end(),
                       [&](const PointColumn* c) { return c->element == name; });
  }
  static void addPlace(Node node, double scale, Points& to) {
    to.push_back(scale * vectorIn(node).value_or(Vec3::Zero()));
  }

  void featurePoints(Node f, const std::vector<const PointColumn*>& columns, bool own,
                     ResultsOfPart& part) {
    StatedPoints points;
    points.line = source_.lineOf(f);
    const Node item = itemOf(f, "FeatureItemId"), nominal = itemOf(item, "FeatureNominalId"),
               definition = itemOf(nominal, "FeatureDefinitionId");
    points.uuid = wordsOf(item, "QPId");
    points.name = wordsOf(item, "FeatureName");
    if (const auto stem = stemIn(nominal.name(), "FeatureNominal"))
      if (const auto kind = featureKindOf(*stem))
        points.sought = soughtFeature(units_, *kind, definition, nominal);
    const Json said = ownIn(f, kOwnRun);
    std::vector<std::vector<std::string>> more;
    if (own)
      for (const char* c : {"row", "face", "noise"}) {
        more.emplace_back();
        std::string word;
        for (const char ch : said[c].get<std::string>() + " ") {
          if (ch != ' ')
            word += ch;
          else if (!word.empty())
            more.back().push_back(std::exchange(word, {}));
        }
      }
    std::size_t at = 0;
    for (const Node p : f.child("MeasuredPoints").children("MeasuredPoint")) {
      const int number =
          wholeFrom(p.attribute("number").value()).value_or(static_cast<int>(at) + 1);
      std::string row = std::to_string(number);
      bool good = true;
      for (const PointColumn* c : columns) {
        const std::string text = cells(p.child(c->element));
        good &= !text.empty();
        row += "," + text;
      }
      for (const auto& column : more) {
        good &= at < column.size() && numberFrom(column[at]).has_value();
        if (good) row += "," + column[at];
      }
      ++at;
      if (!good) {
        ++not_read_["MeasuredPoint"];
        continue;
      }
      points.rows.push_back(std::move(row));
      points.numbers.push_back(number);
      addPlace(p.child("Point"), units_.length(p.child("Point")), points.places);
      if (!columnsHold(columns, "NominalPoint")) continue;
      addPlace(p.child("NominalPoint"), units_.length(p.child("NominalPoint")), points.nominals);
      if (columnsHold(columns, "NominalNormal"))
        addPlace(p.child("NominalNormal"), 1, points.normals);
    }
    part.points.push_back(std::move(points));
  }

  const Source& source_;
  Units units_;
  ResultsRead read_;
  std::map<std::string, int> not_read_; // measurements of kinds that are not known
};

} // namespace
} // namespace qif

Result<QifResults> readQifResults(const std::string& bytes, const std::string& label) {
  auto source = qif::readSource(bytes, label, true);
  if (!source) return pass(source.error());
  QifResults results;
  results.text.lines = linesOf((*source)->text);
  results.read = qif::ResultsReader(**source, results.text.lines.size()).read();
  // What is looked at line by line is cut where it is an attribute of many figures.
  constexpr std::size_t kLongest = 2000;
  for (std::size_t i = 0; i < results.text.lines.size(); ++i) {
    std::string& line = results.text.lines[i];
    if (line.size() <= kLongest) continue;
    line.resize(byteOf(line, columnOf(line, kLongest)));
    line += " …";
    std::erase_if(results.read.lines[i].spans,
                  [&](const ReadSpan& s) { return s.to > line.size(); });
  }
  return results;
}

} // namespace alder
