// SPDX-License-Identifier: MIT
// The part of figures.hpp that draws: writes a gnuplot script with its data in it, and runs it.
#include <algorithm>
#include <cmath>
#include <string>
#include <vector>

#include <fmt/format.h>
#include <spawn.h>
#include <sys/wait.h>

#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/report/figures.hpp>

extern char** environ;

namespace mnemon {
namespace {

// Text in double quotes; gnuplot's enhanced mode is off, so only these need care.
std::string quoted(const std::string& text) {
  std::string out = "\"";
  for (const char c : text) {
    if (c == '"' || c == '\\') out += '\\';
    out += c == '\n' ? ' ' : c;
  }
  return out + "\"";
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

std::string figure_script(const LineFigure& figure, const std::filesystem::path& folder) {
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
    script += data_block(figure.lines[i], i);
    plot += fmt::format("{}$line{} with lines lw 2.2 {}lc rgb '{}' title {}", i == 0 ? "plot " : ", ", i,
                        figure.lines[i].dashed ? "dashtype (8, 5) " : "", figure.lines[i].colour,
                        quoted(figure.lines[i].label));
  }
  // An empty figure still is one: its axes say that there was nothing to draw.
  if (figure.lines.empty()) plot = "set xrange [0:1]\nset yrange [0:1]\nplot -1 notitle";
  const auto draw = [&](const std::string& terminal, const char* ending) {
    const std::string file = (folder / (figure.name + ending)).string();
    script += fmt::format("set terminal {}\nset output {}\n{}\nunset output\n", terminal, quoted(file), plot);
  };
  draw("svg size 900,480 noenhanced font 'DejaVu Sans,13' background rgb 'white'", ".svg");
  draw("pngcairo size 1280,680 noenhanced font 'DejaVu Sans,13' fontscale 1.2 linewidth 1.3", ".png");
  return script;
}

void run_gnuplot(const std::filesystem::path& script) {
  const std::string file = script.string();
  std::string name = "gnuplot";
  std::string argument = file;
  char* arguments[] = {name.data(), argument.data(), nullptr};
  pid_t child = 0;
  if (::posix_spawnp(&child, "gnuplot", nullptr, nullptr, arguments, environ) != 0)
    throw Error("the figures cannot be drawn: gnuplot is not installed (Debian's package gnuplot-nox)");
  int status = 0;
  ::waitpid(child, &status, 0);
  if (!WIFEXITED(status) || WEXITSTATUS(status) != 0)
    throw Error(fmt::format("the figures cannot be drawn: gnuplot failed on {}", file));
}

}  // namespace

void draw_figures(const std::vector<LineFigure>& figures, const std::filesystem::path& folder) {
  make_folder(folder);
  std::string script;
  for (const LineFigure& figure : figures) script += figure_script(figure, folder);
  const std::filesystem::path file = folder / "figures.gp";
  write_file(file, script);
  run_gnuplot(file);
}

}  // namespace mnemon
