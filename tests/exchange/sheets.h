// Evaluation sheets made of rings and planes, and the judgement of the first requirement.
#pragma once

#include "base/units.h"
#include "exchange/points/sheet.h"
#include "judge/judge.h"
#include "support.h"
#include <nlohmann/json.hpp>

namespace alder::test {

using J = nlohmann::json;

// A ring of n points: radius by angle, about a centre, at a height.
inline J ring(int n, double z, const std::function<double(double)>& radius, double x = 0,
              double y = 0) {
  J out = J::array();
  for (int i = 0; i < n; ++i) {
    const double a = 2 * kPi * i / n, r = radius(a);
    out.push_back({x + r * std::cos(a), y + r * std::sin(a), z});
  }
  return out;
}
inline J cylinder(const char* id, bool hole, double x, double y, double diameter,
                  const J& sections) {
  return {{"id", id},
          {"shape", "cylinder"},
          {"hole", hole},
          {"nominal",
           {{"point", {x, y, 0}},
            {"direction", {0, 0, 1}},
            {"diameter", diameter},
            {"from", 0},
            {"to", 30}}},
          {"sections", sections}};
}
// Three exact rings.
inline J cylinder(const char* id, bool hole, double x, double y, double nominal, double actual) {
  J sections = J::array();
  for (const double z : {0.0, 15.0, 30.0})
    sections.push_back(ring(
        24, z, [=](double) { return actual / 2; }, x, y));
  return cylinder(id, hole, x, y, nominal, sections);
}
inline J plane(const char* id, double z, const std::function<double(double, double)>& height,
               double normal = 1) {
  J points = J::array();
  for (const double x : {0.0, 50.0, 100.0})
    for (const double y : {0.0, 30.0, 60.0})
      points.push_back({x, y, z + height(x, y)});
  return {{"id", id},
          {"shape", "plane"},
          {"nominal", {{"point", {0, 0, z}}, {"direction", {0, 0, normal}}}},
          {"points", points}};
}
inline const auto flat = [](double, double) { return 0.0; };

// All points moved as one body.
inline J movedBy(J features, const Frame& motion) {
  const auto move = [&](J& p) {
    const Vec3 q = motion * Vec3(p[0], p[1], p[2]);
    p = {q.x(), q.y(), q.z()};
  };
  for (J& f : features) {
    if (f.contains("points"))
      for (J& p : f["points"])
        move(p);
    if (f.contains("sections"))
      for (J& s : f["sections"])
        for (J& p : s)
          move(p);
  }
  return features;
}

inline Result<Evaluation> evaluate(const J& features, const J& requirement,
                                   const char* standard = "ISO") {
  J full = requirement;
  full["id"] = "r";
  const J sheet{{"standard", standard}, {"features", features}, {"requirements", {full}}};
  auto read = readSheet(sheet.dump(), "sheet.json");
  if (!read) return pass(read.error());
  return judge(read->plan, read->plan.spec.requirements[0], read->measured);
}

// The test fails unless the first requirement has this figure.
inline void figure(const J& features, const J& requirement, double expected,
                   double tolerance = 1e-6, const char* standard = "ISO") {
  const auto e = evaluate(features, requirement, standard);
  VERIFY_OK(e);
  QVERIFY2(e->actual.has_value(), e->how.c_str());
  NEAR(*e->actual, expected, tolerance);
  QVERIFY(!e->how.empty());
}

} // namespace alder::test
