// SPDX-License-Identifier: MIT
#include <mnemon/image/mask_runs.hpp>

#include <algorithm>
#include <cstring>
#include <limits>

namespace mnemon {
namespace {

constexpr std::uint64_t kMostPixels = std::uint64_t{1} << 31;

void put(std::uint32_t value, std::string& bytes) {
  for (; value >= 0x80; value >>= 7) bytes += static_cast<char>(0x80 | (value & 0x7f));
  bytes += static_cast<char>(value);
}

// Takes a number off the front.
std::optional<std::uint32_t> taken(std::string_view& bytes) {
  std::uint64_t value = 0;
  for (int shift = 0; shift < 35 && !bytes.empty(); shift += 7) {
    const auto byte = static_cast<unsigned char>(bytes.front());
    bytes.remove_prefix(1);
    value |= static_cast<std::uint64_t>(byte & 0x7f) << shift;
    if (byte < 0x80)
      return value <= std::numeric_limits<std::uint32_t>::max()
                 ? std::optional(static_cast<std::uint32_t>(value))
                 : std::nullopt;
  }
  return std::nullopt;
}

// The runs of a mask one after the other, as far as they reach together with those of another.
class RunReader {
 public:
  explicit RunReader(const MaskRuns& runs) : runs_(runs) { skip_empty(); }

  [[nodiscard]] bool is_done() const noexcept { return at_ == runs_.lengths.size(); }
  [[nodiscard]] bool is_on() const noexcept { return at_ % 2 == 1; }
  [[nodiscard]] std::uint32_t left() const noexcept { return runs_.lengths[at_] - used_; }
  void pass(std::uint32_t count) noexcept {
    used_ += count;
    skip_empty();
  }

 private:
  void skip_empty() noexcept {
    while (!is_done() && left() == 0) {
      ++at_;
      used_ = 0;
    }
  }

  const MaskRuns& runs_;
  std::size_t at_ = 0;
  std::uint32_t used_ = 0;  // of the run at hand
};

// The first element from there on that is 0; `count` where none is.
int first_zero(const Byte* row, int from, int count) noexcept {
  const void* const at = std::memchr(row + from, 0, static_cast<std::size_t>(count - from));
  return at != nullptr ? static_cast<int>(static_cast<const Byte*>(at) - row) : count;
}

// The same of what is not 0. Masks are mostly 0: eight elements at a time are passed over.
int first_set(const Byte* row, int from, int count) noexcept {
  for (std::uint64_t eight = 0; from + 8 <= count; from += 8) {
    std::memcpy(&eight, row + from, sizeof eight);
    if (eight != 0) break;
  }
  while (from < count && row[from] == 0) ++from;
  return from;
}

}  // namespace

MaskRuns runs_of(ImageView<const Byte> mask) {
  MaskRuns runs{mask.rows, mask.cols, {}};
  bool on = false;
  std::uint32_t length = 0;
  for (int r = 0; r < mask.rows; ++r) {
    const Byte* const row = mask.row(r);
    for (int c = 0; c < mask.cols;) {
      const int end = on ? first_zero(row, c, mask.cols) : first_set(row, c, mask.cols);
      length += static_cast<std::uint32_t>(end - c);
      c = end;
      if (c == mask.cols) break;  // the run may go on in the next row
      runs.lengths.push_back(length);
      length = 0;
      on = !on;
    }
  }
  if (length > 0) runs.lengths.push_back(length);
  return runs;
}

void draw_into(const MaskRuns& runs, ImageView<Byte> pixels) noexcept {
  const std::span<Byte> all = pixels.elements();
  std::size_t at = 0;
  Byte value = 0;
  for (const std::uint32_t length : runs.lengths) {
    const std::size_t end = std::min(all.size(), at + length);
    std::fill(all.begin() + static_cast<std::ptrdiff_t>(at), all.begin() + static_cast<std::ptrdiff_t>(end),
              value);
    at = end;
    value = value == 0 ? 1 : 0;
  }
  std::fill(all.begin() + static_cast<std::ptrdiff_t>(at), all.end(), Byte{0});
}

std::optional<Box> bounds(const MaskRuns& runs) noexcept {
  std::int64_t at = 0;
  std::int64_t left = runs.cols, right = -1, top = -1, bottom = -1;
  for (std::size_t i = 0; i < runs.lengths.size(); ++i) {
    const std::int64_t end = at + runs.lengths[i];
    if (i % 2 == 1 && end > at) {
      const std::int64_t first_row = at / runs.cols;
      const std::int64_t last_row = (end - 1) / runs.cols;
      const bool wraps = last_row > first_row;
      left = std::min(left, wraps ? 0 : at % runs.cols);
      right = std::max(right, wraps ? runs.cols - 1 : (end - 1) % runs.cols);
      if (top < 0) top = first_row;
      bottom = last_row;
    }
    at = end;
  }
  if (top < 0) return std::nullopt;
  return Box{static_cast<double>(left), static_cast<double>(top), static_cast<double>(right - left + 1),
             static_cast<double>(bottom - top + 1)};
}

double overlap(const MaskRuns& a, const MaskRuns& b) noexcept {
  if (a.rows != b.rows || a.cols != b.cols) return 0;
  std::uint64_t shared = 0;
  std::uint64_t joined = 0;
  RunReader one(a);
  RunReader other(b);
  while (!one.is_done() && !other.is_done()) {
    const std::uint32_t count = std::min(one.left(), other.left());
    if (one.is_on() && other.is_on()) shared += count;
    if (one.is_on() || other.is_on()) joined += count;
    one.pass(count);
    other.pass(count);
  }
  return joined > 0 ? static_cast<double>(shared) / static_cast<double>(joined) : 0;
}

std::string packed(const MaskRuns& runs) {
  std::string bytes;
  put(static_cast<std::uint32_t>(runs.rows), bytes);
  put(static_cast<std::uint32_t>(runs.cols), bytes);
  for (const std::uint32_t length : runs.lengths) put(length, bytes);
  return bytes;
}

std::optional<MaskRuns> unpacked(std::string_view bytes) {
  const auto rows = taken(bytes);
  const auto cols = taken(bytes);
  if (!rows || !cols || std::uint64_t{*rows} * *cols > kMostPixels) return std::nullopt;
  MaskRuns runs{static_cast<int>(*rows), static_cast<int>(*cols), {}};
  std::uint64_t sum = 0;
  while (!bytes.empty()) {
    const auto length = taken(bytes);
    if (!length) return std::nullopt;
    sum += *length;
    runs.lengths.push_back(*length);
  }
  if (sum != std::uint64_t{*rows} * *cols) return std::nullopt;
  return runs;
}

}  // namespace mnemon
