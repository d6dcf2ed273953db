// SPDX-License-Identifier: MIT
#pragma once
#include <CLI/CLI.hpp>

/// \file
/// The verbs of the program: each adds its options to the command line, and its work as their callback.
namespace mnemon::app {

void add_demo(CLI::App& program);
void add_scene(CLI::App& program);
void add_trackers(CLI::App& program);
void add_follow(CLI::App& program);
void add_score(CLI::App& program);
void add_bench(CLI::App& program);
void add_report(CLI::App& program);
void add_export(CLI::App& program);

/// Adds a verb with its purpose and a worked example.
CLI::App* add_verb(CLI::App& program, const char* name, const char* purpose, const char* example);

/// Wants a whole number of at least that; adds nothing to the option's line in the help.
CLI::Validator at_least(int low);

}  // namespace mnemon::app
