// SPDX-License-Identifier: MIT
#include <mnemon/run/process/serve.hpp>

#include <array>
#include <cerrno>
#include <cstring>
#include <optional>
#include <string>

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <unistd.h>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/stopwatch.hpp>
#include <mnemon/image/mask_runs.hpp>
#include <mnemon/run/process/frame_slots.hpp>
#include <mnemon/run/region_json.hpp>

namespace mnemon {
namespace {

constexpr int kMostSide = 16384;
constexpr std::size_t kLongestCall = std::size_t{256} << 20;

// A number of a call, within bounds.
int whole_at(const Json& params, const char* key, int low, int high) {
  const auto at = params.find(key);
  if (at == params.end() || !at->is_number_integer() || at->get<std::int64_t>() < low ||
      at->get<std::int64_t>() > high)
    throw DataError({"call"}, fmt::format("'{}' is to be a whole number from {} to {}", key, low, high));
  return at->get<int>();
}

class Server {
 public:
  explicit Server(const MakeWithSettings& make) : make_(make) {}

  // The result of a call.
  Json result_of(const std::string& method, const Json& params) {
    if (method == "begin") return begin(params);
    if (!tracker_) throw DataError({"call"}, "'begin' comes first");
    if (method == "seed") return seed(params);
    if (method == "follow") return follow(params);
    if (method == "stages") return stages();
    throw DataError({"call"}, fmt::format("there is no method '{}'", method));
  }

 private:
  Json begin(const Json& params) {
    if (params.value("format", Json()) != Json("mnemon-process/1"))
      throw DataError({"call"}, "'format' is to be mnemon-process/1");
    size_ = {whole_at(params, "width", 1, kMostSide), whole_at(params, "height", 1, kMostSide)};
    const Json pixels = params.value("pixels", Json::object());
    const Json memory = pixels.value("memory", Json());
    if (!memory.is_string()) throw DataError({"call"}, "'pixels' is to name the shared memory");
    slots_.reset();
    slots_.emplace(memory.get<std::string>(), size_,
                   static_cast<std::size_t>(whole_at(pixels, "slot_bytes", 1, 2'000'000'000)),
                   whole_at(pixels, "slots", 1, 64));
    mask_ = Image<Byte>(size_.height, size_.width);
    tracker_ = make_(params_from_json(json_text(params.value("settings", Json::object()))));
    return {{"keeps", true}, {"answers", {"mask", "stages"}}};
  }

  [[nodiscard]] Frame frame_of(const Json& params) const {
    const int slot = whole_at(params, "slot", 0, slots_->slots() - 1);
    const Json time_s = params.value("time_s", Json(0.0));
    return {slots_->picture(slot), whole_at(params, "frame", 0, 2'000'000'000),
            time_s.is_number() ? time_s.get<double>() : 0.0};
  }

  Json seed(const Json& params) {
    const Region region = parse_region(params.value("region", Json()), mask_.view());
    const Frame frame = frame_of(params);
    const Stopwatch stopwatch;
    const Estimate estimate = tracker_->seed(frame, region);
    return answer(estimate, stopwatch.elapsed_ms());
  }

  Json follow(const Json& params) {
    const Frame frame = frame_of(params);
    const Stopwatch stopwatch;
    const Estimate estimate = tracker_->follow(frame);
    return answer(estimate, stopwatch.elapsed_ms());
  }

  [[nodiscard]] Json answer(const Estimate& estimate, double step_ms) const {
    const Box& box = estimate.box.box;
    Json json{{"box", {box.x, box.y, box.w, box.h}},
              {"angle", estimate.box.angle_deg},
              {"confidence", estimate.confidence},
              {"present", estimate.present},
              {"step_ms", step_ms}};
    if (estimate.minor_px) json["minor_px"] = *estimate.minor_px;
    if (estimate.mask.empty()) return json;
    const ImageView<Byte> there = slots_->mask();
    for (int r = 0; r < there.rows; ++r) std::memcpy(there.row(r), estimate.mask.row(r), there.cols);
    json["mask"] = "slot";
    return json;
  }

  Json stages() {
    Json all = Json::array();
    for (const Stage& stage : tracker_->stages()) {
      const Image<float> copy = copy_of(stage.picture);
      all.push_back({{"name", std::string(stage.name)},
                     {"rows", copy.rows()},
                     {"cols", copy.cols()},
                     {"channels", copy.channels()},
                     {"floats", base64({reinterpret_cast<const char*>(copy.view().data),
                                        copy.elements().size_bytes()})}});
      if (!stage.area) continue;
      const Box& box = stage.area->box;
      all.back()["area"] = {box.x, box.y, box.w, box.h, stage.area->angle_deg};
    }
    return all;
  }

  const MakeWithSettings& make_;
  FrameSize size_;
  std::optional<FrameSlots> slots_;
  Image<Byte> mask_;  // of a region
  std::unique_ptr<Tracker> tracker_;
};

// Lines from a descriptor.
class Lines {
 public:
  explicit Lines(int descriptor) : descriptor_(descriptor) {}

  std::optional<std::string> next() {
    while (true) {
      const std::size_t end = text_.find('\n', searched_);
      if (end != std::string::npos) {
        std::string line = text_.substr(0, end);
        text_.erase(0, end + 1);
        searched_ = 0;
        return line;
      }
      searched_ = text_.size();
      if (text_.size() > kLongestCall) throw DataError({"call"}, "is longer than any call can be");
      std::array<char, 65536> bytes;
      const ssize_t count = ::read(descriptor_, bytes.data(), bytes.size());
      if (count < 0 && errno == EINTR) continue;
      if (count <= 0) return std::nullopt;
      text_.append(bytes.data(), static_cast<std::size_t>(count));
    }
  }

 private:
  int descriptor_;
  std::string text_;
  std::size_t searched_ = 0;
};

void write_all(int descriptor, std::string_view text) {
  while (!text.empty()) {
    const ssize_t count = ::write(descriptor, text.data(), text.size());
    if (count < 0 && errno == EINTR) continue;
    if (count <= 0) throw Error("the answers cannot be written: whoever asked is gone");
    text.remove_prefix(static_cast<std::size_t>(count));
  }
}

}  // namespace

void serve_tracker(const MakeWithSettings& make, int calls, int answers) {
  Server server(make);
  Lines lines(calls);
  while (const auto line = lines.next()) {
    const Json message = Json::parse(*line, nullptr, false);
    const Json method = message.is_object() ? message.value("method", Json()) : Json();
    if (!method.is_string()) throw DataError({"call"}, "a line is no call in JSON: " + line->substr(0, 160));
    if (method == Json("end")) return;
    Json reply{{"jsonrpc", "2.0"}, {"id", message.value("id", Json())}};
    try {
      const Json params = message.value("params", Json::object());
      if (!params.is_object()) throw DataError({"call"}, "'params' is to be an object");
      reply["result"] = server.result_of(method.get<std::string>(), params);
    } catch (const std::exception& error) {
      reply["error"] = {{"code", -32000}, {"message", error.what()}};
    }
    write_all(answers, json_text(reply) + "\n");
  }
}

}  // namespace mnemon
