#include "run/strict/strict_line.h"

#include <cstdlib>

namespace alder::strict {
namespace {

bool isDigit(char c) {
  return c >= '0' && c <= '9';
}
bool isLetter(char c) {
  return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
}

class Grammar {
 public:
  explicit Grammar(const std::string& line)
      : line_(line) {}

  Result<Command> command() {
    Command command;
    if (line_.size() < 6) return fail("The line is too short for a tag.");
    command.tag = line_.substr(0, 5);
    const bool event = line_[0] == 'E';
    for (std::size_t i = event ? 1 : 0; i < 5; ++i)
      if (!isDigit(line_[i])) return fail("The tag is not of digits.");
    const int number = std::atoi(command.tag.c_str() + (event ? 1 : 0));
    if (number < 1 || number > 9999) return fail("The tag is out of its range.");
    if (line_[5] != ' ') return fail("A blank stands after the tag.");
    at_ = 6;
    auto read = argument();
    if (!read) return pass(read.error());
    if (read->kind != Item::Kind::Call) return fail("A command is a name with brackets.");
    if (at_ != line_.size()) return fail("Something stands after the command.");
    command.call = std::move(*read);
    return command;
  }

 private:
  char here() const { return at_ < line_.size() ? line_[at_] : '\0'; }

  Result<Item> argument() {
    if (here() == '"') return quoted();
    if (here() == '-' || isDigit(here())) return number();
    if (!isLetter(here())) return fail("Nothing that is an argument stands at {}.", at_ + 1);
    Item item{Item::Kind::Word, {}, 0, {}};
    while (isLetter(here()) || isDigit(here()) || here() == '.')
      item.text += line_[at_++];
    if (here() != '(') return item;
    ++at_;
    item.kind = Item::Kind::Call;
    if (here() == ')') return ++at_, item;
    while (true) {
      auto inner = argument();
      if (!inner) return inner;
      item.items.push_back(std::move(*inner));
      if (here() == ')') return ++at_, item;
      if (here() != ',') return fail("A comma or a bracket is missing at {}.", at_ + 1);
      ++at_;
      if (here() == ' ') ++at_;
    }
  }

  Result<Item> quoted() {
    Item item{Item::Kind::Text, {}, 0, {}};
    for (++at_; here() != '"'; ++at_) {
      if (here() < 32 || here() > 126) return fail("A text holds what is not printable ASCII.");
      item.text += here();
    }
    ++at_;
    return item;
  }

  Result<Item> number() {
    Item item{Item::Kind::Number, {}, 0, {}};
    const std::size_t from = at_;
    if (here() == '-') ++at_;
    if (!isDigit(here())) return fail("A number has no digits at {}.", at_ + 1);
    while (isDigit(here()))
      ++at_;
    if (here() == '.') {
      ++at_;
      if (!isDigit(here())) return fail("Digits follow a point, at {}.", at_ + 1);
      while (isDigit(here()))
        ++at_;
    }
    item.value = std::strtod(line_.substr(from, at_ - from).c_str(), nullptr);
    return item;
  }

  const std::string& line_;
  std::size_t at_ = 0;
};

} // namespace

const Item* Item::find(const std::string& name) const {
  for (const Item& i : items)
    if (i.kind == Kind::Call && i.text == name) return &i;
  return nullptr;
}
bool Item::isNumberCall() const {
  return kind == Kind::Call && items.size() == 1 && items[0].kind == Kind::Number;
}
bool Item::isEmptyCall() const {
  return kind == Kind::Call && items.empty();
}

Result<Command> readCommand(const std::string& line) {
  return Grammar(line).command();
}

} // namespace alder::strict
