// SPDX-License-Identifier: MIT
#pragma once

namespace mnemon::test {

/// How often this program has asked for memory, by operator new or by malloc and its kin. Not under the
/// address sanitizer, which replaces the allocator itself: there it is always 0.
[[nodiscard]] long allocation_count();

}  // namespace mnemon::test
