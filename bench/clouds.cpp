// Point clouds: the place nearest to a point against the CAD library's projection, and the whole
// way from a file of ten million points to verdicts over the minute that a person is promised.
#include "base/files.h"
#include "base/random.h"
#include "cloud/judged_cloud.h"
#include "exchange/clouds/cloud_file.h"
#include "exchange/routine/project.h"
#include "judge/judge.h"
#include "ratio.h"
#include "scan.h"

#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepExtrema_DistShapeShape.hxx>
#include <BRep_Builder.hxx>
#include <TopoDS_Compound.hxx>
#include <cmath>
#include <cstdlib>

namespace alder::bench {
namespace {

Plan heron() {
  return std::move(openProject((dataFolder() / "demo/data/heron.alder").string())->plan);
}

Frame somewhere() {
  Frame frame = Frame::Identity();
  frame.linear() = Eigen::AngleAxisd(2.2, Vec3(0.3, -0.5, 0.8).normalized()).toRotationMatrix();
  frame.translation() = Vec3(230, -410, 90);
  return frame;
}

// A hundred thousand of ours; of theirs as many as the same time allows, per point.
double nearest() {
  const Plan plan = heron();
  demo::ScanSettings s;
  s.points = 100000, s.noise = 0.02;
  const auto scan = demo::scanOf(*plan.part, s);
  const NearestSurface surface(plan.part);
  std::vector<double> ours(scan.points.size());
  const double our_time = medianSeconds(
      [&] {
        NearestSurface::Asker asker(surface);
        for (std::size_t i = 0; i < scan.points.size(); ++i) {
          const auto foot = asker.at(scan.points[i], 1);
          ours[i] = foot ? std::abs(foot->distance) : -1;
        }
      },
      3);
  TopoDS_Compound faces; // a point within the solid would have no distance from it
  const BRep_Builder builder;
  builder.MakeCompound(faces);
  for (const TopoDS_Face& face : plan.part->face_shapes)
    builder.Add(faces, face);
  const std::size_t few = 60, step = scan.points.size() / few;
  std::size_t differ = 0;
  const double their_time = medianSeconds(
      [&] {
        differ = 0;
        for (std::size_t k = 0; k < few; ++k) {
          const Vec3& p = scan.points[k * step];
          const BRepExtrema_DistShapeShape d(BRepBuilderAPI_MakeVertex(gp_Pnt(p.x(), p.y(), p.z())),
                                             faces);
          differ += std::abs(d.Value() - ours[k * step]) > 1e-6;
        }
      },
      3);
  if (differ > 2) return 1e9; // but at an edge the answers are the same
  return (our_time / static_cast<double>(scan.points.size())) /
         (their_time / static_cast<double>(few));
}

// Read, placed from anywhere, given to features, judged.
double tenMillion() {
  const Plan plan = heron();
  demo::ScanSettings s;
  s.points = 10000000, s.noise = 0.01, s.motion = somewhere();
  const auto path = std::filesystem::temp_directory_path() / "alderpoint-bench-cloud.ply";
  if (!writeFile(path, demo::plyOf(demo::scanOf(*plan.part, s), false))) return 1e9;
  bool right = false;
  const double seconds = medianSeconds(
      [&] {
        const auto file = readCloudFile(path);
        if (!file) return;
        const auto placed = placeCloud(plan, file->cloud, {}, {});
        if (!placed) return;
        const auto verdicts = judgeAll(plan, measurementsOf(plan, placed->gathered));
        // The part is as nominal: nothing is outside.
        right = std::none_of(verdicts.begin(), verdicts.end(), [](const Evaluation& e) {
          return e.verdict == Verdict::Outside || !e.actual;
        });
        const Vec3 far(60, 60, 60);
        right = right && (placed->placement * (s.motion * far) - far).norm() < 0.002;
      },
      1);
  std::filesystem::remove(path);
  return right ? seconds / 60 : 1e9;
}

} // namespace

std::vector<Ratio> clouds() {
  return {{"cloud/nearest-place over opencascade projection", 0.05, nearest},
          {"cloud/10000000-points over 60 s", 1, tenMillion}};
}

} // namespace alder::bench
