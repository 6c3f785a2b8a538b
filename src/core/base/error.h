// Expected failures are returned, never thrown across a module border.
// A message is one line: what is wrong, where, and what the user can do about it.
#pragma once

#include <fmt/format.h>
#include <string>
#include <tl/expected.hpp>
#include <utility>

namespace alder {

// What a caller may have to know of a failure beside its words.
enum class ErrorCode {
  Other,
  NothingChanges, // an edit that would leave all as it is
  Cancelled,
};

struct Error {
  std::string message;
  ErrorCode code = ErrorCode::Other;
};

template <class T> using Result = tl::expected<T, Error>;
using Done = Result<void>;

template <class... Args>
tl::unexpected<Error> fail(fmt::format_string<Args...> text, Args&&... args) {
  return tl::unexpected<Error>(Error{fmt::format(text, std::forward<Args>(args)...)});
}

inline tl::unexpected<Error> nothingChanges() {
  return tl::unexpected<Error>(Error{"Nothing would change.", ErrorCode::NothingChanges});
}

inline tl::unexpected<Error> pass(const Error& error) {
  return tl::unexpected<Error>(error);
}

} // namespace alder
