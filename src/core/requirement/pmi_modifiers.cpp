#include "requirement/pmi_modifiers.h"

#include <algorithm>
#include <utility>

namespace alder {
namespace {

// Lower case, words joined by underscores: files write either way.
std::string plain(std::string_view name) {
  std::string text(name);
  for (char& c : text)
    c = c == ' ' ? '_' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return text;
}

constexpr std::pair<std::string_view, AssociateBy> kSizes[]{
    {"least_square_association_criterion", AssociateBy::LeastSquares},
    {"least_squares_association_criterion", AssociateBy::LeastSquares},
    {"maximum_inscribed_association_criterion", AssociateBy::MaximumInscribed},
    {"minimum_circumscribed_association_criterion", AssociateBy::MinimumCircumscribed},
    {"minimum_size", AssociateBy::TwoPointMin},
    {"maximum_size", AssociateBy::TwoPointMax},
    {"average_size", AssociateBy::TwoPointMean},
    {"range_of_sizes", AssociateBy::TwoPointRange},
    {"median_size", AssociateBy::TwoPointMedian},
    {"mid_range_size", AssociateBy::TwoPointMidRange},
    {"circumference_diameter", AssociateBy::Circumference},
    {"area_diameter", AssociateBy::Area}};

} // namespace

bool takeModifier(Requirement& r, std::string_view name) {
  const auto modifier = plain(name);
  if (r.kind == Characteristic::Size) {
    if (modifier == "two_point_size") return true; // the default
    if (modifier == "envelope_requirement") return r.envelope = true;
    for (const auto& [known, by] : kSizes)
      if (known == modifier) {
        r.association = by;
        return true;
      }
    return false;
  }
  if (isDimension(r.kind)) return false;
  if (modifier == "common_zone") return true; // a pattern is one anyway
  if (modifier == "separate_requirement" || modifier == "separate_zone") return r.separate = true;
  if (modifier == "reciprocity_requirement") return r.reciprocity = true;
  if (modifier != "tangent_plane") return false;
  r.association = AssociateBy::Tangent;
  return true;
}

bool takeModifier(DatumReference& d, std::string_view name) {
  constexpr std::string_view kConstraint = "degree_of_freedom_constraint_";
  const auto modifier = plain(name);
  if (modifier == "orientation") { // ISO 5459 ><: it holds no place
    if (d.may_fix.empty()) d.may_fix = "uvw";
    std::erase_if(d.may_fix, [](char c) { return c == 'x' || c == 'y' || c == 'z'; });
    return !d.may_fix.empty();
  }
  if (modifier.size() != kConstraint.size() + 1 || !modifier.starts_with(kConstraint)) return false;
  const char letter = modifier.back();
  if (std::string_view("xyzuvw").find(letter) == std::string_view::npos) return false;
  if (d.may_fix.find(letter) == std::string::npos) d.may_fix += letter;
  return true;
}

std::vector<std::string> modifierNames(const Requirement& r) {
  std::vector<std::string> names;
  if (r.kind == Characteristic::Size) {
    if (r.envelope) names.emplace_back("envelope requirement");
    for (const auto& [known, by] : kSizes)
      if (by == r.association) {
        names.emplace_back(known);
        std::replace(names.back().begin(), names.back().end(), '_', ' ');
        break;
      }
  } else if (!isDimension(r.kind)) {
    if (r.reciprocity) names.emplace_back("RECIPROCITY_REQUIREMENT");
    if (r.separate) names.emplace_back("SEPARATE_REQUIREMENT");
    if (r.association == AssociateBy::Tangent) names.emplace_back("TANGENT_PLANE");
  }
  return names;
}

std::vector<std::string> modifierNames(const DatumReference& d) {
  std::vector<std::string> names;
  for (const char c : d.may_fix)
    names.push_back(std::string("DEGREE_OF_FREEDOM_CONSTRAINT_") +
                    static_cast<char>(std::toupper(static_cast<unsigned char>(c))));
  return names;
}

} // namespace alder
