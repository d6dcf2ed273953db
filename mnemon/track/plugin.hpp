// SPDX-License-Identifier: MIT
#pragma once
#include <cstring>
#include <filesystem>

#include <mnemon/track/catalogue.hpp>
/// \file
/// Trackers from a shared library. Its one source has, outside of any namespace,
///
///     MNEMON_PLUGIN(catalogue) { catalogue.add(mnemon::tracker_entry<Mine, MineParams>("mine", "own", "Follows.", "")); }
///
/// and CMake's `mnemon_add_plugin(mine mine.cpp)` builds it. It brings no copy of the library: what it needs is that of the
/// program that loads it.

/// The text of what a macro stands for.
#define MNEMON_TEXT_OF_(x) #x
/// The same, once that stands for something itself.
#define MNEMON_TEXT_OF(x) MNEMON_TEXT_OF_(x)

namespace mnemon {

/// What program and plug-in have to be built alike in, in words: version, compiler, layout of the standard library,
/// assertions.
inline constexpr const char* kPluginBuild =
    "Mnemon " MNEMON_LIBRARY_VERSION ", compiler " __VERSION__ ", standard library " MNEMON_TEXT_OF(__GLIBCXX__) "/"
#if defined(_GLIBCXX_USE_CXX11_ABI) && _GLIBCXX_USE_CXX11_ABI
    "new"
#else
    "old"
#endif
#ifdef MNEMON_ASSERTIONS
    ", with assertions"
#endif
    ;

/// The function that a plug-in exports. Given how the program was built and its catalogue, it adds its trackers and returns
/// null; a plug-in that was built otherwise adds nothing and returns how.
using PluginFunction = const char* (*)(const char* build, Catalogue* catalogue);
/// What a plug-in has to be called by: its number changes with what that takes.
inline constexpr const char* kPluginFunction = "mnemon_plugin_1";

/// Adds a plug-in's trackers to a catalogue. The plug-in stays loaded until the program ends.
/// \throws CallError  where there is no such file, or it has a tracker whose name is taken; Error  where it cannot be loaded, is no
///                    plug-in, or was built otherwise than this program.
void load_plugin(const std::filesystem::path& file, Catalogue& catalogue);

}  // namespace mnemon

/// The function by which a plug-in adds its trackers.
#define MNEMON_PLUGIN(catalogue)                                                    \
  static void mnemon_plugin_entries(mnemon::Catalogue& catalogue);                  \
  extern "C" __attribute__((visibility("default"))) const char* mnemon_plugin_1(    \
      const char* build, mnemon::Catalogue* program_catalogue) {                    \
    if (std::strcmp(build, mnemon::kPluginBuild) != 0) return mnemon::kPluginBuild; \
    mnemon_plugin_entries(*program_catalogue);                                      \
    return nullptr;                                                                 \
  }                                                                                 \
  static void mnemon_plugin_entries(mnemon::Catalogue& catalogue)
