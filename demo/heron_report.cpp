// A report of another machine about the demo part, laid out as nobody here would: what results are
// brought in from.
#include "heron_report.h"

#include "base/random.h"
#include "base/units.h"

namespace alder::demo {
namespace {

// As the gate that wrote it calls what it measures.
std::string_view word(Characteristic kind) {
  switch (kind) {
  case Characteristic::Size:
    return "diameter or width";
  case Characteristic::SurfaceProfile:
    return "profile";
  case Characteristic::CircularRunout:
    return "runout";
  case Characteristic::TotalRunout:
    return "total runout";
  default:
    return name(kind);
  }
}

std::string column(const std::string& text, std::size_t width) {
  return std::string(text.size() < width ? width - text.size() : 1, ' ') + text;
}

} // namespace

std::string reportOfOthers(const Specification& spec) {
  Random random(40);
  std::string out =
      "HARBOUR LANE GAUGE ROOM                                             page 1\n"
      "Serial no: TW40-0117      Inspector: J. Ferro      Date: 2026-11-12\n\n"
      "No    Check                              Nominal      Upper      Lower   Measured\n";
  for (const Requirement& r : spec.requirements) {
    if (r.features.empty() || r.kind == Characteristic::Value) continue;
    const bool size = isDimension(r.kind), angle = r.kind == Characteristic::Angle;
    const auto shown = [&](double v) { return figure(angle ? degrees(v) : v, 3); };
    const double lower = size ? r.lower : 0, upper = size ? r.upper : r.tolerance;
    const double actual = lower + (upper - lower) * random.uniform(0.15, 0.8);
    std::string check(word(r.kind));
    check += fmt::format(" {}", static_cast<char>('a' + r.features.front().value % 26));
    check += std::to_string(r.features.front().value);
    // One of them was programmed by an old drawing.
    const double nominal = r.balloon == 6 ? r.nominal + 0.5 : r.nominal;
    out += fmt::format("{:<6}{:<29}", r.balloon, check) + column(size ? shown(nominal) : "", 13) +
           column(shown(upper), 11) + column(size ? shown(lower) : "", 11) +
           column(shown(actual), 11) + "\n";
  }
  return out + "      air                                                                20.300\n";
}

} // namespace alder::demo
