// SPDX-License-Identifier: MIT
#pragma once
/// \file
/// MNEMON_CLONES before a kernel builds it for several processors and picks the best when the program is
/// loaded. All clones give the same bits, as the house builds with `-ffp-contract=off`. Empty where the
/// loader cannot choose, and under the thread sanitizer, where such programs crash at their start.
#if defined(__x86_64__) && defined(__linux__) && defined(__GNUC__) && !defined(__clang__) && \
    !defined(__SANITIZE_THREAD__) && !defined(MNEMON_NO_CLONES)
#define MNEMON_CLONES __attribute__((target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")))
/// The same for kernels that look up tables, which wider registers do not help.
#define MNEMON_TABLE_CLONES __attribute__((target_clones("arch=x86-64-v3", "default")))
#else
#define MNEMON_CLONES
#define MNEMON_TABLE_CLONES
#endif
