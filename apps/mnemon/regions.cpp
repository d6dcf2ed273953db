// SPDX-License-Identifier: MIT
#include "regions.hpp"

#include <array>
#include <string_view>
#include <utility>

#include <fmt/format.h>
#include <poll.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/media/picture_file.hpp>

namespace mnemon::app {
namespace {

std::vector<double> numbers_of(std::string_view text) {
  std::vector<double> numbers;
  for (const std::string_view part : parts_of(text, ',')) {
    const auto number = parse_real(part);
    if (!number) return {};
    numbers.push_back(*number);
  }
  return numbers;
}

// A text without the frame that it may begin with.
struct Framed {
  std::optional<int> frame;
  std::string_view rest;
};

// Nothing where what stands before a colon is no frame.
std::optional<Framed> framed(std::string_view text) {
  const std::size_t colon = text.find(':');
  if (colon == std::string_view::npos) return Framed{{}, text};
  const auto frame = parse_whole(text.substr(0, colon));
  if (!frame || *frame < 0) return std::nullopt;
  return Framed{frame, text.substr(colon + 1)};
}

struct FramedNumbers {
  std::optional<int> frame;
  std::vector<double> numbers;
};

// What an option is to be.
struct Form {
  const char* thing;    // what it is not, where it is wrong
  const char* written;  // how it is written
  const char* example;
};
constexpr Form kBox{"a box", "x,y,w,h in pixels", "101.5,80,40,36"};
constexpr Form kOriented{"a turned box", "x,y,w,h,angle in pixels and degrees", "101.5,80,40,36,15"};
constexpr Form kPolygon{"an outline", "x,y of three corners and more in pixels", "101,80,141,80,121,116"};
constexpr Form kPlace{"a place", "x,y in pixels", "121.5,98"};

template <class IsRight>
FramedNumbers parse_numbers(const std::string& text, const std::string& what, const Form& form,
                            IsRight is_right) {
  const auto parts = framed(text);
  FramedNumbers read;
  if (parts) read = {parts->frame, numbers_of(parts->rest)};
  if (!parts || !is_right(read.numbers.size()))
    throw CallError(
        fmt::format("{} {} is not {}: write {}, such as {}, or with the frame it is for, such as 25:{}", what,
                    text, form.thing, form.written, form.example, form.example));
  return read;
}

Polygon corners_of(const std::vector<double>& numbers) {
  Polygon corners;
  for (std::size_t i = 0; i + 1 < numbers.size(); i += 2) corners.push_back({numbers[i], numbers[i + 1]});
  return corners;
}

}  // namespace

Marked parse_marked(const std::string& text, const std::string& what) {
  const auto [frame, n] = parse_numbers(text, what, kBox, [](std::size_t count) { return count == 4; });
  return {{n[0], n[1], n[2], n[3]}, frame};
}

std::vector<Polygon> parse_areas(const std::vector<std::string>& texts, const std::string& what) {
  std::vector<Polygon> areas;
  for (const std::string& text : texts) {
    const auto [frame, n] =
        parse_numbers(text, what, kPolygon, [](std::size_t count) { return count >= 6 && count % 2 == 0; });
    if (frame)
      throw CallError(fmt::format("{} {} names a frame, and an area is kept out of all; leave {}: out", what,
                                  text, *frame));
    areas.push_back(corners_of(n));
  }
  return areas;
}

Marks::Marks(const MarkTexts& texts) {
  for (const std::string& text : texts.box) {
    const Marked marked = parse_marked(text, "--box");
    put(marked.frame, marked.box, "--box " + text);
  }
  for (const std::string& text : texts.oriented) {
    const auto [frame, n] =
        parse_numbers(text, "--oriented", kOriented, [](std::size_t count) { return count == 5; });
    put(frame, OrientedBox{{n[0], n[1], n[2], n[3]}, n[4]}, "--oriented " + text);
  }
  for (const std::string& text : texts.polygon) {
    const auto [frame, n] = parse_numbers(text, "--polygon", kPolygon,
                                          [](std::size_t count) { return count >= 6 && count % 2 == 0; });
    put(frame, corners_of(n), "--polygon " + text);
  }
  for (const std::string& text : texts.mask) {
    // A colon may belong to the file's name.
    const Framed parts = framed(text).value_or(Framed{{}, text});
    masks_.push_back(read_mask(std::string(parts.rest)));
    put(parts.frame, std::as_const(masks_.back()).view(), "--mask " + text);
  }
  put_points(texts);
}

void Marks::put(const std::optional<int>& frame, Region region, const std::string& what) {
  const bool is_new = frame ? later_.emplace(*frame, region).second : !first_;
  if (!frame) first_ = std::move(region);
  if (frame && (!earliest_ || *frame < earliest_->frame)) earliest_ = {*frame, what};
  if (!is_new)
    throw CallError(
        fmt::format("{} marks a frame that is marked already; name each one's frame, such as 25:", what));
}

// Points mark a frame together, and a box on the same frame limits what they mark.
void Marks::put_points(const MarkTexts& texts) {
  std::map<std::optional<int>, PointMarks> points;
  const auto take = [&points](const std::vector<std::string>& all, const char* what, auto member) {
    for (const std::string& text : all) {
      const auto [frame, n] = parse_numbers(text, what, kPlace, [](std::size_t count) { return count == 2; });
      (points[frame].*member).push_back({n[0], n[1]});
    }
  };
  take(texts.include, "--include", &PointMarks::include);
  take(texts.exclude, "--exclude", &PointMarks::exclude);
  for (auto& [frame, marks] : points) {
    Region* at = nullptr;
    if (!frame && first_) at = &*first_;
    if (frame && later_.contains(*frame)) at = &later_.at(*frame);
    const Box* box = at != nullptr ? std::get_if<Box>(at) : nullptr;
    if (at != nullptr && box == nullptr)
      throw CallError(
          "--include and --exclude go with --box, or alone; another region marks the target by itself");
    if (box != nullptr) marks.box = *box;
    if (marks.include.empty() && box == nullptr)
      throw CallError("--exclude says where the target is not; say where it is with --include or --box");
    if (marks.include.empty()) marks.include.push_back(centre(*box));
    if (at != nullptr)
      *at = marks;
    else
      put(frame, marks, "--include");
  }
}

std::optional<NamedMark> Marks::named_first() const { return first_ ? std::nullopt : earliest_; }

void Marks::check_after(int first) const {
  if (first_ && earliest_ && earliest_->frame <= first)
    throw CallError(fmt::format("{} is for frame {}, but the first region is on frame {}", earliest_->text,
                                earliest_->frame, first));
}

std::optional<Region> Marks::for_frame(int frame) {
  std::optional<Region> found = std::exchange(first_, std::nullopt);
  while (!later_.empty() && later_.begin()->first <= frame) {
    found = std::move(later_.begin()->second);
    later_.erase(later_.begin());
  }
  return found;
}

std::vector<int> Marks::left_over() const {
  std::vector<int> frames;
  for (const auto& [frame, region] : later_) frames.push_back(frame);
  return frames;
}

// What has been written so far; false where nothing more can come now.
bool RegionLines::read(bool wait) {
  pollfd standard_input{STDIN_FILENO, POLLIN, 0};
  if (ended_ || ::poll(&standard_input, 1, wait ? -1 : 0) <= 0) return false;
  std::array<char, 4096> bytes{};
  const ssize_t count = ::read(STDIN_FILENO, bytes.data(), bytes.size());
  if (count <= 0) {
    ended_ = true;
    return false;
  }
  text_.append(bytes.data(), static_cast<std::size_t>(count));
  return true;
}

void RegionLines::take_lines() {
  if (ended_ && !text_.empty() && text_.back() != '\n') text_ += '\n';
  for (std::size_t end = text_.find('\n'); end != std::string::npos; end = text_.find('\n')) {
    std::string line(trimmed(std::string_view(text_).substr(0, end)));
    text_.erase(0, end + 1);
    if (!line.empty()) lines_.push_back(std::move(line));
  }
}

std::optional<Marked> RegionLines::for_frame(int frame, bool wait) {
  while (read(wait && lines_.empty())) take_lines();
  take_lines();
  for (std::size_t i = 0; i < lines_.size(); ++i) {
    const Marked marked = parse_marked(lines_[i], "the region on standard input,");
    if (marked.frame && *marked.frame > frame) continue;
    lines_.erase(lines_.begin() + static_cast<std::ptrdiff_t>(i));
    return marked;
  }
  return std::nullopt;
}

std::vector<std::string> RegionLines::left_over() {
  while (read(false)) take_lines();
  take_lines();
  return std::exchange(lines_, {});
}

}  // namespace mnemon::app
