// SPDX-License-Identifier: MIT
#include <mnemon/study/moments.hpp>

#include <algorithm>
#include <cmath>
#include <set>

#include <mnemon/image/levels.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/run/following.hpp>

namespace mnemon {
namespace {

constexpr int kCropSide = 112;  // px
constexpr int kCropQuality = 80;
constexpr std::size_t kCropBytes = 3500;  // what one takes, about
constexpr int kStageSide = 128;
constexpr int kStageQuality = 85;
constexpr std::size_t kLossesLookedInto = 4;
constexpr double kRoom = 2.2;      // of the crop, in the longest side of what it shows
constexpr double kLeastSide = 24;  // of a window, px: smaller ones show no more

// Around its beginning every frame, later ones now and then.
std::vector<int> frames_of(const TroubleRow& trouble) {
  std::vector<int> numbers;
  for (const int from_begin : {-8, -3, -2, -1, 0, 1, 2, 3, 6, 10})
    numbers.push_back(trouble.begin + from_begin);
  const int end = trouble.begin + trouble.frames;
  if (trouble.end != TroubleEnd::never) numbers.insert(numbers.end(), {end - 1, end});
  if (trouble.kind == Trouble::absence)
    numbers.insert(numbers.end(),
                   {trouble.begin + trouble.absent_frames - 1, trouble.begin + trouble.absent_frames,
                    trouble.begin + trouble.absent_frames + 5});
  return numbers;
}

// A square around both boxes, moved into the picture; nothing where there is neither.
std::optional<Box> window_around(const TruthRow* truth, const TraceRow* answer, FrameSize size) {
  std::vector<Box> shown;
  if (truth != nullptr && truth->present) shown.push_back(upright_around(truth->box));
  if (answer != nullptr && is_found(*answer)) shown.push_back(upright_around(answer->box));
  if (shown.empty()) return std::nullopt;
  double left = shown.front().x;
  double top = shown.front().y;
  double right = left;
  double bottom = top;
  double longest = 0;
  for (const Box& box : shown) {
    left = std::min(left, box.x);
    top = std::min(top, box.y);
    right = std::max(right, box.x + box.w);
    bottom = std::max(bottom, box.y + box.h);
    longest = std::max({longest, box.w, box.h});
  }
  const double apart = std::max(right - left, bottom - top);
  double side = std::max({kRoom * longest, 1.2 * apart, kLeastSide});
  side = std::min({std::round(side), double(size.width), double(size.height)});
  const auto start = [side](double middle, int length) {
    return std::round(std::clamp(middle - side / 2, 0.0, length - side));
  };
  return Box{start((left + right) / 2, size.width), start((top + bottom) / 2, size.height), side, side};
}

ImageView<const Byte> part_of(ImageView<const Byte> rgb, const Box& window) {
  const auto x = static_cast<int>(window.x);
  const auto y = static_cast<int>(window.y);
  const auto side = static_cast<int>(window.w);
  return {rgb.row(y) + static_cast<std::ptrdiff_t>(3) * x, side, side, 3, rgb.stride};
}

Image<Byte> in_three_channels(const Image<Byte>& grey) {
  Image<Byte> rgb(grey.rows(), grey.cols(), 3);
  for (int r = 0; r < grey.rows(); ++r)
    for (int c = 0; c < grey.cols(); ++c)
      for (int channel = 0; channel < 3; ++channel) rgb(r, c, channel) = grey(r, c);
  return rgb;
}

StudyStage kept_stage(int frame, const Stage& stage) {
  const Levels levels = levels_of(stage.picture);
  Image<Byte> bytes = bytes_between(stage.picture, levels);
  if (bytes.channels() == 1) bytes = in_three_channels(bytes);
  const int longest = std::max(bytes.rows(), bytes.cols());
  if (longest > kStageSide)
    bytes = resized(bytes.view(), std::max(1, bytes.rows() * kStageSide / longest),
                    std::max(1, bytes.cols() * kStageSide / longest));
  return {frame, std::string(stage.name), levels.low, levels.high, jpeg_bytes(bytes.view(), kStageQuality)};
}

}  // namespace

std::vector<int> frames_to_cut(std::span<const TroubleRow> troubles, int frames, std::size_t most_bytes) {
  std::set<int> numbers;
  for (const TroubleRow& trouble : troubles) {
    std::set<int> with = numbers;
    for (const int number : frames_of(trouble))
      if (number >= 0 && number < frames) with.insert(number);
    if (with.size() * kCropBytes > most_bytes) break;
    numbers = std::move(with);
  }
  return {numbers.begin(), numbers.end()};
}

std::vector<StudyCrop> cut_crops(FrameSource& source, std::span<const int> numbers, const Truth& truth,
                                 const Trace& trace, std::size_t most_bytes) {
  std::vector<StudyCrop> crops;
  std::size_t bytes = 0;
  visit_frames(source, numbers, [&](const Frame& frame) {
    // Where neither has a box, the place that was shown last is shown again.
    std::optional<Box> window = window_around(truth.find(frame.index), trace.find(frame.index), frame.size());
    if (!window && !crops.empty()) window = crops.back().window;
    if (!window) return;
    StudyCrop crop{
        frame.index, *window,
        jpeg_bytes(resized(part_of(frame.rgb, *window), kCropSide, kCropSide).view(), kCropQuality)};
    if (bytes + crop.jpeg.size() > most_bytes) return;
    bytes += crop.jpeg.size();
    crops.push_back(std::move(crop));
  });
  return crops;
}

std::vector<int> frames_to_look_into(std::span<const TroubleRow> troubles) {
  std::set<int> numbers;
  std::size_t losses = 0;
  for (const TroubleRow& trouble : troubles) {
    if (trouble.kind != Trouble::loss || losses == kLossesLookedInto) continue;
    ++losses;
    for (const int number : {trouble.begin - 1, trouble.begin, trouble.begin + 2})
      if (number >= 0) numbers.insert(number);
  }
  return {numbers.begin(), numbers.end()};
}

std::vector<StudyStage> stages_on(Tracker& tracker, FrameSource& source, const Start& start,
                                  std::span<const int> numbers, std::size_t most_bytes) {
  std::vector<StudyStage> kept;
  std::size_t bytes = 0;
  if (numbers.empty()) return kept;
  skip_to(source, start.frame, "the sequence");
  Following following(tracker, source, {.last = numbers.back()}, [&](const Frame&, bool has_target) {
    return has_target ? std::nullopt : std::optional<Region>(start.region());
  });
  while (const auto step = following.step()) {
    if (step->frame == nullptr || std::ranges::find(numbers, step->row.frame) == numbers.end()) continue;
    for (const Stage& stage : tracker.stages()) {
      if (stage.picture.empty()) continue;
      StudyStage one = kept_stage(step->row.frame, stage);
      if (bytes + one.jpeg.size() > most_bytes) continue;
      bytes += one.jpeg.size();
      kept.push_back(std::move(one));
    }
  }
  return kept;
}

}  // namespace mnemon
