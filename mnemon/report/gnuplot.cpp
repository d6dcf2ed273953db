// SPDX-License-Identifier: MIT
// The part of figures.hpp that draws: writes a gnuplot script with its data in it, and runs it.
#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <fstream>
#include <string>
#include <string_view>
#include <system_error>
#include <vector>

#include <fmt/format.h>

#include <mnemon/base/command.hpp>
#include <mnemon/base/error.hpp>
#include <mnemon/base/number_text.hpp>
#include <mnemon/base/plain_text.hpp>
#include <mnemon/base/whole_file.hpp>
#include <mnemon/base/workers.hpp>
#include <mnemon/report/figures.hpp>

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

bool has_points(const FigureSeries& line) {
  return std::ranges::any_of(line.y, [](double y) { return std::isfinite(y); });
}

bool has_intervals(const FigureSeries& line) { return line.low.size() == line.x.size() && !line.low.empty(); }

// Where marks of several series share a category they stand beside each other.
double aside(std::size_t series, std::size_t count) {
  return count < 2 ? 0 : 0.7 * (static_cast<double>(series) / static_cast<double>(count - 1) - 0.5);
}

// The points of a series: x, y, and where there are intervals their ends.
std::string data_block(const ReportFigure& figure, std::size_t number) {
  const FigureSeries& line = figure.lines[number];
  const bool is_spread = figure.kind == FigureKind::points && !figure.categories.empty();
  std::string text = fmt::format("$line{} << EOD\n", number);
  for (std::size_t i = 0; i < line.x.size(); ++i) {
    if (!std::isfinite(line.y[i])) {
      text += "\n";
      continue;
    }
    const double x = line.x[i] + (is_spread ? aside(number, figure.lines.size()) : 0);
    text += fmt::format("{} {}", number_text(x), number_text(line.y[i]));
    if (has_intervals(line)) {
      const auto end = [&](double value) { return number_text(std::isfinite(value) ? value : line.y[i]); };
      text += fmt::format(" {} {}", end(line.low[i]), end(line.high[i]));
    }
    text += "\n";
  }
  return text + "EOD\n";
}

// Bars stand on each other: each part is drawn from 0 to its end, the highest first.
std::string bar_block(const ReportFigure& figure, std::size_t number) {
  std::string text = fmt::format("$line{} << EOD\n", number);
  const FigureSeries& last = figure.lines[number];
  for (std::size_t i = 0; i < last.x.size(); ++i) {
    double height = 0;
    for (std::size_t below = 0; below <= number; ++below)
      for (std::size_t k = 0; k < figure.lines[below].x.size(); ++k)
        if (figure.lines[below].x[k] == last.x[i] && std::isfinite(figure.lines[below].y[k]))
          height += figure.lines[below].y[k];
    text += fmt::format("{} {}\n", number_text(last.x[i]), number_text(height));
  }
  return text + "EOD\n";
}

// Left to itself, a logarithmic axis goes on to the next power of ten.
std::string x_range(const ReportFigure& figure) {
  if (figure.lines.empty() || figure.lines.front().x.empty()) return "";
  double low = figure.lines.front().x.front();
  double high = low;
  for (const FigureSeries& line : figure.lines)
    for (const double x : line.x) {
      low = std::min(low, x);
      high = std::max(high, x);
    }
  if (figure.kind == FigureKind::points) {  // marks are not to lie on the frame
    low /= 1.15;
    high *= 1.15;
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

std::string category_ticks(const ReportFigure& figure, FigureForm form) {
  std::string ticks;
  for (std::size_t i = 0; i < figure.categories.size(); ++i)
    ticks += fmt::format("{}{} {}", i == 0 ? "" : ", ", quoted(figure.categories[i]), i);
  return fmt::format("set xrange [-0.6:{}]\nset xtics ({}) rotate by -55 noenhanced\nset bmargin {}\n",
                     static_cast<double>(figure.categories.size()) - 0.4, ticks, form.width_cm > 0 ? 12 : 8);
}

constexpr std::array kDashes{"solid", "(8, 5)", "(2, 3)", "(10, 4, 2, 4)", "(16, 4)"};
constexpr std::array kMarks{7, 5, 9, 11, 13, 6, 4, 8, 10, 12, 1, 2};

// Told apart in grey, too: by dashes and marks, which go by whose the series is.
std::string style_of(const ReportFigure& figure, std::size_t number) {
  const FigureSeries& line = figure.lines[number];
  const std::size_t place = line.tracker >= 0 ? static_cast<std::size_t>(line.tracker) : number;
  if (figure.kind == FigureKind::bars)
    return fmt::format("with boxes fs solid 0.85 border lc rgb '#555048' fc rgb '{}'", line.colour);
  const int mark = kMarks[place % kMarks.size()];
  if (figure.kind == FigureKind::points)
    return has_intervals(line)
               ? fmt::format("with yerrorbars pt {} ps 1.1 lw 1.4 lc rgb '{}'", mark, line.colour)
               : fmt::format("with points pt {} ps 1.1 lc rgb '{}'", mark, line.colour);
  const char* dash = kDashes[place % kDashes.size()];
  const std::string dashes = std::string_view(dash) == "solid" ? "" : fmt::format("dashtype {} ", dash);
  const std::size_t every = std::max<std::size_t>(1, line.x.size() / 8);
  return fmt::format("with linespoints pt {} ps 0.7 pointinterval {} lw 2.2 {}lc rgb '{}'", mark, every,
                     dashes, line.colour);
}

std::string plot_call(const ReportFigure& figure) {
  std::string plot;
  const auto add = [&plot](const std::string& part) { plot += (plot.empty() ? "plot " : ", ") + part; };
  if (!figure.front.empty()) add("$front with lines lw 1.2 dashtype (4, 4) lc rgb '#8d8578' notitle");
  for (std::size_t place = 0; place < figure.lines.size(); ++place) {
    const std::size_t i = figure.kind == FigureKind::bars ? figure.lines.size() - 1 - place : place;
    if (!has_points(figure.lines[i])) continue;  // the package fails where there is nothing else
    const bool has_ends = figure.kind == FigureKind::points && has_intervals(figure.lines[i]);
    add(fmt::format("$line{}{} {} title {}", i, has_ends ? " using 1:2:3:4" : " using 1:2",
                    style_of(figure, i), quoted(figure.lines[i].label)));
  }
  // An empty figure still is one: its axes say that there was nothing to draw.
  return plot.empty() ? "set xrange [0:1]\nset yrange [0:1]\nplot -1 notitle" : plot;
}

// Height over width of every form.
constexpr double kShape = 0.55;

// All files are named as they are in the folder that the package is run in.
std::string figure_script(const ReportFigure& figure, FigureForm form) {
  std::string script =
      "reset\nset encoding utf8\nset grid lc rgb '#d8d4cc' lw 0.7\nset border 3 lc rgb '#555048'\n"
      "set tics nomirror\nset boxwidth 0.7\n";
  // In a narrow column there is no room beside the lines.
  script += form.width_cm > 0 ? "set key below noenhanced\n" : "set key outside right top noenhanced\n";
  if (form.width_cm <= 0) script += fmt::format("set title {} noenhanced\n", quoted(figure.title));
  script += fmt::format("set xlabel {} noenhanced\nset ylabel {} noenhanced\n", quoted(figure.x_label),
                        quoted(figure.y_label));
  const bool is_from_zero = figure.kind != FigureKind::points;
  script += figure.unit_y ? "set yrange [0:1.02]\n" : is_from_zero ? "set yrange [0:*]\n" : "";
  if (figure.log_x && !figure.lines.empty()) script += "set logscale x\n" + x_range(figure);
  if (!figure.categories.empty()) script += category_ticks(figure, form);
  int object = 1;
  for (const FigureBand& band : figure.shaded)
    script += fmt::format(
        "set object {} rectangle from {}, graph 0 to {}, graph 1 fc rgb '#e4ded2' fs solid noborder "
        "behind\n",
        object++, band.from, band.to);
  for (std::size_t i = 0; i < figure.lines.size(); ++i)
    if (has_points(figure.lines[i]))
      script += figure.kind == FigureKind::bars ? bar_block(figure, i) : data_block(figure, i);
  if (!figure.front.empty()) {
    script += "$front << EOD\n";
    for (const int place : figure.front)
      script += fmt::format("{} {}\n", number_text(figure.lines[place].x.front()),
                            number_text(figure.lines[place].y.front()));
    script += "EOD\n";
  }
  const std::string plot = plot_call(figure);
  const auto draw = [&](const std::string& terminal, const char* ending) {
    script += fmt::format("set terminal {}\nset output {}\n{}\nunset output\n", terminal,
                          quoted(figure.name + ending), plot);
  };
  if (form.width_cm > 0) {
    constexpr double kPxPerCm = 96 / 2.54;
    // Legible in print: 8 points in every width; narrow figures are higher for what stands below them.
    const double height_cm = form.width_cm * (form.width_cm < 12 ? 0.85 : kShape);
    draw(fmt::format("svg size {:.0f},{:.0f} noenhanced font 'DejaVu Sans,10.6' background rgb 'white'",
                     form.width_cm * kPxPerCm, height_cm * kPxPerCm),
         ".svg");
    draw(fmt::format("pngcairo size {:.0f},{:.0f} noenhanced font 'DejaVu Sans,8' fontscale 3.1 linewidth 2",
                     form.width_cm * 118.11, height_cm * 118.11),  // 300 dots an inch
         ".png");
    if (form.has_pdf)
      draw(fmt::format(
               "pdfcairo size {:.2f}cm,{:.2f}cm noenhanced font 'DejaVu Sans,8' fontscale 1 linewidth 0.7",
               form.width_cm, height_cm),
           ".pdf");
    return script;
  }
  draw("svg size 900,480 noenhanced font 'DejaVu Sans,13' background rgb 'white'", ".svg");
  draw("pngcairo size 1280,680 noenhanced font 'DejaVu Sans,13' fontscale 1.2 linewidth 1.3", ".png");
  if (form.has_pdf)
    draw("pdfcairo size 17cm,9.3cm noenhanced font 'DejaVu Sans,9' fontscale 1 linewidth 0.8", ".pdf");
  return script;
}

// Runs a script in its folder, and without what the user may have set up for the package.
void run_gnuplot(const std::filesystem::path& folder, const std::string& script) {
  CommandResult result;
  try {
    result = run_command({"gnuplot", "-d", script}, folder);
  } catch (const Error& error) {
    throw Error(fmt::format("the figures cannot be drawn: {} (Debian's package gnuplot-nox)", error.what()));
  }
  if (result.status != 0)
    throw Error(
        fmt::format("the figures cannot be drawn: gnuplot failed in {}: {}", folder.string(), result.output));
}

// The script of all figures, and beside it those of their parts, one a core, as the package draws on one core alone.
class FigureScripts {
 public:
  explicit FigureScripts(const std::filesystem::path& folder) : folder_(folder) {
    for (int i = 0; i < core_count(); ++i) parts_.push_back(fmt::format("part-{}.gp", i));
    append(kScript, "");
  }

  void add(const std::string& script) {
    append(kScript, script);
    append(parts_[added_++ % parts_.size()], script);
  }

  void run() const {
    const int count = static_cast<int>(std::min(added_, parts_.size()));
    for_each_index(count, count, [&](int i) { run_gnuplot(folder_, parts_[i]); });
  }

 private:
  void append(const std::string& name, const std::string& text) const {
    std::ofstream out(folder_ / name, std::ios::binary | std::ios::app);
    out << text;
    if (!out.flush()) throw DataError({folder_ / name}, "cannot be written; is the disk full?");
  }

  std::filesystem::path folder_;
  std::vector<std::string> parts_;
  std::size_t added_ = 0;
};

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

void draw_figures(const std::vector<ReportFigure>& figures, const std::filesystem::path& folder,
                  FigureForm form) {
  draw_figures([&](const auto& use) { std::ranges::for_each(figures, use); }, folder, form);
}

void draw_figures(const std::function<void(const std::function<void(const ReportFigure&)>&)>& visit,
                  const std::filesystem::path& folder, FigureForm form) {
  const ScratchFolder scratch(folder);
  FigureScripts scripts(scratch.path());
  std::vector<std::string> drawn;
  visit([&](const ReportFigure& figure) {
    scripts.add(figure_script(figure, form));
    drawn.push_back(figure.name);
  });
  scripts.run();
  std::vector<std::string> names{kScript};
  for (const std::string& name : drawn) {
    check_ending(scratch.path() / (name + ".svg"), "</svg>");
    check_ending(scratch.path() / (name + ".png"), "IEND");
    names.insert(names.end(), {name + ".svg", name + ".png"});
    if (!form.has_pdf) continue;
    check_ending(scratch.path() / (name + ".pdf"), "%%EOF");
    names.push_back(name + ".pdf");
  }
  for (const std::string& name : names) move_file(scratch.path() / name, folder / name);
}

}  // namespace mnemon
