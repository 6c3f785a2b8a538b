#include "made_block.h"

#include "base/random.h"
#include "base/units.h"
#include <cmath>

namespace alder::test {
namespace {

class Maker {
 public:
  Maker(std::uint64_t seed, double errors, ToleranceStandard standard)
      : random_(seed)
      , errors_(errors) {
    block_.plan.spec.standard = standard;
  }

  MadeBlock run() {
    features();
    requirements();
    return std::move(block_);
  }

 private:
  // A wave over the surface: a few undulations of each direction, with its own phases.
  struct Waves {
    double amplitude[4], phase[4];
    int lobes[4];
    double operator()(double u, double v) const { // u an angle or 0 to 1, v 0 to 1
      double sum = 0;
      for (int k = 0; k < 4; ++k)
        sum += amplitude[k] * std::cos(lobes[k] * u + phase[k] + k * 2.1 * v);
      return sum;
    }
  };
  Waves waves() {
    Waves w{};
    for (int k = 0; k < 4; ++k) {
      w.amplitude[k] = 0.2 * errors_ * random_.normal();
      w.phase[k] = random_.uniform(0, 2 * kPi);
      w.lobes[k] = 2 + static_cast<int>(random_.uniform(0, 4));
    }
    return w;
  }
  Vec3 lot(double size) { return size * Vec3{random_.normal(), random_.normal(), random_.normal()}; }

  FeatureId add(const char* name, SurfaceType type, const Vec3& point, const Vec3& direction,
                double diameter, double length, bool hole) {
    NominalFeature f;
    f.id = FeatureId{static_cast<int>(block_.plan.spec.features.size())};
    f.name = name;
    f.ideal.type = type;
    f.ideal.point = point, f.ideal.direction = direction;
    f.ideal.diameter = diameter, f.ideal.length = length, f.ideal.hole = hole;
    block_.plan.spec.features.push_back(f);
    return f.id;
  }
  // Measured points lie on the displaced ideal surface, with waves along its normals.
  void keep(FeatureId id, const Points& exact, const std::vector<Vec3>& normals,
            const std::vector<int>& rows, const std::vector<double>& wave, bool sectioned) {
    MeasuredFeature m;
    const Vec3 tilt = lot(0.004 * errors_), move = lot(0.3 * errors_);
    const Frame off = smallMotion(tilt, move, centroid(exact));
    for (std::size_t i = 0; i < exact.size(); ++i)
      m.points.push_back(off * (exact[i] + wave[i] * normals[i]));
    m.rows = rows;
    m.sectioned = sectioned;
    block_.measured.emplace(id, std::move(m));
  }

  FeatureId plane(const char* name, const Vec3& corner, const Vec3& u, const Vec3& v,
                  bool flat = false) {
    const Vec3 n = u.cross(v).normalized();
    const FeatureId id = add(name, SurfaceType::Plane, corner + (u + v) / 2, n, 0, 0, false);
    const Waves w = waves();
    Points exact;
    std::vector<Vec3> normals;
    std::vector<int> rows;
    std::vector<double> wave;
    for (int i = 0; i < 5; ++i)
      for (int k = 0; k < 4; ++k) {
        // Not in lines: two points of a plane on one side and one between them on the other leave
        // it to turn about their line.
        const double a = (i + 0.5 + random_.uniform(-0.3, 0.3)) / 5,
                     b = (k + 0.5 + random_.uniform(-0.3, 0.3)) / 4;
        exact.push_back(corner + a * u + b * v);
        normals.push_back(n);
        rows.push_back(0);
        wave.push_back(flat ? 0 : w(3 * a, b));
      }
    keep(id, exact, normals, rows, wave, false);
    return id;
  }

  FeatureId cylinder(const char* name, const Vec3& foot, const Vec3& direction, double diameter,
                     double length, bool hole) {
    const FeatureId id = add(name, SurfaceType::Cylinder, foot, direction, diameter, length, hole);
    const Waves w = waves();
    const double size = errors_ * random_.normal(), taper = 0.3 * errors_ * random_.normal(),
                 barrel = 0.3 * errors_ * random_.normal();
    const Frame frame = frameOf(foot, direction);
    const Vec3 bend = frame.linear() * Vec3(0.2 * errors_ * random_.normal(), 0, 0);
    Points exact;
    std::vector<Vec3> normals;
    std::vector<int> rows;
    std::vector<double> wave;
    for (int row = 0; row < 6; ++row)
      for (int k = 0; k < 24; ++k) {
        const double a = 2 * kPi * (k + 0.1 * random_.uniform()) / 24, along = (0.05 + 0.18 * row), middle = 2 * along - 1;
        const Vec3 n = frame.linear() * Vec3(std::cos(a), std::sin(a), 0);
        exact.push_back(foot + along * length * direction + diameter / 2 * n +
                        (1 - middle * middle) * bend);
        normals.push_back(n);
        rows.push_back(row);
        wave.push_back(size / 2 + taper * middle + barrel * middle * middle + w(a, along));
      }
    keep(id, exact, normals, rows, wave, true);
    return id;
  }

  FeatureId slot(const char* name, const Vec3& middle, const Vec3& normal, const Vec3& along,
                 double width, double length, double depth, bool hole) {
    const FeatureId id = add(name, SurfaceType::Slot, middle, normal, width, 0, hole);
    const Vec3 down = normal.cross(along);
    const double size = errors_ * random_.normal(), taper = 0.3 * errors_ * random_.normal();
    Points exact;
    std::vector<Vec3> normals;
    std::vector<int> rows;
    std::vector<double> wave;
    for (const double side : {-1.0, 1.0}) {
      const Waves w = waves();
      for (int i = 0; i < 6; ++i)
        for (int k = 0; k < 3; ++k) {
          const double a = (i + 0.5 + random_.uniform(-0.3, 0.3)) / 6 - 0.5,
                       b = (k + 0.5 + random_.uniform(-0.3, 0.3)) / 3 - 0.5;
          exact.push_back(middle + a * length * along + b * depth * down + side * width / 2 * normal);
          normals.push_back(side * normal);
          rows.push_back(0);
          wave.push_back(size / 2 + taper * a + w(3 * a, b));
        }
    }
    keep(id, exact, normals, rows, wave, false);
    return id;
  }

  FeatureId ball(const char* name, const Vec3& centre, double diameter) {
    const FeatureId id = add(name, SurfaceType::Sphere, centre, Vec3::UnitZ(), diameter, 0, false);
    const Waves w = waves();
    const double size = errors_ * random_.normal();
    Points exact;
    std::vector<Vec3> normals;
    std::vector<int> rows;
    std::vector<double> wave;
    for (int i = 0; i < 120; ++i) {
      const double z = 1 - 1.6 * (i + 0.5) / 120, a = 2.399963229728653 * i;
      const Vec3 n(std::sqrt(1 - z * z) * std::cos(a), std::sqrt(1 - z * z) * std::sin(a), z);
      exact.push_back(centre + diameter / 2 * n);
      normals.push_back(n);
      rows.push_back(0);
      wave.push_back(size / 2 + w(a, z));
    }
    keep(id, exact, normals, rows, wave, false);
    return id;
  }

  void features() {
    const Vec3 x = Vec3::UnitX(), y = Vec3::UnitY(), z = Vec3::UnitZ();
    // By ASME a primary datum plane may be held as it rocks; a flat one does not.
    const bool asme = block_.plan.spec.standard != ToleranceStandard::Iso;
    a_ = plane("A", Vec3(0, 0, 0), 80 * y, 100 * x, asme); // below, outward is -z
    b_ = plane("B", Vec3(0, 0, 0), 100 * x, 30 * z);      // in front, -y
    c_ = plane("C", Vec3(0, 0, 0), 30 * z, 80 * y);       // left, -x
    top_ = plane("top", Vec3(0, 0, 30), 100 * x, 80 * y); // +z
    bore_ = cylinder("bore", Vec3(30, 40, 0), z, 20, 30, true);
    for (const auto& [name, place] : {std::pair{"h1", Vec3(70, 20, 0)}, {"h2", Vec3(70, 60, 0)}})
      holes_.push_back(cylinder(name, place, z, 8, 30, true));
    pin_ = cylinder("pin", Vec3(50, 20, 30), z, 12, 25, false);
    side_ = cylinder("side bore", Vec3(100, 40, 15), -x, 10, 25, true);
    slot_ = slot("slot", Vec3(75, 40, 25), y, x, 12, 30, 10, true);
    rib_ = slot("rib", Vec3(20, 65, 35), y, x, 9, 30, 10, false);
    ball_ = ball("ball", Vec3(20, 15, 40), 15);
    collar_ = cylinder("collar", Vec3(30, 40, 30), z, 28, 12, false); // about the bore
    for (const auto& [letter, id] : {std::pair{"A", a_}, {"B", b_}, {"C", c_}, {"D", bore_},
                                     {"E", slot_}, {"F", pin_}, {"G", rib_}, {"K", ball_}})
      block_.plan.spec.datums.push_back({letter, {id}, {}});
  }

  static DatumReference datum(const char* letter, MaterialModifier m = MaterialModifier::None) {
    DatumReference d;
    d.letters = {letter};
    d.material = m;
    return d;
  }
  Requirement& require(Characteristic kind, std::vector<FeatureId> features, double tolerance,
                       Zone zone, std::vector<DatumReference> datums = {},
                       MaterialModifier material = MaterialModifier::None) {
    Requirement r;
    r.id = RequirementId{static_cast<int>(block_.plan.spec.requirements.size())};
    r.balloon = r.id.value + 1;
    r.kind = kind;
    r.features = std::move(features);
    r.tolerance = tolerance;
    r.zone = zone;
    r.datums = std::move(datums);
    r.material = material;
    block_.plan.spec.requirements.push_back(std::move(r));
    return block_.plan.spec.requirements.back();
  }
  void size(FeatureId id) {
    Requirement& r = require(Characteristic::Size, {id}, 0, Zone::Planar);
    r.nominal = block_.plan.nominal(id).ideal.diameter;
    const double half = 0.05 + 4 * errors_;
    r.lower = r.nominal - half, r.upper = r.nominal + half, r.tolerance = 2 * half;
  }

  void requirements() {
    using enum Characteristic;
    constexpr auto M = MaterialModifier::Maximum, L = MaterialModifier::Least;
    for (FeatureId id : {bore_, holes_[0], holes_[1], pin_, side_, slot_, rib_, ball_})
      size(id);
    const std::vector<DatumReference> abc{datum("A"), datum("B"), datum("C")};
    require(Flatness, {a_}, 0.1, Zone::Planar);
    require(Cylindricity, {bore_}, 0.1, Zone::Planar);
    require(Roundness, {pin_}, 0.1, Zone::Planar);
    require(Straightness, {pin_}, 0.1, Zone::Diametral);
    require(Parallelism, {top_}, 0.1, Zone::Planar, {datum("A")});
    require(Perpendicularity, {b_}, 0.1, Zone::Planar, {datum("A")});
    require(Perpendicularity, {bore_}, 0.1, Zone::Diametral, {datum("A")});
    require(Perpendicularity, {bore_}, 0.1, Zone::Diametral, {datum("A")}, M);
    require(Perpendicularity, {slot_}, 0.1, Zone::Planar, {datum("A")}, M);
    require(Parallelism, {holes_[0]}, 0.1, Zone::Diametral, {datum("D")});
    for (const auto material : {MaterialModifier::None, M, L}) {
      require(Position, {bore_}, 0.2, Zone::Diametral, abc, material);
      require(Position, {pin_}, 0.2, Zone::Diametral, abc, material);
      require(Position, holes_, 0.2, Zone::Diametral, {datum("A"), datum("D")}, material);
      require(Position, {slot_}, 0.2, Zone::Planar, {datum("A"), datum("D")}, material);
      require(Position, {rib_}, 0.2, Zone::Planar, abc, material);
      require(Position, {ball_}, 0.2, Zone::Spherical, abc, material);
      require(Position, {side_}, 0.2, Zone::Diametral, abc, material);
    }
    require(Position, holes_, 0.2, Zone::Diametral, {datum("A"), datum("D", M), datum("E", M)}, M);
    require(Position, holes_, 0.2, Zone::Diametral, {datum("A"), datum("D"), datum("E", M)}, M);
    require(Position, holes_, 0.2, Zone::Diametral, {datum("A"), datum("D"), datum("E")});
    require(Position, {top_}, 0.2, Zone::Planar, abc);
    require(Position, holes_, 0.2, Zone::Diametral, {datum("A")});
    require(Coaxiality, {holes_[0]}, 0.3, Zone::Diametral, {datum("D")}); // made up, yet it has a figure
    require(SurfaceProfile, {top_}, 0.2, Zone::Planar, abc);
    require(SurfaceProfile, {bore_}, 0.2, Zone::Planar, abc);
    require(SurfaceProfile, {ball_}, 0.2, Zone::Planar, {datum("A"), datum("D")});
    require(SurfaceProfile, {side_}, 0.2, Zone::Planar);
    require(CircularRunout, {collar_}, 0.2, Zone::Planar, {datum("D")});
    require(TotalRunout, {collar_}, 0.2, Zone::Planar, {datum("D")});
    Requirement& d = require(Distance, {a_, top_}, 0.4, Zone::Planar);
    d.nominal = 30, d.lower = 29.8, d.upper = 30.2;
    Requirement& hole_distance = require(Distance, holes_, 0.4, Zone::Planar);
    hole_distance.nominal = 40, hole_distance.lower = 39.8, hole_distance.upper = 40.2;
    Requirement& along = require(Distance, {bore_}, 0.4, Zone::Planar, abc);
    along.along = Along::X, along.nominal = 30, along.lower = 29.8, along.upper = 30.2;
    Requirement& angle = require(Angle, {a_, b_}, 0.1, Zone::Planar);
    angle.nominal = kPi / 2, angle.lower = kPi / 2 - 0.01, angle.upper = kPi / 2 + 0.01;
  }

  Random random_;
  double errors_;
  MadeBlock block_;
  FeatureId a_, b_, c_, top_, bore_, pin_, side_, slot_, rib_, ball_, collar_;
  std::vector<FeatureId> holes_;
};

} // namespace

MadeBlock madeBlock(std::uint64_t seed, double errors, ToleranceStandard standard) {
  return Maker(seed, errors, standard).run();
}

std::string describe(const MadeBlock& block, const Requirement& r) {
  std::string text = std::to_string(r.balloon) + " " + std::string(name(r.kind)) + " of " +
                     block.plan.nominal(r.features.front()).name;
  const auto letter = [](MaterialModifier m) {
    return m == MaterialModifier::Maximum ? " M" : m == MaterialModifier::Least ? " L" : "";
  };
  text += letter(r.material);
  for (const DatumReference& d : r.datums)
    text += " | " + d.letters.front() + letter(d.material);
  return text + (block.plan.spec.standard == ToleranceStandard::Iso ? " (ISO)" : " (ASME)");
}

} // namespace alder::test
