#include "exchange/results/result_matching.h"

#include "base/assignment.h"
#include "base/units.h"
#include "requirement/limits.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <set>

namespace alder {
namespace {

// A value is laid on no requirement below this.
constexpr double kLeastScore = 1.2;
constexpr double kNever = -1e6;

// Words and figures of a name; "ø32" and "32.0" are the figure 32.
std::vector<std::string> tokensOf(const std::string& text) {
  std::vector<std::string> tokens;
  std::string plain = plainWord(text), token;
  const auto take = [&] {
    if (token.empty()) return;
    if (const auto f = resultFigure(token, token.find(',') != std::string::npos ? ',' : '.'))
      token = fmt::format("{:g}", f->value);
    tokens.push_back(std::move(token));
    token.clear();
  };
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    const bool digit = std::isdigit(c);
    const bool in_figure = (c == '.' || c == ',') && !token.empty() &&
                           std::isdigit(static_cast<unsigned char>(token.back())) &&
                           i + 1 < text.size() &&
                           std::isdigit(static_cast<unsigned char>(text[i + 1]));
    if (digit || in_figure) {
      if (!token.empty() && !std::isdigit(static_cast<unsigned char>(token.back())) &&
          token.back() != '.' && token.back() != ',')
        take();
      token += text[i];
    } else if (std::isalpha(c) || (c >= 0x80 && c != 0xC2 && c != 0xB7)) {
      if (!token.empty() && std::isdigit(static_cast<unsigned char>(token.back()))) take();
      token += static_cast<char>(std::tolower(c));
    } else {
      take();
    }
  }
  take();
  std::erase_if(tokens, [](const std::string& t) { return t == "\u00f8" || t == "\u00d8"; });
  for (std::string& t : tokens)
    if (const std::string p = plainWord(t); !p.empty()) t = p;
  return tokens;
}

// So many values a requirement can have: one for each feature of a pattern.
std::size_t roomOf(const Requirement& r) {
  if (r.kind == Characteristic::Distance || r.kind == Characteristic::Angle) return 1;
  return std::max<std::size_t>(r.features.size(), 1);
}

struct ValueLook {
  std::vector<std::string> tokens;
  std::optional<CharacteristicWord> word; // what is measured
  std::optional<int> number;
};

std::optional<int> numberIn(const std::string& text) {
  const auto at = text.find_first_of("0123456789");
  if (at == std::string::npos || at > 2) return {};
  const auto end = std::min(text.find_first_not_of("0123456789", at), text.size());
  if (end - at > 6) return {};
  return std::stoi(text.substr(at, end - at));
}

ValueLook lookOf(const StatedResult& v) {
  ValueLook look;
  look.tokens = tokensOf(v.feature + " " + v.name);
  look.word = characteristicOfWord(v.axis);
  if (!v.id.empty()) look.number = numberIn(v.id);
  // A number before the name: "12. Bore", "DIM 12 …".
  if (!look.number && !v.name.empty() && std::isdigit(static_cast<unsigned char>(v.name[0])) &&
      v.name.find(". ") < 5)
    look.number = numberIn(v.name);
  if (look.word) return look;
  // The last words of the name, two of them before one.
  std::vector<std::string> words;
  std::string word;
  for (const char c : v.name + " ") {
    if (c != ' ' && c != ',' && c != ';' && c != '_')
      word += c;
    else if (!word.empty())
      words.push_back(std::move(word)), word.clear();
  }
  const auto said = [&](std::size_t first, std::size_t last) {
    std::string joined;
    for (std::size_t i = first; i <= last; ++i)
      joined += (i > first ? " " : "") + words[i];
    return characteristicOfWord(joined);
  };
  // "Flatness A" is a flatness: a letter is an abbreviation only where nothing longer says what it
  // is, and at the end.
  for (const std::size_t letters : {std::size_t{3}, std::size_t{1}})
    for (std::size_t i = words.size(); i-- > 0 && !look.word;) {
      if (i >= 3) look.word = said(i - 3, i); // "profile of a surface"
      if (!look.word && i > 0) look.word = said(i - 1, i);
      const bool last = i + 1 == words.size();
      if (!look.word && words[i].size() >= letters && (last || words[i].size() > 1))
        look.word = said(i, i);
    }
  return look;
}

bool isCoordinate(const ValueLook& look) {
  return look.word && look.word->component != Component::Requirement &&
         look.word->component != Component::None;
}

class Matching {
 public:
  Matching(const Specification& spec, const ResultsOfPart& part)
      : spec_(spec)
      , part_(part) {
    for (const StatedResult& v : part.values)
      looks_.push_back(lookOf(v));
    for (const Requirement& r : spec.requirements) {
      std::string text = describe(spec, r);
      for (const FeatureId f : r.features)
        text += " " + spec.feature(f).name;
      const auto tokens = tokensOf(text);
      own_.emplace_back(tokens.begin(), tokens.end());
      for (const std::string& t : own_.back())
        ++in_[t];
    }
    numbersTrusted();
    for (std::size_t v = 0; v < part.values.size(); ++v) {
      scores_.emplace_back();
      for (std::size_t r = 0; r < spec.requirements.size(); ++r)
        scores_.back().push_back(score(v, r));
    }
  }

  // Of values that are not decided yet; `used` tells how many a requirement has.
  void assign(PartMatches& matches, std::map<RequirementId, std::size_t> used) const {
    std::vector<std::size_t> values;
    for (const ResultMatch& m : matches.matches)
      if (!m.decided && !m.identified && !m.coordinate_of.valid()) values.push_back(m.value);
    std::vector<std::pair<std::size_t, std::size_t>> places; // requirement, which of its features
    for (std::size_t r = 0; r < spec_.requirements.size(); ++r)
      for (std::size_t k = used[spec_.requirements[r].id]; k < roomOf(spec_.requirements[r]); ++k)
        places.emplace_back(r, k);
    // A place gets a value or none; there are fewer places than values more often than not.
    std::vector<std::vector<double>> gain;
    for (const auto& [r, k] : places) {
      std::vector<double> row;
      for (const std::size_t v : values)
        row.push_back(scores_[v][r] > kLeastScore ? scores_[v][r] + inOrder(v, r, k) : kNever);
      row.resize(values.size() + places.size(), 0.0);
      gain.push_back(std::move(row));
    }
    const auto columns = bestAssignment(gain);
    for (std::size_t i = 0; i < places.size(); ++i)
      if (columns[i] < values.size() && gain[i][columns[i]] > 0)
        settle(matches.matches[values[columns[i]]], places[i].first, gain[i][columns[i]]);
  }

  // Coordinates of a place whose position is matched right by it.
  void coordinates(PartMatches& matches) const {
    for (ResultMatch& m : matches.matches) {
      if (m.requirement.valid() || m.decided || !isCoordinate(looks_[m.value])) continue;
      for (std::size_t step = 1; step <= 4 && !m.coordinate_of.valid(); ++step)
        for (const long at : {static_cast<long>(m.value + step),
                              static_cast<long>(m.value) - static_cast<long>(step)}) {
          if (at < 0 || at >= static_cast<long>(matches.matches.size())) continue;
          const ResultMatch& other = matches.matches[static_cast<std::size_t>(at)];
          if (!other.requirement.valid() || !belongTogether(m.value, other.value)) continue;
          const Requirement& r = spec_.requirement(other.requirement);
          if (r.kind != Characteristic::Position && r.kind != Characteristic::Coaxiality) continue;
          m.coordinate_of = r.id;
          m.sure = 0.9;
          m.why = fmt::format("A coordinate of the place that requirement {} is about; it is not "
                              "judged by itself.",
                              r.balloon);
          break;
        }
    }
  }

  std::string againstIt(std::size_t v, std::size_t r) const {
    double best = -1e9;
    std::size_t other = r;
    for (std::size_t k = 0; k < spec_.requirements.size(); ++k)
      if (k != r && scores_[v][k] > best) best = scores_[v][k], other = k;
    if (other == r) return {};
    return fmt::format(" It may be requirement {} as well.", spec_.requirements[other].balloon);
  }

 private:
  bool belongTogether(std::size_t a, std::size_t b) const {
    const StatedResult &x = part_.values[a], &y = part_.values[b];
    if (!x.id.empty() && x.id == y.id) return true;
    if (!x.feature.empty() && x.feature == y.feature) return true;
    return looks_[a].tokens == looks_[b].tokens || sharedName(a, b) > 0.6;
  }
  double sharedName(std::size_t a, std::size_t b) const {
    const std::set<std::string> x(looks_[a].tokens.begin(), looks_[a].tokens.end()),
        y(looks_[b].tokens.begin(), looks_[b].tokens.end());
    std::vector<std::string> both;
    std::set_intersection(x.begin(), x.end(), y.begin(), y.end(), std::back_inserter(both));
    const auto all = std::max(x.size(), y.size());
    return all > 0 ? static_cast<double>(both.size()) / static_cast<double>(all) : 0;
  }

  // Numbers of a file are balloons where most of the requirements with those fit the values.
  void numbersTrusted() {
    int agree = 0, all = 0;
    for (std::size_t v = 0; v < looks_.size(); ++v) {
      if (!looks_[v].number || isCoordinate(looks_[v])) continue;
      for (std::size_t r = 0; r < spec_.requirements.size(); ++r)
        if (spec_.requirements[r].balloon == *looks_[v].number)
          ++all, agree += kindScore(v, r) > -1 && figuresScore(v, r) > 0;
    }
    numbers_ = all > 0 && agree * 2 >= all;
  }

  double kindScore(std::size_t v, std::size_t at) const {
    const Requirement& r = spec_.requirements[at];
    const ValueLook& look = looks_[v];
    if (!look.word) return 0;
    if (isCoordinate(look)) {
      const Along along = look.word->component == Component::X   ? Along::X
                          : look.word->component == Component::Y ? Along::Y
                          : look.word->component == Component::Z ? Along::Z
                                                                 : Along::Radial;
      return r.kind == Characteristic::Distance && r.along == along ? 1.5 : kNever;
    }
    const Characteristic kind = *look.word->kind;
    if (kind == r.kind) return 2;
    if (r.kind == Characteristic::Value) return 0;
    return standFor(kind, r.kind) ? 0.6 : -4;
  }

  double figuresScore(std::size_t at_value, std::size_t at) const {
    const StatedResult& v = part_.values[at_value];
    const Requirement& r = spec_.requirements[at];
    const double scale = r.kind == Characteristic::Angle ? degrees(1) : 1;
    const double digit = 0.51 * std::max(v.last_digit, 1e-6) + 1e-9;
    const auto same = [&](double a, double b) { return std::abs(a - b) <= digit; };
    const auto limit = [&](double a, double b) { return std::abs(a - b) <= 1.92 * digit; };
    double score = 0;
    if (isDimension(r.kind)) {
      if (v.nominal)
        score += same(*v.nominal, r.nominal * scale) ? (v.nominal == 0.0 ? 1 : 2.5) : -3;
      if (v.upper && v.lower)
        score += limit(*v.upper, r.upper * scale) && limit(*v.lower, r.lower * scale) ? 2 : -1;
      else if (hasSingleLimit(r) && (v.upper || v.lower))
        score += (v.upper && limit(*v.upper, r.upper * scale)) ||
                         (v.lower && limit(*v.lower, r.lower * scale))
                     ? 2
                     : -1;
      else if (v.tolerance)
        score += same(*v.tolerance, (r.upper - r.lower) * scale) ||
                         same(*v.tolerance, (r.upper - r.lower) * scale / 2)
                     ? 1.5
                     : -1;
      if (!v.nominal) {
        const double width = (r.upper - r.lower) * scale;
        score +=
            *v.actual <= r.upper * scale + 3 * width && *v.actual >= r.lower * scale - 3 * width
                ? 1
                : -3;
      }
    } else {
      if (v.nominal && !same(*v.nominal, 0)) score -= 3;
      const auto stated = v.upper ? v.upper : v.tolerance;
      if (stated)
        score += same(*stated, r.tolerance)                                              ? 2
                 : r.material != MaterialModifier::None && *stated > r.tolerance - digit ? 0.3
                                                                                         : -1.5;
      if (*v.actual < -digit) score -= 3;
      if (!stated) score += *v.actual <= 5 * r.tolerance ? 0.2 : -2;
      if (v.lower && !same(*v.lower, 0)) score -= 1;
    }
    return score;
  }

  double nameScore(std::size_t v, std::size_t r) const {
    double known = 0, all = 0;
    const double count = static_cast<double>(own_.size());
    for (const std::string& t : looks_[v].tokens) {
      const auto in = in_.find(t);
      // A figure alone may be any: "F_18" is not the sphere of 18 mm.
      const bool figure = std::isdigit(static_cast<unsigned char>(t[0]));
      const double weight = in == in_.end() ? 1
                            : figure        ? std::min(1.0, std::log(1 + count / in->second))
                                            : std::log(1 + count / in->second);
      all += weight;
      if (own_[r].contains(t)) known += weight;
    }
    return all > 0 ? 2.5 * known / all : 0;
  }

  double numberScore(std::size_t v, std::size_t r) const {
    if (!looks_[v].number) return 0;
    const bool equal = spec_.requirements[r].balloon == *looks_[v].number;
    if (numbers_) return equal ? 3 : -1.5;
    return equal ? 0.5 : 0;
  }

  double score(std::size_t v, std::size_t r) const {
    const double kind = kindScore(v, r);
    if (kind <= kNever) return kNever;
    return kind + figuresScore(v, r) + nameScore(v, r) + numberScore(v, r);
  }

  // Files follow the order of the drawing or of the routine more often than not.
  double inOrder(std::size_t v, std::size_t r, std::size_t k) const {
    const auto share = [](std::size_t i, std::size_t n) {
      return n > 1 ? static_cast<double>(i) / static_cast<double>(n - 1) : 0;
    };
    const double place =
        static_cast<double>(r) +
        static_cast<double>(k) / static_cast<double>(roomOf(spec_.requirements[r]));
    const double own = spec_.requirements.size() > 1
                           ? place / static_cast<double>(spec_.requirements.size() - 1)
                           : 0;
    return -0.4 * std::abs(share(v, part_.values.size()) - own);
  }

  std::string reasons(std::size_t v, std::size_t r) const {
    std::vector<std::string> out;
    if (numberScore(v, r) >= 0.5) out.push_back("its number");
    if (nameScore(v, r) > 0.8) out.push_back("its name");
    if (kindScore(v, r) >= 0.6) out.push_back("what is measured");
    const StatedResult& value = part_.values[v];
    if (figuresScore(v, r) >= 2)
      out.push_back(value.nominal && isDimension(spec_.requirements[r].kind) ? "nominal and limits"
                                                                             : "the tolerance");
    else if (figuresScore(v, r) > 0)
      out.push_back("the size of the figure");
    std::string text;
    for (std::size_t i = 0; i < out.size(); ++i)
      text += (i == 0 ? "" : i + 1 == out.size() ? " and " : ", ") + out[i];
    if (text.empty()) return "Nothing but its place in the order.";
    text[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(text[0])));
    return text + (out.size() == 1 && out[0] != "nominal and limits" ? " agrees." : " agree.");
  }

  void settle(ResultMatch& m, std::size_t r, double gain) const {
    const Requirement& requirement = spec_.requirements[r];
    m.requirement = requirement.id;
    m.sure = 1 / (1 + std::exp(-1.3 * (gain - 3.2)));
    m.why = reasons(m.value, r);
    double other = kLeastScore;
    for (std::size_t k = 0; k < scores_[m.value].size(); ++k)
      if (k != r) other = std::max(other, scores_[m.value][k]);
    const double margin = scores_[m.value][r] - other;
    constexpr double kClear = 1.3;
    if (margin < kClear) {
      m.sure = std::min(m.sure, 0.5 + 0.25 * std::max(margin, -1.0) / kClear);
      m.why += againstIt(m.value, r);
    }
    m.sure = std::clamp(m.sure, 0.05, 0.99);
  }

  const Specification& spec_;
  const ResultsOfPart& part_;
  std::vector<ValueLook> looks_;
  std::vector<std::set<std::string>> own_; // words of each requirement
  std::map<std::string, double> in_;       // in how many requirements a word is
  std::vector<std::vector<double>> scores_;
  bool numbers_ = false;
};

// The same figure again is no news.
void tellKnown(double own, const StatedResult& value, std::vector<std::string>& conflicts) {
  const double file = value.actual.value_or(own);
  if (std::abs(file - own) > std::max(value.last_digit, 1e-6))
    conflicts.push_back(
        fmt::format("The part has {:.6g} for it already; taken, {:.6g} counts.", own, file));
}

// How many values a requirement has is known when all have theirs. What a person let stand stands
// as long as it is the same.
void tellConflicts(const Specification& spec, const ResultsOfPart& part, PartMatches& matches) {
  std::map<RequirementId, std::size_t> have;
  for (const ResultMatch& m : matches.matches)
    if (m.requirement.valid()) ++have[m.requirement];
  for (ResultMatch& m : matches.matches) {
    if (!m.requirement.valid()) continue;
    const Requirement& r = spec.requirement(m.requirement);
    auto conflicts = conflictsOf(spec, part.values[m.value], r);
    const std::size_t values = have[r.id], room = roomOf(r);
    if (values > room)
      conflicts.push_back(
          room == 1 ? fmt::format("{} values are laid on it.", values)
                    : fmt::format("{} values are laid on it, it has {} features.", values, room));
    else if (values > 1 && values < room)
      conflicts.push_back(fmt::format("Only {} of its {} features have a value.", values, room));
    if (const auto own = matches.known.find(r.id); own != matches.known.end())
      tellKnown(own->second, part.values[m.value], conflicts);
    if (conflicts != m.conflicts) m.let_stand = false;
    m.conflicts = std::move(conflicts);
  }
  matches.missing.clear();
  for (const Requirement& r : spec.requirements)
    if (!have.contains(r.id)) matches.missing.push_back(r.id);
}

} // namespace

std::string_view name(MatchState state) {
  constexpr std::array<std::string_view, 4> kNames{"settled", "waits", "coordinate", "left"};
  return kNames[static_cast<std::size_t>(state)];
}

std::vector<ValueKey> keysOf(const ResultsOfPart& part) {
  std::map<std::string, std::size_t> again;
  std::vector<ValueKey> keys;
  for (const StatedResult& v : part.values) {
    std::string text = plainWord(v.id) + "|" + plainWord(v.feature) + "|" + plainWord(v.name) +
                       "|" + plainWord(v.axis);
    const std::size_t before = again[text]++;
    keys.push_back({std::move(text), before});
  }
  return keys;
}

PartMatches matchResults(const Specification& spec, const ResultsOfPart& part,
                         const std::string& kind, const std::vector<MatchDecision>& decisions,
                         std::map<RequirementId, double> known_figures) {
  PartMatches result;
  result.known = std::move(known_figures);
  const auto keys = keysOf(part);
  std::map<ValueKey, const MatchDecision*> known;
  for (const MatchDecision& d : decisions)
    if (d.kind == kind) known[d.key] = &d;
  const Matching matching(spec, part);
  std::map<RequirementId, std::size_t> used;
  for (std::size_t v = 0; v < part.values.size(); ++v) {
    ResultMatch m;
    m.value = v;
    const auto found = known.find(keys[v]);
    const bool gone = found != known.end() && found->second->requirement.valid() &&
                      !spec.requirements.holds(found->second->requirement);
    if (found != known.end() && !gone) {
      const MatchDecision& d = *found->second;
      m.decided = true, m.sure = 1, m.requirement = d.requirement;
      m.why = "As for a file of this kind before.";
      if (m.requirement.valid()) {
        m.conflicts = d.let_stand; // as they were seen
        m.let_stand = !m.conflicts.empty();
        ++used[m.requirement];
      }
    }
    if (const RequirementId own = part.values[v].requirement;
        !m.decided && spec.requirements.holds(own)) {
      m.identified = true, m.sure = 1, m.requirement = own;
      m.why = "The file names this very requirement.";
      ++used[own];
    }
    result.matches.push_back(std::move(m));
  }
  matching.assign(result, used);
  matching.coordinates(result);
  // What the points of the file itself give counts before what it states.
  for (const auto& [id, figure] : part.judged)
    result.known[id] = figure;
  tellConflicts(spec, part, result);
  return result;
}

void decide(const Specification& spec, const ResultsOfPart& part, PartMatches& matches,
            std::size_t value, RequirementId requirement) {
  ResultMatch& m = matches.matches[value];
  m.coordinate_of = {};
  m.requirement = requirement;
  m.identified = false;
  m.decided = true, m.sure = 1;
  m.why = requirement.valid() ? "Decided here." : "Decided here to prove nothing.";
  m.conflicts.clear();
  m.let_stand = false;
  tellConflicts(spec, part, matches);
}

void letStand(ResultMatch& match, bool stands) {
  if (!match.requirement.valid()) return;
  match.decided = stands;
  // Not enough to count by itself any more.
  match.sure = stands ? 1 : std::min(match.sure, 0.5);
  match.let_stand = stands && !match.conflicts.empty();
}

void decideAsBefore(const Specification& spec, const ResultsOfPart& part, const PartMatches& before,
                    PartMatches& now) {
  if (before.matches.size() != now.matches.size()) return;
  const auto known = [&](const ResultMatch& m) {
    return m.decided && (!m.requirement.valid() || spec.requirements.holds(m.requirement));
  };
  for (const ResultMatch& m : before.matches)
    if (known(m)) decide(spec, part, now, m.value, m.requirement);
  for (const ResultMatch& m : before.matches)
    if (ResultMatch& again = now.matches[m.value]; known(m))
      again.let_stand = m.let_stand && again.conflicts == m.conflicts;
}

MatchCounts countsOf(const PartMatches& matches) {
  MatchCounts counts;
  for (const ResultMatch& m : matches.matches) {
    counts.settled += m.state() == MatchState::Settled;
    counts.waiting += m.state() == MatchState::Waits;
    counts.coordinates += m.state() == MatchState::Coordinate;
    counts.left += m.state() == MatchState::Left;
  }
  return counts;
}

MatchCounts countsOf(const std::vector<PartMatches>& parts) {
  MatchCounts sum;
  for (const PartMatches& p : parts) {
    const MatchCounts one = countsOf(p);
    sum.settled += one.settled, sum.waiting += one.waiting;
    sum.coordinates += one.coordinates, sum.left += one.left;
  }
  return sum;
}

std::vector<MatchDecision> decisionsOf(const ResultsOfPart& part, const PartMatches& matches,
                                       const std::string& kind) {
  std::vector<MatchDecision> decisions;
  const auto keys = keysOf(part);
  for (const ResultMatch& m : matches.matches) {
    // What was not looked at by a person and is not settled is asked about again.
    if (!m.decided && (m.identified || (!m.settled() && !m.coordinate_of.valid()))) continue;
    decisions.push_back({kind, keys[m.value], m.requirement,
                         m.let_stand ? m.conflicts : std::vector<std::string>{}});
  }
  return decisions;
}

} // namespace alder
