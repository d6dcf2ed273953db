// SPDX-License-Identifier: MIT
#include <mnemon/study/build_facts.hpp>

#include <cstdlib>
#include <fstream>
#include <string_view>
#include <thread>
#include <vector>

#include <gnu/libc-version.h>
#include <link.h>
#include <sys/utsname.h>

#include <mnemon/base/fingerprint.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/signal/transform_plan.hpp>

namespace mnemon {

extern const std::string_view kCodeFingerprint;  // made by the build from the sources

namespace {

std::string processor_name() {
  std::ifstream info("/proc/cpuinfo");
  for (std::string line; std::getline(info, line);)
    if (line.starts_with("model name")) return std::string(trimmed(line.substr(line.find(':') + 1)));
  return "unknown";
}

// On a node that a task has to itself only in part, what others run there makes times longer: they are not to be mixed with
// those of a whole machine.
bool is_shared_node() {
  const char* const job = std::getenv("SLURM_JOB_ID");
  const char* const given = std::getenv("SLURM_CPUS_ON_NODE");
  if (job == nullptr || given == nullptr) return false;
  const auto cpus = parse_whole(given);
  return cpus && *cpus < static_cast<int>(std::thread::hardware_concurrency());
}

// The C library, too, has code of its own for processors with fused multiply-adds, of which last bits may differ.
std::string arithmetic() {
  utsname machine{};
  ::uname(&machine);
  std::string text = std::string(machine.machine) + " glibc-" + ::gnu_get_libc_version();
#if defined(__x86_64__)
  if (__builtin_cpu_supports("avx2") != 0 && __builtin_cpu_supports("fma") != 0) text += " fma";
#endif
  return text + " " + transform_arithmetic();
}

// The files that code is loaded from, those of the system left out.
std::vector<std::string> loaded_files() {
  std::vector<std::string> files{"/proc/self/exe"};
  ::dl_iterate_phdr(
      [](dl_phdr_info* info, std::size_t, void* list) {
        const std::string name = info->dlpi_name;  // empty for the program itself
        if (name.starts_with('/') && !name.starts_with("/usr/lib") && !name.starts_with("/lib"))
          static_cast<std::vector<std::string>*>(list)->push_back(name);
        return 0;
      },
      &files);
  return files;
}

}  // namespace

BuildFacts build_facts_of_own() {
  BuildFacts facts = build_facts();
  Fingerprint own;
  for (const std::string& file : loaded_files()) own.add(read_file(file));
  facts.code += "+" + own.text();
  facts.arithmetic += " on " + processor_name();
  return facts;
}

BuildFacts build_facts() {
  return {MNEMON_VERSION,  std::string(kCodeFingerprint),
          MNEMON_COMPILER, processor_name() + (is_shared_node() ? " (shared)" : ""),
          core_count(),    arithmetic()};
}

}  // namespace mnemon
