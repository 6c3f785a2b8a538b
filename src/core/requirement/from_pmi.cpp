#include "requirement/from_pmi.h"

#include "base/units.h"
#include "part/pmi/teller.h"
#include "part/recognise.h"
#include "requirement/fits.h"
#include "requirement/limits.h"
#include "requirement/model_figure.h"
#include "requirement/pmi_modifiers.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {
namespace {

Characteristic kindOf(ToleranceType type) {
  switch (type) {
  case ToleranceType::Straightness:
    return Characteristic::Straightness;
  case ToleranceType::Flatness:
    return Characteristic::Flatness;
  case ToleranceType::Roundness:
    return Characteristic::Roundness;
  case ToleranceType::Cylindricity:
    return Characteristic::Cylindricity;
  case ToleranceType::LineProfile:
    return Characteristic::LineProfile;
  case ToleranceType::SurfaceProfile:
    return Characteristic::SurfaceProfile;
  case ToleranceType::Parallelism:
    return Characteristic::Parallelism;
  case ToleranceType::Perpendicularity:
    return Characteristic::Perpendicularity;
  case ToleranceType::Angularity:
    return Characteristic::Angularity;
  case ToleranceType::Position:
    return Characteristic::Position;
  case ToleranceType::Coaxiality:
  case ToleranceType::Concentricity:
    return Characteristic::Coaxiality;
  case ToleranceType::Symmetry:
    return Characteristic::Symmetry;
  case ToleranceType::CircularRunout:
    return Characteristic::CircularRunout;
  case ToleranceType::TotalRunout:
    return Characteristic::TotalRunout;
  }
  return Characteristic::Position;
}

// Of location and orientation the derived feature is meant, so two opposite planes are one slot.
bool meansDerivedFeature(Characteristic kind) {
  return kind == Characteristic::Position || kind == Characteristic::Symmetry ||
         kind == Characteristic::Coaxiality || kind == Characteristic::Parallelism ||
         kind == Characteristic::Perpendicularity || kind == Characteristic::Angularity;
}

class Builder {
 public:
  Builder(const PartModel& part, std::vector<Note>& notes)
      : part_(part)
      , notes_(notes) {}

  Specification build() {
    for (const PmiDatum& d : part_.pmi.datums)
      addDatum(d);
    std::map<EntityNumber, Requirement> by_entity;
    for (const PmiDimension& d : part_.pmi.dimensions)
      if (auto r = dimension(d)) by_entity[d.entity] = std::move(*r);
    for (const PmiTolerance& t : part_.pmi.tolerances)
      by_entity[t.entity] = tolerance(t);
    std::map<EntityNumber, RequirementId> ids;
    for (auto& [entity, r] : by_entity) {
      r.id = spec_.requirements.next();
      r.balloon = r.id.value + 1;
      ids[entity] = r.id;
      spec_.requirements.push_back(r);
    }
    for (const PmiTolerance& t : part_.pmi.tolerances)
      if (const auto upper = ids.find(t.upper_segment); upper != ids.end())
        spec_.requirements.at(ids[t.entity]).upper_segment = upper->second;
    numberNames();
    return std::move(spec_);
  }

 private:
  // On a tolerance or dimension.
  void note(EntityNumber entity, std::string text) {
    notes_.push_back({entity, std::move(text), {entity}});
  }

  FeatureId featureOf(const Surface& surface) {
    for (const NominalFeature& f : spec_.features)
      if (f.faces == surface.faces && f.ideal.type == surface.ideal.type) return f.id;
    NominalFeature f{spec_.features.next(), featureName(surface.ideal), surface.ideal,
                     surface.faces};
    spec_.features.push_back(f);
    return f.id;
  }

  std::vector<FeatureId> featuresOf(const std::vector<FaceId>& faces, Grouping grouping) {
    std::vector<FeatureId> result;
    for (const Surface& s : surfacesOf(part_, faces, grouping))
      result.push_back(featureOf(s));
    return result;
  }

  void addDatum(const PmiDatum& d) {
    Datum datum{d.letter, featuresOf(d.faces, Grouping::SlotIfParallel), {}};
    for (const PmiDatumTarget& t : d.targets)
      datum.targets.push_back({t.point, t.to, t.diameter});
    spec_.datums.push_back(std::move(datum));
  }

  std::optional<Requirement> dimension(const PmiDimension& d) {
    Requirement r;
    r.entity = d.entity;
    r.nominal = *d.nominal;
    r.decimals = std::max(d.decimals, 0) + 1;
    r.decimals = std::clamp(r.decimals, 3, 5);
    switch (d.type) {
    case PmiDimension::Type::Angle:
      r.kind = Characteristic::Angle;
      r.features = featuresOf(d.faces, Grouping::Surfaces);
      for (FeatureId f : featuresOf(d.faces2, Grouping::Surfaces))
        r.features.push_back(f);
      break;
    case PmiDimension::Type::Distance:
      r.kind = Characteristic::Distance;
      r.features = featuresOf(d.faces, Grouping::SlotIfParallel);
      for (FeatureId f : featuresOf(d.faces2, Grouping::SlotIfParallel))
        r.features.push_back(f);
      if (r.features.size() > 2) {
        note(d.entity, "distance between more than two features: the first two are judged");
        r.features.resize(2);
      }
      break;
    default:
      r.kind = Characteristic::Size;
      r.features = featuresOf(d.faces, Grouping::SlotIfParallel);
      r.radius = d.type == PmiDimension::Type::Radius;
      setSizeZone(r);
      if (!sizeFits(r, d)) return {};
    }
    setLimits(r, d);
    for (const auto& m : d.modifiers)
      if (!takeModifier(r, m)) note(d.entity, "\"" + m + "\" on a dimension is not judged");
    if (d.count > 0 && d.count != static_cast<int>(r.features.size()))
      note(d.entity,
           fmt::format("it is said of {} features and names {}", d.count, r.features.size()));
    checkAgainstModel(r);
    return r;
  }

  // A diameter is of what is round, a width of two faces; another dimension must not become one.
  bool sizeFits(const Requirement& r, const PmiDimension& d) {
    if (r.features.empty()) return true;
    const Ideal& ideal = spec_.feature(r.features.front()).ideal;
    const bool round = hasAxis(ideal) || ideal.type == SurfaceType::Sphere;
    const std::string said = d.name.empty() ? "a size without a kind" : "\"" + d.name + "\"";
    if (d.type == PmiDimension::Type::Width && round) {
      const bool same = ideal.type != SurfaceType::Cone &&
                        std::abs(ideal.diameter - r.nominal) < 0.02 * ideal.diameter;
      if (!d.name.empty() || !same) {
        notes_.push_back({d.entity, fmt::format("{} {} of {} is no size of it and is left out",
                                                said, shortFigure(r.nominal), featureName(ideal))});
        return false;
      }
      note(d.entity, "it is not said to be a diameter, and read as one");
    } else if (d.type != PmiDimension::Type::Width && !round && ideal.type != SurfaceType::Torus) {
      notes_.push_back({d.entity, fmt::format("{} {} of a {} is no size of it and is left out",
                                              said, shortFigure(r.nominal), name(ideal.type))});
      return false;
    } else if (d.type != PmiDimension::Type::Width &&
               d.spherical != (ideal.type == SurfaceType::Sphere)) {
      note(d.entity, said + " is of " + featureName(ideal) + ", and judged as that of it");
    }
    return true;
  }

  // A unit or a radius taken for a diameter shows in a factor between the two.
  void checkAgainstModel(const Requirement& r) {
    const auto plane = [this](FeatureId id) {
      return spec_.feature(id).ideal.type == SurfaceType::Plane;
    };
    const bool compared = r.kind == Characteristic::Size ||
                          (r.kind == Characteristic::Distance &&
                           std::all_of(r.features.begin(), r.features.end(), plane));
    const auto model = compared ? modelFigure(spec_, r) : std::nullopt;
    if (!model || !(*model > 0) || !(r.nominal > 0)) return;
    const double ratio = r.nominal / *model;
    for (const auto& [factor, means] : {std::pair{25.4, "inches and millimetres"},
                                        {1000.0, "metres and millimetres"},
                                        {2.0, "radius and diameter"},
                                        {10.0, "centimetres and millimetres"}})
      if (std::abs(ratio / factor - 1) < 0.002 || std::abs(ratio * factor - 1) < 0.002)
        return note(r.entity, fmt::format("the model is {} and the dimension says {}: {} may have "
                                          "been exchanged",
                                          shortFigure(*model), shortFigure(r.nominal), means));
    if (std::abs(ratio - 1) > 0.05)
      note(r.entity, fmt::format("the model is {} and the dimension says {}", shortFigure(*model),
                                 shortFigure(r.nominal)));
  }

  // How a size is written: with ø, with Sø, or plain.
  void setSizeZone(Requirement& r) const {
    if (r.features.empty()) return;
    const auto type = spec_.feature(r.features.front()).ideal.type;
    r.zone = type == SurfaceType::Sphere                               ? Zone::Spherical
             : type == SurfaceType::Slot || type == SurfaceType::Plane ? Zone::Planar
                                                                       : Zone::Diametral;
  }

  void setLimits(Requirement& r, const PmiDimension& d) {
    // One without the other is a single limit.
    double lower = d.lower.value_or(d.upper ? kNoLower : 0);
    double upper = d.upper.value_or(d.lower ? kNoUpper : 0);
    if (!d.fit.empty()) {
      r.fit = d.fit;
      if (const auto limits = limitDeviations(d.fit, r.nominal)) {
        lower = limits->lower;
        upper = limits->upper;
      } else {
        note(d.entity, limits.error().message);
      }
    } else if (!d.lower && !d.upper) {
      note(d.entity,
           "dimension " + shortFigure(r.nominal) + " has no limits; give it some to judge it");
    }
    r.lower = r.nominal + lower;
    r.upper = r.nominal + upper;
    r.tolerance = upper - lower;
  }

  Requirement tolerance(const PmiTolerance& t) {
    Requirement r;
    r.entity = t.entity;
    r.kind = kindOf(t.type);
    r.tolerance = t.magnitude;
    r.upper = t.magnitude;
    r.material = t.material;
    r.unequal = t.unequal.value_or(0);
    r.decimals = 4;
    if (t.all_over) {
      std::vector<FaceId> all;
      for (const Face& f : part_.faces)
        if (part_.takes(f.id)) all.push_back(f.id);
      r.features = featuresOf(all, Grouping::Surfaces);
    } else {
      r.features = featuresOf(t.faces, meansDerivedFeature(r.kind) ? Grouping::SlotIfParallel
                                                                   : Grouping::Surfaces);
    }
    for (const auto& d : t.datums) {
      r.datums.push_back({d.letters, d.material});
      for (const auto& letter : d.letters)
        if (!spec_.datum(letter)) note(t.entity, "datum " + letter + " is used but not defined");
      for (const auto& m : d.modifiers)
        if (!takeModifier(r.datums.back(), m))
          note(t.entity, "datum modifier " + inWords(m) + " is not judged");
    }
    for (const auto& m : t.modifiers)
      if (!takeModifier(r, m)) note(t.entity, "modifier " + inWords(m) + " is not judged");
    r.together = t.together;
    r.projected = t.projected.value_or(0);
    checkProjection(t, r);
    if (t.maximum) note(t.entity, "the largest tolerance with bonus is not judged");
    const bool per_unit =
        r.kind == Characteristic::Straightness || r.kind == Characteristic::Flatness;
    if (t.unit_size && per_unit)
      r.unit_length = *t.unit_size;
    else if (t.unit_size)
      note(t.entity, "tolerance per unit is judged over the whole feature");
    setZone(r, t.zone);
    return r;
  }

  // It is judged from the side of the primary datum.
  void checkProjection(const PmiTolerance& t, const Requirement& r) {
    if (t.projected_from.empty()) return;
    const Datum* primary =
        r.datums.empty() ? nullptr : spec_.datum(r.datums.front().letters.front());
    for (FaceId face : t.projected_from) {
      bool there = false;
      if (primary)
        for (FeatureId f : primary->features) {
          const auto& faces = spec_.feature(f).faces;
          there |= std::find(faces.begin(), faces.end(), face) != faces.end();
        }
      if (!there)
        return note(t.entity, "its projected zone begins at another face than its primary datum, "
                              "from whose side it is judged");
    }
  }

  void setZone(Requirement& r, ZoneForm stated) {
    const bool axis = !r.features.empty() && hasAxis(spec_.feature(r.features.front()).ideal);
    const bool point =
        !r.features.empty() && spec_.feature(r.features.front()).ideal.type == SurfaceType::Sphere;
    const bool derived = meansDerivedFeature(r.kind);
    if (stated == ZoneForm::Spherical || (point && derived && stated == ZoneForm::Unstated))
      r.zone = Zone::Spherical;
    else if (stated == ZoneForm::Cylindrical)
      r.zone = Zone::Diametral;
    else if (axis && derived && stated == ZoneForm::Unstated) {
      r.zone = Zone::Diametral;
      if (r.kind != Characteristic::Coaxiality)
        note(r.entity, "zone form is not stated; a cylindrical zone is taken for the axis");
    } else if (axis && derived && stated == ZoneForm::Planar) {
      r.zone = Zone::Diametral;
      note(r.entity, "parallel-plane zone of an axis has no direction in the file; judged as a "
                     "cylinder, which is stricter");
    }
    if (isForm(r.kind) && stated == ZoneForm::Cylindrical) r.zone = Zone::Diametral;
  }

  void numberNames() {
    std::map<std::string, int> count, used;
    for (const auto& f : spec_.features)
      ++count[f.name];
    for (auto& f : spec_.features)
      if (count[f.name] > 1 || f.name.find_first_of("0123456789") == std::string::npos)
        f.name += " · " + std::to_string(++used[f.name]);
  }

  const PartModel& part_;
  std::vector<Note>& notes_;
  Specification spec_;
};

} // namespace

std::string featureName(const Ideal& i) {
  const auto size = shortFigure(i.diameter, 3);
  switch (i.type) {
  case SurfaceType::Plane:
    return "Plane";
  case SurfaceType::Cylinder:
    return (i.hole ? "Bore ø" : "Boss ø") + size;
  case SurfaceType::Cone:
    return "Cone " + shortFigure(degrees(2 * i.half_angle), 2) + "°";
  case SurfaceType::Sphere:
    return (i.hole ? "Internal sphere ø" : "External sphere ø") + size;
  case SurfaceType::Torus:
    return "Torus ø" + size;
  case SurfaceType::Slot:
    return (i.hole ? "Slot " : "Rib ") + size;
  case SurfaceType::Freeform:
    return "Freeform";
  }
  return "Surface";
}

Specification specificationFromPmi(const PartModel& part, std::vector<Note>& notes) {
  return Builder(part, notes).build();
}

std::string freeFeatureName(const Specification& spec, std::string wanted) {
  const auto taken = [&](const std::string& name) {
    return std::any_of(spec.features.begin(), spec.features.end(),
                       [&](const NominalFeature& f) { return f.name == name; });
  };
  if (const auto dot = wanted.rfind(" · ");
      dot != std::string::npos &&
      wanted.find_first_not_of("0123456789", dot + 4) == std::string::npos)
    wanted.resize(dot);
  if (!taken(wanted) && wanted.find_first_of("0123456789") != std::string::npos) return wanted;
  int number = 1;
  while (taken(wanted + " · " + std::to_string(number)))
    ++number;
  return wanted + " · " + std::to_string(number);
}

} // namespace alder
