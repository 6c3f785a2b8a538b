// The records of a STEP file seen through the schema: attributes by name, wherever a simple or a
// complex instance holds them. What is read is marked, so that what nobody read can be told.
#pragma once

#include "part/pmi/schema.h"
#include "part/step_text.h"
#include "part/step_units.h"
#include <set>

namespace alder {

class PmiSource;

// One instance; an absent one answers everything with nothing.
class PmiEntity {
 public:
  PmiEntity() = default;
  PmiEntity(const PmiSource& source, const StepInstance* instance)
      : source_(&source)
      , instance_(instance) {}

  explicit operator bool() const { return instance_ != nullptr; }
  int id() const { return instance_ ? instance_->id : 0; }
  const StepInstance* instance() const { return instance_; }
  // One of its records is this entity or one below it.
  bool is(std::string_view entity) const;
  // Its most special record, for words.
  std::string type() const;

  // These mark. A null value where there is none. Where two entities above it declare an attribute
  // of this name, "DIMENSIONAL_SIZE.name" says whose.
  const StepValue& value(std::string_view attribute) const;
  // One of another kind than asked for is not marked: nobody has understood it.
  std::string text(std::string_view attribute) const;
  PmiEntity to(std::string_view attribute) const;
  // Of a list, set or typed list, however deep: the instances that it names.
  std::vector<PmiEntity> all(std::string_view attribute) const;
  // The same as numbers, also of what the records do not hold, such as faces.
  std::vector<int> referencesIn(std::string_view attribute) const;
  // The same without a mark.
  const StepValue* peek(std::string_view attribute) const;

 private:
  friend class PmiSource;
  // Record and place in it; false where the instance has no such attribute.
  bool find(std::string_view attribute, std::size_t& record, std::size_t& place) const;
  const PmiSource* source_ = nullptr;
  const StepInstance* instance_ = nullptr;
};

class PmiSource {
 public:
  explicit PmiSource(const StepText& text);

  const StepText& text() const { return text_; }
  PmiEntity at(int id) const { return {*this, text_.instance(id)}; }
  // Instances of this entity and of all below it, ascending.
  std::vector<PmiEntity> ofKind(std::string_view entity) const;
  // Those that name this instance in any attribute, ascending.
  std::vector<PmiEntity> referrers(int id) const;
  // Value and unit, marked. Nothing where it holds no number or its unit is unknown.
  std::optional<Measure> measure(const PmiEntity& entity) const;

  void mark(int id, std::size_t record, std::size_t place) const {
    used_.insert({id, record, place});
  }
  bool used(int id, std::size_t record, std::size_t place) const {
    return used_.count({id, record, place}) > 0;
  }

 private:
  const StepText& text_;
  std::multimap<int, int> referrers_;
  mutable std::set<std::tuple<int, std::size_t, std::size_t>> used_;
};

} // namespace alder
