// The instances of a STEP physical file (ISO 10303-21) as plain records, read on demand. Used for
// the tolerance data only; geometry goes through the CAD library. Reading the records themselves
// keeps entity ids for messages and every number in the unit that the file gives for it.
#pragma once

#include "base/error.h"
#include <cstdint>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace alder {

// One parameter: a number, a text, an enumeration (.NAME. without dots), a reference, a list, or
// TYPE(list) with the type in `text`.
struct StepValue {
  enum class Kind { Null, Number, Text, Enumeration, Reference, List, Typed };
  Kind kind = Kind::Null;
  double number = 0;
  int reference = 0;
  std::string text;
  std::vector<StepValue> items;

  bool isReference() const { return kind == Kind::Reference; }
};

// One record TYPE(parameters) of an instance; simple instances have one, complex ones several.
struct StepRecord {
  std::string type;
  std::vector<StepValue> values;
};

struct StepInstance {
  int id = 0;
  std::vector<StepRecord> records;

  bool is(std::string_view type) const { return find(type) != nullptr; }
  const StepRecord* find(std::string_view type) const;
  const std::string& type() const { return records.front().type; }
};

// A file as readers expect it: without byte order mark, and with numbers of instances that fit into
// 31 bits.
struct PlainStep {
  std::string bytes;
  std::unordered_map<int, std::int64_t> was; // numbers that were changed
  std::int64_t original(int id) const {
    const auto found = was.find(id);
    return found == was.end() ? id : found->second;
  }
};
PlainStep plainStep(const std::string& bytes);

class StepText {
 public:
  // Error when the bytes are no STEP file; an instance that cannot be read is simply absent from
  // `instance` and listed in `broken`.
  static Result<StepText> parse(std::string bytes);

  const StepInstance* instance(int id) const;
  void eachInstance(const std::function<void(const StepInstance&)>& visit) const;
  bool has(int id) const { return places_.count(id) > 0; }
  std::string_view statement(int id) const; // behind its "=", as it stands
  // Where the whole of it stands in `bytes`, from its # to behind its semicolon; empty if absent.
  std::pair<std::size_t, std::size_t> extent(int id) const;
  const std::string& bytes() const { return bytes_; }
  std::size_t end() const; // behind the last of them
  int lastId() const;      // the largest there is
  // Also of geometry, which is not kept but read again.
  std::optional<StepInstance> anyInstance(int id) const;
  // Ids of all instances that hold a record of this type, ascending.
  const std::vector<int>& ofType(std::string_view type) const;
  // Types whose name ends so, e.g. "_TOLERANCE".
  std::vector<std::string> typesEndingWith(std::string_view ending) const;
  std::vector<std::string> typesBeginningWith(std::string_view beginning) const;
  const std::vector<int>& broken() const { return broken_; }
  // Numbers that stand again behind their first instance, which counts.
  const std::vector<int>& twice() const { return twice_; }
  const std::string& schema() const { return schema_; }

 private:
  std::string bytes_;
  std::vector<std::pair<int, StepInstance>> kept_;
  struct Place {
    std::size_t number = 0, body = 0, length = 0; // of the #, and of what is behind the =
  };
  std::unordered_map<int, Place> places_;
  std::unordered_map<int, std::size_t> index_;
  std::map<std::string, std::vector<int>, std::less<>> types_;
  std::vector<int> broken_, twice_;
  std::string schema_;
};

} // namespace alder
