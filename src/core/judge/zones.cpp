#include "judge/zones.h"

#include "base/units.h"
#include "judge/actual.h"
#include "judge/datum_system.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

bool isOrientation(Characteristic k) {
  return k == Characteristic::Parallelism || k == Characteristic::Perpendicularity ||
         k == Characteristic::Angularity;
}
bool isProfile(Characteristic k) {
  return k == Characteristic::SurfaceProfile || k == Characteristic::LineProfile;
}

// One toleranced feature: what is compared with the nominal, and how much is allowed.
struct Toleranced {
  FeatureId feature;
  const MeasuredFeature* points = nullptr;
  std::optional<Actual> actual;
  std::optional<NominalSurface> surface; // profile, and planes whose points count themselves
  double allowed = 0;
  double bonus = 0;
};

class ZoneJudge {
 public:
  ZoneJudge(const Plan& plan, const Requirement& r, const Measurements& m)
      : plan_(plan)
      , r_(r)
      , m_(m) {}

  Result<Evaluation> run() {
    auto system = datumSystemOf(plan_, r_, m_);
    if (!system) return pass(system.error());
    std::vector<Toleranced> all;
    for (FeatureId id : r_.features) {
      auto one = prepare(id);
      if (!one) return pass(one.error());
      all.push_back(std::move(*one));
    }
    Evaluation e;
    // Orientation concerns each feature for itself; a pattern is located as one.
    if (isOrientation(r_.kind)) {
      for (const Toleranced& t : all)
        judgeGroup(*system, {t}, e);
    } else {
      judgeGroup(*system, all, e);
    }
    describeHow(*system, all, e);
    return e;
  }

 private:
  Result<Toleranced> prepare(FeatureId id) const {
    const NominalFeature& f = plan_.nominal(id);
    Toleranced t{id, &m_.at(id), {}, {}, r_.tolerance, 0};
    const bool surface = isProfile(r_.kind) || f.ideal.type == SurfaceType::Plane ||
                         f.ideal.type == SurfaceType::Freeform ||
                         f.ideal.type == SurfaceType::Torus;
    if (surface) t.surface.emplace(plan_.part, f);
    if (!isProfile(r_.kind) && f.ideal.type != SurfaceType::Plane) {
      auto actual = actualOf(f, *t.points);
      if (!actual) return pass(actual.error());
      t.actual = std::move(*actual);
      t.bonus = bonus(id, *t.actual);
      t.allowed += t.bonus;
    }
    return t;
  }

  // Maximum material: the distance of the actual size from the maximum material size; least
  // material likewise (ISO 2692).
  double bonus(FeatureId id, const Actual& actual) const {
    const Requirement* size = plan_.spec.sizeOf(id);
    if (r_.material == MaterialModifier::None || !size || !actual.size) return 0;
    const double factor = size->radius ? 2 : 1;
    const bool from_lower =
        plan_.nominal(id).ideal.hole == (r_.material == MaterialModifier::Maximum);
    const double departure =
        from_lower ? *actual.size - factor * size->lower : factor * size->upper - *actual.size;
    return std::clamp(departure, 0.0, factor * (size->upper - size->lower));
  }

  // Vectors from the nominal, placed by T, to the actual feature; half the zone counts from them.
  std::vector<Vec3> residuals(const Toleranced& t, const Frame& placement) const {
    std::vector<Vec3> result;
    if (t.surface) {
      const Frame inverse = placement.inverse();
      for (double d : distances(t, inverse))
        result.emplace_back(d - r_.unequal, 0, 0);
      return result;
    }
    const Derived nominal = nominalDerived(plan_.nominal(t.feature));
    const Derived& actual = t.actual->derived;
    const Vec3 point = placement * nominal.point, direction = turn(placement, nominal.direction);
    if (nominal.kind == Derived::Kind::Point) return {actual.point - point};
    if (nominal.kind == Derived::Kind::Axis) {
      for (double along : {actual.from, actual.to}) {
        const Vec3 d = actual.point + along * actual.direction - point;
        result.push_back(d - d.dot(direction) * direction);
      }
      return result;
    }
    for (const Vec3& p : t.points->points) { // mid plane, over the touched area
      const Vec3 on = p - (p - actual.point).dot(actual.direction) * actual.direction;
      result.push_back((on - point).dot(direction) * direction);
    }
    return result;
  }

  std::vector<double> distances(const Toleranced& t, const Frame& inverse) const {
    std::vector<double> result;
    for (std::size_t i = 0; i < t.points->points.size(); ++i) {
      const FaceId face =
          i < t.points->faces.size() ? t.points->faces[i] : plan_.nominal(t.feature).faces.front();
      result.push_back(t.surface->distance(face, inverse * t.points->points[i]));
    }
    return result;
  }

  void judgeGroup(const DatumSystem& system, const std::vector<Toleranced>& group,
                  Evaluation& e) const {
    const bool free_to_move = isOrientation(r_.kind) || r_.upper_segment.valid();
    const Freedom freedom = free_to_move ? system.fit.withTranslations() : system.fit.freedom;
    const Frame placement = minimiseWorst(system.fit, freedom, [&](const Frame& at) {
      std::vector<Vec3> all;
      for (const Toleranced& t : group)
        for (const Vec3& v : residuals(t, at))
          all.push_back(v * (r_.tolerance / t.allowed));
      return all;
    });
    const Mat3 back = placement.linear().transpose();
    for (const Toleranced& t : group) {
      FeatureResult f{t.feature, 0, t.allowed, 0, Vec3::Zero(), {}};
      for (const Vec3& v : residuals(t, placement))
        if (2 * v.norm() >= f.actual)
          f.actual = 2 * v.norm(), f.offset = t.surface ? v : Vec3(back * v);
      f.share = f.actual / t.allowed;
      if (t.surface) f.deviations = distances(t, placement.inverse());
      e.features.push_back(std::move(f));
    }
  }

  void describeHow(const DatumSystem& system, const std::vector<Toleranced>& all,
                   Evaluation& e) const {
    e.how = isProfile(r_.kind) ? "ISO 1660, twice the largest deviation from the nominal surface"
            : isOrientation(r_.kind) ? "ISO 1101, zone free in location"
                                     : "ISO 1101, zone about the nominal place";
    if (r_.unequal != 0) e.how += ", zone moved out by " + shortFigure(r_.unequal) + " mm";
    e.how += system.how.empty() ? "; best fit, no datum"
                                : "; datum system " + system.how + " in order by least squares";
    if (all.size() > 1 && !isOrientation(r_.kind)) e.how += "; the features as one pattern";
    if (r_.upper_segment.valid()) e.how += ", free in translation";
    if (!all.front().surface) e.how += "; features by least squares over their length";
    if (r_.material != MaterialModifier::None) e.how += "; with bonus from the least-squares size";
    for (const DatumReference& d : r_.datums)
      if (d.material != MaterialModifier::None)
        e.how += "; datum shift not used, which is stricter";
    e.how += ".";
  }

  const Plan& plan_;
  const Requirement& r_;
  const Measurements& m_;
};

} // namespace

Result<Evaluation> judgeZone(const Plan& plan, const Requirement& r, const Measurements& m) {
  return ZoneJudge(plan, r, m).run();
}

} // namespace alder
