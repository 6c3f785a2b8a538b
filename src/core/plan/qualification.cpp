#include "plan/qualification.h"

#include "base/units.h"
#include <array>
#include <cmath>

namespace alder {

std::string_view name(TipState state) {
  static constexpr std::array<std::string_view, 4> kNames{"unqualified", "expired", "out of limits",
                                                          "qualified"};
  return kNames[static_cast<std::size_t>(state)];
}

const QualifiedTip* Qualification::find(const Access& access) const {
  for (const QualifiedTip& t : tips)
    if (t.access.stylus == access.stylus && t.access.tip == access.tip &&
        std::abs(t.access.a - access.a) < 1e-9 && std::abs(t.access.b - access.b) < 1e-9)
      return &t;
  return nullptr;
}

std::string beyondLimits(const QualifiedTip& t, const Bench& bench) {
  const QualificationLimits& limits = bench.qualification;
  const double nominal = bench.styli[static_cast<std::size_t>(t.access.stylus)]
                             .tips[static_cast<std::size_t>(t.access.tip)]
                             .ball_diameter;
  if (t.form > limits.form)
    return fmt::format("its touches range over {} mm, {} are allowed; clean ball and sphere",
                       figure(t.form, 4), figure(limits.form, 4));
  if (std::abs(t.diameter - nominal) > limits.diameter)
    return fmt::format("its effective diameter {} is more than {} off {}; is it the right stylus?",
                       figure(t.diameter, 4), figure(limits.diameter, 3), figure(nominal, 3));
  return {};
}

Qualification withoutStale(Qualification known, const Bench& bench, std::int64_t now) {
  const Qualification all = known;
  std::erase_if(known.tips, [&](const QualifiedTip& t) {
    return stateOf(all, t.access, bench, now) == TipState::Stale;
  });
  return known;
}

bool needsQualifying(const Qualification& known, const Access& access, const Bench& bench) {
  const QualifiedTip* t = known.find(access);
  return !t || !beyondLimits(*t, bench).empty();
}

TipState stateOf(const Qualification& known, const Access& access, const Bench& bench,
                 std::int64_t now) {
  const QualifiedTip* t = known.find(access);
  if (!t) return TipState::Unqualified;
  if (!beyondLimits(*t, bench).empty()) return TipState::OutOfLimits;
  const double hours = static_cast<double>(now - t->seconds) / 3600;
  return hours > bench.qualification.valid_hours ? TipState::Stale : TipState::Qualified;
}

} // namespace alder
