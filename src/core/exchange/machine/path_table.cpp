#include "exchange/machine/path_table.h"

#include "base/units.h"
#include "exchange/points/csv.h"
#include "plan/id_text.h"

namespace alder {

std::string pathTable(const Plan& plan, const Way& way, const std::vector<double>& times) {
  std::string out =
      "seq,seconds,step,kind,x,y,z,px,py,pz,a,b,dx,dy,dz,stylus,tip,ball_diameter,touch\n";
  const Frame inverse = plan.placement.inverse();
  for (std::size_t i = 0; i < way.positions.size(); ++i) {
    const Position& p = way.positions[i];
    const Tip& tip = plan.tip(p.access);
    const Vec3 part = inverse * p.ball;
    const Vec3 d = inverse.linear() * shankDirection(tip, p.access.a, p.access.b);
    out += fmt::format("{},{:.4f},{},{},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:g},{:g},{:.9f},"
                       "{:.9f},{:.9f},{},{},{:g},{}\n",
                       i + 1, times[i], p.step + 1, name(p.kind), p.ball.x(), p.ball.y(),
                       p.ball.z(), part.x(), part.y(), part.z(), shownDegrees(p.access.a),
                       shownDegrees(p.access.b), d.x(), d.y(), d.z(),
                       p.bare ? "" : csvField(plan.bench.styli[p.access.stylus].name),
                       p.bare ? "" : csvField(tip.name), p.bare ? 0 : tip.ball_diameter,
                       p.touch >= 0 ? idText(p.feature) + "." + std::to_string(p.touch + 1) : "");
  }
  return out;
}

} // namespace alder
