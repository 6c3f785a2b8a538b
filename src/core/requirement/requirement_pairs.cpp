#include "requirement/requirement_pairs.h"

#include "base/assignment.h"
#include "base/units.h"
#include "requirement/limits.h"
#include "requirement/modifiers.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kSameFigure = 1e-7; // mm and radians

std::vector<FeatureId> sorted(std::vector<FeatureId> ids) {
  std::sort(ids.begin(), ids.end());
  return ids;
}

bool near(double a, double b) {
  return sameLimit(a, b, kSameFigure);
}

// Figures that two files write with other roundings are the same.
struct Rounded {
  void operator()(const char*, double& value) const {
    value = std::round(value / kSameFigure) * kSameFigure;
  }
  template <class Other> void operator()(const char*, const Other&) const {}
  template <class Value> void notNegative(const char* name, Value& value) const {
    (*this)(name, value);
  }
  template <class... Rest> void uncertainty(const char*, const Rest&...) const {}
};

// All that is asked, without what belongs to this routine or this file alone.
Requirement bare(const Requirement& r) {
  Requirement b = r;
  b.id = {};
  b.balloon = 0;
  b.upper_segment = {};
  b.entity = 0;
  b.spot.reset();
  b.key.clear();
  b.sheet_zone.clear();
  b.decimals = 3;
  b.written_decimals = 0;
  b.features = sorted(r.features);
  const Rounded rounded;
  for (double* figure : {&b.nominal, &b.lower, &b.upper, &b.tolerance})
    rounded("", *figure);
  Requirement::judging(b, rounded);
  return b;
}

double overlap(const Requirement& a, const Requirement& b) {
  const auto x = sorted(a.features), y = sorted(b.features);
  std::vector<FeatureId> both, any;
  std::set_intersection(x.begin(), x.end(), y.begin(), y.end(), std::back_inserter(both));
  std::set_union(x.begin(), x.end(), y.begin(), y.end(), std::back_inserter(any));
  return any.empty() ? 0 : static_cast<double>(both.size()) / static_cast<double>(any.size());
}

// mm between them on the sheet; nothing: not on one sheet.
std::optional<double> apart(const Requirement& a, const Requirement& b) {
  if (!a.spot || !b.spot || a.spot->page != b.spot->page) return {};
  return std::hypot(a.spot->x - b.spot->x, a.spot->y - b.spot->y);
}

// How well one can be what the other became; 0: not at all.
double likeness(const Requirement& was, const Requirement& is) {
  if (was.kind != is.kind) return 0;
  const auto distance = apart(was, is);
  const bool close = distance && *distance < 8;
  const double shared = overlap(was, is);
  const bool open = is.features.empty() || was.features.empty();
  const bool asks_so = near(was.nominal, is.nominal) && near(was.lower, is.lower) &&
                       near(was.upper, is.upper) && near(was.tolerance, is.tolerance) &&
                       was.datums == is.datums;
  if (shared == 0 && !close && !(open && asks_so)) return 0;
  double gain = 1 + 100 * shared;
  if (asks_so) gain += 40;
  if (was.datums == is.datums) gain += 10;
  if (was.upper_segment.valid() == is.upper_segment.valid()) gain += 30;
  if (was.zone == is.zone && was.material == is.material) gain += 5;
  if (distance) gain += 40 * std::exp(-*distance / 10);
  const double scale = std::max({std::abs(was.nominal), was.tolerance, 1e-6});
  const double off = std::abs(was.nominal - is.nominal) + std::abs(was.tolerance - is.tolerance);
  return gain + 10 * std::exp(-off / scale);
}

std::string figure(const Requirement& r, double value) {
  if (r.kind == Characteristic::Angle) return shortFigure(degrees(value)) + "°";
  return shortFigure(value);
}

std::string limits(const Requirement& r) {
  if (hasSingleLimit(r))
    return hasUpper(r) ? "at most " + figure(r, r.upper) : "at least " + figure(r, r.lower);
  return (r.fit.empty() ? "" : r.fit + " ") + figure(r, r.lower) + " to " + figure(r, r.upper);
}

std::string namesOf(const Specification& spec, const std::vector<FeatureId>& features) {
  std::string names;
  for (const FeatureId id : features) {
    const NominalFeature* f = spec.features.find(id);
    if (f) names += (names.empty() ? "" : ", ") + f->name;
  }
  return names;
}

} // namespace

bool asksTheSame(const Requirement& a, const Requirement& b) {
  return bare(a) == bare(b) && a.upper_segment.valid() == b.upper_segment.valid();
}

std::vector<std::optional<std::size_t>> pairRequirements(const std::vector<Requirement>& was,
                                                         const std::vector<Requirement>& is) {
  std::vector<std::optional<std::size_t>> pairs(was.size());
  if (was.empty() || is.empty()) return pairs;
  std::vector<std::vector<double>> gain(was.size(), std::vector<double>(is.size() + was.size(), 0));
  for (std::size_t w = 0; w < was.size(); ++w)
    for (std::size_t i = 0; i < is.size(); ++i)
      gain[w][i] = likeness(was[w], is[i]);
  const auto best = bestAssignment(gain);
  for (std::size_t w = 0; w < was.size(); ++w)
    if (best[w] < is.size() && gain[w][best[w]] > 0) pairs[w] = best[w];
  return pairs;
}

std::string differenceOf(const Specification& spec, const Requirement& was, const Requirement& is) {
  std::vector<std::string> parts;
  const auto differs = [&](const char* what, const std::string& a, const std::string& b) {
    if (a != b)
      parts.push_back(
          fmt::format("{} {}, now {}", what, a.empty() ? "none" : a, b.empty() ? "none" : b));
  };
  if (isDimension(was.kind)) {
    if (!near(was.nominal, is.nominal))
      differs("nominal", figure(was, was.nominal), figure(is, is.nominal));
    if (!near(was.lower, is.lower) || !near(was.upper, is.upper) || was.fit != is.fit)
      differs("limits", limits(was), limits(is));
  } else if (!near(was.tolerance, is.tolerance)) {
    differs("tolerance", shortFigure(was.tolerance), shortFigure(is.tolerance));
  }
  differs("general tolerance", was.general, is.general);
  differs("zone", std::string(name(was.zone)), std::string(name(is.zone)));
  differs("material modifier", std::string(name(was.material)), std::string(name(is.material)));
  differs("datums", describe(was.datums), describe(is.datums));
  const auto before = sorted(was.features), after = sorted(is.features);
  std::vector<FeatureId> more, fewer;
  std::set_difference(after.begin(), after.end(), before.begin(), before.end(),
                      std::back_inserter(more));
  std::set_difference(before.begin(), before.end(), after.begin(), after.end(),
                      std::back_inserter(fewer));
  if (!more.empty()) parts.push_back("on " + namesOf(spec, more) + " as well");
  if (!fewer.empty()) parts.push_back("no longer on " + namesOf(spec, fewer));
  if (parts.empty() && !asksTheSame(was, is)) parts.push_back("other modifiers");
  return fmt::format("{}", fmt::join(parts, "; "));
}

Requirement takenOver(const Requirement& was, Requirement is) {
  is.id = was.id;
  is.balloon = was.balloon;
  if (is.association == AssociateBy::Standard) is.association = was.association;
  if (is.datum_association == AssociateBy::Standard) is.datum_association = was.datum_association;
  if (is.of == Extracted::Standard) is.of = was.of;
  if (!is.filtering) is.filtering = was.filtering;
  if (!is.uncertainty) is.uncertainty = was.uncertainty;
  if (!is.standard) is.standard = was.standard;
  is.decimals = std::max(is.decimals, was.decimals);
  if (is.key.empty()) is.key = was.key;
  if (is.sheet_zone.empty()) is.sheet_zone = was.sheet_zone;
  if (!is.spot) is.spot = was.spot;
  // A balloon that has its place keeps it where the text has.
  if (is.spot && was.spot && !is.spot->balloon && apart(was, is).value_or(1) < 0.01)
    is.spot->balloon = was.spot->balloon;
  if (is.features.empty()) is.features = was.features;
  return is;
}

} // namespace alder
