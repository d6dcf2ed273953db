// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <memory>

namespace mnemon {

/// Room for what is worked out and forgotten within one call. It is left as it comes: what no call needs costs no memory
/// then, and no time. A copy is as large, and holds nothing either.
template <class T>
class Scratch {
 public:
  Scratch() = default;
  /// For so many values, which are not set to anything.
  explicit Scratch(std::size_t count) : count_(count), data_(std::make_unique_for_overwrite<T[]>(count)) {}
  Scratch(const Scratch& other) {
    if (other.data_) *this = Scratch(other.count_);
  }
  Scratch(Scratch&&) noexcept = default;
  Scratch& operator=(const Scratch&) = delete;
  Scratch& operator=(Scratch&&) noexcept = default;
  ~Scratch() = default;

  /// The first of them.
  [[nodiscard]] T* get() noexcept { return data_.get(); }

 private:
  std::size_t count_ = 0;
  std::unique_ptr<T[]> data_;
};

}  // namespace mnemon
