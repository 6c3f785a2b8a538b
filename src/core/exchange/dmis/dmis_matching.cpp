#include "exchange/dmis/dmis_matching.h"

#include "base/units.h"
#include "exchange/dmis/dmis_definitions.h"
#include "exchange/dmis/dmis_text.h"
#include "plan/touches/nominal_surface.h"
#include "requirement/modifiers.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder::dmis {
namespace {

std::optional<Vec3> vectorAt(const Statement& s, std::size_t index, double scale = 1) {
  const auto x = s.number(index), y = s.number(index + 1), z = s.number(index + 2);
  if (!x || !y || !z) return {};
  return Vec3(scale * Vec3(*x, *y, *z));
}

std::optional<FeatureKind> kindNamed(const std::string& word) {
  static const std::pair<const char*, FeatureKind> kWords[]{
      {"PLANE", FeatureKind::Plane},    {"CYLNDR", FeatureKind::Cylinder},
      {"CONE", FeatureKind::Cone},      {"SPHERE", FeatureKind::Sphere},
      {"PARPLN", FeatureKind::Slot},    {"TORUS", FeatureKind::Torus},
      {"GSURF", FeatureKind::Freeform}, {"CIRCLE", FeatureKind::Circle},
      {"LINE", FeatureKind::Line},      {"POINT", FeatureKind::Point}};
  for (const auto& [text, kind] : kWords)
    if (word == text) return kind;
  return {};
}

// Nothing where it is of a kind that no feature here is.
std::optional<SoughtFeature> definedBy(const Statement& s, const Units& units) {
  if (s.arguments.empty()) return {};
  const auto kind = kindNamed(upperCase(s.arguments[0]));
  if (!kind) return {};
  SoughtFeature d{*kind, {}};
  std::size_t at = 1;
  for (; at < s.arguments.size(); ++at) {
    if (s.is(at, "INNER")) d.hole = true;
    if (s.is(at, "OUTER")) d.hole = false;
    if (s.is(at, "CART")) break;
  }
  if (at >= s.arguments.size()) return d;
  const auto point = vectorAt(s, at + 1, units.length);
  if (!point) return d;
  d.point = *point;
  d.located = true;
  if (*kind == FeatureKind::Sphere) {
    d.diameter = s.number(at + 4).value_or(0) * units.length;
    return d;
  }
  const auto direction = vectorAt(s, at + 4);
  if (!direction || direction->norm() < 1e-6) return d;
  d.direction = direction->normalized();
  const double last = s.number(at + 7).value_or(0);
  if (*kind == FeatureKind::Cone)
    d.half_angle = last * units.angle / 2;
  else
    d.diameter = last * units.length;
  return d;
}

Characteristic kindOf(const std::string& word, bool& known) {
  using enum Characteristic;
  static const std::pair<const char*, Characteristic> kWords[]{{"STRGHT", Straightness},
                                                               {"FLAT", Flatness},
                                                               {"CIRLTY", Roundness},
                                                               {"CYLCTY", Cylindricity},
                                                               {"PROFL", LineProfile},
                                                               {"PROFS", SurfaceProfile},
                                                               {"PROFP", SurfaceProfile},
                                                               {"PARLEL", Parallelism},
                                                               {"PERP", Perpendicularity},
                                                               {"ANGLR", Angularity},
                                                               {"POS", Position},
                                                               {"CONCEN", Coaxiality},
                                                               {"SYM", Symmetry},
                                                               {"CRNOUT", CircularRunout},
                                                               {"TRNOUT", TotalRunout},
                                                               {"DIAM", Size},
                                                               {"RAD", Size},
                                                               {"WIDTH", Size},
                                                               {"DISTB", Distance},
                                                               {"ANGLB", Angle},
                                                               {"ANGL", Angle}};
  for (const auto& [text, kind] : kWords)
    if (word == text) return known = true, kind;
  known = false;
  return Size;
}

void readModifiersAndDatums(const Statement& s, std::size_t from, Requirement& r) {
  for (std::size_t i = from; i < s.arguments.size(); ++i) {
    if (const auto ref = referenceIn(s.arguments[i]); ref && ref->kind == "DAT") {
      DatumReference datum;
      std::string letter;
      for (const char c : ref->label + "-") {
        if (c != '-')
          letter += c;
        else if (!letter.empty())
          datum.letters.push_back(std::exchange(letter, {}));
      }
      r.datums.push_back(std::move(datum));
    } else if (s.is(i, "MMC") || s.is(i, "LMC") || s.is(i, "RFS")) {
      (r.datums.empty() ? r.material : r.datums.back().material) =
          s.is(i, "MMC")   ? MaterialModifier::Maximum
          : s.is(i, "LMC") ? MaterialModifier::Least
                           : MaterialModifier::None;
    }
  }
}

} // namespace

bool readUnits(const Statement& said, Units& units) {
  constexpr std::pair<const char*, double> kLengths[]{
      {"MM", 1}, {"CM", 10}, {"M", 1000}, {"INCH", 25.4}, {"FEET", 304.8}};
  bool read = true;
  for (std::size_t i = 0; i < said.arguments.size(); ++i) {
    for (const auto& [word, mm] : kLengths)
      if (said.is(i, word)) units.length = mm;
    if (said.is(i, "ANGDEC")) units.angle = radians(1);
    if (said.is(i, "ANGRAD")) units.angle = 1;
    read &= !said.is(i, "ANGDMS");
  }
  return read;
}

std::optional<FeatureId> featureFor(const Plan& plan, const Statement& feat, const Units& units,
                                    const std::string& name) {
  auto d = definedBy(feat, units);
  if (!d) return {};
  d->point = units.system * d->point;
  d->direction = units.system.linear() * d->direction;
  std::optional<std::pair<double, FeatureId>> best;
  for (const NominalFeature& f : plan.spec.features) {
    const auto off = distanceTo(f, *d);
    if (!off) continue;
    if (!name.empty() && ascii(f.name) == name) return f.id;
    if (d->located && (!best || *off < best->first)) best = {*off, f.id};
  }
  return best ? std::optional(best->second) : std::nullopt;
}

std::optional<Access> accessFor(const Plan& plan, const Statement& s, const Units& units,
                                std::string& why) {
  const Head& head = plan.bench.head;
  std::size_t at = 0;
  while (at < s.arguments.size() && !s.is(at, "POL") && !s.is(at, "CART"))
    ++at;
  const bool polar = s.is(at, "POL"), fixed = at > 0 && s.is(at - 1, "FIXED");
  if (at == s.arguments.size() || (fixed && polar))
    return why = "only INDEX with POL or CART, and FIXED with CART are read", std::nullopt;
  const auto a = s.number(at + 1), b = s.number(at + 2);
  const std::size_t behind = at + (polar ? 6 : 7);
  const double length = polar ? s.number(behind).value_or(0) * units.length : 0;
  const auto diameter = s.number(behind + (polar ? 1 : 0));
  const auto offset = vectorAt(s, at + 1, units.length);
  if (!a || !b || !diameter || (!polar && !offset))
    return why = "a figure is missing", std::nullopt;
  std::optional<std::pair<double, Access>> best;
  const auto consider = [&](double off, const Access& access) {
    if (!best || off < best->first - 1e-12) best = {off, access};
  };
  for (std::size_t stylus = 0; stylus < plan.bench.styli.size(); ++stylus)
    for (std::size_t t = 0; t < plan.bench.styli[stylus].tips.size(); ++t) {
      const Tip& tip = plan.bench.styli[stylus].tips[t];
      const double thickness = 100 * std::abs(tip.ball_diameter - *diameter * units.length);
      Access access{static_cast<int>(stylus), static_cast<int>(t), 0, 0};
      if (polar && tip.straight()) {
        access.a = head.a.nearest(*a * units.angle), access.b = head.b.nearest(*b * units.angle);
        consider(thickness + std::abs(tip.pivot_to_ball.norm() - length) +
                     100 * std::abs(access.a - *a * units.angle),
                 access);
      } else if (polar) { // a tip that stands aside, from the mount to its ball
        access.a = head.a.nearest(*a * units.angle), access.b = head.b.nearest(*b * units.angle);
        const auto along = vectorAt(s, at + 3);
        if (!along || along->norm() < 1e-6) continue;
        consider(thickness + (headTurn(access.a, access.b) * tip.pivot_to_ball -
                              length * along->normalized())
                                 .norm(),
                 access);
      } else {
        for (double turned_a = head.a.low; turned_a <= head.a.high + 1e-9;
             turned_a += std::max(head.a.step, radians(1)))
          // Of postures that are one the plainest.
          for (double turned_b = head.b.low; turned_b <= head.b.high + 1e-9;
               turned_b += std::max(head.b.step, radians(1))) {
            access.a = head.a.nearest(turned_a), access.b = head.b.nearest(turned_b);
            consider(thickness +
                         (headTurn(access.a, access.b) * tip.pivot_to_ball - *offset).norm() +
                         1e-9 * (std::abs(access.a) + std::abs(access.b)),
                     access);
          }
      }
    }
  if (!best) return why = "the bench has no such tip", std::nullopt;
  if (best->first > 0.1)
    why = "the bench has no such tip; the nearest is " + nameOf(plan, best->second);
  return best->second;
}

std::optional<Requirement> requirementFor(const Statement& s, const Units& units) {
  if (s.arguments.empty()) return {};
  bool known = false;
  // A datum that is a feature has no letter here: rather a note than a tolerance without datum.
  for (const std::string& a : s.arguments)
    if (const auto ref = referenceIn(a); ref && (ref->kind == "FA" || ref->kind == "F")) return {};
  Requirement r;
  std::string word = s.arguments[0];
  std::transform(word.begin(), word.end(), word.begin(),
                 [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
  r.kind = kindOf(word, known);
  if (!known) return {};
  const bool profile = isProfile(r.kind), distance = r.kind == Characteristic::Distance,
             angle = r.kind == Characteristic::Angle;
  std::size_t at = 1;
  if (distance && s.is(1, "NOMINL")) at = 2;
  const bool limits = distance && s.is(1, "LIMIT");
  if (limits) at = 2;
  // The angle that is asked for comes first.
  if (r.kind == Characteristic::Angularity && s.number(1) && s.number(2)) at = 2;
  if (r.kind == Characteristic::Position && (s.is(1, "2D") || s.is(1, "3D"))) {
    r.zone = s.is(1, "3D") ? Zone::Spherical : Zone::Diametral;
    at = 2;
  }
  const double unit = angle ? units.angle : units.length;
  const auto first = s.number(at), second = s.number(at + 1), third = s.number(at + 2);
  if (!first) return {};
  if (angle && word == "ANGL") { // deviations; the nominal is the feature's
    if (!second) return {};
    r.lower = *first * unit, r.upper = *second * unit;
    return r;
  }
  if (distance || angle) {
    if (!second || (!third && !limits)) return {};
    r.nominal = (limits ? (*first + *second) / 2 : *first) * unit;
    r.lower = limits ? *first * unit : r.nominal + *second * unit;
    r.upper = limits ? *second * unit : r.nominal + *third * unit;
    if (distance)
      for (const auto& [name, along] :
           {std::pair{"XAXIS", Along::X}, {"YAXIS", Along::Y}, {"ZAXIS", Along::Z}})
        if (s.is(at + (limits ? 2 : 3), name)) r.along = along;
    return r;
  }
  if (r.kind == Characteristic::Size) { // deviations; the nominal is the feature's
    if (!second) return {};
    r.radius = word == "RAD";
    r.lower = *first * unit, r.upper = *second * unit;
    return r;
  }
  if (profile) {
    if (!second) return {};
    setZoneBand(r, {*first * unit, *second * unit});
    ++at;
  } else {
    r.tolerance = *first * unit;
  }
  readModifiersAndDatums(s, at + 1, r);
  return r;
}

} // namespace alder::dmis
