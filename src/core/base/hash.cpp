#include "base/hash.h"

#include <cstring>
#include <fmt/format.h>

namespace alder {

// Eight bytes at a time, mixed by their upper half, which a product alone would not carry down.
std::uint64_t hashOfLong(std::string_view text, std::uint64_t before) {
  constexpr std::uint64_t kPrime = 0x9e3779b97f4a7c15ull;
  const auto mixed = [](std::uint64_t h, std::uint64_t word) {
    h = (h ^ word) * kPrime;
    return h ^ (h >> 32);
  };
  std::size_t at = 0;
  for (; at + 8 <= text.size(); at += 8) {
    std::uint64_t word = 0;
    std::memcpy(&word, text.data() + at, 8);
    before = mixed(before, word);
  }
  std::uint64_t rest = 0;
  if (at < text.size()) std::memcpy(&rest, text.data() + at, text.size() - at);
  return mixed(mixed(before, rest), text.size());
}

std::string hashText(std::uint64_t hash) {
  return fmt::format("{:016x}", hash);
}

} // namespace alder
