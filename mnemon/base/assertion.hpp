// SPDX-License-Identifier: MIT
#pragma once
#include <cassert>
/// \file
/// MNEMON_ASSERT states what only a defect of ours can break. It is on in debug and sanitizer builds and
/// never checks input from outside.
#ifdef MNEMON_ASSERTIONS
#define MNEMON_ASSERT(condition) assert(condition)
#else
/// Ends the program where the condition is false, in builds with assertions; else nothing.
#define MNEMON_ASSERT(condition) static_cast<void>(0)
#endif
