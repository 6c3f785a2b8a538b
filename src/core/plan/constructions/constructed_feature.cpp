#include "plan/constructions/constructed_feature.h"

#include <algorithm>
#include <set>

namespace alder {
namespace {

// Places on the nominal feature that say how far it reaches, where it has no touches.
Points outlineOf(const PartModel* part, const NominalFeature& f) {
  Points points;
  if (part)
    for (FaceId face : f.faces) {
      const Box3& box = part->face(face).box;
      for (int corner = 0; corner < 8; ++corner)
        points.push_back(box.corner(static_cast<Box3::CornerType>(corner)));
    }
  if (points.empty()) points = {f.ideal.point, f.ideal.point + f.ideal.length * f.ideal.direction};
  return points;
}

class Refresher {
 public:
  explicit Refresher(Plan& plan)
      : plan_(plan) {}

  Done run() {
    if (const auto cycle = cycleIn(plan_.spec))
      return fail("A constructed feature cannot depend on itself: {}.", *cycle);
    for (const NominalFeature& f : plan_.spec.features)
      if (auto shape = shapeOf(f.id); !shape) return pass(shape.error());
    return {};
  }

 private:
  Result<Shaped> shapeOf(FeatureId id) {
    NominalFeature& f = plan_.spec.features.at(id);
    if (!f.from) return nominalShape(plan_, id);
    if (const auto known = done_.find(id); known != done_.end()) return known->second;
    std::vector<Shaped> parents;
    for (FeatureId parent : f.from->of) {
      auto shape = shapeOf(parent);
      if (!shape) return shape;
      parents.push_back(std::move(*shape));
    }
    auto shape = construct(*f.from, parents);
    if (!shape) return fail("{}: {}.", f.name, shape.error().message);
    f.ideal = shape->ideal;
    done_[id] = *shape;
    return shape;
  }

  Plan& plan_;
  std::map<FeatureId, Shaped> done_;
};

std::string uniqueName(const Specification& spec, const std::string& stem) {
  std::set<std::string> taken;
  for (const NominalFeature& f : spec.features)
    taken.insert(f.name);
  for (int number = 1;; ++number)
    if (std::string name = stem + " " + std::to_string(number); !taken.count(name)) return name;
}

std::string stemOf(const Construction& c, const Ideal& i) {
  if (c.kind == ConstructionKind::CircleThrough) return "Pitch circle";
  if (c.kind == ConstructionKind::GaugeCircle) return "Gauge circle";
  if (c.kind == ConstructionKind::Section) return "Ring";
  if (c.kind == ConstructionKind::Copy) return "Copy";
  const bool middle = c.kind == ConstructionKind::Middle;
  if (i.type == SurfaceType::Plane) return middle ? "Mid plane" : "Plane";
  if (i.type == SurfaceType::Sphere) return middle ? "Mid point" : "Point";
  if (i.diameter > 0) return i.length > 0 ? "Cylinder" : "Circle";
  return middle ? "Mid line" : "Line";
}

// "#3" is not in "#36".
bool speaksOf(const std::string& formula, int balloon) {
  const auto reference = "#" + std::to_string(balloon);
  for (auto at = formula.find(reference); at != std::string::npos;
       at = formula.find(reference, at + 1)) {
    const auto end = at + reference.size();
    if (end == formula.size() || formula[end] < '0' || formula[end] > '9') return true;
  }
  return false;
}

bool isPlanar(const Ideal& i) {
  return i.type == SurfaceType::Plane || i.type == SurfaceType::Slot;
}
bool isCentred(const Ideal& i) {
  return i.type == SurfaceType::Sphere ||
         (i.type == SurfaceType::Cylinder && i.length <= 0 && i.diameter > 0);
}

} // namespace

Shaped nominalShape(const Plan& plan, FeatureId id) {
  const NominalFeature& n = plan.nominal(id);
  Shaped s{n.ideal, {}, {}};
  if (const Feature* f = plan.features.find(id))
    for (const Touch& t : f->touches) {
      s.points.push_back(t.point);
      s.rows.push_back(t.row);
    }
  if (s.points.empty()) s.points = outlineOf(plan.part.get(), n);
  return s;
}

Done refreshConstructed(Plan& plan) {
  return Refresher(plan).run();
}

std::vector<Proposal> proposeConstructions(const Plan& plan,
                                           const std::vector<FeatureId>& features) {
  using K = ConstructionKind;
  std::vector<Shaped> shapes;
  for (FeatureId id : features)
    shapes.push_back(nominalShape(plan, id));
  std::vector<Proposal> all;
  const auto propose = [&](K kind, std::string words, Construction c = {}) {
    c.kind = kind;
    c.of = features;
    if (construct(c, shapes)) all.push_back({std::move(c), std::move(words)});
  };
  const std::string count = std::to_string(features.size());
  if (shapes.size() == 1) {
    const Ideal& i = shapes[0].ideal;
    Construction gauge;
    gauge.diameter = i.diameter + i.length * std::tan(i.half_angle);
    propose(K::GaugeCircle, "Gauge circle", gauge);
    std::set<int> rows(shapes[0].rows.begin(), shapes[0].rows.end());
    for (const int row : rows) {
      Construction ring;
      ring.row = row;
      propose(K::Section, "Circle of ring " + std::to_string(row + 1), ring);
    }
    propose(K::Copy, "Copy, moved or turned");
    return all;
  }
  if (shapes.size() == 2) {
    const Ideal &a = shapes[0].ideal, &b = shapes[1].ideal;
    const bool parallel = std::abs(a.direction.dot(b.direction)) > 0.999;
    if (isPlanar(a) && isPlanar(b)) {
      if (parallel) propose(K::Middle, "Plane midway between");
      propose(K::Intersection, "Line where they meet");
      if (!parallel) propose(K::Middle, "Plane midway between");
    } else if (isPlanar(a) || isPlanar(b)) {
      const bool to_second = isPlanar(b);
      propose(K::Pierce, "Point where it pierces the plane");
      propose(K::Intersection, "Circle where they meet");
      if (to_second) {
        propose(K::Projection, "The first, seen on the plane");
      } else {
        Construction swapped{K::Projection, {features[1], features[0]}};
        if (construct(swapped, {shapes[1], shapes[0]}))
          all.push_back({swapped, "The second, seen on the plane"});
      }
      propose(K::Nearest, "Nearest point of the first");
    } else if (hasAxis(a) && hasAxis(b) && !isCentred(a) && !isCentred(b)) {
      propose(K::Middle, "Line midway between");
      propose(K::Intersection, "Point where the axes meet");
      propose(K::LineThrough, "Line through both centres");
      propose(K::Nearest, "Nearest point of the first");
    } else {
      propose(K::Middle, "Point midway between");
      propose(K::LineThrough, "Line through both centres");
      propose(K::Nearest, "Nearest point of the first");
    }
  } else {
    propose(K::CircleThrough, "Circle through " + count + " centres");
    propose(K::LineThrough, "Line through " + count + " centres");
    propose(K::PlaneThrough, "Plane through " + count + " centres");
  }
  propose(K::BestFit, "One feature of all their points");
  return all;
}

Result<Specification> withConstructed(const Plan& plan, const Construction& construction,
                                      const std::string& name) {
  std::vector<Shaped> parents;
  for (FeatureId id : construction.of)
    parents.push_back(nominalShape(plan, id));
  auto shape = construct(construction, parents);
  if (!shape) return fail("This cannot be constructed: {}.", shape.error().message);
  Specification spec = plan.spec;
  NominalFeature f;
  f.id = spec.features.next();
  f.ideal = shape->ideal;
  f.from = construction;
  f.name = name.empty() ? uniqueName(spec, stemOf(construction, f.ideal)) : name;
  spec.features.push_back(std::move(f));
  return spec;
}

Specification withRequirement(const Specification& spec, Requirement r) {
  Specification more = spec;
  r.id = spec.requirements.next();
  r.balloon = 1;
  for (const Requirement& other : spec.requirements)
    r.balloon = std::max(r.balloon, other.balloon + 1);
  more.requirements.push_back(std::move(r));
  return more;
}

Result<Specification> withoutRequirement(const Specification& spec, RequirementId requirement) {
  const Requirement& gone = spec.requirement(requirement);
  for (const Requirement& r : spec.requirements) {
    if (r.upper_segment == requirement)
      return fail("Requirement {} is the lower segment of {}; remove it first.", r.balloon,
                  gone.balloon);
    if (speaksOf(r.formula, gone.balloon))
      return fail("Requirement {} is computed from {}; remove it first.", r.balloon, gone.balloon);
  }
  Specification rest = spec;
  rest.requirements.erase(requirement);
  return rest;
}

} // namespace alder
