// SPDX-License-Identifier: MIT
#include "command_line.hpp"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <cstdio>
#include <limits>
#include <sstream>

#include <mnemon/base/error.hpp>
#include <mnemon/base/nearest_name.hpp>
#include <mnemon/base/plain_text.hpp>

#include "output.hpp"

namespace mnemon::app {
namespace {

constexpr int kWrongCall = 2;
constexpr const char* kStatusLine = "Exit status: 0 done, 1 the work failed, 2 the call was wrong.\n";

constexpr std::size_t kHelpWidth = 78;

// The package breaks no lines.
std::string wrapped(const std::string& help) { return wrapped_text(help, kHelpWidth); }

CLI::Option* with(CLI::Option* option, const char* form, Need need) {
  if (*form != '\0') option->type_name(form);
  return option->required(need == Need::required);
}

}  // namespace

struct Verb::Parts {
  CLI::App* app;
};

struct CommandLine::Program {
  CLI::App app;
  std::vector<std::unique_ptr<Verb::Parts>> verbs;
  std::vector<std::string> names;

  Program(const char* name, const char* purpose) : app(purpose, name) {}
};

void Verb::text(const char* name, const char* form, std::string& target, const std::string& help, Need need) {
  with(parts_.app->add_option(name, target, wrapped(help)), form, need);
}

void Verb::texts(const char* name, const char* form, std::vector<std::string>& target,
                 const std::string& help) {
  CLI::Option* option = with(parts_.app->add_option(name, target, wrapped(help)), form, Need::optional);
  if (*name == '-') option->take_all()->allow_extra_args(false);
}

void Verb::word(const char* name, const std::vector<std::string>& words, std::string& target,
                const std::string& help) {
  with(parts_.app->add_option(name, target, wrapped(help)), "NAME", Need::optional)
      ->check(CLI::IsMember(words).description(""));
}

void Verb::whole(const char* name, int low, int& target, const std::string& help) {
  const CLI::Range range(low, std::numeric_limits<int>::max(), "whole number from " + std::to_string(low));
  with(parts_.app->add_option(name, target, wrapped(help)), "N", Need::optional)
      ->check(CLI::Validator(range).description(""));
}

void Verb::real(const char* name, double& target, const std::string& help) {
  with(parts_.app->add_option(name, target, wrapped(help)), "NUMBER", Need::optional)
      ->check(CLI::Validator(CLI::PositiveNumber).description(""));
}

void Verb::random_number(const char* name, std::uint64_t& target, const std::string& help) {
  with(parts_.app->add_option(name, target, wrapped(help)), "N", Need::optional);
}

void Verb::flag(const char* name, bool& target, const std::string& help) {
  parts_.app->add_flag(name, target, wrapped(help));
}

void Verb::on_call(std::function<void()> work) { parts_.app->callback(std::move(work)); }

CommandLine::CommandLine(const char* program, const char* purpose, const char* version)
    : program_(std::make_unique<Program>(program, purpose)) {
  program_->app.require_subcommand(1);
  program_->app.set_version_flag("--version", version);
  program_->app.footer(std::string("'mnemon VERB --help' shows a verb's options and an example.\n") +
                       kStatusLine);
}

CommandLine::~CommandLine() = default;

Verb CommandLine::add(const char* name, const char* purpose, const char* example) {
  CLI::App* verb = program_->app.add_subcommand(name, wrapped(purpose));
  verb->footer(fmt::format("Example: {}\n{}", example, kStatusLine));
  program_->names.emplace_back(name);
  program_->verbs.push_back(std::make_unique<Verb::Parts>(Verb::Parts{verb}));
  return Verb(*program_->verbs.back());
}

int CommandLine::run(int argc, char** argv) {
  const std::vector<std::string>& names = program_->names;
  if (argc > 1 && argv[1][0] != '-' && std::find(names.begin(), names.end(), argv[1]) == names.end())
    throw CallError(fmt::format("there is no verb '{}'{}", argv[1], name_hint(argv[1], names)));
  try {
    program_->app.parse(argc, argv);
    return 0;
  } catch (const CLI::ParseError& error) {
    if (error.get_exit_code() == 0) {  // help was asked for
      std::ostringstream help;
      const int status = program_->app.exit(error, help, help);
      print_text(help.str());
      return status;
    }
    const auto verbs = program_->app.get_subcommands();
    const std::string verb = verbs.empty() ? "" : " " + verbs.front()->get_name();
    note("mnemon{}: {}\nSee 'mnemon{} --help'.\n", verb, error.what(), verb);
    return kWrongCall;
  }
}

}  // namespace mnemon::app
