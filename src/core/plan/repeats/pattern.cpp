#include "plan/repeats/pattern.h"

#include "base/units.h"
#include "geometry/place_text.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <sstream>

namespace alder {
namespace {

constexpr int kMostCopies = 1000;      // copies
constexpr double kSame = 0.01;   // mm, within which a place lies where a rule has it
constexpr double kEven = 0.0005; // rad

Motion turned(const Vec3& point, const Vec3& axis, double angle) {
  Motion m;
  m.linear = Eigen::AngleAxisd(angle, axis.normalized()).toRotationMatrix();
  m.shift = point - m.linear * point;
  return m;
}

Motion shifted(const Vec3& by) {
  Motion m;
  m.shift = by;
  return m;
}

Motion mirrored(const Vec3& point, const Vec3& normal) {
  const Vec3 n = normal.normalized();
  Motion m;
  m.linear = Mat3::Identity() - 2 * n * n.transpose();
  m.shift = 2 * n * n.dot(point);
  return m;
}

std::optional<Pattern> rotaryThrough(const Vec3& original, const Vec3& direction,
                                     const Points& others) {
  const auto count = others.size() + 1;
  if (count < 3) return {};
  Vec3 middle = original;
  for (const Vec3& p : others)
    middle += p;
  middle /= static_cast<double>(count);
  const Vec3 first = original - middle;
  if (first.norm() < kSame || std::abs(first.dot(direction)) > kSame) return {};
  const Vec3 x = first.normalized(), y = direction.normalized().cross(x);
  std::vector<bool> met(count, false);
  for (const Vec3& p : others) {
    const Vec3 d = p - middle;
    if (std::abs(d.norm() - first.norm()) > kSame || std::abs(d.dot(direction)) > kSame) return {};
    double angle = std::atan2(d.dot(y), d.dot(x));
    if (angle < 0) angle += 2 * kPi;
    const double place = angle * static_cast<double>(count) / (2 * kPi);
    const auto k = static_cast<std::size_t>(std::lround(place)) % count;
    if (std::abs(place - std::round(place)) * 2 * kPi / static_cast<double>(count) >
            kEven + kSame / first.norm() ||
        met[k])
      return {};
    met[k] = true;
  }
  Pattern pattern;
  pattern.kind = PatternKind::Rotary;
  pattern.count = static_cast<int>(count);
  pattern.point = middle;
  pattern.axis = direction.normalized();
  return pattern;
}

// Where each place is a whole number of steps from the original, all numbers once.
std::optional<Pattern> linearThrough(const Vec3& original, const Points& others) {
  const Vec3 step = *std::min_element(others.begin(), others.end(),
                                      [&](const Vec3& a, const Vec3& b) {
                                        return (a - original).norm() < (b - original).norm();
                                      }) -
                    original;
  std::vector<bool> met(others.size() + 1, false);
  for (const Vec3& p : others) {
    const double k = (p - original).dot(step) / step.squaredNorm();
    const auto place = static_cast<std::size_t>(std::max(0.0, std::round(k)));
    if (place < 1 || place >= met.size() || met[place] ||
        (original + std::round(k) * step - p).norm() > kSame)
      return {};
    met[place] = true;
  }
  Pattern pattern;
  pattern.count = static_cast<int>(others.size()) + 1;
  pattern.step = step;
  return pattern;
}

// From a corner, along two directions that stand on each other.
std::optional<Pattern> gridThrough(const Vec3& original, const Points& others) {
  Points sorted = others;
  std::sort(sorted.begin(), sorted.end(), [&](const Vec3& a, const Vec3& b) {
    return (a - original).norm() < (b - original).norm();
  });
  const Vec3 step = sorted.front() - original;
  const auto second = std::find_if(sorted.begin(), sorted.end(), [&](const Vec3& p) {
    return std::abs((p - original).normalized().dot(step.normalized())) < 1e-3;
  });
  if (second == sorted.end()) return {};
  const Vec3 to_row = *second - original;
  int most = 0, rows = 0;
  std::vector<std::pair<int, int>> met{{0, 0}};
  for (const Vec3& p : others) {
    const Vec3 d = p - original;
    const int i = static_cast<int>(std::lround(d.dot(step) / step.squaredNorm()));
    const int j = static_cast<int>(std::lround(d.dot(to_row) / to_row.squaredNorm()));
    if (i < 0 || j < 0 || (d - i * step - j * to_row).norm() > kSame) return {};
    met.emplace_back(i, j);
    most = std::max(most, i), rows = std::max(rows, j);
  }
  std::sort(met.begin(), met.end());
  if (std::adjacent_find(met.begin(), met.end()) != met.end() ||
      met.size() != static_cast<std::size_t>((most + 1) * (rows + 1)))
    return {};
  Pattern pattern;
  pattern.kind = PatternKind::Grid;
  pattern.count = most + 1;
  pattern.step = step;
  pattern.rows = rows + 1;
  pattern.to_row = to_row;
  return pattern;
}

// The numbers of a row; nothing where something in it is none. A comma between digits is taken for
// a decimal point where fields are parted by something else.
std::optional<std::vector<double>> numbersOf(std::string row) {
  const bool parted = row.find_first_of("\t;") != std::string::npos;
  for (char& c : row)
    if (c == '\t' || c == ';')
      c = ' ';
    else if (c == ',')
      c = parted ? '.' : ' ';
  std::vector<double> numbers;
  std::istringstream fields(row);
  for (std::string field; fields >> field;) {
    const auto number = numberFromText(field);
    if (!number) return {};
    numbers.push_back(*number);
  }
  return numbers;
}

} // namespace

std::string_view name(PatternKind kind) {
  static constexpr std::array<std::string_view, 5> kNames{"linear", "grid", "rotary", "mirrored",
                                                          "listed"};
  return kNames[static_cast<std::size_t>(kind)];
}

Done validate(const Pattern& p) {
  using enum PatternKind;
  if (!p.step.allFinite() || !p.to_row.allFinite() || !p.point.allFinite() || !p.axis.allFinite() ||
      !std::isfinite(p.angle))
    return fail("A pattern must be told in numbers.");
  if (p.count < 1 || p.rows < 1 || p.count > kMostCopies || p.rows > kMostCopies || p.count * p.rows > kMostCopies ||
      p.places.size() >= kMostCopies)
    return fail("A pattern has from 1 to {} places, the original among them.", kMostCopies);
  if ((p.kind == Linear || p.kind == Grid) && p.count > 1 && p.step.norm() < 1e-3)
    return fail("Say how far it is from one to the next.");
  if (p.kind == Grid && p.rows > 1 && p.to_row.norm() < 1e-3)
    return fail("Say how far it is from one row to the next.");
  if ((p.kind == Rotary || p.kind == Mirrored || p.kind == Listed) && p.axis.norm() < 1e-6)
    return fail("The axis of a pattern must have a direction.");
  for (const ListedPlace& place : p.places)
    if (!place.shift.allFinite() || !std::isfinite(place.turn))
      return fail("A pattern must be told in numbers.");
  return {};
}

std::vector<Motion> motionsOf(const Pattern& p) {
  std::vector<Motion> motions;
  switch (p.kind) {
  case PatternKind::Linear:
    for (int i = 1; i < p.count; ++i)
      motions.push_back(shifted(i * p.step));
    break;
  case PatternKind::Grid: // row by row, there and back, so that ways stay short
    for (int j = 0; j < p.rows; ++j)
      for (int i = 0; i < p.count; ++i)
        if (const int k = j % 2 ? p.count - 1 - i : i; j > 0 || k > 0)
          motions.push_back(shifted(k * p.step + j * p.to_row));
    break;
  case PatternKind::Rotary:
    for (int i = 1; i < p.count; ++i)
      motions.push_back(turned(p.point, p.axis, i * (p.angle != 0 ? p.angle : 2 * kPi / p.count)));
    break;
  case PatternKind::Mirrored:
    motions.push_back(mirrored(p.point, p.axis));
    break;
  case PatternKind::Listed:
    for (const ListedPlace& place : p.places) {
      motions.push_back(place.turn != 0 ? turned(p.point, p.axis, place.turn) : Motion{});
      motions.back().shift += place.shift;
    }
    break;
  }
  return motions;
}

Result<std::vector<ListedPlace>> listedFromText(const std::string& text) {
  std::vector<ListedPlace> places;
  std::istringstream lines(text);
  int number = 0, read = 0;
  for (std::string line; std::getline(lines, line);) {
    ++number;
    if (line.ends_with('\r')) line.pop_back();
    if (trimmed(line).empty()) continue;
    const auto numbers = numbersOf(line);
    if (!numbers && read == 0 && number == 1) continue; // headings
    if (!numbers || numbers->size() < 2 || numbers->size() > 4)
      return fail("Row {} \"{}\" is not x, y, z and perhaps a turn in degrees.", number,
                  trimmed(line));
    ListedPlace place;
    place.shift = Vec3((*numbers)[0], (*numbers)[1], numbers->size() > 2 ? (*numbers)[2] : 0);
    place.turn = numbers->size() > 3 ? radians((*numbers)[3]) : 0;
    places.push_back(place);
    ++read;
  }
  if (read < 2) return fail("Paste two rows at least; the first is the original.");
  const ListedPlace original = places.front();
  places.erase(places.begin());
  for (ListedPlace& p : places)
    p.shift -= original.shift, p.turn -= original.turn;
  return places;
}

std::string listedText(const std::vector<ListedPlace>& places) {
  std::string text = "0\t0\t0\n";
  for (const ListedPlace& p : places) {
    text += fmt::format("{:g}\t{:g}\t{:g}", p.shift.x(), p.shift.y(), p.shift.z());
    if (p.turn != 0) text += fmt::format("\t{:g}", shownDegrees(p.turn));
    text += '\n';
  }
  return text;
}

Pattern patternThrough(const Vec3& original, const Vec3& direction, const Points& others) {
  if (others.empty()) return {};
  if (auto found = linearThrough(original, others)) return *found;
  if (auto found = gridThrough(original, others)) return *found;
  if (auto found = rotaryThrough(original, direction, others)) return *found;
  Pattern pattern;
  pattern.kind = PatternKind::Listed;
  pattern.axis = direction;
  pattern.point = original;
  for (const Vec3& p : others)
    pattern.places.push_back({p - original, 0});
  return pattern;
}

} // namespace alder
