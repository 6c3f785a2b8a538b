// Arithmetic of a DMIS program (ISO 22093 clause 5.2): numbers, variables, + - * / **, comparisons
// as .EQ. and .LT., .AND. .OR. .NOT., functions; texts in quotes with CONCAT and STR.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <variant>

namespace alder::dmis {

using Value = std::variant<double, std::string>; // truth is 1 or 0
// A variable that is declared, or was given what is only known at the machine, holds nothing.
using Variables = std::map<std::string, std::optional<Value>>; // names in upper case

// The value; nothing where it is no expression, or depends on what is not known.
std::optional<Value> valueOf(const std::string& expression, const Variables& variables);
// Whether a variable stands in it, outside quotes.
bool namesVariable(const std::string& text, const Variables& variables);
// As it stands in a statement.
std::string written(const Value& value);

} // namespace alder::dmis
