// The entities of product manufacturing information as ISO 10303-41, -43, -45, -47 and -519 define
// them, with the order of their attributes: where an attribute stands in a simple instance and in a
// complex one follows from it, and what of an instance has a meaning that a reader owes an answer.
#pragma once

#include <string_view>
#include <vector>

namespace alder {

enum class AttributeRole {
  Meaning,   // changes what is required: to be used, or told
  Label,     // words for people
  Structure, // ties into the product, which the CAD library reads
};
struct SchemaAttribute {
  std::string_view name;
  AttributeRole role = AttributeRole::Meaning;
  std::string_view owner; // entity that declares it
};
struct SchemaEntity {
  std::string_view name; // as in a file, capitals
  std::vector<const SchemaEntity*> supertypes;
  std::vector<SchemaAttribute> own;
  std::vector<SchemaAttribute> all; // those of supertypes first, as in a simple instance
};

// Null: not one of these.
const SchemaEntity* schemaEntity(std::string_view type);
bool isKindOf(const SchemaEntity& entity, std::string_view ancestor);
bool isRequirement(const SchemaEntity& entity); // a tolerance, a size, a distance or angle
// All that are `ancestor` or below it, by name.
const std::vector<std::string_view>& kindsOf(std::string_view ancestor);

} // namespace alder
