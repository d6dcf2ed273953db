// SPDX-License-Identifier: MIT
#pragma once
#include <map>
#include <memory>
#include <mutex>
/// \file
/// What the files share that see a package of transforms; not part of the interface.
namespace mnemon::detail {

/// Planning serves one thread at a time, whatever is planned; running a plan is free of this.
[[nodiscard]] inline std::mutex& planner_mutex() {
  static std::mutex mutex;
  return mutex;
}

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
