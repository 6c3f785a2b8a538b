#include "exchange/dmis/dmis_expression.h"

#include "base/units.h"
#include "exchange/dmis/dmis_statement.h"
#include "exchange/dmis/dmis_text.h"
#include <cctype>
#include <cmath>
#include <fmt/format.h>
#include <muParser.h>
#include <set>
#include <utility>
#include <vector>

namespace alder::dmis {
namespace {

bool beginsName(char c) {
  return std::isalpha(static_cast<unsigned char>(c)) || c == '_';
}
bool isName(char c) {
  return std::isalnum(static_cast<unsigned char>(c)) || c == '_';
}

// Names outside quotes, with where they stand: (from, to). A number's exponent is none.
std::vector<std::pair<std::size_t, std::size_t>> namesIn(const std::string& text) {
  std::vector<std::pair<std::size_t, std::size_t>> all;
  bool quoted = false;
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (text[i] == '\'') quoted = !quoted;
    if (quoted || !beginsName(text[i])) continue;
    std::size_t end = i;
    while (end < text.size() && isName(text[end]))
      ++end;
    const bool dotted = i > 0 && text[i - 1] == '.';
    const bool digit = i > 0 && std::isdigit(static_cast<unsigned char>(text[i - 1]));
    const bool exponent =
        (digit || (dotted && i > 1 && std::isdigit(static_cast<unsigned char>(text[i - 2])))) &&
        (text[i] == 'E' || text[i] == 'e');
    if (!digit && !exponent && !(dotted && end < text.size() && text[end] == '.'))
      all.emplace_back(i, end);
    i = end - 1;
  }
  return all;
}

std::string withOperators(std::string text) {
  static const std::pair<const char*, const char*> kWords[]{
      {".EQ.", "=="},  {".NE.", "!="},   {".LE.", "<="},  {".GE.", ">="},
      {".LT.", "<"},   {".GT.", ">"},    {".AND.", "&&"}, {".OR.", "||"},
      {".TRUE.", "1"}, {".FALSE.", "0"}, {"**", "^"},     {".NOT.", "0=="},
  };
  for (const auto& [word, sign] : kWords)
    for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at))
      text.replace(at, std::string_view(word).size(), sign);
  return text;
}

const std::set<std::string>& functions() {
  static const std::set<std::string> kNames{"SIN",  "COS", "TAN", "ASIN", "ACOS", "ATAN", "ATAN2",
                                            "SQRT", "ABS", "EXP", "LN",   "LOG",  "INT",  "NINT",
                                            "MOD",  "MIN", "MAX", "DTOR", "RTOD", "DBLE"};
  return kNames;
}

double nint(double x) {
  return std::round(x);
}
double truncated(double x) {
  return std::trunc(x);
}
double plainly(double x) {
  return x;
}
double modulo(double x, double y) {
  return std::fmod(x, y);
}

std::optional<double> calculated(const std::string& text) {
  try {
    mu::Parser parser;
    parser.DefineFun("SIN", static_cast<double (*)(double)>(std::sin));
    parser.DefineFun("COS", static_cast<double (*)(double)>(std::cos));
    parser.DefineFun("TAN", static_cast<double (*)(double)>(std::tan));
    parser.DefineFun("ASIN", static_cast<double (*)(double)>(std::asin));
    parser.DefineFun("ACOS", static_cast<double (*)(double)>(std::acos));
    parser.DefineFun("ATAN", static_cast<double (*)(double)>(std::atan));
    parser.DefineFun("ATAN2", static_cast<double (*)(double, double)>(std::atan2));
    parser.DefineFun("SQRT", static_cast<double (*)(double)>(std::sqrt));
    parser.DefineFun("ABS", static_cast<double (*)(double)>(std::fabs));
    parser.DefineFun("EXP", static_cast<double (*)(double)>(std::exp));
    parser.DefineFun("LN", static_cast<double (*)(double)>(std::log));
    parser.DefineFun("LOG", static_cast<double (*)(double)>(std::log10));
    parser.DefineFun("INT", truncated);
    parser.DefineFun("NINT", nint);
    parser.DefineFun("DBLE", plainly);
    parser.DefineFun("MOD", modulo);
    parser.DefineFun("MIN", static_cast<double (*)(double, double)>(std::fmin));
    parser.DefineFun("MAX", static_cast<double (*)(double, double)>(std::fmax));
    parser.DefineFun("DTOR", static_cast<double (*)(double)>(radians));
    parser.DefineFun("RTOD", static_cast<double (*)(double)>(degrees));
    parser.SetExpr(text);
    const double value = parser.Eval();
    if (parser.GetNumResults() != 1 || !std::isfinite(value)) return {};
    return value;
  } catch (const mu::Parser::exception_type&) {
    return {};
  }
}

// The arguments of "CONCAT('A', STR(I))"; nothing where it is no call of this function.
std::optional<std::vector<std::string>> argumentsOf(const std::string& text,
                                                    const std::string& function) {
  if (upperCase(text.substr(0, function.size())) != function) return {};
  const auto open = text.find_first_not_of(' ', function.size());
  if (open == std::string::npos || text[open] != '(' || text.back() != ')') return {};
  std::vector<std::string> arguments(1);
  int depth = 0;
  bool quoted = false;
  for (std::size_t i = open + 1; i + 1 < text.size(); ++i) {
    const char c = text[i];
    if (c == '\'') quoted = !quoted;
    if (!quoted) depth += (c == '(') - (c == ')');
    if (depth < 0) return {};
    if (c == ',' && depth == 0 && !quoted)
      arguments.emplace_back();
    else
      arguments.back() += c;
  }
  return arguments;
}

std::string withoutBlanks(const std::string& text) {
  const auto from = text.find_first_not_of(" \t"), to = text.find_last_not_of(" \t");
  return from == std::string::npos ? "" : text.substr(from, to - from + 1);
}

std::optional<Value> joined(const std::vector<std::string>& parts, const Variables& variables) {
  std::string text;
  for (const std::string& part : parts) {
    const auto value = valueOf(part, variables);
    if (!value) return {};
    text += written(*value);
  }
  return text;
}

} // namespace

std::string written(const Value& value) {
  if (const auto* text = std::get_if<std::string>(&value)) return *text;
  return fmt::format("{:.12g}", std::get<double>(value));
}

bool namesVariable(const std::string& text, const Variables& variables) {
  for (const auto& [from, to] : namesIn(text))
    if (variables.count(upperCase(text.substr(from, to - from))) > 0) return true;
  return false;
}

std::optional<Value> valueOf(const std::string& expression, const Variables& variables) {
  const std::string text = withoutBlanks(expression);
  constexpr std::size_t kLongest = 4096;
  if (text.empty() || text.size() > kLongest) return {};
  if (const auto quoted = unquoted(text); quoted && text.find('\'', 1) == text.size() - 1)
    return *quoted;
  if (const auto parts = argumentsOf(text, "CONCAT")) return joined(*parts, variables);
  if (const auto parts = argumentsOf(text, "STR")) return joined(*parts, variables);
  if (const auto alone = variables.find(upperCase(text)); alone != variables.end())
    return alone->second;
  std::string plain;
  std::size_t at = 0;
  for (const auto& [from, to] : namesIn(text)) {
    plain += upperCase(text.substr(at, from - at));
    at = to;
    const std::string name = upperCase(text.substr(from, to - from));
    const auto next = text.find_first_not_of(' ', to);
    if (next != std::string::npos && text[next] == '(') {
      if (functions().count(name) == 0) return {};
      plain += name;
      continue;
    }
    const auto variable = variables.find(name);
    if (variable == variables.end() || !variable->second ||
        !std::holds_alternative<double>(*variable->second))
      return {};
    plain += fmt::format("({:.17g})", std::get<double>(*variable->second));
  }
  plain += upperCase(text.substr(at));
  if (plain.find('\'') != std::string::npos) return {};
  const auto number = calculated(withOperators(plain));
  return number ? std::optional<Value>(*number) : std::nullopt;
}

} // namespace alder::dmis
