// SPDX-License-Identifier: MIT
#include "follow_files.hpp"

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/media/frame_source.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/media/video_source.hpp>

#include "output.hpp"

namespace mnemon::app {
namespace {

namespace fs = std::filesystem;

// A folder named like a file would puzzle whoever looks for the file.
std::unique_ptr<NewFolder> new_folder(const char* option, const std::string& name, bool overwrite) {
  if (name.empty()) return nullptr;
  if (is_video_name(name) || is_picture_name(name))
    throw CallError(fmt::format("{} {}: is to be a folder of numbered pictures{}; name one", option, name,
                                std::string_view(option) == "--overlay"
                                    ? fmt::format(" or a video ({})", video_sink_endings())
                                    : ""));
  return std::make_unique<NewFolder>(name,
                                     overwrite ? Replace::if_only_numbered_pictures() : Replace::nothing());
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

// One that nothing has yet: rows of an earlier stream are not to be lost either.
fs::path free_partial_name(const fs::path& target) {
  fs::path name = target.string() + ".partial";
  for (int i = 2; fs::exists(name); ++i) name = fmt::format("{}.partial{}", target.string(), i);
  return name;
}

}  // namespace

TraceFile::TraceFile(std::string file, bool is_of_stream, TraceColumns columns, const std::string& remark)
    : target_(std::move(file)), columns_(columns), flushes_(is_of_stream || is_device_or_pipe(target_)) {
  if (is_of_stream && !is_device_or_pipe(target_))
    partial_ = free_partial_name(end_of_links(target_));
  else
    file_.emplace(target_);
  if (partial_.has_parent_path()) make_folder(partial_.parent_path());
  errno = 0;
  out_.open(file_ ? file_->path() : partial_, std::ios::binary);
  if (!remark.empty()) out_ << "# camera: " << remark << "\n";
  out_ << trace_header(columns);
  check();
}

TraceFile::~TraceFile() {
  if (finished_ || partial_.empty()) return;
  out_.close();
  note("mnemon: {} rows are kept in {}\n", rows_, partial_.string());
}

void TraceFile::check() const {
  if (!out_)
    throw DataError({target_}, fmt::format("cannot be written: {}",
                                           errno != 0 ? std::strerror(errno) : "unknown reason"));
}

void TraceFile::put(const TraceRow& row) {
  errno = 0;
  out_ << trace_row_text(row, columns_);
  if (flushes_) out_.flush();
  check();
  ++rows_;
}

void TraceFile::finish() {
  errno = 0;
  out_.close();
  check();
  if (file_)
    file_->finish();
  else
    move_file(partial_, end_of_links(target_));
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
    frames_ = new_folder("--overlay", files.overlay, files.overwrite);
  stages_ = new_folder("--stages", files.stages, files.overwrite);
  masks_ = new_folder("--masks", files.masks, files.overwrite);
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
