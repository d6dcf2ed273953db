// SPDX-License-Identifier: MIT
#include <mnemon/base/json.hpp>

#include <variant>

#include <nlohmann/json.hpp>

namespace mnemon {

std::string json_text(const Json& json, int indent) {
  return json.dump(indent, ' ', false, Json::error_handler_t::replace);
}

Json param_json(const ParamValue& value) {
  return std::visit([](const auto& one) { return Json(one); }, value);
}

Json params_json(const ParamSet& params) {
  Json json = Json::object();
  for (const auto& entry : params) json[entry.first] = param_json(entry.second);
  return json;
}

ParamSet params_from_json(const std::string& text) {
  const Json json = Json::parse(text, nullptr, false);
  ParamSet params;
  if (!json.is_object()) return params;
  for (const auto& [name, value] : json.items()) {
    if (value.is_boolean()) params[name] = value.get<bool>();
    if (value.is_string()) params[name] = value.get<std::string>();
    if (value.is_number_float()) params[name] = value.get<double>();
    if (value.is_number_integer()) params[name] = value.get<int>();
  }
  return params;
}

}  // namespace mnemon
