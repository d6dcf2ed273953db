// SPDX-License-Identifier: MIT
#pragma once
#include <initializer_list>
#include <string>

#include <gtest/gtest.h>

namespace mnemon::test {

/// The message of the exception of type `E` that `call` throws; a failure where it throws none or another.
template <class E, class Call>
std::string message_of(Call call) {
  try {
    call();
  } catch (const E& error) {
    return error.what();
  } catch (const std::exception& error) {
    ADD_FAILURE() << "threw another type: " << error.what();
    return "";
  }
  ADD_FAILURE() << "threw nothing";
  return "";
}

/// Checks that a message has every one of these parts.
inline void expect_parts(const std::string& message, std::initializer_list<const char*> parts) {
  for (const char* part : parts)
    EXPECT_NE(message.find(part), std::string::npos) << "'" << part << "' is not in: " << message;
}

}  // namespace mnemon::test
