#include "rehearse/run.h"

#include "fit/association.h"
#include "rehearse/qualify.h"
#include <algorithm>
#include <map>

namespace alder {
namespace {

struct RawTouch {
  FeatureId feature;
  int touch = 0;
  Vec3 ball; // machine frame
  double radius = 0;
};

class Runner {
 public:
  Runner(const Plan& plan, const Way& way, const Defects& defects, std::uint64_t seed)
      : plan_(plan)
      , way_(way)
      , machine_(plan, defects, seed)
      , frame_(plan.placement) {}

  Result<Run> run(const Progress& progress) {
    for (std::size_t i = 1; i < way_.positions.size(); ++i) {
      if (progress.cancelled()) return cancelledError();
      const Position& p = way_.positions[i];
      if (!p.contact) continue;
      progress.step(static_cast<double>(i) / static_cast<double>(way_.positions.size()),
                    "Measuring");
      const bool by_hand = p.kind == MoveKind::Manual;
      if (by_hand != was_by_hand_ && !by_hand)
        if (auto done = align(hand_); !done) return pass(done.error());
      was_by_hand_ = by_hand;
      if (!by_hand && !aligned_ && !isAlignment(p.feature)) {
        if (auto done = align(raw_); !done) return pass(done.error());
        aligned_ = true;
      }
      auto done = by_hand ? touchByHand(p) : touchByProgram(i);
      if (!done) return pass(done.error());
    }
    if (!aligned_)
      if (auto done = align(raw_.empty() ? hand_ : raw_); !done) return pass(done.error());
    return compensated();
  }

 private:
  bool isAlignment(FeatureId f) const {
    return std::find(plan_.alignment.begin(), plan_.alignment.end(), f) != plan_.alignment.end();
  }
  double radius(const Position& p) const { return plan_.tip(p.access).ball_diameter / 2; }

  // What the tip really is and what is known of it. A bench on which nothing was qualified is taken
  // as perfect; on any other, tips that were left out measure as they are.
  struct TipAsIs {
    double radius, known_radius;
    Vec3 offset = Vec3::Zero(), known_offset = Vec3::Zero();
  };
  TipAsIs tipOf(const Position& p) const {
    TipAsIs tip{radius(p), radius(p)};
    if (plan_.qualified.tips.empty()) return tip;
    const TipTruth truth = truthOf(plan_.bench, p.access);
    tip.radius = truth.diameter / 2;
    tip.offset = truth.offset;
    if (const QualifiedTip* known = plan_.qualified.find(p.access)) {
      tip.known_radius = known->diameter / 2;
      tip.known_offset = known->offset;
    }
    return tip;
  }
  const Touch& touchOf(const Position& p) const {
    return plan_.feature(p.feature).touches[static_cast<std::size_t>(p.touch)];
  }

  // The operator goes by the real part and meets the place to within some tenths of a millimetre.
  Done touchByHand(const Position& p) {
    const Touch& t = touchOf(p);
    const Frame& real = machine_.truePlacement();
    const Vec3 normal = turn(real, t.normal), side = anyPerpendicular(normal);
    Random& random = machine_.random();
    const Vec3 place = real * t.point + 0.3 * random.uniform(-1, 1) * side +
                       0.3 * random.uniform(-1, 1) * normal.cross(side);
    auto ball = machine_.touch(p.feature, t.face, radius(p), place + (radius(p) + 1) * normal,
                               place + radius(p) * normal, 5);
    if (!ball) return pass(ball.error());
    hand_.push_back({p.feature, p.touch, *ball, radius(p)});
    return {};
  }

  Done touchByProgram(std::size_t i) {
    const Position& p = way_.positions[i];
    const Frame found = frame_ * plan_.placement.inverse(); // planned machine place -> found
    const TipAsIs tip = tipOf(p);
    // Along a scan the surface is felt for along its normal.
    const Vec3 from = way_.positions[i - 1].contact
                          ? Vec3(p.ball + turn(plan_.placement, touchOf(p).normal))
                          : way_.positions[i - 1].ball;
    auto ball = machine_.touch(p.feature, touchOf(p).face, tip.radius, found * from + tip.offset,
                               found * p.ball + tip.offset, plan_.feature(p.feature).recipe.search);
    if (!ball) return pass(ball.error());
    raw_.push_back({p.feature, p.touch, *ball - tip.offset + tip.known_offset, tip.known_radius});
    return {};
  }

  Done align(const std::vector<RawTouch>& touches) {
    std::vector<DatumStage> stages;
    for (FeatureId id : plan_.alignment) {
      Points points;
      std::vector<FaceId> faces;
      double offset = 0;
      for (const RawTouch& t : touches) {
        if (t.feature != id) continue;
        points.push_back(t.ball);
        faces.push_back(plan_.feature(id).touches[static_cast<std::size_t>(t.touch)].face);
        offset = t.radius;
      }
      if (points.empty()) continue;
      const NominalSurface surface(plan_.part, plan_.nominal(id));
      stages.push_back({plan_.nominal(id).name, surface.group(points, faces, offset)});
    }
    if (stages.empty()) return {};
    auto fit = fitInOrder(stages, frame_);
    if (!fit) return pass(fit.error());
    frame_ = fit->placement;
    return {};
  }

  // Normal of the surface through the ball centres, so that a tilted or moved feature is
  // compensated along its own normal; freeform along the nominal one.
  std::optional<Association> centresOf(FeatureId id, const Points& balls, double radius) const {
    const Ideal& i = plan_.nominal(id).ideal;
    Shape shape = Shape::Plane;
    FitStart start{i.point, i.direction, i.diameter + (i.hole ? -2 : 2) * radius, i.half_angle};
    switch (i.type) {
    case SurfaceType::Plane:
      break;
    case SurfaceType::Cylinder:
      shape = Shape::Cylinder;
      break;
    case SurfaceType::Sphere:
      shape = Shape::Sphere;
      break;
    case SurfaceType::Cone:
      shape = Shape::Cone;
      start.diameter = i.diameter + (i.hole ? -2 : 2) * radius / std::cos(i.half_angle);
      break;
    default:
      return {};
    }
    auto fit = fitLeastSquares(shape, balls, start);
    return fit ? std::optional(*fit) : std::nullopt;
  }

  Run compensated() {
    Run run;
    run.part_frame = frame_;
    const Frame inverse = frame_.inverse();
    std::map<FeatureId, Points> balls;
    for (const RawTouch& t : raw_)
      balls[t.feature].push_back(inverse * t.ball);
    std::map<FeatureId, std::optional<Association>> fits;
    for (const RawTouch& t : raw_)
      if (!fits.count(t.feature))
        fits[t.feature] = centresOf(t.feature, balls[t.feature], t.radius);
    for (const RawTouch& t : raw_) {
      const Touch& touch = plan_.feature(t.feature).touches[static_cast<std::size_t>(t.touch)];
      const Vec3 centre = inverse * t.ball;
      Vec3 normal = touch.normal;
      if (const auto& fit = fits[t.feature]) {
        normal = normalAt(*fit, centre);
        if (normal.dot(touch.normal) < 0) normal = -normal;
      }
      run.points.push_back({t.feature, t.touch, touch.row, touch.face, centre - t.radius * normal,
                            touch.point, touch.normal, t.ball, 2 * t.radius});
    }
    return run;
  }

  const Plan& plan_;
  const Way& way_;
  SimulatedMachine machine_;
  Frame frame_; // CAD frame in the machine frame, as known so far
  std::vector<RawTouch> hand_, raw_;
  bool was_by_hand_ = false, aligned_ = false;
};

} // namespace

Result<Run> runOnSimulatedMachine(const Plan& plan, const Way& way, const Defects& defects,
                                  std::uint64_t seed, const Progress& progress) {
  return Runner(plan, way, defects, seed).run(progress);
}

} // namespace alder
