#include "plan/frame_fit.h"

#include "plan/nominal_surface.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr std::string_view kDirections = "xyzuvw";

// The surfaces of a stage with their points.
Result<std::vector<SurfacePoints>> surfacesOf(const Plan& plan, const FrameStage& stage,
                                              const std::vector<FramePoint>& all) {
  std::vector<SurfacePoints> surfaces;
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
    const NominalSurface surface(plan.part, plan.nominal(id));
    for (SurfacePoints& group : surface.group(points, faces, radius))
      surfaces.push_back(std::move(group));
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

Residuals residualsOf(const std::vector<SurfacePoints>& surfaces) {
  Residuals r;
  std::vector<std::pair<const SurfacePoints*, std::size_t>> index;
  for (const SurfacePoints& s : surfaces)
    for (std::size_t i = 0; i < s.points.size(); ++i)
      index.emplace_back(&s, i);
  r.count = index.size();
  r.at = [index](const Frame& placement) {
    return [index, placement, inverse = Frame(placement.inverse())](std::size_t i) -> Vec3 {
      const auto& [surface, k] = index[i];
      const Vec3 q = inverse * surface->points[k];
      return (surface->distance(q) - surface->offset) * (placement.linear() * surface->normal(q));
    };
  };
  return r;
}

// Least squares within a freedom, by Gauss and Newton with differences; distances are smooth.
void solveWithin(RigidFit& fit, const Freedom& freedom,
                 const std::vector<SurfacePoints>& surfaces) {
  const auto distances = [&](const Frame& placement) {
    std::vector<double> d;
    const Frame inverse = placement.inverse();
    for (const SurfacePoints& s : surfaces)
      for (const Vec3& p : s.points)
        d.push_back(s.distance(inverse * p) - s.offset);
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
    Eigen::CompleteOrthogonalDecomposition<Eigen::MatrixXd> solver;
    solver.setThreshold(1e-6);
    solver.compute(j);
    const Eigen::VectorXd change = solver.solve(-now);
    fit.placement = fit.moved(fit.placement, freedom * change);
    if (change.norm() < 1e-10) break;
  }
}

Result<RigidFit> fitted(const Plan& plan, const PartFrame& frame,
                        const std::vector<FramePoint>& points, const Frame& start,
                        std::vector<SurfacePoints>& used) {
  std::vector<DatumStage> stages;
  for (const FrameStage& stage : frame.stages) {
    auto surfaces = surfacesOf(plan, stage, points);
    if (!surfaces) return pass(surfaces.error());
    used.insert(used.end(), surfaces->begin(), surfaces->end());
    DatumStage datum;
    datum.name = plan.nominal(stage.features.front()).name;
    datum.surfaces = std::move(*surfaces);
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
  if (frame.fit == FrameFit::LeastWorst) {
    const Freedom may = motionsOf(*fit, allBut(frame.held));
    fit->placement = minimiseWorst(*fit, may, residualsOf(used)).placement;
  }
  return fit;
}

} // namespace

std::string_view name(FrameFit fit) {
  static constexpr std::array<std::string_view, 3> kNames{"in order", "least squares",
                                                          "least worst"};
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
  }
  return {};
}

Result<FoundFrame> findFrame(const Plan& plan, const PartFrame& frame,
                             const std::vector<FramePoint>& points, const Frame& start) {
  if (auto good = validate(frame); !good) return pass(good.error());
  std::vector<SurfacePoints> used;
  auto fit = fitted(plan, frame, points, start, used);
  if (!fit) return pass(fit.error());
  FoundFrame found;
  found.free = freeDirections(*fit);
  const Frame inverse = fit->placement.inverse();
  double squares = 0;
  std::size_t count = 0;
  for (const SurfacePoints& s : used)
    for (const Vec3& p : s.points) {
      const double d = s.distance(inverse * p) - s.offset;
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
