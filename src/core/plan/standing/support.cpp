#include "plan/standing/support.h"

#include "bench/bench_edit.h"
#include "bench/solids.h"
#include <algorithm>

namespace alder {
namespace {

constexpr double kLeastHeight = 0.5; // mm; lower ones are the table itself

FixtureBody bodyOf(const Support& support, const Vec3& top, std::string name) {
  FixtureBody body{std::move(name), FixtureKind::Rest, {}};
  body.support = true;
  if (support.round()) {
    appendCylinder(body.mesh, {top.x(), top.y(), 0}, top, support.length);
  } else {
    const Vec3 half(support.length / 2, support.width / 2, 0);
    body.mesh.appendBox(Box3(Vec3(top.x(), top.y(), 0) - half, top + half), Frame::Identity(), 0);
  }
  body.seats.push_back({"top", false, top, Vec3::UnitZ()});
  return body;
}

} // namespace

void standOn(Bench& bench, const Frame& placement, const Supports& supports) {
  auto& bodies = bench.fixture.bodies;
  std::erase_if(bodies, [](const FixtureBody& b) { return b.support; });
  for (const Support& support : supports) {
    const Vec3 top = placement * support.at;
    if (top.z() < kLeastHeight) continue;
    const bool alone = supports.size() == 1 &&
                       std::none_of(bodies.begin(), bodies.end(),
                                    [](const FixtureBody& b) { return b.name == "pedestal"; });
    bodies.push_back(bodyOf(support, top, alone ? "pedestal" : freeBodyName(bench, "rest")));
  }
}

Supports blockUnder(const PartModel& part, const Frame& placement) {
  constexpr double kShare = 0.6;
  Mesh placed;
  placed.append(part.mesh, placement);
  const Box3 box = placed.box();
  const Vec3 top(box.center().x(), box.center().y(), box.min().z());
  return {{placement.inverse() * top, kShare * box.sizes().x(), kShare * box.sizes().y()}};
}

Done validate(const Supports& supports) {
  for (const Support& s : supports)
    if (!(s.length > 0) || s.width < 0 || !s.at.allFinite())
      return fail("A rest under the part needs a size above 0.");
  return {};
}

} // namespace alder
