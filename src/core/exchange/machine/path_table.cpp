#include "exchange/machine/path_table.h"

#include "base/units.h"
#include "exchange/points/csv.h"
#include "plan/id_text.h"
#include "route/time_model.h"

namespace alder {

namespace {

constexpr const char* kHead =
    "seq,seconds,step,kind,x,y,z,px,py,pz,a,b,dx,dy,dz,stylus,tip,ball_diameter,touch";

// Counting goes on behind what came before.
struct Before {
  std::size_t rows = 0;
  double seconds = 0;
  bool joined = true;  // by a move to the first row
  std::string columns; // at the end of each row
};

std::string rowsOf(const Plan& plan, const Way& way, const std::vector<double>& times,
                   const Before& before) {
  std::string out;
  const Frame inverse = plan.placement.inverse();
  for (std::size_t i = 0; i < way.positions.size(); ++i) {
    const Position& p = way.positions[i];
    const Tip& tip = plan.tip(p.access);
    const Vec3 part = inverse * p.ball;
    const Vec3 d = inverse.linear() * shankDirection(tip, p.access.a, p.access.b);
    out += fmt::format("{},{:.4f},{},{},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:g},{:g},{:.9f},"
                       "{:.9f},{:.9f},{},{},{:g},{}{}\n",
                       before.rows + i + 1, before.seconds + times[i], p.step + 1,
                       i == 0 && !before.joined ? name(MoveKind::Swap) : name(p.kind), p.ball.x(),
                       p.ball.y(), p.ball.z(), part.x(), part.y(), part.z(),
                       shownDegrees(p.access.a), shownDegrees(p.access.b), d.x(), d.y(), d.z(),
                       p.bare ? "" : csvField(plan.bench.styli[p.access.stylus].name),
                       p.bare ? "" : csvField(tip.name), p.bare ? 0 : tip.ball_diameter,
                       p.touch >= 0 ? idText(p.feature) + "." + std::to_string(p.touch + 1) : "",
                       before.columns);
  }
  return out;
}

} // namespace

std::string pathTable(const Plan& plan, const Way& way, const std::vector<double>& times) {
  return std::string(kHead) + "\n" + rowsOf(plan, way, times, {});
}

std::string pathTable(const std::vector<SetupWay>& ways) {
  if (ways.size() == 1)
    return pathTable(ways[0].plan, ways[0].way, timesOf(ways[0].plan.bench, ways[0].way));
  std::string out = std::string(kHead) + ",set_up\n";
  Before before;
  for (const SetupWay& w : ways) {
    const auto times = timesOf(w.plan.bench, w.way);
    before.columns = "," + csvField(nameOfSetup(w.plan, w.plan.setup));
    out += rowsOf(w.plan, w.way, times, before);
    before.rows += w.way.positions.size();
    before.seconds += times.empty() ? 0 : times.back();
    before.joined = false;
  }
  return out;
}

} // namespace alder
