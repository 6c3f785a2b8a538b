#include "route/rack_swap.h"

#include <algorithm>

namespace alder {
namespace {

constexpr double kOverPorts = 40; // mm that the bare probe rises over the ports

} // namespace

Access straightDown(const Access& access) {
  return {access.stylus, access.tip, 0, 0};
}

std::vector<SwapMove> swapAtRack(const Bench& bench, const Access& held, const Access& wanted,
                                 const Vec3& pivot, double height) {
  const auto stylus = [&](const Access& a) -> const Stylus& {
    return bench.styli[static_cast<std::size_t>(a.stylus)];
  };
  const RackPort* from = bench.rack ? bench.rack->portOf(stylus(held).name) : nullptr;
  const RackPort* to = bench.rack ? bench.rack->portOf(stylus(wanted).name) : nullptr;
  if (!from || !to) return {};
  const Access puts = straightDown(held), takes = straightDown(wanted);
  const Vec3 put = pivotAtPort(stylus(held), *from), take = pivotAtPort(stylus(wanted), *to),
             out = bench.rack->slide * bench.rack->out;
  if (!bench.rack->mesh.vertices.empty())
    height = std::max(
        height, bench.rack->mesh.box().max().z() +
                    std::max(toolOf(bench, puts).turn_radius, toolOf(bench, takes).turn_radius));
  const auto above = [&](const Vec3& p) { return Vec3(p.x(), p.y(), std::max(height, p.z())); };
  // Bare, as high as it takes to pass over what hangs in the ports.
  const double over = std::max(put.z(), take.z()) + kOverPorts;
  const std::string text = "Swap to " + stylus(wanted).name;
  using enum StepKind;
  return {{Hop, "To the rack", MoveKind::Hop, puts, above(pivot)},
          {Hop, "", MoveKind::Hop, puts, above(put + out)},
          {Hop, "", MoveKind::Hop, puts, put + out},
          {Hop, "", MoveKind::Hop, puts, put},
          {Swap, text, MoveKind::Swap, puts, put, true},
          {Swap, "", MoveKind::Hop, puts, {put.x(), put.y(), over}, true},
          {Swap, "", MoveKind::Hop, puts, {take.x(), take.y(), over}, true},
          {Swap, "", MoveKind::Hop, puts, take, true},
          {Swap, "", MoveKind::Swap, takes, take},
          {Hop, "From the rack", MoveKind::Hop, takes, take + out},
          {Hop, "", MoveKind::Hop, takes, above(take + out)}};
}

} // namespace alder
