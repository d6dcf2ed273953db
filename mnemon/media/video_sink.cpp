// SPDX-License-Identifier: MIT
#include <mnemon/media/video_sink.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <string>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/libav.hpp>

namespace mnemon {
namespace {

using detail::AvPtr;

constexpr int kFinestQuantiser = 2;
constexpr int kKeyFrameDistance = 30;
constexpr int kTicksPerSecond = 60000;  // every usual rate is a whole number of these

struct Container {
  std::string_view ending;
  const char* name;
  AVCodecID codec;
  AVPixelFormat pixels;
  bool keeps_times;  // or else frames follow each other evenly
};

constexpr std::array<Container, 5> kContainers{
    {{".mp4", "mp4", AV_CODEC_ID_MPEG4, AV_PIX_FMT_YUV420P, true},
     {".mov", "mov", AV_CODEC_ID_MPEG4, AV_PIX_FMT_YUV420P, true},
     {".avi", "avi", AV_CODEC_ID_MPEG4, AV_PIX_FMT_YUV420P, false},
     {".mkv", "matroska", AV_CODEC_ID_MPEG4, AV_PIX_FMT_YUV420P, true},
     {".y4m", "yuv4mpegpipe", AV_CODEC_ID_WRAPPED_AVFRAME, AV_PIX_FMT_YUV444P, false}}};

const Container* container_of(const std::filesystem::path& file) {
  const std::string ending = file.extension().string();
  for (const Container& container : kContainers)
    if (container.ending == ending) return &container;
  return nullptr;
}

}  // namespace

struct VideoSink::Parts {
  std::filesystem::path target;
  NewFile file;
  const Container* container;
  AVRational rate;
  AVFormatContext* output = nullptr;
  AvPtr<AVCodecContext> codec;
  AvPtr<AVFrame> frame{av_frame_alloc()};
  AvPtr<AVPacket> packet{av_packet_alloc()};
  AvPtr<SwsContext> scaler;
  FrameSize size;
  std::int64_t last_stamp = -1;

  Parts(std::filesystem::path path, double rate_hz)
      : target(std::move(path)), file(target), container(container_of(target)), rate(av_d2q(rate_hz, 65000)) {
    detail::use_av();
    check(avformat_alloc_output_context2(&output, nullptr, container->name, nullptr));
    output->flags |= AVFMT_FLAG_BITEXACT;
  }

  Parts(const Parts&) = delete;
  Parts& operator=(const Parts&) = delete;
  ~Parts() {
    if (output == nullptr) return;
    avio_closep(&output->pb);
    avformat_free_context(output);
  }

  void check(int code) const {
    if (code < 0) throw DataError({target}, "cannot be written: " + detail::av_error_text(code));
  }

  void begin(FrameSize first) {
    if (first.width < 2 || first.height < 2)
      throw CallError(fmt::format("{}: frames of {} x {} pixels are too small for a video", target.string(),
                                  first.width, first.height));
    size = first;
    const AVCodec* encoder = avcodec_find_encoder(container->codec);
    if (encoder == nullptr) throw DataError({target}, "the installed libraries cannot write MPEG-4 video");
    codec.reset(avcodec_alloc_context3(encoder));
    const bool halved = container->pixels == AV_PIX_FMT_YUV420P;
    codec->width = halved ? size.width / 2 * 2 : size.width;
    codec->height = halved ? size.height / 2 * 2 : size.height;
    codec->pix_fmt = container->pixels;
    codec->time_base = container->keeps_times ? AVRational{1, kTicksPerSecond} : av_inv_q(rate);
    codec->framerate = rate;
    codec->gop_size = kKeyFrameDistance;
    codec->thread_count = 1;
    codec->flags |= AV_CODEC_FLAG_QSCALE | AV_CODEC_FLAG_BITEXACT;
    codec->global_quality = kFinestQuantiser * FF_QP2LAMBDA;
    if ((output->oformat->flags & AVFMT_GLOBALHEADER) != 0) codec->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    check(avcodec_open2(codec.get(), encoder, nullptr));
    AVStream* stream = avformat_new_stream(output, nullptr);
    check(avcodec_parameters_from_context(stream->codecpar, codec.get()));
    stream->time_base = codec->time_base;
    stream->avg_frame_rate = rate;
    check(avio_open(&output->pb, ("file:" + file.path().string()).c_str(), AVIO_FLAG_WRITE));
    check(avformat_write_header(output, nullptr));
    prepare_frame();
  }

  void prepare_frame() {
    frame->format = codec->pix_fmt;
    frame->width = codec->width;
    frame->height = codec->height;
    check(av_frame_get_buffer(frame.get(), 0));
    scaler.reset(sws_getContext(codec->width, codec->height, AV_PIX_FMT_RGB24, codec->width, codec->height,
                                codec->pix_fmt, detail::kScaling, nullptr, nullptr, nullptr));
    if (!scaler) throw DataError({target}, "frames of this size cannot be written");
  }

  // Ticks from one frame to the next, by the rate.
  [[nodiscard]] std::int64_t step() const {
    return std::max<std::int64_t>(1, av_rescale_q(1, av_inv_q(rate), codec->time_base));
  }

  // Frames that are shown at once, or out of order, come one tick after the other.
  [[nodiscard]] std::int64_t stamp(double time_s) const {
    if (!container->keeps_times) return last_stamp + 1;
    return std::max(last_stamp + 1, static_cast<std::int64_t>(std::llround(time_s * kTicksPerSecond)));
  }

  void encode(const AVFrame* next) {
    check(avcodec_send_frame(codec.get(), next));
    for (;;) {
      const int code = avcodec_receive_packet(codec.get(), packet.get());
      if (code == AVERROR(EAGAIN) || code == AVERROR_EOF) return;
      check(code);
      AVStream* stream = output->streams[0];
      packet->stream_index = 0;
      packet->duration = step();
      av_packet_rescale_ts(packet.get(), codec->time_base, stream->time_base);
      check(av_interleaved_write_frame(output, packet.get()));
    }
  }
};

VideoSink::VideoSink(std::filesystem::path file, double rate_hz) {
  if (!is_video_sink_name(file))
    throw CallError(
        fmt::format("{}: a video is written as {}; name such a file", file.string(), video_sink_endings()));
  if (!(rate_hz > 0 && rate_hz <= 10000))
    throw CallError(fmt::format("{}: a video cannot have {} frames a second", file.string(), rate_hz));
  parts_ = std::make_unique<Parts>(std::move(file), rate_hz);
}

VideoSink::VideoSink(VideoSink&&) noexcept = default;
VideoSink& VideoSink::operator=(VideoSink&&) noexcept = default;
VideoSink::~VideoSink() = default;

void VideoSink::add(ImageView<const Byte> rgb, double time_s) {
  Parts& parts = *parts_;
  const FrameSize size{rgb.cols, rgb.rows};
  if (!parts.codec) parts.begin(size);
  if (size != parts.size)
    throw CallError(fmt::format("{}: a frame of {} x {} pixels does not fit a video of {} x {}",
                                parts.target.string(), size.width, size.height, parts.size.width,
                                parts.size.height));
  parts.check(av_frame_make_writable(parts.frame.get()));
  const std::array<const std::uint8_t*, 4> from{rgb.data, nullptr, nullptr, nullptr};
  const std::array<int, 4> strides{static_cast<int>(rgb.stride), 0, 0, 0};
  sws_scale(parts.scaler.get(), from.data(), strides.data(), 0, parts.codec->height, parts.frame->data,
            parts.frame->linesize);
  parts.last_stamp = parts.stamp(time_s);
  parts.frame->pts = parts.last_stamp;
  parts.frame->quality = parts.codec->global_quality;
  parts.encode(parts.frame.get());
}

void VideoSink::finish() {
  Parts& parts = *parts_;
  if (!parts.codec) throw CallError(parts.target.string() + ": a video needs at least one frame");
  parts.encode(nullptr);
  parts.check(av_write_trailer(parts.output));
  const int code = avio_closep(&parts.output->pb);
  parts.check(code);
  parts.file.finish();
}

const char* video_sink_endings() noexcept { return ".mp4, .mov, .avi, .mkv or .y4m"; }

bool is_video_sink_name(const std::filesystem::path& file) { return container_of(file) != nullptr; }

}  // namespace mnemon
