// SPDX-License-Identifier: MIT
#include <mnemon/media/png.hpp>

#include <algorithm>
#include <csetjmp>
#include <cstring>
#include <new>
#include <span>
#include <vector>

#include <fmt/format.h>
#include <png.h>

#include <mnemon/base/error.hpp>
#include <mnemon/media/picture_file.hpp>

namespace mnemon {
namespace {

// The package leaves a call that fails by a long jump. Functions that it may leave so hold nothing that has to be taken
// apart: what they work with is their callers'.
struct Trouble {
  std::string_view unread;  // of the file, while it is read
  std::string written;
  std::string what;
  bool no_memory = false;
};

void fail(png_structp png, png_const_charp message) {
  auto& trouble = *static_cast<Trouble*>(png_get_error_ptr(png));
  try {
    trouble.what = message;
  } catch (const std::bad_alloc&) {
    trouble.no_memory = true;
  }
  std::longjmp(png_jmpbuf(png), 1);
}

void ignore(png_structp /*png*/, png_const_charp /*warning*/) {}

void take_bytes(png_structp png, png_bytep to, std::size_t count) {
  auto& from = static_cast<Trouble*>(png_get_io_ptr(png))->unread;
  if (count > from.size()) png_error(png, "cut short");
  std::memcpy(to, from.data(), count);
  from.remove_prefix(count);
}

void put_bytes(png_structp png, png_bytep bytes, std::size_t count) {
  auto& trouble = *static_cast<Trouble*>(png_get_io_ptr(png));
  bool done = true;
  try {
    trouble.written.append(reinterpret_cast<const char*>(bytes), count);
  } catch (const std::bad_alloc&) {
    trouble.no_memory = true;
    done = false;
  }
  if (!done) png_error(png, "no memory");
}

class Decoder {
 public:
  explicit Decoder(Trouble& trouble)
      : png(png_create_read_struct(PNG_LIBPNG_VER_STRING, &trouble, fail, ignore)),
        info(png != nullptr ? png_create_info_struct(png) : nullptr) {
    if (info == nullptr) throw std::bad_alloc();
    png_set_read_fn(png, &trouble, take_bytes);
  }
  Decoder(const Decoder&) = delete;
  Decoder& operator=(const Decoder&) = delete;
  ~Decoder() { png_destroy_read_struct(&png, &info, nullptr); }

  png_structp png;
  png_infop info;
};

class Encoder {
 public:
  explicit Encoder(Trouble& trouble)
      : png(png_create_write_struct(PNG_LIBPNG_VER_STRING, &trouble, fail, ignore)),
        info(png != nullptr ? png_create_info_struct(png) : nullptr) {
    if (info == nullptr) throw std::bad_alloc();
    png_set_write_fn(png, &trouble, put_bytes, nullptr);
  }
  Encoder(const Encoder&) = delete;
  Encoder& operator=(const Encoder&) = delete;
  ~Encoder() { png_destroy_write_struct(&png, &info); }

  png_structp png;
  png_infop info;
};

// Up to the pixels. What else the file holds (times, texts, profiles) changes nothing and may be wrong.
bool read_head(png_structp png, png_infop info) {
  if (setjmp(png_jmpbuf(png)) != 0) return false;
  png_set_user_limits(png, PNG_UINT_31_MAX, PNG_UINT_31_MAX);  // the caller looks at the size
  png_set_keep_unknown_chunks(png, PNG_HANDLE_CHUNK_NEVER, nullptr, -1);
  png_read_info(png, info);
  return true;
}

// From any form to red, green and blue, 8 bits each, and where it is transparent somewhere how much each pixel covers.
bool read_pixels(png_structp png, png_infop info, png_bytepp rows) {
  if (setjmp(png_jmpbuf(png)) != 0) return false;
  png_set_expand(png);
  png_set_strip_16(png);
  png_set_gray_to_rgb(png);
  png_set_interlace_handling(png);
  png_read_update_info(png, info);
  png_read_image(png, rows);
  png_read_end(png, nullptr);
  return true;
}

bool write_all(png_structp png, png_infop info, ImageView<const Byte> picture, png_bytepp rows) {
  if (setjmp(png_jmpbuf(png)) != 0) return false;
  const int kind = picture.channels == 1 ? PNG_COLOR_TYPE_GRAY : PNG_COLOR_TYPE_RGB;
  png_set_IHDR(png, info, static_cast<png_uint_32>(picture.cols), static_cast<png_uint_32>(picture.rows), 8,
               kind, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
  // Looking for runs alone is quick, and makes what a camera sees a third smaller than other quick settings do.
  constexpr int kFastest = 1;
  constexpr int kRuns = 3;
  png_set_compression_level(png, kFastest);
  png_set_compression_strategy(png, kRuns);
  png_set_filter(png, PNG_FILTER_TYPE_BASE, PNG_FILTER_UP);
  png_write_info(png, info);
  png_write_image(png, rows);
  png_write_end(png, nullptr);
  return true;
}

void blend_over_black(std::span<const Byte> rgba, std::span<Byte> rgb) {
  for (std::size_t i = 0; i < rgb.size() / 3; ++i)
    for (std::size_t k = 0; k < 3; ++k)
      rgb[3 * i + k] = static_cast<Byte>((rgba[4 * i + k] * rgba[4 * i + 3] + 127) / 255);
}

}  // namespace

Image<Byte> parse_png(std::string_view bytes, const std::string& name,
                      const std::function<void(long, long)>& check_size) {
  Trouble trouble;
  trouble.unread = bytes;
  const auto check = [&](bool is_well) {
    if (trouble.no_memory) throw std::bad_alloc();
    if (!is_well)
      throw DataError({name},
                      fmt::format("is not a whole PNG picture (damaged, or cut short: {})", trouble.what));
  };
  const Decoder decoder(trouble);
  check(read_head(decoder.png, decoder.info));
  const auto cols = static_cast<long>(png_get_image_width(decoder.png, decoder.info));
  const auto rows = static_cast<long>(png_get_image_height(decoder.png, decoder.info));
  check_size(cols, rows);
  // Deflated data grow by at most 1032: before memory is asked for, a few bytes that promise many pixels are told.
  constexpr long kMostGrowth = 1040;
  const long bits =
      cols * png_get_channels(decoder.png, decoder.info) * png_get_bit_depth(decoder.png, decoder.info);
  if (bits / 8 > kMostGrowth * static_cast<long>(bytes.size()) / rows)
    throw DataError({name}, fmt::format("is not a whole PNG picture: {} bytes cannot hold {} x {} pixels",
                                        bytes.size(), cols, rows));
  const bool covers = (png_get_color_type(decoder.png, decoder.info) & PNG_COLOR_MASK_ALPHA) != 0 ||
                      png_get_valid(decoder.png, decoder.info, PNG_INFO_tRNS) != 0;
  Image<Byte> whole(static_cast<int>(rows), static_cast<int>(cols), covers ? 4 : 3);
  std::vector<png_bytep> lines;
  for (int r = 0; r < whole.rows(); ++r) lines.push_back(whole.view().row(r));
  check(read_pixels(decoder.png, decoder.info, lines.data()));
  if (!covers) return whole;
  Image<Byte> picture(whole.rows(), whole.cols(), 3);
  blend_over_black(whole.elements(), picture.elements());
  return picture;
}

std::string png_bytes(ImageView<const Byte> picture) {
  Trouble trouble;
  const Encoder encoder(trouble);
  // The package takes rows that it does not change without `const`.
  std::vector<png_bytep> lines;
  for (int r = 0; r < picture.rows; ++r)
    lines.push_back(const_cast<png_bytep>(picture.row(r)));  // NOLINT(cppcoreguidelines-pro-type-const-cast)
  const bool is_well = write_all(encoder.png, encoder.info, picture, lines.data());
  if (trouble.no_memory) throw std::bad_alloc();
  if (!is_well)
    throw Error(fmt::format("a picture of {} x {} cannot be made into a PNG: {}", picture.cols, picture.rows,
                            trouble.what));
  return std::move(trouble.written);
}

}  // namespace mnemon
