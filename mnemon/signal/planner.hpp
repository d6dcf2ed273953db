// SPDX-License-Identifier: MIT
#pragma once
#include <map>
#include <memory>
#include <mutex>
/// \file
/// What the files that know FFTW share; not part of the interface.
namespace mnemon::detail {

/// FFTW's planner serves one thread at a time, whatever it plans; running a plan is free of this.
[[nodiscard]] std::mutex& planner_mutex();

/// The plans of one shape, made once in a process.
template <class Plans, class Shape>
[[nodiscard]] std::shared_ptr<const Plans> plans_of(const Shape& shape) {
  static std::map<Shape, std::shared_ptr<const Plans>> registry;
  const std::scoped_lock lock(planner_mutex());
  auto& plans = registry[shape];
  if (!plans) plans = std::make_shared<const Plans>(shape);
  return plans;
}

}  // namespace mnemon::detail
