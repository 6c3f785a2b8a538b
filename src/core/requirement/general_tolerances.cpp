#include "requirement/general_tolerances.h"

#include "base/units.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr std::string_view kClasses = "fmcv";
constexpr double kNone = -1;

// Table 1, ± mm: above 0.5 up to and with each size.
constexpr std::array kSizesUpTo{3.0, 6.0, 30.0, 120.0, 400.0, 1000.0, 2000.0, 4000.0};
constexpr double kLinear[4][8]{{0.05, 0.05, 0.1, 0.15, 0.2, 0.3, 0.5, kNone},
                               {0.1, 0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2},
                               {0.2, 0.3, 0.5, 0.8, 1.2, 2, 3, 4},
                               {kNone, 0.5, 1, 1.5, 2.5, 4, 6, 8}};
// Table 2: external radii and chamfers.
constexpr std::array kRadiiUpTo{3.0, 6.0, 1e9};
constexpr double kRadial[4][3]{{0.2, 0.5, 1}, {0.2, 0.5, 1}, {0.4, 1, 2}, {0.4, 1, 2}};
// Table 3, ± minutes, by the shorter length.
constexpr std::array kLegsUpTo{10.0, 50.0, 120.0, 400.0, 1e9};
constexpr double kAngular[4][5]{
    {60, 30, 20, 10, 5}, {60, 30, 20, 10, 5}, {90, 60, 30, 15, 10}, {180, 120, 60, 30, 20}};

template <std::size_t N> std::size_t rowOf(const std::array<double, N>& upto, double value) {
  std::size_t i = 0;
  while (i < N && value > upto[i] + 1e-9)
    ++i;
  return i;
}

Result<double> byIso2768(const GeneralTolerances& g, const Requirement& r,
                         const DecidingLength& length) {
  const auto row = kClasses.find(g.linear);
  if (row == std::string_view::npos) return fail("{} is no class of ISO 2768-1.", g.linear);
  if (r.kind == Characteristic::Angle) {
    const auto leg = length ? length(r) : std::nullopt;
    if (!leg) return fail("{}: the legs of the angle are not known; write its limits.", name(g));
    return radians(kAngular[row][std::min(rowOf(kLegsUpTo, *leg), kLegsUpTo.size() - 1)] / 60);
  }
  const double size = std::abs(r.nominal);
  if (size < 0.5) return fail("{} has no tolerance below 0.5 mm; write its limits.", name(g));
  if (r.radius) return kRadial[row][rowOf(kRadiiUpTo, size)];
  const std::size_t column = rowOf(kSizesUpTo, size);
  if (column >= kSizesUpTo.size() || kLinear[row][column] == kNone)
    return fail("{} has no tolerance for {} mm; write its limits.", name(g), shortFigure(size));
  return kLinear[row][column];
}

} // namespace

std::string name(const GeneralTolerances& g) {
  switch (g.rule) {
  case GeneralRule::None:
    return "";
  case GeneralRule::Iso2768:
    return g.geometrical == ' ' ? fmt::format("ISO 2768-{}", g.linear)
                                : fmt::format("ISO 2768-{}{}", g.linear, g.geometrical);
  case GeneralRule::Iso22081:
    return "ISO 22081";
  case GeneralRule::ByDecimals:
    return "number of decimals";
  case GeneralRule::BySize:
    return "table";
  }
  return "";
}

std::optional<GeneralTolerances> iso2768Named(std::string_view classes) {
  GeneralTolerances g;
  g.rule = GeneralRule::Iso2768;
  if (classes.empty() || classes.size() > 2 || kClasses.find(classes[0]) == std::string_view::npos)
    return {};
  g.linear = classes[0];
  if (classes.size() == 1) return g;
  if (std::string_view("HKL").find(classes[1]) == std::string_view::npos) return {};
  g.geometrical = classes[1];
  return g;
}

Result<double> generalTolerance(const GeneralTolerances& g, const Requirement& r, int decimals,
                                const DecidingLength& length) {
  if (!isDimension(r.kind) || r.kind == Characteristic::Value)
    return fail("General tolerances are of sizes, distances and angles.");
  const bool angle = r.kind == Characteristic::Angle;
  const auto given = [&](double value, const char* what) -> Result<double> {
    if (value > 0) return value;
    return fail("General tolerances {}: none is given for {}; write its limits.", name(g), what);
  };
  switch (g.rule) {
  case GeneralRule::None:
    return fail("No limits are written; write them, such as ±0.1 or H7, behind the figure, or "
                "choose general tolerances.");
  case GeneralRule::Iso2768:
    return byIso2768(g, r, length);
  case GeneralRule::BySize: {
    if (angle) return given(g.angle, "angles");
    const double size = std::abs(r.nominal);
    for (const GeneralRow& row : g.by_size)
      if (size <= row.up_to + 1e-9) return row.half;
    return fail("The table of general tolerances has no row for {} mm; write its limits.",
                shortFigure(size));
  }
  case GeneralRule::Iso22081:
    return angle ? given(g.angle, "angles") : given(g.length, "lengths");
  case GeneralRule::ByDecimals: {
    if (angle) return given(g.angle, "angles");
    const auto n = std::clamp(decimals, 0, static_cast<int>(g.by_decimals.size()) - 1);
    const std::string words = fmt::format("{} decimal{}", n, n == 1 ? "" : "s");
    return given(g.by_decimals[static_cast<std::size_t>(n)], words.c_str());
  }
  }
  return fail("No general tolerances.");
}

Done giveGeneral(const Specification& spec, Requirement& r, int decimals,
                 const DecidingLength& length) {
  if (!isDimension(r.kind)) {
    const auto zone = generalZone(spec, r, length);
    if (!zone) return pass(zone.error());
    r.tolerance = r.upper = *zone;
    r.general = name(spec.general);
    r.written_decimals = decimals;
    return {};
  }
  const auto half = generalTolerance(spec.general, r, decimals, length);
  if (!half) return pass(half.error());
  r.lower = r.nominal - *half, r.upper = r.nominal + *half;
  r.tolerance = 2 * *half;
  r.fit.clear();
  r.general = name(spec.general);
  r.written_decimals = decimals;
  return {};
}

Specification withGeneral(const Specification& spec, const GeneralTolerances& general,
                          const DecidingLength& length, std::vector<std::string>& notes) {
  Specification changed = spec;
  changed.general = general;
  // Forms of round surfaces go by their sizes, parallelism by those and by forms.
  const auto rank = [](const Requirement& r) {
    return isDimension(r.kind) ? 0 : r.kind == Characteristic::Parallelism ? 2 : 1;
  };
  std::vector<Requirement*> in_order;
  for (Requirement& r : changed.requirements)
    if (!r.general.empty()) in_order.push_back(&r);
  std::stable_sort(in_order.begin(), in_order.end(),
                   [&](const Requirement* a, const Requirement* b) { return rank(*a) < rank(*b); });
  for (Requirement* each : in_order) {
    Requirement& r = *each;
    if (const auto done = giveGeneral(changed, r, r.written_decimals, length); !done) {
      ownLimits(r);
      notes.push_back(
          fmt::format("{} keeps its limits as its own: {}", r.balloon, done.error().message));
    }
  }
  return changed;
}

void ownLimits(Requirement& r) {
  r.general.clear();
  r.written_decimals = 0;
}

} // namespace alder
