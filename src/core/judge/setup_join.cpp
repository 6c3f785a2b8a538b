#include "judge/setup_join.h"

#include "base/units.h"
#include "fit/small_linear.h"
#include "judge/actual.h"
#include "judge/coarse_place.h"
#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace alder {
namespace {

// A surface that is touched in the set-up and was before.
struct Common {
  FeatureId before, now;
  Points known;   // in the first frame
  Points raw;     // in the set-up's
  double own = 0; // root mean square of both from surfaces of their own: form and noise
};

double rmsOf(const NominalFeature& nominal, const Points& points) {
  const auto fit = associationOf(nominal, {points, {}, {}, {}}, Criterion::LeastSquares);
  return fit ? fit->rms : 0;
}

class JoinFit {
 public:
  JoinFit(const Plan& plan, std::vector<Common> common)
      : plan_(plan)
      , common_(std::move(common)) {
    for (Common& c : common_) {
      const NominalFeature& n = plan_.nominal(c.before);
      const double a = rmsOf(n, c.known), b = rmsOf(n, c.raw);
      const auto na = static_cast<double>(c.known.size()), nb = static_cast<double>(c.raw.size());
      c.own = std::sqrt((na * a * a + nb * b * b) / (na + nb));
    }
  }

  // Moves the set-up's points to the known ones. Error: what they leave free.
  Result<Frame> placed(const Frame& start) {
    constexpr int kMost = 200;
    constexpr double kStill = 1e-9; // mm, at the reach of the points
    Frame placement = start;
    for (int i = 0; i < kMost; ++i) {
      auto surfaces = surfacesAt(placement);
      if (!surfaces) return pass(surfaces.error());
      auto step = stepAt(placement, *surfaces);
      if (!step) return pass(step.error());
      placement = step->first * placement;
      if (step->second < kStill) break;
    }
    return placement;
  }

  void tell(const Frame& placement, SetupJoin& join) const {
    const auto surfaces = surfacesAt(placement);
    if (!surfaces) return;
    double squares = 0, count = 0;
    for (std::size_t i = 0; i < common_.size(); ++i) {
      const Common& c = common_[i];
      const auto n = static_cast<double>(c.known.size() + c.raw.size());
      const double rms = (*surfaces)[i].rms;
      const double beyond = std::max(0.0, rms * rms - c.own * c.own);
      squares += n * beyond, count += n;
      if (const double misfit = std::sqrt(beyond); misfit > join.worst || i == 0)
        join.worst = misfit, join.worst_feature = c.before;
    }
    join.misfit = std::sqrt(squares / std::max(1.0, count));
  }

 private:
  Result<std::vector<Association>> surfacesAt(const Frame& placement) const {
    std::vector<Association> surfaces;
    for (const Common& c : common_) {
      MeasuredFeature all{c.known, {}, {}, {}};
      for (const Vec3& p : c.raw)
        all.points.push_back(placement * p);
      auto fit = associationOf(plan_.nominal(c.before), all, Criterion::LeastSquares);
      if (!fit) return fail("{}: {}", plan_.nominal(c.before).name, fit.error().message);
      surfaces.push_back(std::move(*fit));
    }
    return surfaces;
  }

  // The motion that lessens the squares most, and how far it moves the points at most.
  Result<std::pair<Frame, double>> stepAt(const Frame& placement,
                                          const std::vector<Association>& surfaces) const {
    constexpr double kHardly = 1e-3; // of the best held direction
    Points points;
    for (const Common& c : common_)
      for (const Vec3& p : c.raw)
        points.push_back(placement * p);
    const Vec3 middle = centroid(points);
    double reach = 1e-3;
    for (const Vec3& p : points)
      reach = std::max(reach, (p - middle).norm());
    SmallMatrix normal = SmallMatrix::Zero(6, 6);
    SmallVector right = SmallVector::Zero(6);
    std::size_t k = 0;
    for (std::size_t i = 0; i < common_.size(); ++i)
      for (std::size_t j = 0; j < common_[i].raw.size(); ++j, ++k) {
        const Vec3 n = normalAt(surfaces[i], points[k]);
        SmallVector row(6);
        row << (points[k] - middle).cross(n) / reach, n;
        normal += row * row.transpose();
        right -= row * deviation(surfaces[i], points[k]);
      }
    const Eigenpairs pairs = eigenpairs(normal);
    if (pairs.values[0] < kHardly * kHardly * pairs.values[5]) return fail("{}", free(pairs));
    const SmallVector x = solvePositive(normal, right);
    const Vec3 turned = Vec3(x.head<3>()) / reach, moved = x.tail<3>();
    return std::pair{smallMotion(turned, moved, middle), x.norm()};
  }

  std::string free(const Eigenpairs& pairs) const {
    const SmallVector way = pairs.vectors.col(0);
    const bool turns = way.head<3>().norm() > way.tail<3>().norm();
    std::string names;
    for (const Common& c : common_)
      names += (names.empty() ? "" : ", ") + plan_.nominal(c.before).name;
    return fmt::format("{} leave the part free to {}", names, turns ? "turn" : "slide");
  }

  const Plan& plan_;
  std::vector<Common> common_;
};

class Joiner {
 public:
  Joiner(const Plan& plan, const Measurements& measured)
      : plan_(plan)
      , raw_(measured) {
    joined_.measured.stated = measured.stated;
  }

  Joined run() {
    std::vector<SetupId> order;
    for (const Setup& s : plan_.setups)
      order.push_back(s.id);
    if (order.empty()) order.push_back(plan_.setup);
    for (SetupId id : order) {
      const auto features = featuresIn(id);
      Frame placement = Frame::Identity();
      if (id != order.front() && !features.empty()) {
        SetupJoin join{id};
        placement = placementOf(features, join);
        if (!join.why.empty()) join.placement = placement = Frame::Identity();
        joined_.joins.push_back(std::move(join));
      }
      for (FeatureId f : features)
        put(f, placement);
    }
    return std::move(joined_);
  }

 private:
  std::vector<FeatureId> featuresIn(SetupId id) const {
    std::vector<FeatureId> found;
    for (const auto& [f, m] : raw_) {
      const Feature* feature = plan_.features.find(f);
      if ((feature ? feature->setup : SetupId{0}) == id) found.push_back(f);
    }
    return found;
  }

  // Portions go to the features that they are judged with.
  void put(FeatureId id, const Frame& placement) {
    MeasuredFeature moved = raw_.at(id);
    for (Vec3& p : moved.points)
      p = placement * p;
    const NominalFeature* n = plan_.spec.features.find(id);
    const auto portion = n ? n->portion : std::nullopt;
    if (!portion) {
      auto& own = joined_.measured[id];
      own = own.points.empty() ? std::move(moved) : together(std::move(moved), own, n->ideal);
    } else if (!portion->joins) {
      auto& whole = joined_.measured[portion->of];
      whole = whole.points.empty() ? std::move(moved) : together(std::move(whole), moved, n->ideal);
    }
  }

  // Rings of a round feature that lie at the same place of its axis are one, of others rows of the
  // one do not run on in the other.
  static MeasuredFeature together(MeasuredFeature first, const MeasuredFeature& second,
                                  const Ideal& ideal) {
    int next = first.rows.empty() ? 0 : 1 + *std::max_element(first.rows.begin(), first.rows.end());
    first.rows.resize(first.points.size());
    std::map<int, int> row_of;
    for (const auto& [row, points] : second.byRow()) {
      int now = next;
      for (const auto& [other, others] : first.byRow())
        if (isRound(ideal) && sameRing(first, others, second, points, ideal.direction)) now = other;
      row_of[row] = now;
      next = std::max(next, now + 1);
    }
    for (std::size_t i = 0; i < second.points.size(); ++i)
      first.rows.push_back(row_of.at(i < second.rows.size() ? second.rows[i] : 0));
    const auto append = [](auto& to, const auto& from) {
      to.insert(to.end(), from.begin(), from.end());
    };
    append(first.points, second.points);
    append(first.faces, second.faces);
    append(first.nominals, second.nominals);
    append(first.noise, second.noise);
    return first;
  }
  static bool isRound(const Ideal& i) { return hasAxis(i) || i.type == SurfaceType::Sphere; }
  static bool sameRing(const MeasuredFeature& a, const std::vector<std::size_t>& of_a,
                       const MeasuredFeature& b, const std::vector<std::size_t>& of_b,
                       const Vec3& axis) {
    constexpr double kSamePlace = 0.05; // mm
    const auto range = [&](const MeasuredFeature& m, const std::vector<std::size_t>& points) {
      Box2 box;
      for (std::size_t i : points)
        if (i < m.nominals.size()) box.extend(Vec2::Constant(m.nominals[i].dot(axis)));
      return box;
    };
    const Box2 x = range(a, of_a), y = range(b, of_b);
    return !x.isEmpty() && !y.isEmpty() && (x.min() - y.min()).norm() < kSamePlace &&
           (x.max() - y.max()).norm() < kSamePlace;
  }

  Frame placementOf(const std::vector<FeatureId>& features, SetupJoin& join) {
    std::vector<Common> common;
    const Frame coarse = coarsePlace(plan_, features, raw_).inverse();
    // Those before it lie where the first lay.
    const Frame first = coarsePlace(plan_, measuredBefore(), joined_.measured);
    const double most_misfit = limitOf(join.setup);
    for (FeatureId id : features) {
      const NominalFeature& n = plan_.nominal(id);
      if (!n.portion || !n.portion->joins) continue;
      const auto known = joined_.measured.find(n.portion->of);
      if (known == joined_.measured.end() || n.ideal.type == SurfaceType::Freeform) continue;
      common.push_back({n.portion->of, id, known->second.points, raw_.at(id).points, 0});
    }
    if (common.empty()) {
      join.why = "no feature is measured in it that was measured before";
      return Frame::Identity();
    }
    JoinFit fit(plan_, std::move(common));
    auto placement = fit.placed(first * coarse);
    if (!placement) {
      join.why = placement.error().message;
      return Frame::Identity();
    }
    join.placement = *placement;
    fit.tell(*placement, join);
    if (join.worst > most_misfit)
      join.why = fmt::format("{} disagrees by {} mm, {} mm are allowed",
                             plan_.nominal(join.worst_feature).name, figure(join.worst, 4),
                             shortFigure(most_misfit));
    return *placement;
  }

  std::vector<FeatureId> measuredBefore() const {
    std::vector<FeatureId> ids;
    for (const auto& [id, m] : joined_.measured)
      ids.push_back(id);
    return ids;
  }
  double limitOf(SetupId id) const {
    for (const Setup& s : plan_.setups)
      if (s.id == id) return s.most_misfit;
    return kMostMisfit;
  }

  const Plan& plan_;
  const Measurements& raw_;
  Joined joined_;
};

} // namespace

bool hasPortions(const Specification& spec) {
  return std::any_of(spec.features.begin(), spec.features.end(),
                     [](const NominalFeature& f) { return f.portion.has_value(); });
}

Joined joinedSetups(const Plan& plan, const Measurements& measured) {
  return Joiner(plan, measured).run();
}

namespace {

// In which the features of a requirement are touched; more than one: their joins count.
std::vector<SetupId> setupsFor(const Plan& plan, const Requirement& r) {
  std::vector<SetupId> setups;
  for (FeatureId id : featuresNeeded(plan.spec, r))
    if (const Feature* f = plan.features.find(id);
        f && std::find(setups.begin(), setups.end(), f->setup) == setups.end())
      setups.push_back(f->setup);
  return setups.size() > 1 ? setups : std::vector<SetupId>{};
}

} // namespace

std::optional<InOneSetup> inOneSetup(const Plan& plan, const Requirement& r,
                                     const Measurements& measured) {
  const auto needed = featuresNeeded(plan.spec, r);
  const auto setupOf = [&](FeatureId id) {
    const Feature* f = plan.features.find(id);
    return f ? f->setup : SetupId{0};
  };
  for (const Setup& s : plan.setups) {
    Measurements only; // of this set-up, as if there were no other
    only.stated = measured.stated;
    const bool all = std::all_of(needed.begin(), needed.end(), [&](FeatureId id) {
      FeatureId from = id;
      if (setupOf(id) != s.id)
        for (FeatureId joining : joiningIn(plan, s.id))
          if (plan.nominal(joining).portion->of == id) from = joining;
      const auto points = measured.find(from);
      if (setupOf(from) != s.id || points == measured.end()) return false;
      only[id] = points->second;
      return true;
    });
    if (!all) continue;
    Plan alone = plan;
    alone.setups.clear();
    for (Feature& f : alone.features)
      f.setup = alone.setup;
    return InOneSetup{s.id, joinedSetups(alone, only).measured};
  }
  return {};
}

std::string joinWords(const Plan& plan, const Requirement& r, const std::vector<SetupJoin>& joins) {
  std::string words;
  const auto setups = setupsFor(plan, r);
  for (const SetupJoin& join : joins)
    if (std::find(setups.begin(), setups.end(), join.setup) != setups.end())
      words += fmt::format(" {} joined with a misfit of {} mm.", nameOfSetup(plan, join.setup),
                           figure(join.misfit, 4));
  return words;
}

std::string whyApart(const Plan& plan, const Requirement& r, const std::vector<SetupJoin>& joins) {
  const auto setups = setupsFor(plan, r);
  for (const SetupJoin& join : joins)
    if (!join.why.empty() && std::find(setups.begin(), setups.end(), join.setup) != setups.end())
      return fmt::format("It needs features of several set-ups, and {} cannot be joined: {}.",
                         nameOfSetup(plan, join.setup), join.why);
  return {};
}

} // namespace alder
