#include "judge/judge.h"

#include "base/units.h"
#include "judge/coarse_place.h"
#include "judge/conditioning.h"
#include "judge/datum_system.h"
#include "judge/dimensions.h"
#include "judge/forms.h"
#include "judge/point_noise.h"
#include "judge/setup_join.h"
#include "judge/zones.h"
#include "plan/constructions/construct.h"
#include "requirement/formula.h"
#include "requirement/limits.h"
#include "requirement/plane_indicator.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <tbb/parallel_for.h>

namespace alder {

namespace {

Result<Evaluation> evaluate(const Plan& plan, const Requirement& r, const Measurements& m,
                            const SizeRooms& rooms) {
  switch (r.kind) {
  case Characteristic::Size:
    return judgeSize(plan, r, m, rooms);
  case Characteristic::Distance:
    return judgeDistance(plan, r, m);
  case Characteristic::Angle:
    return judgeAngle(plan, r, m);
  case Characteristic::Straightness:
  case Characteristic::Flatness:
  case Characteristic::Roundness:
  case Characteristic::Cylindricity:
    return judgeForm(plan, r, m);
  case Characteristic::CircularRunout:
  case Characteristic::TotalRunout:
    return judgeRunout(plan, r, m);
  default:
    return judgeZone(plan, r, m);
  }
}

// The result speaks of the points as they came.
void toRawPoints(const Conditioned& c, const Measurements& raw, FeatureResult& f) {
  const auto m = c.measured.find(f.feature);
  const auto all = raw.find(f.feature);
  if (m == c.measured.end() || all == raw.end() || m->second.origin.empty()) return;
  const auto& origin = m->second.origin;
  if (!f.deviations.empty()) {
    std::vector<double> deviations(all->second.points.size(),
                                   std::numeric_limits<double>::quiet_NaN());
    for (std::size_t i = 0; i < f.deviations.size() && i < origin.size(); ++i)
      deviations[origin[i]] = f.deviations[i];
    f.deviations = std::move(deviations);
  }
  for (Contact& contact : f.contacts)
    if (contact.point < origin.size()) contact.point = origin[contact.point];
}

// Where one placement serves a pattern, several use the same share of zones of different size, but
// for rounding: which of them stands first must not hang on that.
void largestOfEqualsFirst(std::vector<FeatureResult>& sorted) {
  constexpr double kEqual = 1e-5;
  const auto end = std::find_if(sorted.begin(), sorted.end(), [&](const FeatureResult& f) {
    return !(f.share >= sorted.front().share * (1 - kEqual));
  });
  const auto largest =
      std::max_element(sorted.begin(), end, [](const FeatureResult& a, const FeatureResult& b) {
        return a.actual < b.actual;
      });
  if (largest != end) std::rotate(sorted.begin(), largest, largest + 1);
}

class Judge {
 public:
  Judge(const Plan& plan, const Measurements& raw)
      : plan_(plan)
      , raw_(raw) {}

  Evaluation one(const Requirement& r) {
    Evaluation none;
    none.requirement = r.id;
    none.lower = isDimension(r.kind) ? r.lower : 0;
    none.upper = isDimension(r.kind) ? r.upper : r.tolerance;
    const auto stated_for = raw_.stated.find(r.id);
    auto result = stated_for != raw_.stated.end()   ? stated(r, stated_for->second)
                  : r.kind == Characteristic::Value ? value(r)
                                                    : measured(r);
    if (!result) {
      none.how = result.error().message;
      return none;
    }
    result->requirement = r.id;
    decide(r, *result);
    return std::move(*result);
  }

  // The same with what the points' own noise leaves open.
  Evaluation withNoise(const Requirement& r) {
    Evaluation e = one(r);
    if (!e.actual || raw_.stated.count(r.id)) return e;
    const auto expanded = uncertaintyOfNoise(plan_, r, raw_, *e.actual, [&](const Measurements& m) {
      return Judge(plan_, m).one(r).actual;
    });
    if (!expanded) return e;
    noise_ = *expanded;
    return one(r);
  }

 private:
  Result<Evaluation> measured(const Requirement& r) {
    if (const Requirement whole = withIndicatedDatums(r); whole.datums != r.datums) {
      if (!simultaneous(plan_.spec, r).empty())
        return fail(
            "Its plane indicator adds a datum to the system that others are held in with it; "
            "name it among the datums of all of them.");
      return measured(whole);
    }
    for (FeatureId id : touchedFor(plan_.spec, r.features))
      if (!raw_.count(id)) return fail("{} is not measured.", plan_.nominal(id).name);
    const bool zero_at_limit = r.tolerance == 0 && r.material != MaterialModifier::None;
    if (r.features.empty()) return fail("The model ties it to no feature.");
    if (auto count = indicatorsCount(r); !count) return pass(count.error());
    if (r.tolerance <= 0 && !zero_at_limit) return fail("It has no limits to judge by.");
    auto points = placed(r);
    if (!points) return pass(points.error());
    for (FeatureId id : r.features)
      if (const auto why = points->why.find(id); why != points->why.end())
        return fail("{}.", why->second);
    auto result = evaluate(plan_, r, points->measured, roomsOf(r));
    if (!result) return pass(result.error());
    Evaluation& e = *result;
    for (FeatureResult& f : e.features)
      toRawPoints(*points, raw_, f);
    if (!points->how.empty())
      e.how += " With " + points->how + ".";
    else if (isForm(r.kind))
      e.how += " No filter.";
    std::stable_sort(
        e.features.begin(), e.features.end(),
        [](const FeatureResult& a, const FeatureResult& b) { return a.share > b.share; });
    largestOfEqualsFirst(e.features);
    const FeatureResult& worst = e.features.front();
    const bool finite = std::all_of(e.features.begin(), e.features.end(),
                                    [](const FeatureResult& f) { return std::isfinite(f.actual); });
    if (!finite)
      return fail("The figure is not a number; check the nominal places and the points.");
    e.actual = worst.actual;
    e.share = worst.share;
    if (isDimension(r.kind)) {
      if (r.kind != Characteristic::Size) e.lower = r.lower, e.upper = r.upper;
      e.deviation = worst.actual - r.nominal;
    } else {
      e.upper = worst.allowed;
      e.deviation = worst.actual;
    }
    return result;
  }

  // An indicator that could not count would be dropped without a word.
  Done indicatorsCount(const Requirement& r) const {
    const bool axis = std::all_of(r.features.begin(), r.features.end(), [&](FeatureId id) {
      return nominalDerived(plan_.nominal(id)).kind == Derived::Kind::Axis;
    });
    const bool of_place = isOrientation(r.kind) || r.kind == Characteristic::Position ||
                          r.kind == Characteristic::Coaxiality ||
                          r.kind == Characteristic::Symmetry;
    if (r.zone_plane && !(of_place && axis && r.zone == Zone::Planar))
      return fail(
          "An orientation plane is for a zone between two planes that an axis lies in; this "
          "zone is none.");
    if (r.section_plane && r.kind != Characteristic::Straightness &&
        r.kind != Characteristic::LineProfile)
      return fail("An intersection plane is for the straightness or the profile of lines; this is "
                  "neither.");
    if (!r.zone_plane) return {};
    const auto planes = planesOf(plan_.spec, *r.zone_plane);
    if (!planes) return pass(planes.error());
    for (FeatureId id : r.features)
      if (!zoneNormal(*planes, nominalDerived(plan_.nominal(id)).direction))
        return fail("The axis of {} cannot lie between planes that are {}.", plan_.nominal(id).name,
                    text(r.zone_plane));
    return {};
  }

  // The points filtered and brought to where the nominals are: by the datum system as far as it
  // places the part, else by the features themselves. Ends of axes, sides of slots, datum targets
  // and rings are then told apart by nominal places, wherever the part lay.
  Result<Conditioned> placed(const Requirement& r) const {
    // Along the axes of the part: the frame of the points is what is spoken of.
    if (r.along != Along::Direct && r.datums.empty()) return conditioned(plan_, r, raw_);
    const auto touched = touchedFor(plan_.spec, neededBy(plan_.spec, r));
    const Measurements coarse = placedBack(raw_, touched, coarsePlace(plan_, touched, raw_));
    auto points = conditioned(plan_, r, coarse);
    if (!points || r.datums.empty()) return points;
    auto system = datumSystemOf(plan_, r, points->measured);
    if (!system) return pass(system.error());
    return conditioned(plan_, r, placedBack(coarse, touched, system->fit.placement));
  }

  // By figures that came without points, the worst of them. How they came about is not known here.
  Result<Evaluation> stated(const Requirement& r, const std::vector<StatedFigure>& figures) {
    if (figures.empty()) return fail("It is not measured.");
    const double bonus = figures.size() == 1 ? statedBonus(r) : 0;
    Evaluation e;
    e.lower = isDimension(r.kind) ? r.lower : 0;
    e.upper = isDimension(r.kind) ? r.upper : r.tolerance + bonus;
    const StatedFigure* worst = nullptr;
    for (const StatedFigure& f : figures) {
      if (!std::isfinite(f.value)) return fail("The stated figure is not a number.");
      const double share = isDimension(r.kind) ? shareOfLimits(r, f.value)
                           : e.upper > 0       ? f.value / e.upper
                                               : (f.value > 0 ? 2 : 1);
      if (!worst || share > e.share) worst = &f, e.share = share;
    }
    const std::size_t features = std::max<std::size_t>(r.features.size(), 1);
    const bool pair = r.kind == Characteristic::Distance || r.kind == Characteristic::Angle;
    if (!pair && figures.size() > 1 && figures.size() < features && e.share <= 1)
      return fail("Only {} of its {} features have a figure.", figures.size(), features);
    e.actual = worst->value;
    e.deviation = isDimension(r.kind) ? worst->value - r.nominal : worst->value;
    e.how = "As stated in " + worst->source + "; not computed here.";
    if (figures.size() > 1)
      e.how += fmt::format(" The worst of {} figures.", figures.size());
    else if (features > 1 && !pair)
      e.how += fmt::format(" One figure for all of its {} features.", features);
    if (bonus > 0)
      e.how += fmt::format(" With a bonus of {:.4f} by the size of the feature.", bonus);
    return e;
  }

  // Of the material modifier, by the size found for the feature (ISO 2692).
  double statedBonus(const Requirement& r) {
    if (r.material == MaterialModifier::None || isDimension(r.kind) || r.features.size() != 1)
      return 0;
    const Requirement* size = plan_.spec.sizeOf(r.features.front());
    if (!size || size->id == r.id) return 0;
    const Evaluation found = one(*size);
    if (!found.actual || size->features.size() != 1) return 0;
    const bool hole = plan_.nominal(r.features.front()).ideal.hole;
    const bool from_lower = hole == (r.material == MaterialModifier::Maximum);
    const double bonus = from_lower ? *found.actual - size->lower : size->upper - *found.actual;
    if (!std::isfinite(bonus)) return 0; // the limit that it counts from is open
    return std::clamp(bonus, 0.0, size->upper - size->lower);
  }

  // What tolerances with reciprocity leave to the sizes of their features (ISO 2692 clause 7).
  SizeRooms roomsOf(const Requirement& size) {
    SizeRooms rooms;
    if (size.kind != Characteristic::Size) return rooms;
    for (const Requirement& other : plan_.spec.requirements) {
      if (!other.reciprocity || isDimension(other.kind)) continue;
      if (other.material != MaterialModifier::Maximum && other.material != MaterialModifier::Least)
        continue;
      if (std::find_first_of(other.features.begin(), other.features.end(), size.features.begin(),
                             size.features.end()) == other.features.end())
        continue;
      for (const FeatureResult& f : one(other).features) {
        const double unused = std::max(0.0, other.tolerance - f.actual);
        const bool hole = plan_.nominal(f.feature).ideal.hole;
        const bool below = hole == (other.material == MaterialModifier::Maximum);
        SizeRoom& room = rooms[f.feature];
        (below ? room.below : room.above) = unused;
      }
    }
    return rooms;
  }

  // Computed from other figures, whose own formulas are followed.
  Result<Evaluation> value(const Requirement& r) {
    if (r.formula.empty()) return fail("It has no formula yet.");
    path_.push_back(r.balloon);
    auto v = evaluateFormula(r.formula,
                             [&](const FormulaReference& reference) { return valueOf(reference); });
    path_.pop_back();
    if (!v) return pass(v.error());
    Evaluation e;
    e.actual = *v;
    e.lower = r.lower, e.upper = r.upper;
    e.deviation = *v - r.nominal;
    e.share = shareOfLimits(r, *v);
    e.how = "Computed as " + r.formula + ".";
    return e;
  }

  Result<double> valueOf(const FormulaReference& reference) {
    if (reference.balloon == 0) return featureValue(reference);
    if (std::find(path_.begin(), path_.end(), reference.balloon) != path_.end()) {
      std::string way;
      for (const int balloon : path_)
        way += "#" + std::to_string(balloon) + " -> ";
      return fail("A value cannot depend on itself: {}{}.", way, reference.text);
    }
    for (const Requirement& other : plan_.spec.requirements)
      if (other.balloon == reference.balloon) {
        const Evaluation e = one(other);
        if (!e.actual) return fail("{} has no figure: {}", reference.text, e.how);
        return other.kind == Characteristic::Angle ? shownDegrees(*e.actual) : *e.actual;
      }
    return fail("There is no requirement {}.", reference.text);
  }

  Result<double> featureValue(const FormulaReference& reference) {
    for (const NominalFeature& f : plan_.spec.features) {
      if (f.name != reference.feature) continue;
      Requirement all;
      all.features = {f.id};
      auto points = conditioned(plan_, all, raw_);
      if (!points) return pass(points.error());
      const auto m = points->measured.find(f.id);
      if (m == points->measured.end()) return fail("{} is not measured.", f.name);
      auto shape = measuredShape(f, m->second);
      if (!shape) return pass(shape.error());
      return quantityOf(reference, f, *shape, m->second);
    }
    return fail("There is no feature \"{}\".", reference.feature);
  }

  static Result<double> quantityOf(const FormulaReference& reference, const NominalFeature& f,
                                   const Shaped& shape, const MeasuredFeature& m) {
    const std::string& q = reference.quantity;
    const Ideal& i = shape.ideal;
    if (q.size() == 1 && q[0] >= 'x' && q[0] <= 'z') return i.point[q[0] - 'x'];
    if (q.size() == 1 && q[0] >= 'i' && q[0] <= 'k') return i.direction[q[0] - 'i'];
    const bool sized = i.diameter > 0 && i.type != SurfaceType::Cone;
    if (sized && (q == "diameter" || q == "width")) return i.diameter;
    if (sized && q == "radius") return i.diameter / 2;
    if (q == "angle" && i.type == SurfaceType::Cone) return shownDegrees(2 * i.half_angle);
    if (q == "form" && !isPoint(i))
      return actualOf(f, m, Criterion::MinimumZone).map([](const Actual& a) { return a.form; });
    return fail("{}: a {} has no {}.", f.name, name(i.type), q);
  }

  // `inside`: how far from the nearest limit, beyond it negative. A figure on the limit is within
  // it; what the computation adds to one does not decide.
  Verdict verdictOf(const Requirement& r, double share, double inside, double guard) const {
    if (guard > 0 && std::abs(inside) < guard) return Verdict::NotProved;
    const bool has_share = !hasSingleLimit(r);
    return share > 1 + 1e-9                              ? Verdict::Outside
           : has_share && share >= plan_.spec.near_share ? Verdict::Near
                                                         : Verdict::Within;
  }

  void decide(const Requirement& r, Evaluation& e) const {
    const bool length = r.kind != Characteristic::Angle && r.kind != Characteristic::Value;
    const double stated = r.uncertainty.value_or(length ? plan_.spec.uncertainty : 0);
    const double expanded = std::max(stated, noise_);
    e.guard = 1.65 * expanded / 2;
    const double inside =
        std::min(e.upper - *e.actual, isDimension(r.kind) ? *e.actual - e.lower : e.upper);
    e.verdict = verdictOf(r, e.share, inside, e.guard);
    for (FeatureResult& f : e.features) {
      const double left = !isDimension(r.kind) ? f.allowed - f.actual
                          : hasSingleLimit(r)  ? std::min(e.upper - f.actual, f.actual - e.lower)
                                               : (1 - f.share) * f.allowed / 2;
      f.verdict = verdictOf(r, f.share, left, e.guard);
    }
    if (e.guard <= 0) return;
    const double shown = r.kind == Characteristic::Angle ? degrees(expanded) : expanded;
    e.how +=
        fmt::format(" Decided by ISO 14253-1 with U = {}{}{}",
                    noise_ > stated ? fmt::format("{:.2g}", shown) : fmt::format("{:g}", shown),
                    noise_ > stated ? ", which the noise of the points alone leaves open" : "",
                    std::abs(inside) >= e.guard ? "." : ": too near the limit to prove either.");
  }

  const Plan& plan_;
  const Measurements& raw_;
  std::vector<int> path_;
  double noise_ = 0; // expanded uncertainty that it leaves, once known
};

} // namespace

namespace {

Evaluation judgeJoined(const Plan& plan, const Requirement& r, const Measurements& measured,
                       const Joined& joined) {
  if (std::string why = whyApart(plan, r, joined.joins); !why.empty()) {
    if (const auto alone = inOneSetup(plan, r, measured)) {
      Evaluation e = Judge(plan, alone->measured).withNoise(r);
      e.how += fmt::format(" From what {} alone touches: {}", nameOfSetup(plan, alone->setup), why);
      return e;
    }
    Evaluation none;
    none.requirement = r.id;
    none.lower = isDimension(r.kind) ? r.lower : 0;
    none.upper = isDimension(r.kind) ? r.upper : r.tolerance;
    none.how = std::move(why);
    return none;
  }
  Evaluation e = Judge(plan, joined.measured).withNoise(r);
  e.how += joinWords(plan, r, joined.joins);
  return e;
}

template <class One> std::vector<Evaluation> each(const Plan& plan, const One& one) {
  const auto& all = plan.spec.requirements;
  std::vector<Evaluation> result(all.size());
  tbb::parallel_for(
      std::size_t{0}, all.size(), [&](std::size_t i) { result[i] = one(all[i]); },
      tbb::simple_partitioner());
  return result;
}

} // namespace

Evaluation judge(const Plan& plan, const Requirement& r, const Measurements& measured) {
  if (hasPortions(plan.spec)) return judgeJoined(plan, r, measured, joinedSetups(plan, measured));
  return Judge(plan, measured).withNoise(r);
}

std::vector<Evaluation> judgeAll(const Plan& plan, const Measurements& measured) {
  if (hasPortions(plan.spec)) {
    const Joined joined = joinedSetups(plan, measured);
    return each(plan, [&](const Requirement& r) { return judgeJoined(plan, r, measured, joined); });
  }
  return each(plan, [&](const Requirement& r) { return judge(plan, r, measured); });
}

} // namespace alder
