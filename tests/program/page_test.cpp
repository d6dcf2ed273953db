// SPDX-License-Identifier: MIT
// The report page in a real browser: what it draws, shows and does, and that its numbers are those of the export.
#include <algorithm>
#include <cmath>
#include <map>
#include <string>

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <mnemon/base/whole_file.hpp>
#include <mnemon/report/page.hpp>
#include <mnemon/report/results.hpp>

#include "support/messages.hpp"
#include "support/page_data.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

const std::filesystem::path kStudy = std::filesystem::path(MNEMON_DEMO) / "study";
const std::filesystem::path kPage = kStudy / "report/index.html";

// What every probe can use: `say` writes a line that the test looks for, `wait` lets the page come to rest.
constexpr const char* kBefore = R"(<script type="module">
const said = [];
const say = (text) => said.push(text);
const wait = (ms = 30) => new Promise((done) => setTimeout(done, ms));
const $ = (path) => document.querySelector(path);
const all = (path) => [...document.querySelectorAll(path)];
const press = (key, more = {}) => document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }));
while (document.body.dataset.ready !== 'yes') await wait();
try {
)";
constexpr const char* kAfter = R"(
} catch (error) { say('threw ' + error); }
document.body.dataset.probe = said.join('; ');
document.body.replaceChildren();  // only what was said is of use, and the page is long
document.head.replaceChildren();
</script></body>)";

// The page keeps nothing in the browser, so that all tests of a process share a profile, which takes seconds to make.
Outcome browse(const std::filesystem::path& page, int width = 1280, const std::string& hash = "") {
  static const TempFolder profile;
  return run_program(
      {"chromium", "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
       "--disable-background-networking", "--disable-component-update", "--disable-sync",
       "--enable-logging=stderr", "--user-data-dir=" + profile.path().string(), "--virtual-time-budget=9000",
       "--window-size=" + std::to_string(width) + ",800", "--dump-dom", "file://" + page.string() + hash});
}

// What a probe said, run in the demo's page.
std::string probed(const std::string& script, int width = 1280, const std::string& hash = "") {
  const TempFolder folder;
  std::string html = read_file(kPage);
  html.replace(html.rfind("</body>"), 7, kBefore + script + kAfter);
  write_file(folder / "page.html", html);
  const Outcome seen = browse(folder / "page.html", width, hash);
  EXPECT_EQ(seen.status, 0);
  EXPECT_EQ(seen.err.find("CONSOLE"), std::string::npos) << seen.err.substr(0, 2000);
  const std::string opening = "data-probe=\"";
  const auto begin = seen.out.rfind(opening);
  if (begin == std::string::npos) return "the probe said nothing";
  const auto end = seen.out.find('"', begin + opening.size());
  return seen.out.substr(begin + opening.size(), end - begin - opening.size());
}

std::string fixed(const Json& number, int decimals) {
  if (number.is_null()) return "-";
  char text[40];
  std::snprintf(text, sizeof text, "%.*f", decimals, number.get<double>());
  return text;
}

// What a table of the page has to say, worked out from the export's runs one by one.
class Export {
 public:
  explicit Export(const Json& json) : json_(json) {
    for (const Json& run : json["runs"])
      if (!run["score"].is_null())
        runs_[run["protocol"].get<std::string>()][run["tracker"].get<std::string>()]
             [run["sequence"].get<std::string>()]
                 .push_back(&run);
  }

  // \param sequence  Empty for the mean over all sequences.
  [[nodiscard]] std::string cell(const std::string& tracker, const std::string& protocol,
                                 const std::string& sequence, const std::string& heading) const {
    struct Known {
      const char* measure;
      int decimals;
    };
    static const std::map<std::string, Known> known{{"success area", {"success_area", 3}},
                                                    {"spread", {"success_area", 3}},
                                                    {"worst run", {"success_area", 3}},
                                                    {"overlap > 0.5", {"success_at_0.5", 3}},
                                                    {"within 20 px", {"hit_rate_20", 3}},
                                                    {"centre error", {"median_centre_error", 1}},
                                                    {"hold F", {"hold_f", 3}},
                                                    {"absence told", {"absence_rate", 3}},
                                                    {"losses", {"losses", 1}},
                                                    {"recovered", {"recovered_share", 2}},
                                                    {"returned", {"returned_share", 2}},
                                                    {"frames/s", {"frames_per_s", 0}},
                                                    {"median ms", {"step_ms_p50", 3}},
                                                    {"95 % ms", {"step_ms_p95", 3}},
                                                    {"restarts / 1000", {"restarts_per_1000", 2}},
                                                    {"held overlap", {"held_overlap", 3}},
                                                    {"median hold", {"median_hold", 0}},
                                                    {"skipped", {"skipped_share", 3}},
                                                    {"highest Hz", {"highest_rate_hz", 0}}};
    const auto& [measure, decimals] = known.at(heading);
    const bool is_time = heading == "frames/s" || heading == "median ms" || heading == "95 % ms";
    if (is_time && tracker == "stay") return "-";  // a floor, which does nothing, and that quickly
    if (is_time && sequence.empty()) {
      for (const Json& one : json_["protocols"])
        if (one["protocol"] == protocol)
          return fixed(one["trackers"][tracker]["all_steps"][measure], decimals);
    }
    if (!sequence.empty()) {
      const auto& runs = runs_.at(protocol).at(tracker).at(sequence);
      return fixed(of(runs, measure, heading), heading == "losses" && runs.size() == 1 ? 0 : decimals);
    }
    std::vector<double> values;
    for (const auto& [name, runs] : runs_.at(protocol).at(tracker))
      if (const Json value = of(runs, measure, heading); !value.is_null())
        values.push_back(value.get<double>());
    return fixed(mean(values), decimals);
  }

 private:
  static Json mean(const std::vector<double>& values) {
    double sum = 0;
    for (const double value : values) sum += value;
    return values.empty() ? Json() : Json(sum / static_cast<double>(values.size()));
  }

  // The figure of a tracker's runs on a sequence.
  static Json of(const std::vector<const Json*>& runs, const char* measure, const std::string& heading) {
    std::vector<double> values;
    for (const Json* run : runs) {
      const Json& score = (*run)["score"];
      const Json value = std::string(measure) == "highest_rate_hz" ? (*run)[measure]
                         : score.contains(measure)                 ? score[measure]
                                                                   : score["speed"][measure];
      if (!value.is_null()) values.push_back(value.get<double>());
    }
    if (heading == "worst run") return values.empty() ? Json() : Json(*std::ranges::min_element(values));
    if (heading != "spread") return mean(values);
    if (values.size() < 2) return {};
    const double middle = mean(values).get<double>();
    double squares = 0;
    for (const double value : values) squares += (value - middle) * (value - middle);
    return std::sqrt(squares / static_cast<double>(values.size() - 1));
  }

  const Json& json_;
  std::map<std::string, std::map<std::string, std::map<std::string, std::vector<const Json*>>>> runs_;
};

}  // namespace

// The program leaves traces in the study's file, and writes runs one after the other.
TEST(Page, IsThatOfAStudyHeldWhole) { EXPECT_TRUE(page_html(read_study(kStudy)) == read_file(kPage)); }

TEST(Page, DrawsEveryChartWithoutAMessageOrARequest) {
  const std::string said = probed(R"(
    dispatchEvent(new Event('beforeprint'));  // draws what has not come into view yet
    await wait(300);
    const isDrawn = (canvas) => {
      const data = new Uint32Array(canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data.buffer);
      return new Set(data).size > 20;
    };
    const charts = all('canvas[data-chart]');
    say(`charts ${charts.filter(isDrawn).length} of ${charts.length}`);
    say(`data of ${charts.filter((canvas) => Chart.getChart(canvas).data.datasets.some((set) => set.data.length)).length}`);
    say(`viewer ${isDrawn($('.screen'))} strip ${isDrawn($('.strip'))}`);
    say(`requests ${performance.getEntriesByType('resource').filter((entry) => !entry.name.startsWith('data:')).length}`);
  )");
  // Accuracy against speed, two curves, tags, losses, absences, survival, live at each rate and at its own, confidence, jitter, lag, overlap lost, the share covered, wear,
  // luck and step times.
  expect_parts(said, {"charts 17 of 17", "data of 17", "viewer true strip true", "requests 0"});
}

TEST(Page, ShowsTheNumbersOfTheExport) {
  const Json page = page_data(read_file(kPage));
  const Outcome printed = mnemon({"report", kStudy.string(), "--json"});
  ASSERT_EQ(printed.status, 0) << printed.err;
  const Json json = Json::parse(printed.out);
  EXPECT_EQ(page["figures"], json["figures"]);
  const Export exported(json);
  int compared = 0;
  for (const Json& protocol : page["protocols"]) {
    const std::string name = protocol["name"].get<std::string>();
    for (const char* table : {"over", "runs"})
      for (const Json& row : protocol[table]["rows"])
        for (std::size_t i = 0; i < protocol[table]["columns"].size(); ++i) {
          const std::string heading = protocol[table]["columns"][i]["heading"].get<std::string>();
          const std::string sequence = std::string(table) == "runs" ? row["over"].get<std::string>() : "";
          const std::string cell = row["cells"][i].get<std::string>();
          EXPECT_EQ(cell.substr(0, cell.find(' ')),
                    exported.cell(row["name"].get<std::string>(), name, sequence, heading))
              << row["name"] << " under " << name << " on " << sequence << ": " << heading;
          ++compared;
        }
  }
  EXPECT_GT(compared, 3000);
  // The main table has the same columns, and those of tags the means inside the tags' frames.
  const Json& trackers = json["protocols"][0]["trackers"];
  for (const Json& row : page["merit"]["rows"]) {
    const std::string label = row["name"].get<std::string>();
    EXPECT_EQ(row["cells"][0], exported.cell(label, "single", "", "success area")) << label;
    EXPECT_EQ(row["cells"][1], json["protocols"][0]["groups"][label]) << label;
    const Json& interval = trackers[label]["over_sequences"]["success_area"]["interval"];
    EXPECT_EQ(row["cells"][2], fixed(interval[0], 3) + " to " + fixed(interval[1], 3)) << label;
    for (std::size_t i = 3; i + 1 < row["cells"].size(); ++i) {
      const std::string cell = row["cells"][i].get<std::string>();
      EXPECT_EQ(cell.substr(0, cell.find(' ')),
                exported.cell(label, "single", "", page["merit"]["columns"][i]["heading"].get<std::string>()))
          << label;
    }
  }
  for (const Json& row : page["tags"]["rows"])
    for (std::size_t i = 0; i < row["cells"].size(); ++i) {
      const std::string label = page["tags"]["columns"][i]["heading"].get<std::string>();
      EXPECT_EQ(row["cells"][i], fixed(trackers[label]["by_tag"][row["name"].get<std::string>()]["mean"], 3))
          << label;
    }
  for (std::size_t i = 0; i < page["pairs"].size(); ++i) {
    const Json& pair = json["protocols"][0]["comparisons"][i];
    EXPECT_EQ(page["pairs"][i]["difference"], fixed(pair["difference"], 3));
    EXPECT_EQ(page["pairs"][i]["separated"], pair["separated"]);
  }
  // Troubles are those of the runs.
  std::map<std::string, Json> runs;
  for (const Json& run : json["runs"])
    if (run["protocol"] == "single")
      runs[run["tracker"].get<std::string>() + "/" + run["sequence"].get<std::string>()] = run["troubles"];
  for (const Json& run : page["runs"]) {
    const std::string name =
        page["trackers"][run["tracker"].get<std::size_t>()]["label"].get<std::string>() + "/" +
        page["sequences"][std::to_string(run["sequence"].get<int>())]["name"].get<std::string>();
    EXPECT_EQ(run["troubles"], runs.at(name)) << name;
  }
}

TEST(Page, ShowsItsDataAsItIs) {
  const std::string said = probed(R"(
    const data = JSON.parse($('#data').textContent);
    const shown = (table) => all(table + ' tbody tr').map((row) => [...row.cells].map((cell) => cell.textContent).join('|'));
    const wanted = data.merit.rows.map((row) => [row.name, row.over, ...row.cells.map((text) => text === '-' ? '–' : text)].join('|'));
    say(`merit ${JSON.stringify(shown('#answer .table')) === JSON.stringify(wanted)}`);
    let tables = 0;
    for (const protocol of data.protocols.slice(1)) {
      const rows = protocol.over.rows.map((row) => [row.name, row.over, ...row.cells.map((text) => text === '-' ? '–' : text)].join('|'));
      const found = shown(`#under-${protocol.name} > .table`);
      if (JSON.stringify(found) === JSON.stringify(rows)) ++tables;
    }
    say(`protocols ${tables} of ${data.protocols.length - 1}`);
    say(`answer ${$('.answer').textContent === data.answer}`);
    const troubles = data.runs.reduce((sum, run) => sum + run.troubles.length, 0);
    say(`losses ${$('#losses [role=status]').textContent.startsWith(`${troubles} of ${troubles}.`)}`);
    dispatchEvent(new Event('beforeprint'));
    let points = 0, same = 0;
    for (const figure of data.figures.flatMap((group) => group.figures)) {
      const sets = Chart.getChart($(`canvas[data-chart="${figure.name}"]`)).data.datasets;
      figure.series.forEach((series, i) => series.y.forEach((y, k) => { ++points; if (sets[i].data[k].y === y) ++same; }));
    }
    say(`points ${points > 1000 && points === same}`);
  )");
  expect_parts(said, {"merit true", "protocols 4 of 4", "answer true", "losses true", "points true"});
}

TEST(Page, SortsFiltersAndKeepsItsStateInTheAddress) {
  const std::string said = probed(R"(
    const first = () => $('#answer .table tbody tr td').textContent;
    const before = first();
    const heads = all('#answer .table th');
    const speed = heads.findIndex((head) => head.textContent === 'frames/s');
    heads[speed].querySelector('button').click();
    const quickest = first();
    say(`sorted ${quickest !== before} ${heads[speed].getAttribute('aria-sort')}`);
    say(`floor last ${$('#answer .table tbody tr:last-child td').textContent === 'stay'}`);
    say(`help ${heads[speed].title.length > 10}`);
    $('#chosen summary').click();
    const boxes = all('#chosen .choices input');
    boxes.find((box) => box.parentElement.textContent === 'corr-plain').click();
    say(`left out ${all('#answer .table tbody td').every((cell) => cell.textContent !== 'corr-plain')}`);
    const cause = all('#losses select')[1];
    cause.value = 'took another';
    cause.dispatchEvent(new Event('change'));
    await wait(300);
    say(`causes ${all('#losses tbody tr').length > 0 && all('#losses tbody tr').every((row) => row.cells[4].textContent === 'took another')}`);
    say(`address ${location.hash.includes('cause=took+another') && location.hash.includes('trackers=')}`);
  )");
  expect_parts(said, {"sorted true descending", "floor last true", "help true", "left out true",
                      "causes true", "address true"});
}

TEST(Page, OpensAtTheViewThatItsAddressNames) {
  const std::string said = probed(R"(
    say($('.screen').getAttribute('aria-label').slice(0, 25));
    say(`focus ${$('.entry.focus').textContent.startsWith('mask-memory')}`);
    say(`shown ${all('.entry').length}`);
  )",
                                  1280, "#view=5.60.10.&trackers=10.4");
  expect_parts(said, {"crossing, frame 60 of 219", "focus true", "shown 2"});
}

TEST(Page, TakesAnyAddress) {
  for (const char* hash : {"#view=5.1e9.77.x&trackers=&sequences=&cause=<b>", "#%%%&view=a.b.c.d"})
    EXPECT_NE(probed("say('up ' + all('section').length)", 1280, hash).find("up "), std::string::npos)
        << hash;
}

TEST(Page, StepsThroughASequenceByKeys) {
  const std::string said = probed(R"(
    const frame = () => Number($('.screen').getAttribute('aria-label').match(/frame (\d+)/)[1]);
    $('#viewer').focus();
    const from = frame();
    press('ArrowRight');
    const one = frame() - from;
    press('ArrowRight', { shiftKey: true });
    const ten = frame() - from - one;
    press('ArrowLeft');
    say(`steps ${one} ${ten} ${frame() - from}`);
    press('End');
    const last = frame();
    press('ArrowRight');
    say(`end ${frame() === last}`);
    press('Home');
    say(`home ${frame()}`);
    press('n');
    const loss = frame();
    press('n');
    say(`losses rise ${frame() > loss && loss > 0}`);
    press('b');
    say(`back ${frame() === loss}`);
    press('c');
    say(`beside ${!$('.screens').children[1].hidden}`);
    press('ArrowRight');
    say(`kept ${$('.screens').children[1].querySelector('figcaption').textContent.includes(`frame ${loss} of`)}`);
    const began = performance.now();
    for (let i = 0; i < 30; ++i) press('ArrowRight');
    say(`quick ${performance.now() - began < 1000}`);
    const box = $('.strip').getBoundingClientRect();
    $('.strip').dispatchEvent(new PointerEvent('pointerdown', { clientX: box.right - 6, clientY: box.top + 5, bubbles: true }));
    say(`strip ${frame() === last}`);
    press(' ');
    press(' ');
  )",
                                  1280, "#view=8.20.10.");
  expect_parts(said, {"steps 1 10 10", "end true", "home 0", "losses rise true", "back true", "beside true",
                      "kept true", "quick true", "strip true"});
}

// Each question is answered within three clicks from the page's top.
TEST(Page, AnswersWhatANewcomerAsks) {
  const std::string said = probed(R"(
    // Most accurate, and the fastest of those that are not separated: no click.
    const answer = $('.answer').textContent;
    say(`best ${/is the most accurate: success area 0\.\d+ over 16 sequences/.test(answer)} fastest ${/is the fastest \(\d+ frames\/s\)/.test(answer)}`);
    // Is the lead real: one click.
    $('#pairs summary').click();
    const first = $('.matrix tbody tr');
    say(`lead ${first.cells.length === 13 && [...first.cells].slice(2).every((cell) => cell.title.includes('separated') || cell.title.includes('better'))}`);
    // Worst on look-alikes, and what it took instead: a tag, a click on the row.
    const tag = all('#losses select')[2];
    tag.value = 'lookalike';
    tag.dispatchEvent(new Event('change'));
    const cause = all('#losses select')[1];
    cause.value = 'took another';
    cause.dispatchEvent(new Event('change'));
    const row = $('#losses tbody tr');
    const took = row.cells[5].textContent;
    row.click();
    await wait(100);
    say(`took ${took.startsWith('diamond kite')} ${$('.moments p').textContent.includes(took)}`);
    say(`frame ${$('.screen').getAttribute('aria-label').startsWith(row.cells[1].textContent + ', frame ' + row.cells[2].textContent)}`);
    say(`crops ${all('.moments .crop').length > 5}`);
    // What it saw inside at a loss.
    const kind = all('#losses select')[0];
    kind.value = 'loss';
    kind.dispatchEvent(new Event('change'));
    all('#losses select')[1].value = '';
    all('#losses select')[1].dispatchEvent(new Event('change'));
    const lost = all('#losses tbody tr').find((one) => one.cells[0].textContent === 'corr-kernel');
    lost.click();
    await wait(100);
    say(`stages ${all('.moments .stage img').length > 0}`);
    // How each comes back after hiding: absences by what came after.
    kind.value = 'absence';
    all('#losses select')[0].value = 'absence';
    all('#losses select')[0].dispatchEvent(new Event('change'));
    say(`returns ${all('#losses tbody tr').every((one) => one.cells[3].textContent === 'absence')}`);
    // What to use at 60 Hz on half a core: sorted by frames/s, those of 120 and more.
    const head = all('#answer .table th').find((one) => one.textContent === 'frames/s');
    head.querySelector('button').click();
    say(`rates ${Number($('#answer .table tbody tr').cells[13].textContent) > 120}`);
  )");
  expect_parts(said, {"best true fastest true", "lead true", "took true true", "frame true", "crops true",
                      "stages true", "returns true", "rates true"});
}

TEST(Page, IsLegibleAndReachableByKeyboard) {
  const char* script = R"(
    for (const one of all('details')) one.open = true;
    await wait(200);
    const light = (colour) => colour.match(/[\d.]+/g).slice(0, 3).map((part) => {
      const share = part / 255;
      return share <= 0.03928 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
    }).reduce((sum, part, i) => sum + part * [0.2126, 0.7152, 0.0722][i], 0);
    const behind = (element) => {
      for (let one = element; one; one = one.parentElement) {
        const colour = getComputedStyle(one).backgroundColor;
        if (!colour.endsWith(', 0)') && colour !== 'transparent') return colour;
      }
      return 'rgb(255, 255, 255)';
    };
    const faint = new Set();
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      const parent = node.parentElement;
      if (!node.textContent.trim() || ['SCRIPT', 'STYLE', 'OPTION', 'NOSCRIPT'].includes(parent.tagName)) continue;
      const [a, b] = [light(getComputedStyle(parent).color), light(behind(parent))].sort((x, y) => y - x);
      if ((a + 0.05) / (b + 0.05) < 4.5) faint.add(parent.className + ' ' + node.textContent.slice(0, 20));
    }
    say(`faint ${faint.size} ${[...faint].slice(0, 3).join(', ')}`);
    say(`wide ${document.documentElement.scrollWidth <= innerWidth}`);
    // What reacts to a click is a control, or holds one.
    say(`rows ${all('tr.link').filter((row) => !row.querySelector('button')).length}`);
    say(`named ${all('canvas').filter((canvas) => !canvas.getAttribute('aria-label')).length} ${all('img').filter((image) => !image.alt).length}`);
    say(`labels ${all('select, input').filter((one) => !one.closest('label')).length}`);
  )";
  for (const int width : {1280, 500}) {  // the narrowest window that the browser opens without a screen
    const std::string said = probed(script, width);
    expect_parts(said, {"faint 0", "wide true", "named 0 0", "labels 0"});
    expect_parts(said, {"rows 0"});
  }
}

TEST(Page, FitsIntoFourHundredPixels) {
  // A narrower window than 500 px the browser does not open without a screen: so the page is told to be narrow.
  const std::string said = probed(R"(
    document.body.style.width = '400px';
    for (const one of all('details')) one.open = true;
    await wait(300);
    const isInside = (one) => one.closest('.wide') !== null || one.tagName === 'CANVAS';
    const broad = all('body *').filter((one) => !isInside(one) && one.getBoundingClientRect().right > 401);
    say(`broad ${broad.length} ${broad.slice(0, 3).map((one) => one.tagName + ' ' + one.className + ' ' + one.textContent.slice(0, 20)).join(', ')}`);
  )",
                                  500);
  expect_parts(said, {"broad 0"});
}

TEST(Page, CanBePrinted) {
  const TempFolder folder;
  const std::string pdf = (folder / "page.pdf").string();
  const Outcome printed =
      run_program({"chromium", "--headless", "--no-sandbox", "--disable-gpu", "--no-first-run",
                   "--user-data-dir=" + (folder / "profile").string(), "--virtual-time-budget=6000",
                   "--print-to-pdf=" + pdf, "file://" + kPage.string()});
  ASSERT_EQ(printed.status, 0) << printed.err.substr(0, 500);
  const std::string bytes = read_file(pdf);
  EXPECT_TRUE(bytes.starts_with("%PDF"));
  int pages = 0;
  for (auto at = bytes.find("/Type /Page\n"); at != std::string::npos;
       at = bytes.find("/Type /Page\n", at + 1))
    ++pages;
  EXPECT_GE(pages, 5);
  EXPECT_LE(pages, 60);  // no picture of the viewer or control takes a page of its own
}

TEST(Page, SaysOnTheConsoleWhatIsWrong) {
  // The checks above can fail: a page with a broken script is told apart.
  const TempFolder folder;
  write_file(folder / "page.html", "<html><body><script>nothing.here()</script></body></html>");
  EXPECT_NE(browse(folder / "page.html").err.find("CONSOLE"), std::string::npos);
}

}  // namespace mnemon::test
