#include "exchange/results/column_roles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace alder {
namespace {

constexpr int kNone = -1;
constexpr std::size_t kMostRows = 40, kMostColumns = 10;

struct Share {
  int asked = 0, good = 0;
  void count(bool is_good) { ++asked, good += is_good; }
  double value() const { return asked > 0 ? static_cast<double>(good) / asked : 0; }
};

enum class Limits { None, Absolute, FromNominal, Width };

class Roles {
 public:
  explicit Roles(const std::vector<FigureColumn>& columns)
      : columns_(columns)
      , count_(static_cast<int>(std::min(columns.size(), kMostColumns))) {
    const std::size_t rows = columns.empty() ? 0 : columns.front().rows.size();
    const std::size_t step = std::max<std::size_t>(1, rows / kMostRows);
    for (std::size_t i = 0; i < rows; i += step)
      sampled_.push_back(i);
  }

  ColumnRoles find() {
    best_.roles.assign(columns_.size(), ResultRole::None);
    best_.score = -std::numeric_limits<double>::infinity();
    for (int actual = kNone; actual < count_; ++actual)
      for (int nominal = kNone; nominal < count_; ++nominal)
        for (int deviation = kNone; deviation < count_; ++deviation) {
          if (actual == kNone && (nominal == kNone || deviation == kNone)) continue;
          if (clash(actual, nominal) || clash(actual, deviation) || clash(nominal, deviation))
            continue;
          if (!allowed(actual, ResultRole::Actual) || !allowed(nominal, ResultRole::Nominal) ||
              !allowed(deviation, ResultRole::Deviation))
            continue;
          tryLimits(actual, nominal, deviation);
        }
    return best_;
  }

 private:
  static bool clash(int a, int b) { return a != kNone && a == b; }
  std::optional<double> at(int column, std::size_t row) const {
    if (column == kNone) return {};
    const auto& f = columns_[static_cast<std::size_t>(column)].rows[row];
    return f ? std::optional(f->value) : std::nullopt;
  }
  double digit(int column, std::size_t row) const {
    const auto& f = columns_[static_cast<std::size_t>(column)].rows[row];
    return f ? std::pow(10.0, -f->decimals) : 0;
  }
  // What a person said of a column stands.
  bool allowed(int column, ResultRole role) const {
    if (column != kNone) {
      const auto& set = columns_[static_cast<std::size_t>(column)].set;
      if (set && *set != role) return false;
    }
    for (int c = 0; c < count_; ++c)
      if (c != column && columns_[static_cast<std::size_t>(c)].set == role) return false;
    return true;
  }
  double titled(int column, ResultRole role) const {
    if (column == kNone) return 0;
    const auto& t = columns_[static_cast<std::size_t>(column)].titled;
    if (const auto found = t.find(role); found != t.end()) return 5 * found->second;
    return t.empty() ? 0 : -4; // it says something else
  }
  double filled(int column) const {
    if (column == kNone) return 0;
    Share share;
    for (const std::size_t row : sampled_)
      share.count(at(column, row).has_value());
    return share.value();
  }

  // Nominals are rounder than what was measured.
  double rounder(int nominal, int actual) const {
    if (nominal == kNone || actual == kNone) return 0;
    Share share;
    for (const std::size_t row : sampled_) {
      const auto& n = columns_[static_cast<std::size_t>(nominal)].rows[row];
      const auto& a = columns_[static_cast<std::size_t>(actual)].rows[row];
      if (n && a && n->significant() != a->significant())
        share.count(n->significant() < a->significant());
    }
    return share.asked > 0 ? 2 * share.value() - 1 : 0;
  }

  Share sums(int actual, int nominal, int deviation) const {
    Share share;
    for (const std::size_t row : sampled_) {
      const auto a = at(actual, row), d = at(deviation, row);
      if (!a || !d) continue;
      const double n = at(nominal, row).value_or(0);
      const double room = 1.01 * std::max(digit(actual, row), digit(deviation, row)) + 1e-9;
      share.count(std::abs(*a - n - *d) <= room);
    }
    return share;
  }

  double placesScore(int actual, int nominal, int deviation) const {
    double score = titled(actual, ResultRole::Actual) + titled(nominal, ResultRole::Nominal) +
                   titled(deviation, ResultRole::Deviation);
    score += 1.5 * rounder(nominal, actual);
    if (actual != kNone) score += 2 * filled(actual);
    if (nominal != kNone) score += 0.6 * filled(nominal);
    if (deviation != kNone && actual != kNone) {
      const Share s = sums(actual, nominal, deviation);
      // The smaller of two that may be exchanged is the deviation.
      Share small;
      if (nominal != kNone)
        for (const std::size_t row : sampled_) {
          const auto n = at(nominal, row), d = at(deviation, row);
          if (n && d && *n != 0) small.count(std::abs(*d) < std::abs(*n) / 2);
        }
      score += s.asked == 0 ? -1 : 6 * s.value() - 3 + (small.asked ? 2 * small.value() - 1 : 0);
      if (nominal == kNone) score -= 0.5;
    }
    return score;
  }

  void tryLimits(int actual, int nominal, int deviation) {
    const double places = placesScore(actual, nominal, deviation);
    const auto used = [&](int c) {
      return c != kNone && (c == actual || c == nominal || c == deviation);
    };
    for (int upper = kNone; upper < count_; ++upper) {
      if (used(upper)) continue;
      for (int lower = kNone; lower < count_; ++lower) {
        if (used(lower) || clash(upper, lower)) continue;
        for (const Limits how :
             {Limits::None, Limits::Absolute, Limits::FromNominal, Limits::Width}) {
          if ((how == Limits::None) != (upper == kNone && lower == kNone)) continue;
          if (how == Limits::Width && (upper == kNone || lower != kNone)) continue;
          if (how == Limits::FromNominal && nominal == kNone && lower != kNone) continue;
          const auto [up, low] = rolesOf(how);
          if (!allowed(upper, up) || !allowed(lower, low)) continue;
          if (!othersAllow(how)) continue;
          take({actual, nominal, deviation, upper, lower},
               {ResultRole::Actual, ResultRole::Nominal, ResultRole::Deviation, up, low},
               places + limitsKnown(actual, nominal, upper, lower, how));
        }
      }
    }
  }

  static std::pair<ResultRole, ResultRole> rolesOf(Limits how) {
    if (how == Limits::Absolute) return {ResultRole::Upper, ResultRole::Lower};
    if (how == Limits::FromNominal) return {ResultRole::UpperDeviation, ResultRole::LowerDeviation};
    if (how == Limits::Width) return {ResultRole::Tolerance, ResultRole::None};
    return {ResultRole::None, ResultRole::None};
  }
  // Limits that a person set in another way than this one.
  bool othersAllow(Limits how) const {
    const auto [up, low] = rolesOf(how);
    for (int c = 0; c < count_; ++c) {
      const auto& set = columns_[static_cast<std::size_t>(c)].set;
      if (!set) continue;
      const bool limit = *set == ResultRole::Upper || *set == ResultRole::Lower ||
                         *set == ResultRole::UpperDeviation || *set == ResultRole::LowerDeviation ||
                         *set == ResultRole::Tolerance;
      if (limit && *set != up && *set != low) return false;
    }
    return true;
  }

  // The deviation does not count for them, so that each is asked for many times.
  double limitsKnown(int actual, int nominal, int upper, int lower, Limits how) {
    const auto n = static_cast<std::size_t>(count_ + 1);
    std::size_t key = static_cast<std::size_t>(how);
    for (const int c : {actual, nominal, upper, lower})
      key = key * n + static_cast<std::size_t>(c + 1);
    if (known_.empty()) known_.resize(4 * n * n * n * n);
    if (!known_[key]) known_[key] = limitsScore(actual, nominal, upper, lower, how);
    return *known_[key];
  }
  double limitsScore(int actual, int nominal, int upper, int lower, Limits how) const {
    if (how == Limits::None) return 0;
    const auto [up, low] = rolesOf(how);
    double score = titled(upper, up) + (low == ResultRole::None ? 0 : titled(lower, low));
    Share good, inside;
    for (const std::size_t row : sampled_) {
      const auto a = at(actual, row), u = at(upper, row), l = at(lower, row);
      const auto n = at(nominal, row);
      if (!u && !l) continue;
      const double base = how == Limits::Absolute ? 0 : n.value_or(0);
      if (how == Limits::Width) {
        if (!u) continue;
        good.count(*u > 0 && (!n || *n == 0 || *u < std::max(0.5, std::abs(*n) / 5)));
        if (a) inside.count(std::abs(*a - base) <= 4 * *u);
        continue;
      }
      const double high = base + u.value_or(0);
      // Without a sign for the lower one both are the same figure.
      const bool both = how == Limits::FromNominal && u && l && *u == *l && *u > 0;
      const double least = both ? base - *l : base + l.value_or(0);
      if (u && l)
        good.count(least < high &&
                   (how != Limits::Absolute || !n || *n == 0 ||
                    (least <= *n + 1e-9 && *n <= high + 1e-9) ||
                    std::min(std::abs(least - *n), std::abs(high - *n)) < 0.02 * std::abs(*n)));
      if (how == Limits::FromNominal && n && *n != 0 && u)
        good.count(std::abs(*u) < std::abs(*n) / 2 || std::abs(*u) < 0.5);
      const double width = u && l ? high - least : std::max(std::abs(u.value_or(*l)), 1e-3);
      if (a) {
        const bool below = !u || *a <= high + 2 * width, above = !l || *a >= least - 2 * width;
        inside.count(below && above);
      }
    }
    score += 2.5 * (2 * good.value() - 1) * (good.asked > 0) +
             1.5 * (2 * inside.value() - 1) * (inside.asked > 0);
    // Limits are the same figures again and again, what is measured is not.
    score += 0.7 * (rounder(upper, actual) + (lower != kNone ? rounder(lower, actual) : 0));
    if (upper == kNone) score -= 1.5;
    return score;
  }

  void take(const std::array<int, 5>& places, const std::array<ResultRole, 5>& roles,
            double score) {
    std::vector<ResultRole> all(columns_.size(), ResultRole::None);
    for (std::size_t k = 0; k < places.size(); ++k)
      if (places[k] != kNone) all[static_cast<std::size_t>(places[k])] = roles[k];
    for (std::size_t c = 0; c < all.size(); ++c) {
      if (all[c] != ResultRole::None) continue;
      const FigureColumn& column = columns_[c];
      if (column.set && *column.set != ResultRole::None) {
        // Set to a limit or figure that this reading has no place for.
        if (isReadHere(*column.set)) return;
        all[c] = *column.set;
      } else if (column.titled.contains(ResultRole::Excess)) {
        all[c] = ResultRole::Excess;
      } else if (!column.set) {
        score -= 0.8;
      }
    }
    if (score <= best_.score + 1e-9) return;
    best_.score = score;
    best_.roles = std::move(all);
  }
  static bool isReadHere(ResultRole role) { return isFigure(role) && role != ResultRole::Excess; }

  const std::vector<FigureColumn>& columns_;
  int count_;
  std::vector<std::size_t> sampled_;
  std::vector<std::optional<double>> known_;
  ColumnRoles best_;
};

} // namespace

ColumnRoles columnRoles(const std::vector<FigureColumn>& columns) {
  return Roles(columns).find();
}

} // namespace alder
