#include "judge/coarse_place.h"

#include "fit/rigid_fit.h"
#include "fit/rigid_pairs.h"
#include "fit/small_linear.h"
#include "judge/actual.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// ---- point by point ----

struct Pairs {
  Points nominal, actual;
};

// Points beyond the planned ones carry no place of their own.
Pairs pairsOf(const std::vector<FeatureId>& features, const Measurements& measured) {
  Pairs pairs;
  for (FeatureId id : features) {
    const auto found = measured.find(id);
    if (found == measured.end()) continue;
    const MeasuredFeature& m = found->second;
    for (std::size_t i = 0; i < m.points.size() && i < m.nominals.size(); ++i) {
      if (!m.nominals[i].allFinite()) continue;
      pairs.nominal.push_back(m.nominals[i]);
      pairs.actual.push_back(m.points[i]);
    }
  }
  return pairs;
}

// The best rigid placement of the pairs; nothing where they do not agree, as when points came in
// another order.
std::optional<Frame> pointByPoint(const Pairs& pairs) {
  const std::size_t n = pairs.nominal.size();
  if (n < 3) return {};
  const Vec3 middle = centroid(pairs.nominal);
  double reach = 0;
  for (const Vec3& p : pairs.nominal)
    reach = std::max(reach, (p - middle).norm());
  const Frame frame = placedByPairs(pairs.nominal, pairs.actual);
  double squares = 0;
  for (std::size_t i = 0; i < n; ++i)
    squares += (frame * pairs.nominal[i] - pairs.actual[i]).squaredNorm();
  // A touch meets the part beside its place by what the part lies askew and its form; points of
  // other places are off by as much as the features are large.
  if (std::sqrt(squares / static_cast<double>(n)) > 0.3 + 0.03 * reach) return {};
  return frame;
}

// ---- feature by feature ----

// What a feature says of the placement: its situation feature (ISO 17450-1), nominal and actual.
struct Situated {
  Derived::Kind kind = Derived::Kind::Point;
  Vec3 nominal = Vec3::Zero(), actual = Vec3::Zero(); // a point of it, its middle where it has one
  Vec3 nominal_direction = Vec3::Zero(), direction = Vec3::Zero(); // of an axis, a plane's normal
  bool is_signed = false; // the actual direction has the sense of the nominal one
  bool has_middle = true; // else the nominal point lies anywhere along the axis or plane

  Mat3 fixed() const { // directions in which it fixes its place
    if (kind == Derived::Kind::Point) return Mat3::Identity();
    const Mat3 along = direction * direction.transpose();
    return kind == Derived::Kind::Plane ? along : Mat3(Mat3::Identity() - along);
  }
};

std::optional<Situated> situationOf(const NominalFeature& f, const MeasuredFeature& m) {
  if (f.ideal.type == SurfaceType::Freeform || m.points.empty()) return {};
  Situated e;
  const Derived nominal = nominalDerived(f);
  e.kind = nominal.kind;
  e.nominal = nominal.point + (nominal.from + nominal.to) / 2 * nominal.direction;
  e.nominal_direction = nominal.direction;
  e.has_middle = e.kind == Derived::Kind::Axis ? !f.as_touched
                                               : e.kind != Derived::Kind::Plane || !f.faces.empty();
  e.actual = centroid(m.points);
  if (isPoint(f.ideal)) return e;
  const Shape shape = shapeOf(f.ideal);
  auto fit = fitLeastSquares(shape, m.points);
  // One ring fixes no cylinder, but which way its axis goes.
  if (!fit && shape == Shape::Cylinder) fit = fitLeastSquares(Shape::Circle, m.points);
  if (!fit) return {};
  const Vec3 middle = e.actual;
  e.direction = fit->direction;
  e.actual = fit->point;
  if (shape == Shape::Circle) e.kind = Derived::Kind::Point;
  if (e.kind == Derived::Kind::Axis)
    e.actual += (middle - fit->point).dot(fit->direction) * fit->direction;
  if (e.kind == Derived::Kind::Plane)
    e.actual = middle - (middle - fit->point).dot(fit->direction) * fit->direction;
  // A cone opens one way: its nominal widens along its direction where the half angle is positive.
  if (shape == Shape::Cone) {
    e.is_signed = true;
    if (f.ideal.half_angle < 0) e.direction = -e.direction;
  }
  return e;
}

// An orthonormal frame whose first axis is `a` and whose second lies towards `b`.
Mat3 spanned(const Vec3& a, const Vec3& b) {
  Mat3 m;
  m.col(0) = a.normalized();
  m.col(2) = m.col(0).cross(b).normalized();
  m.col(1) = m.col(2).cross(m.col(0));
  return m;
}

// A direction that both sides know: of a feature, or from one feature to another.
struct Known {
  Vec3 nominal, actual;
  bool is_signed;
};

// Directions of features first; then from feature to feature, along what both fix.
std::vector<Known> knownDirections(const std::vector<Situated>& elements) {
  std::vector<Known> all;
  for (const Situated& e : elements)
    if (e.direction.norm() > 0 && e.nominal_direction.norm() > 0)
      all.push_back({e.nominal_direction, e.direction, e.is_signed});
  for (std::size_t i = 0; i < elements.size(); ++i)
    for (std::size_t j = i + 1; j < elements.size(); ++j) {
      const Situated &a = elements[i], &b = elements[j];
      if (a.kind == Derived::Kind::Plane || b.kind == Derived::Kind::Plane) continue;
      Vec3 nominal = b.nominal - a.nominal, actual = b.actual - a.actual;
      for (const Situated* e : {&a, &b})
        if (e->kind == Derived::Kind::Axis) {
          nominal -= nominal.dot(e->nominal_direction) * e->nominal_direction;
          actual -= actual.dot(e->direction) * e->direction;
        }
      const double length = nominal.norm();
      if (length < 1e-3 || std::abs(actual.norm() - length) > 0.2 * length) continue;
      all.push_back({nominal / length, actual.normalized(), true});
    }
  return all;
}

// Turns that bring the nominal directions onto the actual ones, in every sense that is open.
std::vector<Mat3> turnsOf(const std::vector<Situated>& elements) {
  std::vector<Mat3> turns{Mat3::Identity()};
  const auto known = knownDirections(elements);
  if (known.empty()) return turns;
  // The two that stand most square to each other.
  std::size_t first = 0, second = 0;
  double best = 0.05;
  for (std::size_t i = 0; i < known.size(); ++i)
    for (std::size_t j = i + 1; j < known.size(); ++j)
      if (const double sine = known[i].nominal.cross(known[j].nominal).norm(); sine > best + 1e-6)
        best = sine, first = i, second = j;
  for (const double a : {1.0, -1.0}) {
    if (a < 0 && known[first].is_signed) continue;
    if (first == second) {
      turns.push_back(shortestTurn(known[first].nominal, a * known[first].actual));
      continue;
    }
    for (const double b : {1.0, -1.0}) {
      if (b < 0 && known[second].is_signed) continue;
      const Vec3 u = a * known[first].actual, v = b * known[second].actual;
      if (u.cross(v).norm() > 0.02)
        turns.push_back(spanned(u, v) *
                        spanned(known[first].nominal, known[second].nominal).transpose());
    }
  }
  return turns;
}

constexpr double kHardly = 0.35; // rad; a part that is turned by less is meant to lie as it does

double angleOf(const Mat3& linear) {
  return Eigen::AngleAxisd(linear).angle();
}

// Where a turned nominal must be moved to, by what each feature fixes; along what none fixes,
// middle to middle as far as middles are known, else not at all.
Frame moved(const Mat3& linear, const std::vector<Situated>& elements) {
  constexpr double kMiddle = 1e-3, kStay = 1e-9;
  const bool turned = angleOf(linear) > kHardly;
  Mat3 left = turned ? Mat3::Zero() : Mat3(kStay * Mat3::Identity());
  Vec3 right = Vec3::Zero();
  for (const Situated& e : elements) {
    const Mat3 weight = e.fixed() + (e.has_middle ? kMiddle
                                     : turned     ? kStay
                                                  : 0.0) *
                                        Mat3::Identity();
    left += weight;
    right += weight * (e.actual - linear * e.nominal);
  }
  Frame frame = Frame::Identity();
  frame.linear() = linear;
  frame.translation() = solveSquare(left, right);
  return frame;
}

// How badly a placement matches: what the features fix, as a length; and how far their middles lie
// from each other, which tells apart what matches alike.
struct Match {
  Frame frame;
  double off = 0, middles = 0;
};

Match matchOf(const Frame& frame, const std::vector<Situated>& elements, double reach) {
  Match m{frame};
  for (const Situated& e : elements) {
    const Vec3 d = frame * e.nominal - e.actual;
    m.off += (e.fixed() * d).squaredNorm();
    if (e.has_middle || e.kind == Derived::Kind::Plane) m.middles += d.squaredNorm();
    if (e.direction.norm() <= 0) continue;
    const Vec3 u = turn(frame, e.nominal_direction);
    double along = u.dot(e.direction);
    if (!e.is_signed) along = std::abs(along);
    m.off += 2 * (1 - along) * reach * reach; // the square of a chord
  }
  const auto n = static_cast<double>(elements.size());
  m.off = std::sqrt(m.off / n), m.middles = std::sqrt(m.middles / n);
  return m;
}

// Root mean square of the points' distances from the nominal features, placed as well as can be
// from this start on; sizes are free.
double settled(const Plan& plan, const std::vector<FeatureId>& features,
               const Measurements& measured, Frame& frame) {
  DatumStage all;
  for (FeatureId id : features)
    if (const auto m = measured.find(id); m != measured.end()) {
      const NominalFeature& f = plan.nominal(id);
      if (isPoint(f.ideal) || isLine(f.ideal) || isCircle(f.ideal)) continue;
      const NominalSurface surface(plan.part, f);
      for (auto& group : surface.group(m->second.points, m->second.faces, 0))
        if (!group.points.empty()) all.surfaces.push_back(std::move(group));
    }
  if (all.surfaces.empty()) return 0;
  const auto fit = fitInOrder({all}, frame);
  if (!fit) return 1e300;
  const Frame inverse = fit->placement.inverse();
  double squares = 0;
  std::size_t count = 0;
  for (const SurfacePoints& s : all.surfaces) {
    double mean = 0;
    std::vector<double> d;
    for (const Vec3& p : s.points)
      d.push_back(s.distance(inverse * p));
    if (s.free_size)
      for (const double v : d)
        mean += v / static_cast<double>(d.size());
    for (const double v : d)
      squares += (v - mean) * (v - mean);
    count += d.size();
  }
  frame = fit->placement;
  return std::sqrt(squares / static_cast<double>(count));
}

// Of placements that match alike: the one that hardly turns the part, if there is such a one; else
// the one whose features lie nearest their nominal places.
const Match& likeliest(const std::vector<Match>& matches) {
  const auto nearest =
      std::min_element(matches.begin(), matches.end(), [](const Match& a, const Match& b) {
        return angleOf(a.frame.linear()) < angleOf(b.frame.linear());
      });
  if (angleOf(nearest->frame.linear()) < kHardly) return *nearest;
  return *std::min_element(matches.begin(), matches.end(),
                           [](const Match& a, const Match& b) { return a.middles < b.middles; });
}

std::vector<Match> alike(std::vector<Match> matches, double room) {
  double least = 1e300;
  for (const Match& m : matches)
    least = std::min(least, m.off);
  std::erase_if(matches, [&](const Match& m) { return m.off > 2 * least + room; });
  return matches;
}

Frame featureByFeature(const Plan& plan, const std::vector<FeatureId>& features,
                       const Measurements& measured, const std::vector<Situated>& elements) {
  Vec3 middle = Vec3::Zero();
  for (const Situated& e : elements)
    middle += e.actual / static_cast<double>(elements.size());
  double reach = 1;
  for (const Situated& e : elements)
    reach = std::max(reach, (e.actual - middle).norm());
  std::vector<Match> matches;
  for (const Mat3& linear : turnsOf(elements))
    matches.push_back(matchOf(moved(linear, elements), elements, reach));
  // Errors of form and place are small beside the part; a wrong sense is not.
  matches = alike(std::move(matches), 0.03 * reach);
  if (matches.size() == 1) return matches.front().frame;
  for (Match& m : matches)
    m.off = settled(plan, features, measured, m.frame);
  // Along what the surfaces leave free the fit stays where it began, which is where the part lay.
  matches = alike(std::move(matches), 1e-5 * reach);
  const Match& best = likeliest(matches);
  return moved(best.frame.linear(), elements);
}

} // namespace

Frame coarsePlace(const Plan& plan, const std::vector<FeatureId>& features,
                  const Measurements& measured) {
  if (const auto frame = pointByPoint(pairsOf(features, measured))) return *frame;
  std::vector<Situated> elements;
  for (FeatureId id : features)
    if (const auto m = measured.find(id); m != measured.end())
      if (auto e = situationOf(plan.nominal(id), m->second)) elements.push_back(*e);
  return elements.empty() ? Frame::Identity()
                          : featureByFeature(plan, features, measured, elements);
}

Measurements placedBack(const Measurements& measured, const std::vector<FeatureId>& features,
                        const Frame& placement) {
  Measurements out;
  const Frame inverse = placement.inverse();
  for (FeatureId id : features)
    if (const auto m = measured.find(id); m != measured.end()) {
      MeasuredFeature placed = m->second;
      for (Vec3& p : placed.points)
        p = inverse * p;
      out.emplace(id, std::move(placed));
    }
  return out;
}

} // namespace alder
