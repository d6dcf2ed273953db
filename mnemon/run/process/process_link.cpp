// SPDX-License-Identifier: MIT
#include <mnemon/run/process/process_link.hpp>

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/base64.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/plain_text.hpp>

namespace mnemon {
namespace {

constexpr const char* kFormat = "mnemon-process/1";
constexpr std::chrono::milliseconds kGrace{2000};  // for a process to end by itself
constexpr std::size_t kMostShown = 160;            // bytes of a wrong line

std::string shown(const std::string& line) {
  return plain_line(line.size() > kMostShown ? line.substr(0, kMostShown) + "..." : line);
}

std::string text_at(const Json& json, const char* key) {
  const auto at = json.find(key);
  return at != json.end() && at->is_string() ? plain_line(at->get_ref<const std::string&>()) : std::string();
}

Box box_at(const Json& answer) {
  if (!answer.is_object()) refuse_answer("result", "is to be an object");
  const auto at = answer.find("box");
  if (at == answer.end() || !at->is_array() || at->size() != 4)
    refuse_answer("box", "is to be four numbers, [x,y,w,h]");
  std::array<double, 4> numbers{};
  for (std::size_t i = 0; i < 4; ++i) {
    if (!(*at)[i].is_number() || !std::isfinite((*at)[i].get<double>()))
      refuse_answer("box", "is to be finite numbers");
    numbers[i] = (*at)[i].get<double>();
  }
  return {numbers[0], numbers[1], numbers[2], numbers[3]};
}

}  // namespace

void refuse_answer(const char* key, const char* what) {
  throw Error(fmt::format("the process's answer is wrong: '{}' {}", key, what));
}

double number_of_answer(const Json& json, const char* key, double standard) {
  const auto at = json.find(key);
  if (at == json.end()) return standard;
  if (!at->is_number() || !std::isfinite(at->get<double>())) refuse_answer(key, "is to be a finite number");
  return at->get<double>();
}

Estimate estimate_of_result(const Json& answer) {
  Estimate estimate;
  estimate.box.box = box_at(answer);
  estimate.box.angle_deg = number_of_answer(answer, "angle", 0);
  estimate.confidence = number_of_answer(answer, "confidence", 1);
  if (estimate.confidence < 0 || estimate.confidence > 1) refuse_answer("confidence", "is to be from 0 to 1");
  if (const auto present = answer.find("present"); present != answer.end()) {
    if (!present->is_boolean()) refuse_answer("present", "is to be true or false");
    estimate.present = present->get<bool>();
  }
  if (answer.contains("minor_px")) estimate.minor_px = number_of_answer(answer, "minor_px", 0);
  return estimate;
}

std::string beginning_of(const ProcessSpec& spec, FrameSize size) {
  Json words = Json::array();
  for (const std::string& word : spec.command) words.push_back(word);
  return json_text({{"command", words},
                    {"folder", spec.folder.string()},
                    {"width", size.width},
                    {"height", size.height},
                    {"rate_hz", spec.rate_hz},
                    {"settings", params_json(spec.set)},
                    {"random_seed", spec.random_seed}});
}

Json result_of_answer(const std::string& line, int id) {
  Json message = Json::parse(line, nullptr, false);
  if (!message.is_object())
    throw Error(
        fmt::format("its standard output is for answers alone, a line of JSON each, and has: {} "
                    "(a log belongs on standard error)",
                    shown(line)));
  if (const auto error = message.find("error"); error != message.end()) {
    const std::string why = error->is_object() ? text_at(*error, "message") : std::string();
    throw Error(why.empty() ? "the process says that it failed: " + shown(line) : why);
  }
  const auto answered = message.find("id");
  if (answered == message.end() || *answered != Json(id))
    throw Error(fmt::format("the answer to call {} has another id: {}", id, shown(line)));
  const auto result = message.find("result");
  if (result == message.end()) throw Error("an answer has no result: " + shown(line));
  return std::move(*result);
}

ProcessLink::ProcessLink(const ProcessSpec& spec, FrameSize size)
    : beginning_(beginning_of(spec, size)),
      size_(size),
      slots_(size),
      child_(spec.command, spec.folder, spec.limits) {
  begin(spec);
}

ProcessLink::~ProcessLink() {
  if (!is_sound_) return;  // the child's end kills it
  try {
    child_.write_line(json_text({{"jsonrpc", "2.0"}, {"method", "end"}}),
                      std::chrono::steady_clock::now() + kGrace);
  } catch (const Error&) {
    // It has ended already.
  }
  child_.end(kGrace);
}

void ProcessLink::begin(const ProcessSpec& spec) {
  const Json facts = call(
      "begin",
      {{"format", kFormat},
       {"width", size_.width},
       {"height", size_.height},
       {"rate_hz", spec.rate_hz},
       {"settings", params_json(spec.set)},
       {"random_seed", spec.random_seed},
       {"pixels",
        {{"memory", slots_.name()}, {"slot_bytes", slots_.slot_bytes()}, {"slots", FrameSlots::kSlots}}}},
      1000 * spec.start_limit_s);
  slots_.forget_name();  // who needs it has joined it
  if (!facts.is_object()) throw Error("begin: the result is to be an object");
  facts_.version = text_at(facts, "version");
  facts_.keeps = facts.value("keeps", Json(false)) == Json(true);
  is_inline_ = text_at(facts, "pixels") == "inline";
  if (const auto bytes = facts.find("model_bytes"); bytes != facts.end() && bytes->is_number())
    facts_.model_bytes = std::max(0.0, bytes->get<double>());
  if (const auto trained = facts.find("trained_on"); trained != facts.end() && trained->is_array())
    for (const Json& name : *trained)
      if (name.is_string()) facts_.trained_on.push_back(plain_line(name.get_ref<const std::string&>()));
}

Json ProcessLink::frame_params(const Frame& frame) {
  Json params{{"frame", frame.index}, {"time_s", frame.time_s}};
  const int slot = slots_.put(frame.rgb);
  if (!is_inline_) {
    params["slot"] = slot;
    return params;
  }
  const ImageView<Byte> picture = slots_.picture(slot);
  params["pixels"] = base64({reinterpret_cast<const char*>(picture.data), picture.size()});
  return params;
}

Json ProcessLink::call(const char* method, const Json& params, double limit_ms) {
  const Child::Deadline deadline = std::chrono::steady_clock::now() +
                                   std::chrono::duration_cast<Child::Deadline::duration>(
                                       std::chrono::duration<double, std::milli>(std::min(limit_ms, 1e9)));
  is_sound_ = false;
  const int id = ++id_;
  Json message{{"jsonrpc", "2.0"}, {"id", id}, {"method", method}};
  if (!params.is_null()) message["params"] = params;
  try {
    child_.write_line(json_text(message), deadline);
    Json result = result_of_answer(child_.read_line(deadline), id);
    is_sound_ = true;
    return result;
  } catch (const Error& error) {
    std::string log = child_.log_tail();
    std::ranges::replace(log, '\n', '|');  // a reason is one line
    throw Error(fmt::format("{}: {}{}", method, error.what(),
                            log.empty() ? std::string() : "; its log ends with: " + log));
  }
}

}  // namespace mnemon
