// SPDX-License-Identifier: MIT
#include <mnemon/media/frame_source.hpp>

#include <algorithm>
#include <map>
#include <string>
#include <system_error>
#include <utility>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/natural_order.hpp>
#include <mnemon/media/picture_file.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

class PictureFrames final : public FrameSource {
 public:
  PictureFrames(std::vector<fs::path> files, double rate_hz, std::vector<double> times_s)
      : files_(std::move(files)), rate_hz_(rate_hz), times_s_(std::move(times_s)) {}

 private:
  std::optional<Frame> do_next() override {
    if (at_ == static_cast<int>(files_.size())) return std::nullopt;
    picture_ = read_picture(files_[at_]);
    const double time_s = times_s_.empty() ? at_ / rate_hz_ : times_s_.at(static_cast<std::size_t>(at_));
    const Frame frame{std::as_const(picture_).view(), at_, time_s};
    check_size(frame.size());
    ++at_;
    return frame;
  }

  bool do_skip() override {
    if (at_ == static_cast<int>(files_.size())) return false;
    ++at_;
    return true;
  }

  bool do_seek(int index) override {
    if (index < 0 || index >= static_cast<int>(files_.size())) return false;
    at_ = index;
    return true;
  }

  std::optional<int> do_total() const override { return static_cast<int>(files_.size()); }
  std::optional<double> do_rate_hz() const override { return rate_hz_; }

  void check_size(FrameSize size) {
    if (!size_) size_ = size;
    if (size == *size_) return;
    throw DataError({files_[at_]}, fmt::format("is {} x {} pixels, but the frames before it are {} x {}; "
                                               "all frames of a sequence must have one size",
                                               size.width, size.height, size_->width, size_->height));
  }

  std::vector<fs::path> files_;
  double rate_hz_;
  std::vector<double> times_s_;
  int at_ = 0;
  Image<Byte> picture_;
  std::optional<FrameSize> size_;
};

struct Pattern {
  std::string before;
  std::size_t digits = 0;  // at least so many, filled up with zeros
  std::string after;
};

std::optional<Pattern> parse_pattern(const std::string& text) {
  const auto start = text.find('%');
  const auto end = text.find('d', start);
  if (start == std::string::npos || end == std::string::npos) return std::nullopt;
  if (text.find('%', start + 1) != std::string::npos) return std::nullopt;
  Pattern pattern{text.substr(0, start), 0, text.substr(end + 1)};
  const std::string width = text.substr(start + 1, end - start - 1);
  if (width.empty()) return pattern;
  const auto digits = parse_whole(width);
  if (width.size() < 2 || width[0] != '0' || !digits || *digits < 1 || *digits > 12) return std::nullopt;
  pattern.digits = static_cast<std::size_t>(*digits);
  return pattern;
}

std::string name_of(const Pattern& pattern, int number) {
  return fmt::format("{}{:0{}}{}", pattern.before, number, pattern.digits, pattern.after);
}

std::vector<fs::path> files_of(const fs::path& folder) {
  std::error_code code;
  if (!fs::is_directory(folder, code)) throw DataError({folder}, "there is no such folder");
  std::vector<fs::path> files;
  for (const auto& entry : fs::directory_iterator(folder, code))
    if (!entry.is_directory()) files.push_back(entry.path());
  if (code) throw DataError({folder}, "cannot be read: " + code.message());
  return files;
}

// To read a pipe would wait for whoever writes into it.
void refuse_pipes(const std::vector<fs::path>& files) {
  for (const fs::path& file : files)
    if (is_device_or_pipe(file)) throw DataError({file}, "is a pipe or a device, not a picture's file");
}

}  // namespace

void visit_frames(FrameSource& frames, std::span<const int> numbers,
                  const std::function<void(const Frame&)>& use) {
  int at = 0;
  for (const int number : numbers) {
    while (at < number && frames.skip()) ++at;
    const auto frame = at == number ? frames.next() : std::nullopt;
    if (!frame) throw CallError(fmt::format("there are {} frames, so no frame {}", at, number));
    ++at;
    use(*frame);
  }
}

std::vector<fs::path> pictures_in(const fs::path& folder) {
  std::vector<fs::path> files = files_of(folder);
  std::erase_if(files, [](const fs::path& file) {
    return !is_picture_name(file) || file.filename().string().starts_with('.');
  });
  if (files.empty()) throw DataError({folder}, "holds no PNG or JPEG pictures");
  refuse_pipes(files);
  std::ranges::sort(files, [](const fs::path& a, const fs::path& b) {
    return comes_before(a.filename().string(), b.filename().string());
  });
  return files;
}

std::string numbered_name(const std::string& pattern, int number) {
  const auto parsed = parse_pattern(pattern);
  if (!parsed)
    throw CallError(fmt::format("'{}' is no pattern of numbered names; write one such as %06d.png", pattern));
  return name_of(*parsed, number);
}

std::vector<fs::path> pictures_like(const fs::path& pattern_path) {
  const auto pattern = parse_pattern(pattern_path.filename().string());
  if (!pattern)
    throw DataError({pattern_path}, "is no pattern of numbered pictures; write one such as frames/%06d.png");
  const fs::path folder = pattern_path.has_parent_path() ? pattern_path.parent_path() : ".";
  std::map<int, fs::path> numbered;
  for (const fs::path& file : files_of(folder)) {
    const std::string name = file.filename().string();
    if (!name.starts_with(pattern->before) || !name.ends_with(pattern->after)) continue;
    if (name.size() <= pattern->before.size() + pattern->after.size()) continue;
    const auto number = parse_whole(std::string_view(name).substr(
        pattern->before.size(), name.size() - pattern->before.size() - pattern->after.size()));
    if (number && *number >= 0 && name_of(*pattern, *number) == name) numbered[*number] = file;
  }
  if (numbered.empty()) throw DataError({pattern_path}, "no picture has such a name");
  std::vector<fs::path> files;
  for (auto& [number, file] : numbered) {
    if (number != static_cast<int>(files.size()))
      throw DataError({folder / name_of(*pattern, static_cast<int>(files.size()))},
                      fmt::format("is missing, though there is {}; frames count from 0 without a gap",
                                  file.filename().string()));
    files.push_back(std::move(file));
  }
  refuse_pipes(files);
  return files;
}

std::unique_ptr<FrameSource> open_pictures(std::vector<fs::path> files, double rate_hz,
                                           std::vector<double> times_s) {
  return std::make_unique<PictureFrames>(std::move(files), rate_hz, std::move(times_s));
}

}  // namespace mnemon
