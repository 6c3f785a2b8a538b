#include "judge/conditioning.h"

#include "base/units.h"
#include "plan/constructions/construct.h"
#include "requirement/plane_indicator.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace alder {
namespace {

MeasuredFeature only(const MeasuredFeature& m, const std::vector<std::size_t>& kept) {
  MeasuredFeature out;
  out.sectioned = m.sectioned;
  for (const std::size_t i : kept) {
    out.points.push_back(m.points[i]);
    if (i < m.rows.size()) out.rows.push_back(m.rows[i]);
    if (i < m.faces.size()) out.faces.push_back(m.faces[i]);
    if (i < m.nominals.size()) out.nominals.push_back(m.nominals[i]);
    if (i < m.noise.size()) out.noise.push_back(m.noise[i]);
    out.origin.push_back(i < m.origin.size() ? m.origin[i] : i);
  }
  return out;
}

// Signed distance from what the points are associated with, and the direction in which it counts.
struct Reference {
  std::vector<double> deviations;
  std::vector<Vec3> normals;
  Vec3 axis = Vec3::UnitZ(), point = Vec3::Zero();
};

Result<Reference> referenceOf(const Plan& plan, const NominalFeature& f, const MeasuredFeature& m) {
  Reference r;
  if (f.ideal.type == SurfaceType::Freeform) {
    const NominalSurface surface(plan.part, f);
    for (std::size_t i = 0; i < m.points.size(); ++i) {
      const FaceId face = i < m.faces.size() ? m.faces[i] : FaceId{};
      r.deviations.push_back(surface.distance(face, m.points[i]));
      r.normals.push_back(surface.normal(face, m.points[i]));
    }
    return r;
  }
  auto fit = associationOf(f, m, Criterion::LeastSquares);
  if (!fit) return pass(fit.error());
  for (const Vec3& p : m.points)
    r.normals.push_back(normalAt(*fit, p));
  r.deviations = std::move(fit->deviations);
  r.axis = f.ideal.type == SurfaceType::Sphere ? f.ideal.direction : fit->direction;
  r.point = fit->point;
  return r;
}

// The points of one ring or line, in order along it.
struct Trace {
  std::vector<std::size_t> members;
  Profile profile; // positions alone
};

Trace ordered(std::vector<std::pair<double, std::size_t>> places, double period) {
  std::stable_sort(places.begin(), places.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  Trace t;
  t.profile.period = period;
  for (const auto& [position, member] : places) {
    // Two touches at one place would have no spacing.
    if (!t.members.empty() && position - t.profile.positions.back() < 1e-9) continue;
    t.members.push_back(member);
    t.profile.positions.push_back(position);
  }
  return t;
}

// Round the axis; closed when no gap is wider than three times the usual one.
Trace ringOf(const Reference& r, const MeasuredFeature& m, const std::vector<std::size_t>& row) {
  const Frame inverse = frameOf(r.point, r.axis).inverse();
  double radius = 0;
  std::vector<std::pair<double, std::size_t>> places;
  for (const std::size_t i : row) {
    const Vec3 q = inverse * m.points[i];
    radius += std::hypot(q.x(), q.y()) / static_cast<double>(row.size());
    places.emplace_back(std::atan2(q.y(), q.x()), i);
  }
  std::sort(places.begin(), places.end());
  double gap = 2 * kPi + places.front().first - places.back().first;
  std::size_t after = 0;
  for (std::size_t k = 1; k < places.size(); ++k)
    if (const double g = places[k].first - places[k - 1].first; g > gap) gap = g, after = k;
  const double usual =
      (2 * kPi - gap) / static_cast<double>(std::max<std::size_t>(1, places.size() - 1));
  const bool closed = gap <= 3 * usual;
  if (!closed) // an arc begins after its gap
    for (std::size_t k = 0; k < after; ++k)
      places[k].first += 2 * kPi;
  for (auto& [position, member] : places)
    position *= radius;
  return ordered(std::move(places), closed ? 2 * kPi * radius : 0);
}

// Along the longest way between its points.
Trace lineOf(const MeasuredFeature& m, const std::vector<std::size_t>& row) {
  const Vec3 from = m.points[row.front()];
  Vec3 along = Vec3::Zero();
  for (const std::size_t i : row)
    if ((m.points[i] - from).norm() > along.norm()) along = m.points[i] - from;
  if (along.norm() > 0) along.normalize();
  std::vector<std::pair<double, std::size_t>> places;
  places.reserve(row.size());
  for (const std::size_t i : row)
    places.emplace_back((m.points[i] - from).dot(along), i);
  return ordered(std::move(places), 0);
}

bool runsAlong(const Reference& r, const MeasuredFeature& m, const std::vector<std::size_t>& row) {
  double low = 1e300, high = -1e300, across = 0;
  for (const std::size_t i : row) {
    const Vec3 d = m.points[i] - m.points[row.front()];
    const double t = d.dot(r.axis);
    low = std::min(low, t), high = std::max(high, t);
    across = std::max(across, (d - t * r.axis).norm());
  }
  return high - low > 2 * across;
}

Done smooth(const NominalFeature& f, const Reference& r, const Filtering& filtering,
            MeasuredFeature& m) {
  const bool round = hasAxis(f.ideal) || f.ideal.type == SurfaceType::Sphere;
  if (!round && !m.sectioned)
    return fail("{}: its touches lie in no lines, so there is no profile to filter; measure it in "
                "lines or leave out the filter.",
                f.name);
  const MeasuredFeature raw = m;
  for (const auto& [row, members] : raw.byRow()) {
    if (members.size() < 3) continue;
    const bool ring = round && !runsAlong(r, raw, members);
    Trace trace = ring ? ringOf(r, raw, members) : lineOf(raw, members);
    if (trace.members.size() < 3) continue;
    double cutoff = filtering.cutoff;
    if (cutoff <= 0) {
      if (trace.profile.period <= 0)
        return fail("{}: its lines are open, so the filter needs a cut-off in mm.", f.name);
      cutoff = trace.profile.period / filtering.undulations;
    }
    for (const std::size_t i : trace.members)
      trace.profile.values.push_back(r.deviations[i]);
    const auto smooth = filtered(trace.profile, filtering.kind, cutoff);
    for (std::size_t k = 0; k < trace.members.size(); ++k) {
      const std::size_t i = trace.members[k];
      m.points[i] += (smooth[k] - r.deviations[i]) * r.normals[i];
    }
  }
  return {};
}

class Conditioner {
 public:
  Conditioner(const Plan& plan, const Requirement& r, const Measurements& raw)
      : plan_(plan)
      , r_(r)
      , raw_(raw) {}

  Result<Conditioned> run() {
    const auto wanted = neededBy(plan_.spec, r_);
    for (FeatureId id : touchedFor(plan_.spec, wanted))
      if (auto done = touched(id); !done) return pass(done.error());
    for (FeatureId id : wanted)
      if (plan_.nominal(id).isConstructed()) (void)constructed(id);
    return std::move(out_);
  }

 private:
  Done touched(FeatureId id) {
    const auto found = raw_.find(id);
    if (found == raw_.end()) return {};
    const NominalFeature& f = plan_.nominal(id);
    const bool own = std::find(r_.features.begin(), r_.features.end(), id) != r_.features.end();
    const Filtering& filtering = own && r_.filtering ? *r_.filtering : f.filtering;
    if (!filtering.any()) {
      out_.measured.emplace(id, found->second);
      return {};
    }
    auto filtered = filteredFeature(plan_, f, found->second, filtering);
    if (!filtered) return pass(filtered.error());
    out_.measured.emplace(id, std::move(*filtered));
    if (own) out_.how = describe(filtering);
    return {};
  }

  Result<Shaped> shapeOf(FeatureId id) {
    if (plan_.nominal(id).isConstructed())
      if (auto shape = constructed(id); !shape) return shape;
    const auto m = out_.measured.find(id);
    if (m == out_.measured.end()) return fail("{} is not measured", plan_.nominal(id).name);
    return measuredShape(plan_.nominal(id), m->second);
  }

  Result<Shaped> constructed(FeatureId id) {
    if (const auto done = shapes_.find(id); done != shapes_.end()) return done->second;
    const NominalFeature& f = plan_.nominal(id);
    std::vector<Shaped> parents;
    for (FeatureId parent : f.from->of) {
      auto s = shapeOf(parent);
      if (!s) return refuse(id, s.error());
      parents.push_back(std::move(*s));
    }
    auto shape = construct(*f.from, parents);
    if (!shape) return refuse(id, shape.error());
    MeasuredFeature m;
    m.points = shape->points;
    m.rows = shape->rows;
    out_.measured[id] = std::move(m);
    shapes_[id] = shape;
    return shape;
  }
  tl::unexpected<Error> refuse(FeatureId id, const Error& error) {
    out_.why[id] = plan_.nominal(id).name + ": " + error.message;
    shapes_[id] = tl::unexpected<Error>(error);
    return pass(error);
  }

  const Plan& plan_;
  const Requirement& r_;
  const Measurements& raw_;
  Conditioned out_;
  std::map<FeatureId, Result<Shaped>> shapes_;
};

} // namespace

std::vector<FeatureId> neededBy(const Specification& spec, const Requirement& r) {
  std::vector<FeatureId> needed = r.features;
  const auto datums = datumFeatures(spec, r);
  needed.insert(needed.end(), datums.begin(), datums.end());
  for (const Requirement* other : simultaneous(spec, r))
    needed.insert(needed.end(), other->features.begin(), other->features.end());
  return needed;
}

Result<Conditioned> conditioned(const Plan& plan, const Requirement& requirement,
                                const Measurements& raw) {
  return Conditioner(plan, requirement, raw).run();
}

namespace {

// One ring of touches says where it is and how wide, not which way a bore runs.
bool isOneRing(const NominalFeature& f, const MeasuredFeature& m) {
  const bool round = f.ideal.type == SurfaceType::Cylinder || f.ideal.type == SurfaceType::Cone;
  return f.as_touched && round &&
         std::all_of(m.rows.begin(), m.rows.end(), [&](int row) { return row == m.rows.front(); });
}

} // namespace

Result<Shaped> measuredShape(const NominalFeature& f, const MeasuredFeature& m) {
  if (isOneRing(f, m) && !isCircle(f.ideal)) {
    NominalFeature ring = f;
    ring.ideal.type = SurfaceType::Cylinder;
    ring.ideal.length = 0;
    return measuredShape(ring, m);
  }
  auto actual = actualOf(f, m);
  if (!actual) return pass(actual.error());
  Shaped s{f.ideal, m.points, m.rows};
  const Derived& d = actual->derived;
  s.ideal.point = d.point;
  s.ideal.direction = d.direction;
  if (actual->size) s.ideal.diameter = *actual->size;
  if (d.kind == Derived::Kind::Axis) {
    s.ideal.point += d.from * d.direction;
    s.ideal.length = isCircle(f.ideal) ? 0 : d.to - d.from;
  }
  if (actual->half_angle) { // the fit gives the diameter of a cone at its own point
    auto cone = associationOf(f, m, Criterion::LeastSquares);
    if (!cone) return pass(cone.error());
    s.ideal.half_angle = *actual->half_angle;
    s.ideal.diameter = cone->diameter + 2 * (s.ideal.point - cone->point).dot(d.direction) *
                                            std::tan(s.ideal.half_angle);
  }
  return s;
}

Result<MeasuredFeature> filteredFeature(const Plan& plan, const NominalFeature& f,
                                        const MeasuredFeature& raw, const Filtering& filtering) {
  if (auto valid = validate(filtering); !valid)
    return fail("{}: {}", f.name, valid.error().message);
  MeasuredFeature m = raw;
  if (filtering.outlier_sigma > 0 || filtering.outlier_share > 0) {
    auto kept =
        withoutOutliers(raw.points.size(), filtering,
                        [&](const std::vector<std::size_t>& some) -> Result<std::vector<double>> {
                          auto r = referenceOf(plan, f, only(raw, some));
                          if (!r) return pass(r.error());
                          return std::move(r->deviations);
                        });
    if (!kept) return fail("{}: {}", f.name, kept.error().message);
    m = only(raw, *kept);
  }
  if (filtering.kind == FilterKind::None) return m;
  auto reference = referenceOf(plan, f, m);
  if (!reference) return pass(reference.error());
  if (auto done = smooth(f, *reference, filtering, m); !done) return pass(done.error());
  return m;
}

} // namespace alder
