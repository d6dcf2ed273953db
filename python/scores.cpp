// SPDX-License-Identifier: MIT
#include <string>

#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <pybind11/stl.h>

#include <mnemon/base/error.hpp>
#include <mnemon/score/run_score.hpp>
#include <mnemon/study/score_record.hpp>

#include "arrays.hpp"

namespace mnemon::python {
namespace {

using Numbers = py::array_t<double, py::array::c_style | py::array::forcecast>;

// Boxes as rows of x, y, w, h or x, y, w, h, angle.
std::vector<OrientedBox> boxes_of(const Numbers& array, const char* what) {
  if (array.ndim() != 2 || (array.shape(1) != 4 && array.shape(1) != 5))
    throw CallError(
        fmt::format("{} is an array of n x 4 numbers (x, y, w, h), or n x 5 with the angle", what));
  std::vector<OrientedBox> boxes;
  for (py::ssize_t i = 0; i < array.shape(0); ++i)
    boxes.push_back({{array.at(i, 0), array.at(i, 1), array.at(i, 2), array.at(i, 3)},
                     array.shape(1) == 5 ? array.at(i, 4) : 0});
  return boxes;
}

py::array_t<double> overlaps(const Numbers& a, const Numbers& b) {
  const auto ours = boxes_of(a, "a");
  const auto theirs = boxes_of(b, "b");
  if (ours.size() != theirs.size())
    throw CallError(fmt::format("there are {} boxes and {}", ours.size(), theirs.size()));
  py::array_t<double> shared(static_cast<py::ssize_t>(ours.size()));
  for (std::size_t i = 0; i < ours.size(); ++i)
    shared.mutable_at(static_cast<py::ssize_t>(i)) = overlap(ours[i], theirs[i]);
  return shared;
}

// A column that may be left out.
template <class T>
T value_at(const std::optional<py::array_t<T, py::array::c_style | py::array::forcecast>>& column,
           std::size_t i, std::size_t count, const char* what, T standard) {
  if (!column) return standard;
  if (column->ndim() != 1 || static_cast<std::size_t>(column->shape(0)) != count)
    throw CallError(fmt::format("{} is to be {} values", what, count));
  return column->at(static_cast<py::ssize_t>(i));
}

py::object python_of(const Json& json) {
  if (json.is_null()) return py::none();
  if (json.is_boolean()) return py::bool_(json.get<bool>());
  if (json.is_number_integer()) return py::int_(json.get<long long>());
  if (json.is_number()) return py::float_(json.get<double>());
  if (json.is_string()) return py::str(json.get<std::string>());
  if (json.is_array()) {
    py::list list;
    for (const Json& item : json) list.append(python_of(item));
    return list;
  }
  py::dict dict;
  for (const auto& [key, value] : json.items()) dict[py::str(key)] = python_of(value);
  return dict;
}

using Flags = py::array_t<bool, py::array::c_style | py::array::forcecast>;

py::object score(const Numbers& truth_boxes, const Numbers& boxes, const std::optional<Numbers>& confidence,
                 const std::optional<Flags>& present, const std::optional<Flags>& truth_present) {
  const auto right = boxes_of(truth_boxes, "truth");
  const auto guessed = boxes_of(boxes, "boxes");
  Truth truth;
  for (std::size_t i = 0; i < right.size(); ++i)
    truth.rows.push_back({static_cast<int>(i), right[i],
                          value_at<bool>(truth_present, i, right.size(), "truth_present", true), 1});
  Trace trace;
  for (std::size_t i = 0; i < guessed.size(); ++i)
    trace.rows.push_back({static_cast<int>(i),
                          guessed[i],
                          value_at<double>(confidence, i, guessed.size(), "confidence", 1.0),
                          value_at<bool>(present, i, guessed.size(), "present", true),
                          {},
                          i == 0 ? Event::seed : Event::none});
  return python_of(score_json(score_run(truth, trace)));
}

}  // namespace

void add_scores(py::module_& module) {
  module.def(
      "overlap", &overlaps, py::arg("a"), py::arg("b"),
      "Intersection over union of pairs of boxes: n x 4 (x, y, w, h), or n x 5 with the angle in degrees.");
  module.def("score", &score, py::arg("truth"), py::arg("boxes"), py::arg("confidence") = py::none(),
             py::arg("present") = py::none(), py::arg("truth_present") = py::none(),
             "Every figure of one run, as `mnemon score --json` names them. Rows are frames; the first is "
             "the seed's, and is "
             "not scored.");
}

}  // namespace mnemon::python
