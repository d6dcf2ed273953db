// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <memory>

#include <mnemon/base/params.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// Makes the tracker that is to be served, with the settings that the host hands over.
using MakeWithSettings = std::function<std::unique_ptr<Tracker>(const ParamSet& settings)>;

/// Serves a tracker to the program that started this one, as docs/process.md says: reads calls from a file and writes
/// answers to another until it is told to end, or the calls end. A call that fails is answered with an error.
/// \param calls, answers  Descriptors, such as those of standard input and output.
/// \throws Error  where a call cannot be read, or an answer not be written.
void serve_tracker(const MakeWithSettings& make, int calls, int answers);

}  // namespace mnemon
