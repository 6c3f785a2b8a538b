#include "judge/zones.h"

#include "base/units.h"
#include "judge/datum_system.h"
#include "judge/local_sizes.h"
#include "judge/material.h"
#include "judge/virtual_boundary.h"
#include "requirement/plane_indicator.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace alder {
namespace {

// One toleranced feature: the points that must lie in the zone, and how much is allowed. Points of
// a surface count by their distance to the nominal one; others by their place beside the nominal
// axis, plane or centre.
struct Toleranced {
  FeatureId feature;
  const Requirement* of = nullptr; // the requirement that tolerances it
  const MeasuredFeature* measured = nullptr;
  std::optional<NominalSurface> surface;
  std::vector<std::size_t> which; // of a surface: the points that count
  Points samples;                 // else
  Derived::Kind kind = Derived::Kind::Point;
  double allowed = 0;
  double moved = 0; // of a surface: where the middle of its zone lies, outward
  std::string by;   // "least-squares axis over its length"
  // Of a feature of size at M or L: its virtual boundary, which its surface must respect. The
  // samples are shown only.
  std::optional<VirtualBoundary> boundary;

  bool ofSurface() const { return surface || boundary; }
  std::size_t count() const { return ofSurface() ? which.size() : samples.size(); }
};

class ZoneJudge {
 public:
  ZoneJudge(const Plan& plan, const Requirement& r, const Measurements& m)
      : plan_(plan)
      , r_(r)
      , m_(m)
      , iso_(plan.spec.standardOf(r) == ToleranceStandard::Iso) {}

  Result<Evaluation> run() {
    auto systems = candidateSystems(plan_, r_, m_);
    if (!systems) return pass(systems.error());
    auto prepared = prepareAll();
    if (!prepared) return pass(prepared.error());
    const std::vector<Toleranced> all = std::move(*prepared);
    if (auto there = sectionsThere(all); !there) return pass(there.error());
    std::vector<Toleranced> held = all;
    for (const Requirement* other : simultaneous(plan_.spec, r_))
      if (auto more = ZoneJudge(plan_, *other, m_).prepareAll())
        held.insert(held.end(), more->begin(), more->end());
    joined_ = held.size() > all.size();
    std::optional<Evaluation> best;
    double least = 0;
    // Scans have so many points that only the widest planes can be tried.
    std::size_t points = 1;
    for (const Toleranced& t : held)
      points += t.count();
    systems->resize(std::min(systems->size(), std::max<std::size_t>(6, 2'000'000 / points)));
    for (const DatumSystem& system : *systems) {
      Evaluation e;
      const double worst = judgeIn(system, all, held, e);
      if (best && worst >= least - 1e-9) continue;
      least = worst;
      best = std::move(e);
    }
    describeHow(systems->front(), all, *best);
    if (systems->size() > 1)
      best->how += fmt::format(" The primary datum rocks: the best of {} candidates counts.",
                               systems->size());
    return std::move(*best);
  }

 private:
  // Returns the largest share that a feature uses of what it is allowed, also of those held at the
  // same time.
  double judgeIn(const DatumSystem& system, const std::vector<Toleranced>& all,
                 const std::vector<Toleranced>& held, Evaluation& e) const {
    // Orientation concerns each feature for itself; a pattern is located as one.
    if (r_.kind == Characteristic::LineProfile && all.front().measured->sectioned)
      return judgeSections(system, all, e);
    if (isOrientation(r_.kind) || (r_.separate && iso_)) {
      double worst = 0;
      for (const Toleranced& t : all)
        worst = std::max(worst, judgeGroup(system, {t}, e));
      return worst;
    }
    return judgeGroup(system, held, e);
  }

  Result<std::vector<Toleranced>> prepareAll() const {
    std::vector<Toleranced> all;
    for (FeatureId id : r_.features) {
      auto one = prepare(id);
      if (!one) return pass(one.error());
      all.push_back(std::move(*one));
    }
    return all;
  }

  Result<Toleranced> prepare(FeatureId id) const {
    const NominalFeature& f = plan_.nominal(id);
    const auto m = m_.find(id);
    if (m == m_.end()) return fail("{} is not measured", f.name);
    Toleranced t;
    t.feature = id;
    t.of = &r_;
    t.measured = &m->second;
    t.allowed = r_.tolerance;
    t.moved = r_.unequal;
    const auto type = f.ideal.type;
    const auto criterion = criterionOf(r_.association);
    if (judgedByBoundary(r_, f, *t.measured)) return bounded(std::move(t), f);
    const bool surface = isProfile(r_.kind) || type == SurfaceType::Freeform ||
                         type == SurfaceType::Torus || (type == SurfaceType::Plane && !criterion) ||
                         (r_.of == Extracted::Surface && type != SurfaceType::Plane);
    if (surface) {
      t.surface.emplace(plan_.part, f);
      t.which = allOf(*t.measured);
      return t;
    }
    t.kind = nominalDerived(f).kind;
    auto bonus = bonusOf(plan_, r_, id, *t.measured);
    if (!bonus) return pass(bonus.error());
    t.allowed += *bonus;
    return sampled(std::move(t), f, criterion);
  }

  static std::vector<std::size_t> allOf(const MeasuredFeature& m) {
    std::vector<std::size_t> all(m.points.size());
    std::iota(all.begin(), all.end(), std::size_t{0});
    return all;
  }

  // The surface against the virtual boundary (ISO 2692 4.2, 4.3; ASME Y14.5 surface
  // interpretation).
  Result<Toleranced> bounded(Toleranced t, const NominalFeature& f) const {
    auto boundary = virtualBoundaryOf(plan_, r_, t.feature, *t.measured);
    if (!boundary) return pass(boundary.error());
    t.kind = nominalDerived(f).kind;
    t.allowed = boundary->allowed;
    t.which = allOf(*t.measured);
    const Derived& d = boundary->mating;
    t.samples = {d.point};
    if (t.kind == Derived::Kind::Axis)
      t.samples = {d.point + d.from * d.direction, d.point + d.to * d.direction};
    t.by =
        fmt::format("the surface against its virtual boundary of {} ({})",
                    figure(boundary->size, 4), iso_ ? "ISO 2692" : "ASME surface interpretation");
    t.boundary = std::move(*boundary);
    return t;
  }

  // The points of the derived feature.
  Result<Toleranced> sampled(Toleranced t, const NominalFeature& f,
                             std::optional<Criterion> criterion) const {
    if (r_.projected > 0) return projected(std::move(t), f, criterion);
    const bool asked = r_.association == AssociateBy::MedianLine || r_.of == Extracted::MedianLine;
    // The centres of a few rings have no shape and end before the feature does: then its straight
    // axis over the full length says more.
    const bool extracted = t.measured->sectioned || t.measured->byRow().size() >= 5;
    const bool median = asked || (iso_ && !criterion && r_.of == Extracted::Standard && extracted);
    if (median && t.kind != Derived::Kind::Point && f.ideal.diameter > 0) {
      auto ls = actualOf(f, *t.measured);
      if (!ls) return pass(ls.error());
      t.samples = medianPoints(f, *t.measured, *ls);
      t.by = t.kind == Derived::Kind::Plane ? "extracted mid surface" : "extracted median line";
      const std::size_t least = f.ideal.length > 0 || t.kind == Derived::Kind::Plane ? 2 : 1;
      if (t.samples.size() >= least) return t;
      criterion = Criterion::LeastSquares;
    }
    const Criterion used = criterion.value_or(
        iso_ || f.ideal.diameter <= 0 ? Criterion::LeastSquares : matingEnvelope(f));
    auto actual = actualOf(f, *t.measured, used);
    if (!actual) return pass(actual.error());
    const Derived& d = actual->derived;
    t.by = std::string(words(used)) +
           (t.kind == Derived::Kind::Point  ? " centre"
            : t.kind == Derived::Kind::Axis ? " axis over its length"
                                            : " plane") +
           std::string(proofWords(*actual));
    t.samples.clear();
    if (t.kind == Derived::Kind::Point) {
      t.samples = {d.point};
    } else if (t.kind == Derived::Kind::Axis) {
      t.samples = {d.point + d.from * d.direction, d.point + d.to * d.direction};
    } else {
      for (const Vec3& p : t.measured->points) // over the touched area
        t.samples.push_back(p - (p - d.point).dot(d.direction) * d.direction);
    }
    return t;
  }

  // The axis lengthened out of the part, on the side of the primary datum (ISO 1101 P; ASME
  // projected tolerance zone).
  Result<Toleranced> projected(Toleranced t, const NominalFeature& f,
                               std::optional<Criterion> criterion) const {
    if (t.kind != Derived::Kind::Axis) return fail("{}: only an axis can be projected.", f.name);
    const Criterion used = criterion.value_or(iso_ ? Criterion::LeastSquares : matingEnvelope(f));
    auto actual = actualOf(f, *t.measured, used);
    if (!actual) return pass(actual.error());
    const Derived& d = actual->derived;
    bool from_start = false;
    if (!r_.datums.empty() && !r_.datums[0].letters.empty())
      if (const Datum* datum = plan_.spec.datum(r_.datums[0].letters[0])) {
        const Ideal& plane = plan_.nominal(datum->features.front()).ideal;
        const auto height = [&](double along) {
          const Vec3 p = f.ideal.point + along * f.ideal.direction;
          return std::abs((p - plane.point).dot(plane.direction));
        };
        from_start = plane.type == SurfaceType::Plane && height(0) < height(f.ideal.length) - 1e-9;
      }
    const double near = from_start ? d.from : d.to;
    const double far = near + (from_start ? -r_.projected : r_.projected);
    t.samples = {d.point + near * d.direction, d.point + far * d.direction};
    t.by = std::string(words(used)) + " axis, projected by " + shortFigure(r_.projected) + " mm" +
           std::string(proofWords(*actual));
    return t;
  }

  // An axis in a zone between two planes: square to them, in the CAD frame. Nothing where the zone
  // is round or the planes cannot be told.
  std::optional<Vec3> zoneNormal(const Requirement& r, const Derived& nominal) const {
    const bool flat = r.zone == Zone::Planar && nominal.kind == Derived::Kind::Axis;
    if (flat && r.zone_plane) {
      const auto planes = planesOf(plan_.spec, *r.zone_plane);
      return planes ? ::alder::zoneNormal(*planes, nominal.direction) : std::nullopt;
    }
    if (!flat || !isOrientation(r.kind) || r.datums.empty() || r.datums[0].letters.empty())
      return {};
    const Datum* datum = plan_.spec.datum(r.datums[0].letters[0]);
    if (!datum || datum->features.empty()) return {};
    // Planes inclined to the datum would turn about it until they hold an axis that leans less.
    return ::alder::zoneNormal({plan_.nominal(datum->features[0]).ideal.direction, true},
                               nominal.direction);
  }

  // Vectors from the nominal, placed by T, to the actual feature; half the zone counts from them.
  std::function<Vec3(std::size_t)> residuals(const Toleranced& t, const Frame& placement) const {
    if (t.surface) {
      return [this, &t, inverse = Frame(placement.inverse())](std::size_t i) {
        return Vec3(distance(t, inverse, t.which[i]) - t.moved, 0, 0);
      };
    }
    if (t.boundary)
      return [this, &t, inverse = Frame(placement.inverse())](std::size_t i) {
        return Vec3(t.boundary->beyond(plan_.nominal(t.feature).ideal,
                                       inverse * t.measured->points[t.which[i]]),
                    0, 0);
      };
    return derivedResiduals(t, placement);
  }

  // Of the axis, mid-plane or centre.
  std::function<Vec3(std::size_t)> derivedResiduals(const Toleranced& t,
                                                    const Frame& placement) const {
    const Derived nominal = nominalDerived(plan_.nominal(t.feature));
    const Vec3 point = placement * nominal.point, direction = turn(placement, nominal.direction);
    const auto normal = zoneNormal(*t.of, nominal);
    return [&t, point, direction,
            across = normal ? std::optional<Vec3>(turn(placement, *normal))
                            : std::nullopt](std::size_t i) {
      const Vec3 d = t.samples[i] - point;
      if (across) return Vec3(d.dot(*across) * *across);
      if (t.kind == Derived::Kind::Point) return d;
      const Vec3 along = d.dot(direction) * direction;
      return t.kind == Derived::Kind::Axis ? Vec3(d - along) : along;
    };
  }

  // On which face a point was touched.
  FaceId faceOf(const Toleranced& t, std::size_t i) const {
    const auto& faces = t.measured->faces;
    const auto& own = plan_.nominal(t.feature).faces;
    return i < faces.size() ? faces[i] : own.empty() ? FaceId{} : own.front();
  }

  double distance(const Toleranced& t, const Frame& inverse, std::size_t i) const {
    return t.surface->distance(faceOf(t, i), inverse * t.measured->points[i]);
  }

  // All features of the group in one set of residuals, each counted against what it is allowed.
  Residuals together(const std::vector<Toleranced>& group, double most_allowed) const {
    Residuals all;
    std::vector<std::pair<std::size_t, std::size_t>> index;
    for (std::size_t g = 0; g < group.size(); ++g)
      for (std::size_t i = 0; i < group[g].count(); ++i)
        index.emplace_back(g, i);
    all.count = index.size();
    all.is_signed = [&group, index](std::size_t k) {
      return group[index[k].first].boundary.has_value();
    };
    all.at = [this, &group, index, most_allowed](const Frame& at) {
      std::vector<std::function<Vec3(std::size_t)>> each;
      for (const Toleranced& t : group)
        each.push_back(residuals(t, at));
      return [index, each, &group, most_allowed](std::size_t k) {
        const auto& [g, i] = index[k];
        return Vec3(each[g](i) * (most_allowed / std::max(group[g].allowed, 1e-9)));
      };
    };
    return all;
  }

  // The datum features of size may lie within their boundary: the smallest zone for which both the
  // zone and the boundaries hold, by bisection over its size.
  Frame shifted(const DatumSystem& system, const Freedom& freedom, const Residuals& zone,
                const LeastWorst& unshifted) const {
    struct Held {
      const DatumShift* shift;
      const Ideal* nominal;
      const Vec3* point;
    };
    std::vector<Held> held;
    for (const DatumShift& s : system.shifts)
      for (const Vec3& p : s.surface)
        held.push_back({&s, &plan_.nominal(s.feature).ideal, &p});
    Residuals both = zone;
    both.count = zone.count + held.size();
    both.is_signed = [&zone](std::size_t i) {
      return i >= zone.count || (zone.is_signed && zone.is_signed(i));
    };
    both.at = [&zone, &held](const Frame& at) {
      return [inside = zone.at(at), &zone, &held, inverse = Frame(at.inverse())](std::size_t i) {
        if (i < zone.count) return inside(i);
        const Held& h = held[i - zone.count];
        return Vec3(h.shift->boundary.beyond(*h.nominal, inverse * *h.point), 0, 0);
      };
    };
    RigidFit at = *system.loose;
    at.placement = unshifted.placement;
    double low = 0, high = unshifted.worst;
    for (int step = 0; step < 40 && high - low > 1e-9; ++step) {
      const double middle = (low + high) / 2;
      both.less.assign(both.count, middle);
      std::fill(both.less.begin() + static_cast<std::ptrdiff_t>(zone.count), both.less.end(), 0.0);
      const LeastWorst tried = minimiseWorst(at, freedom, both);
      if (tried.worst <= 1e-10)
        high = middle, at.placement = tried.placement;
      else
        low = middle;
    }
    return at.placement;
  }

  // A zone that may lie anywhere along the normals: its middle is sought by sections, since the
  // largest deviation has one least value along it.
  LeastWorst placeOffset(const RigidFit& fit, const Freedom& freedom,
                         std::vector<Toleranced>& group, const Residuals& zone) const {
    const auto move = [&](double to) {
      for (Toleranced& t : group)
        if (t.of == &r_) t.moved = to;
    };
    double low = 1e300, high = -1e300;
    const LeastWorst start = minimiseWorst(fit, freedom, zone);
    const Frame inverse = start.placement.inverse();
    for (const Toleranced& t : group)
      for (std::size_t i = 0; t.of == &r_ && i < t.which.size(); ++i) {
        const double d = distance(t, inverse, t.which[i]);
        low = std::min(low, d), high = std::max(high, d);
      }
    if (freedom.cols() == 0) { // nothing moves: half way
      move((low + high) / 2);
      return minimiseWorst(fit, freedom, zone);
    }
    RigidFit at = fit;
    at.placement = start.placement;
    const auto tried = [&](double to) {
      move(to);
      return minimiseWorst(at, freedom, zone);
    };
    constexpr double kGolden = 0.6180339887498949;
    double a = high - kGolden * (high - low), b = low + kGolden * (high - low);
    LeastWorst at_a = tried(a), at_b = tried(b);
    while (high - low > 1e-9) {
      if (at_a.worst <= at_b.worst) {
        high = b, b = a, at_b = at_a;
        a = high - kGolden * (high - low);
        at_a = tried(a);
      } else {
        low = a, a = b, at_a = at_b;
        b = low + kGolden * (high - low);
        at_b = tried(b);
      }
    }
    return tried((low + high) / 2);
  }

  // Of an axis, plane or centre: the nominal place of each sample and how far it lies off.
  void keepSamples(const Toleranced& t, const Frame& placement,
                   const std::function<Vec3(std::size_t)>& vectors, FeatureResult& f) const {
    const Mat3 back = placement.linear().transpose();
    const Frame inverse = placement.inverse();
    const std::size_t step = std::max<std::size_t>(1, t.samples.size() / 200); // for the picture
    for (std::size_t i = 0; i < t.samples.size(); i += step) {
      const Vec3 off = back * vectors(i);
      f.samples.emplace_back(inverse * t.samples[i] - off, off);
    }
  }

  // Twice how far the worst place lies off, and which way, before a datum shift and with it.
  void measure(const Toleranced& t, const Frame& placement, const Frame& unshifted,
               FeatureResult& f) const {
    const Mat3 back = placement.linear().transpose();
    if (!t.surface) {
      const auto vectors = derivedResiduals(t, placement), before = derivedResiduals(t, unshifted);
      for (std::size_t i = 0; i < t.samples.size(); ++i)
        if (const Vec3 v = vectors(i); 2 * v.norm() >= f.actual)
          f.actual = 2 * v.norm(), f.offset = back * v, f.unshifted = back * before(i);
      if (!t.boundary) return;
      f.actual = 0;
    }
    const auto vectors = residuals(t, placement);
    for (std::size_t i = 0; i < t.which.size(); ++i) {
      const Vec3 v = vectors(i);
      const double off = t.boundary ? v.x() : v.norm();
      if (2 * off < f.actual) continue;
      f.actual = 2 * off;
      if (t.surface) f.offset = f.unshifted = v;
    }
  }

  double judgeGroup(const DatumSystem& system, std::vector<Toleranced> group, Evaluation& e) const {
    const bool free_to_move = isOrientation(r_.kind) || r_.upper_segment.valid();
    double most_allowed = 1e-9;
    for (const Toleranced& t : group)
      most_allowed = std::max(most_allowed, t.allowed);
    const auto freedomOf = [&](const RigidFit& fit) {
      return free_to_move ? fit.withTranslations() : fit.freedom;
    };
    const Residuals zone = together(group, most_allowed);
    const LeastWorst unshifted = r_.free_offset && group.front().surface
                                     ? placeOffset(system.fit, freedomOf(system.fit), group, zone)
                                     : minimiseWorst(system.fit, freedomOf(system.fit), zone);
    const Frame placement = system.loose
                                ? shifted(system, freedomOf(*system.loose), zone, unshifted)
                                : unshifted.placement;
    double worst = 0;
    for (const Toleranced& t : group) {
      FeatureResult f;
      f.feature = t.feature;
      f.allowed = t.allowed;
      measure(t, placement, unshifted.placement, f);
      f.share = t.allowed > 0 ? f.actual / t.allowed : (f.actual > 0 ? 2 : 0);
      worst = std::max(worst, f.share);
      if (t.of != &r_) continue; // of a requirement held at the same time
      if (t.surface) {
        const Frame inverse = placement.inverse();
        for (std::size_t i = 0; i < t.measured->points.size(); ++i)
          f.deviations.push_back(distance(t, inverse, i));
      } else {
        keepSamples(t, placement, derivedResiduals(t, placement), f);
      }
      f.moved = t.surface ? t.moved : 0;
      e.features.push_back(std::move(f));
    }
    return worst;
  }

  // A line profile holds for each section by itself.
  double judgeSections(const DatumSystem& system, const std::vector<Toleranced>& all,
                       Evaluation& e) const {
    double most = 0;
    for (const Toleranced& t : all) {
      FeatureResult worst;
      std::vector<double> deviations(t.measured->points.size());
      for (const auto& [row, members] : t.measured->byRow()) {
        if (!inSectionPlane(t, members)) continue;
        Toleranced section = t;
        section.which = members;
        // The profile lies in the plane of its section and may not roll out of it.
        DatumSystem held = system;
        if (const auto normal = sectionNormal(t, members))
          held.fit.freedom = held.fit.withinPlane(*normal);
        Evaluation one;
        judgeGroup(held, {section}, one);
        for (const std::size_t i : members)
          deviations[i] = one.features[0].deviations[i];
        if (one.features[0].actual >= worst.actual) worst = std::move(one.features[0]);
      }
      most = std::max(most, worst.share);
      worst.deviations = std::move(deviations);
      e.features.push_back(std::move(worst));
    }
    return most;
  }

  // Square to the plane of a section: that of its points, or, where they lie nearly in a line,
  // which fixes none, the plane that holds the normal of the surface too.
  std::optional<Vec3> sectionNormal(const Toleranced& t,
                                    const std::vector<std::size_t>& members) const {
    constexpr double kStraight = 0.05; // of its length
    Points points;
    for (const std::size_t i : members)
      points.push_back(t.measured->points[i]);
    const auto line = fitLeastSquares(Shape::Line, points);
    double length = 0;
    for (const Vec3& p : points)
      length = std::max(length, (p - points.front()).norm());
    if (line && line->form < kStraight * length) {
      const std::size_t middle = members[members.size() / 2];
      const Vec3 across =
          line->direction.cross(t.surface->normal(faceOf(t, middle), t.measured->points[middle]));
      return across.norm() > 0.1 ? std::optional<Vec3>(across.normalized()) : std::nullopt;
    }
    const auto plane = fitLeastSquares(Shape::Plane, points);
    return plane ? std::optional<Vec3>(plane->direction) : std::nullopt;
  }

  bool inSectionPlane(const Toleranced& t, const std::vector<std::size_t>& members) const {
    if (!r_.section_plane) return true;
    const auto planes = planesOf(plan_.spec, *r_.section_plane);
    const auto normal = sectionNormal(t, members);
    return planes && normal && holdSection(*planes, *normal);
  }

  // Some section of each feature lies in the plane that is indicated.
  Done sectionsThere(const std::vector<Toleranced>& all) const {
    if (!r_.section_plane) return {};
    if (auto planes = planesOf(plan_.spec, *r_.section_plane); !planes) return pass(planes.error());
    for (const Toleranced& t : all) {
      bool there = false;
      if (t.measured->sectioned)
        for (const auto& [row, members] : t.measured->byRow())
          there = there || inSectionPlane(t, members);
      if (!there)
        return fail("{}: no section of touches lies in the intersection plane {}; touch it in such "
                    "sections.",
                    plan_.nominal(t.feature).name, symbol(*r_.section_plane));
    }
    return {};
  }

  void describeHow(const DatumSystem& system, const std::vector<Toleranced>& all,
                   Evaluation& e) const {
    const std::string standard = cited(plan_.spec.standardOf(r_), "ISO 1101");
    e.how = isProfile(r_.kind) ? (iso_ ? std::string("ISO 1660") : standard) +
                                     ", twice the largest deviation from the nominal surface"
            : isOrientation(r_.kind) ? standard + ", zone free in location"
                                     : standard + ", zone about the nominal place";
    if (r_.free_offset && all.front().surface)
      e.how += fmt::format(", zone free along the normals, best moved by {}",
                           figure(e.features.front().moved, 4));
    else if (r_.unequal != 0)
      e.how += ", zone moved out by " + shortFigure(r_.unequal) + " mm";
    if (r_.kind == Characteristic::LineProfile && all.front().measured->sectioned)
      e.how += ", the worst section";
    e.how += system.how.empty() ? "; best fit (smallest largest deviation), no datum"
                                : "; datum system " + system.how + " in order, " +
                                      (r_.datum_association == AssociateBy::LeastSquares
                                           ? "by least squares"
                                           : "from outside the material");
    if (!system.shifts.empty()) e.how += ", shifted as far as its modifiers let it";
    if (all.size() > 1 && !isOrientation(r_.kind))
      e.how += r_.separate && iso_ ? "; each feature by itself" : "; the features as one pattern";
    if (r_.separate && !iso_) e.how += "; apart from other requirements (SEP REQT)";
    if (joined_) e.how += ", at the same time as other requirements of this datum system";
    if (r_.upper_segment.valid()) e.how += ", free in translation";
    if (!all.front().by.empty()) e.how += "; " + all.front().by;
    if (r_.material != MaterialModifier::None && !all.front().ofSurface())
      e.how += "; with bonus from the " +
               std::string(r_.association == AssociateBy::LeastSquares ? "least-squares size"
                           : r_.material == MaterialModifier::Least    ? "material envelope"
                                                                       : "mating envelope");
    if (r_.zone == Zone::Planar && !all.front().surface &&
        nominalDerived(plan_.nominal(r_.features[0])).kind == Derived::Kind::Axis &&
        !zoneNormal(r_, nominalDerived(plan_.nominal(r_.features[0]))))
      e.how += "; the zone taken as a cylinder, which is stricter";
    if (const auto& planes = all.front().of->zone_plane)
      e.how += "; the zone between two planes, orientation plane " + symbol(*planes);
    if (const auto& planes = all.front().of->section_plane)
      e.how += "; intersection plane " + symbol(*planes);
    e.how += ".";
  }

  const Plan& plan_;
  const Requirement& r_;
  const Measurements& m_;
  bool iso_;
  bool joined_ = false;
};

} // namespace

Result<Evaluation> judgeZone(const Plan& plan, const Requirement& r, const Measurements& m) {
  return ZoneJudge(plan, r, m).run();
}

} // namespace alder
