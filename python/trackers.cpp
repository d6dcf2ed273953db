// SPDX-License-Identifier: MIT
#include <filesystem>
#include <memory>
#include <mutex>
#include <string>

#include <pybind11/stl.h>
#include <pybind11/stl/filesystem.h>

#include <mnemon/sequence/sequence.hpp>
#include <mnemon/track/catalogue.hpp>
#include <mnemon/track/shown_tracker.hpp>

#include "arrays.hpp"

namespace mnemon::python {
namespace {

const Catalogue& catalogue() {
  static const Catalogue standard = Catalogue::standard();
  return standard;
}

// What a tracker answered, by value.
struct Answer {
  py::tuple box;
  double angle = 0;
  double confidence = 0;
  bool present = true;
  py::object mask = py::none();
  std::optional<double> minor_px;
};

Answer answer_of(const Estimate& estimate) {
  const Box& box = estimate.box.box;
  Answer answer{py::make_tuple(box.x, box.y, box.w, box.h),
                estimate.box.angle_deg,
                estimate.confidence,
                estimate.present,
                py::none(),
                estimate.minor_px};
  if (!estimate.mask.empty()) answer.mask = array_of(estimate.mask);
  return answer;
}

std::vector<Polygon> areas_of(const py::iterable& outlines) {
  std::vector<Polygon> areas;
  for (const py::handle outline : outlines) {
    Image<Byte> mask;
    const Region region = region_of(py::array::ensure(outline), mask);
    const auto* polygon = std::get_if<Polygon>(&region);
    if (polygon == nullptr) throw CallError("keep_out has outlines, each n x 2 corners");
    areas.push_back(*polygon);
  }
  return areas;
}

std::vector<py::array_t<double>> outlines_of(const std::vector<Polygon>& areas) {
  std::vector<py::array_t<double>> outlines;
  for (const Polygon& area : areas) {
    std::vector<double> numbers;
    for (const Point corner : area) numbers.insert(numbers.end(), {corner.x, corner.y});
    outlines.push_back(array_of(numbers).reshape({static_cast<py::ssize_t>(area.size()), py::ssize_t{2}}));
  }
  return outlines;
}

// A tracker for one thread of Python at a time: while it works others run, and so may come to it.
class PyTracker {
 public:
  PyTracker(const std::string& name, ParamSet params, const py::iterable& keep_out)
      : entry_(catalogue().entry(name)),
        params_(std::move(params)),
        tracker_(shown(entry_.make(params_), {.keep_out = areas_of(keep_out)})) {}

  Answer seed(py::array frame, const py::object& region, int index, double time_s) {
    const ImageView<const Byte> picture = picture_of(frame);
    Image<Byte> mask;
    const Region marked = region_of(region, mask);
    return step(picture, index, time_s, &marked);
  }

  Answer follow(py::array frame, std::optional<int> index, std::optional<double> time_s) {
    return step(picture_of(frame), index.value_or(index_ + 1), time_s.value_or((index_ + 1) / 30.0), nullptr);
  }

  [[nodiscard]] py::dict stages() {
    py::dict all;
    const std::scoped_lock lock(mutex_);
    for (const Stage& stage : tracker_->stages())
      all[py::str(std::string(stage.name))] = array_of(stage.picture);
    return all;
  }

  [[nodiscard]] py::dict choices() const {
    py::dict all;
    const std::scoped_lock lock(mutex_);
    for (const SeedChoice& choice : tracker_->choices()) all[py::str(choice.name)] = object_of(choice.value);
    return all;
  }

  [[nodiscard]] std::unique_ptr<PyTracker> clone() const {
    const std::scoped_lock lock(mutex_);
    return std::unique_ptr<PyTracker>(new PyTracker(*this, tracker_->clone()));
  }

  [[nodiscard]] const std::string& name() const { return entry_.name; }
  [[nodiscard]] py::dict params() const {
    py::dict all;
    for (const auto& [name, value] : completed(params_, entry_.schema)) all[py::str(name)] = object_of(value);
    return all;
  }

 private:
  PyTracker(const PyTracker& other, std::unique_ptr<Tracker> tracker)
      : entry_(other.entry_), params_(other.params_), tracker_(std::move(tracker)), index_(other.index_) {}

  Answer step(ImageView<const Byte> picture, int index, double time_s, const Region* region) {
    const Frame frame{picture, index, time_s};
    Estimate estimate;
    {
      const py::gil_scoped_release others_may_run;
      const std::scoped_lock lock(mutex_);
      estimate = region != nullptr ? tracker_->seed(frame, *region) : tracker_->follow(frame);
      index_ = index;
    }
    return answer_of(estimate);
  }

  const TrackerEntry& entry_;
  ParamSet params_;
  std::unique_ptr<Tracker> tracker_;
  int index_ = 0;
  mutable std::mutex mutex_;
};

py::dict described(const TrackerEntry& entry) {
  py::dict params;
  for (const Field& field : entry.schema.fields) {
    py::dict one;
    one["type"] = type_name(field);
    one["default"] = object_of(field.standard);
    one["allowed"] = allowed_text(field);
    one["help"] = field.help;
    one["acts_at"] = field.acts_at_step ? "step" : "seed";
    params[py::str(field.name)] = one;
  }
  py::dict out;
  out["name"] = entry.name;
  out["family"] = entry.family;
  out["summary"] = entry.summary;
  out["paper"] = entry.paper;
  out["params"] = params;
  return out;
}

// The frames of a sequence, each an array of its own.
class PyFrames {
 public:
  explicit PyFrames(const Sequence& sequence) : frames_(open_frames(sequence)) {}

  py::array_t<Byte> next() {
    std::optional<Frame> frame;
    {
      const py::gil_scoped_release others_may_run;
      frame = frames_->next();
    }
    if (!frame) throw py::stop_iteration();
    return array_of(frame->rgb);
  }

 private:
  std::unique_ptr<FrameSource> frames_;
};

py::dict truth_arrays(const Truth& truth) {
  std::vector<int> frame;
  std::vector<double> boxes, angle, visible;
  py::array_t<bool> present(static_cast<py::ssize_t>(truth.rows.size()));
  for (std::size_t i = 0; i < truth.rows.size(); ++i) {
    const TruthRow& row = truth.rows[i];
    frame.push_back(row.frame);
    const Box& box = row.box.box;
    boxes.insert(boxes.end(), {box.x, box.y, box.w, box.h});
    angle.push_back(row.box.angle_deg);
    visible.push_back(row.visible);
    present.mutable_at(static_cast<py::ssize_t>(i)) = row.present;
  }
  py::dict out;
  out["frame"] = array_of(frame);
  out["box"] = array_of(boxes).reshape({static_cast<py::ssize_t>(frame.size()), py::ssize_t{4}});
  out["angle"] = array_of(angle);
  out["present"] = present;
  out["visible"] = array_of(visible);
  return out;
}

}  // namespace

void add_trackers(py::module_& module) {
  py::class_<Answer>(module, "Estimate", "What a tracker answers for one frame.")
      .def_readonly("box", &Answer::box, "x, y, w, h in pixels; a guess where the target is not present.")
      .def_readonly("angle", &Answer::angle, "Degrees clockwise that the box is turned about its middle.")
      .def_readonly("confidence", &Answer::confidence, "From 0 to 1.")
      .def_readonly("present", &Answer::present, "Whether the target is held to be in the picture.")
      .def_readonly("mask", &Answer::mask,
                    "uint8, rows x cols, 1 on the target; None of trackers without masks.")
      .def_readonly("minor_px", &Answer::minor_px, "The shorter axis of its ellipse, or None.")
      .def("__repr__", [](const Answer& answer) {
        return "Estimate(box=" + py::repr(answer.box).cast<std::string>() +
               ", confidence=" + std::to_string(answer.confidence) + (answer.present ? ")" : ", lost)");
      });
  py::class_<PyTracker>(
      module, "Tracker",
      "A tracker of the catalogue, with parameters by keyword.\n\n"
      "Frames are uint8, rows x cols x 3 (RGB). Rows may have gaps, as those of a slice have; any other "
      "array that is not contiguous is copied first. While a tracker works other threads run.")
      .def(py::init([](const std::string& name, const py::iterable& keep_out, const py::kwargs& params) {
             return std::make_unique<PyTracker>(name, params_of(params), keep_out);
           }),
           py::arg("name"), py::kw_only(), py::arg("keep_out") = py::tuple(),
           "keep_out are areas that are never the target: outlines of n x 2 corners.")
      .def("seed", &PyTracker::seed, py::arg("frame"), py::arg("region"), py::arg("index") = 0,
           py::arg("time_s") = 0.0,
           "Starts afresh from a frame and a region of it: (x, y, w, h), (x, y, w, h, angle), an array of n "
           "x 2 corners, "
           "or a mask of the frame's rows x cols.")
      .def("follow", &PyTracker::follow, py::arg("frame"), py::arg("index") = py::none(),
           py::arg("time_s") = py::none(), "The estimate for the next frame.")
      .def("stages", &PyTracker::stages, "The inner pictures of the last step, by name: float32 arrays.")
      .def("choices", &PyTracker::choices, "What was chosen by the seed, where parameters leave that open.")
      .def("clone", &PyTracker::clone, "A tracker of its own with all this one's state.")
      .def_property_readonly("name", &PyTracker::name)
      .def_property_readonly("params", &PyTracker::params, "Every parameter's value.")
      .def("__repr__", [](const PyTracker& tracker) { return "Tracker('" + tracker.name() + "')"; });
  module.def(
      "trackers",
      [] {
        py::list all;
        for (const TrackerEntry& entry : catalogue().entries()) all.append(described(entry));
        return all;
      },
      "The trackers there are, each with its name, family, summary, paper and parameters.");
  py::class_<PyFrames>(module, "Frames", "The frames of a sequence in order.")
      .def("__iter__", [](PyFrames& frames) -> PyFrames& { return frames; })
      .def("__next__", &PyFrames::next);
  py::class_<Sequence>(module, "Sequence",
                       "A sequence: a folder with a sequence.toml, a folder of pictures, or a video.")
      .def(py::init([](const std::filesystem::path& path) { return read_sequence(path); }), py::arg("path"))
      .def_readonly("name", &Sequence::name)
      .def_readonly("title", &Sequence::title)
      .def_readonly("rate_hz", &Sequence::rate_hz)
      .def_readonly("tags", &Sequence::tags)
      .def_property_readonly(
          "keep_out", [](const Sequence& sequence) { return outlines_of(sequence.keep_out); },
          "Areas that are never the target: outlines of n x 2 corners, for a tracker's keep_out.")
      .def("__len__", [](const Sequence& sequence) { return count_frames(sequence); })
      .def(
          "frames", [](const Sequence& sequence) { return std::make_unique<PyFrames>(sequence); },
          "The frames from the first: uint8, rows x cols x 3.")
      .def_property_readonly(
          "truth", [](const Sequence& sequence) { return truth_arrays(sequence.truth); },
          "frame, box (n x 4), angle, present and visible as arrays; empty where there is no truth.");
}

}  // namespace mnemon::python
