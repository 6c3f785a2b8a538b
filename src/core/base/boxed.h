// A value that lives elsewhere, so that what holds it stays small; copied with it. One that was
// moved from holds nothing and may only be assigned to.
#pragma once

#include <concepts>
#include <memory>
#include <type_traits>
#include <utility>

namespace alder {

template <class T> class Boxed {
 public:
  Boxed()
      : value_(std::make_unique<T>()) {}
  template <class From>
  requires(std::convertible_to<From, T> && !std::same_as<std::remove_cvref_t<From>, Boxed>)
      Boxed(From&& value)
      : value_(std::make_unique<T>(std::forward<From>(value))) {}
  Boxed(const Boxed& other)
      : value_(std::make_unique<T>(*other.value_)) {}
  Boxed(Boxed&&) noexcept = default;
  Boxed& operator=(const Boxed& other) {
    value_ = std::make_unique<T>(*other.value_);
    return *this;
  }
  Boxed& operator=(Boxed&&) noexcept = default;

  operator const T&() const { return *value_; }
  const T& operator*() const { return *value_; }
  T& operator*() { return *value_; }
  const T* operator->() const { return value_.get(); }
  T* operator->() { return value_.get(); }
  friend bool operator==(const Boxed& a, const Boxed& b) { return *a.value_ == *b.value_; }

 private:
  std::unique_ptr<T> value_;
};

} // namespace alder
