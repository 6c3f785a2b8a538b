#include "part/pmi/unread.h"

#include <algorithm>
#include <array>

namespace alder {
namespace {

// An instance hangs on what its attribute names: it is read, or told, with that.
struct Hanging {
  std::string_view entity, attribute;
  std::string_view only = {}; // on instances of this kind alone
};
constexpr std::array<Hanging, 12> kHanging{{
    {"TOLERANCE_ZONE", "defining_tolerance"},
    {"TOLERANCE_ZONE_DEFINITION", "zone"},
    {"GEOMETRIC_TOLERANCE_RELATIONSHIP", "relating_geometric_tolerance"},
    {"GEOMETRIC_TOLERANCE_RELATIONSHIP", "related_geometric_tolerance"},
    {"DIMENSIONAL_CHARACTERISTIC_REPRESENTATION", "dimension"},
    {"PLUS_MINUS_TOLERANCE", "toleranced_dimension"},
    {"SHAPE_ASPECT_RELATIONSHIP", "relating_shape_aspect"},
    {"SHAPE_ASPECT_RELATIONSHIP", "related_shape_aspect", "DATUM"},
    {"SHAPE_ASPECT_RELATIONSHIP", "related_shape_aspect", "DATUM_TARGET"},
    {"ITEM_IDENTIFIED_REPRESENTATION_USAGE", "definition"},
    {"PROPERTY_DEFINITION", "definition"},
    {"PROPERTY_DEFINITION_REPRESENTATION", "definition"},
}};

// How it is drawn, who owns it, where it is filed: others read that, or nobody needs it here.
bool isBeside(std::string_view type) {
  if (schemaEntity(type)) return false;
  for (const char* begin : {"DRAUGHTING",
                            "ANNOTATION",
                            "TESSELLATED",
                            "PRESENTATION",
                            "STYLED",
                            "OVER_RIDING",
                            "CAMERA",
                            "CHARACTERIZED",
                            "APPLIED",
                            "PRODUCT",
                            "ID_ATTRIBUTE",
                            "NAME_ATTRIBUTE",
                            "DESCRIPTION_ATTRIBUTE",
                            "MODEL_GEOMETRIC_VIEW",
                            "DEFAULT_MODEL_GEOMETRIC_VIEW",
                            "INVISIBILITY",
                            "LEADER",
                            "TERMINATOR",
                            "PROJECTION",
                            "GENERAL_PROPERTY",
                            "GEOMETRIC_REPRESENTATION",
                            "GLOBAL_",
                            "ADVANCED_",
                            "MECHANICAL_DESIGN"})
    if (type.starts_with(begin)) return true;
  return type.find("_ASSIGNMENT") != type.npos || type.ends_with("_CONTEXT") ||
         type.ends_with("_UNIT") || type.ends_with("REPRESENTATION_RELATIONSHIP") ||
         type.find("PRESENTED") != type.npos;
}

bool isRequirement(const PmiEntity& e) {
  return std::any_of(e.instance()->records.begin(), e.instance()->records.end(),
                     [](const StepRecord& r) {
                       const SchemaEntity* entity = schemaEntity(r.type);
                       return entity && isRequirement(*entity);
                     });
}

class Walk {
 public:
  Walk(const PmiSource& source, const Teller& tell, int requirement)
      : source_(source)
      , tell_(tell.about(requirement)) {
    visit(source.at(requirement), 0);
  }

 private:
  void visit(const PmiEntity& entity, int depth) {
    if (!entity || depth > 60 || !visited_.insert(entity.id()).second) return;
    if (depth > 0 && isBeside(entity.type())) return;
    if (entity.is("PROPERTY_DEFINITION") && isUnreadProperty(entity)) return;
    const auto& records = entity.instance()->records;
    for (std::size_t r = 0; r < records.size(); ++r)
      readRecord(entity, r, depth);
    hanging(entity, depth);
  }

  // Whether it is one that nobody has read; sums to check a file by say nothing of the part.
  bool isUnreadProperty(const PmiEntity& entity) {
    const StepValue* name = entity.peek("name");
    if (name && name->text.find("validation") != std::string::npos) return true;
    const auto& records = entity.instance()->records;
    for (std::size_t r = 0; r < records.size(); ++r)
      for (std::size_t place = 0; place < records[r].values.size(); ++place)
        if (source_.used(entity.id(), r, place)) return false;
    tell_(entity.id(),
          "its property \"" + (name ? name->text : std::string()) + "\" is not taken over");
    return true;
  }

  void readRecord(const PmiEntity& entity, std::size_t r, int depth) {
    const StepRecord& record = entity.instance()->records[r];
    const SchemaEntity* schema = schemaEntity(record.type);
    if (!schema) return unknown(entity, record);
    const bool simple = entity.instance()->records.size() == 1;
    const auto& attributes = simple ? schema->all : schema->own;
    for (std::size_t place = 0; place < record.values.size(); ++place) {
      const StepValue& value = record.values[place];
      const bool known = place < attributes.size();
      if (known && attributes[place].role != AttributeRole::Meaning) continue;
      if (isEmpty(value)) continue;
      if (!source_.used(entity.id(), r, place))
        tell_(entity.id(),
              (known ? inWords(attributes[place].name) : std::string("a further value")) + " of " +
                  inWords(record.type) + " is not taken over");
      follow(entity, value, depth);
    }
  }

  void unknown(const PmiEntity& entity, const StepRecord& record) {
    if (isBeside(record.type)) return;
    // In a complex instance a record without values may only repeat what the others say.
    static constexpr std::array<std::string_view, 6> kRepeats{"SHAPE_ASPECT",
                                                              "REPRESENTATION_ITEM",
                                                              "GEOMETRIC_REPRESENTATION_ITEM",
                                                              "COMPOUND_ITEM_DEFINITION",
                                                              "CHARACTERIZED_OBJECT",
                                                              "PLACED_FEATURE"};
    if (record.values.empty() &&
        std::find(kRepeats.begin(), kRepeats.end(), record.type) != kRepeats.end())
      return;
    tell_(entity.id(), inWords(record.type) + " is not understood");
  }

  static bool isEmpty(const StepValue& v) {
    if (v.kind == StepValue::Kind::Null) return true;
    return v.kind == StepValue::Kind::List && v.items.empty();
  }

  void follow(const PmiEntity& from, const StepValue& value, int depth) {
    if (value.isReference()) {
      visit(source_.at(value.reference), depth + 1);
      if (!source_.text().has(value.reference))
        tell_(from.id(), fmt::format("{} names #{}, which is not in the file", inWords(from.type()),
                                     value.reference));
    }
    for (const StepValue& item : value.items)
      follow(from, item, depth);
  }

  void hanging(const PmiEntity& entity, int depth) {
    for (const PmiEntity& other : source_.referrers(entity.id())) {
      if (visited_.count(other.id()) > 0) continue;
      const bool known =
          std::all_of(other.instance()->records.begin(), other.instance()->records.end(),
                      [](const StepRecord& r) { return schemaEntity(r.type) != nullptr; });
      if (!known) {
        const bool of_pmi = isRequirement(entity) || entity.is("SHAPE_ASPECT");
        if (of_pmi && !isBeside(other.type()) && !isRequirement(other)) visit(other, depth + 1);
        continue;
      }
      // Another requirement on the same thing speaks for itself.
      if (isRequirement(other)) continue;
      for (const Hanging& h : kHanging) {
        if (!other.is(h.entity) || (!h.only.empty() && !entity.is(h.only))) continue;
        const StepValue* of = other.peek(h.attribute);
        if (of && names(*of, entity.id())) visit(other, depth + 1);
      }
    }
  }

  static bool names(const StepValue& v, int id) {
    return (v.isReference() && v.reference == id) ||
           std::any_of(v.items.begin(), v.items.end(),
                       [&](const StepValue& item) { return names(item, id); });
  }

  const PmiSource& source_;
  const Teller tell_;
  std::set<int> visited_;
};

} // namespace

void tellUnread(const PmiSource& source, const std::vector<int>& requirements, const Teller& tell) {
  for (const int id : requirements)
    Walk(source, tell, id);
}

} // namespace alder
