// SPDX-License-Identifier: MIT
#pragma once
#include "command_line.hpp"
/// \file
/// The verbs of the program: each adds its options to the command line, and its work as what it does when called.
namespace mnemon::app {

void add_demo(CommandLine& program);
void add_desk(CommandLine& program);
void add_scene(CommandLine& program);
void add_process(CommandLine& program);
void add_trackers(CommandLine& program);
void add_import(CommandLine& program);
void add_check(CommandLine& program);
void add_follow(CommandLine& program);
void add_score(CommandLine& program);
void add_bench(CommandLine& program);
void add_label(CommandLine& program);
void add_merge(CommandLine& program);
void add_report(CommandLine& program);
void add_film(CommandLine& program);
void add_compare(CommandLine& program);
void add_export(CommandLine& program);

}  // namespace mnemon::app
