// SPDX-License-Identifier: MIT
#include <mnemon/base/error.hpp>

namespace mnemon {

DataError::DataError(const Place& place, const std::string& what) : Error(to_text(place) + ": " + what) {}

std::string to_text(const Place& place) {
  std::string text = place.file.string();
  if (place.line > 0) text.append(":").append(std::to_string(place.line));
  if (place.line > 0 && place.column > 0) text.append(":").append(std::to_string(place.column));
  return text;
}

}  // namespace mnemon
