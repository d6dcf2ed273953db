// SPDX-License-Identifier: MIT
#include <mnemon/desk/desk_job.hpp>

#include <utility>

#include <fmt/format.h>

namespace mnemon {

void DeskJob::start(std::string name, std::function<Json()> work) {
  check_idle();
  name_ = std::move(name);
  work_ = std::move(work);
  done_ = 0;
  total_ = 0;
  is_stopped_ = false;
}

void DeskJob::check_idle() const {
  if (is_busy()) throw CallError(fmt::format("'{}' is still at work; stop it first", name_));
}

void DeskJob::progress(int done, int total) noexcept {
  done_ = done;
  total_ = total;
}

void DeskJob::finish(Json result) {
  result_ = std::move(result);
  result_["job"] = name_;
  work_ = nullptr;
}

void DeskJob::check() const {
  if (is_stopped_) throw Stopped();
}

Json DeskJob::json() const {
  return is_busy() ? Json{{"name", name_}, {"done", done_}, {"total", total_}} : Json();
}

}  // namespace mnemon
