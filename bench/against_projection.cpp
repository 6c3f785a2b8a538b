// Distances of many points to a freeform face: ours against the CAD library's projection.
#include "base/random.h"
#include "part/surface_foot.h"
#include "ratio.h"

#include <BRepBuilderAPI_MakeFace.hxx>
#include <GeomAPI_PointsToBSplineSurface.hxx>
#include <Geom_BSplineSurface.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <cmath>

namespace alder::bench {
namespace {

TopoDS_Face wavedFace() {
  TColgp_Array2OfPnt net(1, 12, 1, 9);
  for (int i = 1; i <= 12; ++i)
    for (int j = 1; j <= 9; ++j)
      net.SetValue(i, j, gp_Pnt(10.0 * i, 9.0 * j, 6 * std::sin(0.6 * i) + 4 * std::cos(0.8 * j)));
  return BRepBuilderAPI_MakeFace(GeomAPI_PointsToBSplineSurface(net).Surface(), 1e-6);
}

// A million of ours; of theirs as many as the same time allows, per point.
double profile() {
  const SurfaceFoot foot(wavedFace());
  Random r(3);
  Points points;
  for (int i = 0; i < 1000000; ++i) {
    const double u = r.uniform(12, 118), v = r.uniform(11, 79);
    const auto on = foot.at({u, v, 6 * std::sin(0.06 * u) + 4 * std::cos(0.09 * v)});
    if (on) points.push_back(on->point + 0.05 * r.normal() * on->normal);
  }
  std::vector<double> ours;
  const double our_time = medianSeconds([&] { foot.distances(points, 0, ours); }, 3);
  const std::size_t few = points.size() / 400;
  double worst = 0;
  const double their_time = medianSeconds(
      [&] {
        for (std::size_t i = 0; i < few; ++i) {
          const auto slow = foot.slowly(points[i]);
          const double d = slow ? (points[i] - slow->point).dot(slow->normal) : 0;
          worst = std::max(worst, std::abs(d - ours[i]));
        }
      },
      3);
  if (worst > 1e-6) return 1e9; // not the same answer
  return (our_time / double(points.size())) / (their_time / double(few));
}

} // namespace

std::vector<Ratio> againstProjection() {
  return {{"profile/1000000-points over opencascade projection", 0.05, profile}};
}

} // namespace alder::bench
