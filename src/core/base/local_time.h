// A moment as the clock on the wall shows it.
#pragma once

#include <array>
#include <cstdint>
#include <ctime>
#include <string>

namespace alder {

// `seconds` since 1970; `format` as of strftime, for at most 63 characters.
inline std::string localTime(std::int64_t seconds, const char* format) {
  const auto time = static_cast<std::time_t>(seconds);
  std::tm parts{};
  localtime_r(&time, &parts);
  std::array<char, 64> text{};
  std::strftime(text.data(), text.size(), format, &parts);
  return text.data();
}

} // namespace alder
