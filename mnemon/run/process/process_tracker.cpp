// SPDX-License-Identifier: MIT
#include <mnemon/run/process/process_tracker.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <fstream>
#include <utility>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/fingerprint.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/image/mask_runs.hpp>
#include <mnemon/run/process/process_link.hpp>
#include <mnemon/run/region_json.hpp>

namespace mnemon {
namespace {

constexpr int kMostStages = 64;
constexpr int kMostStageSide = 8192;
constexpr std::size_t kMostWaiting = 8;  // processes that wait for another run

}  // namespace

ProcessHome::ProcessHome() = default;
ProcessHome::~ProcessHome() = default;

std::unique_ptr<ProcessLink> ProcessHome::take(const std::string& beginning) {
  const std::scoped_lock lock(mutex_);
  const auto at =
      std::ranges::find_if(waiting_, [&](const auto& link) { return link->beginning() == beginning; });
  if (at == waiting_.end()) return nullptr;
  std::unique_ptr<ProcessLink> link = std::move(*at);
  waiting_.erase(at);
  return link;
}

void ProcessHome::put(std::unique_ptr<ProcessLink> link) {
  const std::scoped_lock lock(mutex_);
  if (waiting_.size() == kMostWaiting) waiting_.erase(waiting_.begin());
  waiting_.push_back(std::move(link));
}

ProcessFacts facts_of_process(const ProcessSpec& spec, FrameSize size) {
  return ProcessLink(spec, size).facts();
}

std::string fingerprint_of_command(const std::vector<std::string>& command,
                                   const std::filesystem::path& folder) {
  Fingerprint whole;
  for (const std::string& word : command) {
    whole.add(word);
    std::error_code code;
    const std::filesystem::path file = folder / word;
    if (word.empty() || !std::filesystem::is_regular_file(file, code)) continue;
    // Piece by piece, as it may be a model of any size. One that cannot be read fails the run, not this.
    std::ifstream stream(file, std::ios::binary);
    std::array<char, 65536> bytes;
    while (stream.read(bytes.data(), bytes.size()) || stream.gcount() > 0)
      whole.add({bytes.data(), static_cast<std::size_t>(stream.gcount())});
  }
  return whole.text();
}

ProcessTracker::ProcessTracker(ProcessSpec spec) : spec_(std::move(spec)) {}

ProcessTracker::~ProcessTracker() { let_go(); }

// A process that may serve again waits for the next run; another is ended.
void ProcessTracker::let_go() {
  if (!link_) return;
  if (const auto peak = link_->peak_bytes(); peak && spec_.use)
    spec_.use->peak_bytes = std::max(*peak, spec_.use->peak_bytes.value_or(0));
  if (link_->is_sound() && link_->facts().keeps && spec_.home) spec_.home->put(std::move(link_));
  link_.reset();
}

// A process that may not be seeded again is started anew.
void ProcessTracker::do_prepare(const Frame& frame) {
  const bool serves =
      link_ && link_->is_sound() && link_->size() == frame.size() && (!is_seeded_ || link_->facts().keeps);
  if (serves) return;
  let_go();
  is_seeded_ = false;
  if (spec_.home) link_ = spec_.home->take(beginning_of(spec_, frame.size()));
  if (!link_) link_ = std::make_unique<ProcessLink>(spec_, frame.size());
  mask_ = Image<Byte>(frame.rgb.rows, frame.rgb.cols);
}

Estimate ProcessTracker::do_seed(const Frame& frame, const Region& region, const Box& /*box*/) {
  do_prepare(frame);
  is_seeded_ = true;
  Json params = link_->frame_params(frame);
  params["region"] = region_json(region);
  return ask("seed", params, 1000 * spec_.start_limit_s);
}

Estimate ProcessTracker::do_follow(const Frame& frame) {
  if (!link_) throw Error("the tracker's process has ended; seed it again");
  return ask("follow", link_->frame_params(frame), spec_.step_limit_ms);
}

// A process that answered wrongly once is not asked again.
Estimate ProcessTracker::ask(const char* method, const Json& params, double limit_ms) {
  try {
    const Json answer = link_->call(method, params, limit_ms);
    const Estimate estimate = taken(answer);
    if (spec_.use && answer.contains("step_ms") && std::string_view(method) == "follow") {
      spec_.use->told_ms += number_of_answer(answer, "step_ms", 0);
      ++spec_.use->told_steps;
    }
    return estimate;
  } catch (...) {
    is_seeded_ = false;
    link_.reset();
    throw;
  }
}

Estimate ProcessTracker::taken(const Json& answer) {
  const Estimate estimate = estimate_of_result(answer);
  has_mask_ = false;
  const auto mask = answer.find("mask");
  if (mask == answer.end() || mask->is_null()) return estimate;
  if (!mask->is_string()) refuse_answer("mask", "is to be the runs of a mask in base64, or \"slot\"");
  const std::string& text = mask->get_ref<const std::string&>();
  if (text == "slot") {
    const ImageView<const Byte> there = link_->mask_slot();
    std::ranges::transform(there.elements(), mask_.elements().begin(),
                           [](Byte pixel) -> Byte { return pixel != 0; });
  } else {
    const auto bytes = bytes_of_base64(text);
    const auto runs = bytes ? unpacked(*bytes) : std::nullopt;
    if (!runs || runs->rows != mask_.rows() || runs->cols != mask_.cols())
      refuse_answer("mask", "is to be the runs of a mask of the frame's size");
    draw_into(*runs, mask_.view());
  }
  has_mask_ = true;
  return estimate;
}

ImageView<const Byte> ProcessTracker::do_mask() const noexcept {
  return has_mask_ ? mask_.view() : ImageView<const Byte>{};
}

namespace {

// Where a stage lies in the frame, if it says so.
std::optional<OrientedBox> area_of_answer(const Json& stage) {
  const auto area = stage.find("area");
  if (area == stage.end() || area->is_null()) return std::nullopt;
  const auto refuse = [] { refuse_answer("area", "is to be x, y, w, h and degrees"); };
  if (!area->is_array() || area->size() != 5) refuse();
  for (const Json& number : *area)
    if (!number.is_number() || !std::isfinite(number.get<double>())) refuse();
  const auto n = area->get<std::vector<double>>();
  if (!is_proper(Box{n[0], n[1], n[2], n[3]})) refuse();
  return OrientedBox{{n[0], n[1], n[2], n[3]}, n[4]};
}

}  // namespace

std::vector<Stage> ProcessTracker::do_stages() {
  if (!link_ || !is_seeded_) return {};
  const Json answer = link_->call("stages", nullptr, spec_.step_limit_ms);
  if (!answer.is_array() || answer.size() > kMostStages)
    refuse_answer("result", "is to be a list of at most 64 stages");
  names_.clear();
  pictures_.clear();
  std::vector<std::optional<OrientedBox>> areas;
  for (const Json& stage : answer) {
    if (!stage.is_object() || !stage.contains("name") || !stage["name"].is_string())
      refuse_answer("name", "is missing from a stage");
    const double rows = number_of_answer(stage, "rows", 0);
    const double cols = number_of_answer(stage, "cols", 0);
    const double channels = number_of_answer(stage, "channels", 1);
    if (!(rows >= 1 && rows <= kMostStageSide && cols >= 1 && cols <= kMostStageSide &&
          (channels == 1 || channels == 3)))
      refuse_answer("rows", "and 'cols' are to be from 1 to 8192, and 'channels' 1 or 3");
    Image<float> picture(static_cast<int>(rows), static_cast<int>(cols), static_cast<int>(channels));
    const auto floats = stage.find("floats");
    const auto bytes = floats != stage.end() && floats->is_string()
                           ? bytes_of_base64(floats->get_ref<const std::string&>())
                           : std::nullopt;
    if (!bytes || bytes->size() != picture.elements().size_bytes())
      refuse_answer("floats", "is to be rows x cols x channels numbers of 32 bits in base64");
    std::memcpy(picture.view().data, bytes->data(), bytes->size());
    names_.push_back(file_name_of(stage["name"].get_ref<const std::string&>()));
    pictures_.push_back(std::move(picture));
    areas.push_back(area_of_answer(stage));
  }
  std::vector<Stage> stages;
  for (std::size_t i = 0; i < names_.size(); ++i)
    stages.push_back({names_[i], std::as_const(pictures_[i]).view(), areas[i]});
  return stages;
}

}  // namespace mnemon
