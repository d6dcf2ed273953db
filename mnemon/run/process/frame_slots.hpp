// SPDX-License-Identifier: MIT
#pragma once
#include <cstddef>
#include <string>

#include <mnemon/image/frame.hpp>

namespace mnemon {

/// Memory that is shared with another process: two slots that frames are put into in turn, and a third for masks that
/// come back. A frame is RGB rows without gaps. Nothing of it is left behind: its name goes with this object at the latest.
class FrameSlots {
 public:
  static constexpr int kSlots = 3;              ///< Of a frame each, which take turns, and one of a mask.
  static constexpr int kMaskSlot = kSlots - 1;  ///< The one of the mask.

  /// Makes it for frames of that size.
  /// \throws Error  where the system has no such memory left.
  explicit FrameSlots(FrameSize size);
  /// Joins what another process made.
  /// \throws Error  where there is none of that name, or it is too small.
  FrameSlots(const std::string& name, FrameSize size, std::size_t slot_bytes, int slots);
  FrameSlots(const FrameSlots&) = delete;
  FrameSlots& operator=(const FrameSlots&) = delete;
  ~FrameSlots();

  /// Of the shared memory.
  [[nodiscard]] const std::string& name() const noexcept { return name_; }
  /// Of one slot, bytes.
  [[nodiscard]] std::size_t slot_bytes() const noexcept { return slot_bytes_; }
  /// How many the process may use.
  [[nodiscard]] int slots() const noexcept { return slots_; }

  /// Takes the name away: whoever has joined keeps the memory.
  void forget_name() noexcept;

  /// Puts a frame's picture, of that size, into the next slot. \returns  Which.
  int put(ImageView<const Byte> rgb) noexcept;

  /// The picture in a slot.
  [[nodiscard]] ImageView<Byte> picture(int slot) const noexcept;
  /// The mask in the last slot: one channel.
  [[nodiscard]] ImageView<Byte> mask() const noexcept;

 private:
  void map(int descriptor);

  std::string name_;
  bool owns_name_ = false;
  FrameSize size_;
  std::size_t slot_bytes_ = 0;
  int slots_ = kSlots;
  int next_ = 0;
  Byte* memory_ = nullptr;
};

}  // namespace mnemon
