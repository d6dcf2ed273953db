// SPDX-License-Identifier: MIT
// What spoke for the boxes of both ways of `fusion`, and whether they were on target: what tools/fit_evidence fits the weights to.
// A line a way and frame: sequence, way, on target (overlap above 0.5), and the fields of `Evidence`. Built with
// -DMNEMON_BENCH=ON.
//   build/release/tools/print_evidence SEQUENCE...
#include <cstdio>
#include <exception>
#include <string>

#include <mnemon/base/error.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/track/joint/fusion.hpp>

namespace {

using namespace mnemon;

void print(const std::string& sequence, const char* name, const Fusion::Way& way, const TruthRow& right) {
  const bool on_target = right.present && overlap(way.answer.box.box, upright_around(right.box)) > 0.5;
  const Evidence& evidence = way.evidence;
  std::printf("%s %s %d %.6f %.6f %d %d %.6f\n", sequence.c_str(), name, int{on_target}, evidence.confidence,
              evidence.contrast, int{evidence.agrees}, int{evidence.was_lost}, evidence.size_change);
}

void follow(const char* path) {
  const Sequence sequence = read_sequence(path);
  const TruthRow* start = sequence.truth.first_present();
  if (start == nullptr) throw CallError(std::string(path) + ": no truth says where the target is");
  const auto frames = open_frames(sequence);
  Fusion fusion({});
  while (const auto frame = frames->next()) {
    if (frame->index < start->frame) continue;
    if (frame->index == start->frame) {
      (void)fusion.seed(*frame, upright_around(start->box));
      continue;
    }
    (void)fusion.follow(*frame);
    const TruthRow* right = sequence.truth.find(frame->index);
    if (right == nullptr) continue;
    print(sequence.name, "filter", fusion.filter_way(), *right);
    print(sequence.name, "mask", fusion.mask_way(), *right);
  }
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 2) {
    std::fprintf(stderr, "print_evidence: name sequences with truth: print_evidence SEQUENCE...\n");
    return 2;
  }
  try {
    for (int i = 1; i < argc; ++i) follow(argv[i]);
    return 0;
  } catch (const std::exception& error) {
    std::fprintf(stderr, "print_evidence: %s\n", error.what());
    return 1;
  }
}
