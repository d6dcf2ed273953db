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

}  // namespace

Marked parse_marked(const std::string& text, const std::string& what) {
  const std::size_t colon = text.find(':');
  const std::string_view box = std::string_view(text).substr(colon == std::string::npos ? 0 : colon + 1);
  const std::vector<double> numbers = numbers_of(box);
  std::optional<int> frame;
  if (colon != std::string::npos) frame = parse_whole(std::string_view(text).substr(0, colon));
  if (numbers.size() != 4 || (colon != std::string::npos && !(frame && *frame >= 0)))
    throw CallError(
        fmt::format("{} {} is not a box: write x,y,w,h in pixels, such as 101.5,80,40,36, or with the "
                    "frame it is for, such as 25:101.5,80,40,36",
                    what, text));
  return {{numbers[0], numbers[1], numbers[2], numbers[3]}, frame};
}

Point parse_point(const std::string& text, const std::string& what) {
  const std::vector<double> numbers = numbers_of(text);
  if (numbers.size() != 2)
    throw CallError(fmt::format("{} {} is not a place: write x,y in pixels, such as 121.5,98", what, text));
  return {numbers[0], numbers[1]};
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
  if (ended_ && lines_.empty())
    throw CallError("standard input ended before a region came; write x,y,w,h and end the line");
  return std::nullopt;
}

std::vector<std::string> RegionLines::left_over() {
  while (read(false)) take_lines();
  take_lines();
  return std::exchange(lines_, {});
}

}  // namespace mnemon::app
