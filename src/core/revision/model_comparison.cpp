#include "revision/model_comparison.h"

#include "base/units.h"
#include "requirement/from_pmi.h"
#include "revision/surface_pairing.h"
#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace alder {
namespace {

// The 24 turns that take axes to axes: models are exported lying on another side.
std::vector<Mat3> axisTurns() {
  std::vector<Mat3> turns;
  for (int x = 0; x < 3; ++x)
    for (int y = 0; y < 3; ++y)
      for (const double sx : {1.0, -1.0})
        for (const double sy : {1.0, -1.0}) {
          if (x == y) continue;
          Mat3 m = Mat3::Zero();
          m(x, 0) = sx;
          m(y, 1) = sy;
          m.col(2) = m.col(0).cross(m.col(1));
          turns.push_back(m);
        }
  return turns;
}

// By the boxes of surfaces of like size: the move on which most area agrees.
std::optional<std::pair<Frame, double>> likeliestMove(const PartModel& before,
                                                      const PartModel& now) {
  const auto was = pairedSurfaces(before), is = pairedSurfaces(now);
  double whole = 0;
  for (const PairedSurface& s : was)
    whole += s.area;
  std::optional<std::pair<Frame, double>> best;
  for (const Mat3& turned : axisTurns()) {
    std::map<std::array<long, 3>, double> votes;
    for (const PairedSurface& n : is)
      for (const PairedSurface& b : was) {
        if (n.ideal.type != b.ideal.type || std::abs(n.area - b.area) > 1e-5 * b.area ||
            std::abs(n.ideal.diameter - b.ideal.diameter) > 1e-4)
          continue;
        const Vec3 by = b.box.center() - turned * n.box.center();
        const Vec3 sizes = (turned * n.box.sizes()).cwiseAbs() - b.box.sizes();
        if (sizes.cwiseAbs().maxCoeff() > 0.1) continue;
        std::array<long, 3> key{};
        for (int k = 0; k < 3; ++k)
          key[static_cast<std::size_t>(k)] = std::lround(by[k] / 0.1);
        votes[key] += b.area;
      }
    for (const auto& [key, area] : votes)
      if (!best || area / whole > best->second) {
        Frame move = Frame::Identity();
        move.linear() = turned;
        move.translation() = 0.1 * Vec3(static_cast<double>(key[0]), static_cast<double>(key[1]),
                                        static_cast<double>(key[2]));
        best = {move, area / whole};
      }
  }
  return best;
}

// Surfaces that changed together: those of one fate that are linked.
class Together {
 public:
  explicit Together(std::size_t count)
      : of_(count) {
    std::iota(of_.begin(), of_.end(), 0);
  }
  int root(int i) const {
    while (of_[static_cast<std::size_t>(i)] != i)
      i = of_[static_cast<std::size_t>(i)];
    return i;
  }
  void join(int a, int b) {
    a = root(a), b = root(b);
    of_[static_cast<std::size_t>(std::max(a, b))] = std::min(a, b);
  }

 private:
  std::vector<int> of_;
};

std::vector<std::vector<int>> groupsOf(const std::vector<int>& members, const Together& together) {
  std::map<int, std::vector<int>> groups;
  for (const int m : members)
    groups[together.root(m)].push_back(m);
  std::vector<std::vector<int>> all;
  for (auto& [root, group] : groups)
    all.push_back(std::move(group));
  return all;
}

void add(std::vector<FaceId>& faces, const std::vector<FaceId>& more) {
  faces.insert(faces.end(), more.begin(), more.end());
  std::sort(faces.begin(), faces.end());
}

// "Bore ø8, 2 planes and a cone": what there is, each kind once.
std::string namesOf(const std::vector<PairedSurface>& surfaces, const std::vector<int>& group) {
  std::vector<std::pair<std::string, int>> kinds;
  for (const int i : group) {
    const std::string kind = featureName(surfaces[static_cast<std::size_t>(i)].ideal);
    const auto known =
        std::find_if(kinds.begin(), kinds.end(), [&](const auto& k) { return k.first == kind; });
    if (known == kinds.end())
      kinds.emplace_back(kind, 1);
    else
      ++known->second;
  }
  std::string words;
  for (std::size_t i = 0; i < kinds.size(); ++i) {
    if (i > 0) words += i + 1 == kinds.size() ? " and " : ", ";
    if (kinds[i].second > 1) words += fmt::format("{} × ", kinds[i].second);
    words += kinds[i].first;
  }
  return words;
}

} // namespace

std::string_view name(SurfaceFate fate) {
  switch (fate) {
  case SurfaceFate::Stayed:
    return "stayed";
  case SurfaceFate::Trimmed:
    return "trimmed";
  case SurfaceFate::Moved:
    return "moved";
  case SurfaceFate::Resized:
    return "resized";
  case SurfaceFate::Reshaped:
    return "reshaped";
  case SurfaceFate::Gone:
    return "gone";
  case SurfaceFate::New:
    return "new";
  }
  return "";
}

ModelComparison compareModels(const PartModel& before, const PartModel& now) {
  ModelComparison c = SurfacePairs(before, now).compare();
  if (c.found < 0.5)
    if (const auto move = likeliestMove(before, now); move && move->second > c.found + 0.2)
      c.elsewhere = move->first;
  return c;
}

std::string wordsOfMove(const Frame& move, const Vec3& at) {
  const Vec3 by = move * at - at;
  const double angle = Eigen::AngleAxisd(move.linear()).angle();
  std::string words;
  if (by.norm() > 1e-4) {
    int axis = 0;
    by.cwiseAbs().maxCoeff(&axis);
    Vec3 rest = by;
    rest[axis] = 0;
    if (rest.norm() < 1e-4)
      words = fmt::format("moved by {} mm along {}{}", shortFigure(std::abs(by[axis])),
                          by[axis] < 0 ? '-' : '+', "XYZ"[axis]);
    else
      words = fmt::format("moved by ({}, {}, {}) mm", shortFigure(by.x()), shortFigure(by.y()),
                          shortFigure(by.z()));
  }
  if (angle > 1e-6)
    words +=
        fmt::format("{}turned by {}°", words.empty() ? "" : " and ", shortFigure(degrees(angle)));
  return words.empty() ? "in the same place" : words;
}

std::vector<ModelChange> changesOf(const PartModel& before, const PartModel& now,
                                   const ModelComparison& comparison, const FaceNames& called) {
  const auto was = pairedSurfaces(before), is = pairedSurfaces(now);
  const auto fateOf = [&](int b) { return comparison.before[static_cast<std::size_t>(b)].fate; };
  Together olds(was.size()), news(is.size());
  std::vector<int> changed, fresh;
  for (std::size_t b = 0; b < was.size(); ++b) {
    const SurfacePairing& p = comparison.before[b];
    const int i = static_cast<int>(b);
    if (p.fate == SurfaceFate::Stayed || p.fate == SurfaceFate::Trimmed) continue;
    changed.push_back(i);
    for (const int other : changed) {
      if (other == i || fateOf(other) != p.fate) continue;
      const bool linked =
          p.fate == SurfaceFate::Gone
              ? was[b].neighbours.count(other) > 0
              : p.fate == SurfaceFate::Moved && p.move_of == comparison.before[other].move_of;
      if (linked) olds.join(i, other);
    }
  }
  std::vector<bool> is_fresh(is.size());
  for (const SurfaceId n : comparison.fresh) {
    fresh.push_back(n.value);
    is_fresh[static_cast<std::size_t>(n.value)] = true;
  }
  for (const int n : fresh)
    for (const int other : is[static_cast<std::size_t>(n)].neighbours)
      if (is_fresh[static_cast<std::size_t>(other)]) news.join(n, other);

  std::vector<ModelChange> changes;
  for (const auto& group : groupsOf(changed, olds)) {
    ModelChange c;
    c.fate = fateOf(group.front());
    const SurfacePairing& first = comparison.before[static_cast<std::size_t>(group.front())];
    c.move = first.move;
    for (const int b : group) {
      add(c.before, was[static_cast<std::size_t>(b)].faces);
      for (const SurfaceId n : comparison.before[static_cast<std::size_t>(b)].now)
        add(c.now, is[static_cast<std::size_t>(n.value)].faces);
    }
    std::string what = called ? called(c.before) : "";
    if (what.empty()) what = namesOf(was, group);
    const Ideal& old = was[static_cast<std::size_t>(group.front())].ideal;
    if (c.fate == SurfaceFate::Gone) {
      c.words = what + " is gone";
    } else if (c.fate == SurfaceFate::Moved) {
      c.words = fmt::format("{} {}", what, wordsOfMove(c.move, old.point));
    } else if (c.fate == SurfaceFate::Reshaped) {
      c.words =
          fmt::format("{} has another shape, by up to {} mm", what, shortFigure(first.off, 3));
    } else {
      const Ideal& fresh_ideal = is[static_cast<std::size_t>(first.now.front().value)].ideal;
      c.words = fmt::format("{} becomes {}", what, featureName(fresh_ideal));
      if (!first.move.matrix().isIdentity(1e-6)) c.words += ", " + wordsOfMove(c.move, old.point);
    }
    changes.push_back(std::move(c));
  }
  for (const auto& group : groupsOf(fresh, news)) {
    ModelChange c;
    c.fate = SurfaceFate::New;
    for (const int n : group)
      add(c.now, is[static_cast<std::size_t>(n)].faces);
    c.words = namesOf(is, group) + (group.size() > 1 ? " are new" : " is new");
    changes.push_back(std::move(c));
  }
  return changes;
}

} // namespace alder
