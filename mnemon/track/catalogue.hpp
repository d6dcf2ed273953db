// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include <mnemon/base/params.hpp>
#include <mnemon/track/tracker.hpp>

namespace mnemon {

/// What a tracker makes of its seed, and what it answers beyond an upright box.
struct TrackerAbilities {
  bool takes_shape = false;   ///< Whether it looks at the shape of a region; else at the box around it alone.
  bool answers_mask = false;  ///< And with it how broad the target is.
  bool answers_turned_box = false;  ///< Always, for turned seeds, or where a parameter asks for it.
  bool tells_rivals = false;        ///< Whether it looks for what is like the target beside it.
};

/// What can be known of a kind of tracker without running it.
struct TrackerEntry {
  std::string name;     ///< As plans and commands have it.
  std::string family;   ///< Such as `corr`, `shift`.
  std::string summary;  ///< One sentence.
  std::string paper;    ///< Authors, year, where; empty where it is after none.
  Schema schema;        ///< Of its parameters.
  /// A tracker with these parameters, the rest at their defaults.
  std::function<std::unique_ptr<Tracker>(const ParamSet&)> make;
  TrackerAbilities abilities = {};  ///< What it can do.
  bool is_of_library =
      false;  ///< Whether it comes with the library, so that the library's version tells its code.
  /// Has a tracker that `make` made go on by other parameters: those it was made with, but for some that act at the step. Empty
  /// where this kind of tracker cannot.
  /// \throws CallError  as make does.
  std::function<void(Tracker&, const ParamSet&)> retune = {};
};

/// The entry of a tracker class `T` whose parameter struct is `P`, which is made as `T(P)` and, where it can, goes on by others
/// with `retune(P)`.
template <class T, class P>
[[nodiscard]] TrackerEntry tracker_entry(std::string name, std::string family, std::string summary,
                                         std::string paper, const TrackerAbilities& abilities = {}) {
  auto make = [name](const ParamSet& params) -> std::unique_ptr<Tracker> {
    return std::make_unique<T>(bound_params<P>(params, name));
  };
  std::function<void(Tracker&, const ParamSet&)> retune;
  if constexpr (requires(T & tracker, const P& params) { tracker.retune(params); })
    retune = [name](Tracker& tracker, const ParamSet& params) {
      dynamic_cast<T&>(tracker).retune(bound_params<P>(params, name));
    };
  Schema schema = schema_of<P>();
  // What its parameters share with other trackers' may say that it acts at the step.
  if (!retune)
    for (Field& field : schema.fields) field.acts_at_step = false;
  return {std::move(name),   std::move(family), std::move(summary), std::move(paper),
          std::move(schema), std::move(make),   abilities,          false,
          std::move(retune)};
}

/// The trackers there are, by name. A program may add its own.
class Catalogue {
 public:
  /// The trackers of the library.
  [[nodiscard]] static Catalogue standard();

  /// Takes a tracker in. It can be shown frames at another width from then on: its entry has the parameter `width` besides.
  /// \throws CallError  where the name is taken, or it has a parameter `width` of its own.
  void add(TrackerEntry entry);

  /// In the order in which they were added.
  [[nodiscard]] const std::vector<TrackerEntry>& entries() const& noexcept { return entries_; }
  const std::vector<TrackerEntry>& entries() && = delete;  // of a catalogue about to go

  /// \throws CallError  where there is no such tracker, naming the nearest.
  [[nodiscard]] const TrackerEntry& entry(std::string_view name) const;

  /// A tracker with these parameters, the rest at their defaults.
  /// \throws CallError  where there is no such tracker or parameter, or a value is not allowed.
  [[nodiscard]] std::unique_ptr<Tracker> make(std::string_view name, const ParamSet& params) const;

 private:
  std::vector<TrackerEntry> entries_;
};

}  // namespace mnemon
