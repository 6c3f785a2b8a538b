#include "base/hash.h"

#include <fmt/format.h>

namespace alder {

std::string hashText(std::uint64_t hash) {
  return fmt::format("{:016x}", hash);
}

} // namespace alder
