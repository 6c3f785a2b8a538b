// STL, text and binary, as a measured mesh.
#include "exchange/clouds/cloud_readers.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstring>

namespace alder {
namespace {

constexpr std::size_t kRecord = 50, kStlBlock = kRecord << 17, kTextBlock = 8 << 20;

Vec3 floatsAt(const char* raw) {
  std::array<float, 3> v{};
  std::memcpy(v.data(), raw, sizeof v);
  return {v[0], v[1], v[2]};
}

Done readBinary(BlockReader& in, std::vector<Triangle>& triangles) {
  static_assert(std::endian::native == std::endian::little, "STL is little-endian");
  auto head = in.next(84);
  if (!head) return pass(head.error());
  std::uint32_t count = 0;
  std::memcpy(&count, head->data() + 80, 4);
  triangles.reserve(std::min<std::size_t>(count, in.size() / kRecord + 1));
  while (triangles.size() < count) {
    auto block = in.next(std::min(kStlBlock, (count - triangles.size()) * kRecord));
    if (!block) return pass(block.error());
    for (std::size_t at = 0; at + kRecord <= block->size(); at += kRecord) {
      const char* raw = block->data() + at + 12;
      triangles.push_back({floatsAt(raw), floatsAt(raw + 12), floatsAt(raw + 24)});
    }
    if (block->size() % kRecord != 0 || block->empty())
      return fail("{}: ends after {} of {} triangles; write it anew.", in.label(), triangles.size(),
                  count);
  }
  return {};
}

Done readText(BlockReader& in, std::vector<Triangle>& triangles) {
  std::vector<Vec3> corners;
  std::size_t line_number = 0;
  bool ended = false;
  std::vector<std::string_view> fields;
  for (;;) {
    auto block = in.lines(kTextBlock);
    if (!block) return pass(block.error());
    if (block->empty()) break;
    std::string_view rest = *block;
    while (!rest.empty()) {
      const auto end = rest.find('\n');
      splitFields(rest.substr(0, end), 0, fields);
      rest = end == std::string_view::npos ? std::string_view{} : rest.substr(end + 1);
      ++line_number;
      if (fields.empty()) continue;
      if (fields[0] == "vertex") {
        Vec3 p = Vec3::Zero();
        bool good = fields.size() >= 4;
        for (std::size_t k = 0; k < 3 && good; ++k) {
          const auto v = cloudFigure(fields[k + 1], false);
          good = v.has_value();
          if (v) p[static_cast<int>(k)] = *v;
        }
        if (!good)
          return fail("{}: line {}: a vertex without three figures; write the file anew.",
                      in.label(), line_number);
        corners.push_back(p);
      } else if (fields[0] == "endfacet") {
        if (corners.size() != 3)
          return fail("{}: line {}: a facet of {} vertices; it has three.", in.label(), line_number,
                      corners.size());
        triangles.push_back({corners[0], corners[1], corners[2]});
        corners.clear();
      } else if (fields[0] == "endsolid") {
        ended = true;
      } else if (fields[0] == "solid") {
        ended = false;
      }
    }
  }
  if (!ended)
    return fail("{}: ends after {} triangles without \"endsolid\"; write it anew.", in.label(),
                triangles.size());
  return {};
}

} // namespace

Done readStlCloud(BlockReader& in, CloudFile& out, bool text) {
  std::vector<Triangle> triangles;
  auto done = text ? readText(in, triangles) : readBinary(in, triangles);
  if (!done) return done;
  out.form = text ? "STL, text" : "STL, binary";
  return sampleMesh(triangles, in.label(), out);
}

Done sampleMesh(const std::vector<Triangle>& triangles, const std::string& label, CloudFile& out) {
  constexpr double kFineness = 800; // steps along the diagonal of the whole
  Box3 box;
  std::size_t broken = 0;
  for (const Triangle& t : triangles)
    if (t.a.allFinite() && t.b.allFinite() && t.c.allFinite())
      box.extend(t.a).extend(t.b).extend(t.c);
  if (box.isEmpty()) return fail("{}: holds no triangles.", label);
  const double step = std::max(box.sizes().norm() / kFineness, 1e-9);
  PointCloud& cloud = out.cloud;
  for (const Triangle& t : triangles) {
    const Vec3 across = (t.b - t.a).cross(t.c - t.a);
    if (!across.allFinite() || across.norm() <= 0) {
      ++broken;
      continue;
    }
    // Evenly however long and thin it is: Roberts' sequence over the parallelogram, folded.
    const double area = across.norm() / 2;
    const auto count = static_cast<std::size_t>(std::max(1.0, std::round(area / (step * step))));
    const Eigen::Vector3f normal = across.normalized().cast<float>();
    for (std::size_t k = 0; k < count; ++k) {
      const auto place = [&](double ratio) {
        const double v = 0.5 + static_cast<double>(k) * ratio;
        return v - std::floor(v);
      };
      double u = place(0.7548776662466927), v = place(0.5698402909980532);
      if (count == 1) u = v = 1 / 3.0;
      if (u + v > 1) u = 1 - u, v = 1 - v;
      cloud.points.push_back(t.a + u * (t.b - t.a) + v * (t.c - t.a));
      cloud.normals.push_back(normal);
    }
    if (cloud.points.size() > kMostCloudPoints)
      return fail("{}: is too large a mesh; thin it out.", label);
  }
  out.form += fmt::format(", a mesh of {} triangles", triangles.size());
  if (broken > 0)
    out.notes.push_back(fmt::format("{} triangles without an area were passed over.", broken));
  return {};
}

} // namespace alder
