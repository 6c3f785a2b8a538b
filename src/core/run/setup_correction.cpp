#include "run/setup_correction.h"

#include "base/units.h"
#include "bench/json_fields.h"
#include <algorithm>
#include <cmath>
#include <map>

namespace alder {
namespace {

constexpr double kSame = 1e-9;

Eigen::Index axisOf(char letter) {
  return letter - 'x';
}

bool isOrder(std::string order) {
  std::sort(order.begin(), order.end());
  return order == "xyz";
}

std::string millimetres(double v) {
  return figure(std::abs(v) < 5e-7 ? 0.0 : v, 6);
}
std::string inDegrees(double v) {
  return figure(std::abs(degrees(v)) < 5e-8 ? 0.0 : degrees(v), 7);
}

} // namespace

Frame motionOf(const SetupCorrection& c) {
  Frame motion = Frame::Identity();
  motion.pretranslate(c.move);
  for (const char letter : c.order)
    motion.rotate(Eigen::AngleAxisd(c.turn[axisOf(letter)], Vec3::Unit(axisOf(letter))));
  return motion;
}

Result<SetupCorrection> correctionBetween(const Frame& planned, const Frame& found, const Frame& in,
                                          const std::string& order) {
  if (!isOrder(order))
    return fail("\"{}\" is no order of turns; write the letters x y z in any order.", order);
  const Frame motion = in.inverse() * found * planned.inverse() * in;
  SetupCorrection c;
  c.order = order;
  c.move = motion.translation();
  // Of the two ways to the same turn that with the smaller angles, as a machine tool would make it.
  const Vec3 angles =
      motion.linear().eulerAngles(axisOf(order[0]), axisOf(order[1]), axisOf(order[2]));
  const auto wrapped = [](double a) { return std::remainder(a, 2 * kPi); };
  const Vec3 one = angles.unaryExpr(wrapped),
             other = Vec3(angles[0] + kPi, kPi - angles[1], angles[2] + kPi).unaryExpr(wrapped);
  const Vec3& least = one.norm() <= other.norm() ? one : other;
  for (int k = 0; k < 3; ++k)
    c.turn[axisOf(order[static_cast<std::size_t>(k)])] = least[k];
  if ((motionOf(c).matrix() - motion.matrix()).cwiseAbs().maxCoeff() > kSame * (1 + c.move.norm()))
    return fail("The correction cannot be told by three turns in the order {}; choose another.",
                order);
  return c;
}

std::string describe(const SetupCorrection& c) {
  return fmt::format("move {}, {}, {} mm; turn {}, {}, {} deg ({})", figure(c.move.x(), 3),
                     figure(c.move.y(), 3), figure(c.move.z(), 3), figure(degrees(c.turn.x()), 4),
                     figure(degrees(c.turn.y()), 4), figure(degrees(c.turn.z()), 4), c.order);
}

std::string correctionTable(const SetupCorrection& c) {
  return fmt::format("order,x_mm,y_mm,z_mm,a_deg,b_deg,c_deg\n{},{},{},{},{},{},{}\n", c.order,
                     millimetres(c.move.x()), millimetres(c.move.y()), millimetres(c.move.z()),
                     inDegrees(c.turn.x()), inDegrees(c.turn.y()), inDegrees(c.turn.z()));
}

std::string correctionJson(const SetupCorrection& c) {
  const Eigen::Matrix4d m = motionOf(c).matrix();
  Json rows = Json::array();
  for (int r = 0; r < 4; ++r)
    rows.push_back({m(r, 0), m(r, 1), m(r, 2), m(r, 3)});
  return Json{{"order", c.order},
              {"move_mm", toJson(c.move)},
              {"turn_deg", toJson(Vec3(c.turn / radians(1)))},
              {"matrix", rows}}
             .dump(1) +
         "\n";
}

std::string correctionMatrix(const SetupCorrection& c) {
  const Eigen::Matrix4d m = motionOf(c).matrix();
  std::string out;
  for (int r = 0; r < 4; ++r)
    out += fmt::format("{:.12f} {:.12f} {:.12f} {:.9f}\n", m(r, 0), m(r, 1), m(r, 2), m(r, 3));
  return out;
}

std::string correctionStep(const SetupCorrection& c, const std::string& name) {
  const Frame m = motionOf(c);
  std::string title;
  for (const char letter : name)
    title += letter == '\'' || static_cast<unsigned char>(letter) >= 0x80 ? '?' : letter;
  const auto triple = [](const Vec3& v) {
    return fmt::format("({:.12f},{:.12f},{:.12f})", v.x(), v.y(), v.z());
  };
  return "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION(('Setup correction'),'2;1');\n"
         "FILE_NAME('" +
         title +
         "','',(''),(''),'','Alderpoint','');\n"
         "FILE_SCHEMA(('AP242_MANAGED_MODEL_BASED_3D_ENGINEERING_MIM_LF'));\nENDSEC;\nDATA;\n"
         "#1=CARTESIAN_POINT(''," +
         triple(m.translation()) + ");\n#2=DIRECTION(''," + triple(m.linear().col(2)) +
         ");\n#3=DIRECTION(''," + triple(m.linear().col(0)) +
         ");\n#4=AXIS2_PLACEMENT_3D('setup correction',#1,#2,#3);\nENDSEC;\nEND-ISO-10303-21;\n";
}

Result<std::string> correctionFromTemplate(const SetupCorrection& c, const std::string& name,
                                           const std::string& text) {
  const std::map<std::string, std::string> words{{"x", millimetres(c.move.x())},
                                                 {"y", millimetres(c.move.y())},
                                                 {"z", millimetres(c.move.z())},
                                                 {"a", inDegrees(c.turn.x())},
                                                 {"b", inDegrees(c.turn.y())},
                                                 {"c", inDegrees(c.turn.z())},
                                                 {"name", name},
                                                 {"order", c.order}};
  std::string out;
  for (std::size_t at = 0; at < text.size();) {
    const auto open = text.find('{', at), close = text.find('}', open);
    out += text.substr(at, open - at);
    if (open == std::string::npos) break;
    const std::string word =
        close == std::string::npos ? "" : text.substr(open + 1, close - open - 1);
    const auto found = words.find(word);
    if (found == words.end())
      return fail("The template holds {{{}}}, which is none of x y z a b c name order.", word);
    out += found->second;
    at = close + 1;
  }
  return out;
}

} // namespace alder
