#include "made_specification.h"

#include "base/random.h"
#include "part/recognise.h"
#include "requirement/fits.h"
#include "requirement/from_pmi.h"
#include "requirement/limits.h"
#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <map>

namespace alder::test {
namespace {

using K = Characteristic;

class Maker {
 public:
  Maker(const PartModel& part, std::uint64_t seed)
      : part_(part)
      , random_(seed) {
    for (const Surface& s : part.surfaces)
      by_type_[s.ideal.type].push_back(s);
    // Bores and shafts of one diameter are a pattern.
    for (const Surface& a : by_type_[SurfaceType::Cylinder]) {
      std::vector<Surface> same;
      for (const Surface& b : by_type_[SurfaceType::Cylinder])
        if (b.ideal.diameter == a.ideal.diameter && b.ideal.hole == a.ideal.hole) same.push_back(b);
      if (same.size() > pattern_.size()) pattern_ = same;
    }
    const auto& planes = by_type_[SurfaceType::Plane];
    for (const Surface& a : planes)
      for (const Surface& b : planes)
        if (a.faces.front() < b.faces.front()) addSlot(a, b);
  }

  Specification make() {
    const FeatureId plane = of(planes()[1]), other = of(planes().back());
    spec_.datums = {{"A", {plane}, {}},
                    {"B", {of(cylinders().front())}, {}},
                    {"C", {other}, {}},
                    {"D", {slots_.empty() ? other : of(slots_.front())}, {}},
                    {"E", {of(planes().front()), of(cylinders().front())}, {}}};
    Datum targets{"F", {of(planes()[2])}, {}};
    targets.targets.push_back({Vec3(figure(-40, 40), figure(-40, 40), 0), {}, 0});
    targets.targets.push_back({Vec3(figure(-40, 40), 5, 0), Vec3(5, figure(10, 40), 0), 0});
    targets.targets.push_back({Vec3(figure(-40, 40), 7, 0), {}, figure(2, 9)});
    spec_.datums.push_back(targets);
    for (int kind = 0; kind < static_cast<int>(K::Value); ++kind) {
      add(static_cast<K>(kind));
      if (chance(0.3)) add(static_cast<K>(kind));
    }
    relate();
    return std::move(spec_);
  }

 private:
  bool chance(double p) { return random_.uniform() < p; }
  double figure(double from, double to) {
    return std::round((from + (to - from) * random_.uniform()) * 1e4) / 1e4;
  }
  template <class T, std::size_t N> T any(const std::array<T, N>& all) {
    return all[std::min(N - 1, static_cast<std::size_t>(random_.uniform() * double(N)))];
  }

  const std::vector<Surface>& planes() { return by_type_[SurfaceType::Plane]; }
  const std::vector<Surface>& cylinders() { return by_type_[SurfaceType::Cylinder]; }
  const std::vector<Surface>& spheres() { return by_type_[SurfaceType::Sphere]; }
  const std::vector<Surface>& cones() { return by_type_[SurfaceType::Cone]; }
  const Surface& any(const std::vector<Surface>& all) {
    return all[std::min(all.size() - 1,
                        static_cast<std::size_t>(random_.uniform() * double(all.size())))];
  }
  void addSlot(const Surface& a, const Surface& b) {
    std::vector<FaceId> faces = a.faces;
    faces.insert(faces.end(), b.faces.begin(), b.faces.end());
    const auto found = surfacesOf(part_, faces, Grouping::SlotIfParallel);
    if (found.size() == 1 && found.front().ideal.type == SurfaceType::Slot)
      slots_.push_back(found.front());
  }

  FeatureId of(const Surface& surface) {
    for (const NominalFeature& f : spec_.features)
      if (f.faces == surface.faces) return f.id;
    const FeatureId id = spec_.features.next();
    spec_.features.push_back({id, fmt::format("{} · {}", featureName(surface.ideal), id.value),
                              surface.ideal, surface.faces});
    return id;
  }
  std::vector<FeatureId> one(const Surface& surface) { return {of(surface)}; }
  std::vector<FeatureId> pattern() {
    std::vector<FeatureId> all;
    for (const Surface& s : pattern_)
      all.push_back(of(s));
    return all;
  }
  // One thing or a pattern, of which such a requirement can be.
  std::vector<FeatureId> featuresFor(K kind) {
    switch (kind) {
    case K::Flatness:
      return one(any(planes()));
    case K::Straightness:
      return one(any(chance(0.4) ? planes() : cylinders()));
    case K::Roundness:
      if (!spheres().empty() && chance(0.3)) return one(any(spheres()));
      return one(any(!cones().empty() && chance(0.3) ? cones() : cylinders()));
    case K::Cylindricity:
    case K::Coaxiality:
      return chance(0.5) ? one(any(cylinders())) : pattern();
    case K::LineProfile:
    case K::SurfaceProfile:
      return chance(0.5) ? one(any(planes()))
                         : std::vector{of(planes().front()), of(cylinders().front())};
    case K::Position:
      if (!spheres().empty() && chance(0.25)) return one(any(spheres()));
      [[fallthrough]];
    case K::Parallelism:
    case K::Perpendicularity:
    case K::Angularity:
      if (chance(0.3)) return one(any(planes()));
      if (!slots_.empty() && chance(0.3)) return one(any(slots_));
      return chance(0.5) ? one(any(cylinders())) : pattern();
    case K::Symmetry:
      return one(slots_.empty() ? any(cylinders()) : any(slots_));
    case K::CircularRunout:
    case K::TotalRunout:
      return one(any(chance(0.6) ? cylinders() : planes()));
    case K::Size:
      if (chance(0.2)) return pattern();
      if (!slots_.empty() && chance(0.3)) return one(any(slots_));
      return one(any(!spheres().empty() && chance(0.2) ? spheres() : cylinders()));
    case K::Distance:
      return distance();
    case K::Angle:
      return angle();
    case K::Value:
      break;
    }
    return {};
  }
  std::vector<FeatureId> distance() {
    if (chance(0.5) || slots_.empty()) return {of(any(planes())), of(any(cylinders()))};
    const NominalFeature slot = spec_.feature(of(any(slots_)));
    // between its sides
    return {of(part_.surfaces[surfaceOf(slot.faces.front())]),
            of(part_.surfaces[surfaceOf(slot.faces.back())])};
  }
  std::size_t surfaceOf(FaceId face) const {
    std::size_t at = 0;
    while (std::count(part_.surfaces[at].faces.begin(), part_.surfaces[at].faces.end(), face) == 0)
      ++at;
    return at;
  }
  std::vector<FeatureId> angle() {
    if (!cones().empty() && chance(0.3)) return one(any(cones()));
    for (const Surface& a : planes())
      for (const Surface& b : planes())
        if (a.ideal.direction.cross(b.ideal.direction).norm() > 0.1 && chance(0.5))
          return {of(a), of(b)};
    return {of(planes().front()), of(any(cylinders()))};
  }

  DatumReference reference() {
    DatumReference d;
    const double what = random_.uniform();
    d.letters = what < 0.7 ? std::vector<std::string>{any(std::array{"A", "B", "C", "D", "E", "F"})}
                : what < 0.9 ? std::vector<std::string>{"A", "C"}
                             : std::vector<std::string>{"A", "B", "C"};
    if (chance(0.3)) d.material = chance(0.5) ? MaterialModifier::Maximum : MaterialModifier::Least;
    if (chance(0.2))
      for (const char c : std::string("xyzuvw"))
        if (chance(0.5)) d.may_fix += c;
    return d;
  }

  // No datum twice.
  void addReference(Requirement& r) {
    const DatumReference d = reference();
    for (const DatumReference& other : r.datums)
      for (const std::string& letter : d.letters)
        if (std::count(other.letters.begin(), other.letters.end(), letter) > 0) return;
    r.datums.push_back(d);
  }

  void add(K kind) {
    Requirement r;
    r.id = spec_.requirements.next();
    r.balloon = r.id.value + 1;
    r.kind = kind;
    r.features = featuresFor(kind);
    const Ideal& ideal = spec_.feature(r.features.front()).ideal;
    if (isDimension(kind))
      dimension(r, ideal);
    else
      tolerance(r, ideal);
    spec_.requirements.push_back(r);
  }

  void dimension(Requirement& r, const Ideal& ideal) {
    r.decimals = 3;
    r.nominal = r.kind == K::Angle ? figure(0.1, 2.8) : figure(3, 400);
    // as modelled where the reader compares: what is far from it is told
    const Ideal& far = spec_.feature(r.features.back()).ideal;
    if (r.kind == K::Distance && far.type == SurfaceType::Plane)
      r.nominal = std::abs((far.point - ideal.point).dot(ideal.direction));
    if (r.kind == K::Size) {
      r.radius = ideal.type != SurfaceType::Slot && chance(0.2);
      r.nominal = ideal.diameter / (r.radius ? 2 : 1);
      r.envelope = chance(0.3);
      if (chance(0.4))
        r.association = any(std::array{
            AssociateBy::LeastSquares, AssociateBy::MaximumInscribed,
            AssociateBy::MinimumCircumscribed, AssociateBy::TwoPointMin, AssociateBy::TwoPointMax,
            AssociateBy::TwoPointMean, AssociateBy::TwoPointRange, AssociateBy::TwoPointMedian,
            AssociateBy::TwoPointMidRange, AssociateBy::Circumference, AssociateBy::Area});
    }
    const double width = r.kind == K::Angle ? 0.01 : 0.2;
    r.lower = r.nominal + std::round((random_.uniform() - 0.7) * width * 1e4) / 1e4;
    r.upper = r.lower + std::round((0.1 + random_.uniform()) * width * 1e4) / 1e4;
    if (chance(0.15)) { // a single limit, the nominal itself or off it
      const bool upper = chance(0.5);
      (upper ? r.upper : r.lower) = chance(0.5) ? r.nominal : upper ? r.upper : r.lower;
      (upper ? r.lower : r.upper) = upper ? kNoLower : kNoUpper;
      return;
    }
    if (r.kind != K::Size || r.radius || !chance(0.4)) return;
    r.fit = any(std::array{"H7", "g6", "JS9", "P8", "za11", "f7"});
    if (const auto limits = limitDeviations(r.fit, r.nominal)) {
      r.lower = r.nominal + limits->lower;
      r.upper = r.nominal + limits->upper;
    } else {
      r.fit.clear();
    }
  }

  void tolerance(Requirement& r, const Ideal& ideal) {
    r.tolerance = figure(0.001, 0.5);
    const bool derived = isOrientation(r.kind) || r.kind == K::Position ||
                         r.kind == K::Coaxiality || r.kind == K::Symmetry;
    if (derived && ideal.type == SurfaceType::Sphere) r.zone = Zone::Spherical;
    if (derived && hasAxis(ideal)) r.zone = Zone::Diametral;
    if (r.kind == K::Straightness && hasAxis(ideal) && chance(0.5)) r.zone = Zone::Diametral;
    if (!isForm(r.kind)) {
      const int count = 1 + static_cast<int>(random_.uniform() * 3);
      for (int i = 0; i < count; ++i)
        addReference(r);
      if ((isProfile(r.kind) || r.kind == K::Position) && chance(0.2)) r.datums.clear();
    }
    if (derived && ideal.type != SurfaceType::Plane && chance(0.5)) {
      r.material = chance(0.5) ? MaterialModifier::Maximum : MaterialModifier::Least;
      r.reciprocity = chance(0.3);
    }
    if (isProfile(r.kind) && chance(0.5)) r.unequal = figure(-0.2, 0.2);
    if (isOrientation(r.kind) && ideal.type == SurfaceType::Plane && chance(0.5))
      r.association = AssociateBy::Tangent;
    if ((r.kind == K::Straightness || r.kind == K::Flatness) && chance(0.5))
      r.unit_length = figure(5, 50);
    if ((isOrientation(r.kind) || r.kind == K::Position) && hasAxis(ideal) && !r.datums.empty() &&
        chance(0.4))
      r.projected = figure(5, 40);
    if ((r.kind == K::Position || isProfile(r.kind)) && chance(0.3)) r.separate = true;
  }

  // Segments of composite tolerances, and groups held together.
  void relate() {
    Requirement* above = nullptr;
    for (Requirement& r : spec_.requirements) {
      if (r.kind != K::Position && r.kind != K::SurfaceProfile) continue;
      if (above && above->kind == r.kind && above->features == r.features)
        r.upper_segment = above->id;
      else if (chance(0.5))
        r.together = chance(0.5) ? 1 : 2;
      above = &r;
    }
    // a group of one is none
    for (const int group : {1, 2}) {
      std::vector<Requirement*> members;
      for (Requirement& r : spec_.requirements)
        if (r.together == group) members.push_back(&r);
      if (members.size() == 1) members.front()->together = 0;
    }
  }

  const PartModel& part_;
  Random random_;
  std::map<SurfaceType, std::vector<Surface>> by_type_;
  std::vector<Surface> pattern_, slots_;
  Specification spec_;
};

} // namespace

Specification madeSpecification(const PartModel& part, std::uint64_t seed) {
  return Maker(part, seed).make();
}

} // namespace alder::test
