// SPDX-License-Identifier: MIT
// The library's own trackers: the part of catalogue.hpp that knows them all.
#include <mnemon/track/blob/colour.hpp>
#include <mnemon/track/blob/motion.hpp>
#include <mnemon/track/catalogue.hpp>
#include <mnemon/track/corr/kernel.hpp>
#include <mnemon/track/corr/plain.hpp>
#include <mnemon/track/corr/reliable.hpp>
#include <mnemon/track/corr/scaled.hpp>
#include <mnemon/track/joint/fusion.hpp>
#include <mnemon/track/mask/memory.hpp>
#include <mnemon/track/mask/plain.hpp>
#include <mnemon/track/shift/adaptive.hpp>
#include <mnemon/track/shift/fixed.hpp>
#include <mnemon/track/stay.hpp>

namespace mnemon {

Catalogue Catalogue::standard() {
  Catalogue catalogue;
  catalogue.add(tracker_entry<CorrPlain, CorrPlainParams>(
      "corr-plain", "corr", "Adaptive single-channel correlation filter of fixed size.",
      "Bolme, Beveridge, Draper and Lui: Visual object tracking using adaptive correlation filters. CVPR "
      "2010",
      {}));
  catalogue.add(tracker_entry<CorrKernel, CorrKernelParams>(
      "corr-kernel", "corr", "Kernelised correlation filter over gradients and colours, of fixed size.",
      "Henriques, Caseiro, Martins and Batista: High-speed tracking with kernelized correlation filters. "
      "TPAMI "
      "2015",
      {.tells_rivals = true}));
  catalogue.add(tracker_entry<CorrScaled, CorrScaledParams>(
      "corr-scaled", "corr", "Correlation filter of many channels, with a filter over sizes.",
      "Danelljan, Häger, Khan and Felsberg: Discriminative scale space tracking. TPAMI 2017",
      {.tells_rivals = true}));
  catalogue.add(tracker_entry<CorrReliable, CorrReliableParams>(
      "corr-reliable", "corr", "Correlation filter kept to the target's own shape, with weighted channels.",
      "Lukežič, Vojíř, Čehovin Zajc, Matas and Kristan: Discriminative correlation filter tracker with "
      "channel and "
      "spatial reliability. IJCV 2018",
      {.tells_rivals = true}));
  catalogue.add(tracker_entry<ShiftFixed, ShiftFixedParams>(
      "shift-fixed", "shift", "Mean shift on the target's colours, of fixed size.",
      "Comaniciu, Ramesh and Meer: Kernel-based object tracking. TPAMI 2003; Bradski: Computer vision face "
      "tracking "
      "for use in a perceptual user interface. 1998",
      {.takes_shape = true, .answers_turned_box = true}));
  catalogue.add(tracker_entry<ShiftAdaptive, ShiftAdaptiveParams>(
      "shift-adaptive", "shift", "Mean shift on the target's colours, with size and turn by their moments.",
      "Bradski: Computer vision face tracking for use in a perceptual user interface. 1998; Zivkovic and "
      "Kröse: An "
      "EM-like algorithm for color-histogram-based object tracking. CVPR 2004",
      {.takes_shape = true, .answers_turned_box = true}));
  catalogue.add(tracker_entry<BlobColour, BlobColourParams>(
      "blob-colour", "blob", "The piece of matching colour that is most like the target.",
      "Swain and Ballard: Color indexing. IJCV 1991, for the ratio of histograms",
      {.takes_shape = true, .answers_mask = true, .answers_turned_box = true, .tells_rivals = true}));
  catalogue.add(tracker_entry<BlobMotion, BlobMotionParams>(
      "blob-motion", "blob", "The piece that stands out by its motion before a still camera.",
      "Wren, Azarbayejani, Darrell and Pentland: Real-time tracking of the human body. TPAMI 1997",
      {.answers_mask = true, .answers_turned_box = true}));
  catalogue.add(tracker_entry<MaskPlain, MaskPlainParams>(
      "mask-plain", "mask", "The target's mask moved along, and cut out anew by a minimum cut.",
      "Boykov and Kolmogorov: An experimental comparison of min-cut/max-flow algorithms for energy "
      "minimization in "
      "vision. TPAMI 2004; Rother, Kolmogorov and Blake: interactive foreground extraction using iterated "
      "graph cuts. SIGGRAPH 2004",
      {.takes_shape = true, .answers_mask = true, .answers_turned_box = true}));
  catalogue.add(tracker_entry<MaskMemory, MaskMemoryParams>(
      "mask-memory", "mask", "Several masks a frame, chosen by remembered appearance and by motion.",
      "Boykov and Kolmogorov: An experimental comparison of min-cut/max-flow algorithms for energy "
      "minimization in "
      "vision. TPAMI 2004, for the cuts; Kalman: A new approach to linear filtering and prediction problems. "
      "1960; Oh and others, ICCV 2019, Ravi and others, 2024, and Yang and others, 2024, for the memory",
      {.takes_shape = true, .answers_mask = true, .answers_turned_box = true, .tells_rivals = true}));
  catalogue.add(tracker_entry<Fusion, FusionParams>(
      "fusion", "joint",
      "A filter and a mask side by side, joined where they agree; else the likelier one answers.",
      "Lukežič, Vojíř, Čehovin Zajc, Matas and Kristan, IJCV 2018, and Boykov and Kolmogorov, TPAMI 2004, "
      "for the two "
      "ways; choosing between them is our own",
      {.takes_shape = true, .answers_mask = true, .tells_rivals = true}));
  catalogue.add(tracker_entry<Stay, StayParams>("stay", "floor",
                                                "Its box never moves: the floor under every table.", "", {}));
  for (TrackerEntry& entry : catalogue.entries_) entry.is_of_library = true;
  return catalogue;
}

}  // namespace mnemon
