// SPDX-License-Identifier: MIT
#include <mnemon/run/process/serve.hpp>

#include <cstdlib>
#include <string>

#include <fcntl.h>
#include <sys/mman.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>
#include <mnemon/run/process/frame_slots.hpp>
#include <mnemon/track/catalogue.hpp>

#include "target.hpp"

// Calls, a line each, end a served tracker or are answered. An @ in them stands for the name of shared memory that is there.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  static const FrameSlots slots({16, 12});
  static const Catalogue catalogue = Catalogue::standard();
  static const int nowhere = ::open("/dev/null", O_WRONLY | O_CLOEXEC);
  std::string calls(fuzz::text_of(data, size));
  for (std::size_t at = calls.find('@'); at != std::string::npos;
       at = calls.find('@', at + slots.name().size()))
    calls.replace(at, 1, slots.name());
  const int file = ::memfd_create("calls", MFD_CLOEXEC);
  if (file < 0 || ::write(file, calls.data(), calls.size()) != static_cast<ssize_t>(calls.size()))
    std::abort();
  ::lseek(file, 0, SEEK_SET);
  try {
    serve_tracker([](const ParamSet& set) { return catalogue.make("shift-fixed", set); }, file, nowhere);
  } catch (const Error&) {
  }
  ::close(file);
  return 0;
}
