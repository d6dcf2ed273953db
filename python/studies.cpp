// SPDX-License-Identifier: MIT
#include <cmath>
#include <string>

#include <pybind11/stl.h>

#include <mnemon/score/frame_score.hpp>
#include <mnemon/score/losses.hpp>
#include <mnemon/study/runner.hpp>
#include <mnemon/study/score_record.hpp>

#include "arrays.hpp"

namespace mnemon::python {
namespace {

// Columns that grow row by row.
struct Columns {
  std::vector<std::string> tracker, sequence, protocol;
  std::vector<int> start, repeat;

  void add(const Study& study, const StudyRun& run) {
    tracker.push_back(study.trackers[run.tracker].label);
    sequence.push_back(study.sequences[run.sequence].name);
    protocol.push_back(study.protocols[run.protocol].name);
    start.push_back(run.start);
    repeat.push_back(run.repeat);
  }
  [[nodiscard]] py::dict arrays() const {
    py::dict out;
    const py::object array = py::module_::import("numpy").attr("array");
    const py::object text = py::dtype("O");
    out["tracker"] = array(tracker, text);
    out["sequence"] = array(sequence, text);
    out["protocol"] = array(protocol, text);
    out["start"] = array_of(start);
    out["repeat"] = array_of(repeat);
    return out;
  }
};

double number_of(const Figure& figure) { return figure.value_or(std::nan("")); }

py::dict runs_of(const Study& study) {
  Columns columns;
  std::vector<std::string> failure;
  std::vector<std::vector<double>> figures(scalar_measures().size());
  std::vector<double> peak_bytes, told_ms, highest;
  for (const StudyRun& run : study.runs) {
    columns.add(study, run);
    failure.push_back(run.failure);
    for (std::size_t i = 0; i < figures.size(); ++i)
      figures[i].push_back(run.score ? number_of(scalar_measures()[i].of(*run.score)) : std::nan(""));
    highest.push_back(number_of(run.highest_rate_hz));
    told_ms.push_back(number_of(run.told_ms));
    peak_bytes.push_back(number_of(run.peak_bytes));
  }
  py::dict out = columns.arrays();
  out["failure"] = py::module_::import("numpy").attr("array")(failure, py::dtype("O"));
  for (std::size_t i = 0; i < figures.size(); ++i)
    out[py::str(std::string(scalar_measures()[i].name))] = array_of(figures[i]);
  out["highest_rate_hz"] = array_of(highest);
  out["told_ms"] = array_of(told_ms);
  out["peak_bytes"] = array_of(peak_bytes);
  return out;
}

py::dict frames_of(const Study& study) {
  Columns columns;
  std::vector<int> frame;
  std::vector<double> x, y, w, h, angle, confidence, step_ms, shared;
  std::vector<std::string> event;
  std::vector<int> present;
  for (const StudyRun& run : study.runs) {
    const Truth& truth = study.sequences[run.sequence].truth;
    for (const TraceRow& row : run.trace.rows) {
      columns.add(study, run);
      frame.push_back(row.frame);
      x.push_back(row.box.box.x);
      y.push_back(row.box.box.y);
      w.push_back(row.box.box.w);
      h.push_back(row.box.box.h);
      angle.push_back(row.box.angle_deg);
      confidence.push_back(row.confidence);
      present.push_back(row.present ? 1 : 0);
      step_ms.push_back(row.step_ms.value_or(std::nan("")));
      event.emplace_back(event_name(row.event));
      const TruthRow* right = truth.find(row.frame);
      shared.push_back(right != nullptr && right->present ? compare(*right, row).overlap : std::nan(""));
    }
  }
  py::dict out = columns.arrays();
  out["frame"] = array_of(frame);
  out["x"] = array_of(x);
  out["y"] = array_of(y);
  out["w"] = array_of(w);
  out["h"] = array_of(h);
  out["angle"] = array_of(angle);
  out["confidence"] = array_of(confidence);
  out["present"] = array_of(present).attr("astype")("bool");
  out["step_ms"] = array_of(step_ms);
  out["event"] = py::module_::import("numpy").attr("array")(event, py::dtype("O"));
  out["overlap"] = array_of(shared);
  return out;
}

py::dict losses_of(const Study& study) {
  Columns columns;
  std::vector<int> first;
  std::vector<double> recovered;
  const auto add = [&](const StudyRun& run, const Loss& loss) {
    columns.add(study, run);
    first.push_back(loss.begin);
    recovered.push_back(loss.end ? *loss.end : std::nan(""));
  };
  for (const StudyRun& run : study.runs) {
    if (!run.failure.empty() || run.trace.rows.empty()) continue;
    const FrameScores scores =
        score_frames(study.sequences[run.sequence].truth, run.trace, {}, kRestartSettle);
    // Somebody helped after each: it is certain on that frame, and nobody waited for what would come.
    for (const int frame : scores.losses) add(run, {frame, {}});
    if (!scores.losses.empty() || !scores.reseeds.empty()) continue;
    for (const Loss& loss : find_losses(scores.frames)) add(run, loss);
  }
  py::dict out = columns.arrays();
  out["frame"] = array_of(first);
  out["recovered"] = array_of(recovered);
  return out;
}

py::dict curves_of(const Study& study) {
  Columns columns;
  std::vector<std::string> name;
  std::vector<double> threshold, share;
  const auto add = [&](const StudyRun& run, const char* curve, const std::vector<double>& values,
                       double per_step) {
    for (std::size_t i = 0; i < values.size(); ++i) {
      columns.add(study, run);
      name.emplace_back(curve);
      threshold.push_back(static_cast<double>(i) / per_step);
      share.push_back(values[i]);
    }
  };
  for (const StudyRun& run : study.runs) {
    add(run, "overlap", run.score->overlap_curve, 100);
    add(run, "centre", run.score->centre_curve, 1);
    add(run, "relative_centre", run.score->relative_centre_curve, 200);
  }
  py::dict out = columns.arrays();
  out["curve"] = py::module_::import("numpy").attr("array")(name, py::dtype("O"));
  out["threshold"] = array_of(threshold);
  out["share"] = array_of(share);
  return out;
}

// Runs a plan. An exception of the callback ends the work; what was run till then is in the study.
py::dict run(const std::string& plan_file, const std::string& folder,
             const std::optional<py::function>& progress, int jobs) {
  const Catalogue catalogue = Catalogue::standard();
  const Plan plan = read_plan(plan_file, catalogue);
  RunOptions options;
  options.jobs = jobs;
  if (progress)
    options.on_progress = [&progress](const RunProgress& so_far) {
      const py::gil_scoped_acquire of_python;
      (*progress)(so_far.done, so_far.total, so_far.label, so_far.sequence);
    };
  RunSummary summary;
  {
    const py::gil_scoped_release others_may_run;
    summary = run_plan(plan, catalogue, folder, options);
  }
  py::dict out;
  out["made"] = summary.made;
  out["kept"] = summary.kept;
  out["failed"] = summary.failed;
  return out;
}

}  // namespace

void add_studies(py::module_& module) {
  py::class_<Study>(module, "StudyFile", "A study, read whole.")
      .def(py::init([](const std::string& folder) { return read_study(folder); }), py::arg("folder"))
      .def_readonly("title", &Study::title)
      .def_readonly("missing_runs", &Study::missing_runs)
      .def("runs", &runs_of)
      .def("frames", &frames_of)
      .def("losses", &losses_of)
      .def("curves", &curves_of);
  module.def("run_plan", &run, py::arg("plan"), py::arg("folder"), py::arg("progress") = py::none(),
             py::arg("jobs") = 0,
             "Runs what of a plan is missing in the study in a folder; `progress(done, total, tracker, "
             "sequence)` is called "
             "after each run. Returns how many runs were made, kept and failed.");
}

}  // namespace mnemon::python
