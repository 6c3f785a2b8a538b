#include "geometry/distance.h"

#include <algorithm>

namespace alder {
namespace {

constexpr double kDegenerate = 1e-24; // squared mm: shorter is a point

bool crosses(const Segment& segment, const Triangle& t) {
  const Vec3 ab = t.b - t.a, ac = t.c - t.a;
  const Vec3 normal = ab.cross(ac);
  const double da = normal.dot(segment.a - t.a), db = normal.dot(segment.b - t.a);
  if ((da > 0 && db > 0) || (da < 0 && db < 0) || da == db) return false;
  const Vec3 p = segment.a + (segment.b - segment.a) * (da / (da - db));
  const Vec3 ap = p - t.a;
  const double n2 = normal.squaredNorm();
  if (n2 < kDegenerate) return false;
  const double v = ap.cross(ac).dot(normal), w = ab.cross(ap).dot(normal);
  return v >= 0 && w >= 0 && v + w <= n2;
}

} // namespace

Vec3 closestOnSegment(const Vec3& point, const Segment& s) {
  const Vec3 d = s.b - s.a;
  const double length2 = d.squaredNorm();
  if (length2 < kDegenerate) return s.a;
  return s.a + d * std::clamp((point - s.a).dot(d) / length2, 0.0, 1.0);
}

Vec3 closestOnTriangle(const Vec3& p, const Triangle& t) {
  const Vec3 ab = t.b - t.a, ac = t.c - t.a, ap = p - t.a;
  const double d1 = ab.dot(ap), d2 = ac.dot(ap);
  if (d1 <= 0 && d2 <= 0) return t.a;
  const Vec3 bp = p - t.b;
  const double d3 = ab.dot(bp), d4 = ac.dot(bp);
  if (d3 >= 0 && d4 <= d3) return t.b;
  const double vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0 && d1 - d3 > 0) return t.a + ab * (d1 / (d1 - d3));
  const Vec3 cp = p - t.c;
  const double d5 = ab.dot(cp), d6 = ac.dot(cp);
  if (d6 >= 0 && d5 <= d6) return t.c;
  const double vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0 && d2 - d6 > 0) return t.a + ac * (d2 / (d2 - d6));
  const double va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0 && (d4 - d3) + (d5 - d6) > 0)
    return t.b + (t.c - t.b) * ((d4 - d3) / ((d4 - d3) + (d5 - d6)));
  const double sum = va + vb + vc;
  if (sum <= 0) return closestOnSegment(p, {t.a, t.b});
  return t.a + ab * (vb / sum) + ac * (vc / sum);
}

double squaredDistance(const Segment& p, const Segment& q) {
  const Vec3 d1 = p.b - p.a, d2 = q.b - q.a, r = p.a - q.a;
  const double a = d1.squaredNorm(), e = d2.squaredNorm();
  if (a < kDegenerate) return (closestOnSegment(p.a, q) - p.a).squaredNorm();
  if (e < kDegenerate) return (closestOnSegment(q.a, p) - q.a).squaredNorm();
  const double b = d1.dot(d2), c = d1.dot(r), f = d2.dot(r);
  const double denominator = a * e - b * b;
  double s = denominator > 1e-14 * a * e ? std::clamp((b * f - c * e) / denominator, 0.0, 1.0) : 0;
  double t = (b * s + f) / e;
  if (t < 0 || t > 1) {
    t = std::clamp(t, 0.0, 1.0);
    s = std::clamp((b * t - c) / a, 0.0, 1.0);
  }
  return (p.a + d1 * s - q.a - d2 * t).squaredNorm();
}

double squaredDistance(const Segment& s, const Triangle& t) {
  if (crosses(s, t)) return 0;
  double best = (closestOnTriangle(s.a, t) - s.a).squaredNorm();
  best = std::min(best, (closestOnTriangle(s.b, t) - s.b).squaredNorm());
  best = std::min(best, squaredDistance(s, Segment{t.a, t.b}));
  best = std::min(best, squaredDistance(s, Segment{t.b, t.c}));
  return std::min(best, squaredDistance(s, Segment{t.c, t.a}));
}

double squaredDistance(const Triangle& p, const Triangle& q) {
  // Two triangles that meet do so along an edge of one of them, so edges against the other suffice.
  const std::array<Segment, 3> edges_p{{{p.a, p.b}, {p.b, p.c}, {p.c, p.a}}};
  const std::array<Segment, 3> edges_q{{{q.a, q.b}, {q.b, q.c}, {q.c, q.a}}};
  for (const auto& e : edges_p)
    if (crosses(e, q)) return 0;
  for (const auto& e : edges_q)
    if (crosses(e, p)) return 0;
  double best = (closestOnTriangle(p.a, q) - p.a).squaredNorm();
  for (const Vec3* v : {&p.b, &p.c})
    best = std::min(best, (closestOnTriangle(*v, q) - *v).squaredNorm());
  for (const Vec3* v : {&q.a, &q.b, &q.c})
    best = std::min(best, (closestOnTriangle(*v, p) - *v).squaredNorm());
  for (const auto& e : edges_p)
    for (const auto& f : edges_q)
      best = std::min(best, squaredDistance(e, f));
  return best;
}

double squaredDistance(const Box3& a, const Box3& b) {
  const Vec3 gap = (a.min() - b.max()).cwiseMax(b.min() - a.max()).cwiseMax(0.0);
  return gap.squaredNorm();
}

} // namespace alder
