// SPDX-License-Identifier: MIT
#pragma once
#include <filesystem>
#include <string>
#include <string_view>

#include <mnemon/image/image.hpp>
/// \file
/// PNG and JPEG pictures. Whatever a file holds (grey, palette, 16 bits, transparency over black) is read as
/// RGB with 8 bits a channel: the values as they stand there, by whatever profile or gamma they are meant.
namespace mnemon {

/// True where the name ends like a PNG or JPEG file, in small or capital letters.
[[nodiscard]] bool is_picture_name(const std::filesystem::path& file);

/// Reads a picture; which form it has is told by its first bytes. The result has 3 channels.
/// \throws DataError  where it is missing, not such a picture, broken or cut short.
[[nodiscard]] Image<Byte> read_picture(const std::filesystem::path& file);

/// Reads a mask: one channel, of which only 0 and other values are told apart.
/// \throws DataError  as read_picture.
[[nodiscard]] Image<Byte> read_mask(const std::filesystem::path& file);

/// The same as read_picture for a picture in memory; `name` is what messages call it.
[[nodiscard]] Image<Byte> parse_picture(std::string_view bytes, const std::string& name);

/// The same as read_mask for a picture in memory.
[[nodiscard]] Image<Byte> parse_mask(std::string_view bytes, const std::string& name);

/// Writes a PNG: 3 channels as RGB, 1 channel as grey.
/// \throws DataError  where that fails.
void write_png(const std::filesystem::path& file, ImageView<const Byte> picture);

/// The bytes of a PNG of the picture: 3 channels as RGB, 1 channel as grey.
[[nodiscard]] std::string png_bytes(ImageView<const Byte> picture);

/// What a JPEG is for: colours in full, or half as fine and made in half the time, for pictures that pass.
enum class JpegFor { keeping, passing };

/// The bytes of a JPEG of an RGB picture, at a quality from 1 to 100.
[[nodiscard]] std::string jpeg_bytes(ImageView<const Byte> rgb, int quality, JpegFor use = JpegFor::keeping);

}  // namespace mnemon
