#include "part/pmi/dimensions.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>

namespace alder {
namespace {

using Type = PmiDimension::Type;

// Names of sizes (ISO 10303-47 dimensional_size, and the recommended practices for them).
struct NamedSize {
  std::string_view name;
  Type type;
};
constexpr std::array<NamedSize, 14> kSizes{{
    {"diameter", Type::Diameter},
    {"spherical diameter", Type::Diameter},
    {"radius", Type::Radius},
    {"spherical radius", Type::Radius},
    {"thickness", Type::Width},
    {"width", Type::Width},
    {"linear distance", Type::Width},
    {"distance", Type::Width},
    {"linear", Type::Width},
    {"", Type::Width},
    {"angle", Type::Angle},
    {"angular size", Type::Angle},
    {"cone angle", Type::Angle},
    {"included angle", Type::Angle},
}};

// "6x", "6 X", "6×"
int countIn(const std::string& text) {
  int count = 0;
  const auto [rest, code] = std::from_chars(text.data(), text.data() + text.size(), count);
  if (code != std::errc{}) return 0;
  std::string_view sign(rest, static_cast<std::size_t>(text.data() + text.size() - rest));
  while (sign.starts_with(' '))
    sign.remove_prefix(1);
  return sign == "x" || sign == "X" || sign == "×" ? count : 0;
}

class DimensionReader {
 public:
  DimensionReader(const PmiSource& source, const Aspects& aspects, const Teller& tell)
      : source_(source)
      , aspects_(aspects)
      , tell_(tell) {
    for (const PmiEntity& r : source.ofKind("DIMENSIONAL_CHARACTERISTIC_REPRESENTATION"))
      if (const auto* of = r.peek("dimension"); of && of->isReference())
        representations_.emplace(of->reference, r.id());
    for (const PmiEntity& t : source.ofKind("PLUS_MINUS_TOLERANCE"))
      if (const auto* of = t.peek("toleranced_dimension"); of && of->isReference())
        limits_.emplace(of->reference, t.id());
  }

  ReadDimensions run() {
    for (const PmiEntity& size : source_.ofKind("DIMENSIONAL_SIZE"))
      if (auto d = asSize(size)) add(std::move(*d), size);
    for (const PmiEntity& location : source_.ofKind("DIMENSIONAL_LOCATION"))
      if (auto d = asLocation(location)) add(std::move(*d), location);
    std::sort(out_.judged.begin(), out_.judged.end(),
              [](const auto& a, const auto& b) { return a.entity < b.entity; });
    return std::move(out_);
  }

 private:
  // What the items of its representations say.
  struct Values {
    std::vector<double> unnamed;
    std::optional<double> lower, upper;
    bool exact = false, auxiliary = false;
  };

  void add(PmiDimension d, const PmiEntity& entity) {
    const Teller tell = tell_.about(entity.id());
    Values values;
    readValues(d, values, tell);
    if (!left_out_.empty()) return leaveOut(d, tell);
    if (values.exact || values.auxiliary) {
      ++(values.exact ? out_.exact : out_.auxiliary);
      return;
    }
    if (!d.nominal) {
      tell(entity.id(), "dimension \"" + d.name + "\" has no readable value and is left out");
      return;
    }
    readLimits(d, tell);
    const bool location = entity.is("DIMENSIONAL_LOCATION");
    if (d.faces.empty() || (location && d.faces2.empty()))
      tell(entity.id(), "dimension \"" + d.name + "\" names no face of the part");
    out_.judged.push_back(std::move(d));
  }

  // With its figures, so that it can be added by hand.
  void leaveOut(PmiDimension& d, const Teller& tell) {
    if (d.nominal) readLimits(d, tell);
    std::string figures;
    if (d.nominal) figures = " " + figure(d, *d.nominal);
    if (d.lower && d.upper)
      figures += fmt::format(", from {} to {}", figure(d, *d.lower), figure(d, *d.upper));
    if (!d.fit.empty()) figures += " " + d.fit;
    tell(d.entity, fmt::format("dimension {}{} is not judged and is left out{}", left_out_, figures,
                               d.faces.empty() ? " (it names no face of the part)" : ""));
    left_out_.clear();
  }

  static std::string figure(const PmiDimension& d, double v) {
    return d.type == Type::Angle ? fmt::format("{:.6g}°", v * 57.29577951308232)
                                 : fmt::format("{:.6g} mm", v);
  }

  std::optional<PmiDimension> asSize(const PmiEntity& entity) {
    const Teller tell = tell_.about(entity.id());
    PmiDimension d{.entity = entity.id()};
    d.name = entity.text("DIMENSIONAL_SIZE.name");
    const PmiEntity of = entity.to("applies_to");
    d.faces = aspects_.faces(of ? of : entity, tell);
    if (!of) tell(entity.id(), "it does not say what it is the size of");
    if (entity.is("DIMENSIONAL_SIZE_WITH_PATH")) left_out_ = "of a size along a path";
    const auto known = std::find_if(kSizes.begin(), kSizes.end(),
                                    [&](const NamedSize& s) { return s.name == d.name; });
    if (entity.is("ANGULAR_SIZE")) {
      d.type = Type::Angle;
      selection(entity, d);
      if (known == kSizes.end() || (known->type != Type::Angle && !d.name.empty()))
        tell(entity.id(), "an angle named \"" + d.name + "\" is judged as that of its surface");
    } else if (known == kSizes.end()) {
      left_out_ = "of the kind \"" + d.name + "\"";
    } else {
      d.type = known->type;
    }
    d.spherical = d.name.starts_with("spherical");
    return d;
  }

  std::optional<PmiDimension> asLocation(const PmiEntity& entity) {
    const Teller tell = tell_.about(entity.id());
    if (!entity.peek("related_shape_aspect")) {
      tell(entity.id(), "distance has too few values and is left out");
      return {};
    }
    PmiDimension d{.entity = entity.id(), .name = entity.text("name")};
    const StepValue::Kind said = entity.peek("name")->kind;
    if (said != StepValue::Kind::Text && said != StepValue::Kind::Null)
      tell(entity.id(), "of which kind it is cannot be read");
    const bool angle = entity.is("ANGULAR_LOCATION");
    d.type = angle ? Type::Angle : Type::Distance;
    d.faces = aspects_.faces(entity.to("relating_shape_aspect"), tell);
    d.faces2 = aspects_.faces(entity.to("related_shape_aspect"), tell);
    if (entity.is("DIMENSIONAL_LOCATION_WITH_PATH") || d.name.starts_with("curved distance"))
      left_out_ = "of a distance along a curve or path (" + d.name + ")";
    else if (angle) {
      selection(entity, d);
      if (!d.name.empty() && d.name.find("angle") == std::string::npos &&
          d.name.find("angular") == std::string::npos)
        tell(entity.id(), "an angle named \"" + d.name + "\" is judged as that between its sides");
    } else if (d.name.starts_with("linear distance")) {
      const std::string ends = d.name.substr(std::string_view("linear distance").size());
      if (ends.find("inner") != std::string::npos || ends.find("outer") != std::string::npos)
        tell(entity.id(), "it is from" + ends + "; judged between axes or mid planes");
    } else if (!d.name.empty() && d.name != "distance") {
      tell(entity.id(), "a distance named \"" + d.name + "\" is judged as a straight one");
    }
    return d;
  }

  // Which of the two angles is meant follows from the nominal; the selection must agree with it.
  static void selection(const PmiEntity& entity, PmiDimension& d) {
    const std::string s = entity.text("angle_selection");
    d.selection = s == "LARGE" ? 1 : s == "SMALL" ? -1 : 0;
  }

  // Items of the shape dimension representation: nominal value, lower limit, upper limit, or a
  // value range of two; qualified items carry the number format.
  void readValues(PmiDimension& d, Values& v, const Teller& tell) {
    const auto [begin, end] = representations_.equal_range(static_cast<int>(d.entity));
    for (auto at = begin; at != end; ++at) {
      const PmiEntity link = source_.at(at->second);
      link.value("dimension");
      const PmiEntity representation = link.to("representation");
      for (const int item : representation.referencesIn("items"))
        readItem(item, d, v, tell, 0);
    }
    if (!d.nominal && v.unnamed.size() == 1) d.nominal = v.unnamed[0];
    if (!d.nominal && v.unnamed.size() == 2) {
      v.lower = std::min(v.unnamed[0], v.unnamed[1]);
      v.upper = std::max(v.unnamed[0], v.unnamed[1]);
    }
    // Said twice, such as in two units, is no harm; something else is.
    const std::size_t taken = v.unnamed.size() == 2 && !d.nominal ? 2 : 0;
    for (std::size_t i = taken; i < v.unnamed.size(); ++i)
      if (!d.nominal || std::abs(v.unnamed[i] - *d.nominal) > 1e-3)
        tell(d.entity, "it has more than one value; the others are not used");
    if (!d.nominal && v.lower && v.upper) d.nominal = (*v.lower + *v.upper) / 2;
    if (!d.nominal && (v.lower || v.upper)) d.nominal = v.lower ? v.lower : v.upper;
    if (v.lower) d.lower = *v.lower - *d.nominal;
    if (v.upper) d.upper = *v.upper - *d.nominal;
    checkSelection(d, tell);
  }

  static void checkSelection(const PmiDimension& d, const Teller& tell) {
    if (d.type != Type::Angle || !d.nominal || d.selection == 0) return;
    constexpr double kRight = 1.5707963267948966, kSlack = 1e-6;
    if ((d.selection > 0 && *d.nominal < kRight - kSlack) ||
        (d.selection < 0 && *d.nominal > 2 * kRight + kSlack))
      tell(d.entity, std::string("it is said to be the ") + (d.selection > 0 ? "large" : "small") +
                         " angle, which its value is not; the value counts");
  }

  void readItem(int id, PmiDimension& d, Values& v, const Teller& tell, int depth) {
    const PmiEntity item = source_.at(id);
    if (!item || depth > 4) {
      if (!item) tell(d.entity, fmt::format("its direction or place (#{}) is not taken over", id));
      return;
    }
    if (item.is("DESCRIPTIVE_REPRESENTATION_ITEM")) {
      const std::string text = item.text("description");
      if (const int count = countIn(text); count > 0)
        d.count = count;
      else if (!text.empty())
        d.modifiers.push_back(text);
      return;
    }
    const auto measure = source_.measure(item);
    if (!measure) {
      const auto parts = item.referencesIn("item_element");
      if (parts.empty()) tell(id, inWords(item.type()) + " in its value is not understood");
      for (const int part : parts)
        readItem(part, d, v, tell, depth + 1);
      return;
    }
    if (measure->angle != (d.type == Type::Angle)) {
      tell(d.entity, measure->angle ? "its value is an angle, which a length cannot be"
                                    : "its value is a length, which an angle cannot be");
      return;
    }
    const std::string label = item.text("name");
    bool lower = label.find("lower") != std::string::npos;
    bool upper = label.find("upper") != std::string::npos;
    for (const PmiEntity& qualifier : item.all("qualifiers"))
      readQualifier(qualifier, d, v, lower, upper, tell);
    if (lower)
      v.lower = measure->value;
    else if (upper)
      v.upper = measure->value;
    else if (label.find("nominal") != std::string::npos && !d.nominal)
      d.nominal = measure->value;
    else
      v.unnamed.push_back(measure->value);
  }

  void readQualifier(const PmiEntity& q, PmiDimension& d, Values& v, bool& lower, bool& upper,
                     const Teller& tell) {
    if (q.is("VALUE_FORMAT_TYPE_QUALIFIER")) {
      const std::string format = q.text("format_type"); // "NR2 2.3"
      const auto dot = format.rfind('.');
      if (dot != std::string::npos && dot + 1 < format.size() &&
          std::isdigit(static_cast<unsigned char>(format[dot + 1])))
        d.decimals = format[dot + 1] - '0';
    } else if (q.is("PRECISION_QUALIFIER")) {
      q.value("precision_value");
    } else if (q.is("TYPE_QUALIFIER")) {
      const std::string name = q.text("name");
      if (name == "minimum")
        lower = true;
      else if (name == "maximum")
        upper = true;
      else if (name == "theoretical" || name == "theoretically exact" || name == "basic")
        v.exact = true;
      else if (name == "auxiliary" || name == "reference")
        v.auxiliary = true;
      else if (name != "nominal")
        tell(d.entity, "\"" + name + "\" on its value is not judged");
    } else {
      tell(d.entity, inWords(q.type()) + " on its value is not taken over");
    }
  }

  void readLimits(PmiDimension& d, const Teller& tell) {
    const auto [begin, end] = limits_.equal_range(static_cast<int>(d.entity));
    for (auto at = begin; at != end; ++at) {
      if (at != begin) {
        tell(d.entity, "it has limits twice; the first are taken");
        return;
      }
      const PmiEntity link = source_.at(at->second);
      link.value("toleranced_dimension");
      const PmiEntity range = link.to("range");
      if (!range) continue;
      if (range.is("LIMITS_AND_FITS")) {
        const std::string form = range.text("form_variance"), zone = range.text("zone_variance"),
                          grade = range.text("grade");
        d.fit = grade.empty() ? form + zone : form + grade;
        const bool capital = !form.empty() && std::isupper(static_cast<unsigned char>(form[0]));
        if ((capital && zone == "shaft") || (!capital && zone == "hole"))
          tell(range.id(),
               "the fit " + d.fit + " is said to be of a " + zone + ", which it is not");
        continue;
      }
      bounds(d, range, tell);
    }
  }

  void bounds(PmiDimension& d, const PmiEntity& range, const Teller& tell) {
    if (!range.is("TOLERANCE_VALUE"))
      return tell(range.id(), "limits of dimension \"" + d.name + "\" are not understood");
    const auto low = source_.measure(range.to("lower_bound")),
               high = source_.measure(range.to("upper_bound"));
    if (!low || !high || low->angle != (d.type == Type::Angle) || low->angle != high->angle)
      return tell(range.id(), "limits of dimension \"" + d.name + "\" have no readable value");
    d.lower = low->value;
    d.upper = high->value;
    // A zone without width does not exist: some writers give the lower bound without its sign.
    if (*d.lower > 0 && std::abs(*d.lower - *d.upper) < 1e-12) d.lower = -*d.lower;
    if (*d.lower > *d.upper) {
      tell(range.id(), "limits of dimension \"" + d.name + "\" are given upside down; swapped");
      std::swap(d.lower, d.upper);
    }
  }

  const PmiSource& source_;
  const Aspects& aspects_;
  const Teller& tell_;
  std::multimap<int, int> representations_, limits_;
  std::string left_out_; // what the dimension being read is of, where that is not judged
  ReadDimensions out_;
};

} // namespace

ReadDimensions readDimensions(const PmiSource& source, const Aspects& aspects, const Teller& tell) {
  return DimensionReader(source, aspects, tell).run();
}

} // namespace alder
