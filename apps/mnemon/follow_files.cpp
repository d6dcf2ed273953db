// SPDX-License-Identifier: MIT
#include "follow_files.hpp"

#include <filesystem>
#include <system_error>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/media/frame_source.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_source.hpp>

namespace mnemon::app {
namespace {

namespace fs = std::filesystem;

// A folder named like a file would puzzle whoever looks for the file.
std::unique_ptr<NewFolder> new_folder(const char* option, const std::string& name) {
  if (name.empty()) return nullptr;
  if (is_video_name(name) || is_picture_name(name))
    throw CallError(fmt::format("{} {}: is to be a folder of numbered pictures{}; name one", option, name,
                                std::string_view(option) == "--overlay"
                                    ? fmt::format(" or a video ({})", video_sink_endings())
                                    : ""));
  return std::make_unique<NewFolder>(name);
}

// The tracker's own mask, at the frame's size, or else its box.
Image<Byte> mask_of(const TraceRow& row, const Frame& frame, const Tracker& tracker) {
  const ImageView<const Byte> mask = tracker.mask();
  if (mask.empty() || !row.present) return box_mask(row, frame.size());
  Image<Byte> whole(frame.rgb.rows, frame.rgb.cols);
  for (int r = 0; r < whole.rows(); ++r)
    for (int c = 0; c < whole.cols(); ++c)
      whole(r, c) =
          mask(r * mask.rows / whole.rows(), c * mask.cols / whole.cols()) != 0 ? Byte{255} : Byte{0};
  return whole;
}

}  // namespace

TraceFile::TraceFile(std::string file, bool is_of_stream, TraceColumns columns)
    : target_(std::move(file)),
      file_(target_),
      out_(file_.path(), std::ios::binary),
      is_of_stream_(is_of_stream),
      columns_(columns) {
  out_ << trace_header(columns);
  if (!out_) throw DataError({target_}, "cannot be written");
}

TraceFile::~TraceFile() {
  if (finished_ || rows_ == 0 || !is_of_stream_) return;
  out_.close();
  std::error_code ignored;
  fs::rename(file_.path(), target_ + ".partial", ignored);
  fmt::print(stderr, "mnemon: {} rows are kept in {}.partial\n", rows_, target_);
}

void TraceFile::put(const TraceRow& row) {
  out_ << trace_row_text(row, columns_);
  ++rows_;
}

void TraceFile::finish() {
  out_.close();
  if (!out_) throw DataError({target_}, "cannot be written");
  file_.finish();
  finished_ = true;
}

void ReviewFile::put(const TraceRow& row) {
  const char* why = row.present != was_present_              ? (row.present ? "found again" : "lost")
                    : row.present && row.confidence < below_ ? "unsure"
                                                             : nullptr;
  was_present_ = row.present;
  if (why == nullptr) return;
  ++frames_;
  text_ += fmt::format("{},{},{},{}\n", row.frame, number_text(row.confidence), row.present ? 1 : 0, why);
}

void ReviewFile::finish() const { write_file(file_, text_); }

FollowPictures::FollowPictures(const FollowFiles& files, const Sequence& sequence, double rate_hz)
    : sequence_(sequence), tracker_(files.tracker) {
  if (!files.beside.empty() && files.overlay.empty())
    throw CallError("--beside draws traces on the overlay; name one with --overlay");
  for (const std::string& file : files.beside) beside_[fs::path(file).stem().string()] = read_trace(file);
  if (is_video_sink_name(files.overlay))
    video_ = std::make_unique<VideoSink>(files.overlay, rate_hz);
  else
    frames_ = new_folder("--overlay", files.overlay);
  stages_ = new_folder("--stages", files.stages);
  masks_ = new_folder("--masks", files.masks);
}

void FollowPictures::draw(const Frame& frame, const TraceRow& row, const std::string& name) {
  std::vector<Drawn> answers{{tracker_, row}};
  for (const auto& [label, trace] : beside_)
    if (const TraceRow* other = trace.find(frame.index)) answers.push_back({label, *other});
  const TruthRow* truth = sequence_.truth.find(frame.index);
  Image<Byte> mask;
  if (!sequence_.masks.empty() && truth != nullptr && truth->present)
    mask = read_mask(sequence_.folder / numbered_name(sequence_.masks, frame.index));
  const Image<Byte> drawn = overlay_.draw(frame, answers, truth, std::as_const(mask).view());
  if (video_) video_->add(drawn.view(), frame.time_s - *start_s_);
  if (frames_) write_png(frames_->path() / name, drawn.view());
}

void FollowPictures::take(const Frame& frame, const TraceRow& row, Tracker& tracker) {
  const std::string name = numbered_name("%06d.png", frame.index);
  if (!start_s_) start_s_ = frame.time_s;
  if (video_ || frames_) draw(frame, row, name);
  if (masks_) write_png(masks_->path() / name, mask_of(row, frame, tracker).view());
  if (!stages_) return;
  for (const Stage& stage : tracker.stages())
    write_png(stages_->path() / stage.name / name, stage_picture(stage).view());
}

void FollowPictures::finish() {
  if (video_) video_->finish();
  for (const auto* folder : {&frames_, &stages_, &masks_})
    if (*folder) (*folder)->finish();
}

}  // namespace mnemon::app
