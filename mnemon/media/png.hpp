// SPDX-License-Identifier: MIT
#pragma once
#include <functional>
#include <string>
#include <string_view>

#include <mnemon/image/image.hpp>

namespace mnemon {

/// Reads a PNG picture as RGB with 8 bits a channel, over black where it is transparent.
/// \param check_size  Called with columns and rows before memory is asked for.
/// \throws DataError  where it is broken, cut short, or more than a PNG; `name` is what the message calls it.
[[nodiscard]] Image<Byte> parse_png(std::string_view bytes, const std::string& name,
                                    const std::function<void(long, long)>& check_size);

}  // namespace mnemon
