#include "part/pmi/source.h"

#include <algorithm>
#include <functional>

namespace alder {
namespace {

const StepValue kNothing;

void eachReference(const StepValue& value, const std::function<void(int)>& found) {
  if (value.isReference()) found(value.reference);
  for (const StepValue& item : value.items)
    eachReference(item, found);
}

} // namespace

bool PmiEntity::is(std::string_view entity) const {
  return instance_ &&
         std::any_of(instance_->records.begin(), instance_->records.end(), [&](const auto& r) {
           const SchemaEntity* s = schemaEntity(r.type);
           return s ? isKindOf(*s, entity) : r.type == entity;
         });
}

std::string PmiEntity::type() const {
  if (!instance_) return "nothing";
  // The record with most above it says what it is.
  const StepRecord* best = &instance_->records.front();
  std::size_t most = 0;
  for (const StepRecord& r : instance_->records)
    if (const SchemaEntity* s = schemaEntity(r.type))
      if (const auto above = static_cast<std::size_t>(
              std::count_if(instance_->records.begin(), instance_->records.end(),
                            [&](const StepRecord& other) { return isKindOf(*s, other.type); }));
          above > most) {
        most = above;
        best = &r;
      }
  return best->type;
}

bool PmiEntity::find(std::string_view attribute, std::size_t& record, std::size_t& place) const {
  if (!instance_) return false;
  const auto dot = attribute.find('.');
  const std::string_view owner = dot == attribute.npos ? "" : attribute.substr(0, dot);
  if (dot != attribute.npos) attribute.remove_prefix(dot + 1);
  const bool simple = instance_->records.size() == 1;
  for (std::size_t r = 0; r < instance_->records.size(); ++r) {
    const SchemaEntity* s = schemaEntity(instance_->records[r].type);
    if (!s) continue;
    const auto& attributes = simple ? s->all : s->own;
    const auto found = std::find_if(attributes.begin(), attributes.end(), [&](const auto& a) {
      return a.name == attribute && (owner.empty() || a.owner == owner);
    });
    if (found == attributes.end()) continue;
    record = r;
    place = static_cast<std::size_t>(found - attributes.begin());
    return place < instance_->records[r].values.size();
  }
  return false;
}

const StepValue* PmiEntity::peek(std::string_view attribute) const {
  std::size_t record = 0, place = 0;
  return find(attribute, record, place) ? &instance_->records[record].values[place] : nullptr;
}

const StepValue& PmiEntity::value(std::string_view attribute) const {
  std::size_t record = 0, place = 0;
  if (!find(attribute, record, place)) return kNothing;
  source_->mark(id(), record, place);
  return instance_->records[record].values[place];
}

std::string PmiEntity::text(std::string_view attribute) const {
  const StepValue* v = peek(attribute);
  const bool words =
      v && (v->kind == StepValue::Kind::Text || v->kind == StepValue::Kind::Enumeration);
  return words ? value(attribute).text : std::string();
}

PmiEntity PmiEntity::to(std::string_view attribute) const {
  const StepValue* v = peek(attribute);
  return v && v->isReference() ? source_->at(value(attribute).reference) : PmiEntity();
}

std::vector<int> PmiEntity::referencesIn(std::string_view attribute) const {
  std::vector<int> found;
  if (const StepValue* v = peek(attribute)) eachReference(*v, [&](int id) { found.push_back(id); });
  if (!found.empty()) value(attribute); // else nobody has understood it
  return found;
}

std::vector<PmiEntity> PmiEntity::all(std::string_view attribute) const {
  std::vector<PmiEntity> found;
  for (const int id : referencesIn(attribute))
    if (const PmiEntity e = source_->at(id)) found.push_back(e);
  return found;
}

PmiSource::PmiSource(const StepText& text)
    : text_(text) {
  text.eachInstance([&](const StepInstance& instance) {
    for (const StepRecord& r : instance.records)
      for (const StepValue& v : r.values)
        eachReference(v, [&](int id) { referrers_.emplace(id, instance.id); });
  });
}

std::vector<PmiEntity> PmiSource::ofKind(std::string_view entity) const {
  std::set<int> ids;
  for (const auto kind : kindsOf(entity))
    for (int id : text_.ofType(kind))
      ids.insert(id);
  std::vector<PmiEntity> found;
  for (int id : ids)
    found.push_back(at(id));
  return found;
}

std::vector<PmiEntity> PmiSource::referrers(int id) const {
  std::set<int> ids;
  const auto [begin, end] = referrers_.equal_range(id);
  for (auto at_ = begin; at_ != end; ++at_)
    ids.insert(at_->second);
  std::vector<PmiEntity> found;
  for (int other : ids)
    found.push_back(at(other));
  return found;
}

std::optional<Measure> PmiSource::measure(const PmiEntity& entity) const {
  if (!entity) return {};
  const auto read = readMeasure(text_, entity.id());
  if (!read) return {};
  entity.value("value_component");
  entity.value("unit_component");
  return read;
}

} // namespace alder
