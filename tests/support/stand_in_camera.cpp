// SPDX-License-Identifier: MIT
// A camera where there is none. Loaded before a program (LD_PRELOAD), it answers for the device kDevice as the system does for
// Video4Linux: 30 frames/s of 320 x 240 in YUYV, on which a bright square moves right by 2 px a frame. Exposure, gain and
// white balance go by themselves, and drift, until somebody takes them by hand. Gain cannot be taken. Frame 50 is
// broken, as those of a loose cable are. STAND_IN_CAMERA names the file to which the settings go once the device has been
// closed, and STAND_IN_CAMERA_UNPLUGGED the frame on which somebody pulls its plug.
#include <algorithm>
#include <array>
#include <cerrno>
#include <cstdarg>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <ctime>
#include <map>
#include <mutex>
#include <set>

#include <dlfcn.h>
#include <fcntl.h>
#include <linux/videodev2.h>
#include <sys/ioctl.h>
#include <sys/mman.h>
#include <unistd.h>

namespace {

constexpr const char* kDevice = "/dev/video-stand-in";
constexpr int kWidth = 320;
constexpr int kHeight = 240;
constexpr int kBytes = 2 * kWidth * kHeight;
constexpr int kBuffers = 8;
constexpr std::int64_t kPeriod = 1'000'000'000 / 30;  // ns
constexpr int kBroken = 50;

struct Camera {
  std::mutex mutex;
  std::set<int> files;
  std::array<unsigned char*, kBuffers> buffers{};
  std::array<bool, kBuffers> queued{};
  std::int64_t started = 0;  // ns
  int frame = 0;
  std::map<std::uint32_t, int> settings{{V4L2_CID_EXPOSURE_AUTO, V4L2_EXPOSURE_APERTURE_PRIORITY},
                                        {V4L2_CID_EXPOSURE_ABSOLUTE, 156},
                                        {V4L2_CID_AUTOGAIN, 1},
                                        {V4L2_CID_GAIN, 12},
                                        {V4L2_CID_AUTO_WHITE_BALANCE, 1},
                                        {V4L2_CID_WHITE_BALANCE_TEMPERATURE, 4000}};
};

Camera& camera() {
  static Camera one;
  return one;
}

template <class F>
F next(const char* name) {
  return reinterpret_cast<F>(::dlsym(RTLD_NEXT, name));
}

std::int64_t now() {
  timespec time{};
  ::clock_gettime(CLOCK_MONOTONIC, &time);
  return std::int64_t{time.tv_sec} * 1'000'000'000 + time.tv_nsec;
}

bool is_ours(int file) {
  const std::lock_guard lock(camera().mutex);
  return camera().files.contains(file);
}

int refused(int code) {
  errno = code;
  return -1;
}

// A cold picture's colours are bluer.
void draw(unsigned char* to, int frame, int temperature) {
  const int blue = 128 + (temperature - 4000) / 20;
  const int left = 40 + 2 * frame;
  for (int y = 0; y < kHeight; ++y)
    for (int x = 0; x < kWidth; ++x) {
      const bool is_target = x >= left && x < left + 48 && y >= 90 && y < 138;
      const int ground = 60 + 20 * ((x / 9 + y / 7) % 3);
      unsigned char* const pixel = to + 2 * (y * kWidth + x);
      pixel[0] = static_cast<unsigned char>(is_target ? 170 + 40 * ((x - left) / 12 % 2) : ground);
      pixel[1] = static_cast<unsigned char>(x % 2 == 0 ? std::clamp(blue, 0, 255) : is_target ? 190 : 128);
    }
}

v4l2_pix_format picture_format() {
  v4l2_pix_format form{};
  form.width = kWidth;
  form.height = kHeight;
  form.pixelformat = V4L2_PIX_FMT_YUYV;
  form.field = V4L2_FIELD_NONE;
  form.bytesperline = 2 * kWidth;
  form.sizeimage = kBytes;
  return form;
}

// The oldest that waits to be filled is not kept track of: any will do.
int take_frame(v4l2_buffer& buffer) {
  Camera& one = camera();
  const auto waiting = std::ranges::find(one.queued, true);
  if (waiting == one.queued.end()) return refused(EAGAIN);
  const char* const unplugged = std::getenv("STAND_IN_CAMERA_UNPLUGGED");
  if (unplugged != nullptr && one.frame >= std::atoi(unplugged)) return refused(ENODEV);
  const int frame = one.frame++;
  const std::int64_t due = one.started + (frame + 1) * kPeriod;
  const timespec until{static_cast<time_t>(due / 1'000'000'000), static_cast<long>(due % 1'000'000'000)};
  ::clock_nanosleep(CLOCK_MONOTONIC, TIMER_ABSTIME, &until, nullptr);
  if (one.settings[V4L2_CID_AUTO_WHITE_BALANCE] == 1) one.settings[V4L2_CID_WHITE_BALANCE_TEMPERATURE] += 10;
  *waiting = false;
  buffer.index = static_cast<std::uint32_t>(waiting - one.queued.begin());
  draw(one.buffers[buffer.index], frame, one.settings[V4L2_CID_WHITE_BALANCE_TEMPERATURE]);
  buffer.bytesused = kBytes;
  buffer.flags = V4L2_BUF_FLAG_TIMESTAMP_MONOTONIC;
  if (frame == kBroken) {
    buffer.bytesused = kBytes / 3;
    buffer.flags |= V4L2_BUF_FLAG_ERROR;
  }
  buffer.sequence = static_cast<std::uint32_t>(frame);
  buffer.timestamp.tv_sec = due / 1'000'000'000;
  buffer.timestamp.tv_usec = due % 1'000'000'000 / 1000;
  return 0;
}

int set_control(const v4l2_control& control) {
  auto& settings = camera().settings;
  const auto at = settings.find(control.id);
  if (at == settings.end() || control.id == V4L2_CID_AUTOGAIN) return refused(EINVAL);
  at->second = control.value;
  return 0;
}

int answer(unsigned long what, void* with) {
  Camera& one = camera();
  const std::lock_guard lock(one.mutex);
  switch (what) {
    case VIDIOC_QUERYCAP: {
      auto& able = *static_cast<v4l2_capability*>(with);
      able = {};
      able.capabilities = V4L2_CAP_VIDEO_CAPTURE | V4L2_CAP_STREAMING;
      return 0;
    }
    case VIDIOC_G_INPUT:
      *static_cast<int*>(with) = 0;
      return 0;
    case VIDIOC_ENUMINPUT: {
      auto& input = *static_cast<v4l2_input*>(with);
      if (input.index != 0) return refused(EINVAL);
      input = {};
      return 0;
    }
    case VIDIOC_G_FMT:
      static_cast<v4l2_format*>(with)->fmt.pix = picture_format();
      return 0;
    case VIDIOC_S_FMT: {
      auto& form = *static_cast<v4l2_format*>(with);
      const bool is_known = form.fmt.pix.pixelformat == V4L2_PIX_FMT_YUYV;
      form.fmt.pix = picture_format();
      return is_known ? 0 : refused(EINVAL);
    }
    case VIDIOC_G_PARM: {
      auto& stream = *static_cast<v4l2_streamparm*>(with);
      stream.parm.capture = {};
      stream.parm.capture.timeperframe = {1, 30};
      return 0;
    }
    case VIDIOC_REQBUFS: {
      auto& asked = *static_cast<v4l2_requestbuffers*>(with);
      asked.count = std::min<std::uint32_t>(asked.count, kBuffers);
      return 0;
    }
    case VIDIOC_QUERYBUF: {
      auto& buffer = *static_cast<v4l2_buffer*>(with);
      if (buffer.index >= kBuffers) return refused(EINVAL);
      buffer.length = kBytes;
      buffer.m.offset = buffer.index * 1'048'576;
      return 0;
    }
    case VIDIOC_QBUF:
      one.queued[static_cast<v4l2_buffer*>(with)->index % kBuffers] = true;
      return 0;
    case VIDIOC_STREAMON:
      one.started = now();
      return 0;
    case VIDIOC_STREAMOFF:
      one.queued = {};
      return 0;
    case VIDIOC_DQBUF:
      return take_frame(*static_cast<v4l2_buffer*>(with));
    case VIDIOC_G_CTRL: {
      auto& control = *static_cast<v4l2_control*>(with);
      const auto at = one.settings.find(control.id);
      if (at == one.settings.end()) return refused(EINVAL);
      control.value = at->second;
      return 0;
    }
    case VIDIOC_S_CTRL:
      return set_control(*static_cast<v4l2_control*>(with));
    default:
      return refused(ENOTTY);
  }
}

// A character device stands for it, as a program may ask whether it is one.
int opened(const char* path, int flags, mode_t mode, const char* name) {
  const auto open_next = next<int (*)(const char*, int, ...)>(name);
  if (std::strcmp(path, kDevice) != 0) return open_next(path, flags, mode);
  const int file = open_next("/dev/null", flags, mode);
  const std::lock_guard lock(camera().mutex);
  if (file >= 0) camera().files.insert(file);
  return file;
}

void* mapped(void* at, std::size_t size, int protection, int flags, int file, off64_t offset) {
  const auto map_next = next<void* (*)(void*, std::size_t, int, int, int, off64_t)>("mmap64");
  if (file < 0 || !is_ours(file)) return map_next(at, size, protection, flags, file, offset);
  void* const bytes = map_next(nullptr, size, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
  const std::lock_guard lock(camera().mutex);
  camera().buffers[static_cast<std::size_t>(offset / 1'048'576)] = static_cast<unsigned char*>(bytes);
  return bytes;
}

void write_settings() {
  const char* const to = std::getenv("STAND_IN_CAMERA");
  std::FILE* const out = to != nullptr ? std::fopen(to, "w") : nullptr;
  if (out == nullptr) return;
  auto& settings = camera().settings;
  std::fprintf(out, "exposure %d %d, gain %d %d, white balance %d %d, frames %d\n",
               settings[V4L2_CID_EXPOSURE_AUTO], settings[V4L2_CID_EXPOSURE_ABSOLUTE],
               settings[V4L2_CID_AUTOGAIN], settings[V4L2_CID_GAIN], settings[V4L2_CID_AUTO_WHITE_BALANCE],
               settings[V4L2_CID_WHITE_BALANCE_TEMPERATURE], camera().frame);
  std::fclose(out);
}

}  // namespace

extern "C" {

int open(const char* path, int flags, ...) {
  va_list more;
  va_start(more, flags);
  const auto mode = static_cast<mode_t>(va_arg(more, unsigned));
  va_end(more);
  return opened(path, flags, mode, "open");
}

int open64(const char* path, int flags, ...) {
  va_list more;
  va_start(more, flags);
  const auto mode = static_cast<mode_t>(va_arg(more, unsigned));
  va_end(more);
  return opened(path, flags, mode, "open64");
}

int close(int file) {
  bool is_last = false;
  if (is_ours(file)) {
    const std::lock_guard lock(camera().mutex);
    camera().files.erase(file);
    is_last = camera().files.empty();
  }
  if (is_last) write_settings();
  return next<int (*)(int)>("close")(file);
}

int ioctl(int file, unsigned long what, ...) {
  va_list more;
  va_start(more, what);
  void* const with = va_arg(more, void*);
  va_end(more);
  return is_ours(file) ? answer(what, with)
                       : next<int (*)(int, unsigned long, ...)>("ioctl")(file, what, with);
}

void* mmap(void* at, std::size_t size, int protection, int flags, int file, off_t offset) {
  return mapped(at, size, protection, flags, file, offset);
}

void* mmap64(void* at, std::size_t size, int protection, int flags, int file, off64_t offset) {
  return mapped(at, size, protection, flags, file, offset);
}

}  // extern "C"
