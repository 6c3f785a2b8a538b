#include "exchange/results/word_roles.h"

#include <algorithm>
#include <set>

namespace alder {

static bool isInteger(const std::string& text) {
  const std::string plain = text.starts_with("#") ? text.substr(1) : text;
  const auto digits = plain.find_first_not_of("0123456789");
  return !plain.empty() && digits != 0 &&
         (digits == std::string::npos ||
          plain.find_first_not_of(".):", digits) == std::string::npos);
}

double shareOf(const std::vector<std::string>& rows, bool (*is)(const std::string&)) {
  std::size_t filled = 0, good = 0;
  for (const std::string& r : rows)
    if (!r.empty()) ++filled, good += is(r);
  return filled > 0 ? static_cast<double>(good) / static_cast<double>(filled) : 0;
}

bool areNumbers(const std::vector<std::string>& rows) {
  if (shareOf(rows, isInteger) <= 0.9) return false;
  if (std::set<std::string>(rows.begin(), rows.end()).size() * 10 >= rows.size() * 8) return true;
  long before = -1;
  for (const std::string& r : rows) {
    if (!isInteger(r) || r.size() > 12) continue;
    const long number = std::stol(r[0] == '#' ? r.substr(1) : r);
    if (number < before) return false;
    before = number;
  }
  return rows.size() > 2 && before > 0;
}

static std::size_t distinct(const std::vector<std::string>& rows) {
  return std::set<std::string>(rows.begin(), rows.end()).size();
}

bool isAxisWord(const std::string& text) {
  return characteristicOfWord(text).has_value();
}
bool isUnitWord(const std::string& text) {
  return figureUnitNamed(text).has_value();
}
bool isStatusWord(const std::string& text) {
  return passedBy(text).has_value() || plainWord(text) == "near" ||
         text.find_first_not_of("*<>-|#+!= ") == std::string::npos;
}

std::vector<ResultRole> wordRoles(const std::vector<WordColumn>& columns) {
  std::vector<ResultRole> roles(columns.size(), ResultRole::None);
  std::set<ResultRole> taken;
  const auto say = [&](std::size_t c, ResultRole role) {
    if (roles[c] != ResultRole::None || (role != ResultRole::None && !taken.insert(role).second))
      return;
    roles[c] = role;
  };
  for (std::size_t c = 0; c < columns.size(); ++c)
    if (columns[c].set) say(c, *columns[c].set);
  for (std::size_t c = 0; c < columns.size(); ++c)
    if (!columns[c].set && columns[c].titled != ResultRole::None && !isFigure(columns[c].titled))
      say(c, columns[c].titled);
  const auto open = [&](std::size_t c) {
    return roles[c] == ResultRole::None && !columns[c].set &&
           shareOf(columns[c].rows, [](const std::string&) { return true; }) > 0;
  };
  for (std::size_t c = 0; c < columns.size(); ++c) {
    const auto& rows = columns[c].rows;
    if (!open(c)) continue;
    if (shareOf(rows, isAxisWord) > 0.7)
      say(c, ResultRole::Axis);
    else if (shareOf(rows, isUnitWord) > 0.9)
      say(c, ResultRole::Unit);
    else if (shareOf(rows, isStatusWord) > 0.7)
      say(c, ResultRole::Status);
    else if (areNumbers(rows) && !columns[c].foreign_title)
      say(c, ResultRole::Id);
  }
  // Of the rest the one with the most different words is the name.
  std::vector<std::size_t> rest;
  for (std::size_t c = 0; c < columns.size(); ++c)
    if (open(c) && shareOf(columns[c].rows, isInteger) <= 0.9) rest.push_back(c);
  std::stable_sort(rest.begin(), rest.end(), [&](std::size_t a, std::size_t b) {
    return distinct(columns[a].rows) > distinct(columns[b].rows);
  });
  for (const std::size_t c : rest)
    say(c, taken.contains(ResultRole::Name) ? ResultRole::Feature : ResultRole::Name);
  return roles;
}

} // namespace alder
