#include "plan/article/article_scope.h"

#include "base/number_list.h"
#include "requirement/requirement_pairs.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kSamePlace = 1e-4; // mm; of directions as much at the end of 1 mm

void append(std::vector<double>& figures, const Vec3& v) {
  figures.insert(figures.end(), {v.x(), v.y(), v.z()});
}

// An axis points to one of two sides; either is the same.
Vec3 upright(const Vec3& direction) {
  for (int k = 2; k >= 0; --k)
    if (std::abs(direction[k]) > 1e-6) return direction[k] < 0 ? Vec3(-direction) : direction;
  return direction;
}

FeatureShape shapeOf(const Plan& plan, FeatureId id) {
  const NominalFeature& n = plan.nominal(id);
  const Ideal& i = n.ideal;
  FeatureShape shape{id, i.type, {}};
  std::vector<double>& f = shape.figures;
  switch (i.type) {
  case SurfaceType::Plane:
    append(f, i.direction);
    f.push_back(i.direction.dot(i.point));
    break;
  case SurfaceType::Cylinder:
  case SurfaceType::Cone: {
    const Vec3 along = upright(i.direction);
    Vec3 on = i.point - along * along.dot(i.point);
    if (i.type == SurfaceType::Cone && i.half_angle > 0) { // its apex
      on = i.point - i.direction * (i.diameter / 2 / std::tan(i.half_angle));
      f.push_back(i.half_angle);
    } else {
      f.push_back(i.diameter);
    }
    append(f, along);
    append(f, on);
    break;
  }
  case SurfaceType::Sphere:
    append(f, i.point);
    f.push_back(i.diameter);
    break;
  case SurfaceType::Slot: {
    const Vec3 across = upright(i.direction);
    append(f, across);
    f.push_back(across.dot(i.point));
    f.push_back(i.diameter);
    break;
  }
  case SurfaceType::Torus:
  case SurfaceType::Freeform:
    for (const FaceId face : n.faces) {
      const Face& at = plan.part->face(face);
      f.push_back(at.area);
      append(f, at.box.min());
      append(f, at.box.max());
    }
    break;
  }
  return shape;
}

// Of its features first, then those of its datums.
std::vector<FeatureShape> shapesOf(const Plan& plan, const Requirement& r) {
  std::vector<FeatureShape> all;
  const auto add = [&](FeatureId id) {
    const auto known = [&](const FeatureShape& s) { return s.feature == id; };
    if (plan.spec.features.holds(id) && std::none_of(all.begin(), all.end(), known))
      all.push_back(shapeOf(plan, id));
  };
  for (const FeatureId id : r.features)
    add(id);
  for (const DatumReference& d : r.datums)
    for (const std::string& letter : d.letters)
      if (const Datum* datum = plan.spec.datum(letter))
        for (const FeatureId id : datum->features)
          add(id);
  return all;
}

bool sameShape(const FeatureShape& a, const FeatureShape& b) {
  if (a.type != b.type || a.figures.size() != b.figures.size()) return false;
  for (std::size_t i = 0; i < a.figures.size(); ++i) {
    // Areas and boxes of freeform faces are found from triangles.
    const double room = a.type == SurfaceType::Freeform || a.type == SurfaceType::Torus
                            ? 1e-3 * std::max(1.0, std::abs(a.figures[i]))
                            : kSamePlace;
    if (std::abs(a.figures[i] - b.figures[i]) > room) return false;
  }
  return true;
}

std::string whyAgain(const Plan& plan, const Requirement& r, const BaselineCharacteristic* was) {
  if (!was) return "new";
  // The features count by their shapes below; a number that changed is no other characteristic.
  if (!asksTheSame(was->asked, r)) {
    const std::string how = differenceOf(plan.spec, was->asked, r);
    return how.empty() ? "asked for otherwise" : how;
  }
  const auto now = shapesOf(plan, r);
  for (const FeatureShape& shape : now) {
    const auto before =
        std::find_if(was->shapes.begin(), was->shapes.end(),
                     [&](const FeatureShape& s) { return s.feature == shape.feature; });
    const bool own =
        std::find(r.features.begin(), r.features.end(), shape.feature) != r.features.end();
    if (before == was->shapes.end() || !sameShape(*before, shape))
      return fmt::format("{}{} changed", own ? "" : "datum feature ",
                         plan.nominal(shape.feature).name);
  }
  return was->outside ? "was outside" : "";
}

} // namespace

std::vector<ArticleEntry> articleEntries(const Plan& plan) {
  const FirstArticle& article = plan.article;
  std::vector<ArticleEntry> all;
  const auto numbers = numbersFrom(article.chosen);
  for (const Requirement& r : plan.spec.requirements) {
    if (article.scope == ArticleScope::Full) {
      all.push_back({r.id, ""});
    } else if (article.scope == ArticleScope::Partial) {
      const bool in = numbers && std::any_of(numbers->begin(), numbers->end(), [&](const auto& n) {
                        return n.first <= r.balloon && r.balloon <= n.second;
                      });
      if (in) all.push_back({r.id, ""});
    } else if (article.baseline) {
      const auto& were = article.baseline->characteristics;
      const auto was =
          std::find_if(were.begin(), were.end(), [&](const auto& c) { return c.asked.id == r.id; });
      if (std::string why = whyAgain(plan, r, was == were.end() ? nullptr : &*was); !why.empty())
        all.push_back({r.id, std::move(why)});
    }
  }
  return all;
}

std::vector<std::string> goneSince(const Plan& plan, const ArticleBaseline& baseline) {
  std::vector<std::string> gone;
  for (const BaselineCharacteristic& c : baseline.characteristics)
    if (!plan.spec.requirements.holds(c.asked.id))
      gone.push_back(fmt::format("{} ({})", c.asked.balloon, describe(c.asked)));
  return gone;
}

ArticleBaseline baselineOf(const Plan& plan, const std::vector<RequirementId>& outside,
                           const std::string& date) {
  ArticleBaseline baseline{plan.article[ArticleField::Identifier],
                           plan.header[HeaderField::Number],
                           plan.header[HeaderField::Revision],
                           date,
                           {}};
  for (const Requirement& r : plan.spec.requirements)
    baseline.characteristics.push_back(
        {r, shapesOf(plan, r), std::find(outside.begin(), outside.end(), r.id) != outside.end()});
  return baseline;
}

ArticleBaseline carriedBaseline(const Plan& plan, const Plan& other, ArticleBaseline baseline) {
  const auto featureHere = [&](FeatureId id) {
    if (const NominalFeature* there = other.spec.features.find(id))
      for (const NominalFeature& n : plan.spec.features)
        if (n.name == there->name) return n.id;
    return FeatureId{};
  };
  for (BaselineCharacteristic& c : baseline.characteristics) {
    const auto same =
        std::find_if(plan.spec.requirements.begin(), plan.spec.requirements.end(),
                     [&](const Requirement& r) { return r.balloon == c.asked.balloon; });
    c.asked.id = same == plan.spec.requirements.end() ? RequirementId{} : same->id;
    for (FeatureId& id : c.asked.features)
      id = featureHere(id);
    for (FeatureShape& shape : c.shapes)
      shape.feature = featureHere(shape.feature);
  }
  return baseline;
}

} // namespace alder
