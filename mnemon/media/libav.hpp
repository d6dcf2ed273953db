// SPDX-License-Identifier: MIT
#pragma once
#include <memory>
#include <string>

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libswscale/swscale.h>
}
/// \file
/// What the sources that read and write video share of their package; no public header includes it.
namespace mnemon::detail {

struct AvFreer {
  // The package frees what it opened itself to read from, and nothing else.
  void operator()(AVFormatContext* input) const noexcept {
    AVIOContext* const own = (input->flags & AVFMT_FLAG_CUSTOM_IO) != 0 ? input->pb : nullptr;
    avformat_close_input(&input);
    if (own != nullptr) (*this)(own);
  }
  void operator()(AVIOContext* bytes) const noexcept {
    av_freep(&bytes->buffer);
    avio_context_free(&bytes);
  }
  void operator()(AVCodecContext* codec) const noexcept { avcodec_free_context(&codec); }
  void operator()(AVFrame* frame) const noexcept { av_frame_free(&frame); }
  void operator()(AVPacket* packet) const noexcept { av_packet_free(&packet); }
  void operator()(SwsContext* scaler) const noexcept { sws_freeContext(scaler); }
};

template <class T>
using AvPtr = std::unique_ptr<T, AvFreer>;  ///< Something of libav's that frees itself.

/// To be called before anything else of the package: keeps it from printing, and makes its devices known.
void use_av();

/// What the package last complained of on this thread. Some containers that end too early are told apart from those
/// that end well by nothing else.
[[nodiscard]] std::string& av_complaint();

/// What the package calls an error.
[[nodiscard]] std::string av_error_text(int code);

/// Same pixels on every processor, and colour at full resolution.
inline constexpr int kScaling = SWS_BILINEAR | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INT | SWS_BITEXACT;

}  // namespace mnemon::detail
