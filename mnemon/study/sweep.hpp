// SPDX-License-Identifier: MIT
#pragma once
#include <optional>
#include <string>
#include <vector>

#include <mnemon/base/params.hpp>
#include <mnemon/sequence/toml_file.hpp>

namespace mnemon {

/// Parameters that a sweep varies together, as a plan's `sweep` table gives them: each a list of values, or a range
/// `{from, to, count, scale}` whose scale is `even` or `log`. With a `sample` so many points are drawn at random, each
/// parameter on its own; without, there is every combination.
/// \returns  The points, each with a value for every parameter of the table. No point twice.
/// \throws DataError  where a parameter is unknown, a value out of range, or there are more than 10,000 points.
[[nodiscard]] std::vector<ParamSet> sweep_points(const TomlTable& table, const Schema& schema,
                                                 const std::string& owner, std::optional<int> sample);

/// A point in words, such as `padding=2, learning_rate=0.05`.
[[nodiscard]] std::string point_text(const ParamSet& point);

}  // namespace mnemon
