// SPDX-License-Identifier: MIT
#include <benchmark/benchmark.h>

#include <mnemon/study/build_facts.hpp>

int main(int argc, char** argv) {
  const mnemon::BuildFacts build = mnemon::build_facts();
  benchmark::AddCustomContext("processor", build.processor);
  benchmark::AddCustomContext("compiler", build.compiler);
  benchmark::AddCustomContext("code", build.code);
  benchmark::Initialize(&argc, argv);
  if (benchmark::ReportUnrecognizedArguments(argc, argv)) return 2;
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
