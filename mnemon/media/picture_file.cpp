// SPDX-License-Identifier: MIT
#include <mnemon/media/picture_file.hpp>

#include <algorithm>
#include <cctype>
#include <csetjmp>
#include <memory>
#include <utility>

#include <fmt/format.h>
#include <png.h>
#include <turbojpeg.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/whole_file.hpp>

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

Image<Byte> parse_png(std::string_view bytes, const std::string& name) {
  png_image header{};
  header.version = PNG_IMAGE_VERSION;
  const auto free_header = [](png_image* p) { png_image_free(p); };
  const std::unique_ptr<png_image, decltype(free_header)> guard(&header, free_header);
  if (png_image_begin_read_from_memory(&header, bytes.data(), bytes.size()) == 0)
    throw DataError({name}, fmt::format("is not a whole PNG picture ({})", header.message));
  check_size(header.width, header.height, name);
  header.format = PNG_FORMAT_RGB;
  Image<Byte> picture(static_cast<int>(header.height), static_cast<int>(header.width), 3);
  const png_color black{0, 0, 0};
  if (png_image_finish_read(&header, &black, picture.view().data, 0, nullptr) == 0)
    throw DataError({name}, fmt::format("is not a whole PNG picture ({})", header.message));
  return picture;
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

// The package's low-level calls: its simple ones compress better what is drawn, but take twice as long over what a
// camera sees and make a third more bytes of it. Runs still shrink masks to next to nothing.
class PngWriter {
 public:
  PngWriter()
      : png_(png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, give_up, stay_silent)),
        info_(png_create_info_struct(png_)) {}
  PngWriter(const PngWriter&) = delete;
  PngWriter& operator=(const PngWriter&) = delete;
  ~PngWriter() { png_destroy_write_struct(&png_, &info_); }

  [[nodiscard]] bool write(ImageView<const Byte> picture) {
    bytes_.reserve(picture.size() / 2);
    // NOLINTNEXTLINE(cert-err52-cpp): how the package reports errors; nothing here has a destructor to be missed.
    if (setjmp(png_jmpbuf(png_)) != 0) return false;
    png_set_write_fn(png_, &bytes_, append, nullptr);
    png_set_compression_level(png_, 1);
    png_set_compression_strategy(png_, kRuns);
    png_set_filter(png_, PNG_FILTER_TYPE_BASE, PNG_FILTER_SUB);
    png_set_IHDR(png_, info_, static_cast<png_uint_32>(picture.cols), static_cast<png_uint_32>(picture.rows),
                 8, picture.channels == 1 ? PNG_COLOR_TYPE_GRAY : PNG_COLOR_TYPE_RGB, PNG_INTERLACE_NONE,
                 PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
    png_write_info(png_, info_);
    for (int r = 0; r < picture.rows; ++r) png_write_row(png_, picture.row(r));
    png_write_end(png_, nullptr);
    return true;
  }

  [[nodiscard]] std::string bytes() && { return std::move(bytes_); }

 private:
  static constexpr int kRuns = 3;  // Z_RLE of zlib

  static void give_up(png_structp png, png_const_charp /*message*/) { png_longjmp(png, 1); }
  static void stay_silent(png_structp /*png*/, png_const_charp /*message*/) {}
  static void append(png_structp png, png_bytep data, std::size_t size) {
    static_cast<std::string*>(png_get_io_ptr(png))->append(reinterpret_cast<const char*>(data), size);
  }

  png_structp png_;
  png_infop info_;
  std::string bytes_;
};

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
  if (bytes.starts_with("\x89PNG")) return parse_png(bytes, name);
  if (bytes.starts_with("\xff\xd8")) return parse_jpeg(bytes, name);
  throw DataError({name}, bytes.empty() ? "is empty, not a picture" : "is neither a PNG nor a JPEG picture");
}

Image<Byte> read_mask(const std::filesystem::path& file) {
  const Image<Byte> rgb = read_picture(file);
  Image<Byte> mask(rgb.rows(), rgb.cols());
  for (std::size_t i = 0; i < mask.elements().size(); ++i)
    mask.elements()[i] =
        std::max({rgb.elements()[3 * i], rgb.elements()[3 * i + 1], rgb.elements()[3 * i + 2]});
  return mask;
}

void write_png(const std::filesystem::path& file, ImageView<const Byte> picture) {
  write_file(file, png_bytes(picture));
}

std::string png_bytes(ImageView<const Byte> picture) {
  PngWriter writer;
  if (!writer.write(picture))
    throw Error(fmt::format("a picture of {} x {} cannot be made into a PNG", picture.cols, picture.rows));
  return std::move(writer).bytes();
}

std::string jpeg_bytes(ImageView<const Byte> rgb, int quality) {
  const Turbo turbo(tjInitCompress(), &tjDestroy);
  unsigned char* data = nullptr;
  unsigned long size = 0;
  const int result = tjCompress2(turbo.get(), rgb.data, rgb.cols, static_cast<int>(rgb.stride), rgb.rows,
                                 TJPF_RGB, &data, &size, TJSAMP_444, quality, TJFLAG_ACCURATEDCT);
  const std::unique_ptr<unsigned char, decltype(&tjFree)> guard(data, &tjFree);
  if (result != 0)
    throw Error(fmt::format("a picture cannot be made into a JPEG: {}", tjGetErrorStr2(turbo.get())));
  return {reinterpret_cast<const char*>(data), size};
}

}  // namespace mnemon
