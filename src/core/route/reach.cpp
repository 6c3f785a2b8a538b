#include "route/reach.h"

#include "base/units.h"
#include "route/feature_router.h"
#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <tbb/parallel_for.h>

namespace alder {
namespace {

// The tool without the rods that are free wherever the ball goes at this feature: what stands clear
// of everything by as much as the touches lie apart needs no look at each of them.
Tool withoutFreeRods(const Clearance& clearance, const Tool& tool, const Feature& f) {
  Box3 box;
  for (const Touch& t : f.touches) {
    const TouchMove m = touchMove(clearance.plan(), f, t, tool.ball_radius);
    box.extend(m.approach).extend(m.contact);
  }
  Tool left = tool;
  if (box.isEmpty()) return left;
  const double apart = box.sizes().norm() / 2;
  std::erase_if(left.rods, [&](const Rod& rod) {
    return clearance.rodClear(rod, box.center(), Margins{}.near + apart);
  });
  return left;
}

// All touches of one feature with one tool.
ReachCell tryAll(const Clearance& clearance, const Tool& tool, const Feature& f, Hint& hint) {
  const Plan& plan = clearance.plan();
  ReachCell cell{tool.access.a, tool.access.b};
  const bool faces = std::any_of(f.touches.begin(), f.touches.end(), [&](const Touch& t) {
    return touchable(tool, turn(plan.placement, t.normal));
  });
  if (!faces) return cell;
  const Tool close = withoutFreeRods(clearance, tool, f);
  const FeatureRouter router(clearance, close, f);
  const Touch* blocked = nullptr;
  hint.rod = -1; // counts among the rods that are left
  for (const Touch& t : f.touches) {
    if (!touchable(tool, turn(plan.placement, t.normal))) continue;
    if (router.reaches(t, &hint))
      ++cell.reached;
    else if (!blocked)
      blocked = &t;
  }
  cell.reach = cell.reached == static_cast<int>(f.touches.size()) ? Reach::Free
               : cell.reached > 0                                 ? Reach::Some
                                                                  : Reach::Clash;
  if (cell.reach == Reach::Free) return cell;
  cell.blocked = {0, "shaft", "the surface itself"};
  if (!blocked) return cell;
  const TouchMove m = touchMove(plan, f, *blocked, tool.ball_radius);
  if (const auto over = clearance.overrun(tool, m.approach)) {
    cell.blocked = *over;
    if (cell.reached == 0) cell.reach = Reach::Beyond;
    return cell;
  }
  const TouchAllowance allowance{&plan.nominal(f.id).faces};
  if (const auto hit = clearance.nearest(tool, m.approach, m.contact, Margins{}.near, allowance))
    cell.blocked = *hit;
  return cell;
}

} // namespace

std::string_view name(Reach reach) {
  static constexpr std::array<std::string_view, 5> kNames{"free", "some touches", "clash", "away",
                                                          "out of range"};
  return kNames[static_cast<std::size_t>(reach)];
}

int ReachMap::freeCount() const {
  return static_cast<int>(std::count_if(cells.begin(), cells.end(),
                                        [](const ReachCell& c) { return c.reach == Reach::Free; }));
}

Result<std::vector<ReachMap>> reachMaps(const Plan& plan, const Obstacles& obstacles,
                                        const std::vector<FeatureId>& features, int stylus, int tip,
                                        int stride, const Progress& progress) {
  const Clearance clearance(plan, obstacles);
  const Head& head = plan.bench.head;
  const int rows = (stepsOf(head.a) + stride - 1) / stride,
            columns = (stepsOf(head.b) + stride - 1) / stride;
  std::vector<ReachMap> maps;
  for (FeatureId id : features) {
    ReachMap map{id, stylus, tip, rows, columns, {}, 0};
    map.cells.resize(static_cast<std::size_t>(rows * columns));
    map.touches = static_cast<int>(plan.feature(id).touches.size());
    maps.push_back(std::move(map));
  }
  std::vector<Tool> tools;
  for (int cell = 0; cell < rows * columns; ++cell)
    tools.push_back(
        toolOf(plan.bench, {stylus, tip, head.a.low + cell / columns * stride * head.a.step,
                            head.b.low + cell % columns * stride * head.b.step}));
  std::atomic<int> done{0};
  const int parts = rows * static_cast<int>(maps.size());
  tbb::parallel_for(0, parts, [&](int part) {
    if (progress.cancelled()) return;
    ReachMap& map = maps[static_cast<std::size_t>(part / rows)];
    Hint hint; // neighbouring angles meet the same
    for (int column = 0; column < columns; ++column) {
      const auto cell = static_cast<std::size_t>(part % rows * columns + column);
      map.cells[cell] = tryAll(clearance, tools[cell], plan.feature(map.feature), hint);
    }
    progress.step(static_cast<double>(++done) / parts, "Trying head angles");
  });
  if (progress.cancelled()) return cancelledError();
  return maps;
}

} // namespace alder
