#include "base/units.h"
#include "requirement/modifiers.h"
#include "requirement/typed/parts.h"
#include <algorithm>
#include <array>
#include <set>

namespace alder::typed {
namespace {

using K = Characteristic;

struct Sign {
  char32_t sign;
  K kind;
};
constexpr std::array kSigns{
    Sign{U'⏤', K::Straightness},     Sign{U'⏥', K::Flatness},       Sign{U'○', K::Roundness},
    Sign{U'⌭', K::Cylindricity},     Sign{U'⌒', K::LineProfile},    Sign{U'⌓', K::SurfaceProfile},
    Sign{U'∥', K::Parallelism},      Sign{U'⫽', K::Parallelism},    Sign{U'⟂', K::Perpendicularity},
    Sign{U'⊥', K::Perpendicularity}, Sign{U'∠', K::Angularity},     Sign{U'⌖', K::Position},
    Sign{U'⊕', K::Position},         Sign{U'◎', K::Coaxiality},     Sign{U'⌾', K::Coaxiality},
    Sign{U'⌯', K::Symmetry},         Sign{U'↗', K::CircularRunout}, Sign{U'⌰', K::TotalRunout},
    Sign{U'⏊', K::Perpendicularity}};

struct Word {
  std::string_view word;
  K kind;
};
// Longer ones first where one begins another.
constexpr std::array kWords{Word{"circular runout", K::CircularRunout},
                            Word{"total runout", K::TotalRunout},
                            Word{"surface profile", K::SurfaceProfile},
                            Word{"line profile", K::LineProfile},
                            Word{"profile of a surface", K::SurfaceProfile},
                            Word{"profile of a line", K::LineProfile},
                            Word{"profile", K::SurfaceProfile},
                            Word{"runout", K::CircularRunout},
                            Word{"straightness", K::Straightness},
                            Word{"flatness", K::Flatness},
                            Word{"roundness", K::Roundness},
                            Word{"circularity", K::Roundness},
                            Word{"cylindricity", K::Cylindricity},
                            Word{"parallelism", K::Parallelism},
                            Word{"perpendicularity", K::Perpendicularity},
                            Word{"angularity", K::Angularity},
                            Word{"position", K::Position},
                            Word{"coaxiality", K::Coaxiality},
                            Word{"concentricity", K::Coaxiality},
                            Word{"symmetry", K::Symmetry}};
// Words may be cut short to this many letters and more, as long as one kind begins so.
constexpr std::size_t kShortest = 3;

std::optional<K> shortened(Scanner& in) {
  const std::size_t from = in.at();
  in.blanks();
  std::string letters;
  const auto letter = [](char32_t c) {
    return (c >= U'a' && c <= U'z') || (c >= U'A' && c <= U'Z');
  };
  while (letter(in.following(letters.size())))
    letters += static_cast<char>(in.following(letters.size()) | 0x20U);
  std::set<K> kinds;
  if (letters.size() >= kShortest)
    for (const Word& w : kWords)
      if (w.word.find(' ') == std::string_view::npos && w.word.starts_with(letters))
        kinds.insert(w.kind);
  if (kinds.size() != 1) {
    in.back(from);
    return {};
  }
  in.back(in.at() + letters.size());
  return *kinds.begin();
}

class IndicatorReader {
 public:
  IndicatorReader(Scanner& in, Characteristic kind, const TypingSettings& settings)
      : in_(in)
      , settings_(settings)
      , unit_(settings.unit) {
    r_.kind = kind;
  }

  Typing read() {
    value();
    const ReadLength length_here = [this] { return length(); };
    while (!fault_ && !in_.atEnd() &&
           takes([&] { return readSignBehindValue(in_, length_here, r_); })) {
    }
    while (!fault_ && !in_.atEnd() && compartment()) {
    }
    while (!fault_ && !in_.atEnd() && takes([&] { return readPlaneIndicator(in_, r_); })) {
    }
    if (!fault_ && !in_.atEnd()) byGeneral();
    if (!fault_ && !in_.atEnd())
      stop(in_.at(), fmt::format("\"{}\" is not understood", in_.word()));
    if (!fault_ && in_.next() == 0 && bar_ && r_.datums.size() == datums_at_bar_)
      stop(in_.at(), "a datum is missing after the last |");
    if (!typed_.limits_open && r_.tolerance == 0 && r_.material == MaterialModifier::None)
      stop(value_at_, "a tolerance is above zero; zero stands with M or L alone");
    if (fault_) return tl::unexpected(*fault_);
    r_.upper = r_.tolerance;
    r_.decimals = std::max(3, typed_.decimals);
    typed_.requirement = r_;
    return std::vector{typed_};
  }

 private:
  void stop(std::size_t from, std::string says) {
    if (!fault_) fault_ = in_.fault(from, std::move(says));
  }

  // Whether a sign stood there; one that is not finished is a fault.
  template <class Read> bool takes(Read&& read) {
    const std::size_t from = in_.at();
    const SignReading sign = read();
    if (!sign.wrong.empty()) stop(from, sign.wrong);
    return sign.taken;
  }

  std::optional<double> length() {
    const auto f = in_.figure(settings_.unit == LengthUnit::Inch);
    if (!f) return {};
    typed_.decimals = std::max(typed_.decimals, f->decimals);
    if (in_.takeWord("mm")) unit_ = LengthUnit::Millimetre;
    if (in_.takeWord("in") || in_.take(U'"')) unit_ = LengthUnit::Inch;
    return f->value * toMm(unit_);
  }

  void value() {
    (void)in_.take(U'|');
    in_.blanks();
    const std::size_t from = in_.at();
    if (in_.takeSpherical())
      r_.zone = Zone::Spherical;
    else if (in_.takeDiameter())
      r_.zone = Zone::Diametral;
    const auto v = length();
    typed_.limits_open = !v && settings_.open_zones && r_.zone == Zone::Planar;
    if (typed_.limits_open) return;
    if (!v) return stop(from, "the value of the tolerance is missing");
    if (*v < 0) return stop(from, "a tolerance is not negative");
    value_at_ = from;
    r_.tolerance = *v;
  }

  void byGeneral() { // as describe() writes it
    const std::size_t from = in_.at();
    if (!in_.takeWord("by")) return;
    in_.blanks();
    r_.general = in_.text(in_.at(), in_.at() + kRest);
    if (r_.general.empty()) stop(from, "after by the name of the general tolerances is missing");
    in_.back(in_.at() + kRest);
  }

  // One datum, with the bar before it.
  bool compartment() {
    const std::size_t from = in_.at();
    const bool bar = in_.take(U'|');
    if (bar) bar_ = true, datums_at_bar_ = r_.datums.size();
    auto letters = in_.letters();
    if (!letters) {
      if (!bar) in_.back(from);
      return false;
    }
    const auto doubled = [](const std::string& l) {
      return l.size() == 1 || (l.size() == 2 && l[0] == l[1]);
    };
    // "ABC" are three datums, "AA" is one.
    if (!doubled(*letters)) {
      for (const char c : *letters)
        addDatum({{std::string(1, c)}}, from);
      return true;
    }
    DatumReference d{{*letters}};
    while (!fault_ && in_.take(U'-')) {
      const auto other = in_.letters();
      if (!other || !doubled(*other)) {
        stop(in_.at(), "after - the letter of the other datum is missing");
        return true;
      }
      d.letters.push_back(*other);
    }
    while (!fault_ && !in_.atEnd() && takes([&] { return readSignOfDatum(in_, d); })) {
    }
    addDatum(std::move(d), from);
    return true;
  }

  void addDatum(DatumReference d, std::size_t from) {
    for (const DatumReference& other : r_.datums)
      for (const std::string& letter : d.letters)
        if (std::find(other.letters.begin(), other.letters.end(), letter) != other.letters.end())
          return stop(from, fmt::format("datum {} stands twice", letter));
    if (r_.datums.size() == 3) return stop(from, "a datum system has three datums at most");
    r_.datums.push_back(std::move(d));
  }

  Scanner& in_;
  const TypingSettings& settings_;
  LengthUnit unit_;
  Typed typed_;
  Requirement r_;
  std::optional<TextFault> fault_;
  bool bar_ = false;
  std::size_t datums_at_bar_ = 0, value_at_ = 0;
};

} // namespace

std::optional<Characteristic> characteristic(Scanner& in) {
  const std::size_t from = in.at();
  in.blanks();
  for (const Sign& s : kSigns)
    if (in.take(s.sign)) return s.kind;
  if (in.next() == U'/' && in.following(1) == U'/') {
    in.back(in.at() + 2);
    return K::Parallelism;
  }
  for (const Word& w : kWords)
    if (in.takeWords(w.word)) return w.kind;
  in.back(from);
  return shortened(in);
}

Typing indicator(Scanner& in, Characteristic kind, const TypingSettings& settings) {
  return IndicatorReader(in, kind, settings).read();
}

} // namespace alder::typed
