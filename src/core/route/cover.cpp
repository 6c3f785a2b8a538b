#include "route/cover.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace alder {
namespace {

constexpr int kRounds = 300;

class CoverSearch {
 public:
  CoverSearch(std::size_t items, const std::vector<CoverSet>& sets)
      : sets_(sets)
      , holders_(items) {
    for (std::size_t s = 0; s < sets.size(); ++s)
      for (std::size_t i : sets[s].items)
        holders_[i].push_back(s);
    best_.cost = std::numeric_limits<double>::infinity();
  }

  Cover run() {
    std::vector<double> price = startPrices();
    double step = 1;
    int idle = 0;
    for (int round = 0; round < kRounds; ++round) {
      const auto reduced = reducedCosts(price);
      if (const double bound = boundOf(price, reduced); bound > best_.bound + 1e-9)
        best_.bound = bound, idle = 0;
      else if (++idle % 15 == 0)
        step /= 2;
      keep(build(reduced));
      if (best_.cost - best_.bound < 1e-9 || step < 1e-4) break;
      move(price, reduced, step);
    }
    return best_;
  }

 private:
  // What an item costs where it is cheapest: each set's cost shared by what it holds.
  std::vector<double> startPrices() const {
    std::vector<double> price(holders_.size(), 0);
    for (std::size_t i = 0; i < holders_.size(); ++i) {
      if (holders_[i].empty()) continue;
      price[i] = std::numeric_limits<double>::infinity();
      for (std::size_t s : holders_[i])
        price[i] = std::min(price[i], sets_[s].cost / static_cast<double>(sets_[s].items.size()));
    }
    return price;
  }

  std::vector<double> reducedCosts(const std::vector<double>& price) const {
    std::vector<double> reduced;
    for (const CoverSet& s : sets_) {
      double r = s.cost;
      for (std::size_t i : s.items)
        r -= price[i];
      reduced.push_back(r);
    }
    return reduced;
  }

  static double boundOf(const std::vector<double>& price, const std::vector<double>& reduced) {
    double bound = 0;
    for (double p : price)
      bound += p;
    for (double r : reduced)
      bound += std::min(0.0, r);
    return bound;
  }

  // Sets whose reduced cost is not above 0, then by least reduced cost an item newly held.
  std::vector<bool> build(const std::vector<double>& reduced) const {
    std::vector<bool> chosen(sets_.size(), false);
    std::vector<int> held(holders_.size(), 0);
    const auto take = [&](std::size_t s) {
      chosen[s] = true;
      for (std::size_t i : sets_[s].items)
        ++held[i];
    };
    for (std::size_t s = 0; s < sets_.size(); ++s)
      if (reduced[s] < -1e-12) take(s);
    for (;;) {
      std::size_t best = sets_.size();
      double least = std::numeric_limits<double>::infinity();
      for (std::size_t s = 0; s < sets_.size(); ++s) {
        if (chosen[s]) continue;
        const auto fresh = std::count_if(sets_[s].items.begin(), sets_[s].items.end(),
                                         [&](std::size_t i) { return held[i] == 0; });
        if (fresh == 0) continue;
        const double each =
            (std::max(0.0, reduced[s]) + 1e-6 * sets_[s].cost) / static_cast<double>(fresh);
        if (each < least - 1e-15) least = each, best = s;
      }
      if (best == sets_.size()) break;
      take(best);
    }
    drop(chosen, held);
    return chosen;
  }

  // The dearest first, where all that they hold is held otherwise too.
  void drop(std::vector<bool>& chosen, std::vector<int>& held) const {
    std::vector<std::size_t> order;
    for (std::size_t s = 0; s < sets_.size(); ++s)
      if (chosen[s]) order.push_back(s);
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
      return sets_[a].cost > sets_[b].cost ||
             (sets_[a].cost == sets_[b].cost && sets_[a].items.size() < sets_[b].items.size());
    });
    for (std::size_t s : order) {
      const auto& items = sets_[s].items;
      if (!std::all_of(items.begin(), items.end(), [&](std::size_t i) { return held[i] > 1; }))
        continue;
      chosen[s] = false;
      for (std::size_t i : items)
        --held[i];
    }
  }

  void keep(const std::vector<bool>& chosen) {
    Cover found;
    for (std::size_t s = 0; s < sets_.size(); ++s)
      if (chosen[s]) found.sets.push_back(s), found.cost += sets_[s].cost;
    if (found.cost >= best_.cost - 1e-12) return;
    found.bound = best_.bound;
    best_ = std::move(found);
  }

  void move(std::vector<double>& price, const std::vector<double>& reduced, double step) const {
    std::vector<double> slope(price.size(), 1);
    double norm = 0;
    for (std::size_t s = 0; s < sets_.size(); ++s)
      if (reduced[s] < 0)
        for (std::size_t i : sets_[s].items)
          slope[i] -= 1;
    for (std::size_t i = 0; i < slope.size(); ++i) {
      if (holders_[i].empty()) slope[i] = 0;
      norm += slope[i] * slope[i];
    }
    if (norm < 1e-12) return;
    const double by = step * (1.01 * best_.cost - best_.bound) / norm;
    for (std::size_t i = 0; i < price.size(); ++i)
      price[i] = std::max(0.0, price[i] + by * slope[i]);
  }

  const std::vector<CoverSet>& sets_;
  std::vector<std::vector<std::size_t>> holders_;
  Cover best_;
};

} // namespace

Cover cheapestCover(std::size_t items, const std::vector<CoverSet>& sets) {
  if (sets.empty()) return {};
  return CoverSearch(items, sets).run();
}

} // namespace alder
