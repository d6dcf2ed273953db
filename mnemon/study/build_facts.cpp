// SPDX-License-Identifier: MIT
#include <mnemon/study/build_facts.hpp>

#include <fstream>
#include <string_view>

#include <mnemon/base/number_text.hpp>
#include <mnemon/base/workers.hpp>

namespace mnemon {

extern const std::string_view kCodeFingerprint;  // made by the build from the sources

namespace {

std::string processor_name() {
  std::ifstream info("/proc/cpuinfo");
  for (std::string line; std::getline(info, line);)
    if (line.starts_with("model name")) return std::string(trimmed(line.substr(line.find(':') + 1)));
  return "unknown";
}

}  // namespace

BuildFacts build_facts() {
  return {MNEMON_VERSION, std::string(kCodeFingerprint), MNEMON_COMPILER, processor_name(), core_count()};
}

}  // namespace mnemon
