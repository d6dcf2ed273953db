// SPDX-License-Identifier: MIT
#include <mnemon/media/picture_file.hpp>

#include <algorithm>
#include <cctype>
#include <memory>
#include <utility>

#include <fmt/format.h>
#include <turbojpeg.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/png.hpp>

namespace mnemon {
namespace {

// Larger pictures than this are taken for a broken header, before memory is asked for.
constexpr int kMostPixelsASide = 32768;
constexpr long kMostPixels = 1L << 27;

using Turbo = std::unique_ptr<void, decltype(&tjDestroy)>;

void check_size(long width, long height, const std::string& name) {
  if (width < 1 || height < 1 || width > kMostPixelsASide || height > kMostPixelsASide ||
      width * height > kMostPixels)
    throw DataError({name},
                    fmt::format("says it is {} x {} pixels; 1 to {} a side and {} million in all can be read",
                                width, height, kMostPixelsASide, kMostPixels / 1000000));
}

Image<Byte> parse_jpeg(std::string_view bytes, const std::string& name) {
  const Turbo turbo(tjInitDecompress(), &tjDestroy);
  const auto* data = reinterpret_cast<const unsigned char*>(bytes.data());
  int width = 0;
  int height = 0;
  int subsampling = 0;
  int space = 0;
  const auto check = [&](int result) {
    if (result != 0)
      throw DataError({name}, fmt::format("is not a whole JPEG picture ({})", tjGetErrorStr2(turbo.get())));
  };
  check(tjDecompressHeader3(turbo.get(), data, bytes.size(), &width, &height, &subsampling, &space));
  check_size(width, height, name);
  if (space == TJCS_CMYK || space == TJCS_YCCK)
    throw DataError({name}, "is a JPEG in printing colours (CMYK); convert it to RGB");
  Image<Byte> picture(height, width, 3);
  // A warning here means data cut short or damaged, which would give frames that look whole.
  check(tjDecompress2(turbo.get(), data, bytes.size(), picture.view().data, width, 3 * width, height,
                      TJPF_RGB, TJFLAG_ACCURATEDCT));
  return picture;
}

}  // namespace

bool is_picture_name(const std::filesystem::path& file) {
  std::string ending = file.extension().string();
  std::ranges::transform(ending, ending.begin(), [](unsigned char c) { return std::tolower(c); });
  return ending == ".png" || ending == ".jpg" || ending == ".jpeg";
}

Image<Byte> read_picture(const std::filesystem::path& file) {
  return parse_picture(read_file(file), file.string());
}

Image<Byte> parse_picture(std::string_view bytes, const std::string& name) {
  if (bytes.starts_with("\x89PNG"))
    return parse_png(bytes, name, [&](long width, long height) { check_size(width, height, name); });
  if (bytes.starts_with("\xff\xd8")) return parse_jpeg(bytes, name);
  throw DataError({name}, bytes.empty() ? "is empty, not a picture" : "is neither a PNG nor a JPEG picture");
}

Image<Byte> read_mask(const std::filesystem::path& file) {
  return parse_mask(read_file(file), file.string());
}

Image<Byte> parse_mask(std::string_view bytes, const std::string& name) {
  const Image<Byte> rgb = parse_picture(bytes, name);
  Image<Byte> mask(rgb.rows(), rgb.cols());
  const Byte* pixel = rgb.view().data;
  for (Byte& one : mask.elements()) {
    one = std::max(std::max(pixel[0], pixel[1]), pixel[2]);
    pixel += 3;
  }
  return mask;
}

void write_png(const std::filesystem::path& file, ImageView<const Byte> picture) {
  write_file(file, png_bytes(picture));
}

std::string jpeg_bytes(ImageView<const Byte> rgb, int quality, JpegFor use) {
  const bool passes = use == JpegFor::passing;
  const Turbo turbo(tjInitCompress(), &tjDestroy);
  unsigned char* data = nullptr;
  unsigned long size = 0;
  const int result = tjCompress2(turbo.get(), rgb.data, rgb.cols, static_cast<int>(rgb.stride), rgb.rows,
                                 TJPF_RGB, &data, &size, passes ? TJSAMP_420 : TJSAMP_444, quality,
                                 passes ? TJFLAG_FASTDCT : TJFLAG_ACCURATEDCT);
  const std::unique_ptr<unsigned char, decltype(&tjFree)> guard(data, &tjFree);
  if (result != 0)
    throw Error(fmt::format("a picture cannot be made into a JPEG: {}", tjGetErrorStr2(turbo.get())));
  return {reinterpret_cast<const char*>(data), size};
}

}  // namespace mnemon
