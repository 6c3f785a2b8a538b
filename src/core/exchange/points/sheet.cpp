#include "exchange/points/sheet.h"

#include "base/files.h"
#include "base/units.h"
#include "bench/json_fields.h"
#include "exchange/points/points_file.h"
#include "exchange/routine/judging_json.h"
#include "plan/constructions/constructed_feature.h"
#include "requirement/limits.h"
#include "requirement/plane_indicator.h"
#include <algorithm>

namespace alder {
namespace {

constexpr std::size_t kMostPoints = 20'000'000;

class Reader {
 public:
  Reader(const Json& json, const std::filesystem::path& path)
      : f_(json, path.filename().string())
      , label_(path.filename().string())
      , folder_(path.parent_path()) {}

  Result<Sheet> run() {
    if (!f_.json().is_object()) return fail("{}: a sheet is a JSON object.", label_);
    const auto standard = standardNamed(f_.text("standard", "ISO"));
    if (!standard) f_.complain("standard", "is not one of ISO, ASME, ASME-2009");
    sheet_.plan.name = label_;
    sheet_.plan.spec.standard = standard.value_or(ToleranceStandard::Iso);
    if (f_.has("uncertainty")) sheet_.plan.spec.uncertainty = f_.positive("uncertainty");
    if (f_.has("near_share"))
      sheet_.plan.spec.near_share = std::clamp(f_.positive("near_share"), 0.01, 1.0);
    for (const auto& f : f_.list("features"))
      readFeature(f);
    if (sheet_.plan.spec.features.empty() && !error_) f_.complain("features", "has no feature");
    readParents();
    if (error_) return pass(*error_);
    if (auto done = f_.done(); !done) return pass(done.error());
    if (auto done = refreshSheet(); !done) return fail("{}: {}", label_, done.error().message);
    for (const auto& f : f_.list("requirements"))
      readRequirement(f);
    if (error_) return pass(*error_);
    if (auto done = f_.done(); !done) return pass(done.error());
    sheet_.listed = sheet_.plan.spec.requirements.size();
    if (sheet_.listed == 0) return fail("{}: requirements: there is none.", label_);
    for (const auto& [feature, limits] : limits_)
      addSize(feature, limits);
    return std::move(sheet_);
  }

 private:
  void keep(const Error& error) {
    if (!error_) error_ = error;
  }

  Points pointsOf(const Json& source, const std::string& what) {
    if (source.is_string()) {
      const auto name = source.get<std::string>();
      const std::filesystem::path given(name);
      auto text = readFile(given.is_absolute() ? given : folder_ / given);
      if (!text) return keep(text.error()), Points{};
      auto points = barePointsIn(*text, name);
      if (!points) return keep(points.error()), Points{};
      return std::move(*points);
    }
    Points out;
    if (!source.is_array())
      return keep(
                 {fmt::format("{}: {} must be a file name or a list of [x, y, z].", label_, what)}),
             out;
    if (source.size() > kMostPoints)
      return keep({fmt::format("{}: {} holds more than {} points.", label_, what, kMostPoints)}),
             out;
    for (std::size_t i = 0; i < source.size(); ++i) {
      const Json& p = source[i];
      if (!p.is_array() || p.size() < 3 || !p[0].is_number() || !p[1].is_number() ||
          !p[2].is_number()) {
        keep({fmt::format("{}: {}[{}] must be three numbers [x, y, z].", label_, what, i)});
        return out;
      }
      out.emplace_back(p[0].get<double>(), p[1].get<double>(), p[2].get<double>());
    }
    return out;
  }

  MeasuredFeature measuredOf(const JsonFields& f, const std::string& name) {
    MeasuredFeature m;
    if (f.has("sections")) {
      const Json& sections = f.json().at("sections");
      if (!sections.is_array()) f.complain("sections", "must be a list of files or lists");
      int row = 0;
      m.sectioned = true;
      for (const Json& section : sections) {
        const Points points = pointsOf(section, fmt::format("feature {}, sections[{}]", name, row));
        m.points.insert(m.points.end(), points.begin(), points.end());
        m.rows.insert(m.rows.end(), points.size(), row++);
      }
    } else if (f.has("points")) {
      m.points = pointsOf(f.json().at("points"), "feature " + name + ", points");
    } else {
      f.complain("points", "is missing, and there are no sections");
    }
    return m;
  }

  void readFeature(const JsonFields& f) {
    NominalFeature feature;
    feature.id = sheet_.plan.spec.features.next();
    feature.name = f.text("id");
    if (by_name_.count(feature.name)) f.complain("id", "is used twice");
    by_name_[feature.name] = feature.id;
    if (f.has("filter")) feature.filtering = readFiltering(f.object("filter"));
    if (f.has("from")) {
      feature.from = readConstruction(f.object("from"));
      sheet_.plan.spec.features.push_back(std::move(feature));
      return;
    }
    const auto shape = shapeNamed(f.text("shape"));
    if (!shape) f.complain("shape", shape.error().message);
    MeasuredFeature m = measuredOf(f, feature.name);
    if (shape && f_.done() && !error_) {
      const auto nominal = f.has("nominal") ? std::optional(f.object("nominal")) : std::nullopt;
      feature.ideal = idealOf(*shape, f, nominal, m.points);
      feature.as_touched =
          hasAxis(feature.ideal) && !(nominal && nominal->has("from") && nominal->has("to"));
    }
    if (f.has("size_limits")) {
      const Json& limits = f.json().at("size_limits");
      if (limits.is_array() && limits.size() == 2 && limits[0].is_number() &&
          limits[1].is_number() && limits[0] <= limits[1])
        limits_.emplace_back(feature.id,
                             std::pair{limits[0].get<double>(), limits[1].get<double>()});
      else
        f.complain("size_limits", "must be [lower, upper]");
    }
    sheet_.measured.emplace(feature.id, std::move(m));
    sheet_.plan.spec.features.push_back(std::move(feature));
  }

  // Constructed features may stand on later ones.
  void readParents() {
    const auto items = f_.list("features");
    for (std::size_t i = 0; i < items.size() && i < sheet_.plan.spec.features.size(); ++i) {
      auto& from = sheet_.plan.spec.features[i].from;
      if (!from) continue;
      const auto source = items[i].object("from");
      for (const Json& name : elements(source, "of")) {
        const auto found =
            name.is_string() ? by_name_.find(name.get<std::string>()) : by_name_.end();
        if (found == by_name_.end())
          source.complain("of", name.dump() + " is not a feature of the sheet");
        else
          from->of.push_back(found->second);
      }
      if (from->of.empty()) source.complain("of", "names no feature");
    }
  }

  // Nominal places of constructed features; the measured points say how far their parents reach.
  Done refreshSheet() {
    for (const NominalFeature& f : sheet_.plan.spec.features) {
      Feature feature{f.id};
      if (const auto m = sheet_.measured.find(f.id); m != sheet_.measured.end())
        for (std::size_t i = 0; i < m->second.points.size(); ++i)
          feature.touches.push_back({m->second.points[i], Vec3::UnitZ(), FaceId{},
                                     i < m->second.rows.size() ? m->second.rows[i] : 0});
      sheet_.plan.features.push_back(std::move(feature));
    }
    auto done = refreshConstructed(sheet_.plan);
    sheet_.plan.features.clear();
    return done;
  }

  // What the sheet does not say of the nominal is taken from the least-squares feature.
  Ideal idealOf(Shape shape, const JsonFields& f, const std::optional<JsonFields>& n,
                const Points& points) {
    Ideal i;
    i.hole = f.flag("hole", false);
    i.type = shape == Shape::Plane    ? SurfaceType::Plane
             : shape == Shape::Cone   ? SurfaceType::Cone
             : shape == Shape::Sphere ? SurfaceType::Sphere
             : shape == Shape::Slot   ? SurfaceType::Slot
             : shape == Shape::Torus  ? SurfaceType::Torus
                                      : SurfaceType::Cylinder;
    const bool sized = shape != Shape::Plane && shape != Shape::Line;
    const bool axis = i.type == SurfaceType::Cylinder || i.type == SurfaceType::Cone;
    const char* size_key = n && n->has("width") ? "width" : "diameter";
    const bool complete = n && n->has("point") && (shape == Shape::Sphere || n->has("direction")) &&
                          (!sized || n->has(size_key)) &&
                          (shape != Shape::Cone || n->has("apex_angle_deg"));
    std::optional<Association> ls;
    if (!complete) {
      FitSettings settings;
      if (n && n->has("direction")) {
        const Vec3 d = n->vector("direction");
        if (d.norm() > 1e-9)
          settings.start = FitStart{n->vector("point", centroid(points)), d.normalized(), 0, 0};
      }
      auto fit = associate(shape, points, settings);
      if (!fit) {
        f.complain("nominal", "is not complete, and cannot be taken from the points (" +
                                  fit.error().message + ")");
        return i;
      }
      ls = std::move(*fit);
      i.point = ls->point;
      i.direction = ls->direction;
      i.diameter = ls->diameter;
      i.half_angle = ls->half_angle;
    }
    if (n) {
      i.point = n->vector("point", i.point);
      const Vec3 d = n->vector("direction", i.direction);
      if (d.norm() < 1e-9) {
        n->complain("direction", "must not be zero");
        return i;
      }
      i.direction = d.normalized();
      if (sized) i.diameter = n->number(size_key, i.diameter);
      if (n->has("apex_angle_deg")) i.half_angle = radians(n->number("apex_angle_deg") / 2);
    }
    if (!axis) return i;
    double from = 1e300, to = -1e300;
    for (const Vec3& p : points) {
      const double along = (p - i.point).dot(i.direction);
      from = std::min(from, along), to = std::max(to, along);
    }
    if (shape == Shape::Circle) from = to = 0;
    if (n) {
      from = n->number("from", from);
      to = n->number("to", to);
    }
    if (from > to) std::swap(from, to);
    i.point += from * i.direction;
    i.diameter += 2 * from * std::tan(i.half_angle);
    i.length = shape == Shape::Circle ? 0 : to - from;
    if (shape == Shape::Line) i.diameter = 0;
    return i;
  }

  std::vector<FeatureId> featuresOf(const JsonFields& f) {
    std::vector<FeatureId> out;
    const auto add = [&](const Json& name, const char* key) {
      const auto found = name.is_string() ? by_name_.find(name.get<std::string>()) : by_name_.end();
      if (found == by_name_.end())
        f.complain(key, name.dump() + " is not a feature of the sheet");
      else
        out.push_back(found->second);
    };
    for (const char* key : {"feature", "features"})
      if (f.has(key)) {
        const Json& value = f.json().at(key);
        if (value.is_array())
          for (const Json& name : value)
            add(name, key);
        else
          add(value, key);
      }
    if (out.empty()) f.complain("feature", "is missing");
    return out;
  }

  MaterialModifier modifierOf(const JsonFields& f) {
    const auto text = f.text("modifier", "");
    if (text == "M") return MaterialModifier::Maximum;
    if (text == "L") return MaterialModifier::Least;
    if (!text.empty() && text != "S" && text != "none")
      f.complain("modifier", "is neither M nor L");
    return MaterialModifier::None;
  }

  // One datum a reference: the letter is the name of its features.
  DatumReference datumOf(const JsonFields& f) {
    DatumReference reference;
    for (FeatureId id : featuresOf(f)) {
      const auto& letter = sheet_.plan.spec.feature(id).name;
      reference.letters.push_back(letter);
      if (!sheet_.plan.spec.datum(letter)) sheet_.plan.spec.datums.push_back({letter, {id}, {}});
    }
    reference.material = modifierOf(f);
    readMayFix(f, reference);
    if (f.has("targets"))
      for (Datum& d : sheet_.plan.spec.datums)
        if (d.letter == reference.letters.front()) d.targets = readTargets(f);
    if (f.has("size")) reference.boundary = f.number("size");
    return reference;
  }

  void addDatum(const JsonFields& f, const char* key, const std::string& letter) {
    const auto found = by_name_.find(letter);
    if (found == by_name_.end())
      f.complain(key, letter + " is not a feature of the sheet");
    else if (!sheet_.plan.spec.datum(letter))
      sheet_.plan.spec.datums.push_back({letter, {found->second}, {}});
  }

  Zone zoneOf(const JsonFields& f, const Requirement& r) {
    const auto text = f.text("zone", "");
    if (text == "diameter") return Zone::Diametral;
    if (text == "sphere") return Zone::Spherical;
    if (text == "planar") return Zone::Planar;
    if (!text.empty()) f.complain("zone", "is neither diameter, sphere nor planar");
    if (r.features.empty()) return Zone::Planar;
    const Ideal& ideal = sheet_.plan.spec.feature(r.features[0]).ideal;
    const bool axis = ideal.type == SurfaceType::Cylinder || ideal.type == SurfaceType::Cone;
    if (ideal.type == SurfaceType::Sphere) return Zone::Spherical;
    if (!axis || isDimension(r.kind) || r.kind == Characteristic::Straightness) return Zone::Planar;
    // An axis that is to be parallel to a plane can only lie between two planes.
    if (r.kind == Characteristic::Parallelism && !r.datums.empty())
      if (const Datum* d = sheet_.plan.spec.datum(r.datums[0].letters[0]))
        if (sheet_.plan.spec.feature(d->features[0]).ideal.type == SurfaceType::Plane)
          return Zone::Planar;
    return Zone::Diametral;
  }

  // Of a composite (ISO 5458, ASME Y14.5): the lower segment holds the pattern together and its
  // turn, not its place.
  RequirementId upperSegmentOf(const JsonFields& f) {
    const std::string id = f.text("upper_segment");
    const auto found = std::find(sheet_.ids.begin(), sheet_.ids.end(), id);
    if (found == sheet_.ids.end()) {
      f.complain("upper_segment", "names no requirement that stands before");
      return {};
    }
    return RequirementId{static_cast<int>(found - sheet_.ids.begin())};
  }

  void readRequirement(const JsonFields& f) {
    Requirement r;
    r.id = sheet_.plan.spec.requirements.next();
    r.balloon = r.id.value + 1;
    if (f.has("upper_segment")) r.upper_segment = upperSegmentOf(f);
    sheet_.ids.push_back(f.text("id"));
    const auto kind = characteristicNamed(f.text("kind"));
    if (!kind) f.complain("kind", "is not a characteristic");
    r.kind = kind.value_or(Characteristic::Size);
    if (r.kind != Characteristic::Value) r.features = featuresOf(f);
    r.material = modifierOf(f);
    if (isDimension(r.kind)) {
      const double scale = r.kind == Characteristic::Angle ? kPi / 180 : 1;
      // One of them alone is a single limit.
      r.lower = f.has("lower") || !f.has("upper") ? f.number("lower") * scale : kNoLower;
      r.upper = f.has("upper") ? f.number("upper") * scale : kNoUpper;
      if (r.lower > r.upper) f.complain("lower", "is above upper");
      const double unsaid = !hasLower(r)   ? r.upper
                            : !hasUpper(r) ? r.lower
                                           : (r.lower + r.upper) / 2;
      r.nominal = f.has("nominal") ? f.number("nominal") * scale : unsaid;
      r.tolerance = r.upper - r.lower;
    } else {
      r.tolerance = f.number("tolerance");
      if (r.tolerance < 0 || (r.tolerance == 0 && r.material == MaterialModifier::None))
        f.complain("tolerance", "must be above zero");
    }
    for (const auto& d : f.list("datums"))
      r.datums.push_back(datumOf(d));
    r.zone = zoneOf(f, r);
    readJudging(f, r);
    for (const NamedIndicator& named : planeIndicators(r))
      addDatum(f, named.field, named.planes.datum);
    if (r.kind == Characteristic::Value && r.formula.empty()) f.complain("formula", "is missing");
    if (r.kind == Characteristic::Distance && r.features.size() == 1 && r.along == Along::Direct)
      f.complain("features", "must name two features");
    sheet_.plan.spec.requirements.push_back(std::move(r));
  }

  void addSize(FeatureId feature, const std::pair<double, double>& limits) {
    Requirement r;
    r.id = sheet_.plan.spec.requirements.next();
    r.kind = Characteristic::Size;
    r.features = {feature};
    r.lower = limits.first, r.upper = limits.second;
    r.tolerance = r.upper - r.lower;
    sheet_.plan.spec.requirements.push_back(std::move(r));
  }

  JsonFields f_;
  std::string label_;
  std::filesystem::path folder_;
  Sheet sheet_;
  std::map<std::string, FeatureId> by_name_;
  std::vector<std::pair<FeatureId, std::pair<double, double>>> limits_;
  std::optional<Error> error_;
};

} // namespace

Result<Sheet> readSheet(const std::string& text, const std::filesystem::path& path) {
  auto json = parseJson(text, path.filename().string());
  if (!json) return pass(json.error());
  return Reader(*json, path).run();
}

} // namespace alder
