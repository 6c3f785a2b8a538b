// Ids as a list of numbers.
#pragma once

#include "bench/json_fields.h"

namespace alder {

Json idsJson(const auto& ids) {
  Json list = Json::array();
  for (const auto& id : ids)
    list.push_back(id.value);
  return list;
}

// Whether they are there is not asked.
template <class Id> std::vector<Id> idsFrom(const JsonFields& f, const char* key) {
  std::vector<Id> ids;
  const Json& list = f.json().value(key, Json::array());
  if (!list.is_array()) {
    f.complain(key, "must be a list of numbers");
    return ids;
  }
  for (const Json& one : list)
    if (one.is_number_integer())
      ids.push_back(Id{one.get<int>()});
    else
      f.complain(key, "must hold numbers");
  return ids;
}

} // namespace alder
