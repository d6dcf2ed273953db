// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include <mnemon/image/frame.hpp>

namespace mnemon {

/// Frames one after the other, all of one size. Not to be shared by threads.
class FrameSource {
 public:
  FrameSource() = default;
  FrameSource(const FrameSource&) = delete;
  FrameSource& operator=(const FrameSource&) = delete;
  virtual ~FrameSource() = default;

  /// The next frame, or nothing at the end. Its memory is the source's and holds until the next call.
  /// \throws DataError  where the frame is broken or has another size than those before it.
  [[nodiscard]] std::optional<Frame> next() { return do_next(); }

  /// Passes over one frame without looking at it; false at the end.
  bool skip() { return do_skip(); }

  /// Goes to a frame, forwards or backwards, so that `next` gives that one.
  /// \param index  From 0.
  /// \returns  False where the source cannot, which is then to be opened again.
  bool seek(int index) { return do_seek(index); }

  /// How many frames there are in all, where that is known beforehand. Of a video it is known once `seek` has looked it up.
  [[nodiscard]] std::optional<int> total() const { return do_total(); }

  /// How many frames a second there are on average, where the source says so; above 0.
  [[nodiscard]] std::optional<double> rate_hz() const { return do_rate_hz(); }

  /// What is to be said of how the frames are taken, such as which settings of a camera are held. It is there once a frame has come, and
  /// empty for nothing.
  [[nodiscard]] std::string remark() const { return do_remark(); }

 private:
  virtual std::optional<Frame> do_next() = 0;
  virtual bool do_skip() = 0;
  virtual bool do_seek(int /*index*/) { return false; }
  virtual std::optional<int> do_total() const = 0;
  virtual std::optional<double> do_rate_hz() const { return std::nullopt; }
  [[nodiscard]] virtual std::string do_remark() const { return {}; }
};

/// Opens the frames of a sequence from the first.
using OpenFrames = std::function<std::unique_ptr<FrameSource>()>;

/// Calls `use` with the frames of these numbers, passing over those between. The frames are taken from the first on.
/// \param numbers  Rising.
/// \throws CallError  where there are fewer frames.
void visit_frames(FrameSource& frames, std::span<const int> numbers,
                  const std::function<void(const Frame&)>& use);

/// The pictures of a folder, in natural order (2 before 10).
/// \throws DataError  where there are none.
[[nodiscard]] std::vector<std::filesystem::path> pictures_in(const std::filesystem::path& folder);

/// The pictures of a pattern such as `frames/%06d.png`, numbered from 0 without a gap.
/// \throws DataError  where there is none, or one is missing in between.
[[nodiscard]] std::vector<std::filesystem::path> pictures_like(const std::filesystem::path& pattern);

/// The name that a pattern such as `%06d.png` gives a number; throws CallError where it is not of that form.
[[nodiscard]] std::string numbered_name(const std::string& pattern, int number);

/// Pictures as frames.
/// \param files    In order.
/// \param rate_hz  How many of them a second.
/// \param times_s  When each was taken; empty where the rate says so.
[[nodiscard]] std::unique_ptr<FrameSource> open_pictures(std::vector<std::filesystem::path> files,
                                                         double rate_hz, std::vector<double> times_s = {});

}  // namespace mnemon
