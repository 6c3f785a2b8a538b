#include "cloud/judged_cloud.h"

#include "base/units.h"
#include "judge/actual.h"
#include "judge/datum_system.h"
#include "requirement/plane_indicator.h"
#include <algorithm>
#include <cmath>
#include <set>

namespace alder {
namespace {

constexpr std::size_t kFirstLook = 1000000; // points that suffice to lay the cloud on the part

// Lines of a plane run in the planes that a requirement indicates.
std::map<FaceId, Vec3> indicatedLines(const Specification& spec) {
  std::map<FaceId, Vec3> lines;
  for (const Requirement& r : spec.requirements) {
    if (!r.section_plane) continue;
    const auto planes = planesOf(spec, *r.section_plane);
    if (!planes) continue;
    for (const FeatureId id : r.features)
      for (const FaceId face : spec.feature(id).faces)
        for (int k = 0; k < 3; ++k) {
          const Vec3 along = Vec3::Unit(k);
          const Vec3& normal = spec.feature(id).ideal.direction;
          if (std::abs(along.dot(normal)) < 0.1 && holdLine(*planes, along, normal))
            lines.emplace(face, along);
        }
  }
  return lines;
}

std::string percent(std::size_t part, std::size_t all) {
  return fmt::format("{:.3g} %", 100.0 * static_cast<double>(part) / static_cast<double>(all));
}

void remark(const Plan& plan, const CloudSettings& settings, PlacedCloud& placed) {
  const Gathered& g = placed.gathered;
  if (placed.found && placed.found->also_turned > 0.02)
    placed.remarks.push_back(fmt::format(
        "The cloud fits hardly worse turned by {:.0f} degrees: if the part must lie that way, say "
        "where it lies.",
        degrees(placed.found->also_turned)));
  if (std::all_of(g.places.begin(), g.places.end(), [](const Place& p) { return p.noise <= 0; }))
    placed.remarks.push_back("The cloud has too few points to tell its noise; verdicts do not "
                             "regard it.");
  if (g.elsewhere > 0)
    placed.remarks.push_back(fmt::format("{} points ({}) lie near no face; they do not count.",
                                         g.elsewhere, percent(g.elsewhere, placed.points)));
  // What is far from one face may be a defect of it: by feature, where it is more than stray.
  for (const NominalFeature& f : plan.spec.features) {
    const FaceTally t = tallyOf(f, g);
    if (const std::size_t far = t.far + t.askew; far > 20 && far * 200 > t.used)
      placed.remarks.push_back(
          fmt::format("{}: {} points beyond {:g} mm, or of a surface that stands askew to it, do "
                      "not count; {} do.",
                      f.name, far, settings.gather.reach, t.used));
  }
}

// Where nearly all normals point out of the material, or nearly all into it, they tell which side
// of a wall a point is of; else they tell nothing.
NormalsUse useOfNormals(const NearestSurface& surface, const PointCloud& cloud,
                        const Frame& placement, double reach) {
  constexpr std::size_t kAsked = 5000;
  NearestSurface::Asker asker(surface);
  std::size_t along = 0, against = 0;
  const std::size_t step = cloud.points.size() / kAsked + 1;
  for (std::size_t i = 0; i < cloud.normals.size(); i += step) {
    const auto foot = asker.at(placement * cloud.points[i], reach);
    if (!foot) continue;
    const double c = foot->normal.dot(turn(placement, cloud.normals[i].cast<double>()));
    along += c > 0.5, against += c < -0.5;
  }
  if (along + against == 0) return NormalsUse::Ignored;
  const double share = static_cast<double>(along) / static_cast<double>(along + against);
  return share > 0.9   ? NormalsUse::AsGiven
         : share < 0.1 ? NormalsUse::Reversed
                       : NormalsUse::Ignored;
}

bool sideOfSlot(const NominalFeature& f, const Vec3& place) {
  return (place - f.ideal.point).dot(f.ideal.direction) >= 0;
}

// Rings that go all round, where most do: the middle of an arc says little, and rings that an
// inclined end or a groove cuts are not touched either.
void keepWholeRings(const NominalFeature& f, MeasuredFeature& m) {
  constexpr double kMostGap = 2 * kPi / 3;
  constexpr std::size_t kFewestRings = 3;
  const Frame inverse = frameOf(f.ideal.point, f.ideal.direction).inverse();
  std::set<int> whole;
  for (const auto& [row, members] : m.byRow()) {
    std::vector<double> angles;
    for (const std::size_t i : members) {
      const Vec3 q = inverse * m.nominals[i];
      angles.push_back(std::atan2(q.y(), q.x()));
    }
    std::sort(angles.begin(), angles.end());
    double gap = 2 * kPi + angles.front() - angles.back();
    for (std::size_t k = 1; k < angles.size(); ++k)
      gap = std::max(gap, angles[k] - angles[k - 1]);
    if (gap < kMostGap) whole.insert(row);
  }
  if (whole.size() < kFewestRings) return;
  MeasuredFeature kept;
  for (std::size_t i = 0; i < m.points.size(); ++i) {
    if (!whole.contains(m.rows[i])) continue;
    kept.points.push_back(m.points[i]);
    kept.faces.push_back(m.faces[i]);
    kept.nominals.push_back(m.nominals[i]);
    kept.rows.push_back(m.rows[i]);
    kept.noise.push_back(m.noise[i]);
  }
  m = std::move(kept);
}

} // namespace

Result<PlacedCloud> placeCloud(const Plan& plan, const PointCloud& cloud, CloudSettings settings,
                               const Progress& progress) {
  if (!plan.part) return fail("The routine has no part to place a cloud on.");
  PlacedCloud placed;
  placed.points = cloud.points.size();
  settings.gather.lines = indicatedLines(plan.spec);
  const NearestSurface surface(plan.part);
  if (settings.start) {
    placed.placement = *settings.start;
  } else {
    auto found = placeAnywhere(surface, cloud, progress);
    if (!found) return pass(found.error());
    placed.placement = found->placement;
    placed.found = *found;
  }
  if (!cloud.normals.empty())
    settings.gather.normals = useOfNormals(surface, cloud, placed.placement, settings.gather.reach);
  if (!cloud.normals.empty() && settings.gather.normals == NormalsUse::Ignored)
    placed.remarks.push_back("The normals in the file point no one way and are not used.");
  const EdgeZone edges(*plan.part, settings.gather.edge);
  const auto look = [&](std::size_t stride) -> Done {
    auto gathered =
        gather(cloud, placed.placement, surface, edges, settings.gather, stride, progress);
    if (!gathered) return pass(gathered.error());
    placed.gathered = std::move(*gathered);
    if (placed.gathered.places.empty())
      return fail("No point of the cloud lies within {:g} mm of the part's faces.",
                  settings.gather.reach);
    return {};
  };
  const auto lay = [&](const Frame& motion) {
    move(placed.gathered, surface, motion);
    placed.placement = motion * placed.placement;
  };
  const std::size_t stride = std::max<std::size_t>(cloud.points.size() / kFirstLook, 1);
  if (auto done = look(stride); !done) return pass(done.error());
  lay(bestFit(surface, placed.gathered, CloudFit::LeastSquares));
  for (const Surface& s : plan.part->surfaces)
    for (const FaceId face : s.faces)
      settings.gather.points[s.id] += static_cast<double>(
          stride * placed.gathered.faces[static_cast<std::size_t>(face.value)].used);
  if (auto done = look(1); !done) return pass(done.error());
  lay(bestFit(surface, placed.gathered, settings.fit));
  if (settings.datums.valid()) {
    const Requirement& r = plan.spec.requirement(settings.datums);
    if (r.datums.empty()) return fail("Requirement {} has no datums to place by.", r.balloon);
    const Measurements measured = measurementsOf(plan, placed.gathered);
    auto system = datumSystemOf(plan, r, measured);
    if (!system)
      return fail("The cloud cannot be placed by the datums of requirement {}: {}", r.balloon,
                  system.error().message);
    lay(system->fit.placement.inverse());
  }
  remark(plan, settings, placed);
  return placed;
}

FaceTally tallyOf(const NominalFeature& feature, const Gathered& gathered) {
  FaceTally sum;
  for (const FaceId face : feature.faces) {
    const FaceTally& t = gathered.faces[static_cast<std::size_t>(face.value)];
    sum.used += t.used, sum.at_edges += t.at_edges, sum.far += t.far, sum.outliers += t.outliers;
    sum.askew += t.askew, sum.thin += t.thin;
    sum.cell = std::max(sum.cell, t.cell);
    sum.noise = std::max(sum.noise, t.noise);
    sum.place_noise = std::max(sum.place_noise, t.place_noise);
  }
  return sum;
}

Measurements measurementsOf(const Plan& plan, const Gathered& gathered) {
  std::map<FaceId, std::pair<std::size_t, std::size_t>> of_face; // places
  for (std::size_t i = 0; i < gathered.places.size(); ++i) {
    auto [found, fresh] = of_face.try_emplace(gathered.places[i].face, i, i);
    found->second.second = i + 1;
  }
  Measurements measured;
  for (const NominalFeature& f : plan.spec.features) {
    if (f.isConstructed() || f.faces.empty()) continue;
    MeasuredFeature m;
    for (const FaceId face : f.faces) {
      const auto range = of_face.find(face);
      if (range == of_face.end()) continue;
      const FaceTally& tally = gathered.faces[static_cast<std::size_t>(face.value)];
      for (std::size_t i = range->second.first; i < range->second.second; ++i) {
        const Place& p = gathered.places[i];
        if (isCircle(f.ideal) &&
            std::abs((p.foot - f.ideal.point).dot(f.ideal.direction)) > tally.cell / 2)
          continue;
        m.points.push_back(p.actual());
        m.faces.push_back(face);
        m.nominals.push_back(p.meant);
        m.rows.push_back(f.ideal.type == SurfaceType::Slot ? (sideOfSlot(f, p.foot) ? 1 : 0)
                                                           : p.row);
        m.noise.push_back(p.noise);
      }
    }
    if (m.points.empty()) continue;
    if (hasAxis(f.ideal)) keepWholeRings(f, m);
    measured.emplace(f.id, std::move(m));
  }
  return measured;
}

} // namespace alder
