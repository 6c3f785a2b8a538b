// ISO 2768-2 and the general profile of ISO 22081: zones of geometrical tolerances without figures,
// and the lengths on the part by which ISO 2768 goes.
#include "base/units.h"
#include "geometry/hull.h"
#include "requirement/general_tolerances.h"
#include "requirement/limits.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

using K = Characteristic;

constexpr std::string_view kGeometryClasses = "HKL";
// Table 1: straightness and flatness, mm, by nominal lengths up to.
constexpr std::array kFormUpTo{10.0, 30.0, 100.0, 300.0, 1000.0, 3000.0};
constexpr double kForm[3][6]{{0.02, 0.05, 0.1, 0.2, 0.3, 0.4},
                             {0.05, 0.1, 0.2, 0.4, 0.6, 0.8},
                             {0.1, 0.2, 0.4, 0.8, 1.2, 1.6}};
// Tables 2 and 3: perpendicularity by the shorter side, symmetry by length.
constexpr std::array kPlaceUpTo{100.0, 300.0, 1000.0, 3000.0};
constexpr double kSquare[3][4]{{0.2, 0.3, 0.4, 0.5}, {0.4, 0.6, 0.8, 1}, {0.6, 1, 1.5, 2}};
constexpr double kSymmetry[3][4]{{0.5, 0.5, 0.5, 0.5}, {0.6, 0.6, 0.8, 1}, {0.6, 1, 1.5, 2}};
// Table 4.
constexpr double kRunout[3]{0.1, 0.2, 0.5};

template <std::size_t N>
std::optional<double> fromTable(const std::array<double, N>& upto, const double (&row)[N],
                                double length) {
  for (std::size_t i = 0; i < N; ++i)
    if (length <= upto[i] + 1e-9) return row[i];
  return {};
}

class Lengths {
 public:
  Lengths(const PartModel& part, const Specification& spec)
      : part_(part)
      , spec_(spec) {}

  std::optional<double> of(const Requirement& r) const {
    std::optional<double> shortest;
    for (std::size_t i = 0; i < r.features.size(); ++i) {
      const Ideal* other = r.features.size() == 2 ? &ideal(r.features[1 - i]) : nullptr;
      const double length = lengthOf(r.features[i], other);
      if (length <= 0) return {};
      shortest = std::min(shortest.value_or(length), length);
    }
    return shortest;
  }

 private:
  const Ideal& ideal(FeatureId id) const { return spec_.feature(id).ideal; }

  // Flat ones away from the line in which they meet the other, else their longer side.
  double lengthOf(FeatureId id, const Ideal* other) const {
    const Ideal& i = ideal(id);
    if (i.type == SurfaceType::Cone && i.length > 0) // along its surface
      return i.length / std::max(std::cos(i.half_angle), 1e-6);
    if (i.type == SurfaceType::Sphere) return i.diameter;
    if (i.type != SurfaceType::Plane && i.type != SurfaceType::Slot) return i.length;
    const Vec3& n = i.direction;
    const Vec3 line = other ? Vec3(n.cross(other->direction)) : Vec3(Vec3::Zero());
    const bool meets = line.norm() > 1e-6;
    const Vec3 u = meets ? Vec3(n.cross(line).normalized()) : anyPerpendicular(n);
    const Vec3 v = n.cross(u);
    PlanePoints places;
    const std::vector<FaceId>& faces = spec_.feature(id).faces;
    for (std::size_t t = 0; t < part_.mesh.triangles.size(); ++t)
      if (std::binary_search(faces.begin(), faces.end(), FaceId{part_.mesh.tags[t]}))
        for (const int vertex : part_.mesh.triangles[t]) {
          const Vec3& p = part_.mesh.vertices[static_cast<std::size_t>(vertex)];
          places.emplace_back(u.dot(p), v.dot(p));
        }
    if (places.empty()) return 0;
    if (!meets) return longerSideOfBox(places);
    const auto [low, high] = std::minmax_element(places.begin(), places.end());
    return high->first - low->first;
  }

  const PartModel& part_;
  const Specification& spec_;
};

class Zones {
 public:
  Zones(const Specification& spec, const Requirement& r, const DecidingLength& length)
      : spec_(spec)
      , g_(spec.general)
      , r_(r)
      , length_(length) {}

  Result<double> zone() const {
    if (g_.rule == GeneralRule::None)
      return fail("No tolerance is written; write its figure, or choose general tolerances that "
                  "have one for {}.",
                  kind());
    if (g_.rule == GeneralRule::Iso22081 && isProfile(r_.kind)) {
      if (g_.profile > 0) return g_.profile;
      return fail("General tolerances ISO 22081: no profile is given; write its tolerance.");
    }
    const auto row = kGeometryClasses.find(g_.geometrical);
    if (g_.rule != GeneralRule::Iso2768 || row == std::string_view::npos) return nothing();
    return byIso2768(row);
  }

 private:
  std::string kind() const {
    std::string words(name(r_.kind));
    std::replace(words.begin(), words.end(), '_', ' ');
    return words;
  }
  tl::unexpected<Error> nothing() const {
    return fail("General tolerances {} have none for {}; write its tolerance.", name(g_), kind());
  }
  Result<double> found(std::optional<double> tolerance) const {
    if (!tolerance) return nothing();
    return *tolerance;
  }

  Result<double> byIso2768(std::size_t row) const {
    switch (r_.kind) {
    case K::Straightness:
    case K::Flatness: {
      const auto length = lengthOf(r_.features);
      if (!length) return unknown();
      return found(fromTable(kFormUpTo, kForm[row], *length));
    }
    case K::Perpendicularity: {
      const auto length = shorterSide();
      if (!length) return unknown();
      return found(fromTable(kPlaceUpTo, kSquare[row], *length));
    }
    case K::Symmetry: {
      const auto length = lengthOf(r_.features);
      if (!length) return unknown();
      return found(fromTable(kPlaceUpTo, kSymmetry[row], *length));
    }
    case K::CircularRunout:
      return kRunout[row];
    case K::Roundness: { // clause 5.1.2
      const auto size = sizeTolerance();
      if (!size)
        return fail("Roundness by {} is the tolerance of its diameter, which has none yet.",
                    name(g_));
      return std::min(*size, kRunout[row]);
    }
    case K::Parallelism: { // clause 5.2.1
      const auto between = distanceTolerance();
      if (!between)
        return fail("Parallelism by {} is the tolerance of the size between the surfaces, which "
                    "has none yet.",
                    name(g_));
      const auto length = lengthOf(r_.features);
      const auto form = length ? fromTable(kFormUpTo, kForm[row], *length) : std::nullopt;
      return std::max(*between, form.value_or(0));
    }
    default:
      return nothing();
    }
  }

  tl::unexpected<Error> unknown() const {
    return fail(
        "General tolerances {}: the length of the feature is not known; write the tolerance.",
        name(g_));
  }

  // Of several features the one that asks for most.
  std::optional<double> lengthOf(const std::vector<FeatureId>& features) const {
    if (!length_) return {};
    std::optional<double> shortest;
    for (const FeatureId id : features) {
      Requirement one;
      one.kind = K::Flatness, one.features = {id};
      const auto length = length_(one);
      if (!length) return {};
      shortest = std::min(shortest.value_or(*length), *length);
    }
    return shortest;
  }

  std::vector<FeatureId> datumFeatures() const {
    std::vector<FeatureId> all;
    for (const DatumReference& d : r_.datums)
      for (const std::string& letter : d.letters)
        if (const Datum* datum = spec_.datum(letter))
          all.insert(all.end(), datum->features.begin(), datum->features.end());
    return all;
  }

  std::optional<double> shorterSide() const {
    const auto datums = datumFeatures();
    if (!length_ || datums.empty()) return {};
    std::optional<double> shortest;
    for (const FeatureId id : r_.features) {
      Requirement pair;
      pair.kind = K::Angle, pair.features = {id, datums.front()};
      const auto length = length_(pair);
      if (!length) return {};
      shortest = std::min(shortest.value_or(*length), *length);
    }
    return shortest;
  }

  static double widthOf(const Requirement& size) {
    return (size.upper - size.lower) * (size.radius ? 2 : 1);
  }

  std::optional<double> sizeTolerance() const {
    std::optional<double> least;
    for (const FeatureId id : r_.features) {
      const Requirement* size = spec_.sizeOf(id);
      if (!size || hasSingleLimit(*size) || widthOf(*size) <= 0) return {};
      least = std::min(least.value_or(widthOf(*size)), widthOf(*size));
    }
    return least;
  }

  // Of the distance between the surface and its datum.
  std::optional<double> distanceTolerance() const {
    const auto datums = datumFeatures();
    const auto holds = [](const std::vector<FeatureId>& all, FeatureId id) {
      return std::find(all.begin(), all.end(), id) != all.end();
    };
    std::optional<double> widest;
    for (const Requirement& r : spec_.requirements) {
      if (r.kind != K::Distance || r.features.size() != 2 || hasSingleLimit(r)) continue;
      for (const bool turned : {false, true})
        if (holds(r_.features, r.features[turned]) && holds(datums, r.features[!turned]))
          widest = std::max(widest.value_or(0), widthOf(r));
    }
    return widest;
  }

  const Specification& spec_;
  const GeneralTolerances& g_;
  const Requirement& r_;
  const DecidingLength& length_;
};

} // namespace

DecidingLength decidingLengths(const PartModel& part, const Specification& spec) {
  return [lengths = Lengths(part, spec)](const Requirement& r) { return lengths.of(r); };
}

Result<double> generalZone(const Specification& spec, const Requirement& r,
                           const DecidingLength& length) {
  return Zones(spec, r, length).zone();
}

} // namespace alder
