// SPDX-License-Identifier: MIT
#pragma once
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>
/// \file
/// The command line without its package: only command_line.cpp sees that one, whose header takes half a minute
/// to compile.
namespace mnemon::app {

/// Whether a call must give an option.
enum class Need { optional, required };

/// One verb's options. What an option is read into must outlive the parse. Names are as users write them: `--box`
/// for an option, `SEQUENCE` for a place in the call. A form such as `X,Y,W,H` stands for the value in the help.
class Verb {
 public:
  struct Parts;
  explicit Verb(Parts& parts) : parts_(parts) {}

  void text(const char* name, const char* form, std::string& target, const std::string& help,
            Need need = Need::optional);
  /// May be given again and again.
  void texts(const char* name, const char* form, std::vector<std::string>& target, const std::string& help);
  /// One of these words.
  void word(const char* name, const std::vector<std::string>& words, std::string& target,
            const std::string& help);
  /// A whole number of at least `low`.
  void whole(const char* name, int low, int& target, const std::string& help);
  /// A number above 0.
  void real(const char* name, double& target, const std::string& help);
  void random_number(const char* name, std::uint64_t& target, const std::string& help);
  void flag(const char* name, bool& target, const std::string& help);
  /// What the verb does once the call is read.
  void on_call(std::function<void()> work);

 private:
  Parts& parts_;
};

/// The program's call: verbs with their options.
class CommandLine {
 public:
  CommandLine(const char* program, const char* purpose, const char* version);
  CommandLine(const CommandLine&) = delete;
  CommandLine& operator=(const CommandLine&) = delete;
  ~CommandLine();

  /// Adds a verb with its purpose and a worked example.
  Verb add(const char* name, const char* purpose, const char* example);

  /// Reads the call and does what it says. \returns  The exit status: 0, or 2 for a call that cannot be read.
  /// \throws  What the verb's work throws.
  int run(int argc, char** argv);

 private:
  struct Program;
  std::unique_ptr<Program> program_;
};

}  // namespace mnemon::app
