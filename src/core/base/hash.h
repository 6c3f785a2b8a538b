// FNV-1a of 64 bits: tells texts apart, guards nothing.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace alder {

constexpr std::uint64_t kHashOfNothing = 1469598103934665603ull;
constexpr std::uint64_t hashOf(std::string_view text, std::uint64_t before = kHashOfNothing) {
  for (const char c : text)
    before = (before ^ static_cast<unsigned char>(c)) * 1099511628211ull;
  return before;
}
// The same for long texts, eight times as fast; another number.
std::uint64_t hashOfLong(std::string_view text, std::uint64_t before = kHashOfNothing);
std::string hashText(std::uint64_t hash); // 16 digits

} // namespace alder
