#include "bench/stylus.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace alder {
namespace {

constexpr int kConeSteps = 6; // rods that stand for a conical shaft, each as thick as its thick end

// Nearer to the ball comes lower. A joint goes anywhere between shaft and probe.
int placeInChain(const std::string& part) {
  static constexpr std::array<std::string_view, 5> kParts{"shaft", "extension", "joint", "module",
                                                          "probe"};
  static constexpr std::array<int, 5> kPlaces{0, 1, 1, 2, 3};
  const auto found = std::find(kParts.begin(), kParts.end(), part);
  return found == kParts.end() ? -1 : kPlaces[static_cast<std::size_t>(found - kParts.begin())];
}

Element readElement(const JsonFields& f, const Vec3& along_before) {
  Element e;
  e.part = f.text("part");
  if (e.part == "shank") e.part = "shaft"; // as it was called before
  if (placeInChain(e.part) < 0)
    f.complain("part", "must be shaft, extension, joint, module or probe");
  e.length = f.positive("length_mm");
  e.diameter = f.positive("diameter_mm");
  e.diameter_far = f.number("diameter_far_mm", e.diameter);
  if (e.diameter_far <= 0) f.complain("diameter_far_mm", "must be above 0");
  e.along = f.flag("on_stem", false) ? Vec3(Vec3::UnitZ()) : f.vector("along", along_before);
  if (e.along.norm() < 1e-9) f.complain("along", "must not be zero");
  e.along.normalize();
  e.grams = f.number("weight_g", 0);
  if (e.grams < 0) f.complain("weight_g", "must not be below 0");
  e.thread_near = f.text("thread_near", "");
  e.thread_far = f.text("thread_far", "");
  return e;
}

void checkJoint(const JsonFields& f, const Element& before, const Element& e) {
  if (placeInChain(e.part) >= 0 && placeInChain(e.part) < placeInChain(before.part))
    f.complain("part", fmt::format("cannot be a {} above a {}: from the ball up come shaft, "
                                   "extensions and joints, module, probe",
                                   e.part, before.part));
  if (!before.thread_far.empty() && !e.thread_near.empty() && before.thread_far != e.thread_near)
    f.complain("thread_near", fmt::format("is {}, but the {} below it has {}; put a joint between",
                                          e.thread_near, before.part, before.thread_far));
}

void addRods(Tip& tip, const Element& e, const Vec3& from) {
  const int steps = e.diameter == e.diameter_far ? 1 : kConeSteps;
  for (int k = 0; k < steps; ++k) {
    const double near = static_cast<double>(k) / steps, far = static_cast<double>(k + 1) / steps;
    const auto thick = [&](double share) {
      return e.diameter + share * (e.diameter_far - e.diameter);
    };
    tip.rods.push_back({from + near * e.length * e.along, from + far * e.length * e.along,
                        std::max(thick(near), thick(far)), e.part});
  }
}

// A chain of elements from the ball up to the pivot. A side tip first runs along its own direction
// to the stem, then up the stem.
Tip readTip(const JsonFields& f) {
  Tip tip;
  tip.name = f.text("name", "1");
  tip.ball_diameter = f.positive("ball_diameter_mm");
  tip.disc_thickness = f.number("disc_thickness_mm", 0);
  if (tip.disc_thickness < 0 || tip.disc_thickness > 0.7 * tip.ball_diameter)
    f.complain("disc_thickness_mm",
               fmt::format("must lie between 0 (a ball) and {:g}, 0.7 of the diameter",
                           0.7 * tip.ball_diameter));
  tip.direction = f.vector("direction", -Vec3::UnitZ());
  if (tip.direction.norm() < 1e-9) f.complain("direction", "must not be zero");
  tip.direction.normalize();
  const auto elements = f.list("elements");
  if (elements.empty()) f.complain("elements", "must name at least one element");
  Vec3 at = Vec3::Zero(), along = -tip.direction;
  double reached = 0;
  bool straight = true;
  for (const auto& fields : elements) {
    const Element e = readElement(fields, along);
    straight &= (e.along + tip.direction).norm() < 1e-9;
    along = e.along;
    if (!tip.elements.empty())
      checkJoint(fields, tip.elements.back(), e);
    else if (e.part == "shaft" && e.diameter >= tip.ball_diameter)
      fields.complain("diameter_mm", fmt::format("must be below that of the ball ({:g}), else the "
                                                 "shank touches first",
                                                 tip.ball_diameter));
    addRods(tip, e, at);
    for (std::size_t k = tip.segments.size(); k < tip.rods.size(); ++k) {
      const double length = (tip.rods[k].b - tip.rods[k].a).norm();
      tip.segments.push_back({reached, reached + length, tip.rods[k].diameter, e.part});
      reached += length;
    }
    tip.elements.push_back(e);
    at += e.length * e.along;
  }
  if (!straight) tip.segments.clear();
  tip.pivot_to_ball = -at;
  if (at.z() <= 0)
    f.complain("elements", "lead up from the ball to above the head; the ball must hang below it");
  return tip;
}

template <class Add> void eachOwn(const Tip& tip, const Add& add) {
  for (const Element& e : tip.elements)
    if (e.part != "probe") add(e);
}

} // namespace

double Tip::length() const {
  double sum = 0;
  eachOwn(*this, [&](const Element& e) { sum += e.length; });
  return sum;
}

double Tip::grams() const {
  double sum = 0;
  eachOwn(*this, [&](const Element& e) { sum += e.grams; });
  return sum;
}

// Chords side by side. With rods of radius r the flat of half the thickness h is covered up to
// sqrt(r^2 - h^2) on either side of each.
std::vector<Rod> Tip::discRods() const {
  constexpr double kThicker = 1.1; // than the disc itself, so that few rods do
  std::vector<Rod> chords;
  if (!disc()) return chords;
  const double half = disc_thickness / 2, r = kThicker * half, radius = ball_diameter / 2;
  const double beside = std::sqrt(r * r - half * half);
  const int count = std::max(1, static_cast<int>(std::ceil(radius / beside)));
  const Vec3 along = anyPerpendicular(direction), across = direction.cross(along).normalized();
  for (int k = 0; k < count; ++k) {
    const double at = radius * ((2.0 * k + 1) / count - 1);
    const double nearest = std::max(0.0, std::abs(at) - radius / count); // widest of its strip
    const double reach = std::sqrt(radius * radius - nearest * nearest);
    chords.push_back({at * across - reach * along, at * across + reach * along, 2 * r, "disc"});
  }
  return chords;
}

double Tip::probeLength() const {
  double sum = 0;
  for (const Element& e : elements)
    if (e.part == "probe") sum += e.length;
  return sum;
}

double Stylus::length() const {
  double most = 0;
  for (const Tip& t : tips)
    most = std::max(most, t.length());
  return most;
}

double Stylus::grams() const {
  // What lies above the place at which two tips part is the same stem.
  const auto stemOf = [](const Tip& first, const Tip& second) {
    double shared = 0;
    auto a = first.elements.rbegin(), b = second.elements.rbegin();
    for (; a != first.elements.rend() && b != second.elements.rend() && a->part == b->part &&
           a->length == b->length && a->along == b->along && a->grams == b->grams;
         ++a, ++b)
      if (a->part != "probe") shared += a->grams;
    return shared;
  };
  double sum = 0;
  for (std::size_t i = 0; i < tips.size(); ++i) {
    double shared = 0;
    for (std::size_t k = 0; k < i; ++k)
      shared = std::max(shared, stemOf(tips[k], tips[i]));
    sum += tips[i].grams() - shared;
  }
  return sum;
}

Stylus readStylus(const JsonFields& f) {
  Stylus s;
  s.name = f.text("name");
  for (const auto& tip : f.list("tips"))
    s.tips.push_back(readTip(tip));
  if (s.tips.empty()) f.complain("tips", "must name at least one tip");
  for (std::size_t i = 0; i < s.tips.size(); ++i)
    for (std::size_t k = 0; k < i; ++k)
      if (s.tips[i].name == s.tips[k].name)
        f.complain("tips", fmt::format("has two tips named \"{}\"", s.tips[i].name));
  return s;
}

} // namespace alder
