// SPDX-License-Identifier: MIT
// Seeds a tracker from a box on the first frame of a sequence, follows the target, and prints where it is.
//   follow_one SEQUENCE X Y W H
#include <cstdio>
#include <cstdlib>
#include <exception>

#include <mnemon/sequence/sequence.hpp>
#include <mnemon/track/catalogue.hpp>

namespace {

void follow(const char* folder, const mnemon::Box& box) {
  const mnemon::Sequence sequence = mnemon::read_sequence(folder);
  const auto frames = mnemon::open_frames(sequence);
  const auto tracker = mnemon::Catalogue::standard().make("corr-plain", {{"padding", 2.5}});

  const auto first = frames->next();
  if (!first) return;
  tracker->seed(*first, box);
  while (const auto frame = frames->next()) {
    const mnemon::Estimate estimate = tracker->follow(*frame);
    const mnemon::Point middle = mnemon::centre(estimate.box.box);
    if (estimate.present)
      std::printf("frame %d: at (%.1f, %.1f), confidence %.2f\n", frame->index, middle.x, middle.y,
                  estimate.confidence);
    else
      std::printf("frame %d: lost\n", frame->index);
  }
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 6) {
    std::fprintf(stderr, "Usage: follow_one SEQUENCE X Y W H\n");
    return 2;
  }
  try {
    follow(argv[1], {std::atof(argv[2]), std::atof(argv[3]), std::atof(argv[4]), std::atof(argv[5])});
    return 0;
  } catch (const std::exception& error) {
    std::fprintf(stderr, "follow_one: %s\n", error.what());
    return 1;
  }
}
