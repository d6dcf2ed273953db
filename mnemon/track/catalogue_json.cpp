// SPDX-License-Identifier: MIT
#include <mnemon/track/catalogue_json.hpp>

#include <nlohmann/json.hpp>

namespace mnemon {

Json entry_json(const TrackerEntry& entry) {
  Json json{{"name", entry.name}, {"family", entry.family}, {"summary", entry.summary}};
  json["paper"] = entry.paper.empty() ? Json() : Json(entry.paper);
  json["takes_shape"] = entry.abilities.takes_shape;
  json["answers_mask"] = entry.abilities.answers_mask;
  json["answers_turned_box"] = entry.abilities.answers_turned_box;
  json["tells_rivals"] = entry.abilities.tells_rivals;
  json["parameters"] = Json::array();
  for (const Field& field : entry.schema.fields) {
    Json one{{"name", field.name}, {"type", type_name(field)}, {"default", param_json(field.standard)}};
    if (std::holds_alternative<int>(field.standard) || std::holds_alternative<double>(field.standard)) {
      one["low"] = field.range.low;
      one["high"] = field.range.high;
    }
    if (!field.choices.empty()) one["choices"] = field.choices;
    for (const auto& [word, sets] : field.presets) one["presets"][word] = params_json(sets);
    one["unit"] = field.unit;
    one["acts_at"] = field.acts_at_step ? "step" : "seed";
    one["help"] = field.help;
    json["parameters"].push_back(one);
  }
  return json;
}

}  // namespace mnemon
