// SPDX-License-Identifier: MIT
#include <mnemon/track/plugin.hpp>

#include <dlfcn.h>
#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon {

void load_plugin(const std::filesystem::path& file, Catalogue& catalogue) {
  std::error_code code;
  if (!std::filesystem::is_regular_file(file, code))
    throw CallError(fmt::format("{}: there is no such plug-in", file.string()));
  // By its whole path: a bare name would be looked for among the system's libraries.
  void* const library = ::dlopen(std::filesystem::absolute(file).c_str(), RTLD_NOW | RTLD_LOCAL);
  if (library == nullptr) throw Error(fmt::format("the plug-in cannot be loaded: {}", ::dlerror()));
  void* const found = ::dlsym(library, kPluginFunction);
  if (found == nullptr)
    throw Error(
        fmt::format("{} is no plug-in of this form: it has no function {}; build it with mnemon_add_plugin",
                    file.string(), kPluginFunction));
  const auto add = reinterpret_cast<PluginFunction>(found);
  if (const char* const built = add(kPluginBuild, &catalogue); built != nullptr)
    throw Error(fmt::format(
        "{} was built for another program and is to be built anew. It is of: {}. This program: {}",
        file.string(), built, kPluginBuild));
}

}  // namespace mnemon
