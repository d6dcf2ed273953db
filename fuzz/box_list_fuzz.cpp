// SPDX-License-Identifier: MIT
#include <algorithm>
#include <cmath>

#include <mnemon/sequence/box_list.hpp>

#include "target.hpp"

// The first byte says in which form the rest is read. Whatever is read has proper boxes on rising frames.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  using namespace mnemon;
  if (size == 0) return 0;
  const std::vector<std::vector<std::string>> columns{{},
                                                      {"cx", "cy", "w", "h"},
                                                      {"x1", "y1", "x2", "y2"},
                                                      {"x1", "y1", "x2", "y2", "x3", "y3", "x4", "y4"},
                                                      {"frame", "x", "y", "w", "h", "present"}};
  BoxListForm form;
  form.columns = columns[data[0] % columns.size()];
  form.absent = {(data[0] & 8) != 0, (data[0] & 16) != 0, (data[0] & 32) != 0};
  form.one_based = data[0] >= 128;
  try {
    const Truth truth = parse_box_list(fuzz::text_of(data + 1, size - 1), "boxes.txt", form);
    int last = -1;
    for (const TruthRow& row : truth.rows) {
      fuzz::require(row.frame > last);
      fuzz::require(!row.present || is_proper(row.box.box));
      last = row.frame;
    }
  } catch (const Error&) {
  }
  return 0;
}
