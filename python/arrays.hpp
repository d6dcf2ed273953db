// SPDX-License-Identifier: MIT
#pragma once
#include <optional>

#include <pybind11/numpy.h>
#include <pybind11/pybind11.h>

#include <mnemon/base/params.hpp>
#include <mnemon/image/image.hpp>
#include <mnemon/track/region.hpp>
/// \file
/// What Python hands over, as the library takes it.
namespace mnemon::python {

namespace py = pybind11;

/// A picture of RGB bytes. Rows may have gaps between them; other arrays are copied first, which keeps `array` alive.
/// \throws CallError  where it is no array of bytes, rows x cols x 3.
[[nodiscard]] ImageView<const Byte> picture_of(py::array& array);

/// A region: four numbers are a box, five a turned box, an array of n x 2 numbers an outline, and an array of bytes or of truth
/// values, rows x cols, a mask, whose copy is kept in `mask`.
/// \throws CallError  where it is none of these.
[[nodiscard]] Region region_of(const py::object& region, Image<Byte>& mask);

/// Parameters from keywords.
/// \throws CallError  where a value is no number, text or truth value.
[[nodiscard]] ParamSet params_of(const py::kwargs& values);
[[nodiscard]] ParamSet params_of(const py::dict& values);

/// A value as Python has it.
[[nodiscard]] py::object object_of(const ParamValue& value);

/// Numbers as an array of their own.
template <class T>
[[nodiscard]] py::array_t<T> array_of(const std::vector<T>& values) {
  return py::array_t<T>(static_cast<py::ssize_t>(values.size()), values.data());
}

/// A picture as an array of its own: rows x cols, or rows x cols x channels where there are several.
template <class T>
[[nodiscard]] py::array_t<T> array_of(ImageView<const T> picture) {
  std::vector<py::ssize_t> shape{picture.rows, picture.cols};
  if (picture.channels > 1) shape.push_back(picture.channels);
  py::array_t<T> array(shape);
  T* to = array.mutable_data();
  for (int r = 0; r < picture.rows; ++r, to += picture.row_length())
    std::copy_n(picture.row(r), picture.row_length(), to);
  return array;
}

/// Adds each part of the package to the module.
void add_trackers(py::module_& module);
void add_scores(py::module_& module);
void add_studies(py::module_& module);

}  // namespace mnemon::python
