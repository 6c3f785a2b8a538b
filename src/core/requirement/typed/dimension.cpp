#include "base/units.h"
#include "requirement/fits.h"
#include "requirement/limits.h"
#include "requirement/typed/parts.h"
#include <algorithm>
#include <array>
#include <cmath>

namespace alder::typed {
namespace {

using Figure = Scanner::Figure;

constexpr double kFitAgrees = 0.0006; // between a fit and deviations written behind it, mm

constexpr std::array kSizeSymbols{
    AssociateBy::LeastSquares,         AssociateBy::MinimumZone,   AssociateBy::MaximumInscribed,
    AssociateBy::MinimumCircumscribed, AssociateBy::TwoPointMin,   AssociateBy::TwoPointMax,
    AssociateBy::TwoPointMean,         AssociateBy::TwoPointRange, AssociateBy::TwoPointMedian,
    AssociateBy::TwoPointMidRange,     AssociateBy::Circumference, AssociateBy::Area};

class DimensionReader {
 public:
  DimensionReader(Scanner& in, const TypingSettings& settings)
      : in_(in)
      , settings_(settings)
      , unit_(settings.unit) {}

  Typing read() {
    if (auto chamfer = countOrChamfer(); chamfer || fault_) return result(std::move(chamfer));
    const bool basic = in_.take(U'['), reference = !basic && takeReference();
    for (const Extreme e : {Extreme::Smallest, Extreme::Largest})
      if (in_.takeWord(name(e))) r_.extreme = e;
    const std::size_t begin = in_.at();
    const bool single = takeSingle(); // "MAX R0.5"
    if (thread() || texture()) return result({});
    prefix();
    nominal();
    if (fault_) return result({});
    if (basic || reference) {
      typed_.what = basic ? TypedWhat::Basic : TypedWhat::Reference;
      if (!in_.take(basic ? U']' : U')'))
        return fail(in_.at(), basic ? "the closing ] is missing" : "the closing ) is missing");
      if (typed_.nominal_open) return fail(in_.at(), "a figure is missing");
      if (in_.atEnd()) return result({});
      return fail(in_.at(), fmt::format("\"{}\" after a {} dimension is not understood", in_.word(),
                                        basic ? "theoretically exact" : "reference"));
    }
    if (single && !fault_)
      alongWords(), singleLimit(begin, 0);
    else
      limits();
    while (!fault_ && !in_.atEnd() && modifier()) {
    }
    if (!fault_ && !in_.atEnd())
      return fail(in_.at(), fmt::format("\"{}\" is not understood", in_.word()));
    return result({});
  }

 private:
  Typing fail(std::size_t from, std::string says) {
    if (!fault_) fault_ = in_.fault(from, std::move(says));
    return tl::unexpected(*fault_);
  }
  void stop(std::size_t from, std::string says) { (void)fail(from, std::move(says)); }

  Typing result(std::optional<std::vector<Typed>> all) {
    if (fault_) return tl::unexpected(*fault_);
    if (all) return std::move(*all);
    finish();
    if (fault_) return tl::unexpected(*fault_);
    return std::vector{typed_};
  }

  void finish() {
    r_.decimals = std::max(3, decimals_);
    typed_.decimals = decimals_nominal_;
    if (typed_.what == TypedWhat::Thread || typed_.what == TypedWhat::Texture) return;
    if (r_.kind == Characteristic::Size && typed_.zone_open) {
      typed_.kind_open = true;
      if (r_.extreme != Extreme::Between || r_.along != Along::Direct)
        r_.kind = Characteristic::Distance, typed_.kind_open = false;
    }
    if (typed_.what != TypedWhat::Requirement) {
      r_.lower = r_.upper = r_.nominal;
      typed_.requirement = r_;
      return;
    }
    if (!has_limits_) {
      typed_.limits_open = true;
      if (typed_.nominal_open) stop(0, "a figure or a fit is missing");
      r_.lower = r_.upper = r_.nominal;
    } else if (r_.upper < r_.lower) {
      stop(0, "the upper limit is below the lower one");
    }
    r_.tolerance = r_.upper - r_.lower;
    typed_.requirement = r_;
  }

  // "6x" before what follows, or "2x45°" whole.
  std::optional<std::vector<Typed>> countOrChamfer() {
    const std::size_t from = in_.at();
    const auto first = in_.figure(false);
    if (!first || first->is_signed || !(in_.take(U'x') || in_.take(U'X'))) {
      in_.back(from);
      return {};
    }
    const std::size_t behind = in_.at();
    if (const auto angle = in_.figure(false); angle && in_.takeDegree()) {
      const double length = first->value * toMm(unit_);
      if (!in_.atEnd()) {
        // "6x 45° ±1°": as many angles
        in_.back(behind);
        if (first->decimals == 0) return count(from, first->value);
        stop(in_.at(), "behind a chamfer nothing is understood");
        return {};
      }
      if (!(angle->value > 0 && angle->value < 90)) {
        stop(behind, "a chamfer has an angle between 0° and 90°");
        return {};
      }
      Typed leg, lean;
      leg.requirement.kind = Characteristic::Distance;
      leg.requirement.nominal = leg.requirement.lower = leg.requirement.upper = length;
      leg.limits_open = true, leg.decimals = first->decimals;
      lean.requirement.kind = Characteristic::Angle;
      lean.requirement.nominal = lean.requirement.lower = lean.requirement.upper =
          radians(angle->value);
      lean.limits_open = true, lean.decimals = angle->decimals;
      return std::vector{leg, lean};
    }
    in_.back(behind);
    if (first->decimals > 0) {
      in_.back(from);
      return {};
    }
    return count(from, first->value);
  }

  std::optional<std::vector<Typed>> count(std::size_t from, double value) {
    if (value < 1 || value > 999)
      stop(from, "a pattern has 1 to 999 features");
    else
      typed_.count = static_cast<int>(value);
    return {};
  }

  // "(48)", not "(M)".
  bool takeReference() {
    const std::size_t from = in_.at();
    if (!in_.take(U'(')) return false;
    in_.blanks();
    const char32_t c = in_.next();
    if ((c >= U'0' && c <= U'9') || c == U'.' || c == kDiameter || c == U'R' || c == U'S')
      return true;
    in_.back(from);
    return false;
  }

  bool thread() {
    const std::size_t from = in_.at();
    in_.blanks();
    const std::size_t begin = in_.at();
    bool found = in_.next() == U'M' && in_.following(1) >= U'0' && in_.following(1) <= U'9';
    if (!found)
      if (const auto size = in_.figure(true)) {
        found = in_.next() == U'-' && in_.following(1) >= U'0' && in_.following(1) <= U'9';
        std::size_t ahead = 1;
        while (found && in_.following(ahead) >= U'0' && in_.following(ahead) <= U'9')
          ++ahead;
        if (in_.following(ahead) == U' ') ++ahead;
        found = found && in_.following(ahead) == U'U' && in_.following(ahead + 1) == U'N';
      }
    if (found) {
      typed_.what = TypedWhat::Thread;
      typed_.words = in_.text(begin, begin + kRest);
      in_.back(begin + kRest);
      return true;
    }
    in_.back(from);
    return false;
  }

  bool texture() {
    in_.blanks();
    const std::size_t begin = in_.at();
    const bool found =
        in_.next() == U'R' && (in_.following(1) == U'a' || in_.following(1) == U'z' ||
                               in_.following(1) == U't' || in_.following(1) == U'p');
    if (!found) return false;
    typed_.what = TypedWhat::Texture;
    typed_.words = in_.text(begin, begin + kRest);
    in_.back(begin + kRest);
    return true;
  }

  void prefix() {
    in_.blanks();
    typed_.zone_open = false;
    if (in_.takeSpherical()) {
      r_.zone = Zone::Spherical;
    } else if (in_.next() == U'S' && in_.following(1) == U'R') {
      in_.back(in_.at() + 2);
      r_.zone = Zone::Spherical, r_.radius = true;
    } else if (in_.takeDiameter()) {
      r_.zone = Zone::Diametral;
    } else if (in_.take(U'R')) {
      r_.zone = Zone::Diametral, r_.radius = true;
    } else if (!in_.take(U'□')) {
      typed_.zone_open = true;
    }
  }

  bool fractions() const { return settings_.unit == LengthUnit::Inch; }

  // A unit behind a figure counts for the whole text.
  void unit() {
    if (in_.takeWord("mm"))
      unit_ = LengthUnit::Millimetre;
    else if (in_.takeWord("in") || (r_.kind != Characteristic::Angle && in_.take(U'"')))
      unit_ = LengthUnit::Inch;
  }

  // Minutes and seconds behind degrees.
  double minutes() {
    double more = 0;
    const std::size_t from = in_.at();
    if (const auto m = in_.figure(false); m && !m->is_signed && in_.take(U'\'')) {
      more = m->value / 60;
      const std::size_t behind = in_.at();
      if (const auto s = in_.figure(false); s && !s->is_signed && in_.take(U'"'))
        more += s->value / 3600;
      else
        in_.back(behind);
    } else {
      in_.back(from);
    }
    return more;
  }

  void nominal() {
    const std::size_t from = in_.at();
    in_.blanks();
    const auto f =
        in_.next() == U'+' || in_.next() == U'-' ? std::nullopt : in_.figure(fractions());
    if (!f) {
      in_.back(from);
      typed_.nominal_open = true;
      return;
    }
    decimals_ = decimals_nominal_ = f->decimals;
    raw_ = f->value;
    if (in_.takeDegree()) {
      r_.kind = Characteristic::Angle;
      raw_ += minutes();
      if (!typed_.zone_open) stop(from, "a diameter or radius is no angle");
    }
    unit();
    r_.nominal = scaled(raw_);
    if (r_.kind != Characteristic::Angle && !(r_.nominal > 0) && !typed_.zone_open)
      stop(from, "a size is above zero");
  }

  double scaled(double value) const {
    return r_.kind == Characteristic::Angle ? radians(value) : value * toMm(unit_);
  }

  void deviations(double upper, double lower) {
    has_limits_ = true;
    r_.upper = r_.nominal + upper, r_.lower = r_.nominal + lower;
  }

  // A figure of the tolerance, with its own minutes or degrees.
  std::optional<Figure> part() {
    auto f = in_.figure(fractions());
    if (!f) return {};
    decimals_ = std::max(decimals_, f->decimals);
    if (in_.takeDegree()) {
      if (r_.kind != Characteristic::Angle) {
        if (!typed_.nominal_open) stop(in_.at() - 1, "a length has no tolerance in degrees");
        r_.kind = Characteristic::Angle;
      }
      f->value += (f->value < 0 ? -1 : 1) * minutes();
    } else if (r_.kind == Characteristic::Angle && in_.take(U'\'')) {
      f->value /= 60;
    } else {
      unit();
    }
    f->value = scaled(f->value);
    return f;
  }

  void limits() {
    if (in_.atEnd() || fault_) return;
    if (fit()) return;
    alongWords();
    const std::size_t from = in_.at();
    if (takeSingle()) return singleLimit(from, 0);
    if (in_.take(kPlusMinus) || takePlusMinus()) {
      const auto f = part();
      if (!f || f->is_signed || f->value < 0) return stop(from, "a figure is missing after ±");
      return deviations(f->value, -f->value);
    }
    pair(from);
  }

  // "MAX", "min.": which of them is kept.
  bool takeSingle() {
    const bool max = in_.takeWord("max");
    if (!max && !in_.takeWord("min")) return false;
    (void)in_.take(U'.');
    maximum_ = max;
    return true;
  }

  void singleLimit(std::size_t from, double deviation) {
    if (typed_.nominal_open) return stop(from, "a figure is missing");
    has_limits_ = true;
    r_.lower = maximum_ ? kNoLower : r_.nominal + deviation;
    r_.upper = maximum_ ? r_.nominal + deviation : kNoUpper;
  }

  bool takePlusMinus() { // "+/-", "+-"
    const std::size_t from = in_.at();
    if (in_.take(U'+')) {
      (void)in_.take(U'/');
      if (in_.take(U'-')) return true;
    }
    in_.back(from);
    return false;
  }

  bool range() { // "31.9 … 32.1", "31.9 to 32.1", "32.1/31.9"
    const std::size_t from = in_.at();
    bool joined = in_.take(U'…') || in_.takeWord("to");
    if (!joined && in_.take(U'.')) joined = in_.take(U'.') && (in_.take(U'.') || true);
    if (!joined) joined = in_.take(U'/') || in_.take(U'-');
    if (joined)
      if (const auto other = part(); other && !other->is_signed) {
        has_limits_ = true;
        r_.lower = std::min(r_.nominal, other->value),
        r_.upper = std::max(r_.nominal, other->value);
        r_.nominal = (r_.lower + r_.upper) / 2;
        return true;
      }
    in_.back(from);
    return false;
  }

  void pair(std::size_t from) {
    in_.blanks();
    const bool signs = in_.next() == U'+' || in_.next() == U'-';
    if (!signs && !typed_.nominal_open && range()) return;
    const auto first = part();
    if (!first) return in_.back(from);
    if (first->is_signed && first->value < -r_.nominal / 2 && r_.nominal > 0) {
      in_.back(from);
      if (range()) return;
    }
    if (first->is_signed && takeSingle()) return singleLimit(from, first->value); // "10 +0.2 MAX"
    if (!first->is_signed && first->value != 0)
      return stop(from, "a sign is missing: write ±, or + and - before the deviations");
    (void)in_.take(U'/');
    const std::size_t second_from = in_.at();
    const auto second = part();
    if (!second) return stop(from, "the other deviation is missing; write +0.2/0");
    if (!second->is_signed && second->value != 0)
      return stop(second_from, "a sign is missing before the second deviation");
    deviations(std::max(first->value, second->value), std::min(first->value, second->value));
  }

  bool fit() {
    const std::size_t from = in_.at();
    in_.blanks();
    const std::size_t begin = in_.at();
    std::size_t letters = 0, digits = 0;
    const auto is = [&](char32_t low, char32_t high, std::size_t by) {
      return in_.following(by) >= low && in_.following(by) <= high;
    };
    while (letters < 3 && (is(U'A', U'Z', letters) || is(U'a', U'z', letters)))
      ++letters;
    while (digits < 3 && is(U'0', U'9', letters + digits))
      ++digits;
    if (letters == 0 || letters > 2 || digits == 0 || digits > 2 ||
        r_.kind == Characteristic::Angle) {
      in_.back(from);
      return false;
    }
    in_.back(begin + letters + digits);
    r_.fit = in_.text(begin, in_.at());
    has_limits_ = true;
    if (typed_.nominal_open) return true; // its deviations need the size
    const auto limits = limitDeviations(r_.fit, r_.radius ? 2 * r_.nominal : r_.nominal);
    if (!limits) {
      std::string says = limits.error().message;
      if (!says.empty() && says.back() == '.') says.pop_back();
      stop(begin, std::move(says));
      return true;
    }
    deviations(limits->upper, limits->lower);
    written(begin);
    return true;
  }

  // Deviations written behind a fit must be its own.
  void written(std::size_t from) {
    alongWords();
    const std::size_t behind = in_.at();
    const bool bracket = in_.take(U'(');
    std::optional<double> low, high;
    if (in_.take(kPlusMinus)) {
      if (const auto f = part()) high = f->value, low = -f->value;
    } else {
      const auto first = part();
      (void)in_.take(U'/');
      const auto second = first ? part() : std::nullopt;
      if (second)
        low = std::min(first->value, second->value), high = std::max(first->value, second->value);
    }
    if (!low) return in_.back(behind);
    if (bracket && !in_.take(U')')) return stop(in_.at(), "the closing ) is missing");
    const double own_low = r_.lower - r_.nominal, own_high = r_.upper - r_.nominal;
    if (std::abs(*low - own_low) > kFitAgrees || std::abs(*high - own_high) > kFitAgrees)
      return stop(from, fmt::format("{} of {} is {}/{}, not {}/{}", r_.fit, shortFigure(r_.nominal),
                                    shortFigure(own_high), shortFigure(own_low), shortFigure(*high),
                                    shortFigure(*low)));
  }

  void alongWords() {
    for (const Along a : {Along::X, Along::Y, Along::Z, Along::Radial})
      if (in_.takeWords(words(a))) r_.along = a;
  }

  bool modifier() {
    const std::size_t from = in_.at();
    if (in_.takeCircled('E', true)) {
      r_.envelope = true;
      return true;
    }
    for (const AssociateBy by : kSizeSymbols) {
      const auto symbol = sizeSymbol(by);
      if (in_.takeWord(symbol) || takeBracketed(symbol)) {
        r_.association = by;
        return true;
      }
    }
    if (const auto places = in_.figure(false)) {
      if (places->decimals == 0 && !places->is_signed &&
          (in_.takeWord("places") || in_.takeWord("place") || in_.takeWord("pl") ||
           in_.take(U'x') || in_.take(U'X'))) {
        (void)count(from, places->value);
        return true;
      }
      in_.back(from);
    }
    if (has_limits_ && in_.takeWord("by")) { // as describe() writes it
      in_.blanks();
      r_.general = in_.text(in_.at(), in_.at() + kRest);
      if (r_.general.empty()) stop(from, "after by the name of the general tolerances is missing");
      in_.back(in_.at() + kRest);
      return true;
    }
    if (in_.takeWord("typ")) {
      stop(from, "TYP does not say how many; write the number before, as 4x");
      return true;
    }
    return false;
  }
  bool takeBracketed(std::string_view word) {
    const std::size_t from = in_.at();
    if (in_.take(U'(') && in_.takeWord(word) && in_.take(U')')) return true;
    in_.back(from);
    return false;
  }

  Scanner& in_;
  const TypingSettings& settings_;
  LengthUnit unit_;
  Typed typed_;
  Requirement r_;
  std::optional<TextFault> fault_;
  double raw_ = 0;
  int decimals_ = 0, decimals_nominal_ = 0;
  bool has_limits_ = false, maximum_ = false;
};

} // namespace

Typing dimension(Scanner& in, const TypingSettings& settings) {
  return DimensionReader(in, settings).read();
}

} // namespace alder::typed
