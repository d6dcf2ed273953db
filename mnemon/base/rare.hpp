// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <optional>

namespace mnemon {

/// A value that is seldom there, and takes no more room than a pointer where it is not: for rows of which there are many.
/// Copies are deep; equal where both have equal values, or neither has one.
template <class T>
class Rare {
 public:
  Rare() = default;
  /// Holds a copy of the value.
  Rare(const T& value) : value_(std::make_unique<T>(value)) {}
  /// Holds a copy of what is there, if anything is.
  Rare(const std::optional<T>& value) : value_(value ? std::make_unique<T>(*value) : nullptr) {}
  Rare(const Rare& other) : value_(other.value_ ? std::make_unique<T>(*other.value_) : nullptr) {}
  Rare(Rare&&) noexcept = default;
  Rare& operator=(const Rare& other) { return *this = Rare(other); }
  Rare& operator=(Rare&&) noexcept = default;
  ~Rare() = default;

  /// Whether there is a value.
  [[nodiscard]] bool has_value() const noexcept { return value_ != nullptr; }
  /// The same.
  explicit operator bool() const noexcept { return has_value(); }
  /// The value, which there has to be.
  const T& operator*() const noexcept { return *value_; }
  /// The same, to reach its members.
  const T* operator->() const noexcept { return value_.get(); }

  friend bool operator==(const Rare& a, const Rare& b) {
    return a && b ? *a == *b : a.has_value() == b.has_value();
  }

 private:
  std::unique_ptr<T> value_;
};

}  // namespace mnemon
