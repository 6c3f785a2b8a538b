#include "made_cloud.h"

#include "base/random.h"
#include <algorithm>
#include <bit>
#include <cstring>
#include <fmt/format.h>
#include <map>

namespace alder::test {
namespace {

std::string comma(std::string text) {
  std::replace(text.begin(), text.end(), '.', ',');
  return text;
}

template <class T> void addRaw(std::string& out, T value, bool big) {
  char raw[sizeof value];
  std::memcpy(raw, &value, sizeof value);
  if (big) std::reverse(raw, raw + sizeof value);
  out.append(raw, sizeof value);
}

struct Made {
  Points points, normals;
};

// Figures of few decimals, so that they are the same however they are written.
Made somePoints(unsigned seed) {
  Random r(seed);
  Made made;
  const int count = 50 + static_cast<int>(r.uniform() * 3000);
  const double far = r.uniform() < 0.3 ? 4000 : 50;
  for (int i = 0; i < count; ++i) {
    Vec3 p;
    for (int k = 0; k < 3; ++k)
      p[k] = std::round(r.uniform(-far, far) * 1024) / 1024;
    made.points.push_back(p);
    made.normals.push_back(Vec3(r.normal(), r.normal(), r.normal()).normalized());
  }
  return made;
}

std::string textOf(const Made& made, const std::string& head, const std::string& separator,
                   bool decimal_comma, const std::string& before, const std::string& behind,
                   bool normals, const std::string& end) {
  std::string out = head;
  for (std::size_t i = 0; i < made.points.size(); ++i) {
    out += before;
    std::string line;
    for (int k = 0; k < 3; ++k)
      line += (k ? separator : "") + fmt::format("{:.10f}", made.points[i][k]);
    for (int k = 0; k < 3 && normals; ++k)
      line += separator + fmt::format("{:.6f}", made.normals[i][k]);
    out += decimal_comma ? comma(line) : line;
    out += behind + end;
  }
  return out;
}

std::string ply(const Made& made, bool text, bool big, bool doubles, bool normals, bool more) {
  const std::string type = doubles ? "double" : "float32";
  std::string out = "ply\nformat ";
  out += text ? "ascii" : big ? "binary_big_endian" : "binary_little_endian";
  out += " 1.0\ncomment made for a test\nobj_info none\n";
  if (more) out += "element camera 2\nproperty list uchar int view\nproperty float zoom\n";
  out += fmt::format("element vertex {}\n", made.points.size());
  if (more) out += "property uchar red\n";
  for (const char* axis : {"x", "y", "z"})
    out += "property " + type + " " + axis + "\n";
  if (normals)
    for (const char* axis : {"nx", "ny", "nz"})
      out += "property float " + std::string(axis) + "\n";
  if (more) out += "property ushort quality\n";
  out += "end_header\n";
  const auto value = [&](double v, bool as_double) {
    if (text)
      out += fmt::format("{:.10g} ", v);
    else if (as_double)
      addRaw(out, v, big);
    else
      addRaw(out, static_cast<float>(v), big);
  };
  for (int i = 0; i < 2 && more; ++i) {
    if (text) {
      out += "2 17 -4 0.5\n";
      continue;
    }
    addRaw<std::uint8_t>(out, 2, big);
    addRaw<std::int32_t>(out, 17, big);
    addRaw<std::int32_t>(out, -4, big);
    addRaw<float>(out, 0.5f, big);
  }
  for (std::size_t i = 0; i < made.points.size(); ++i) {
    if (more && text) out += "200 ";
    if (more && !text) addRaw<std::uint8_t>(out, 200, big);
    for (int k = 0; k < 3; ++k)
      value(made.points[i][k], doubles);
    for (int k = 0; k < 3 && normals; ++k)
      value(made.normals[i][k], false);
    if (more && text) out += "7 ";
    if (more && !text) addRaw<std::uint16_t>(out, 7, big);
    if (text) out += "\n";
  }
  return out;
}

} // namespace

MadeCloudFile madeCloudFile(int layout, unsigned seed) {
  const Made made = somePoints(seed);
  MadeCloudFile file;
  file.points = made.points;
  const auto text = [&](const std::string& head, const std::string& separator, bool decimal_comma,
                        const std::string& before = "", const std::string& behind = "",
                        bool normals = false, const std::string& end = "\n") {
    file.name = fmt::format("layout-{}.txt", layout);
    file.bytes = textOf(made, head, separator, decimal_comma, before, behind, normals, end);
    if (normals) file.normals = made.normals;
  };
  const auto ply_of = [&](bool in_text, bool big, bool doubles, bool normals, bool more) {
    file.name = fmt::format("layout-{}.ply", layout);
    file.bytes = ply(made, in_text, big, doubles, normals, more);
    if (normals) file.normals = made.normals;
  };
  switch (layout) {
  case 0:
    text("", " ", false);
    break;
  case 1:
    text("", "\t", false, "  ", " 17 220", false, "\r\n");
    break;
  case 2:
    text("x,y,z,intensity\n", ",", false, "", ",0.25");
    break;
  case 3:
    text("Messung 12\nX;Y;Z\n", ";", true);
    break;
  case 4:
    text("", " ", true, "", "", false, "\r\n");
    break;
  case 5:
    text(fmt::format("{}\n", made.points.size()), " ", false, "", " 120 130 140");
    break;
  case 6:
    text("# made for a test\n// x y z\n", "   ", false, "", "", true);
    break;
  case 7:
    text("\xef\xbb\xbfnr;X [mm];Y [mm];Z [mm]\n", ";", false, "P1;", "");
    break;
  case 8:
    text("//X,Y,Z,Nx,Ny,Nz\n", ",", false, "", "", true, "\r");
    break;
  case 9:
    ply_of(true, false, false, true, true);
    break;
  case 10:
    ply_of(false, false, false, false, false);
    break;
  case 11:
    ply_of(false, true, true, true, true);
    break;
  case 12:
    ply_of(false, false, true, false, true);
    break;
  default:
    ply_of(true, false, true, false, false);
  }
  return file;
}

std::function<double(FaceId, const Vec3&, const Vec3&)> heightsOf(const Plan& plan,
                                                                  const Defects& defects) {
  std::map<FaceId, std::pair<Ideal, FeatureDefect>> by_face;
  for (const auto& [id, defect] : defects.features)
    for (const FaceId face : plan.nominal(id).faces)
      by_face[face] = {plan.nominal(id).ideal, defect};
  return [by_face](FaceId face, const Vec3& place, const Vec3& normal) {
    const auto found = by_face.find(face);
    if (found == by_face.end()) return 0.0;
    const auto& [ideal, d] = found->second;
    const Vec3 shift = d.move + d.tilt.cross(place - ideal.point);
    return normal.dot(shift) + d.offset + (ideal.hole ? -0.5 : 0.5) * d.resize;
  };
}

} // namespace alder::test
