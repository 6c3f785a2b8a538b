#include "support.h"
#include "part/step_import.h"
#include "plan/steps/step_edit.h"

#include "base/files.h"
#include "base/random.h"
#include "route/draft.h"
#include <cstdio>
#include <cstdlib>

namespace alder::test {
namespace {

template <class T> T must(Result<T> result) {
  if (result) return std::move(*result);
  std::fprintf(stderr, "%s\n", result.error().message.c_str());
  std::abort();
}

} // namespace

std::string dataPath(const char* name) {
  return (dataFolder() / "demo" / "data" / name).string();
}

PartPtr heron() {
  static const PartPtr part = must(importStepFile(dataPath("heron.step")));
  return part;
}

Bench heronBench() {
  return must(readBench(must(readFile(dataPath("bench.json"))), "bench.json"));
}

Bench shippedBench(const std::string& name) {
  for (const std::string& path : shippedBenches())
    if (path.find("/" + name + ".json") != std::string::npos)
      return must(readBench(must(readFile(path)), name));
  return must(Result<Bench>(fail("there is no bench \"{}\".", name)));
}

const Plan& heronPlan() {
  static const Plan plan = must(draftPlan(heron(), heronBench()));
  return plan;
}

const Obstacles& heronObstacles() {
  static const Obstacles obstacles = obstaclesOf(heronPlan());
  return obstacles;
}

Rehearsal rehearsed(const Plan& plan) {
  const Obstacles obstacles = obstaclesOf(plan);
  return must(rehearse(plan, obstacles, must(routePlan(plan, obstacles))));
}

const Way& heronWay() {
  static const Way way = must(routePlan(heronPlan(), heronObstacles()));
  return way;
}

Frame anyMotion(unsigned seed, double far) {
  Random random(seed);
  const Vec3 axis = Vec3{random.normal(), random.normal(), random.normal()}.normalized();
  Frame f = Frame::Identity();
  f.linear() = Eigen::AngleAxisd(random.uniform(0, 2 * kPi), axis).toRotationMatrix();
  f.translation() = far * Vec3{random.uniform(-1, 1), random.uniform(-1, 1), random.uniform(-1, 1)};
  return f;
}

Points moved(const Points& points, const Frame& motion) {
  Points out;
  for (const Vec3& p : points)
    out.push_back(motion * p);
  return out;
}

MeasuredFeature exactly(const Plan& plan, FeatureId feature) {
  MeasuredFeature m;
  for (const Touch& t : plan.feature(feature).touches) {
    m.points.push_back(t.point);
    m.rows.push_back(t.row);
    m.faces.push_back(t.face);
    m.nominals.push_back(t.point);
  }
  return m;
}

Measurements exactly(const Plan& plan) {
  Measurements all;
  for (const Feature& f : plan.features)
    all[f.id] = exactly(plan, f.id);
  return all;
}

std::vector<FeatureId> orderOf(const Plan& plan) {
  return measuringOrder(plan.steps);
}

void setOrder(Plan& plan, const std::vector<FeatureId>& order) {
  const auto edit = orderFeatures(plan, order);
  if (edit) (void)applyEdit(plan, *edit);
}

bool asModelled(const Plan& plan, const Defects& made, FeatureId feature) {
  const auto& own = plan.nominal(feature).faces;
  return std::none_of(made.features.begin(), made.features.end(), [&](const auto& made_one) {
    const auto& faces = plan.nominal(made_one.first).faces;
    return std::find_first_of(faces.begin(), faces.end(), own.begin(), own.end()) != faces.end();
  });
}

StepPicture picture(const std::string& name) {
  static const QByteArray kWhite = QByteArray::fromHex(
      "89504e470d0a1a0a0000000d49484452000000010000000108000000003a7e9b550000000a494441"
      "5478da63f80f00010101001cb08c990000000049454e44ae426082");
  return {name, std::make_shared<const std::string>(kWhite.toStdString())};
}

FeatureId named(const Plan& plan, const std::string& name) {
  for (const NominalFeature& f : plan.spec.features)
    if (f.name.starts_with(name)) return f.id;
  return {};
}

const Requirement& balloon(const Plan& plan, int number) {
  return plan.spec.requirements[static_cast<std::size_t>(number - 1)];
}

} // namespace alder::test
