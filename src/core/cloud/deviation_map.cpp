#include "cloud/deviation_map.h"

#include "geometry/place_grid.h"
#include "plan/touches/nominal_surface.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {
namespace {

bool leftOut(const std::vector<MapArea>& areas, FeatureId feature, const Vec3& place) {
  return std::any_of(areas.begin(), areas.end(),
                     [&](const MapArea& a) { return a.holds(feature, place); });
}

// Places of one face, found by where they are.
class FacePlaces {
 public:
  FacePlaces(const std::vector<MapPlace>& places, const MapFeature& of, FaceId face)
      : grid_(2 * of.spacing) {
    for (const std::size_t i : of.places)
      if (places[i].face == face) grid_.add(places[i].at), places_.push_back(&places[i]);
  }
  // visit(place, distance) for all nearer than `reach`, until it returns true; whether it did.
  template <class Visit> bool near(const Vec3& at, double reach, Visit&& visit) const {
    return grid_.near(at, reach,
                      [&](std::size_t i, double distance) { return visit(*places_[i], distance); });
  }

 private:
  PlaceGrid grid_;
  std::vector<const MapPlace*> places_;
};

// take(triangle) for pieces of it whose sides are no longer than `side`.
template <class Take> void cutSmall(const Triangle& whole, double side, Take&& take) {
  std::vector<std::pair<Triangle, int>> open{{whole, 0}};
  while (!open.empty()) {
    const auto [t, depth] = open.back();
    open.pop_back();
    const std::array<Vec3, 3> c{t.a, t.b, t.c};
    int longest = 0;
    for (int k = 1; k < 3; ++k)
      if ((c[(k + 1) % 3] - c[k]).squaredNorm() > (c[(longest + 1) % 3] - c[longest]).squaredNorm())
        longest = k;
    const Vec3 &a = c[longest], &b = c[(longest + 1) % 3], &far = c[(longest + 2) % 3];
    if ((b - a).norm() <= side || depth > 24) {
      take(t);
      continue;
    }
    const Vec3 middle = (a + b) / 2;
    open.push_back({Triangle{a, middle, far}, depth + 1});
    open.push_back({Triangle{middle, b, far}, depth + 1});
  }
}

double areaOf(const Triangle& t) {
  return 0.5 * (t.b - t.a).cross(t.c - t.a).norm();
}

// Where the outline of a face crosses the edges of its triangles, each corner once.
class Outline {
 public:
  Outline(const Mesh& mesh, const CutPlane& plane)
      : mesh_(mesh)
      , plane_(plane) {}

  void add(const std::array<int, 3>& triangle) {
    std::vector<int> ends;
    for (int k = 0; k < 3; ++k) {
      const int a = triangle[static_cast<std::size_t>(k)],
                b = triangle[static_cast<std::size_t>((k + 1) % 3)];
      const double da = height(a), db = height(b);
      if ((da >= 0) == (db >= 0)) continue;
      const auto [found, fresh] = corners_.emplace(std::minmax(a, b), corner_.size());
      if (fresh) {
        corner_.push_back(at(a) + da / (da - db) * (at(b) - at(a)));
        next_.emplace_back();
      }
      ends.push_back(static_cast<int>(found->second));
    }
    if (ends.size() != 2) return;
    next_[static_cast<std::size_t>(ends[0])].push_back(ends[1]);
    next_[static_cast<std::size_t>(ends[1])].push_back(ends[0]);
  }

  // The corners in order, a polyline each; what has ends begins at one of them.
  std::vector<Points> lines() {
    std::vector<Points> lines;
    for (const bool closed : {false, true})
      for (std::size_t i = 0; i < next_.size(); ++i)
        while (!next_[i].empty() && (closed || next_[i].size() == 1))
          lines.push_back(walk(static_cast<int>(i)));
    return lines;
  }

 private:
  const Vec3& at(int vertex) const { return mesh_.vertices[static_cast<std::size_t>(vertex)]; }
  double height(int vertex) const { return plane_.normal.dot(at(vertex)) - plane_.at; }
  Points walk(int from) {
    Points line{corner_[static_cast<std::size_t>(from)]};
    while (!next_[static_cast<std::size_t>(from)].empty()) {
      const int to = next_[static_cast<std::size_t>(from)].back();
      next_[static_cast<std::size_t>(from)].pop_back();
      auto& back = next_[static_cast<std::size_t>(to)];
      back.erase(std::find(back.begin(), back.end(), from));
      line.push_back(corner_[static_cast<std::size_t>(to)]);
      from = to;
    }
    return line;
  }

  const Mesh& mesh_;
  const CutPlane& plane_;
  std::map<std::pair<int, int>, std::size_t> corners_; // by the edge's vertices
  Points corner_;
  std::vector<std::vector<int>> next_;
};

// The same line with places in between, none farther from the next than `step`.
Points refined(const Points& line, double step) {
  Points fine;
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const Vec3 way = line[i + 1] - line[i];
    const int pieces = std::clamp(static_cast<int>(std::ceil(way.norm() / step)), 1, 4000);
    for (int k = 0; k < pieces; ++k)
      fine.push_back(line[i] + way * (static_cast<double>(k) / pieces));
  }
  if (!line.empty()) fine.push_back(line.back());
  return fine;
}

void interpolate(const FacePlaces& places, double spacing, SectionPoint& point) {
  const double reach = 1.4 * spacing;
  NearMean off(reach), share(reach);
  places.near(point.nominal, reach, [&](const MapPlace& place, double distance) {
    if (!place.deviation) return false;
    off.add(place.off, distance), share.add(place.share, distance);
    return false;
  });
  if (off.nearest() > spacing || off.empty()) return;
  point.off = off.value(), point.share = share.value();
}

} // namespace

const MapFeature* DeviationMap::of(FeatureId feature) const {
  for (const MapFeature& f : features)
    if (f.feature == feature) return &f;
  return nullptr;
}

bool isOfCloud(const MeasuredFeature& measured) {
  return !measured.noise.empty();
}

DeviationMap deviationMap(const Plan& plan, const std::vector<const FeatureResult*>& results,
                          const Measurements& measured, const std::vector<MapArea>& left_out) {
  DeviationMap map;
  for (const FeatureResult* f : results) {
    const auto found = measured.find(f->feature);
    if (found == measured.end() || !isOfCloud(found->second) || map.of(f->feature)) continue;
    const MeasuredFeature& m = found->second;
    const NominalSurface surface(plan.part, plan.nominal(f->feature));
    const double width = drawnWidth(*f), half = std::max(width / 2, 1e-9);
    MapFeature shown{f->feature, spacingOf(m.nominals), width, 0, {}};
    for (std::size_t i = 0; i < m.nominals.size(); ++i) {
      const bool single = i < f->deviations.size();
      if (single && !std::isfinite(f->deviations[i])) continue; // left out as an outlier
      if (leftOut(left_out, f->feature, m.nominals[i])) {
        ++shown.left_out;
        continue;
      }
      MapPlace p;
      p.feature = f->feature;
      p.face = i < m.faces.size() ? m.faces[i] : FaceId{};
      p.at = m.nominals[i];
      p.normal = surface.normal(p.face, p.at);
      p.allowed = width;
      if (single) p.deviation = f->deviations[i], p.off = f->deviations[i] - f->moved;
      p.share = single ? p.off / half : f->share > 1 ? 1 : 0;
      shown.places.push_back(map.places.size());
      map.places.push_back(p);
    }
    map.features.push_back(std::move(shown));
  }
  return map;
}

UnshownSurface unshownSurface(const Plan& plan, const DeviationMap& map,
                              const std::vector<MapArea>& left_out) {
  constexpr double kCovered = 1.5; // spacings from a place
  UnshownSurface out;
  double all = 0, unseen = 0, away = 0;
  std::map<FaceId, std::pair<const MapFeature*, FacePlaces>> faces;
  for (const MapFeature& f : map.features)
    for (const FaceId face : plan.nominal(f.feature).faces)
      faces.try_emplace(face, &f, FacePlaces(map.places, f, face));
  const Mesh& mesh = plan.part->mesh;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const auto found = faces.find(FaceId{mesh.tags[i]});
    if (found == faces.end()) continue;
    const MapFeature* feature = found->second.first;
    const FacePlaces& places = found->second.second;
    const double reach = kCovered * feature->spacing;
    cutSmall(mesh.triangle(i), feature->spacing, [&](const Triangle& t) {
      const Vec3 middle = (t.a + t.b + t.c) / 3;
      const double area = areaOf(t);
      all += area;
      const bool out_of_map = leftOut(left_out, feature->feature, middle);
      if (!out_of_map) {
        if (places.near(middle, reach, [](const MapPlace&, double) { return true; })) return;
      }
      (out_of_map ? away : unseen) += area;
      const int base = static_cast<int>(out.mesh.vertices.size());
      out.mesh.vertices.insert(out.mesh.vertices.end(), {t.a, t.b, t.c});
      out.mesh.triangles.push_back({base, base + 1, base + 2});
      out.mesh.tags.push_back(static_cast<int>(out_of_map ? Unshown::LeftOut : Unshown::NotSeen));
    });
  }
  if (all > 0) out.not_seen = unseen / all, out.left_out = away / all;
  return out;
}

CutPlane cutThrough(const Vec3& place, SectionWay way, const Ideal& feature) {
  CutPlane plane;
  switch (way) {
  case SectionWay::AcrossX:
  case SectionWay::AcrossY:
  case SectionWay::AcrossZ:
    plane.normal = Vec3::Unit(static_cast<int>(way));
    break;
  case SectionWay::AcrossFeature:
    plane.normal = feature.direction;
    break;
  case SectionWay::AlongFeature: {
    const Vec3 out = place - feature.point;
    const Vec3 aside = feature.direction.cross(out);
    plane.normal = aside.norm() > 1e-6 * std::max(out.norm(), 1e-9)
                       ? aside.normalized()
                       : anyPerpendicular(feature.direction);
    break;
  }
  }
  plane.at = plane.normal.dot(place);
  return plane;
}

std::vector<SectionLine> deviationSection(const Plan& plan, const DeviationMap& map,
                                          const CutPlane& plane) {
  const Mesh& mesh = plan.part->mesh;
  std::map<int, Outline> outlines; // by face
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i)
    outlines.try_emplace(mesh.tags[i], mesh, plane).first->second.add(mesh.triangles[i]);
  std::map<FaceId, const MapFeature*> shown;
  for (const MapFeature& f : map.features)
    for (const FaceId face : plan.nominal(f.feature).faces)
      shown.try_emplace(face, &f);

  std::vector<SectionLine> section;
  for (auto& [tag, outline] : outlines) {
    const FaceId face{tag};
    const auto found = shown.find(face);
    const MapFeature* feature = found == shown.end() ? nullptr : found->second;
    const double spacing = feature ? feature->spacing : 1;
    const FacePlaces places(map.places, feature ? *feature : MapFeature{}, face);
    std::optional<NominalSurface> surface;
    if (feature) surface.emplace(plan.part, plan.nominal(feature->feature));
    for (const Points& line : outline.lines()) {
      SectionLine s{
          face, feature ? feature->feature : FeatureId{}, feature ? feature->allowed : 0, {}};
      for (const Vec3& p : feature ? refined(line, spacing / 3) : line) {
        SectionPoint point{p, Vec3::Zero(), {}, 0};
        if (feature) {
          const Vec3 n = surface->normal(face, p);
          const Vec3 within = n - n.dot(plane.normal) * plane.normal;
          if (within.norm() > 1e-3) { // else the surface lies along the plane
            point.outward = within.normalized();
            interpolate(places, spacing, point);
          }
        }
        s.points.push_back(point);
      }
      section.push_back(std::move(s));
    }
  }
  return section;
}

} // namespace alder
