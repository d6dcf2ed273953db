// SPDX-License-Identifier: MIT
#include <mnemon/study/runner.hpp>

#include <algorithm>
#include <cmath>
#include <set>

#include <fmt/format.h>

#include <mnemon/base/workers.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/study/core_pin.hpp>
#include <mnemon/study/follow.hpp>
#include <mnemon/study/score_record.hpp>

namespace mnemon {
namespace {

constexpr int kWarmUpFrames = 50;
constexpr int kPictures = 8;  // kept of a sequence, to look at
constexpr int kPictureWidth = 320;
constexpr int kPictureQuality = 88;

void warm_up(Tracker& tracker, const Sequence& sequence) {
  const int first = start_of(sequence, {});
  static_cast<void>(follow_sequence(tracker, sequence,
                                    {.box = {}, .from = first, .to = first + kWarmUpFrames, .width = {}}));
}

StudyRun timed_run(const PlannedTracker& planned, const Sequence& sequence, const std::string& protocol,
                   const Catalogue& catalogue) {
  StudyRun run;
  run.protocol = protocol;
  run.timed = true;
  try {
    const CorePin pin;
    warm_up(*catalogue.make(planned.name, planned.set), sequence);
    run.trace = follow_sequence(*catalogue.make(planned.name, planned.set), sequence);
    run.score = score_run(sequence.truth, run.trace);
  } catch (const std::exception& error) {
    run.failure = error.what();
  }
  return run;
}

// Evenly spread frames, and among them one from the middle of each stretch of absence, where there is any.
std::vector<int> frames_to_show(const Truth& truth, int frames) {
  std::set<int> shown;
  for (int i = 0; i < kPictures; ++i)
    shown.insert(static_cast<int>(std::lround(i * (frames - 1.0) / (kPictures - 1))));
  for (std::size_t i = 0; i < truth.rows.size(); ++i) {
    std::size_t end = i;
    while (end < truth.rows.size() && !truth.rows[end].present) ++end;
    if (end > i) shown.insert(truth.rows[(i + end - 1) / 2].frame);
    i = std::max(i, end);
  }
  return {shown.begin(), shown.end()};
}

void add_pictures(const Sequence& sequence, StudySequence& study) {
  study.frames = count_frames(sequence);
  std::vector<int> shown = frames_to_show(sequence.truth, study.frames);
  std::erase_if(shown, [&](int frame) { return frame >= study.frames; });
  visit_frames(*open_frames(sequence), shown, [&](const Frame& frame) {
    study.size = frame.size();
    const Image<Byte> small = resized_to_width(frame.rgb, std::min(kPictureWidth, study.size.width));
    study.pictures.push_back({frame.index, jpeg_bytes(small.view(), kPictureQuality)});
  });
}

// A sequence of the plan, read and known to the study.
struct ReadySequence {
  Sequence sequence;
  StudySequence study;
  std::int64_t id = 0;
};

ReadySequence read_ready(const std::filesystem::path& folder) {
  ReadySequence ready{read_sequence(folder), {}, 0};
  if (ready.sequence.truth.first_present() == nullptr)
    throw DataError({folder},
                    "has no truth with the target present, so nothing can be scored; add a truth.csv");
  const Sequence& sequence = ready.sequence;
  ready.study.name = sequence.name;
  ready.study.title = sequence.title;
  ready.study.path = std::filesystem::absolute(folder).lexically_normal().string();
  ready.study.fingerprint = fingerprint(sequence);
  ready.study.rate_hz = sequence.rate_hz;
  ready.study.tags = sequence.tags;
  ready.study.truth = sequence.truth;
  return ready;
}

std::vector<ReadySequence> read_sequences(const Plan& plan, int jobs, StudyWriter& writer) {
  std::vector<ReadySequence> ready(plan.sequences.size());
  for_each_index(static_cast<int>(ready.size()), jobs,
                 [&](int i) { ready[i] = read_ready(plan.sequences[i]); });
  for (ReadySequence& one : ready) {
    if (!writer.has_sequence(one.study.name, one.study.fingerprint)) add_pictures(one.sequence, one.study);
    one.id = writer.add_sequence(one.study);
  }
  return ready;
}

// One run of the plan.
struct Job {
  const PlannedTracker* tracker;
  std::int64_t tracker_id;
  const ReadySequence* sequence;
  std::string protocol;
};

std::vector<Job> plan_jobs(const Plan& plan, const Catalogue& catalogue,
                           const std::vector<ReadySequence>& sequences, StudyWriter& writer) {
  std::vector<Job> jobs;
  for (const PlannedTracker& tracker : plan.trackers) {
    const ParamSet params = completed(tracker.set, catalogue.entry(tracker.name).schema);
    const std::int64_t id = writer.add_tracker({tracker.label, tracker.name, params_json(params).dump()});
    for (const ReadySequence& sequence : sequences)
      for (const std::string& protocol : plan.protocols) {
        writer.plan_run(id, sequence.id, protocol);
        jobs.push_back({&tracker, id, &sequence, protocol});
      }
  }
  return jobs;
}

}  // namespace

RunSummary run_plan(const Plan& plan, const Catalogue& catalogue, const std::filesystem::path& folder,
                    const RunOptions& options) {
  const BuildFacts build = build_facts();
  StudyWriter writer(folder);
  writer.begin_plan(plan.title);
  const std::vector<ReadySequence> sequences = read_sequences(plan, options.jobs, writer);
  std::vector<Job> jobs = plan_jobs(plan, catalogue, sequences, writer);
  const auto planned = jobs.size();
  std::erase_if(jobs, [&](const Job& job) {
    return writer.has_run(job.tracker_id, job.sequence->id, job.protocol, build);
  });
  RunSummary summary;
  summary.kept = static_cast<int>(planned - jobs.size());
  RunProgress progress{0, static_cast<int>(jobs.size()), "", ""};
  for (const Job& job : jobs) {
    progress.label = job.tracker->label;
    progress.sequence = job.sequence->study.name;
    if (options.on_progress) options.on_progress(progress);
    const StudyRun run = timed_run(*job.tracker, job.sequence->sequence, job.protocol, catalogue);
    writer.put_run(job.tracker_id, job.sequence->id, run, build);
    summary.failed += run.failure.empty() ? 0 : 1;
    summary.made = ++progress.done;
  }
  if (options.on_progress) options.on_progress(progress);
  return summary;
}

}  // namespace mnemon
