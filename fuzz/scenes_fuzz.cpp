// SPDX-License-Identifier: MIT
#include <mnemon/scene/scene_spec.hpp>

#include "target.hpp"

// Scenes that can be read have parameters that can be bound or are refused with a message.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  try {
    for (const SceneSpec& spec : parse_scenes(fuzz::text_of(data, size), "scenes.toml"))
      bound_params<SceneParams>(spec.set, spec.name).check();
  } catch (const Error&) {
  }
  return 0;
}
