#include "revision/carried.h"

#include "part/recognise.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

std::set<int> surfacesWith(const PartModel& part, const std::vector<FaceId>& faces) {
  std::set<int> found;
  for (const Surface& s : part.surfaces)
    for (const FaceId f : s.faces)
      if (std::find(faces.begin(), faces.end(), f) != faces.end()) found.insert(s.id.value);
  return found;
}

std::vector<FaceId> facesOf(const PartModel& now, const std::set<int>& before,
                            const ModelComparison& comparison) {
  std::set<FaceId> faces;
  for (const int b : before)
    for (const SurfaceId n : comparison.before[static_cast<std::size_t>(b)].now) {
      const auto& its = now.surfaces[static_cast<std::size_t>(n.value)].faces;
      faces.insert(its.begin(), its.end());
    }
  return {faces.begin(), faces.end()};
}

bool oneMove(const Frame& a, const Frame& b) {
  return (a.matrix() - b.matrix()).cwiseAbs().maxCoeff() < 1e-6;
}

// What the surfaces of one feature did, taken together.
SurfaceFate fateOf(const NominalFeature& f, const std::set<int>& surfaces,
                   const ModelComparison& comparison, Frame& move) {
  SurfaceFate worst = SurfaceFate::Stayed;
  std::size_t gone = 0, moved = 0;
  bool one_move = true;
  for (const int b : surfaces) {
    const SurfacePairing& p = comparison.before[static_cast<std::size_t>(b)];
    gone += p.fate == SurfaceFate::Gone;
    if (p.fate == SurfaceFate::Moved) {
      one_move = one_move && (moved == 0 || oneMove(move, p.move));
      move = p.move;
      ++moved;
    }
    if (p.fate != SurfaceFate::Gone) worst = std::max(worst, p.fate);
  }
  if (gone == surfaces.size() || (gone > 0 && f.ideal.type == SurfaceType::Slot))
    return SurfaceFate::Gone;
  if (moved > 0 && (moved < surfaces.size() || !one_move)) {
    move = Frame::Identity();
    return SurfaceFate::Resized;
  }
  return gone > 0 ? std::max(worst, SurfaceFate::Trimmed) : worst;
}

// As it lies on the newer model; its own figures where these say the same, so that nothing computed
// from it changes.
NominalFeature nominalNow(const NominalFeature& old, const PartModel& now,
                          const std::vector<FaceId>& faces) {
  NominalFeature f = old;
  f.faces = faces;
  const Grouping grouping =
      old.ideal.type == SurfaceType::Slot ? Grouping::SlotIfParallel : Grouping::Surfaces;
  const auto surfaces = surfacesOf(now, faces, grouping);
  if (surfaces.empty()) return f;
  Ideal ideal = surfaces.front().ideal;
  f.faces = surfaces.front().faces;
  if (old.as_touched || ideal.type == SurfaceType::Freeform) {
    if (old.as_touched) return f; // it ends where its touches do
    f.ideal = ideal;
    return f;
  }
  // The axis of a cylinder may be written either way.
  if (ideal.type == SurfaceType::Cylinder && ideal.direction.dot(old.ideal.direction) < 0) {
    ideal.point += ideal.length * ideal.direction;
    ideal.direction = -ideal.direction;
  }
  if (ideal.type == SurfaceType::Slot && ideal.direction.dot(old.ideal.direction) < 0)
    ideal.direction = -ideal.direction;
  const bool same_slot = ideal.type == SurfaceType::Slot &&
                         std::abs(ideal.diameter - old.ideal.diameter) < 1e-4 &&
                         (ideal.direction - old.ideal.direction).norm() < 1e-5 &&
                         std::abs((ideal.point - old.ideal.point).dot(ideal.direction)) < 1e-4;
  const bool ends_same = std::abs(ideal.length - old.ideal.length) < 1e-4 &&
                         (ideal.type == SurfaceType::Plane || ideal.type == SurfaceType::Slot ||
                          (ideal.point - old.ideal.point).norm() < 1e-4);
  if (!(same_slot || (sameIdeal(ideal, old.ideal) && ends_same))) f.ideal = ideal;
  return f;
}

// The same names for the faces, of several the one on which the touch lies; nothing: on none.
bool refaced(const PartModel& before, const PartModel& now, const ModelComparison& comparison,
             std::vector<Touch>& touches) {
  for (Touch& t : touches) {
    const auto faces = facesNow(before, now, comparison, {t.face});
    if (faces.empty()) return false;
    t.face = faces.front();
    if (faces.size() == 1) continue;
    const FaceRegion region(now, faces);
    if (const auto at = region.nearest(t.point)) t.face = at->face;
  }
  return true;
}

} // namespace

std::vector<FaceId> facesNow(const PartModel& before, const PartModel& now,
                             const ModelComparison& comparison, const std::vector<FaceId>& faces) {
  return facesOf(now, surfacesWith(before, faces), comparison);
}

std::vector<CarriedFeature> carriedFeatures(const Plan& plan, const PartModel& now,
                                            const ModelComparison& comparison) {
  std::vector<CarriedFeature> all;
  for (const Feature& f : plan.features) {
    const NominalFeature& nominal = plan.nominal(f.id);
    if (nominal.isConstructed()) continue;
    CarriedFeature c;
    c.id = f.id;
    c.nominal = nominal;
    const auto surfaces = surfacesWith(*plan.part, nominal.faces);
    c.fate = fateOf(nominal, surfaces, comparison, c.move);
    if (c.fate == SurfaceFate::Gone) {
      all.push_back(std::move(c));
      continue;
    }
    c.nominal = nominalNow(nominal, now, facesOf(now, surfaces, comparison));
    c.touches = f.touches;
    if (c.fate == SurfaceFate::Moved)
      for (Touch& t : c.touches) {
        t.point = c.move * t.point;
        t.normal = turn(c.move, t.normal);
      }
    if (f.touches.empty()) {
      all.push_back(std::move(c));
      continue;
    }
    const double room = f.access.valid() ? plan.tip(f.access).edgeRoom() : 1.5;
    if (c.fate == SurfaceFate::Resized || c.fate == SurfaceFate::Reshaped ||
        !refaced(*plan.part, now, comparison, c.touches)) {
      c.why_anew = "its surface is another one";
    } else {
      // A touch that a person put near an edge was so before.
      const auto before = faultsOf(*plan.part, nominal, f.touches, room);
      const auto after = faultsOf(now, c.nominal, c.touches, room);
      std::size_t worse = 0;
      for (std::size_t i = 0; i < after.size(); ++i)
        worse += !after[i].empty() && before[i].empty();
      if (worse > 0)
        c.why_anew = fmt::format("{} of its {} touches would lie off it, or too near an edge",
                                 worse, after.size());
    }
    all.push_back(std::move(c));
  }
  return all;
}

} // namespace alder
