// SPDX-License-Identifier: MIT
#include <filesystem>
#include <memory>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <mnemon/sequence/sequence_check.hpp>
#include <mnemon/study/plan.hpp>

#include "interruption.hpp"
#include "output.hpp"
#include "plugins.hpp"
#include "progress.hpp"
#include "verbs.hpp"

namespace mnemon::app {
namespace {

namespace fs = std::filesystem;

struct Options {
  std::vector<std::string> names;
  bool json = false;
};

// The sequences of a plan where it is one, or else the one sequence of that name.
std::vector<fs::path> sequences_of(const fs::path& name) {
  if (name.extension() != ".toml" || name.filename() == "sequence.toml") return {name};
  std::vector<std::string> plugins;
  for (const fs::path& file : plugins_of_plan(name)) plugins.push_back(file.string());
  const std::vector<fs::path> sequences =
      read_plan(name, catalogue_with(plugins), fs::read_symlink("/proc/self/exe")).sequences;
  if (sequences.empty())
    throw CallError(
        fmt::format("{} names no sequences on disk, and generated ones need no check", name.string()));
  return sequences;
}

std::string frames_text(const Finding& finding) {
  if (finding.from < 0) return "";
  return finding.from == finding.to ? fmt::format("frame {}: ", finding.from)
                                    : fmt::format("frames {} to {}: ", finding.from, finding.to);
}

void print_check(const std::string& name, const SequenceCheck& check) {
  if (check.frames == 0)
    print("{}: no frame could be read\n", name);
  else
    print("{}: {} frames of {} x {} px{}\n", name, check.frames, check.size.width, check.size.height,
          check.findings.empty() ? ", all as it should be" : "");
  for (const Finding& finding : check.findings)
    print("  {:<5}  {}{}\n", finding.is_wrong ? "wrong" : "odd", frames_text(finding), finding.text);
}

Json check_json(const std::string& name, const SequenceCheck& check) {
  Json json{{"sequence", name},
            {"frames", check.frames},
            {"width", check.size.width},
            {"height", check.size.height},
            {"findings", Json::array()}};
  for (const Finding& finding : check.findings) {
    Json one{{"wrong", finding.is_wrong}, {"text", finding.text}};
    if (finding.from >= 0) one["frames"] = {finding.from, finding.to};
    json["findings"].push_back(one);
  }
  return json;
}

// What cannot even be opened is a finding, too: the others are checked all the same.
SequenceCheck checked(const fs::path& path, const Interruption& interruption) {
  ProgressLine line("checked");
  try {
    const Sequence sequence = read_sequence(path);
    return check_sequence(sequence, [&](int frames) {
      interruption.check();
      line.show(frames, static_cast<int>(sequence.truth.rows.size()), sequence.name);
    });
  } catch (const Error& error) {
    return {0, {}, {{true, error.what()}}};
  }
}

void run(const Options& options) {
  if (options.names.empty()) throw CallError("which sequences? Name one or more, or a plan");
  std::vector<fs::path> paths;
  for (const std::string& name : options.names)
    for (const fs::path& path : sequences_of(name)) paths.push_back(path);
  const Interruption interruption;
  Json all = Json::array();
  int wrong = 0;
  int odd = 0;
  for (const fs::path& path : paths) {
    const SequenceCheck check = checked(path, interruption);
    if (options.json)
      all.push_back(check_json(path.string(), check));
    else
      print_check(path.string(), check);
    (check.has_wrong() ? wrong : odd) += check.findings.empty() ? 0 : 1;
  }
  if (options.json)
    print_json(all);
  else if (paths.size() > 1)
    print("{} sequences: {} with something wrong, {} with something odd\n", paths.size(), wrong, odd);
  if (wrong > 0)
    throw Error(wrong == 1 ? "something is wrong with a sequence; see above"
                           : fmt::format("something is wrong with {} sequences; see above", wrong));
}

}  // namespace

void add_check(CommandLine& program) {
  const auto options = std::make_shared<Options>();
  Verb verb = program.add("check", "Read sequences once, whole, and say what is wrong or odd about them.",
                          "mnemon check demo/kites/steady demo/kites/away");
  verb.texts("SEQUENCE", "", options->names,
             "a sequence as follow takes them from disk, or a plan, for all that it names (repeatable)");
  verb.flag("--json", options->json, "print JSON");
  verb.on_call([options] { run(*options); });
}

}  // namespace mnemon::app
