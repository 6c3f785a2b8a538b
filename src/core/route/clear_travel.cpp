#include "route/clear_travel.h"

#include "route/detour.h"
#include <algorithm>

namespace alder {
namespace {

constexpr double kMargin = 1; // mm, as for every hop
constexpr double kStep = 40;  // mm, from one height that is tried to the next

} // namespace

std::optional<std::vector<Vec3>> clearTravel(const Clearance& clearance, const Tool& tool,
                                             const ShellTravel& travel, const Vec3& from,
                                             const Vec3& to, bool search) {
  const auto free = [&](const std::vector<Vec3>& way) {
    Vec3 at = from;
    const auto reached = [&](const Vec3& p) {
      const bool clear = clearance.clear(tool, at, p, kMargin);
      at = p;
      return clear;
    };
    return std::all_of(way.begin(), way.end(), reached) && reached(to);
  };
  if (auto way = travel.travel(from, to); free(way)) return way;
  Box3 within = clearance.plan().bench.machine.volume.translated(Vec3(-tool.ball_to_pivot));
  within.min().array() += kRoomAtEnds, within.max().array() -= kRoomAtEnds;
  const double high = within.max().z();
  for (double z = std::max({travel.top(), from.z(), to.z()});; z += kStep) {
    z = std::min(z, high);
    const std::vector<Vec3> over{{from.x(), from.y(), z}, {to.x(), to.y(), z}};
    if (z >= std::max(from.z(), to.z()) && free(over)) return over;
    if (z >= high) break;
  }
  if (!search) return {};
  DetourSettings settings;
  settings.margin = kMargin;
  settings.stride = 100;
  return detour(clearance, tool, from, to, within, settings);
}

std::vector<Vec3> travelPastBench(const Clearance& clearance, const Tool& tool,
                                  const ShellTravel& travel, const Vec3& from, const Vec3& to) {
  if (auto way = clearTravel(clearance, tool, travel, from, to, true)) return *way;
  return travel.travel(from, to);
}

} // namespace alder
