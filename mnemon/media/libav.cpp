// SPDX-License-Identifier: MIT
#include <mnemon/media/libav.hpp>

#include <array>
#include <cstdarg>
#include <cstdio>
#include <mutex>

extern "C" {
#include <libavdevice/avdevice.h>
}

namespace mnemon::detail {
namespace {

thread_local std::string complaint;

void note_complaint(void* /*who*/, int level, const char* format, va_list values) {
  if (level > AV_LOG_ERROR) return;
  std::array<char, 256> text{};
  static_cast<void>(std::vsnprintf(text.data(), text.size(), format, values));
  complaint = text.data();
  while (!complaint.empty() && complaint.back() == '\n') complaint.pop_back();
}

}  // namespace

void use_av() {
  static std::once_flag once;
  std::call_once(once, [] {
    av_log_set_callback(note_complaint);
    avdevice_register_all();
  });
}

std::string& av_complaint() { return complaint; }

std::string av_error_text(int code) {
  std::array<char, AV_ERROR_MAX_STRING_SIZE> text{};
  return av_make_error_string(text.data(), text.size(), code);
}

}  // namespace mnemon::detail
