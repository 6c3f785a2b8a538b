#include "statements.h"

#include <cctype>
#include <stdexcept>

namespace dmis_machine {
namespace {

[[noreturn]] void refuse(int line, const std::string& why) {
  throw std::runtime_error("line " + std::to_string(line) + ": " + why);
}

std::string trimmed(const std::string& text) {
  std::size_t from = 0, to = text.size();
  while (from < to && std::isspace(static_cast<unsigned char>(text[from])))
    ++from;
  while (to > from && std::isspace(static_cast<unsigned char>(text[to - 1])))
    --to;
  return text.substr(from, to - from);
}

// Up to the first of these outside texts and brackets.
std::size_t plainFind(const std::string& text, char wanted, std::size_t from, int line) {
  int depth = 0;
  bool quoted = false;
  for (std::size_t i = from; i < text.size(); ++i) {
    if (text[i] == '\'') quoted = !quoted;
    if (quoted) continue;
    if (text[i] == wanted && depth == 0) return i;
    if (text[i] == '(') ++depth;
    if (text[i] == ')' && --depth < 0) refuse(line, "a bracket closes that was not opened");
  }
  if (quoted || depth != 0) refuse(line, "ends within a text or a bracket");
  return std::string::npos;
}

Said taken(const std::string& text, int line) {
  Said s;
  s.line = line;
  std::size_t from = 0;
  const std::size_t equals = plainFind(text, '=', 0, line), slash = plainFind(text, '/', 0, line);
  if (equals != std::string::npos && (slash == std::string::npos || equals < slash)) {
    const std::string name = trimmed(text.substr(0, equals));
    const auto open = name.find('(');
    if (open != std::string::npos && name.back() == ')') {
      s.kind = name.substr(0, open);
      s.label = name.substr(open + 1, name.size() - open - 2);
    } else {
      s.kind = "variable";
      s.label = name;
    }
    from = equals + 1;
  }
  const std::size_t start = plainFind(text, '/', from, line);
  s.word = trimmed(text.substr(from, start == std::string::npos ? start : start - from));
  for (std::size_t at = start; at != std::string::npos;) {
    const std::size_t comma = plainFind(text, ',', at + 1, line);
    s.items.push_back(trimmed(
        text.substr(at + 1, comma == std::string::npos ? std::string::npos : comma - at - 1)));
    at = comma;
  }
  return s;
}

} // namespace

double Said::number(std::size_t i) const {
  std::size_t read = 0;
  try {
    if (i < items.size()) {
      const double value = std::stod(items[i], &read);
      if (read == items[i].size() && items[i].find_first_of("eE") == std::string::npos)
        return value;
    }
  } catch (const std::exception&) {
  }
  refuse(line, word + " needs a number in place " + std::to_string(i + 1));
}

std::string labelIn(const Said& said, std::size_t i, const char* kind) {
  const std::string begin = std::string(kind) + "(";
  if (i >= said.items.size() || said.items[i].rfind(begin, 0) != 0 || said.items[i].back() != ')')
    refuse(said.line, said.word + " needs " + kind + "() in place " + std::to_string(i + 1));
  return said.items[i].substr(begin.size(), said.items[i].size() - begin.size() - 1);
}

std::vector<Said> saidIn(const std::string& program) {
  std::vector<Said> all;
  std::string open; // continued
  int number = 0, first = 0;
  for (std::size_t at = 0; at < program.size();) {
    const std::size_t end = std::min(program.find('\n', at), program.size());
    const std::string line = trimmed(program.substr(at, end - at));
    ++number;
    if (end - at > 80) refuse(number, "is longer than 80 characters");
    at = end + 1;
    for (const char c : line)
      if (static_cast<unsigned char>(c) > 126 || static_cast<unsigned char>(c) < 32)
        refuse(number, "is not ASCII");
    if (open.empty()) first = number;
    if (line.rfind("$$", 0) == 0 || line.empty()) {
      if (!open.empty()) refuse(number, "a comment within a statement");
      continue;
    }
    if (line.back() == '$') {
      open += line.substr(0, line.size() - 1);
      continue;
    }
    all.push_back(taken(open + line, first));
    open.clear();
  }
  if (!open.empty()) refuse(number, "the last statement goes on behind the end");
  return all;
}

} // namespace dmis_machine
