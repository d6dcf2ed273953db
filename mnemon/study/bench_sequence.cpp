// SPDX-License-Identifier: MIT
#include <mnemon/study/bench_sequence.hpp>

#include <algorithm>
#include <cmath>
#include <memory>
#include <mutex>
#include <set>
#include <span>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/fingerprint.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/scene/scene.hpp>
#include <mnemon/sequence/frame_files.hpp>
#include <mnemon/sequence/sequence.hpp>
#include <mnemon/sequence/truth_tags.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

constexpr int kPictures = 22;  // kept of a sequence, to look at
constexpr int kPictureWidth = 320;
constexpr int kPictureQuality = 88;
constexpr std::size_t kAtOnce = 32;  // sequences whose pictures are held

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

// What a study keeps of a sequence that it does not know yet.
void describe(const OpenSequence& open, StudySequence& study) {
  study.rate_hz = open.facts.rate_hz;
  study.tags = open.facts.tags;
  study.spans = open.facts.spans;
  study.truth = open.facts.truth;
  study.frames = open.frames.count;
  study.size = open.frames.size;
  study.measured_tags = tags_from_truth(study.truth, study.size);
  if (!study.is_ordinary()) return;  // generated ones are many, and can be rendered again
  std::vector<int> shown = frames_to_show(study.truth, study.frames);
  std::erase_if(shown, [&](int frame) { return frame >= study.frames; });
  try {
    visit_frames(*open.frames.open(), shown, [&](const Frame& frame) {
      const Image<Byte> small = resized_to_width(frame.rgb, std::min(kPictureWidth, study.size.width));
      study.pictures.push_back({frame.index, jpeg_bytes(small.view(), kPictureQuality)});
    });
  } catch (const Error&) {
    // These are for looking at. A frame that cannot be read fails the runs that come to it, and they name it.
  }
}

// A sequence on disk with its files, which are looked for once.
struct FoundSequence {
  Sequence facts;  // without truth
  FrameFiles files;
  std::once_flag is_counted = {};
  int count = 0;      // which of a video takes decoding it
  std::string truth;  // its fingerprint

  explicit FoundSequence(const fs::path& folder) : facts(read_sequence(folder)), files(facts) {}
};

OpenSequence open_sequence(const std::shared_ptr<FoundSequence>& found) {
  std::call_once(found->is_counted, [&] { found->count = found->files.count(); });
  OpenSequence open{found->facts, {}};
  open.facts.truth = read_sequence(found->facts.folder).truth;
  if (fingerprint(truth_text(open.facts.truth)) != found->truth)
    throw DataError({found->facts.folder}, "has another truth than when the plan began; run the plan again");
  open.frames.count = found->count;
  open.frames.rate_hz = found->facts.rate_hz;
  open.frames.open = [found] { return found->files.open(); };
  open.frames.size = open.frames.open()->next().value_or(Frame{}).size();
  if (found->files.is_file_each()) open.frames.make = [found](int frame) { return found->files.read(frame); };
  return open;
}

// What stands for a sequence that cannot be read.
BenchSequence unreadable(StudySequence known, const std::string& why) {
  known.failure = why;
  known.fingerprint = "unreadable";
  known.truth = {};
  return {std::move(known), [why]() -> OpenSequence { throw Error(why); }, 0, 0, {}};
}

BenchSequence read_bench_sequence(const fs::path& folder) {
  const auto found = std::make_shared<FoundSequence>(folder);
  Sequence& sequence = found->facts;
  if (sequence.truth.first_present() == nullptr)
    throw DataError({folder},
                    "has no truth with the target present, so nothing can be scored; add a truth.csv");
  BenchSequence bench;
  bench.study.name = sequence.name;
  bench.study.title = sequence.title;
  bench.study.path = fs::absolute(folder).lexically_normal().string();
  bench.study.fingerprint = fingerprint(sequence, found->files);
  found->truth = fingerprint(truth_text(sequence.truth));
  bench.study.truth = std::exchange(sequence.truth, {});
  bench.open = [found] { return open_sequence(found); };
  return bench;
}

BenchSequence read_or_fail(const fs::path& folder) {
  try {
    return read_bench_sequence(folder);
  } catch (const Error& error) {
    StudySequence known;
    known.name = folder.filename().string();
    known.title = known.name;
    known.path = fs::absolute(folder).lexically_normal().string();
    return unreadable(std::move(known), error.what());
  }
}

void describe_or_fail(BenchSequence& bench) {
  if (!bench.study.failure.empty()) return;
  try {
    describe(bench.open(), bench.study);
  } catch (const Error& error) {
    bench = unreadable(std::move(bench.study), error.what());
  }
}

// The frames of a scene in order, for where they do not all fit into memory.
class SceneFrames final : public FrameSource {
 public:
  explicit SceneFrames(std::shared_ptr<const Scene> scene) : scene_(std::move(scene)) {}

 private:
  std::optional<Frame> do_next() override {
    if (at_ == scene_->params().frames) return std::nullopt;
    picture_ = scene_->render(at_);
    const Frame frame{std::as_const(picture_).view(), at_, at_ / scene_->params().rate_hz};
    ++at_;
    return frame;
  }
  bool do_skip() override { return at_ < scene_->params().frames && ++at_ > 0; }
  [[nodiscard]] std::optional<int> do_total() const override { return scene_->params().frames; }

  std::shared_ptr<const Scene> scene_;
  Image<Byte> picture_;
  int at_ = 0;
};

OpenSequence open_scene(const std::shared_ptr<const Scene>& scene) {
  const SceneParams& params = scene->params();
  return {scene->describe(),
          {params.frames,
           {params.width, params.height},
           params.rate_hz,
           [scene](int frame) { return scene->render(frame); },
           [scene] { return std::make_unique<SceneFrames>(scene); }}};
}

BenchSequence stress_sequence(const PlannedStress& stress, double level, int random,
                              const std::string& code) {
  const SceneSpec& spec = demo_scene(stress.scene);
  ParamSet set{{stress.knob, level}};
  if (stress.frames) set["frames"] = *stress.frames;
  BenchSequence bench;
  bench.study.stress = {stress.scene, stress.knob, level, random};
  bench.study.name = fmt::format("{}.{}-{:g}.{}", stress.scene, stress.knob, level, random);
  bench.study.title =
      fmt::format("{}, with {} {:g} and random number {}", spec.title, stress.knob, level, random);
  bench.study.fingerprint = fmt::format("code {} frames {}", code, stress.frames.value_or(0));
  bench.open = [&spec, set, random] { return open_scene(std::make_shared<const Scene>(spec, set, random)); };
  return bench;
}

std::vector<BenchSequence> stress_sequences(const Plan& plan) {
  const std::string code = build_facts().code;
  std::vector<BenchSequence> all;
  for (const PlannedStress& stress : plan.stress)
    for (const double level : stress.levels)
      for (int random = 1; random <= stress.random; ++random)
        all.push_back(stress_sequence(stress, level, random, code));
  return all;
}

// Frames with truth, which every node counts alike without decoding any; one that cannot be read costs little.
double cost_of(const fs::path& folder) {
  try {
    return std::max<double>(1, static_cast<double>(read_sequence(folder).truth.rows.size()));
  } catch (const Error&) {
    return 1;
  }
}

// Which of the plan's sequences are made here, its own first and then the generated ones.
std::vector<bool> dealt(const Plan& plan, std::size_t generated, int jobs,
                        const std::optional<Shard>& shard) {
  if (!shard) return std::vector<bool>(plan.sequences.size() + generated, true);
  std::vector<double> costs(plan.sequences.size());
  for_each_index(static_cast<int>(costs.size()), jobs, [&](int i) { costs[i] = cost_of(plan.sequences[i]); });
  for (const PlannedStress& stress : plan.stress)
    for (std::size_t i = 0; i < stress.levels.size() * static_cast<std::size_t>(stress.random); ++i)
      costs.push_back(stress.frames.value_or(200));
  std::vector<bool> here;
  for (const int number : deal_into_shards(costs, shard->count)) here.push_back(number == shard->number);
  return here;
}

// Puts sequences into the study, and forgets what is large.
void put_in(const Plan& plan, std::span<BenchSequence> some, int jobs, StudyWriter& writer) {
  std::vector<BenchSequence*> fresh;
  for (BenchSequence& bench : some)
    if (!writer.has_sequence(bench.study.name, bench.study.fingerprint)) fresh.push_back(&bench);
  for_each_index(static_cast<int>(fresh.size()), jobs, [&](int i) { describe_or_fail(*fresh[i]); });
  for (BenchSequence& bench : some) {
    bench.id = writer.add_sequence(bench.study);
    bench.study.pictures = {};
    count_starts(plan, bench);
  }
}

}  // namespace

std::vector<BenchSequence> bench_sequences(const Plan& plan, int jobs, StudyWriter& writer,
                                           const std::optional<Shard>& shard) {
  std::vector<BenchSequence> generated = stress_sequences(plan);
  const std::vector<bool> here = dealt(plan, generated.size(), jobs, shard);
  std::vector<int> places;
  for (std::size_t i = 0; i < plan.sequences.size(); ++i)
    if (here[i]) places.push_back(static_cast<int>(i));
  std::vector<BenchSequence> all(places.size());
  const auto in_handfuls = [&](std::size_t begin, const std::function<void(std::span<BenchSequence>)>& use) {
    for (; begin < all.size(); begin += kAtOnce)
      use(std::span(all).subspan(begin, std::min(kAtOnce, all.size() - begin)));
  };
  in_handfuls(0, [&](std::span<BenchSequence> some) {
    const std::size_t first = some.data() - all.data();
    for_each_index(static_cast<int>(some.size()), jobs, [&](int i) {
      some[i] = read_or_fail(plan.sequences[places[first + i]]);
      some[i].place = places[first + i];
    });
    put_in(plan, some, jobs, writer);
  });
  for (std::size_t i = 0; i < generated.size(); ++i) {
    if (!here[plan.sequences.size() + i]) continue;
    all.push_back(std::move(generated[i]));
    all.back().place = static_cast<int>(plan.sequences.size() + i);
  }
  in_handfuls(places.size(), [&](std::span<BenchSequence> some) { put_in(plan, some, jobs, writer); });
  return all;
}

void count_starts(const Plan& plan, BenchSequence& bench) {
  // A generated sequence that the study knows already is not generated again, so that its truth is not here. Nor is that of one
  // that cannot be read, of which one run says so.
  if (bench.study.is_ordinary() && bench.study.failure.empty())
    for (const Protocol& protocol : plan.protocols)
      bench.starts.push_back(static_cast<int>(starts_of(protocol, bench.study.truth).size()));
  bench.study.truth = {};
}

}  // namespace mnemon
