// SPDX-License-Identifier: MIT
#pragma once
#include <string>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/json.hpp>

namespace mnemon::test {

/// The data object in a report's page; empty where there is none.
inline Json page_data(const std::string& html) {
  const std::string opening = "<script type=\"application/json\" id=\"data\">";
  const auto begin = html.find(opening);
  const auto end = html.find("</script>", begin);
  if (begin == std::string::npos || end == std::string::npos) {
    ADD_FAILURE() << "the page has no data";
    return Json::object();
  }
  return Json::parse(html.substr(begin + opening.size(), end - begin - opening.size()));
}

}  // namespace mnemon::test
