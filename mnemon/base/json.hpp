// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <nlohmann/json_fwd.hpp>

#include <mnemon/base/params.hpp>

namespace mnemon {

/// JSON with its keys in the order they were put in.
using Json = nlohmann::ordered_json;

/// Parameters as a JSON object.
[[nodiscard]] Json params_json(const ParamSet& params);

/// One of them.
[[nodiscard]] Json param_json(const ParamValue& value);

/// Parameters from the text of such an object; empty where it is none.
[[nodiscard]] ParamSet params_from_json(const std::string& text);

/// The text of JSON: on one line, or with `indent` blanks a level. What is no UTF-8 in it becomes U+FFFD.
[[nodiscard]] std::string json_text(const Json& json, int indent = -1);

}  // namespace mnemon
