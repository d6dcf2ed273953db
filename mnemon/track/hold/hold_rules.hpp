// SPDX-License-Identifier: MIT
#pragma once
/// \file
/// What the round goes by that every tracker which can lose its target goes. A tracker's parameter struct inherits
/// from these and sets defaults of its own.
namespace mnemon {

/// Confidences, and how they are made.
struct HoldRules {
  double confidence_half = 0.5;
  double confidence_steepness = 4;
  double present_from = 0.3;
  double learn_from = 0.5;
  double refind_from = 0.6;

  static void describe(auto& schema) {
    using P = HoldRules;
    schema.at_step().field(
        "confidence_half", &P::confidence_half, {0.05, 1.0}, "",
        "Share of the usual peak or contrast that means confidence 0.5; raising it makes losses be "
        "seen sooner.");
    schema.at_step().field("confidence_steepness", &P::confidence_steepness, {0.5, 30.0}, "",
                           "How fast confidence falls with it; raising it makes it more of a yes or no.");
    schema.at_step().field("present_from", &P::present_from, {0.0, 1.0}, "confidence",
                           "Below it the target is reported as not present, and is looked for.");
    schema.at_step().field("learn_from", &P::learn_from, {0.0, 1.0}, "confidence",
                           "Below it nothing is learnt from a frame; raising it keeps occluders out.");
    schema.at_step().field(
        "refind_from", &P::refind_from, {0.0, 1.0}, "confidence",
        "Needed to take something for the lost target; raising it avoids look-alikes and comes back "
        "later.");
  }
};

/// How a target is told from what is like it.
struct RivalRules {
  bool rivals = true;
  double tell_apart = 0.5;

  static void describe(auto& schema) {
    using P = RivalRules;
    schema.at_step().field(
        "rivals", &P::rivals,
        "Whether things like the target are looked for beside it, to tell it from them once it is "
        "lost.");
    schema.at_step().field(
        "tell_apart", &P::tell_apart, {0.0, 1.0}, "",
        "How far beyond the best of them, towards what is usual, it has to be; raising it avoids "
        "look-alikes, and takes longer.");
  }
};

}  // namespace mnemon
