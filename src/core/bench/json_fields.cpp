#include "bench/json_fields.h"

#include <algorithm>

namespace alder {
namespace {
const Json kNull;
}

Result<Json> parseJson(const std::string& text, const std::string& label) {
  try {
    return Json::parse(text);
  } catch (const Json::parse_error& error) {
    const auto end =
        text.begin() + static_cast<std::ptrdiff_t>(std::min<std::size_t>(error.byte, text.size()));
    const auto line = 1 + std::count(text.begin(), end, '\n');
    return fail("{}: line {} is not valid JSON; correct it or write the file anew.", label, line);
  } catch (const Json::exception&) {
    return fail("{}: is not valid JSON; correct it or write the file anew.", label);
  }
}

JsonFields::JsonFields(const Json& json, std::string label)
    : JsonFields(&json, "", std::move(label), std::make_shared<std::optional<std::string>>()) {
  if (!json.is_object()) complain(nullptr, "must be an object");
}

JsonFields::JsonFields(const Json* json, std::string path, std::string label,
                       std::shared_ptr<std::optional<std::string>> complaint)
    : json_(json)
    , path_(std::move(path))
    , label_(std::move(label))
    , complaint_(std::move(complaint)) {}

std::string JsonFields::pathOf(const char* key) const {
  if (!key) return path_.empty() ? "the file" : path_;
  return path_.empty() ? key : path_ + "." + key;
}

void JsonFields::complain(const char* key, const std::string& what) const {
  if (!*complaint_) *complaint_ = fmt::format("{}: {} {}.", label_, pathOf(key), what);
}

Done JsonFields::done() const {
  if (*complaint_) return fail("{}", **complaint_);
  return {};
}

bool JsonFields::has(const char* key) const {
  return json_->is_object() && json_->contains(key) && !(*json_)[key].is_null();
}

JsonFields JsonFields::object(const char* key) const {
  const Json* child = &kNull;
  if (!has(key))
    complain(key, "is missing");
  else if (!(*json_)[key].is_object())
    complain(key, "must be an object");
  else
    child = &(*json_)[key];
  return {child, pathOf(key), label_, complaint_};
}

std::vector<JsonFields> JsonFields::list(const char* key) const {
  std::vector<JsonFields> result;
  if (!has(key)) return result;
  const Json& array = (*json_)[key];
  if (!array.is_array()) {
    complain(key, "must be a list");
    return result;
  }
  for (std::size_t i = 0; i < array.size(); ++i) {
    const JsonFields item{&array[i], fmt::format("{}[{}]", pathOf(key), i), label_, complaint_};
    if (!array[i].is_object())
      item.complain(nullptr, "must be an object");
    else
      result.push_back(item);
  }
  return result;
}

double JsonFields::asNumber(const Json& value, const char* key) const {
  if (value.is_number()) return value.get<double>();
  complain(key, "must be a number");
  return 0;
}

double JsonFields::number(const char* key) const {
  if (has(key)) return asNumber((*json_)[key], key);
  complain(key, "is missing");
  return 0;
}

double JsonFields::number(const char* key, double otherwise) const {
  return has(key) ? asNumber((*json_)[key], key) : otherwise;
}

double JsonFields::limit(const char* key, double open, double otherwise) const {
  const bool is_null = json_->is_object() && json_->contains(key) && (*json_)[key].is_null();
  return is_null ? open : number(key, otherwise);
}

double JsonFields::positive(const char* key) const {
  const double v = number(key);
  if (v > 0) return v;
  complain(key, "must be above 0");
  return 1;
}

int JsonFields::integer(const char* key, int otherwise) const {
  if (!has(key)) return otherwise;
  if ((*json_)[key].is_number_integer()) return (*json_)[key].get<int>();
  complain(key, "must be a whole number");
  return otherwise;
}

std::int64_t JsonFields::wide(const char* key, std::int64_t otherwise) const {
  if (!has(key)) return otherwise;
  if ((*json_)[key].is_number_integer()) return (*json_)[key].get<std::int64_t>();
  complain(key, "must be a whole number");
  return otherwise;
}

bool JsonFields::flag(const char* key, bool otherwise) const {
  if (!has(key)) return otherwise;
  if ((*json_)[key].is_boolean()) return (*json_)[key].get<bool>();
  complain(key, "must be true or false");
  return otherwise;
}

std::string JsonFields::text(const char* key) const {
  if (!has(key)) complain(key, "is missing");
  return text(key, "");
}

std::string JsonFields::text(const char* key, const std::string& otherwise) const {
  if (!has(key)) return otherwise;
  if ((*json_)[key].is_string()) return (*json_)[key].get<std::string>();
  complain(key, "must be a text");
  return otherwise;
}

Vec3 JsonFields::vector(const char* key) const {
  if (!has(key)) complain(key, "is missing");
  return vector(key, Vec3::Zero());
}

Vec3 JsonFields::vector(const char* key, const Vec3& otherwise) const {
  if (!has(key)) return otherwise;
  const Json& array = (*json_)[key];
  if (!array.is_array() || array.size() != 3) {
    complain(key, "must be a list of three numbers");
    return otherwise;
  }
  return {asNumber(array[0], key), asNumber(array[1], key), asNumber(array[2], key)};
}

} // namespace alder
