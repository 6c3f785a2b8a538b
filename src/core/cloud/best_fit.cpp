#include "cloud/best_fit.h"

#include "fit/rigid_fit.h"
#include "fit/small_linear.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr int kRounds = 30;
constexpr double kHardly = 1e-6;  // share of the stiffest motion below which one is free
constexpr double kSettled = 1e-9; // mm

struct Spread {
  Vec3 centre = Vec3::Zero();
  double size = 1;
};

Spread spreadOf(const std::vector<Place>& places) {
  Spread s;
  for (const Place& p : places)
    s.centre += p.foot / static_cast<double>(places.size());
  for (const Place& p : places)
    s.size = std::max(s.size, (p.foot - s.centre).norm());
  return s;
}

// What a place is off by after a motion, on the face that it is of.
double off(NearestSurface::Asker& asker, const Place& place, const Vec3& at) {
  const auto foot = asker.on(place.face, at);
  return foot ? foot->distance : 0;
}

Frame leastSquares(const NearestSurface& surface, const Gathered& gathered) {
  const std::vector<Place>& places = gathered.places;
  const Spread spread = spreadOf(places);
  NearestSurface::Asker asker(surface);
  Frame motion = Frame::Identity();
  for (int round = 0; round < kRounds; ++round) {
    SmallMatrix left = SmallMatrix::Zero(6, 6);
    SmallVector right = SmallVector::Zero(6);
    for (const Place& place : places) {
      const Vec3 at = motion * place.actual();
      const auto foot = asker.on(place.face, at);
      if (!foot) continue;
      const double cell = gathered.faces[static_cast<std::size_t>(place.face.value)].cell;
      Vec6 g;
      g << (at - spread.centre).cross(foot->normal) / spread.size, foot->normal;
      left += cell * cell * g * g.transpose();
      right -= cell * cell * foot->distance * g;
    }
    const Eigenpairs pairs = eigenpairs(left);
    SmallVector step = SmallVector::Zero(6);
    for (Eigen::Index k = 0; k < 6; ++k)
      if (pairs.values[k] > kHardly * pairs.values[5])
        step += pairs.vectors.col(k).dot(right) / pairs.values[k] * pairs.vectors.col(k);
    motion = smallMotion(step.head<3>() / spread.size, step.tail<3>(), spread.centre) * motion;
    if (step.norm() < kSettled) break;
  }
  return motion;
}

Frame leastWorst(const NearestSurface& surface, const Gathered& gathered, const Frame& start) {
  const std::vector<Place>& places = gathered.places;
  const Spread spread = spreadOf(places);
  NearestSurface::Asker asker(surface);
  RigidFit fit;
  fit.placement = start.inverse(); // nominal -> places
  fit.centre = spread.centre;
  fit.scale = spread.size;
  Residuals residuals;
  residuals.count = places.size();
  residuals.at = [&](const Frame& nominal_to_places) -> std::function<Vec3(std::size_t)> {
    const Frame back = nominal_to_places.inverse();
    return [&, back](std::size_t i) {
      return Vec3(off(asker, places[i], back * places[i].actual()), 0, 0);
    };
  };
  return minimiseWorst(fit, fit.allFreedom(), residuals).placement.inverse();
}

constexpr std::array<std::string_view, 2> kNames{"ls", "worst"};

} // namespace

std::string_view name(CloudFit fit) {
  return kNames[static_cast<std::size_t>(fit)];
}

std::optional<CloudFit> cloudFitNamed(std::string_view text) {
  for (const CloudFit fit : {CloudFit::LeastSquares, CloudFit::LeastWorst})
    if (name(fit) == text) return fit;
  return {};
}

Frame bestFit(const NearestSurface& surface, const Gathered& gathered, CloudFit fit) {
  const Frame squares = leastSquares(surface, gathered);
  return fit == CloudFit::LeastSquares ? squares : leastWorst(surface, gathered, squares);
}

void move(Gathered& gathered, const NearestSurface& surface, const Frame& motion) {
  NearestSurface::Asker asker(surface);
  double sum = 0, n = 0;
  for (Place& p : gathered.places) {
    const auto foot = asker.on(p.face, motion * p.actual());
    if (!foot) continue;
    const Vec3 beside = p.meant - p.foot;
    p.foot = foot->point, p.normal = foot->normal, p.deviation = foot->distance;
    p.meant = p.foot + beside;
    sum += p.count * p.deviation * p.deviation + std::max(0, p.count - 1) * p.spread * p.spread;
    n += p.count;
  }
  gathered.rms = n > 0 ? std::sqrt(sum / n) : 0;
}

} // namespace alder
