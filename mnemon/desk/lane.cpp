// SPDX-License-Identifier: MIT
#include <mnemon/desk/lane.hpp>

#include <algorithm>
#include <utility>

#include <mnemon/base/error.hpp>
#include <mnemon/image/resample.hpp>
#include <mnemon/track/shown_tracker.hpp>

namespace mnemon {
namespace {

constexpr int kMostShown = 512;           // px along a stage's longer side
constexpr std::size_t kMostFilmed = 128;  // frames

bool has_key(const std::vector<std::string>& keys, const std::string& key) {
  return std::ranges::find(keys, key) != keys.end();
}

}  // namespace

ShownStage shown_stage(const Stage& stage) {
  ShownStage shown{
      std::string(stage.name), levels_of(stage.picture), stage.picture.rows, stage.picture.cols, {}};
  // Colours are bytes already.
  if (stage.picture.channels == 3) shown.levels = {0, 255};
  Image<Byte> bytes = bytes_between(stage.picture, shown.levels);
  const int longest = std::max(bytes.rows(), bytes.cols());
  if (longest > kMostShown)
    bytes = resized(bytes.view(), std::max(1, bytes.rows() * kMostShown / longest),
                    std::max(1, bytes.cols() * kMostShown / longest));
  shown.bytes = std::move(bytes);
  return shown;
}

MakeTracker maker_of(const Catalogue& catalogue, const TrackerSettings& settings,
                     const std::vector<Polygon>& keep_out) {
  MakeTracker make = [&catalogue, settings, keep_out] {
    return shown(catalogue.make(settings.tracker, settings.set), {.keep_out = keep_out});
  };
  static_cast<void>(make());  // refuses what is not allowed now, and not at the first step
  return make;
}

Lane::Lane(const Catalogue& catalogue, FrameShelf& frames, TrackerSettings settings,
           std::vector<Polygon> keep_out)
    : catalogue_(catalogue),
      frames_(frames),
      settings_(std::move(settings)),
      keep_out_(std::move(keep_out)),
      session_(made(settings_, keep_out_)) {}

std::unique_ptr<Session> Lane::made(const TrackerSettings& settings,
                                    const std::vector<Polygon>& keep_out) const {
  auto session = std::make_unique<Session>(maker_of(catalogue_, settings, keep_out), frames_);
  for (const SessionMark& mark : marks_) session->mark(mark);
  return session;
}

std::unique_ptr<Session> Lane::take(std::unique_ptr<Session> session) {
  generation_ += session_->generation() + 1;
  std::swap(session_, session);
  failure_.clear();
  film_.clear();
  return session;
}

void Lane::retune(TrackerSettings settings) {
  before_ = take(made(settings, keep_out_));
  before_settings_ = std::exchange(settings_, std::move(settings));
}

void Lane::set_keep_out(std::vector<Polygon> areas) {
  auto session = made(settings_, areas);
  if (before_) before_ = made(*before_settings_, areas);
  keep_out_ = std::move(areas);
  static_cast<void>(take(std::move(session)));
}

void Lane::set_marks(const std::vector<SessionMark>& marks, const std::vector<std::string>& keys) {
  for (std::size_t i = 0; i < keys_.size(); ++i)
    if (!has_key(keys, keys_[i])) {
      session_->unmark(marks_[i].frame);
      if (before_) before_->unmark(marks_[i].frame);
    }
  for (std::size_t i = 0; i < keys.size(); ++i)
    if (!has_key(keys_, keys[i])) {
      session_->mark(marks[i]);
      if (before_) before_->mark(marks[i]);
    }
  marks_ = marks;
  keys_ = keys;
  failure_.clear();
  film_.clear();
}

bool Lane::step(int to, int first) {
  if (!failure_.empty()) return false;
  const std::size_t known = session_->log().size();
  try {
    if (!session_->step(to, first)) return false;
    if (watched_.empty() || session_->log().size() == known) return true;
    const int frame = session_->log().back().frame;
    std::vector<ShownStage> kept;
    for (const Stage& stage : session_->tracker_on(frame).stages())
      if (!stage.picture.empty() && watched_.contains(std::string(stage.name)))
        kept.push_back(shown_stage(stage));
    film_[frame] = std::move(kept);
    if (film_.size() > kMostFilmed)
      film_.erase(frame > film_.begin()->first ? film_.begin() : std::prev(film_.end()));
  } catch (const Error& error) {
    failure_ = error.what();
  }
  return true;
}

std::optional<ShownStage> Lane::stage(Moment moment, int frame, const std::string& name) {
  if (moment == Moment::now)
    if (const auto kept = film_.find(frame); kept != film_.end())
      for (const ShownStage& one : kept->second)
        if (one.name == name) return one;
  Session* const of = session(moment);
  if (of == nullptr) return std::nullopt;
  for (const Stage& stage : of->tracker_on(frame).stages())
    if (stage.name == name && !stage.picture.empty()) return shown_stage(stage);
  return std::nullopt;
}

void Lane::again(int frame) {
  session_->again(frame);
  failure_.clear();
}

}  // namespace mnemon
