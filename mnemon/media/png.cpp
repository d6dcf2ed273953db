// SPDX-License-Identifier: MIT
#include <mnemon/media/png.hpp>

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <memory>
#include <span>
#include <vector>

#include <fmt/format.h>
#include <libdeflate.h>
#include <lodepng.h>
#include <zlib.h>

#include <mnemon/base/error.hpp>
#include <mnemon/media/picture_file.hpp>

namespace mnemon {
namespace {

// The PNG package leaves compression to others on request: one inflates in a third of the time that it takes itself,
// another deflates by runs.
constexpr std::size_t kSignature = 8;
constexpr std::size_t kAroundData = 12;    // of a chunk: its length, type and check sum
constexpr std::size_t kMostGrowth = 1040;  // of deflated data: 258 bytes for two bits

using Bytes = std::unique_ptr<unsigned char, decltype(&std::free)>;  // as the package allocates

const unsigned char* data_of(std::string_view bytes) {
  return reinterpret_cast<const unsigned char*>(bytes.data());
}

std::uint32_t whole_number(const unsigned char* at) {
  return std::uint32_t{at[0]} << 24 | std::uint32_t{at[1]} << 16 | std::uint32_t{at[2]} << 8 | at[3];
}

// The chunks that pixels come from. The others (times, texts, profiles) change nothing and may be wrong.
// \param kept  Holds them where others are among them.
// \returns  Empty where one of them is damaged or the last is not there.
std::string_view pixel_chunks(std::string_view png, std::string& kept) {
  bool has_others = false;
  for (std::string_view rest = png.substr(std::min(kSignature, png.size())); rest.size() >= kAroundData;) {
    const unsigned char* const chunk = data_of(rest);
    const std::size_t length = whole_number(chunk);
    if (length > rest.size() - kAroundData) return {};
    if (lodepng_chunk_ancillary(chunk) == 0 || lodepng_chunk_type_equals(chunk, "tRNS") != 0) {
      if (libdeflate_crc32(0, chunk + 4, length + 4) != whole_number(chunk + 8 + length)) return {};
      if (has_others) kept.append(rest, 0, length + kAroundData);
    } else if (!has_others) {
      has_others = true;
      kept = png.substr(0, png.size() - rest.size());
    }
    if (lodepng_chunk_type_equals(chunk, "IEND") != 0) return has_others ? kept : png;
    rest.remove_prefix(length + kAroundData);
  }
  return {};
}

// \param settings  Its context is the number of bytes that there can be at most.
unsigned inflate_all(unsigned char** out, std::size_t* size, const unsigned char* in, std::size_t in_size,
                     const LodePNGDecompressSettings* settings) {
  const std::size_t most = *static_cast<const std::size_t*>(settings->custom_context);
  const std::size_t room = std::min(most, kMostGrowth * in_size);
  const std::unique_ptr<libdeflate_decompressor, decltype(&libdeflate_free_decompressor)> work(
      libdeflate_alloc_decompressor(), &libdeflate_free_decompressor);
  *out = static_cast<unsigned char*>(std::malloc(room + 1));
  *size = 0;
  if (!work || *out == nullptr) return 1;
  return libdeflate_zlib_decompress(work.get(), in, in_size, *out, room, size);
}

// Where it is to be small only runs are looked for: quick, and a third smaller than other quick settings make what a
// camera sees.
// \param settings  Its context is the packing.
unsigned deflate_all(unsigned char** out, std::size_t* size, const unsigned char* in, std::size_t in_size,
                     const LodePNGCompressSettings* settings) {
  const bool quick = *static_cast<const PngPacking*>(settings->custom_context) == PngPacking::quick;
  z_stream stream{};
  constexpr int kWindowBits = 15;
  constexpr int kMemoryLevel = 8;
  if (deflateInit2(&stream, quick ? Z_NO_COMPRESSION : Z_BEST_SPEED, Z_DEFLATED, kWindowBits, kMemoryLevel,
                   Z_RLE) != Z_OK)
    return 1;
  const std::size_t room = deflateBound(&stream, in_size);
  *out = static_cast<unsigned char*>(std::malloc(room));
  stream.next_in =
      const_cast<unsigned char*>(in);  // NOLINT(cppcoreguidelines-pro-type-const-cast): as C has it
  stream.avail_in = static_cast<uInt>(in_size);
  stream.next_out = *out;
  stream.avail_out = *out == nullptr ? 0 : static_cast<uInt>(room);
  const int end = deflate(&stream, Z_FINISH);
  *size = stream.total_out;
  deflateEnd(&stream);
  return end == Z_STREAM_END ? 0 : 1;
}

class State {
 public:
  State() { lodepng_state_init(&state_); }
  State(const State&) = delete;
  State& operator=(const State&) = delete;
  ~State() { lodepng_state_cleanup(&state_); }
  LodePNGState* operator->() noexcept { return &state_; }
  LodePNGState* get() noexcept { return &state_; }

 private:
  LodePNGState state_;
};

void blend_over_black(const unsigned char* rgba, std::span<Byte> rgb) {
  for (std::size_t i = 0; i < rgb.size() / 3; ++i)
    for (std::size_t k = 0; k < 3; ++k)
      rgb[3 * i + k] = static_cast<Byte>((rgba[4 * i + k] * rgba[4 * i + 3] + 127) / 255);
}

// \param raw  Pixels in the file's own form, and so many bytes of them.
unsigned to_rgb(const unsigned char* raw, const LodePNGColorMode& form, Image<Byte>& picture) {
  const std::span<Byte> rgb = picture.elements();
  const auto width = static_cast<unsigned>(picture.cols());
  const auto height = static_cast<unsigned>(picture.rows());
  if (lodepng_can_have_alpha(&form) == 0) {
    const LodePNGColorMode plain = lodepng_color_mode_make(LCT_RGB, 8);
    return lodepng_convert(rgb.data(), raw, &plain, &form, width, height);
  }
  std::vector<unsigned char> rgba(rgb.size() / 3 * 4);
  const LodePNGColorMode see_through = lodepng_color_mode_make(LCT_RGBA, 8);
  const unsigned error = lodepng_convert(rgba.data(), raw, &see_through, &form, width, height);
  blend_over_black(rgba.data(), rgb);
  return error;
}

}  // namespace

Image<Byte> parse_png(std::string_view bytes, const std::string& name,
                      const std::function<void(long, long)>& check_size) {
  const auto check = [&](unsigned error) {
    if (error != 0)
      throw DataError({name}, fmt::format("is not a whole PNG picture ({})", lodepng_error_text(error)));
  };
  State state;
  unsigned width = 0;
  unsigned height = 0;
  check(lodepng_inspect(&width, &height, state.get(), data_of(bytes), bytes.size()));
  check_size(width, height);
  std::string kept;
  const std::string_view chunks = pixel_chunks(bytes, kept);
  if (chunks.empty()) throw DataError({name}, "is not a whole PNG picture (damaged, or cut short)");
  // Interlaced pictures have rows of seven kinds, each with a byte in front and bits left over.
  const std::size_t row = (std::size_t{width} * lodepng_get_bpp(&state->info_png.color) + 7) / 8;
  const std::size_t most = std::size_t{height} * (row + 4) + 64;
  state->decoder.zlibsettings.custom_zlib = inflate_all;
  state->decoder.zlibsettings.custom_context = &most;
  state->decoder.ignore_crc = 1;  // done, and quicker
  state->decoder.color_convert = 0;
  unsigned char* pixels = nullptr;
  const unsigned error =
      lodepng_decode(&pixels, &width, &height, state.get(), data_of(chunks), chunks.size());
  const Bytes raw(pixels, &std::free);
  check(error);
  Image<Byte> picture(static_cast<int>(height), static_cast<int>(width), 3);
  check(to_rgb(raw.get(), state->info_png.color, picture));
  return picture;
}

std::string png_bytes(ImageView<const Byte> picture, PngPacking packing) {
  const LodePNGColorType kind = picture.channels == 1 ? LCT_GREY : LCT_RGB;
  State state;
  state->info_raw = state->info_png.color = lodepng_color_mode_make(kind, 8);
  state->encoder.auto_convert = 0;
  state->encoder.filter_palette_zero = 0;
  state->encoder.filter_strategy = packing == PngPacking::quick ? LFS_ZERO : LFS_TWO;
  state->encoder.zlibsettings.custom_zlib = deflate_all;
  state->encoder.zlibsettings.custom_context = &packing;
  const Image<Byte> whole = copy_of(picture);
  unsigned char* out = nullptr;
  std::size_t size = 0;
  const unsigned error =
      lodepng_encode(&out, &size, whole.elements().data(), static_cast<unsigned>(picture.cols),
                     static_cast<unsigned>(picture.rows), state.get());
  const Bytes png(out, &std::free);
  if (error != 0)
    throw Error(fmt::format("a picture of {} x {} cannot be made into a PNG: {}", picture.cols, picture.rows,
                            lodepng_error_text(error)));
  return {reinterpret_cast<const char*>(png.get()), size};
}

}  // namespace mnemon
