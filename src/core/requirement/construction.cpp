#include "requirement/construction.h"

#include <algorithm>
#include <array>

namespace alder {
namespace {

constexpr std::array<std::string_view, 12> kConstructions{
    "circle_through", "plane_through", "line_through", "intersection", "pierce",       "middle",
    "projection",     "nearest",       "copy",         "best_fit",     "gauge_circle", "section"};
constexpr std::array<std::string_view, 12> kConstructionWords{"circle through centres",
                                                              "plane through centres",
                                                              "line through centres",
                                                              "intersection",
                                                              "pierce point",
                                                              "middle",
                                                              "projection",
                                                              "nearest point",
                                                              "copy",
                                                              "best fit of all points",
                                                              "gauge circle",
                                                              "circle of one ring"};

} // namespace

std::string_view name(ConstructionKind kind) {
  return kConstructions[static_cast<std::size_t>(kind)];
}

std::string_view words(ConstructionKind kind) {
  return kConstructionWords[static_cast<std::size_t>(kind)];
}

std::optional<ConstructionKind> constructionNamed(std::string_view wanted) {
  const auto found = std::find(kConstructions.begin(), kConstructions.end(), wanted);
  if (found == kConstructions.end()) return {};
  return static_cast<ConstructionKind>(found - kConstructions.begin());
}

} // namespace alder
