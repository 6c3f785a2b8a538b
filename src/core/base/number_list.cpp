#include "base/number_list.h"

#include <algorithm>
#include <charconv>
#include <optional>

namespace alder {

std::vector<std::string> commaWords(const std::string& text) {
  std::vector<std::string> all;
  std::size_t at = 0;
  while (at <= text.size()) {
    const std::size_t end = std::min(text.find(',', at), text.size());
    std::string word = text.substr(at, end - at);
    const auto first = word.find_first_not_of(" \t");
    word = first == std::string::npos
               ? ""
               : word.substr(first, word.find_last_not_of(" \t") - first + 1);
    if (!word.empty()) all.push_back(word);
    at = end + 1;
  }
  return all;
}

namespace {

std::optional<int> numberIn(std::string_view text) {
  while (!text.empty() && text.front() == ' ')
    text.remove_prefix(1);
  while (!text.empty() && text.back() == ' ')
    text.remove_suffix(1);
  int value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (error != std::errc() || end != text.data() + text.size() || value < 0) return {};
  return value;
}

} // namespace

Result<std::vector<std::pair<int, int>>> numbersFrom(const std::string& text) {
  std::vector<std::pair<int, int>> all;
  for (const std::string& word : commaWords(text)) {
    const auto dash = word.find('-');
    const auto from = numberIn(std::string_view(word).substr(0, dash));
    const auto to =
        dash == std::string::npos ? from : numberIn(std::string_view(word).substr(dash + 1));
    if (!from || !to || *from > *to)
      return fail("\"{}\" is no balloon number nor a range such as 1-10", word);
    all.emplace_back(*from, *to);
  }
  return all;
}

} // namespace alder
