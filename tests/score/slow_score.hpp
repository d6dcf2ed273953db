// SPDX-License-Identifier: MIT
#pragma once
#include <map>
#include <string>

#include <mnemon/score/order.hpp>
#include <mnemon/sequence/trace.hpp>
#include <mnemon/sequence/truth.hpp>

namespace mnemon::test {

/// The scalar measures of a run worked out again, frame by frame from their definitions and with no thought
/// for speed, to compare the library with. \param restart  Whether to score under restart.
std::map<std::string, Figure> slow_score(const Truth& truth, const Trace& trace, bool restart);

}  // namespace mnemon::test
