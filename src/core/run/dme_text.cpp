#include "run/dme_text.h"

#include <algorithm>
#include <cctype>
#include <charconv>

namespace alder {
namespace {

constexpr int kDeepest = 16;

class DmeReader {
 public:
  explicit DmeReader(const std::string& text)
      : text_(text) {}

  Result<std::vector<DmeCall>> list(int depth) {
    std::vector<DmeCall> calls;
    skip();
    while (at_ < text_.size() && text_[at_] != ')') {
      auto call = one(depth);
      if (!call) return pass(call.error());
      calls.push_back(std::move(*call));
      skip();
      if (at_ < text_.size() && text_[at_] == ',') ++at_, skip();
    }
    return calls;
  }
  bool atEnd() const { return at_ >= text_.size(); }
  std::size_t at() const { return at_; }

 private:
  void skip() {
    while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_])))
      ++at_;
  }

  Result<DmeCall> one(int depth) {
    if (depth > kDeepest) return fail("Arguments lie too deep in each other.");
    DmeCall call;
    const std::size_t from = at_;
    while (at_ < text_.size() && (std::isalnum(static_cast<unsigned char>(text_[at_])) ||
                                  text_[at_] == '.' || text_[at_] == '_'))
      ++at_;
    call.name = text_.substr(from, at_ - from);
    if (call.name.empty()) return fail("A name is missing at position {}.", at_ + 1);
    skip();
    if (at_ >= text_.size() || text_[at_] != '(')
      return fail("A bracket is missing after {}.", call.name);
    ++at_;
    while (true) {
      skip();
      if (at_ >= text_.size()) return fail("The bracket of {} is not closed.", call.name);
      const char c = text_[at_];
      if (c == ')') return ++at_, call;
      if (c == ',') {
        ++at_;
      } else if (c == '"') {
        const auto end = text_.find('"', at_ + 1);
        if (end == std::string::npos) return fail("The text in {} does not end.", call.name);
        call.texts.push_back(text_.substr(at_ + 1, end - at_ - 1));
        at_ = end + 1;
      } else if (c == '-' || c == '+' || c == '.' || std::isdigit(static_cast<unsigned char>(c))) {
        double value = 0;
        const char* begin = text_.data() + at_ + (c == '+' ? 1 : 0);
        const auto [end, code] = std::from_chars(begin, text_.data() + text_.size(), value);
        if (code != std::errc{}) return fail("{} holds no number.", call.name);
        call.numbers.push_back(value);
        at_ = static_cast<std::size_t>(end - text_.data());
      } else {
        auto inner = one(depth + 1);
        if (!inner) return pass(inner.error());
        call.calls.push_back(std::move(*inner));
      }
    }
  }

  const std::string& text_;
  std::size_t at_ = 0;
};

void writeCall(const DmeCall& call, std::string& out) {
  out += call.name + "(";
  const char* between = "";
  for (const std::string& t : call.texts)
    out += fmt::format("{}\"{}\"", between, t), between = ", ";
  for (const double n : call.numbers)
    out += fmt::format("{}{:.12g}", between, n), between = ", ";
  for (const DmeCall& c : call.calls) {
    out += between;
    writeCall(c, out);
    between = ", ";
  }
  out += ")";
}

} // namespace

const DmeCall* DmeCall::find(const std::string& wanted) const {
  const auto found =
      std::find_if(calls.begin(), calls.end(), [&](const DmeCall& c) { return c.name == wanted; });
  return found == calls.end() ? nullptr : &*found;
}

std::optional<double> DmeCall::number(const std::string& wanted) const {
  const DmeCall* call = find(wanted);
  return call && !call->numbers.empty() ? std::optional(call->numbers.front()) : std::nullopt;
}

DmeCall dmeCall(std::string name, std::vector<double> numbers, std::vector<std::string> texts,
                std::vector<DmeCall> calls) {
  return {std::move(name), std::move(numbers), std::move(texts), std::move(calls)};
}

Result<DmeLine> readDmeLine(const std::string& text) {
  std::string body = text;
  while (!body.empty() && (body.back() == '\r' || body.back() == '\n' || body.back() == ' '))
    body.pop_back();
  const auto digits = [&](std::size_t from) {
    return std::all_of(body.begin() + static_cast<std::ptrdiff_t>(from), body.begin() + 5,
                       [](unsigned char c) { return std::isdigit(c); });
  };
  if (body.size() < 7 || body[5] != ' ' || !(digits(0) || (body[0] == 'E' && digits(1))))
    return fail("A line begins with a tag of five places and a blank.");
  DmeLine line;
  line.tag = body.substr(0, 5);
  std::string rest = body.substr(6);
  if (std::string("&%#!").find(rest[0]) != std::string::npos) {
    line.mark = rest[0];
    rest = rest.substr(1);
  }
  DmeReader reader(rest);
  auto calls = reader.list(0);
  if (!calls) return pass(calls.error());
  if (!reader.atEnd()) return fail("A bracket too many at position {}.", reader.at() + 1);
  line.calls = std::move(*calls);
  if (line.mark == ' ' && line.calls.size() != 1) return fail("A line holds one command.");
  return line;
}

std::string dmeText(const DmeLine& line) {
  std::string out = line.tag + " ";
  if (line.mark != ' ') out += line.mark;
  if (line.mark != ' ' && !line.calls.empty()) out += ' ';
  for (std::size_t i = 0; i < line.calls.size(); ++i) {
    if (i > 0) out += ", ";
    writeCall(line.calls[i], out);
  }
  return out;
}

} // namespace alder
