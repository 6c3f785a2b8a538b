#include "pmi_mutations.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>

namespace alder::test {
namespace {

// One value of a record: its text from `begin` to `end`.
struct Slot {
  int id = 0;
  std::string type;
  std::size_t index = 0, begin = 0, end = 0;
};
struct Statement {
  int id = 0;
  std::size_t begin = 0, end = 0; // with its semicolon and line end
  std::vector<Slot> values;
};

// Values of the records TYPE(...) from `at` on; a complex instance has its records in parentheses.
void slotsOf(const std::string& text, Statement& s, std::size_t at) {
  int depth = 0;
  bool quoted = false;
  std::string word, type;
  const std::size_t first = text.find_first_not_of(' ', at);
  const int base = text[first] == '(' ? 1 : 0; // depth at which records stand
  std::size_t begin = 0, index = 0;
  for (std::size_t i = at; i < s.end; ++i) {
    const char c = text[i];
    if (c == '\'') quoted = !quoted;
    if (quoted) continue;
    if (c == '(') {
      ++depth;
      if (depth == base + 1) type = word, begin = i + 1, index = 0;
      word.clear();
    } else if ((c == ',' && depth == base + 1) || (c == ')' && depth == base + 1)) {
      if (i > begin) s.values.push_back({s.id, type, index, begin, i});
      ++index;
      begin = i + 1;
      word.clear();
      if (c == ')') --depth;
    } else if (c == ')') {
      --depth;
    } else if (c == '_' || std::isalnum(static_cast<unsigned char>(c))) {
      word += c;
    }
  }
}

std::vector<Statement> statementsOf(const std::string& text) {
  std::vector<Statement> all;
  for (std::size_t at = 0; (at = text.find('#', at)) != std::string::npos;) {
    Statement s;
    s.begin = at;
    s.id = std::atoi(text.c_str() + at + 1);
    const std::size_t end = text.find(";\n", at);
    if (end == std::string::npos) break;
    s.end = end + 2;
    slotsOf(text, s, text.find('=', at) + 1);
    all.push_back(std::move(s));
    at = end + 2;
  }
  return all;
}

bool endsWith(const std::string& text, std::string_view end) {
  return std::string_view(text).ends_with(end);
}

// Whether another value there would say nothing else of the part.
bool isNeutral(const Slot& s, const std::string& value) {
  const std::string& t = s.type;
  if (t == "DATUM_REFERENCE" || t == "REFERENCED_MODIFIED_DATUM") return s.index == 0;
  if (t == "DATUM_REFERENCE_MODIFIER_WITH_VALUE") return false;
  if (t == "GEOMETRIC_ITEM_SPECIFIC_USAGE" || t == "ITEM_IDENTIFIED_REPRESENTATION_USAGE")
    return s.index == 0 || s.index == 1 || s.index == 3;
  if (t == "SHAPE_REPRESENTATION" || t == "SHAPE_REPRESENTATION_WITH_PARAMETERS")
    return s.index == 0 || s.index == 2;
  if (t == "SHAPE_DIMENSION_REPRESENTATION") return s.index == 0 || s.index == 2;
  // Two-point size is what holds without a modifier, once is what every requirement is.
  if (t == "DESCRIPTIVE_REPRESENTATION_ITEM")
    return s.index == 0 || value == "'two point size'" || value == "'1x'";
  if (endsWith(t, "_REPRESENTATION_ITEM") && s.index == 0 && t != "QUALIFIED_REPRESENTATION_ITEM")
    return true;
  if (t == "REPRESENTATION_ITEM") return value.find("limit") == std::string::npos;
  if (t == "VALUE_RANGE") return s.index == 0;
  if (t == "PROPERTY_DEFINITION") return s.index < 2;
  if (t == "SHAPE_ASPECT_RELATIONSHIP" || endsWith(t, "_RELATIONSHIP"))
    return s.index == 1 || (t != "GEOMETRIC_TOLERANCE_RELATIONSHIP" && s.index == 0);
  if (endsWith(t, "DIMENSIONAL_LOCATION") || endsWith(t, "LOCATION_WITH_PATH") ||
      endsWith(t, "ANGULAR_LOCATION"))
    return s.index == 1 || s.index == 4 || value.starts_with('.'); // which angle, the value says
  // A size between two faces is a width, whether it says so or nothing.
  if (t == "DIMENSIONAL_SIZE" && s.index == 1)
    return value == "'linear distance'" || value == "'width'" || value == "'thickness'";
  if (t == "ANGULAR_SIZE") return s.index == 2 || value.starts_with('.');
  if (t == "LIMITS_AND_FITS") return s.index == 1 || s.index == 3;
  if (t == "PRECISION_QUALIFIER" || t == "VALUE_FORMAT_TYPE_QUALIFIER") return true;
  if (endsWith(t, "ZONE_DEFINITION") || endsWith(t, "WITH_OFFSET")) return value == "()";
  if (endsWith(t, "_TOLERANCE") || t == "GEOMETRIC_TOLERANCE") return s.index < 2;
  if (t == "PRODUCT_DEFINITION_SHAPE") return true;
  // Shape aspects of all kinds
  if (t.find("ASPECT") != std::string::npos || t.find("DATUM") == 0 || t == "COMMON_DATUM" ||
      t == "PLACED_DATUM_TARGET_FEATURE" || t.find("TOLERANCE_ZONE") != std::string::npos ||
      t == "DIMENSIONAL_SIZE_WITH_DATUM_FEATURE" || t == "CENTRE_OF_SYMMETRY" || t == "APEX" ||
      t == "EXTENSION" || t == "TANGENT" || t == "GEOMETRIC_ALIGNMENT" ||
      t == "GEOMETRIC_INTERSECTION" || t == "PERPENDICULAR_TO")
    return (s.index < 4 && t != "TOLERANCE_ZONE_FORM") ||
           (s.index == 4 && t.find("DATUM_TARGET") != std::string::npos);
  return false;
}

bool isNothing(const std::string& v) {
  return v == "$" || v == "*" || v == "()" || v == "''" || v == ".REGARDLESS_OF_FEATURE_SIZE.";
}

// Nothing said in one way or another.
bool same(const std::string& a, const std::string& b) {
  return a == b || (isNothing(a) && isNothing(b));
}

constexpr std::array<const char*, 12> kValues{"$",
                                              "#13",
                                              "#16",
                                              "#998",
                                              "(#13)",
                                              "'something else'",
                                              ".SOMETHING_ELSE.",
                                              "(.FREE_STATE.)",
                                              "7.25",
                                              "SOMETHING_ELSE(#13)",
                                              "()",
                                              "*"};

} // namespace

PmiMutation mutated(const PmiCase& original, Random& random) {
  const std::string& text = original.records;
  const auto statements = statementsOf(text);
  const auto pick = [&](std::size_t n) {
    return static_cast<std::size_t>(random.uniform() * static_cast<double>(n));
  };
  PmiMutation m{"", text, 0, false};
  const Statement& s = statements[pick(statements.size())];
  const double kind = random.uniform();
  if (kind < 0.92) m.id = s.id;
  if (kind < 0.70 && !s.values.empty()) { // another value
    const Slot& slot = s.values[pick(s.values.size())];
    const std::string was = text.substr(slot.begin, slot.end - slot.begin);
    std::string now = kValues[pick(kValues.size())];
    if (random.uniform() < 0.3) { // a digit changed that a figure shows
      now = was;
      std::size_t left = 1 + pick(3);
      for (char& c : now)
        if (std::isdigit(static_cast<unsigned char>(c)) && --left == 0) c = c == '7' ? '3' : '7';
    }
    m.what = fmt::format("value {} of {} #{}: {} -> {}", slot.index, slot.type, slot.id, was, now);
    m.records.replace(slot.begin, slot.end - slot.begin, now);
    // Faces may be named by a datum's feature or target, or by the datum (#97) itself.
    const bool by_datum = now == "#97" && (slot.type == "GEOMETRIC_ITEM_SPECIFIC_USAGE" ||
                                           slot.type == "FEATURE_FOR_DATUM_TARGET_RELATIONSHIP");
    // #13 is of the same face as the feature of a datum target.
    const bool same_face = slot.type == "FEATURE_FOR_DATUM_TARGET_RELATIONSHIP" && now == "#13";
    // An angular size is one without being called so, and a distance is a straight one.
    const std::string record = text.substr(s.begin, s.end - s.begin);
    const bool called =
        isNothing(now) && ((was == "'angle'" && record.find("ANGULAR_SIZE") != std::string::npos) ||
                           was == "'linear distance'");
    m.meaning = !same(now, was) && !isNeutral(slot, was) && !by_datum && !same_face && !called;
  } else if (kind < 0.78) { // gone
    m.what = fmt::format("#{} gone", s.id);
    m.records.erase(s.begin, s.end - s.begin);
    // What says no more than holds without it.
    const std::string& type = s.values.empty() ? text : s.values.front().type;
    m.meaning = type != "TOLERANCE_ZONE" && type != "TOLERANCE_ZONE_FORM";
  } else if (kind < 0.86 && !s.values.empty()) { // a value more
    const Slot& slot = s.values.back();
    m.what = fmt::format("a value more in {} #{}", slot.type, slot.id);
    m.records.insert(slot.end, ",'more'");
    m.meaning = true;
  } else if (kind < 0.92) { // another kind of entity
    const std::size_t from = text.find('=', s.begin) + 1;
    const std::size_t to = text.find('(', from);
    if (to > from) {
      m.what = fmt::format("#{}: another entity", s.id);
      m.records.insert(to, "_WITH_SURPRISE");
      m.meaning = true;
    }
  } else { // bytes
    const std::size_t at = pick(text.size());
    const double how = random.uniform();
    m.what = fmt::format("byte {}", at);
    if (how < 0.4)
      m.records.erase(at, 1 + pick(20));
    else if (how < 0.7)
      m.records.insert(at, 1, static_cast<char>(32 + pick(95)));
    else
      m.records[at] = static_cast<char>(pick(256));
  }
  // In which order tolerances stand changes none of them.
  if (text.substr(s.begin, s.end - s.begin).find("'precedence'") != std::string::npos &&
      m.what.find("'precedence' ->") == std::string::npos)
    m.meaning = false;
  return m;
}

} // namespace alder::test
