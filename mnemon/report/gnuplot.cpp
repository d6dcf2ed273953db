// SPDX-License-Identifier: MIT
// The part of figures.hpp that draws: writes a gnuplot script with its data in it, and runs it.
#include <algorithm>
#include <array>
#include <cctype>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <string>
#include <string_view>
#include <system_error>
#include <vector>

#include <fcntl.h>
#include <fmt/format.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/report/figures.hpp>

extern char** environ;

namespace mnemon {
namespace {

constexpr const char* kScript = "figures.gp";

// Text in which the package finds nothing to expand, neither a command in backquotes nor a quote's end: all but
// letters, digits and blanks are octal numbers, in the form with a 0 in front and so of four digits.
std::string quoted(const std::string& text) {
  std::string out = "\"";
  for (const char c : plain_line(text)) {
    const auto byte = static_cast<unsigned char>(c);
    const bool is_plain = c == ' ' || (byte < 0x80 && std::isalnum(byte) != 0);
    out += is_plain ? std::string(1, c) : fmt::format("\\0{:03o}", byte);
  }
  return out + "\"";
}

bool has_points(const FigureLine& line) {
  return std::ranges::any_of(line.y, [](double y) { return std::isfinite(y); });
}

std::string data_block(const FigureLine& line, std::size_t number) {
  std::string text = fmt::format("$line{} << EOD\n", number);
  for (std::size_t i = 0; i < line.x.size(); ++i)
    text += std::isfinite(line.y[i]) ? fmt::format("{} {}\n", number_text(line.x[i]), number_text(line.y[i]))
                                     : "\n";
  return text + "EOD\n";
}

// Left to itself, a logarithmic axis goes on to the next power of ten.
std::string x_range(const LineFigure& figure) {
  if (figure.lines.empty() || figure.lines.front().x.empty()) return "";
  double low = figure.lines.front().x.front();
  double high = low;
  for (const FigureLine& line : figure.lines)
    for (const double x : line.x) {
      low = std::min(low, x);
      high = std::max(high, x);
    }
  // Ticks at round numbers: those left to gnuplot stand at powers of ten alone, of which a short axis has none. The
  // longer the axis, the fewer a decade.
  const double decades = std::log10(high / low);
  const std::vector<double> parts = decades < 1.5   ? std::vector{1.0, 1.5, 2.0, 3.0, 5.0, 7.0}
                                    : decades < 2.5 ? std::vector{1.0, 2.0, 5.0}
                                                    : std::vector{1.0};
  std::string ticks;
  for (double decade = std::pow(10, std::floor(std::log10(low))); decade <= high; decade *= 10)
    for (const double part : parts)
      if (part * decade >= low && part * decade <= high)
        ticks += fmt::format("{}'{:g}' {:g}", ticks.empty() ? "" : ", ", part * decade, part * decade);
  return fmt::format("set xrange [{}:{}]\nset xtics ({})\n", number_text(low), number_text(high), ticks);
}

// All files are named as they are in the folder that the package is run in.
std::string figure_script(const LineFigure& figure) {
  std::string script =
      "reset\nset encoding utf8\nset grid lc rgb '#d8d4cc' lw 0.7\nset border 3 lc rgb '#555048'\n"
      "set tics nomirror\nset key outside right top noenhanced\n";
  script += fmt::format("set title {} noenhanced\nset xlabel {} noenhanced\nset ylabel {} noenhanced\n",
                        quoted(figure.title), quoted(figure.x_label), quoted(figure.y_label));
  script += figure.unit_y ? "set yrange [0:1.02]\n" : "set yrange [0:*]\n";
  if (figure.log_x && !figure.lines.empty()) script += "set logscale x\n" + x_range(figure);
  int object = 1;
  for (const FigureBand& band : figure.shaded)
    script += fmt::format(
        "set object {} rectangle from {}, graph 0 to {}, graph 1 fc rgb '#e4ded2' fs solid noborder "
        "behind\n",
        object++, band.from, band.to);
  std::string plot;
  for (std::size_t i = 0; i < figure.lines.size(); ++i) {
    if (!has_points(figure.lines[i])) continue;  // the package fails where there is nothing else
    script += data_block(figure.lines[i], i);
    plot += fmt::format("{}$line{} with lines lw 2.2 {}lc rgb '{}' title {}", plot.empty() ? "plot " : ", ",
                        i, figure.lines[i].dashed ? "dashtype (8, 5) " : "", figure.lines[i].colour,
                        quoted(figure.lines[i].label));
  }
  // An empty figure still is one: its axes say that there was nothing to draw.
  if (plot.empty()) plot = "set xrange [0:1]\nset yrange [0:1]\nplot -1 notitle";
  const auto draw = [&](const std::string& terminal, const char* ending) {
    script += fmt::format("set terminal {}\nset output {}\n{}\nunset output\n", terminal,
                          quoted(figure.name + ending), plot);
  };
  draw("svg size 900,480 noenhanced font 'DejaVu Sans,13' background rgb 'white'", ".svg");
  draw("pngcairo size 1280,680 noenhanced font 'DejaVu Sans,13' fontscale 1.2 linewidth 1.3", ".png");
  return script;
}

// Runs the script in its folder, and without what the user may have set up for the package.
void run_gnuplot(const std::filesystem::path& folder) {
  std::array<std::string, 3> words{"gnuplot", "-d", kScript};
  std::array<char*, 4> arguments{words[0].data(), words[1].data(), words[2].data(), nullptr};
  posix_spawn_file_actions_t actions;
  ::posix_spawn_file_actions_init(&actions);
  ::posix_spawn_file_actions_addchdir_np(&actions, folder.c_str());
  ::posix_spawn_file_actions_addopen(&actions, STDIN_FILENO, "/dev/null", O_RDONLY, 0);
  pid_t child = 0;
  const int code = ::posix_spawnp(&child, "gnuplot", &actions, nullptr, arguments.data(), environ);
  ::posix_spawn_file_actions_destroy(&actions);
  if (code == ENOENT)
    throw Error("the figures cannot be drawn: gnuplot is not installed (Debian's package gnuplot-nox)");
  if (code != 0) throw Error(fmt::format("the figures cannot be drawn: {}", std::strerror(code)));
  int status = 0;
  while (::waitpid(child, &status, 0) < 0 && errno == EINTR) continue;
  if (!WIFEXITED(status) || WEXITSTATUS(status) != 0)
    throw Error(fmt::format("the figures cannot be drawn: gnuplot failed in {}", folder.string()));
}

// On a full disk the package ends well and leaves figures that are missing, empty or cut.
void check_ending(const std::filesystem::path& file, std::string_view ending) {
  constexpr std::size_t kTail = 16;  // bytes that hold the ending, a line's end or a check sum behind it
  std::error_code code;
  const std::string drawn = std::filesystem::exists(file, code) ? read_file(file) : "";
  if (drawn.find(ending, drawn.size() - std::min(drawn.size(), kTail)) == std::string::npos)
    throw Error(
        fmt::format("the figure {} was not drawn to its end; is the disk full?", file.filename().string()));
}

}  // namespace

void draw_figures(const std::vector<LineFigure>& figures, const std::filesystem::path& folder) {
  const ScratchFolder scratch(folder);
  std::string script;
  for (const LineFigure& figure : figures) script += figure_script(figure);
  write_file(scratch.path() / kScript, script);
  run_gnuplot(scratch.path());
  std::vector<std::string> names{kScript};
  for (const LineFigure& figure : figures) {
    check_ending(scratch.path() / (figure.name + ".svg"), "</svg>");
    check_ending(scratch.path() / (figure.name + ".png"), "IEND");
    names.insert(names.end(), {figure.name + ".svg", figure.name + ".png"});
  }
  for (const std::string& name : names) move_file(scratch.path() / name, folder / name);
}

}  // namespace mnemon
