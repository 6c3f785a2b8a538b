#include "cloud/place_anywhere.h"

#include "base/random.h"
#include "cloud/correlation.h"
#include "cloud/near_grid.h"
#include "fit/small_linear.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>
#include <tuple>
#include <unordered_map>

namespace alder {
namespace {

constexpr int kTurns = 3600;          // about 15 degrees apart
constexpr std::size_t kSettled = 56;  // candidates that are settled
constexpr std::size_t kFinalists = 8; // of these once more, with more points
constexpr std::size_t kFewest = 200;  // points of a cloud that can be placed
constexpr double kLeastExplained = 0.5;

Mat3 turnNumber(int i) {
  const double s = i + 0.5, t = s / kTurns, r = std::sqrt(t), q = std::sqrt(1 - t);
  const double a = 2 * kPi * s / std::sqrt(2.0), b = 2 * kPi * s / 1.533751168755204288118041;
  return Eigen::Quaterniond(q * std::cos(b), r * std::sin(a), r * std::cos(a), q * std::sin(b))
      .normalized()
      .toRotationMatrix();
}

// Spread over the triangles by area.
Points surfacePoints(const Mesh& mesh, std::size_t count) {
  std::vector<double> until;
  double total = 0;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Triangle t = mesh.triangle(i);
    until.push_back(total += (t.b - t.a).cross(t.c - t.a).norm() / 2);
  }
  Points points;
  Random random(1);
  for (std::size_t k = 0; total > 0 && k < count; ++k) {
    const double at = total * (static_cast<double>(k) + 0.5) / static_cast<double>(count);
    const auto i =
        static_cast<std::size_t>(std::lower_bound(until.begin(), until.end(), at) - until.begin());
    const Triangle t = mesh.triangle(std::min(i, until.size() - 1));
    double u = random.uniform(), v = random.uniform();
    if (u + v > 1) u = 1 - u, v = 1 - v;
    points.push_back(t.a + u * (t.b - t.a) + v * (t.c - t.a));
  }
  return points;
}

struct Candidate {
  Frame placement = Frame::Identity();
  double score = 0; // less is better after settling
};

double turnBetween(const Frame& a, const Frame& b) {
  return Eigen::AngleAxisd(Mat3(a.linear().transpose() * b.linear())).angle();
}

class Placer {
 public:
  Placer(const NearestSurface& surface, const PointCloud& cloud)
      : surface_(surface)
      , cloud_(cloud)
      , askers_([&] { return std::make_unique<NearestSurface::Asker>(surface_); }) {}

  Result<PlacedAnywhere> run(const Progress& progress) {
    if (cloud_.points.size() < kFewest)
      return fail("A cloud of {} points is too small to be placed; {} are needed.",
                  cloud_.points.size(), kFewest);
    const Box3 box = surface_.part().mesh.box();
    middle_ = box.center();
    size_ = box.sizes().norm();
    fine_ = evenly(cloud_, 20000);
    if (fine_.size() < kFewest / 2) return fail("The points of the cloud all lie in one place.");
    Box3 seen;
    for (const Vec3& p : fine_)
      seen.extend(p);
    // A cloud that is small beside the part must lie on it as well for its own size.
    scale_ = std::min(size_, seen.sizes().norm());
    auto candidates = correlate(progress);
    if (progress.cancelled()) return cancelledError();
    const double first_room = size_ / 12;
    const NearGrid grid(surface_, first_room);
    candidates = settleAll(
        std::move(candidates), 1500, first_room, size_ / 100, kSettled,
        [&](const Vec3& p, double within) { return grid.at(p, within); }, progress);
    if (progress.cancelled()) return cancelledError();
    if (candidates.size() > kFinalists) candidates.resize(kFinalists);
    candidates = settleAll(
        std::move(candidates), 6000, size_ / 60, scale_ / 400, kFinalists,
        [&](const Vec3& p, double within) { return askers_.local()->roughly(p, within); },
        progress);
    if (progress.cancelled()) return cancelledError();
    return told(candidates);
  }

 private:
  Points some(std::size_t count) const {
    Points points;
    const std::size_t n = fine_.size(), taken = std::min(n, count);
    for (std::size_t k = 0; k < taken; ++k)
      points.push_back(fine_[k * n / taken]);
    return points;
  }

  // Sorted so that points follow each other closely.
  Points sideBySide(Points points) const {
    const double cell = size_ / 16;
    const auto key = [&](const Vec3& p) {
      const auto x = std::lround(p.x() / cell), y = std::lround(p.y() / cell);
      return std::tuple(x, y, p.z());
    };
    std::sort(points.begin(), points.end(),
              [&](const Vec3& a, const Vec3& b) { return key(a) < key(b); });
    return points;
  }

  std::vector<Candidate> correlate(const Progress& progress) {
    Points cloud = some(3000);
    // Along each axis half way between the outer hundredths: spatter far away does not move it.
    Vec3 centre;
    for (int k = 0; k < 3; ++k) {
      std::vector<double> v;
      for (const Vec3& p : cloud)
        v.push_back(p[k]);
      std::sort(v.begin(), v.end());
      centre[k] = (v[v.size() / 100] + v[v.size() - 1 - v.size() / 100]) / 2;
    }
    std::vector<double> norms;
    for (Vec3& p : cloud) {
      p -= centre;
      norms.push_back(p.norm());
    }
    std::sort(norms.begin(), norms.end());
    const double reach = std::min(1.05 * norms[norms.size() - 1 - norms.size() / 25], 3 * size_);
    std::erase_if(cloud, [&](const Vec3& p) { return p.norm() > reach; });
    Points part = surfacePoints(surface_.part().mesh, 8000);
    for (Vec3& p : part)
      p -= middle_;
    const Correlation correlation(part, size_ / 2, reach);
    std::vector<Candidate> all(kTurns);
    tbb::parallel_for(0, kTurns, [&](int i) {
      if (progress.cancelled()) return;
      const Mat3 turn = turnNumber(i);
      const auto best = correlation.best(cloud, turn);
      Frame frame = Frame::Identity();
      frame.linear() = turn;
      frame.translation() = middle_ + best.move - turn * centre;
      all[static_cast<std::size_t>(i)] = {frame, -best.score};
      if (i % 64 == 0) progress.step(0, "placing the cloud");
    });
    return distinct(std::move(all), kSettled, 0.2, 4 * correlation.step());
  }

  // The best ones, none nearer to a better one than this.
  std::vector<Candidate> distinct(std::vector<Candidate> all, std::size_t most, double turn,
                                  double move) const {
    std::stable_sort(all.begin(), all.end(),
                     [](const Candidate& a, const Candidate& b) { return a.score < b.score; });
    std::vector<Candidate> kept;
    const Vec3 somewhere = middle_;
    for (const Candidate& c : all) {
      if (kept.size() >= most) break;
      const bool known = std::any_of(kept.begin(), kept.end(), [&](const Candidate& k) {
        // Where the middle of the part comes from.
        const Vec3 a = c.placement.inverse() * somewhere, b = k.placement.inverse() * somewhere;
        return (a - b).norm() < move && turnBetween(c.placement, k.placement) < turn;
      });
      if (!known) kept.push_back(c);
    }
    return kept;
  }

  template <class Near>
  std::vector<Candidate> settleAll(std::vector<Candidate> all, std::size_t points, double from,
                                   double to, std::size_t most, const Near& near,
                                   const Progress& progress) {
    const Points cloud = sideBySide(some(points));
    tbb::parallel_for(
        std::size_t{0}, all.size(),
        [&](std::size_t i) {
          if (progress.cancelled()) return;
          settle(cloud, from, to, near, all[i]);
        },
        tbb::simple_partitioner());
    return distinct(std::move(all), most, 0.02, 0.005 * size_);
  }

  // Moves a candidate so that its points lie on the triangles; the room in which they count
  // shrinks. Score: mean of the squares, none more than that of the last room.
  template <class Near>
  void settle(const Points& cloud, double from, double to, const Near& nearest,
              Candidate& c) const {
    constexpr int kRounds = 24;
    double room = from;
    for (int round = 0; round < kRounds; ++round) {
      Eigen::Matrix<double, 6, 6> left = Eigen::Matrix<double, 6, 6>::Zero();
      Eigen::Matrix<double, 6, 1> right = Eigen::Matrix<double, 6, 1>::Zero();
      double weights = 0;
      for (const Vec3& p : cloud) {
        const Vec3 q = c.placement * p;
        const auto near = nearest(q, room);
        if (!near || near->distance < 1e-12) continue;
        const Vec3 n = (q - near->point) / near->distance;
        const double share = near->distance / room, w = (1 - share * share) * (1 - share * share);
        Eigen::Matrix<double, 6, 1> g;
        g << (q - middle_).cross(n) / size_, n;
        left += w * g * g.transpose();
        right -= w * near->distance * g;
        weights += w;
      }
      if (weights < 6) break;
      left += 1e-4 * weights * Eigen::Matrix<double, 6, 6>::Identity();
      const Eigen::Matrix<double, 6, 1> step = left.ldlt().solve(right);
      c.placement = smallMotion(step.head<3>() / size_, step.tail<3>(), middle_) * c.placement;
      if (round >= kRounds / 4) room = std::max(to, room * std::pow(to / from, 1.5 / kRounds));
    }
    double sum = 0;
    for (const Vec3& p : cloud) {
      const auto near = nearest(c.placement * p, to);
      sum += near ? near->distance * near->distance : to * to;
    }
    c.score = sum / static_cast<double>(cloud.size());
  }

  Result<PlacedAnywhere> told(const std::vector<Candidate>& candidates) {
    if (candidates.empty()) return fail("The cloud lies nowhere on the part.");
    PlacedAnywhere result;
    result.placement = candidates.front().placement;
    const double room = scale_ / 200;
    double squares = 0;
    std::size_t on = 0;
    for (const Vec3& p : fine_)
      if (const auto near = askers_.local()->roughly(result.placement * p, room))
        squares += near->distance * near->distance, ++on;
    result.explained = static_cast<double>(on) / static_cast<double>(fine_.size());
    result.rms = on > 0 ? std::sqrt(squares / static_cast<double>(on)) : 0;
    if (result.explained < kLeastExplained)
      return fail("The cloud does not lie on the part: in the best place only {:.0f} % of it come "
                  "within {:.2g} mm of the surface. {}",
                  100 * result.explained, room, sizeAdvice());
    const double least = std::sqrt(candidates.front().score);
    for (std::size_t i = 1; i < candidates.size(); ++i)
      if (std::sqrt(candidates[i].score) < 1.1 * least) {
        result.also_turned = turnBetween(result.placement, candidates[i].placement);
        if (result.also_turned > 0.02) break;
      }
    return result;
  }

  std::string sizeAdvice() const {
    Box3 box;
    for (const Vec3& p : fine_)
      box.extend(p);
    const double ratio = box.sizes().norm() / size_;
    for (const auto& [factor, unit] :
         {std::pair{1 / 25.4, "inch"}, {1e-3, "metre"}, {0.1, "centimetre"}})
      if (ratio > 0.6 * factor && ratio < 1.5 * factor)
        return fmt::format("It is {:.3g} times smaller than the part: is its unit the {}?",
                           1 / ratio, unit);
    return "Is it a cloud of this part, and in this unit?";
  }

  const NearestSurface& surface_;
  const PointCloud& cloud_;
  Vec3 middle_ = Vec3::Zero(); // of the part
  double size_ = 1;            // its diagonal
  double scale_ = 1;           // of what is smaller, part or cloud
  Points fine_;
  tbb::enumerable_thread_specific<std::unique_ptr<NearestSurface::Asker>> askers_;
};

// First point of each cell; what lies very far away, or is no number, has none.
std::vector<std::size_t> onePerCell(const Points& points, const Vec3& origin, double cell) {
  std::unordered_map<std::uint64_t, std::size_t> first;
  for (std::size_t i = 0; i < points.size(); ++i) {
    const Vec3 q = (points[i] - origin) / cell;
    if (!(q.cwiseAbs().maxCoeff() < 1e6)) continue;
    std::uint64_t key = 0;
    for (int k = 0; k < 3; ++k)
      key = key << 21 | (static_cast<std::uint64_t>(std::floor(q[k]) + (1 << 20)) & 0x1fffff);
    first.try_emplace(key, i);
  }
  std::vector<std::size_t> kept;
  kept.reserve(first.size());
  for (const auto& [key, i] : first)
    kept.push_back(i);
  std::sort(kept.begin(), kept.end());
  return kept;
}

} // namespace

Result<PlacedAnywhere> placeAnywhere(const NearestSurface& surface, const PointCloud& cloud,
                                     const Progress& progress) {
  return Placer(surface, cloud).run(progress);
}

Points evenly(const PointCloud& cloud, std::size_t most) {
  constexpr std::size_t kLookedAt = 2000000;
  const std::size_t stride = std::max<std::size_t>(1, cloud.points.size() / kLookedAt);
  Points some;
  for (std::size_t i = 0; i < cloud.points.size(); i += stride)
    some.push_back(cloud.points[i]);
  // All but the outer hundredths along each axis say how large it is, spatter or not.
  Vec3 low, high;
  for (int k = 0; k < 3; ++k) {
    std::vector<double> v;
    for (std::size_t i = 0; i < some.size(); i += 1 + some.size() / 20000)
      v.push_back(some[i][k]);
    std::sort(v.begin(), v.end());
    low[k] = v[v.size() / 100], high[k] = v[v.size() - 1 - v.size() / 100];
  }
  const double size = std::max((high - low).norm(), 1e-9);
  // A first grid tells how fine the one must be that leaves so many points: surfaces fill cells by
  // the square of their fineness.
  double cell = size / 40;
  std::vector<std::size_t> kept = onePerCell(some, low, cell);
  for (int round = 0; round < 3 && kept.size() < most && kept.size() < some.size(); ++round) {
    cell *= std::max(0.2,
                     std::sqrt(0.8 * static_cast<double>(kept.size()) / static_cast<double>(most)));
    kept = onePerCell(some, low, cell);
  }
  Points out;
  for (const std::size_t i : kept)
    out.push_back(some[i]);
  // In no order that has to do with place.
  Random random(7);
  for (std::size_t i = out.size(); i > 1; --i)
    std::swap(out[i - 1], out[static_cast<std::size_t>(random.uniform() * static_cast<double>(i))]);
  if (out.size() > most) out.resize(most);
  return out;
}

} // namespace alder
