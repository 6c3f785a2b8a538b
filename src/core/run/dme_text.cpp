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

  // The rest of a line: calls, and of data also texts and words alone.
  Done all(DmeLine& line) {
    DmeCall data;
    if (auto read = arguments(data, 0, false); !read) return pass(read.error());
    if (!data.numbers.empty()) return fail("A number stands alone.");
    if (line.mark == ' ' && (!data.texts.empty() || !data.words.empty()))
      return fail("A bracket is missing.");
    line.calls = std::move(data.calls);
    line.texts = std::move(data.texts);
    line.texts.insert(line.texts.end(), data.words.begin(), data.words.end());
    return {};
  }

 private:
  void skip() {
    while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_])))
      ++at_;
  }

  // Up to the closing bracket, which is passed, or where `closed` is false to the end of the text.
  Done arguments(DmeCall& into, int depth, bool closed) {
    if (depth > kDeepest) return fail("Arguments lie too deep in each other.");
    while (true) {
      skip();
      if (at_ >= text_.size()) {
        if (!closed) return {};
        return fail("The bracket of {} is not closed.", into.name);
      }
      const char c = text_[at_];
      if (c == ')') {
        if (!closed) return fail("A bracket too many at position {}.", at_ + 1);
        return ++at_, Done();
      }
      if (c == ',') {
        ++at_;
      } else if (auto read = one(into, c, depth); !read) {
        return pass(read.error());
      }
    }
  }

  Done one(DmeCall& into, char c, int depth) {
    if (c == '"') {
      const auto end = text_.find('"', at_ + 1);
      if (end == std::string::npos) return fail("The text in {} does not end.", into.name);
      into.texts.push_back(text_.substr(at_ + 1, end - at_ - 1));
      at_ = end + 1;
      return {};
    }
    if (c == '-' || c == '+' || c == '.' || std::isdigit(static_cast<unsigned char>(c))) {
      double value = 0;
      const char* begin = text_.data() + at_ + (c == '+' ? 1 : 0);
      const auto [end, code] = std::from_chars(begin, text_.data() + text_.size(), value);
      if (code != std::errc{}) return fail("{} holds no number.", into.name);
      into.numbers.push_back(value);
      at_ = static_cast<std::size_t>(end - text_.data());
      return {};
    }
    const std::size_t from = at_;
    while (at_ < text_.size() && (std::isalnum(static_cast<unsigned char>(text_[at_])) ||
                                  text_[at_] == '.' || text_[at_] == '_'))
      ++at_;
    if (at_ == from) return fail("A name is missing at position {}.", at_ + 1);
    std::string word = text_.substr(from, at_ - from);
    skip();
    if (at_ >= text_.size() || text_[at_] != '(') {
      into.words.push_back(std::move(word));
      return {};
    }
    ++at_;
    DmeCall call;
    call.name = std::move(word);
    if (auto read = arguments(call, depth + 1, true); !read) return pass(read.error());
    into.calls.push_back(std::move(call));
    return {};
  }

  const std::string& text_;
  std::size_t at_ = 0;
};

// Plain decimals: no exponent, no minus zero, no zeros at the end.
std::string decimal(double value) {
  std::string text = fmt::format("{:.12f}", value);
  text.erase(text.find_last_not_of('0') + 1);
  if (text.back() == '.') text.pop_back();
  return text == "-0" ? "0" : text;
}

void writeCall(const DmeCall& call, std::string& out) {
  out += call.name + "(";
  const char* between = "";
  for (const double n : call.numbers)
    out += between + decimal(n), between = ", ";
  for (const std::string& t : call.texts)
    out += fmt::format("{}\"{}\"", between, t), between = ", ";
  for (const std::string& w : call.words)
    out += between + w, between = ", ";
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
  return {std::move(name), std::move(numbers), std::move(texts), std::move(calls), {}};
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
  if (auto read = reader.all(line); !read) return pass(read.error());
  if (line.mark == ' ' && line.calls.size() != 1) return fail("A line holds one command.");
  return line;
}

std::string dmeText(const DmeLine& line) {
  std::string out = line.tag + " ";
  if (line.mark != ' ') out += line.mark;
  if (line.mark != ' ' && !(line.calls.empty() && line.texts.empty())) out += ' ';
  const char* between = "";
  for (const std::string& t : line.texts)
    out += fmt::format("{}\"{}\"", between, t), between = ", ";
  for (const DmeCall& call : line.calls) {
    out += between;
    writeCall(call, out);
    between = ", ";
  }
  return out;
}

} // namespace alder
