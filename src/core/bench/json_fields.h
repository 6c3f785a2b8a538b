// Reading JSON with messages that name the field: every getter records the first thing that is
// missing or wrong, so a reader can be written straight down and asked once at the end.
#pragma once

#include "base/error.h"
#include "geometry/vec.h"
#include <memory>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>

namespace alder {

using Json = nlohmann::json;

// Error names the line: "FILE: line 12 is not valid JSON (...)".
Result<Json> parseJson(const std::string& text, const std::string& label);

class JsonFields {
 public:
  JsonFields(const Json& json, std::string label);

  bool has(const char* key) const;
  JsonFields object(const char* key) const;
  std::vector<JsonFields> list(const char* key) const; // empty when absent
  double number(const char* key) const;
  double number(const char* key, double otherwise) const;
  double positive(const char* key) const;
  // A limit that is open is written as null: `open` then. Absent: `otherwise`.
  double limit(const char* key, double open, double otherwise) const;
  int integer(const char* key, int otherwise) const;
  std::int64_t wide(const char* key, std::int64_t otherwise) const; // beyond 31 bits
  bool flag(const char* key, bool otherwise) const;
  std::string text(const char* key) const;
  std::string text(const char* key, const std::string& otherwise) const;
  Vec3 vector(const char* key) const;
  Vec3 vector(const char* key, const Vec3& otherwise) const;
  void complain(const char* key, const std::string& what) const;

  const Json& json() const { return *json_; }
  Done done() const; // the first complaint of this and all derived readers

 private:
  JsonFields(const Json* json, std::string path, std::string label,
             std::shared_ptr<std::optional<std::string>> complaint);
  std::string pathOf(const char* key) const;
  double asNumber(const Json& value, const char* key) const;

  const Json* json_;
  std::string path_, label_;
  std::shared_ptr<std::optional<std::string>> complaint_;
};

inline Json toJson(const Vec3& v) {
  return Json::array({v.x(), v.y(), v.z()});
}

} // namespace alder
