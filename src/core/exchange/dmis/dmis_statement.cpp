#include "exchange/dmis/dmis_statement.h"

#include "exchange/dmis/dmis_text.h"
#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>

namespace alder::dmis {
namespace {

std::string trimmed(std::string_view text) {
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front())))
    text.remove_prefix(1);
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back())))
    text.remove_suffix(1);
  return std::string(text);
}

// Index of the first `wanted` outside quotes and brackets, or the end.
std::size_t findOutside(const std::string& text, char wanted, std::size_t from) {
  bool quoted = false;
  int depth = 0;
  for (std::size_t i = from; i < text.size(); ++i) {
    const char c = text[i];
    if (c == '\'') quoted = !quoted;
    if (quoted) continue;
    if (c == wanted && depth == 0) return i;
    if (c == '(') ++depth;
    if (c == ')') depth = std::max(0, depth - 1);
  }
  return text.size();
}

bool isName(const std::string& text) {
  return !text.empty() && !std::isdigit(static_cast<unsigned char>(text[0])) &&
         std::all_of(text.begin(), text.end(),
                     [](unsigned char c) { return std::isalnum(c) || c == '_'; });
}

void takeApart(Statement& s) {
  std::string body = s.text;
  const std::size_t equals = findOutside(body, '=', 0), slash = findOutside(body, '/', 0);
  if (equals < std::min(slash, body.size())) {
    if (const auto label = referenceIn(trimmed(body.substr(0, equals)))) {
      s.kind = label->kind;
      s.label = label->label;
      body = trimmed(body.substr(equals + 1));
    } else if (const std::string name = trimmed(body.substr(0, equals)); isName(name)) {
      s.variable = upperCase(name);
      body = trimmed(body.substr(equals + 1));
    }
  }
  const std::size_t end = findOutside(body, '/', 0);
  s.word = upperCase(trimmed(body.substr(0, end)));
  if (!std::all_of(s.word.begin(), s.word.end(),
                   [](unsigned char c) { return std::isalnum(c) || c == '_'; }))
    s.word.clear();
  for (std::size_t at = end + 1; at <= body.size() && end < body.size();) {
    const std::size_t comma = findOutside(body, ',', at);
    s.arguments.push_back(trimmed(std::string_view(body).substr(at, comma - at)));
    at = comma + 1;
  }
}

} // namespace

std::string upperCase(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
  return text;
}

std::optional<double> Statement::number(std::size_t index) const {
  if (index >= arguments.size()) return {};
  const std::string& written = arguments[index];
  const char* begin = written.data() + (!written.empty() && written[0] == '+' ? 1 : 0);
  double value = 0;
  const char* const last = written.data() + written.size();
  const auto [end, code] = std::from_chars(begin, last, value);
  if (code != std::errc{} || end != last || !std::isfinite(value)) return {};
  return value;
}

bool Statement::is(std::size_t index, std::string_view what) const {
  return index < arguments.size() && upperCase(arguments[index]) == what;
}

std::optional<Reference> referenceIn(const std::string& argument) {
  const auto open = argument.find('(');
  if (open == std::string::npos || open == 0 || argument.back() != ')') return {};
  Reference r{upperCase(argument.substr(0, open)),
              trimmed(std::string_view(argument).substr(open + 1, argument.size() - open - 2))};
  const bool word =
      std::all_of(r.kind.begin(), r.kind.end(), [](unsigned char c) { return std::isalpha(c); });
  if (!word || r.label.empty()) return {};
  return r;
}

std::optional<std::string> unquoted(const std::string& argument) {
  if (argument.size() < 2 || argument.front() != '\'' || argument.back() != '\'') return {};
  std::string out;
  for (std::size_t i = 1; i + 1 < argument.size(); ++i) {
    out += argument[i];
    if (argument[i] == '\'' && argument[i + 1] == '\'') ++i;
  }
  return out;
}

std::vector<Statement> statementsOf(const std::string& program) {
  std::vector<Statement> all;
  Statement open;
  bool goes_on = false;
  int line = 0;
  for (std::size_t at = 0; at < program.size();) {
    // Lines end with LF, CR LF, or CR alone.
    const auto end = std::min(program.find_first_of("\r\n", at), program.size());
    std::string text = trimmed(std::string_view(program).substr(at, end - at));
    at = end + (program.compare(end, 2, "\r\n") == 0 ? 2 : 1);
    ++line;
    if (text.starts_with(kGoesOn) && !all.empty() && all.back().comment && !goes_on) {
      all.back().text += text.substr(std::string_view(kGoesOn).size());
      continue;
    }
    if (text.starts_with("$$")) {
      Statement comment;
      comment.line = line;
      comment.comment = true;
      comment.text = trimmed(std::string_view(text).substr(2));
      all.push_back(std::move(comment));
      continue;
    }
    if (text.empty() && !goes_on) continue;
    if (!goes_on) open = Statement{}, open.line = line;
    goes_on = !text.empty() && text.back() == '$';
    if (goes_on) text.pop_back();
    open.text += text;
    if (goes_on) continue;
    takeApart(open);
    all.push_back(std::move(open));
    open = {};
  }
  if (goes_on) { // the last line goes on into nothing
    takeApart(open);
    all.push_back(std::move(open));
  }
  return all;
}

} // namespace alder::dmis
