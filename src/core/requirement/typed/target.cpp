#include "requirement/typed/target.h"

#include "part/recognise.h"
#include "requirement/from_pmi.h"
#include "requirement/typed/surface_groups.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

bool share(const std::vector<FaceId>& a, const std::vector<FaceId>& b) {
  return std::any_of(a.begin(), a.end(),
                     [&](FaceId f) { return std::find(b.begin(), b.end(), f) != b.end(); });
}

class TargetFinder {
 public:
  TargetFinder(const PartModel& part, const Specification& spec)
      : part_(part) {
    target_.spec = spec;
  }

  TypedTarget find(const std::vector<FeatureId>& features, const std::vector<FaceId>& faces,
                   int count) {
    target_.features = features;
    for (const Surface& s : surfacesOf(part_, faces, Grouping::SlotIfParallel))
      take(s);
    target_.picked = target_.features.size();
    if (target_.picked == 1) takeAlike(count);
    return std::move(target_);
  }

 private:
  void take(const Surface& s) {
    for (const NominalFeature& f : target_.spec.features)
      if (f.faces == s.faces) {
        if (std::find(target_.features.begin(), target_.features.end(), f.id) ==
            target_.features.end())
          target_.features.push_back(f.id);
        return;
      }
    const FeatureId id = target_.spec.features.next();
    target_.spec.features.push_back(
        {id, freeFeatureName(target_.spec, featureName(s.ideal)), s.ideal, s.faces});
    target_.features.push_back(id);
    target_.faces.insert(target_.faces.end(), s.faces.begin(), s.faces.end());
  }

  void takeAlike(int count) {
    const NominalFeature one = target_.spec.feature(target_.features.front());
    if (one.ideal.diameter <= 0 || one.isConstructed()) return;
    std::vector<Surface> others;
    for (const Surface& s : part_.surfaces)
      if (alike(s.ideal, one.ideal) && !share(s.faces, one.faces)) others.push_back(s);
    target_.alike = others.size();
    if (count < 2 || others.size() + 1 != static_cast<std::size_t>(count)) return;
    for (const Surface& s : others)
      take(s);
  }

  const PartModel& part_;
  TypedTarget target_;
};

} // namespace

TypedTarget typedTarget(const PartModel& part, const Specification& spec,
                        const std::vector<FeatureId>& features, const std::vector<FaceId>& faces,
                        int count) {
  return TargetFinder(part, spec).find(features, faces, count);
}

} // namespace alder
