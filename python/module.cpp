// SPDX-License-Identifier: MIT
#include "arrays.hpp"

#include <cmath>

#include <fmt/format.h>

#include <mnemon/base/error.hpp>

namespace mnemon::python {

ImageView<const Byte> picture_of(py::array& array) {
  if (!py::isinstance<py::array_t<Byte>>(array) || array.ndim() != 3 || array.shape(2) != 3)
    throw CallError("a frame is an array of uint8, rows x cols x 3 (RGB)");
  if (array.strides(2) != 1 || array.strides(1) != 3 || array.strides(0) < 3 * array.shape(1))
    array = py::array_t<Byte, py::array::c_style | py::array::forcecast>::ensure(array);
  return {static_cast<const Byte*>(array.data()), static_cast<int>(array.shape(0)),
          static_cast<int>(array.shape(1)), 3, array.strides(0)};
}

namespace {

std::vector<double> numbers_of(const py::object& object) {
  std::vector<double> numbers;
  for (const py::handle item : object) numbers.push_back(item.cast<double>());
  return numbers;
}

Region mask_region(const py::array& array, Image<Byte>& mask) {
  const auto bytes = py::array_t<Byte, py::array::c_style | py::array::forcecast>::ensure(array);
  mask = Image<Byte>(static_cast<int>(array.shape(0)), static_cast<int>(array.shape(1)));
  std::copy_n(bytes.data(), mask.elements().size(), mask.elements().begin());
  return std::as_const(mask).view();
}

}  // namespace

Region region_of(const py::object& region, Image<Byte>& mask) {
  constexpr const char* kForms =
      "a region is (x, y, w, h), (x, y, w, h, angle), an array of n x 2 corners, or a mask of the frame's "
      "rows x cols";
  if (py::isinstance<py::array>(region)) {
    const auto array = region.cast<py::array>();
    const char kind = array.dtype().kind();
    if (array.ndim() == 2 && (kind == 'b' || (kind == 'u' && array.itemsize() == 1)))
      return mask_region(array, mask);
    if (array.ndim() == 2 && array.shape(1) == 2) {
      const auto corners = py::array_t<double, py::array::c_style | py::array::forcecast>::ensure(array);
      Polygon polygon;
      for (py::ssize_t i = 0; i < corners.shape(0); ++i)
        polygon.push_back({corners.at(i, 0), corners.at(i, 1)});
      return polygon;
    }
    if (array.ndim() != 1) throw CallError(kForms);
  }
  std::vector<double> n;
  try {
    n = numbers_of(region);
  } catch (const py::error_already_set&) {
    throw CallError(kForms);
  } catch (const py::cast_error&) {
    throw CallError(kForms);
  }
  if (n.size() == 4) return Box{n[0], n[1], n[2], n[3]};
  if (n.size() == 5) return OrientedBox{{n[0], n[1], n[2], n[3]}, n[4]};
  throw CallError(kForms);
}

ParamSet params_of(const py::dict& values) {
  ParamSet params;
  for (const auto& [key, value] : values) {
    const auto name = key.cast<std::string>();
    if (py::isinstance<py::bool_>(value))
      params[name] = value.cast<bool>();
    else if (py::isinstance<py::str>(value))
      params[name] = value.cast<std::string>();
    else if (py::isinstance<py::int_>(value) && std::abs(value.cast<double>()) < 2e9)
      params[name] = value.cast<int>();
    else if (PyNumber_Check(value.ptr()) != 0)
      params[name] = value.cast<double>();
    else
      throw CallError(fmt::format("the value of '{}' is no number, text or truth value", name));
  }
  return params;
}

ParamSet params_of(const py::kwargs& values) { return params_of(static_cast<const py::dict&>(values)); }

py::object object_of(const ParamValue& value) {
  return std::visit([](const auto& one) -> py::object { return py::cast(one); }, value);
}

}  // namespace mnemon::python

PYBIND11_MODULE(_mnemon, module) {
  namespace py = pybind11;
  module.attr("__version__") = MNEMON_VERSION;
  py::register_exception_translator([](std::exception_ptr error) {
    try {
      if (error) std::rethrow_exception(error);
    } catch (const mnemon::CallError& wrong_call) {
      PyErr_SetString(PyExc_ValueError, wrong_call.what());
    } catch (const mnemon::Error& failed) {
      PyErr_SetString(PyExc_RuntimeError, failed.what());
    }
  });
  mnemon::python::add_trackers(module);
  mnemon::python::add_scores(module);
  mnemon::python::add_studies(module);
}
