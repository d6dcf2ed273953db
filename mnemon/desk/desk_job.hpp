// SPDX-License-Identifier: MIT
#pragma once
#include <atomic>
#include <functional>
#include <string>

#include <nlohmann/json.hpp>

#include <mnemon/base/error.hpp>
#include <mnemon/base/json.hpp>

namespace mnemon {

/// A longer piece of work that a desk does, at most one at a time, and what came of the last one. Only `stop` and `check` may be called
/// without the desk's mutex.
class DeskJob {
 public:
  /// A job was told to stop.
  struct Stopped : Error {
    Stopped() : Error("stopped") {}
  };

  /// \throws CallError  where another one is still at work.
  void start(std::string name, std::function<Json()> work);
  /// \throws CallError  where one is at work.
  void check_idle() const;
  /// Whether there is work to be done, or being done.
  [[nodiscard]] bool is_busy() const noexcept { return static_cast<bool>(work_); }
  /// What is to be done; its result is the job's.
  [[nodiscard]] const std::function<Json()>& work() const noexcept { return work_; }

  /// How far it is.
  void progress(int done, int total) noexcept;
  /// What came of it.
  void finish(Json result);
  /// Tells it to stop; it does so when it checks next.
  void stop() noexcept { is_stopped_ = true; }
  /// \throws Stopped  once it was told to.
  void check() const;

  /// {name, done, total}, or null while there is none.
  [[nodiscard]] Json json() const;
  /// What came of the last one, with its name as `job`; an empty object before the first.
  [[nodiscard]] const Json& result() const noexcept { return result_; }

 private:
  std::string name_;
  std::function<Json()> work_;  // empty while there is none
  int done_ = 0;
  int total_ = 0;
  std::atomic<bool> is_stopped_ = false;
  Json result_ = Json::object();
};

}  // namespace mnemon
