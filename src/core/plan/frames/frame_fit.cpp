#include "plan/frames/frame_fit.h"

#include "fit/small_linear.h"
#include "plan/frames/frame_band.h"
#include "plan/touches/nominal_surface.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr std::string_view kDirections = "xyzuvw";

struct BandedSurface {
  SurfacePoints surface;
  Band band;
};

// The surfaces of a stage with their points.
Result<std::vector<BandedSurface>> surfacesOf(const Plan& plan, FrameFit fit,
                                              const FrameStage& stage,
                                              const std::vector<FramePoint>& all) {
  std::vector<BandedSurface> surfaces;
  for (FeatureId id : stage.features) {
    Points points;
    std::vector<FaceId> faces;
    double radius = 0;
    for (const FramePoint& p : all) {
      if (p.feature != id) continue;
      points.push_back(p.ball);
      faces.push_back(p.face);
      radius = p.radius;
    }
    if (points.empty()) return fail("{} is not touched", plan.nominal(id).name);
    Band band;
    if (fit == FrameFit::InsideBand) {
      auto found = bandOf(plan, stage, id);
      if (!found) return pass(found.error());
      band = *found;
    }
    const NominalSurface surface(plan.part, plan.nominal(id));
    for (SurfacePoints& group : surface.group(points, faces, radius)) {
      if (fit != FrameFit::InOrder) group.weight = stage.weight;
      surfaces.push_back({std::move(group), band});
    }
  }
  return surfaces;
}

// Motions along and about the CAD axes, as unit vectors of a fit's motion.
Freedom motionsOf(const RigidFit& fit, const std::string& directions) {
  Freedom out(6, 0);
  for (std::size_t k = 0; k < kDirections.size(); ++k) {
    if (directions.find(kDirections[k]) == std::string::npos) continue;
    Vec6 motion = Vec6::Zero();
    motion.segment<3>(k < 3 ? 3 : 0) = fit.placement.linear().col(static_cast<int>(k % 3));
    out.conservativeResize(6, out.cols() + 1);
    out.col(out.cols() - 1) = motion;
  }
  return out;
}

std::string allBut(const std::string& held) {
  std::string rest;
  for (const char c : kDirections)
    if (held.find(c) == std::string::npos) rest += c;
  return rest;
}

// Directions that lie in what is left free.
std::string freeDirections(const RigidFit& fit) {
  std::string free;
  for (const char c : kDirections) {
    const Freedom one = motionsOf(fit, std::string(1, c));
    if (fit.freedom.cols() > 0 && (fit.freedom.transpose() * one).norm() > 0.999) free += c;
  }
  return free;
}

// From the middle of its band in halves of its width.
double shareOf(const Band& band, double deviation) {
  return (deviation - (band.upper + band.lower) / 2) / ((band.upper - band.lower) / 2);
}

// What is to be made least, along the normals: deviations by their weights, or, within bands, the
// share used, in mm of the narrowest one.
Residuals residualsOf(const std::vector<BandedSurface>& surfaces, FrameFit fit) {
  Residuals r;
  std::vector<std::pair<const BandedSurface*, std::size_t>> index;
  double narrowest = 1e300;
  for (const BandedSurface& s : surfaces) {
    narrowest = std::min(narrowest, (s.band.upper - s.band.lower) / 2);
    for (std::size_t i = 0; i < s.surface.points.size(); ++i)
      index.emplace_back(&s, i);
  }
  r.count = index.size();
  r.at = [index, narrowest, banded = fit == FrameFit::InsideBand](const Frame& placement) {
    return [=, inverse = Frame(placement.inverse())](std::size_t i) -> Vec3 {
      const auto& [of, k] = index[i];
      const Vec3 q = inverse * of->surface.points[k];
      const double d = of->surface.distance(q) - of->surface.offset;
      const double counts = banded ? narrowest * shareOf(of->band, d) : of->surface.weight * d;
      return counts * (placement.linear() * of->surface.normal(q));
    };
  };
  return r;
}

// Least squares within a freedom, by Gauss and Newton with differences; distances are smooth.
void solveWithin(RigidFit& fit, const Freedom& freedom,
                 const std::vector<BandedSurface>& surfaces) {
  const auto distances = [&](const Frame& placement) {
    std::vector<double> d;
    const Frame inverse = placement.inverse();
    for (const auto& [s, band] : surfaces)
      for (const Vec3& p : s.points)
        d.push_back(s.weight * (s.distance(inverse * p) - s.offset));
    return Eigen::VectorXd(
        Eigen::Map<Eigen::VectorXd>(d.data(), static_cast<Eigen::Index>(d.size())));
  };
  constexpr double h = 1e-4; // mm
  for (int step = 0; step < 50 && freedom.cols() > 0; ++step) {
    const Eigen::VectorXd now = distances(fit.placement);
    Eigen::MatrixXd j(now.size(), freedom.cols());
    for (Eigen::Index k = 0; k < freedom.cols(); ++k)
      j.col(k) = (distances(fit.moved(fit.placement, freedom.col(k) * h)) -
                  distances(fit.moved(fit.placement, freedom.col(k) * -h))) /
                 (2 * h);
    // Of least norm: what the points do not see stays.
    const Eigen::VectorXd change = solveLeastNorm(j, -now, 1e-6);
    fit.placement = fit.moved(fit.placement, freedom * change);
    if (change.norm() < 1e-10) break;
  }
}

Result<RigidFit> fitted(const Plan& plan, const PartFrame& frame,
                        const std::vector<FramePoint>& points, const Frame& start,
                        std::vector<BandedSurface>& used) {
  std::vector<DatumStage> stages;
  for (const FrameStage& stage : frame.stages) {
    auto surfaces = surfacesOf(plan, frame.fit, stage, points);
    if (!surfaces) return pass(surfaces.error());
    DatumStage datum;
    datum.name = plan.nominal(stage.features.front()).name;
    for (const BandedSurface& s : *surfaces)
      datum.surfaces.push_back(s.surface), used.push_back(s);
    datum.locks = frame.fit == FrameFit::InOrder ? stage.locks : std::string();
    stages.push_back(std::move(datum));
  }
  if (frame.fit == FrameFit::InOrder) return fitInOrder(stages, start);
  // All as one; then once more within what may move.
  DatumStage all;
  all.name = frame.name;
  for (DatumStage& s : stages)
    for (SurfacePoints& p : s.surfaces)
      all.surfaces.push_back(std::move(p));
  auto fit = fitInOrder({all}, start);
  if (!fit) return fit;
  if (!frame.held.empty()) {
    fit->placement = start;
    solveWithin(*fit, motionsOf(*fit, allBut(frame.held)), used);
  }
  if (frame.fit != FrameFit::LeastSquares) {
    const Freedom may = motionsOf(*fit, allBut(frame.held));
    fit->placement = minimiseWorst(*fit, may, residualsOf(used, frame.fit)).placement;
  }
  return fit;
}

} // namespace

std::string_view name(FrameFit fit) {
  static constexpr std::array<std::string_view, 4> kNames{"in order", "least squares",
                                                          "minimax", "inside the band"};
  return kNames[static_cast<std::size_t>(fit)];
}

Done validate(const PartFrame& frame) {
  if (frame.name.empty()) return fail("A frame needs a name.");
  const auto good = [](const std::string& letters) {
    return std::all_of(letters.begin(), letters.end(), [&](char c) {
      return kDirections.find(c) != std::string_view::npos &&
             std::count(letters.begin(), letters.end(), c) == 1;
    });
  };
  if (!good(frame.held))
    return fail("Directions are letters of x y z (along) and u v w (about), each once.");
  if (frame.stages.empty()) return fail("Frame {} needs a feature.", frame.name);
  for (const FrameStage& s : frame.stages) {
    if (s.features.empty()) return fail("Each stage of frame {} needs a feature.", frame.name);
    if (!good(s.locks))
      return fail("Directions are letters of x y z (along) and u v w (about), each once.");
    if (!(s.weight > 0 && s.weight <= 1e6))
      return fail("A weight in frame {} must be above 0, to a million.", frame.name);
    if (s.band && !(s.band->lower < s.band->upper && std::abs(s.band->lower) <= 1e6 &&
                    std::abs(s.band->upper) <= 1e6))
      return fail("A band in frame {} must have its lower edge below the upper.", frame.name);
  }
  return {};
}

Result<FoundFrame> findFrame(const Plan& plan, const PartFrame& frame,
                             const std::vector<FramePoint>& points, const Frame& start) {
  if (auto good = validate(frame); !good) return pass(good.error());
  std::vector<BandedSurface> used;
  auto fit = fitted(plan, frame, points, start, used);
  if (!fit) return pass(fit.error());
  FoundFrame found;
  found.free = freeDirections(*fit);
  const Frame inverse = fit->placement.inverse();
  double squares = 0;
  std::size_t count = 0;
  for (const auto& [s, band] : used)
    for (const Vec3& p : s.points) {
      const double d = s.distance(inverse * p) - s.offset;
      if (frame.fit == FrameFit::InsideBand)
        found.share = std::max(found.share, std::abs(shareOf(band, d)));
      found.worst = std::max(found.worst, std::abs(d));
      squares += d * d;
      ++count;
    }
  found.rms = count > 0 ? std::sqrt(squares / static_cast<double>(count)) : 0;
  found.placement = fit->placement;
  if (!frame.shift.isZero() || !frame.turn.isZero())
    found.placement = fit->placement * smallMotion(frame.turn, frame.shift, Vec3::Zero()).inverse();
  return found;
}

Result<std::string> leftFree(const Plan& plan, const PartFrame& frame) {
  std::vector<FramePoint> points;
  for (const FrameStage& s : frame.stages)
    for (FeatureId id : s.features)
      for (const Touch& t : plan.feature(id).touches)
        points.push_back({id, t.face, t.point, 0});
  auto found = findFrame(plan, frame, points, Frame::Identity());
  if (!found) return pass(found.error());
  return found->free;
}

std::string freedomInWords(const std::string& free) {
  std::string words;
  for (const char c : free) {
    words += words.empty() ? "" : ", ";
    const auto k = kDirections.find(c);
    words += k < 3 ? std::string(1, c) : std::string("turn about ") + "xyz"[k - 3];
  }
  return words.empty() ? "nothing" : words;
}

FrameChange changeBetween(const Plan& plan, const Frame& before, const Frame& after) {
  FrameChange change;
  if (plan.part) {
    const Box3 box = plan.part->mesh.box();
    for (int k = 0; k < 8; ++k) {
      const Vec3 corner = box.corner(static_cast<Box3::CornerType>(k));
      change.distance = std::max(change.distance, (after * corner - before * corner).norm());
    }
  }
  const Frame motion = before.inverse() * after;
  const Eigen::AngleAxisd turn(motion.linear());
  change.angle = std::abs(turn.angle());
  change.turn = turn.angle() * turn.axis();
  change.move = motion.translation();
  return change;
}

} // namespace alder
