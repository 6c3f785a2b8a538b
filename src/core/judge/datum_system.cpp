#include "judge/datum_system.h"

#include "base/units.h"
#include "geometry/distance.h"
#include "judge/material.h"
#include "judge/rocking.h"
#include <algorithm>
#include <cmath>
#include <set>

namespace alder {
namespace {

std::string nameOf(const DatumReference& reference) {
  std::string name;
  for (const auto& letter : reference.letters)
    name += (name.empty() ? "" : "-") + letter;
  return name;
}

bool modified(const DatumReference& d) {
  return d.material == MaterialModifier::Maximum || d.material == MaterialModifier::Least;
}

// Size of the boundary: as stated, else the limit of size less or more what orientation and
// location to the datums before may take (ASME Y14.5 maximum material boundary; ISO 2692 virtual
// size).
std::optional<double> boundaryOf(const Plan& plan, const Requirement& r, std::size_t index,
                                 FeatureId feature) {
  const DatumReference& d = r.datums[index];
  if (d.boundary) return d.boundary;
  const auto limits = materialLimitsOf(plan, feature, d.material);
  if (!limits) return {};
  const bool maximum = d.material == MaterialModifier::Maximum;
  const bool lower = plan.nominal(feature).ideal.hole == maximum;
  double tolerance = 0;
  for (const Requirement& other : plan.spec.requirements) {
    const bool on_it =
        std::find(other.features.begin(), other.features.end(), feature) != other.features.end();
    if (!on_it || isDimension(other.kind) || other.material != d.material ||
        other.datums.size() > index)
      continue;
    bool before = true;
    for (std::size_t i = 0; i < other.datums.size(); ++i)
      before &= nameOf(other.datums[i]) == nameOf(r.datums[i]);
    if (before) tolerance = std::max(tolerance, other.tolerance);
  }
  return lower ? limits->lower - tolerance : limits->upper + tolerance;
}

Points envelopeEnds(const Derived& axis, double diameter) {
  constexpr int kRound = 48;
  const Frame frame = frameOf(axis.point, axis.direction);
  Points ends;
  for (const double along : {axis.from, axis.to})
    for (int k = 0; k < kRound; ++k) {
      const double a = 2 * kPi * k / kRound;
      ends.push_back(frame * Vec3(diameter / 2 * std::cos(a), diameter / 2 * std::sin(a), along));
    }
  return ends;
}

// Evenly over the whole ball, none farther than 5 degrees from the next.
Points envelopeBall(const Vec3& centre, double diameter) {
  constexpr int kAll = 600;
  Points all;
  for (int k = 0; k < kAll; ++k) {
    const double z = 1 - (2 * k + 1.0) / kAll, a = k * kPi * (3 - std::sqrt(5.0)),
                 across = std::sqrt(1 - z * z);
    all.push_back(centre + diameter / 2 * Vec3(across * std::cos(a), across * std::sin(a), z));
  }
  return all;
}

Result<DatumShift> shiftOf(const Plan& plan, const Requirement& r, std::size_t index,
                           FeatureId feature, const MeasuredFeature& measured) {
  const DatumReference& d = r.datums[index];
  const NominalFeature& f = plan.nominal(feature);
  const auto boundary = boundaryOf(plan, r, index, feature);
  if (!boundary)
    return fail("datum {}: a material modifier needs the size limits of {}.", nameOf(d), f.name);
  if (!isOfSize(f))
    return fail("datum {}: a material modifier needs a feature of size.", nameOf(d));
  DatumShift shift{feature, {}, measured.points};
  if (f.ideal.type != SurfaceType::Slot && !showSurface(f, measured)) {
    const bool maximum = d.material == MaterialModifier::Maximum;
    auto actual = actualOf(f, measured, maximum ? matingEnvelope(f) : materialEnvelope(f));
    if (!actual) return pass(actual.error());
    const double size = actual->size.value_or(0);
    shift.surface = f.ideal.type == SurfaceType::Sphere ? envelopeBall(actual->derived.point, size)
                                                        : envelopeEnds(actual->derived, size);
  }
  shift.boundary.size = *boundary;
  shift.boundary.outside = f.ideal.hole == (d.material == MaterialModifier::Maximum) ? -1 : 1;
  return shift;
}

// Derived lines, circles and points have no surface: a thin cylinder or a small ball about the
// actual one takes their place.
struct StandIn {
  NominalFeature nominal;
  MeasuredFeature measured;
};

Result<StandIn> standInOf(const NominalFeature& f, const MeasuredFeature& m) {
  const bool point = isPoint(f.ideal) || isCircle(f.ideal);
  if (!f.isConstructed() || !(point || isLine(f.ideal))) return StandIn{f, m};
  auto actual = actualOf(f, m);
  if (!actual) return pass(actual.error());
  const Derived& d = actual->derived;
  StandIn s{f, {}};
  s.nominal.ideal.diameter = 2;
  s.nominal.ideal.type = point ? SurfaceType::Sphere : SurfaceType::Cylinder;
  if (point) {
    for (int k = 0; k < 3; ++k)
      for (const double side : {-1.0, 1.0})
        s.measured.points.push_back(d.point + side * Vec3::Unit(k));
    return s;
  }
  const Frame frame = frameOf(d.point, d.direction);
  for (const double along : {d.from, d.to})
    for (const auto& [x, y] : {std::pair{1, 0}, {0, 1}, {-1, 0}, {0, -1}})
      s.measured.points.push_back(frame * Vec3(x, y, along));
  return s;
}

// The points at the targets: the nearest one of a point, those within half a millimetre of a line,
// those on an area.
Result<MeasuredFeature> atTargets(const Datum& datum, const NominalFeature& f,
                                  const MeasuredFeature& m) {
  if (datum.targets.empty()) return m;
  std::set<std::size_t> chosen;
  for (std::size_t t = 0; t < datum.targets.size(); ++t) {
    const DatumTarget& target = datum.targets[t];
    const bool point = !target.to && target.diameter <= 0;
    const double reach = point ? 2 : target.to ? 0.5 : target.diameter / 2;
    std::optional<std::pair<double, std::size_t>> nearest;
    std::size_t found = 0;
    for (std::size_t i = 0; i < m.points.size(); ++i) {
      const Vec3& p = i < m.nominals.size() ? m.nominals[i] : m.points[i];
      const Vec3 at = target.to ? closestOnSegment(p, {target.point, *target.to}) : target.point;
      const double d = (p - at).norm();
      if (d > reach + 1e-6) continue;
      ++found;
      if (!point)
        chosen.insert(i);
      else if (!nearest || d < nearest->first)
        nearest = {d, i};
    }
    if (nearest) chosen.insert(nearest->second);
    // Of several features each has its own targets.
    if (found == 0 && datum.features.size() == 1)
      return fail("{} is not touched at datum target {}{}", f.name, datum.letter, t + 1);
  }
  MeasuredFeature out;
  for (const std::size_t i : chosen) {
    out.points.push_back(m.points[i]);
    if (i < m.faces.size()) out.faces.push_back(m.faces[i]);
  }
  return out;
}

// The datums of a requirement with their points, in order.
struct Stages {
  std::vector<DatumStage> all, unmodified;
  std::vector<DatumShift> shifts;
  std::string how;
};

Result<Stages> stagesOf(const Plan& plan, const Requirement& r, const Measurements& measured) {
  Stages stages;
  for (std::size_t index = 0; index < r.datums.size(); ++index) {
    const DatumReference& reference = r.datums[index];
    DatumStage stage;
    stage.name = nameOf(reference);
    stage.locks = reference.may_fix;
    stage.association = r.datum_association == AssociateBy::LeastSquares
                            ? DatumAssociation::LeastSquares
                            : DatumAssociation::Tangent;
    for (const auto& letter : reference.letters) {
      const Datum* datum = plan.spec.datum(letter);
      if (!datum || datum->features.empty()) return fail("datum {} has no feature", letter);
      for (FeatureId id : datum->features) {
        const auto m = measured.find(id);
        if (m == measured.end())
          return fail("datum {} ({}) is not measured", letter, plan.nominal(id).name);
        auto at_targets = atTargets(*datum, plan.nominal(id), m->second);
        if (!at_targets) return pass(at_targets.error());
        auto stand_in = standInOf(plan.nominal(id), *at_targets);
        if (!stand_in) return pass(stand_in.error());
        const std::size_t least = datum->targets.empty() ? 3 : 1;
        if (stand_in->measured.points.size() < least)
          return fail("datum {} ({}) has too few points", letter, plan.nominal(id).name);
        const NominalSurface surface(plan.part, stand_in->nominal);
        for (auto& group : surface.group(stand_in->measured.points, stand_in->measured.faces, 0))
          stage.surfaces.push_back(std::move(group));
        if (modified(reference)) {
          auto shift = shiftOf(plan, r, index, id, m->second);
          if (!shift) return pass(shift.error());
          stages.shifts.push_back(*shift);
        }
      }
    }
    stages.how += (stages.how.empty() ? "" : "|") + stage.name +
                  (stage.locks.empty() ? "" : "[" + stage.locks + "]");
    if (!modified(reference)) stages.unmodified.push_back(stage);
    stages.all.push_back(std::move(stage));
  }
  return stages;
}

// No datums: everything is free.
DatumSystem freeSystem(const Requirement& r, const Measurements& measured) {
  DatumSystem system;
  Points all;
  for (FeatureId id : r.features)
    if (const auto m = measured.find(id); m != measured.end())
      all.insert(all.end(), m->second.points.begin(), m->second.points.end());
  system.fit.centre = centroid(all);
  for (const Vec3& p : all)
    system.fit.scale = std::max(system.fit.scale, (p - system.fit.centre).norm());
  system.fit.freedom = system.fit.allFreedom();
  return system;
}

// Points that do not lie on their datum once those before it are held belong to another feature, or
// the nominal places are wrong; a fit would make some figure of them. Errors of form and
// orientation stay far below these limits.
Done plausible(const std::vector<DatumStage>& stages, const Frame& placement) {
  constexpr double kForm = 0.2;   // mm
  constexpr double kAskew = 0.05; // of how far the points reach; as much as 5 degrees make
  const Frame inverse = placement.inverse();
  for (const DatumStage& stage : stages)
    for (const SurfacePoints& s : stage.surfaces) {
      const auto n = static_cast<double>(s.points.size());
      const Vec3 middle = centroid(s.points);
      double sum = 0, squares = 0, reach = 0;
      for (const Vec3& p : s.points) {
        const double d = s.distance(inverse * p) - s.offset;
        sum += d, squares += d * d;
        reach = std::max(reach, (p - middle).norm());
      }
      if (s.free_size) squares -= sum * sum / n;
      const double off = std::sqrt(std::max(0.0, squares) / n);
      if (!(off <= kForm + kAskew * reach))
        return fail(
            "datum {}: its points lie {} mm off its nominal form where the datums before it "
            "hold the part; check its nominal place, and to which feature the points belong",
            stage.name, shortFigure(off));
    }
  return {};
}

Result<DatumSystem> fitted(const Stages& stages, const Frame& start) {
  DatumSystem system;
  system.shifts = stages.shifts;
  system.how = stages.how;
  auto fit = fitInOrder(stages.all, start);
  if (!fit) return pass(fit.error());
  if (auto done = plausible(stages.all, fit->placement); !done) return pass(done.error());
  system.fit = std::move(*fit);
  if (system.shifts.empty()) return system;
  RigidFit loose = system.fit;
  if (stages.unmodified.empty()) {
    loose.freedom = loose.allFreedom();
  } else {
    auto rest = fitInOrder(stages.unmodified, system.fit.placement);
    if (!rest) return pass(rest.error());
    loose = std::move(*rest);
    loose.placement = system.fit.placement;
  }
  system.loose = std::move(loose);
  return system;
}

// A single plane as the first datum, held from outside.
const NominalFeature* rockingDatum(const Plan& plan, const Requirement& r, const Stages& stages) {
  if (plan.spec.standardOf(r) == ToleranceStandard::Iso || stages.all.empty()) return nullptr;
  const DatumStage& first = stages.all.front();
  const Datum* datum = plan.spec.datum(r.datums.front().letters.front());
  if (first.association != DatumAssociation::Tangent || !first.locks.empty() ||
      first.surfaces.size() != 1 || !datum || datum->features.size() != 1 ||
      !datum->targets.empty())
    return nullptr;
  const NominalFeature& f = plan.nominal(datum->features.front());
  return f.ideal.type == SurfaceType::Plane ? &f : nullptr;
}

} // namespace

Result<DatumSystem> datumSystemOf(const Plan& plan, const Requirement& r,
                                  const Measurements& measured) {
  auto stages = stagesOf(plan, r, measured);
  if (!stages) return pass(stages.error());
  return stages->all.empty() ? freeSystem(r, measured) : fitted(*stages, Frame::Identity());
}

Result<std::vector<DatumSystem>> candidateSystems(const Plan& plan, const Requirement& r,
                                                  const Measurements& measured) {
  auto stages = stagesOf(plan, r, measured);
  if (!stages) return pass(stages.error());
  if (stages->all.empty()) return std::vector{freeSystem(r, measured)};
  auto first = fitted(*stages, Frame::Identity());
  if (!first) return pass(first.error());
  std::vector<DatumSystem> systems{std::move(*first)};
  const NominalFeature* plane = rockingDatum(plan, r, *stages);
  if (!plane) return systems;
  const Points points = stages->all.front().surfaces.front().points;
  const Frame inverse =
      (systems[0].fit.placement * frameOf(plane->ideal.point, plane->ideal.direction)).inverse();
  Points flat;
  for (const Vec3& p : points)
    flat.push_back(inverse * p);
  for (const auto& contact : restingPlanes(flat)) {
    for (std::vector<DatumStage>* list : {&stages->all, &stages->unmodified})
      if (!list->empty())
        list->front().surfaces.front().points = {points[contact[0]], points[contact[1]],
                                                 points[contact[2]]};
    // A plane can be held and yet leave too little for the datums after it.
    if (auto next = fitted(*stages, systems[0].fit.placement)) systems.push_back(std::move(*next));
  }
  return systems;
}

} // namespace alder
