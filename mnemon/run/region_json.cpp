// SPDX-License-Identifier: MIT
#include <mnemon/run/region_json.hpp>

#include <cmath>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/base64.hpp>
#include <mnemon/image/mask_runs.hpp>

namespace mnemon {
namespace {

struct ToJson {
  Json operator()(const Box& box) const { return {{"box", {box.x, box.y, box.w, box.h}}}; }
  Json operator()(const OrientedBox& turned) const {
    const Box& box = turned.box;
    return {{"oriented", {box.x, box.y, box.w, box.h, turned.angle_deg}}};
  }
  Json operator()(const Polygon& polygon) const {
    Json corners = Json::array();
    for (const Point& corner : polygon) corners.push_back({corner.x, corner.y});
    return {{"polygon", corners}};
  }
  Json operator()(ImageView<const Byte> mask) const { return {{"mask", base64(packed(runs_of(mask)))}}; }
  Json operator()(const PointMarks& marks) const {
    const auto list = [](const std::vector<Point>& points) {
      Json all = Json::array();
      for (const Point& point : points) all.push_back({point.x, point.y});
      return all;
    };
    Json json{{"include", list(marks.include)}};
    if (!marks.exclude.empty()) json["exclude"] = list(marks.exclude);
    if (marks.box) json["box"] = {marks.box->x, marks.box->y, marks.box->w, marks.box->h};
    return {{"points", json}};
  }
};

[[noreturn]] void refuse(const Json& json) {
  throw DataError({"region"},
                  fmt::format("{} is none; it has one key of box, oriented, polygon, mask or points",
                              json_text(json).substr(0, 200)));
}

std::vector<double> numbers_of(const Json& json, std::size_t count, const Json& whole) {
  if (!json.is_array() || json.size() != count) refuse(whole);
  std::vector<double> numbers;
  for (const Json& number : json) {
    if (!number.is_number() || !std::isfinite(number.get<double>())) refuse(whole);
    numbers.push_back(number.get<double>());
  }
  return numbers;
}

std::vector<Point> points_of(const Json& json, const Json& whole) {
  if (!json.is_array()) refuse(whole);
  std::vector<Point> points;
  for (const Json& point : json) {
    const auto n = numbers_of(point, 2, whole);
    points.push_back({n[0], n[1]});
  }
  return points;
}

PointMarks marks_of(const Json& json, const Json& whole) {
  PointMarks marks;
  for (const auto& [key, value] : json.items()) {
    if (key == "include") {
      marks.include = points_of(value, whole);
    } else if (key == "exclude") {
      marks.exclude = points_of(value, whole);
    } else if (key == "box") {
      const auto n = numbers_of(value, 4, whole);
      marks.box = Box{n[0], n[1], n[2], n[3]};
    } else {
      refuse(whole);
    }
  }
  if (marks.include.empty()) refuse(whole);
  return marks;
}

}  // namespace

Json region_json(const Region& region) { return std::visit(ToJson{}, region); }

Region parse_region(const Json& json, ImageView<Byte> room) {
  if (!json.is_object() || json.size() != 1) refuse(json);
  const std::string& key = json.begin().key();
  const Json& value = json.begin().value();
  if (key == "box") {
    const auto n = numbers_of(value, 4, json);
    return Box{n[0], n[1], n[2], n[3]};
  }
  if (key == "oriented") {
    const auto n = numbers_of(value, 5, json);
    return OrientedBox{{n[0], n[1], n[2], n[3]}, n[4]};
  }
  if (key == "polygon") return Polygon(points_of(value, json));
  if (key == "points" && value.is_object()) return marks_of(value, json);
  if (key != "mask" || !value.is_string()) refuse(json);
  const auto bytes = bytes_of_base64(value.get_ref<const std::string&>());
  const auto runs = bytes ? unpacked(*bytes) : std::nullopt;
  if (!runs || runs->rows != room.rows || runs->cols != room.cols) refuse(json);
  draw_into(*runs, room);
  return ImageView<const Byte>(room);
}

}  // namespace mnemon
