// SPDX-License-Identifier: MIT
#include <mnemon/study/run_job.hpp>

#include <algorithm>
#include <memory>
#include <new>
#include <utility>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/run/following.hpp>
#include <mnemon/sequence/position.hpp>
#include <mnemon/study/core_pin.hpp>
#include <mnemon/study/moments.hpp>
#include <mnemon/track/shown_tracker.hpp>

namespace mnemon {
namespace {

constexpr int kWarmUpFrames = 50;

// The trackers that a job needs, one after the other.
class Maker {
 public:
  Maker(const Job& job, const Catalogue& catalogue, const Sequence& sequence)
      : planned_(*job.tracker), catalogue_(catalogue), set_(job.tracker->set), keep_out_(sequence.keep_out) {
    if (planned_.process) process_ = process_of(job, sequence.rate_hz);
    if (planned_.repeats > 1 && !is_command(planned_)) {
      const ParamSet all = completed(set_, catalogue.entry(planned_.name).schema);
      set_[kRandomSeed] = std::get<int>(all.at(kRandomSeed)) + job.repeat;
    }
    if (process_) process_->set = set_;
  }

  [[nodiscard]] std::unique_ptr<Tracker> make() const {
    if (!process_) return shown(catalogue_.make(planned_.name, set_), {.keep_out = keep_out_});
    ProcessSpec spec = *process_;
    const int width = take_width(spec.set, planned_.label);
    return shown(std::make_unique<ProcessTracker>(std::move(spec)), {width, keep_out_});
  }

  // Forgets what was taken so far: warming up is not part of a run.
  void start_counting() const {
    if (process_) *process_->use = {};
  }

  // What the process of a run took, once its trackers are gone.
  void tell_use(StudyRun& run) const {
    if (!process_) return;
    const ProcessUse& use = *process_->use;
    if (use.told_steps > 0) run.told_ms = use.told_ms / use.told_steps;
    run.peak_bytes = use.peak_bytes;
  }

 private:
  // A process that is kept to one core must not serve runs that are not, so timed runs have their own.
  static ProcessSpec process_of(const Job& job, double rate_hz) {
    ProcessSpec process = *job.tracker->process;
    process.rate_hz = rate_hz;
    process.random_seed = 1 + job.repeat;
    process.use = std::make_shared<ProcessUse>();
    if (job.is_timed()) process.home = std::make_shared<ProcessHome>();
    return process;
  }

  const PlannedTracker& planned_;
  const Catalogue& catalogue_;
  ParamSet set_;
  std::vector<Polygon> keep_out_;
  std::optional<ProcessSpec> process_;
};

void forget_times(Trace& trace) {
  for (TraceRow& row : trace.rows) row.step_ms.reset();
}

void warm_up(Tracker& tracker, FrameSource& frames, const Start& start) {
  skip_to(frames, start.frame, "the sequence");
  Following following(tracker, frames, {.last = start.frame + kWarmUpFrames},
                      [&](const Frame&, bool has_target) {
                        return has_target ? std::nullopt : std::optional<Region>(start.region());
                      });
  while (following.step()) {
  }
}

void run_protocol(const Job& job, const ProtocolGround& ground, const Maker& maker, StudyRun& run) {
  std::optional<CorePin> pin;
  if (job.is_timed()) {
    pin.emplace();
    warm_up(*ground.make(), *ground.open(), ground.start);
    maker.start_counting();
  }
  ProtocolRun made = job.protocol->entry().run(job.protocol->params, ground);
  run.trace = std::move(made.trace);
  run.highest_rate_hz = made.highest_rate_hz;
  run.rate_areas = std::move(made.rate_areas);
  maker.tell_use(run);
  if (!job.is_timed()) forget_times(run.trace);
}

void take_trace(const Job& job, StudyRun& run) {
  const std::optional<BoxListForm>& form = job.tracker->form;
  // A list of boxes by its ending, where the plan does not say what it is.
  run.trace =
      form || job.trace.extension() == ".txt"
          ? trace_of_boxes(parse_box_list(read_file(job.trace), job.trace, form.value_or(BoxListForm{})))
          : read_trace(job.trace);
  run.source = job.source;
  run.timed =
      std::ranges::any_of(run.trace.rows, [](const TraceRow& row) { return row.step_ms.has_value(); });
}

RunScore scored(const Trace& trace, const Ground& ground, const ScoreOptions& options) {
  const Truth& truth = ground.sequence.facts.truth;
  if (trace.masks.empty()) return score_run(truth, trace, options);
  return score_run({truth.rows, ground.masks.of(ground.sequence.facts)}, trace, options);
}

// What is to be looked at later: crops around the run's troubles, and the inner pictures at its losses. Made after the run
// and outside its times.
void add_moments(const Job& job, const Ground& ground, const Maker* maker, const Start& start,
                 std::size_t moment_bytes, StudyRun& run) {
  if (!job.has_crops) return;
  const Truth& truth = ground.sequence.facts.truth;
  const auto open = [&] { return ground.frames ? ground.frames->open() : ground.sequence.frames.open(); };
  const std::size_t crop_bytes = moment_bytes / 3 * 2;
  const std::vector<int> cut = frames_to_cut(run.troubles, ground.sequence.frames.count, crop_bytes);
  if (!cut.empty()) run.crops = cut_crops(*open(), cut, truth, run.trace, crop_bytes);
  run.has_stages = job.keeps_stages;
  if (!job.keeps_stages || maker == nullptr) return;
  const std::vector<int> looked_into = frames_to_look_into(run.troubles);
  if (looked_into.empty()) return;
  try {
    run.stages = stages_on(*maker->make(), *open(), start, looked_into, moment_bytes - crop_bytes);
  } catch (const Error&) {
    // The run is whole and scored: that a tracker failed when it was only looked at again does not undo it.
  }
}

}  // namespace

StudyRun run_job(const Job& job, const Ground& ground, const Catalogue& catalogue, const JobRules& rules) {
  StudyRun run;
  run.timed = job.is_timed();
  if (job.tracker->process) run.source = job.source;
  const Truth& truth = ground.sequence.facts.truth;
  std::optional<Maker> maker;
  Start start;
  try {
    if (!job.trace.empty()) {
      take_trace(job, run);
    } else {
      maker.emplace(job, catalogue, ground.sequence.facts);
      start = starts_of(*job.protocol, truth).at(static_cast<std::size_t>(job.start));
      run_protocol(job,
                   {[&] { return maker->make(); }, [&] { return ground.frames->open(); }, truth,
                    ground.sequence.facts.rate_hz, start, rules.limit},
                   *maker, run);
    }
    for (TraceRow& row : run.trace.rows) add_position(ground.sequence.facts, row);
    run.score = std::make_shared<const RunScore>(scored(run.trace, ground, job.protocol->score_options()));
    run.troubles = troubles_of_run(truth, run.trace, job.protocol->score_options());
    add_moments(job, ground, maker ? &*maker : nullptr, start, rules.moment_bytes, run);
  } catch (const std::bad_alloc&) {
    run.failure = "there was not enough memory for it";
  } catch (const std::exception& error) {
    run.failure = *error.what() != '\0' ? error.what() : "it failed without saying why";
  } catch (...) {  // a tracker may be anybody's
    run.failure = "it threw what is no exception of the standard library";
  }
  if (!run.failure.empty()) {
    run.trace = {};
    run.score.reset();
    run.troubles = {};
    run.crops = {};
    run.stages = {};
  }
  return run;
}

}  // namespace mnemon
