#include "route/sequence.h"

#include "base/random.h"
#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>
#include <optional>

namespace alder {
namespace {

constexpr std::size_t kNear = 12;   // neighbours that a move may join
constexpr std::size_t kLongest = 3; // stretch that Or-opt moves
constexpr std::size_t kShakes = 40; // a visit
constexpr std::size_t kMostSteps = 20'000'000;
constexpr double kBetter = 1e-9;
constexpr std::size_t kExact = 12; // visits up to which all orders are weighed

// Costs between the nodes of a round trip: the visits, the start, and a node at no cost from any,
// through which the open way closes. It is tied to the start.
class Costs {
 public:
  Costs(std::size_t count, const std::function<double(std::size_t)>& from_start,
        const std::function<double(std::size_t, std::size_t)>& cost)
      : n(count + 2)
      , values_(n * n, 0) {
    for (std::size_t i = 0; i < count; ++i) {
      for (std::size_t j = 0; j < i; ++j)
        set(i, j, (cost(i, j) + cost(j, i)) / 2);
      set(i, count, from_start(i));
    }
    for (const double c : values_)
      tie_ += c;
    set(count, count + 1, -tie_);
  }

  double operator()(std::size_t i, std::size_t j) const { return values_[i * n + j]; }
  double tie() const { return tie_; } // by how much the tie lowers each round trip

  std::size_t n;

 private:
  void set(std::size_t i, std::size_t j, double c) { values_[i * n + j] = values_[j * n + i] = c; }
  std::vector<double> values_;
  double tie_ = 1;
};

class RoundTrip {
 public:
  explicit RoundTrip(const Costs& costs)
      : c_(costs)
      , n_(costs.n)
      , place_(n_)
      , waiting_(n_, false) {
    findNeighbours();
    nearestFirst();
  }

  void improve() {
    for (std::size_t i = 0; i < n_; ++i)
      wait(at_[i]);
    settle();
    Random random(1);
    std::vector<std::size_t> best = at_;
    double least = length();
    const std::size_t shakes = n_ < 8 ? 0 : std::min(kShakes * n_, kMostSteps / n_);
    for (std::size_t k = 0; k < shakes; ++k) {
      shake(random);
      settle();
      if (const double now = length(); now < least - kBetter)
        least = now, best = at_;
      else if (now > least + kBetter)
        take(best);
    }
    take(best);
  }

  const std::vector<std::size_t>& order() const { return at_; }
  double length() const {
    double sum = c_(at_.back(), at_.front());
    for (std::size_t i = 1; i < n_; ++i)
      sum += c_(at_[i - 1], at_[i]);
    return sum;
  }

 private:
  std::size_t next(std::size_t node) const { return at_[(place_[node] + 1) % n_]; }
  std::size_t before(std::size_t node) const { return at_[(place_[node] + n_ - 1) % n_]; }

  void take(const std::vector<std::size_t>& order) {
    at_ = order;
    for (std::size_t i = 0; i < n_; ++i)
      place_[at_[i]] = i;
  }

  void findNeighbours() {
    std::vector<std::size_t> all(n_);
    std::iota(all.begin(), all.end(), 0);
    near_.resize(n_);
    for (std::size_t i = 0; i < n_; ++i) {
      auto others = all;
      others.erase(others.begin() + static_cast<std::ptrdiff_t>(i));
      const auto end = others.begin() + static_cast<std::ptrdiff_t>(std::min(kNear, others.size()));
      std::partial_sort(others.begin(), end, others.end(), [&](std::size_t a, std::size_t b) {
        return c_(i, a) < c_(i, b) || (c_(i, a) == c_(i, b) && a < b);
      });
      near_[i].assign(others.begin(), end);
    }
  }

  void nearestFirst() {
    std::vector<bool> used(n_, false);
    std::size_t at = n_ - 1; // the closing node, then the start
    for (std::size_t k = 0; k < n_; ++k) {
      place_[at] = at_.size();
      at_.push_back(at);
      used[at] = true;
      std::optional<std::size_t> best;
      for (std::size_t j = 0; j < n_; ++j)
        if (!used[j] && (!best || c_(at, j) < c_(at, *best))) best = j;
      if (best) at = *best;
    }
  }

  void wait(std::size_t node) {
    if (!waiting_[node]) queue_.push_back(node);
    waiting_[node] = true;
  }

  void settle() {
    while (!queue_.empty()) {
      const std::size_t node = queue_.back();
      queue_.pop_back();
      waiting_[node] = false;
      while (betterAt(node)) {
      }
    }
  }

  bool betterAt(std::size_t a) { return turnStretch(a) || moveStretch(a); }

  // The stretch between two places of the round trip, both included, the other way round; the
  // shorter side is turned, which is the same.
  void reverse(std::size_t from, std::size_t to) {
    std::size_t inside = (to + n_ - from) % n_ + 1;
    if (2 * inside > n_) {
      std::swap(from, to);
      from = (from + 1) % n_, to = (to + n_ - 1) % n_;
      inside = n_ - inside;
    }
    for (std::size_t k = 0; k < inside / 2; ++k) {
      std::swap(at_[from], at_[to]);
      place_[at_[from]] = from, place_[at_[to]] = to;
      from = (from + 1) % n_, to = (to + n_ - 1) % n_;
    }
  }

  // 2-opt: two edges are replaced by those between their first and between their second ends.
  bool turnStretch(std::size_t a) {
    for (const bool forward : {true, false}) {
      const std::size_t b = forward ? next(a) : before(a);
      for (const std::size_t c : near_[a]) {
        if (c_(a, c) >= c_(a, b)) break;
        const std::size_t d = forward ? next(c) : before(c);
        if (c == b || d == a) continue;
        if (c_(a, c) + c_(b, d) >= c_(a, b) + c_(c, d) - kBetter) continue;
        if (forward)
          reverse(place_[b], place_[c]);
        else
          reverse(place_[a], place_[d]);
        for (const std::size_t node : {a, b, c, d})
          wait(node);
        return true;
      }
    }
    return false;
  }

  // Or-opt: a short stretch that begins or ends here goes between two neighbours elsewhere.
  bool moveStretch(std::size_t a) {
    for (std::size_t length = 1; length <= std::min(kLongest, n_ - 3); ++length)
      for (const bool forward : {true, false}) {
        // The stretch runs from a away from the side that is joined to a near node.
        const std::size_t from = forward ? place_[a] : (place_[a] + n_ - length + 1) % n_;
        const std::size_t to = (from + length - 1) % n_;
        const std::size_t first = at_[from], last = at_[to];
        const std::size_t p = before(first), q = next(last);
        const std::size_t far = forward ? last : first;
        const double freed = c_(p, first) + c_(last, q) - c_(p, q);
        if (freed <= kBetter) continue;
        for (const std::size_t c : near_[a]) {
          if (c_(a, c) >= freed) break;
          if ((place_[c] + n_ - from) % n_ < length) continue; // in the stretch
          for (const std::size_t d : {next(c), before(c)}) {
            if ((place_[d] + n_ - from) % n_ < length) continue;
            if (c_(a, c) + c_(far, d) - c_(c, d) >= freed - kBetter) continue;
            relocate(from, length, a, c, d);
            for (const std::size_t node : {a, far, c, d, p, q})
              wait(node);
            return true;
          }
        }
      }
    return false;
  }

  // The stretch between c and d, with a beside c.
  void relocate(std::size_t from, std::size_t length, std::size_t a, std::size_t c, std::size_t d) {
    std::vector<std::size_t> stretch, order;
    for (std::size_t k = 0; k < length; ++k)
      stretch.push_back(at_[(from + k) % n_]);
    const std::size_t left = next(c) == d ? c : d;
    if ((left == c) != (stretch.front() == a)) std::reverse(stretch.begin(), stretch.end());
    order.reserve(n_);
    for (std::size_t k = length; k < n_; ++k) {
      const std::size_t node = at_[(from + k) % n_];
      order.push_back(node);
      if (node == left) order.insert(order.end(), stretch.begin(), stretch.end());
    }
    take(order);
  }

  // Two neighbouring stretches change places.
  void shake(Random& random) {
    const std::size_t most = std::min<std::size_t>(50, (n_ - 2) / 2);
    const auto draw = [&](std::size_t below) {
      return std::min(below - 1,
                      static_cast<std::size_t>(random.uniform() * static_cast<double>(below)));
    };
    const std::size_t one = 1 + draw(most), two = 1 + draw(most);
    const std::size_t from = draw(n_ - one - two);
    auto begin = at_.begin() + static_cast<std::ptrdiff_t>(from);
    std::rotate(begin, begin + static_cast<std::ptrdiff_t>(one),
                begin + static_cast<std::ptrdiff_t>(one + two));
    for (std::size_t i = from; i < from + one + two; ++i)
      place_[at_[i]] = i;
    for (const std::size_t i : {from, from + two, from + one + two})
      wait(at_[i % n_]), wait(at_[(i + n_ - 1) % n_]);
  }

  const Costs& c_;
  std::size_t n_;
  std::vector<std::size_t> at_, place_;
  std::vector<std::vector<std::size_t>> near_;
  std::vector<bool> waiting_;
  std::vector<std::size_t> queue_;
};

// Least 1-tree under node weights: a spanning tree of all nodes but the last, which hangs on by its
// two cheapest edges (Prim 1957). Returns its length; `degree` of each node.
double oneTree(const Costs& c, const std::vector<double>& weight, std::vector<int>& degree) {
  const std::size_t n = c.n, last = n - 1;
  const auto cost = [&](std::size_t i, std::size_t j) { return c(i, j) + weight[i] + weight[j]; };
  degree.assign(n, 0);
  std::vector<double> reach(last, std::numeric_limits<double>::infinity());
  std::vector<std::size_t> parent(last, 0);
  std::vector<bool> in(last, false);
  double sum = 0;
  std::size_t at = 0;
  in[0] = true;
  for (std::size_t k = 1; k < last; ++k) {
    std::optional<std::size_t> best;
    for (std::size_t j = 0; j < last; ++j) {
      if (in[j]) continue;
      if (const double d = cost(at, j); d < reach[j]) reach[j] = d, parent[j] = at;
      if (!best || reach[j] < reach[*best]) best = j;
    }
    at = *best;
    in[at] = true;
    sum += reach[at];
    ++degree[at], ++degree[parent[at]];
  }
  std::optional<std::size_t> first, second;
  for (std::size_t j = 0; j < last; ++j)
    if (!first || cost(last, j) < cost(last, *first))
      second = first, first = j;
    else if (!second || cost(last, j) < cost(last, *second))
      second = j;
  for (const std::size_t j : {*first, *second})
    sum += cost(last, j), ++degree[j], ++degree[last];
  return sum;
}

double heldKarp(const Costs& c, double known) {
  std::vector<double> weight(c.n, 0);
  std::vector<int> degree, previous(c.n, 2);
  double best = -std::numeric_limits<double>::infinity(), share = 2;
  int stuck = 0;
  for (int step = 0; step < 1500 && share > 1e-5; ++step) {
    double bound = oneTree(c, weight, degree);
    for (const double w : weight)
      bound -= 2 * w;
    if (bound > best + 1e-9)
      best = bound, stuck = 0;
    else if (++stuck == 15)
      share /= 1.5, stuck = 0;
    double off = 0;
    for (const int d : degree)
      off += (d - 2) * (d - 2);
    if (off == 0) break; // the tree is a round trip: the bound is exact
    const double length = share * std::max(known - bound, 1e-9) / off;
    for (std::size_t i = 0; i < c.n; ++i)
      weight[i] += length * (0.7 * (degree[i] - 2) + 0.3 * (previous[i] - 2));
    previous = degree;
  }
  return best;
}

// The best order of few visits: for each set of them and each last one the least cost (Held and Karp
// 1962). Costs may depend on the direction.
Sequence bestSequence(std::size_t count, const std::function<double(std::size_t)>& from_start,
                      const std::function<double(std::size_t, std::size_t)>& cost) {
  const std::size_t sets = std::size_t{1} << count;
  constexpr double kNone = std::numeric_limits<double>::infinity();
  std::vector<double> between(count * count), least(sets * count, kNone);
  std::vector<std::size_t> before(sets * count, count);
  for (std::size_t i = 0; i < count; ++i) {
    least[(std::size_t{1} << i) * count + i] = from_start(i);
    for (std::size_t j = 0; j < count; ++j)
      if (i != j) between[i * count + j] = cost(i, j);
  }
  for (std::size_t set = 1; set < sets; ++set)
    for (std::size_t last = 0; last < count; ++last) {
      const double now = least[set * count + last];
      if (now == kNone) continue;
      for (std::size_t next = 0; next < count; ++next) {
        const std::size_t bit = std::size_t{1} << next;
        if (set & bit) continue;
        const double sum = now + between[last * count + next];
        if (sum < least[(set | bit) * count + next] - kBetter)
          least[(set | bit) * count + next] = sum, before[(set | bit) * count + next] = last;
      }
    }
  Sequence s;
  std::size_t set = sets - 1, last = 0;
  for (std::size_t k = 1; k < count; ++k)
    if (least[set * count + k] < least[set * count + last] - kBetter) last = k;
  s.cost = s.bound = least[set * count + last];
  while (last < count) {
    s.order.push_back(last);
    const std::size_t previous = before[set * count + last];
    set &= ~(std::size_t{1} << last);
    last = previous;
  }
  std::reverse(s.order.begin(), s.order.end());
  return s;
}

} // namespace

Sequence shortSequence(std::size_t count, const std::function<double(std::size_t)>& from_start,
                       const std::function<double(std::size_t, std::size_t)>& cost,
                       bool with_bound) {
  Sequence s;
  if (count == 0) return s;
  if (count <= kExact) return bestSequence(count, from_start, cost);
  const Costs costs(count, from_start, cost);
  RoundTrip trip(costs);
  trip.improve();
  // From the start away from the closing node.
  std::vector<std::size_t> around = trip.order();
  const std::size_t start = count, closing = count + 1;
  std::rotate(around.begin(), std::find(around.begin(), around.end(), closing), around.end());
  if (around.back() == start) std::reverse(around.begin() + 1, around.end());
  s.order.assign(around.begin() + 2, around.end());
  s.cost = from_start(s.order.front());
  for (std::size_t i = 1; i < count; ++i)
    s.cost += cost(s.order[i - 1], s.order[i]);
  if (with_bound) s.bound = heldKarp(costs, trip.length()) + costs.tie();
  return s;
}

} // namespace alder
