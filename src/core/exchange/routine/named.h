// Enumerations in files by their names.
#pragma once

#include "bench/json_fields.h"

namespace alder {

// One of the first `count` values of an enumeration. Files of version 1 have the place in the
// enumeration instead for some; what is neither is told.
template <class E> E readNamed(const JsonFields& f, const char* key, int count) {
  const Json value = f.json().is_object() ? f.json().value(key, Json()) : Json();
  if (value.is_number_integer() && value.get<long>() >= 0 && value.get<long>() < count)
    return static_cast<E>(value.get<int>());
  std::string names;
  for (int k = 0; k < count; ++k) {
    const std::string one(name(static_cast<E>(k)));
    if (value.is_string() && value.get<std::string>() == one) return static_cast<E>(k);
    names += (names.empty() ? "" : ", ") + one;
  }
  f.complain(key, "is not one of " + names);
  return E{};
}
template <class E> E readNamed(const JsonFields& f, const char* key, int count, E otherwise) {
  return f.has(key) ? readNamed<E>(f, key, count) : otherwise;
}

} // namespace alder
