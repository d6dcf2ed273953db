// SPDX-License-Identifier: MIT
#include <mnemon/media/video_source.hpp>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <iterator>
#include <limits>
#include <utility>
#include <vector>

#include <fmt/format.h>
#include <poll.h>
#include <unistd.h>

extern "C" {
#include <libavutil/display.h>
#include <libavutil/pixdesc.h>
}

#include <mnemon/base/error.hpp>
#include <mnemon/media/libav.hpp>

namespace mnemon {
namespace {

using detail::AvPtr;

constexpr int kLongestSide = 16384;
constexpr std::int64_t kMostVideoPixels = std::int64_t{kLongestSide} * kLongestSide / 4;
constexpr const char* kPipedForm = "yuv4mpegpipe";  // as the package calls YUV4MPEG2
// A listing of other files, a text shown as a terminal would, or a single picture is no video.
constexpr std::array<std::string_view, 8> kNoVideo{"tty",  "concat", "concatf", "hls",
                                                   "dash", "image2", "lavfi",   "ffmetadata"};

// How the decoded picture is turned to be shown: first, perhaps, rows become columns, then sides are swapped.
struct Turn {
  bool transposed = false;
  bool mirrored = false;  // left and right
  bool flipped = false;   // top and bottom
  [[nodiscard]] bool is_none() const { return !transposed && !mirrored && !flipped; }
};

Turn turn_of(const AVStream& stream) {
  const auto* bytes = av_stream_get_side_data(&stream, AV_PKT_DATA_DISPLAYMATRIX, nullptr);
  if (bytes == nullptr) return {};
  std::array<std::int32_t, 9> matrix{};
  std::memcpy(matrix.data(), bytes, sizeof matrix);
  if (std::abs(static_cast<double>(matrix[0])) >= std::abs(static_cast<double>(matrix[1])))
    return {false, matrix[0] < 0, matrix[4] < 0};
  return {true, matrix[3] < 0, matrix[1] < 0};
}

void turn_into(ImageView<const Byte> in, Turn turn, ImageView<Byte> out) {
  for (int r = 0; r < out.rows; ++r) {
    const int down = turn.flipped ? out.rows - 1 - r : r;
    Byte* to = out.row(r);
    for (int c = 0; c < out.cols; ++c) {
      const int across = turn.mirrored ? out.cols - 1 - c : c;
      const Byte* from = turn.transposed ? in.row(across) + 3 * down : in.row(down) + 3 * across;
      for (int k = 0; k < 3; ++k) to[3 * c + k] = from[k];
    }
  }
}

struct Opened {
  AvPtr<AVFormatContext> input;
  AvPtr<AVCodecContext> codec;
  AVStream* stream = nullptr;
};

// What is opened, by which protocol alone, and what messages call it.
struct Origin {
  std::string url;
  const char* protocol = "file";
  const char* form = nullptr;  // null: told by the contents
  std::string name;
  const char* refusal = "cannot be read as a video, or is cut short";
  bool is_camera = false;  // which sends a broken picture now and then: the next one will do
  const Interrupt* interrupt = nullptr;
  bool is_standard_input = false;
};

bool is_interrupted(const Origin& origin) {
  return origin.interrupt != nullptr && origin.interrupt->is_raised();
}

[[noreturn]] void refuse(const Origin& origin, const std::string& why) {
  throw DataError({origin.name}, why);
}

// Standard input, waited for until there is something to read or nothing is wanted any more: the package itself would
// wait for ever for whoever writes there.
int read_standard_input(void* interrupt, std::uint8_t* bytes, int size) {
  pollfd waiting[] = {{STDIN_FILENO, POLLIN, 0},
                      {static_cast<const Interrupt*>(interrupt)->descriptor(), POLLIN, 0}};
  while (::poll(waiting, 2, -1) < 0)
    if (errno != EINTR) return AVERROR(errno);
  if (waiting[1].revents != 0) return AVERROR_EXIT;
  const ssize_t count = ::read(STDIN_FILENO, bytes, static_cast<std::size_t>(size));
  if (count < 0) return AVERROR(errno);
  return count == 0 ? AVERROR_EOF : static_cast<int>(count);
}

// What the package reads standard input through.
AVIOContext* standard_input_bytes(const Interrupt& interrupt) {
  constexpr int kBuffer = 1 << 16;
  auto* buffer = static_cast<unsigned char*>(av_malloc(kBuffer));
  // It takes the callback's argument without `const`; the callback above changes nothing.
  return avio_alloc_context(
      buffer, kBuffer, 0,
      const_cast<Interrupt*>(&interrupt),  // NOLINT(cppcoreguidelines-pro-type-const-cast)
      read_standard_input, nullptr, nullptr);
}

// Whether what has been read so far does.
bool begins_like_yuv4mpeg2(const AVIOContext& bytes) {
  constexpr std::string_view kMagic = "YUV4MPEG2 ";
  return bytes.buf_end - bytes.buffer >= static_cast<std::ptrdiff_t>(kMagic.size()) &&
         std::memcmp(bytes.buffer, kMagic.data(), kMagic.size()) == 0;
}

AvPtr<AVFormatContext> open_input(const Origin& origin) {
  detail::use_av();
  const AVInputFormat* form = origin.form != nullptr ? av_find_input_format(origin.form) : nullptr;
  AVDictionary* settings = nullptr;
  if (origin.protocol != nullptr) av_dict_set(&settings, "protocol_whitelist", origin.protocol, 0);
  AVFormatContext* made = avformat_alloc_context();
  if (origin.is_standard_input) made->pb = standard_input_bytes(*origin.interrupt);
  AvPtr<AVIOContext> bytes(made->pb);  // which a failing call leaves behind
  const int code = avformat_open_input(&made, origin.url.c_str(), form, &settings);
  av_dict_free(&settings);
  if (code < 0 && bytes && begins_like_yuv4mpeg2(*bytes))
    refuse(
        origin,
        "begins like YUV4MPEG2, but its header is none that can be read; is the size of its frames right?");
  if (code >= 0) static_cast<void>(bytes.release());
  if (code < 0) refuse(origin, fmt::format("{}: {}", origin.refusal, detail::av_error_text(code)));
  AvPtr<AVFormatContext> input(made);
  const std::string_view kind = input->iformat->name;
  if (std::ranges::find(kNoVideo, kind) != kNoVideo.end() || kind.ends_with("_pipe"))
    refuse(origin, fmt::format("is no video, but looks like '{}'", kind));
  return input;
}

// Errors are not smoothed over: a guessed frame would be scored as if it had been seen.
AvPtr<AVCodecContext> open_codec(const Origin& origin, const AVCodec* decoder, const AVStream& stream) {
  const std::int64_t pixels = std::int64_t{stream.codecpar->width} * stream.codecpar->height;
  if (pixels > kMostVideoPixels)
    refuse(origin,
           fmt::format("has frames of {} x {} px; frames of up to {} million pixels can be read",
                       stream.codecpar->width, stream.codecpar->height, kMostVideoPixels / 1'000'000));
  AvPtr<AVCodecContext> codec(decoder != nullptr ? avcodec_alloc_context3(decoder) : nullptr);
  if (!codec) refuse(origin, "holds video of a form that the installed libraries do not decode");
  int code = avcodec_parameters_to_context(codec.get(), stream.codecpar);
  if (!origin.is_camera)
    codec->err_recognition = AV_EF_CRCCHECK | AV_EF_BITSTREAM | AV_EF_BUFFER | AV_EF_EXPLODE;
  codec->thread_count = 1;
  codec->max_pixels = kMostVideoPixels;
  codec->pkt_timebase = stream.time_base;
  if (code >= 0) code = avcodec_open2(codec.get(), decoder, nullptr);
  if (code < 0) refuse(origin, "cannot be decoded: " + detail::av_error_text(code));
  return codec;
}

Opened open(const Origin& origin) {
  Opened opened;
  opened.input = open_input(origin);
  AVFormatContext* input = opened.input.get();
  // A pipe's header says all; to look further would wait for frames that are still to come.
  if (origin.form == nullptr) {
    const int code = avformat_find_stream_info(input, nullptr);
    if (code < 0) refuse(origin, "cannot be read as a video: " + detail::av_error_text(code));
  }
  const AVCodec* decoder = nullptr;
  const int at = av_find_best_stream(input, AVMEDIA_TYPE_VIDEO, -1, -1, &decoder, 0);
  if (at == AVERROR_STREAM_NOT_FOUND) refuse(origin, "holds no moving pictures");
  if (at < 0) refuse(origin, "holds video of a form that the installed libraries do not decode");
  opened.stream = input->streams[at];
  for (unsigned i = 0; i < input->nb_streams; ++i)
    if (static_cast<int>(i) != at) input->streams[i]->discard = AVDISCARD_ALL;
  opened.codec = open_codec(origin, decoder, *opened.stream);
  return opened;
}

// When the pictures of a file are shown, in the order in which they are; none where the file does not say it of all.
struct Moments {
  explicit Moments(const Origin& origin) {
    const Opened opened = open(origin);
    const AvPtr<AVPacket> packet(av_packet_alloc());
    while (av_read_frame(opened.input.get(), packet.get()) >= 0) {
      const bool is_ours = packet->stream_index == opened.stream->index;
      const std::int64_t stamp = packet->pts;
      if (is_ours && (packet->flags & AV_PKT_FLAG_DISCARD) == 0) {
        stamps.push_back(stamp);
        if ((packet->flags & AV_PKT_FLAG_KEY) != 0) keys.push_back(stamp);
      }
      av_packet_unref(packet.get());
    }
    std::ranges::sort(stamps);
    std::ranges::sort(keys);
    const bool are_told_apart = std::ranges::adjacent_find(stamps) == stamps.end();
    if (keys.empty() || stamps.front() == AV_NOPTS_VALUE || !are_told_apart) stamps.clear();
  }

  // The last picture up to that moment that can be decoded by itself.
  [[nodiscard]] std::int64_t key_before(std::int64_t stamp) const {
    const auto after = std::ranges::upper_bound(keys, stamp);
    return after == keys.begin() ? stamps.front() : *std::prev(after);
  }

  std::vector<std::int64_t> stamps;
  std::vector<std::int64_t> keys;
};

class VideoFrames final : public FrameSource {
 public:
  explicit VideoFrames(Origin origin)
      : origin_(std::move(origin)),
        opened_(open(origin_)),
        packet_(av_packet_alloc()),
        frame_(av_frame_alloc()),
        turn_(turn_of(*opened_.stream)) {}

 private:
  std::optional<Frame> do_next() override {
    if (!decode()) return std::nullopt;
    convert();
    const ImageView<const Byte> shown = std::as_const(turn_.is_none() ? decoded_ : turned_).view();
    return Frame{shown, index_++, time_s_};
  }

  bool do_skip() override {
    if (!decode()) return false;
    ++index_;
    return true;
  }

  // By the list of what the file holds, which is read once without decoding anything: from the key frame before it on
  // frames are decoded and passed over until the one with the wanted stamp has come.
  bool do_seek(int index) override {
    if (!moments_) moments_.emplace(origin_);
    const std::vector<std::int64_t>& stamps = moments_->stamps;
    if (index < 0 || index >= static_cast<int>(stamps.size())) return false;
    const std::int64_t wanted = stamps[static_cast<std::size_t>(index)];
    if (avformat_seek_file(opened_.input.get(), opened_.stream->index,
                           std::numeric_limits<std::int64_t>::min(), moments_->key_before(wanted), wanted,
                           0) < 0)
      return false;
    avcodec_flush_buffers(opened_.codec.get());
    damage_.clear();
    index_ = 1;  // not the first, whose stamp would be taken for the beginning
    first_stamp_ = stamps.front();
    is_held_ = false;
    time_s_ = 0;
    while (decode()) {
      const std::int64_t stamp = frame_->best_effort_timestamp;
      if (stamp == wanted) {
        index_ = index;
        is_held_ = true;
        return true;
      }
      if (stamp == AV_NOPTS_VALUE || stamp > wanted) return false;
    }
    return false;
  }

  [[nodiscard]] std::optional<int> do_total() const override {
    return moments_ && !moments_->stamps.empty() ? std::optional(static_cast<int>(moments_->stamps.size()))
                                                 : std::nullopt;
  }

  [[nodiscard]] std::optional<double> do_rate_hz() const override {
    const AVRational rate = av_guess_frame_rate(opened_.input.get(), opened_.stream, nullptr);
    return rate.num > 0 && rate.den > 0 ? std::optional(av_q2d(rate)) : std::nullopt;
  }

  // The next decoded picture into frame_; false at the end.
  bool decode() {
    if (std::exchange(is_held_, false)) return true;
    for (;;) {
      const int code = avcodec_receive_frame(opened_.codec.get(), frame_.get());
      if (code == AVERROR_EOF) {
        if (!damage_.empty()) report_damage();
        return false;
      }
      if (code == 0) {
        if (is_broken()) {
          if (origin_.is_camera) continue;
          damage_ = "its data are broken";
          report_damage();
        }
        take_time();
        return true;
      }
      if (code != AVERROR(EAGAIN) && !origin_.is_camera) {
        damage_ = detail::av_error_text(code);
        report_damage();
      }
      feed();
    }
  }

  [[nodiscard]] bool is_broken() const {
    return (frame_->flags & AV_FRAME_FLAG_CORRUPT) != 0 || frame_->decode_error_flags != 0;
  }

  // Gives the decoder one packet, or the end. Damage ends the stream: what the decoder holds is still good.
  void feed() {
    int code = 0;
    detail::av_complaint().clear();
    do {
      av_packet_unref(packet_.get());
      code = av_read_frame(opened_.input.get(), packet_.get());
    } while (code >= 0 && packet_->stream_index != opened_.stream->index);
    if (is_interrupted(origin_)) {
      // What has come is what there is; a frame that was under way is not missed.
    } else if (code == AVERROR_EOF) {
      if (left_over())
        damage_ = "the data end within it";
      else if (!detail::av_complaint().empty())
        damage_ = "the data end early (" + detail::av_complaint() + ")";
    } else if (code < 0) {
      damage_ = detail::av_error_text(code);
    } else if ((packet_->flags & AV_PKT_FLAG_CORRUPT) != 0) {
      damage_ = "its data are cut short";
    } else {
      end_of_packet_ = avio_tell(opened_.input->pb);
      const int sent = avcodec_send_packet(opened_.codec.get(), packet_.get());
      if (sent >= 0 || origin_.is_camera) return;
      damage_ = detail::av_error_text(sent);
    }
    avcodec_send_packet(opened_.codec.get(), nullptr);
  }

  // A frame of YUV4MPEG2 that is cut short is passed over by the package as if it had never begun.
  [[nodiscard]] bool left_over() const {
    AVIOContext* bytes = opened_.input->pb;
    return std::string_view(opened_.input->iformat->name) == kPipedForm && bytes != nullptr &&
           avio_tell(bytes) > end_of_packet_;
  }

  [[noreturn]] void report_damage() const {
    // Whoever follows a camera counts from the frame that they began with.
    if (origin_.is_camera) throw DataError({origin_.name}, "sends no more frames: " + damage_);
    throw DataError({origin_.name}, fmt::format("frame {} cannot be read: {}", index_, damage_));
  }

  void take_time() {
    const std::int64_t stamp = frame_->best_effort_timestamp;
    const double step_s = 1 / do_rate_hz().value_or(30);
    double time_s = index_ == 0 ? 0 : time_s_ + step_s;
    if (stamp != AV_NOPTS_VALUE) {
      if (!first_stamp_) first_stamp_ = stamp - std::llround(time_s / av_q2d(opened_.stream->time_base));
      time_s = static_cast<double>(stamp - *first_stamp_) * av_q2d(opened_.stream->time_base);
    }
    time_s_ = index_ == 0 ? 0 : std::max(time_s, time_s_);
  }

  // Wide as it is shown: pixels that are not square are stretched sideways.
  [[nodiscard]] int shown_width() const {
    const AVRational ratio = av_guess_sample_aspect_ratio(opened_.input.get(), opened_.stream, frame_.get());
    const double stretch = ratio.num > 0 && ratio.den > 0 ? av_q2d(ratio) : 1;
    if (!(stretch >= 0.1 && stretch <= 10)) return frame_->width;
    return std::clamp(static_cast<int>(std::lround(frame_->width * stretch)), 1, kLongestSide);
  }

  void convert() {
    if (!scaler_ || frame_->width != width_ || frame_->height != height_ || frame_->format != format_)
      prepare();
    std::array<std::uint8_t*, 4> to{decoded_.view().data, nullptr, nullptr, nullptr};
    std::array<int, 4> strides{static_cast<int>(decoded_.view().stride), 0, 0, 0};
    if (!planes_.empty()) {
      for (std::size_t i = 0; i < 3; ++i) {
        to[i] = planes_.view().row(static_cast<int>(i) * decoded_.rows());
        strides[i] = static_cast<int>(planes_.view().stride);
      }
    }
    sws_scale(scaler_.get(), frame_->data, frame_->linesize, 0, frame_->height, to.data(), strides.data());
    if (!planes_.empty()) join_planes();
    if (!turn_.is_none()) turn_into(std::as_const(decoded_).view(), turn_, turned_.view());
  }

  void join_planes() {
    const int rows = decoded_.rows();
    for (int r = 0; r < rows; ++r) {
      const Byte* green = planes_.view().row(r);
      const Byte* blue = planes_.view().row(rows + r);
      const Byte* red = planes_.view().row(2 * rows + r);
      Byte* rgb = decoded_.view().row(r);
      for (int c = 0; c < decoded_.cols(); ++c, rgb += 3) {
        rgb[0] = red[c];
        rgb[1] = green[c];
        rgb[2] = blue[c];
      }
    }
  }

  // The package turns luma and chroma into planes of colours in a third of the time that pixels take it. Making pixels of chroma that
  // is half as high, it also puts it half a row too low.
  [[nodiscard]] bool goes_by_planes() const {
    const AVPixFmtDescriptor* form = av_pix_fmt_desc_get(static_cast<AVPixelFormat>(format_));
    constexpr std::uint64_t kOther = AV_PIX_FMT_FLAG_RGB | AV_PIX_FMT_FLAG_PAL | AV_PIX_FMT_FLAG_ALPHA;
    return form != nullptr && form->nb_components == 3 && (form->flags & kOther) == 0;
  }

  void prepare() {
    const int cols = shown_width();
    if (scaler_ && (frame_->width != width_ || frame_->height != height_))
      throw DataError(
          {origin_.name},
          fmt::format("frame {} is {} x {} pixels, but those before it are {} x {}; all frames of a "
                      "sequence must have one size",
                      index_, frame_->width, frame_->height, width_, height_));
    width_ = frame_->width;
    height_ = frame_->height;
    format_ = frame_->format;
    scaler_.reset(sws_getContext(width_, height_, static_cast<AVPixelFormat>(format_), cols, height_,
                                 goes_by_planes() ? AV_PIX_FMT_GBRP : AV_PIX_FMT_RGB24, detail::kScaling,
                                 nullptr, nullptr, nullptr));
    if (!scaler_)
      throw DataError({origin_.name},
                      fmt::format("frame {} has pixels of a form that cannot be read", index_));
    const int* matrix = sws_getCoefficients(
        frame_->colorspace == AVCOL_SPC_UNSPECIFIED ? SWS_CS_ITU601 : static_cast<int>(frame_->colorspace));
    const int full = frame_->color_range == AVCOL_RANGE_JPEG ? 1 : 0;
    sws_setColorspaceDetails(scaler_.get(), matrix, full, sws_getCoefficients(SWS_CS_DEFAULT), 1, 0, 1 << 16,
                             1 << 16);
    decoded_ = Image<Byte>(height_, cols, 3);
    // Vectors of the package end beyond the last pixel of a row.
    constexpr int kVector = 64;
    planes_ =
        goes_by_planes() ? Image<Byte>(3 * height_, (cols + kVector - 1) / kVector * kVector) : Image<Byte>();
    if (!turn_.is_none())
      turned_ = turn_.transposed ? Image<Byte>(cols, height_, 3) : Image<Byte>(height_, cols, 3);
  }

  Origin origin_;
  Opened opened_;
  AvPtr<AVPacket> packet_;
  AvPtr<AVFrame> frame_;
  Turn turn_;
  AvPtr<SwsContext> scaler_;
  Image<Byte> planes_;  // green, blue and red below each other, where pixels come from them
  int width_ = 0;
  int height_ = 0;
  int format_ = -1;
  Image<Byte> decoded_;
  Image<Byte> turned_;
  int index_ = 0;
  double time_s_ = 0;
  std::optional<std::int64_t> first_stamp_;
  std::int64_t end_of_packet_ = 0;
  std::string damage_;
  std::optional<Moments> moments_;  // once they were asked for
  bool is_held_ = false;            // frame_ is the next one already
};

}  // namespace

bool is_video_name(const std::filesystem::path& file) {
  static constexpr std::array<std::string_view, 24> kEndings{
      ".mp4", ".m4v", ".mov", ".mkv", ".webm", ".avi",  ".mpg",   ".mpeg", ".ts",  ".mts", ".m2ts", ".wmv",
      ".flv", ".ogv", ".y4m", ".gif", ".3gp",  ".mjpg", ".mjpeg", ".mxf",  ".asf", ".vob", ".nut",  ".ivf"};
  std::string ending = file.extension().string();
  for (char& c : ending)
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  return std::ranges::find(kEndings, ending) != kEndings.end();
}

std::unique_ptr<FrameSource> open_video(const std::filesystem::path& file) {
  std::error_code code;
  if (!std::filesystem::is_regular_file(file, code)) throw DataError({file}, "there is no such file");
  return std::make_unique<VideoFrames>(Origin{"file:" + file.string(), "file", nullptr, file.string()});
}

std::unique_ptr<FrameSource> open_standard_input(const Interrupt& interrupt) {
  Origin origin{"pipe:0", "pipe", kPipedForm, "standard input",
                "does not begin like YUV4MPEG2, the form in which frames are piped in"};
  origin.interrupt = &interrupt;
  origin.is_standard_input = true;
  return std::make_unique<VideoFrames>(std::move(origin));
}

std::unique_ptr<FrameSource> open_capture_device(const std::string& device, const Interrupt& interrupt) {
  Origin origin{device, nullptr, "v4l2", "camera:" + device, "cannot be opened as a camera", true};
  origin.interrupt = &interrupt;
  return std::make_unique<VideoFrames>(std::move(origin));
}

}  // namespace mnemon
