// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <mnemon/base/json.hpp>
#include <mnemon/run/process/process_tracker.hpp>

namespace mnemon {

/// How a process begins: all that it is told before its first frame, as text.
[[nodiscard]] std::string beginning_of(const ProcessSpec& spec, FrameSize size);

/// The result that a process answers a call with.
/// \throws Error  where the line is no answer to that call, or says that the call failed.
[[nodiscard]] Json result_of_answer(const std::string& line, int id);

/// The estimate of such a result, without its mask.
/// \throws Error  where it is none: not finite, of another type, out of range.
[[nodiscard]] Estimate estimate_of_result(const Json& result);

/// Says what is wrong with an answer.
/// \throws Error  always.
[[noreturn]] void refuse_answer(const char* key, const char* what);

/// A finite number of an answer, or `standard` where it is left out.
/// \throws Error  where it is something else.
[[nodiscard]] double number_of_answer(const Json& answer, const char* key, double standard);

/// A process that has begun, and the calls to it.
class ProcessLink {
 public:
  /// Starts the process and has it begin.
  /// \throws CallError  where there is no such program; Error  where it does not begin as it should.
  ProcessLink(const ProcessSpec& spec, FrameSize size);
  ~ProcessLink();
  ProcessLink(const ProcessLink&) = delete;
  ProcessLink& operator=(const ProcessLink&) = delete;

  /// What the process printed before its first message, for messages of what went wrong.
  [[nodiscard]] const std::string& beginning() const noexcept { return beginning_; }
  /// What the process said of itself.
  [[nodiscard]] const ProcessFacts& facts() const noexcept { return facts_; }
  /// Of the frames that it takes.
  [[nodiscard]] FrameSize size() const noexcept { return size_; }
  /// The most memory that the process had, bytes; nothing where that cannot be told.
  [[nodiscard]] std::optional<double> peak_bytes() const { return child_.peak_bytes(); }
  /// Where the process puts its mask: rows x columns of the frame.
  [[nodiscard]] ImageView<const Byte> mask_slot() const noexcept { return slots_.mask(); }

  /// A frame for the next call's parameters: put where the process can see it.
  [[nodiscard]] Json frame_params(const Frame& frame);

  /// Calls a method and waits for its result.
  /// \throws Error  where there is none in time, or none of that form, with the end of the log.
  [[nodiscard]] Json call(const char* method, const Json& params, double limit_ms);

  /// Whether nothing went wrong, so that it may serve again.
  [[nodiscard]] bool is_sound() const noexcept { return is_sound_; }

 private:
  void begin(const ProcessSpec& spec);

  std::string beginning_;
  FrameSize size_;
  FrameSlots slots_;
  Child child_;
  ProcessFacts facts_;
  bool is_inline_ = false;
  bool is_sound_ = false;
  int id_ = 0;
};

}  // namespace mnemon
