// Results as DMIS writes them (ISO 22093 clause 6, output): F(x) nominal and FA(x) actual features,
// T(x) nominal and TA(x) actual tolerances, and what identifies the part.
#include "exchange/dmis/dmis_statement.h"
#include "exchange/results/result_file.h"

#include "base/units.h"
#include <algorithm>
#include <map>

namespace alder {
namespace {

using dmis::Statement;

// Words of tolerances and what they are.
const char* toleranceWord(const std::string& word) {
  static const std::map<std::string, const char*> kWords{{"DIAM", "diameter"},
                                                         {"RAD", "radius"},
                                                         {"WIDTH", "width"},
                                                         {"POS", "position"},
                                                         {"FLAT", "flatness"},
                                                         {"CIRLTY", "circularity"},
                                                         {"CYLCTY", "cylindricity"},
                                                         {"STRGHT", "straightness"},
                                                         {"PARLEL", "parallelism"},
                                                         {"PERP", "perpendicularity"},
                                                         {"ANGLR", "angularity"},
                                                         {"ANGL", "angle"},
                                                         {"ANGLB", "angle"},
                                                         {"CONCEN", "concentricity"},
                                                         {"CRNOUT", "circular runout"},
                                                         {"TRNOUT", "total runout"},
                                                         {"PROFS", "profile of a surface"},
                                                         {"PROFL", "profile of a line"},
                                                         {"PROFP", "profile"},
                                                         {"SYM", "symmetry"},
                                                         {"DISTB", "distance"},
                                                         {"DISTWRT", "distance"},
                                                         {"CORTOL", "coordinate"}};
  const auto found = kWords.find(word);
  return found == kWords.end() ? nullptr : found->second;
}

struct StatedTolerance {
  std::string word, axis;
  std::optional<double> nominal, below, above, zone;
};

class DmisOutput {
 public:
  explicit DmisOutput(const ResultText& text)
      : text_(text) {}

  ResultsRead read() {
    std::string program;
    for (const std::string& l : text_.lines)
      program += l + "\n";
    read_.lines.resize(text_.lines.size());
    read_.parts.emplace_back();
    for (const Statement& s : dmis::statementsOf(program))
      take(s);
    std::erase_if(read_.parts, [](const ResultsOfPart& p) { return p.values.empty(); });
    return std::move(read_);
  }

 private:
  ReadLine& lineOf(const Statement& s) {
    const auto at = static_cast<std::size_t>(std::max(s.line, 1)) - 1;
    return read_.lines[std::min(at, read_.lines.size() - 1)];
  }

  void take(const Statement& s) {
    if (read_.lines.empty()) return;
    ReadLine& told = lineOf(s);
    if (s.word == "UNITS") {
      inch_ = std::any_of(s.arguments.begin(), s.arguments.end(),
                          [](const std::string& a) { return a == "INCH"; });
      radians_ = std::any_of(s.arguments.begin(), s.arguments.end(),
                             [](const std::string& a) { return a == "ANGRAD"; });
    } else if (s.kind == "T" && s.word == "TOL") {
      nominal_[s.label] = toleranceOf(s);
    } else if (s.kind == "F" && s.word == "FEAT" && !s.arguments.empty()) {
      size_[s.label] = sizeIn(s);
    } else if (s.kind == "FA" && s.word == "FEAT") {
      feature_ = s.label;
      actual_size_ = sizeIn(s);
    } else if (s.kind == "TA" && s.word == "TOL") {
      value(s, told);
    } else if (s.word == "PARTSN" || s.word == "PARTID" || s.word == "OPERID") {
      identify(s);
      told.use = LineUse::Part;
    } else if (s.word == "DATE" && !s.arguments.empty()) {
      read_.parts.back().date = s.arguments[0];
      told.use = LineUse::Part;
    }
  }

  void identify(const Statement& s) {
    if (s.arguments.empty()) return;
    const std::string text = dmis::unquoted(s.arguments[0]).value_or(s.arguments[0]);
    ResultsOfPart& part = read_.parts.back();
    if (s.word == "OPERID") part.operated_by = text;
    if (s.word != "PARTSN") return;
    if (!part.values.empty() && part.serial != text) {
      ResultsOfPart next;
      next.operated_by = part.operated_by, next.date = part.date;
      read_.parts.push_back(std::move(next));
    }
    read_.parts.back().serial = text;
  }

  double length(double v) const { return inch_ ? v * kMmPerInch : v; }
  double angle(double v) const { return radians_ ? degrees(v) : v; }

  // The diameter of a circle, cylinder or sphere is the last of its figures.
  std::optional<double> sizeIn(const Statement& s) const {
    static const std::vector<std::string> kRound{"CIRCLE", "CYLNDR", "SPHERE"};
    if (s.arguments.empty() ||
        std::find(kRound.begin(), kRound.end(), s.arguments[0]) == kRound.end())
      return {};
    const std::size_t at = s.arguments[0] == "SPHERE" ? 6 : 9;
    if (const auto v = s.number(at)) return length(*v);
    return {};
  }

  StatedTolerance toleranceOf(const Statement& s) const {
    StatedTolerance t;
    if (s.arguments.empty()) return t;
    t.word = s.arguments[0];
    std::vector<double> figures;
    for (std::size_t i = 1; i < s.arguments.size(); ++i) {
      if (const auto v = s.number(i)) figures.push_back(*v);
      if (s.arguments[i].size() > 4 && s.arguments[i].ends_with("AXIS")) t.axis = s.arguments[i][0];
    }
    const bool of_angle = t.word == "ANGL" || t.word == "ANGLB";
    const auto scaled = [&](double v) { return of_angle ? angle(v) : length(v); };
    const bool sized = t.word == "DIAM" || t.word == "RAD" || t.word == "WIDTH" ||
                       t.word == "ANGL" || t.word == "CORTOL";
    if (sized && figures.size() >= 2)
      t.below = scaled(figures[0]), t.above = scaled(figures[1]);
    else if ((t.word == "ANGLB" || t.word.starts_with("DIST")) && figures.size() >= 3)
      t.nominal = scaled(figures[0]), t.below = scaled(figures[1]), t.above = scaled(figures[2]);
    else if (!figures.empty())
      t.zone = length(figures[0]);
    return t;
  }

  void value(const Statement& s, ReadLine& told) {
    const auto nominal = nominal_.find(s.label);
    std::optional<double> figure;
    for (std::size_t i = 1; i < s.arguments.size() && !figure; ++i)
      figure = s.number(i);
    const char* word = s.arguments.empty() ? nullptr : toleranceWord(s.arguments[0]);
    if (!figure || !word) {
      told.not_read = figure.has_value();
      return;
    }
    const StatedTolerance t = nominal == nominal_.end() ? StatedTolerance{} : nominal->second;
    StatedResult r;
    r.line = s.line, r.name = s.label, r.feature = feature_;
    r.axis = t.axis.empty() ? word : t.axis;
    r.degrees = std::string_view(word) == "angle";
    for (const std::string& a : s.arguments)
      if (a == "INTOL" || a == "OUTOL") r.status = a == "INTOL" ? "in" : "out";
    r.nominal = t.nominal;
    const bool size = s.arguments[0] == "DIAM" || s.arguments[0] == "RAD";
    if (const auto own = size_.find(feature_); size && own != size_.end() && own->second)
      r.nominal = s.arguments[0] == "RAD" ? *own->second / 2 : *own->second;
    const double v = r.degrees ? angle(*figure) : length(*figure);
    const bool deviates = t.below || t.above;
    if (deviates && r.nominal) {
      r.deviation = v, r.actual = *r.nominal + v, r.from_deviation = true;
      if (t.above) r.upper = *r.nominal + *t.above;
      if (t.below) r.lower = *r.nominal + *t.below;
    } else {
      r.actual = v;
      if (t.zone) r.upper = *t.zone;
    }
    // The figures of the measured feature say more than its deviation.
    if (size && actual_size_ && s.arguments[0] == "DIAM") {
      r.actual = *actual_size_, r.from_deviation = false;
      if (r.nominal && std::abs(*actual_size_ - *r.nominal - v) > 2e-3)
        read_.remarks.push_back(
            fmt::format("Line {}: {} is said to be {:.6g} off, its feature {:.6g}.", s.line,
                        s.label, v, *actual_size_ - *r.nominal));
    }
    r.last_digit = inch_ && !r.degrees ? 1e-4 * kMmPerInch : 1e-4;
    told.use = LineUse::Record;
    read_.parts.back().values.push_back(std::move(r));
  }

  const ResultText& text_;
  ResultsRead read_;
  bool inch_ = false, radians_ = false;
  std::map<std::string, StatedTolerance> nominal_;
  std::map<std::string, std::optional<double>> size_;
  std::string feature_;
  std::optional<double> actual_size_;
};

} // namespace

bool isDmisOutput(const ResultText& text) {
  for (const std::string& l : text.lines)
    if (l.starts_with("TA(") && l.find(")=TOL/") != std::string::npos) return true;
  return false;
}

ResultsRead readDmisOutput(const ResultText& text) {
  return DmisOutput(text).read();
}

} // namespace alder
