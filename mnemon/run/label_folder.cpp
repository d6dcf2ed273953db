// SPDX-License-Identifier: MIT
#include <mnemon/run/label_folder.hpp>

#include <algorithm>

#include <fmt/format.h>

#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/media/picture_file.hpp>
#include <mnemon/sequence/import.hpp>

namespace mnemon {
namespace fs = std::filesystem;
namespace {

Truth truth_of(const std::vector<Label>& labels) {
  Truth truth;
  for (const Label& label : labels)
    truth.rows.push_back({label.mark.frame, label.mark.box, label.mark.present});
  return truth;
}

std::string review_text(const std::vector<Label>& labels) {
  std::string text = "frame,sure,why\n";
  for (const Label& label : labels)
    if (!label.why.empty())
      text += fmt::format("{},{},{}\n", label.mark.frame, number_text(label.sure), label.why);
  return text;
}

// \returns  How many were written.
int write_masks(const std::vector<Label>& labels, const fs::path& folder) {
  int count = 0;
  for (const Label& label : labels) {
    if (label.mask.lengths.empty()) continue;
    Image<Byte> mask(label.mask.rows, label.mask.cols);
    draw_into(label.mask, mask.view());
    for (Byte& pixel : mask.elements()) pixel = pixel != 0 ? 255 : 0;
    write_png(folder / numbered_name("%06d.png", label.mark.frame), mask.view());
    ++count;
  }
  return count;
}

}  // namespace

std::vector<std::string> label_file_names() {
  return {"marks.csv", "masks", "others.csv", "review.csv", "sequence.toml", "times.csv", "truth.csv"};
}

LabelCounts write_labels(const std::vector<Label>& labels, const fs::path& frames, const Sequence& source,
                         const fs::path& folder) {
  auto [sequence, count] = describe_frames(frames, truth_of(labels), folder);
  sequence.title = source.title;
  sequence.rate_hz = source.rate_hz;
  sequence.tags = source.tags;
  sequence.keep_out = source.keep_out;
  const int masks = write_masks(labels, folder / "masks");
  if (masks > 0) sequence.masks = "masks/%06d.png";
  write_sequence(sequence, folder);
  std::vector<Mark> all;
  for (const Label& label : labels) all.push_back(label.mark);
  write_file(folder / "marks.csv", marks_text(all));
  write_file(folder / "review.csv", review_text(labels));
  const auto review = std::ranges::count_if(labels, [](const Label& label) { return !label.why.empty(); });
  return {count, masks, static_cast<int>(review)};
}

}  // namespace mnemon
