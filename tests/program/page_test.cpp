// SPDX-License-Identifier: MIT
// The report page in a real browser: no message on its console, no request, every chart drawn.
#include <string>

#include <gtest/gtest.h>

#include <mnemon/base/whole_file.hpp>

#include "support/messages.hpp"
#include "support/program.hpp"
#include "support/temp_folder.hpp"

namespace mnemon::test {
namespace {

const std::filesystem::path kPage = std::filesystem::path(MNEMON_DEMO) / "study/report/index.html";

// Writes into the page how many of its canvases have pixels of more than one colour, and what it asked for.
constexpr const char* kProbe = R"(<script>
addEventListener('load', () => setTimeout(() => {
  const canvases = [...document.querySelectorAll('canvas')];
  const drawn = canvases.filter((canvas) => {
    const data = new Uint32Array(canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data.buffer);
    return new Set(data).size > 20;
  });
  const whole = [...document.images].filter((image) => image.complete && image.naturalWidth > 0);
  document.body.dataset.probe = `drawn ${drawn.length} of ${canvases.length}, pictures ${whole.length} of ` +
    `${document.images.length}, requests ${performance.getEntriesByType('resource').filter((e) => !e.name.startsWith('data:')).length}`;
}, 300));
</script></body>)";

Outcome browse(const std::filesystem::path& page, const std::filesystem::path& profile) {
  return run_program({"chromium", "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic",
                      "--no-first-run", "--disable-background-networking", "--disable-component-update",
                      "--disable-sync", "--enable-logging=stderr", "--user-data-dir=" + profile.string(),
                      "--virtual-time-budget=4000", "--window-size=1280,800", "--dump-dom",
                      "file://" + page.string()});
}

}  // namespace

TEST(Page, DrawsEveryChartWithoutAMessageOrARequest) {
  const TempFolder folder;
  std::string html = read_file(kPage);
  const auto end = html.rfind("</body>");
  ASSERT_NE(end, std::string::npos);
  html.replace(end, 7, kProbe);
  write_file(folder / "page.html", html);
  const Outcome seen = browse(folder / "page.html", folder / "profile");
  ASSERT_EQ(seen.status, 0) << seen.err;
  // Three charts over all, one of survival, one a sequence; eight pictures a sequence, and one more for each stretch without the
  // target: one in cloudbank, one in away, three in festival, and four of the six in beacon, where two fall on a picture that is there.
  expect_parts(seen.out, {"data-probe=\"drawn 20 of 20, pictures 137 of 137, requests 0\""});
  EXPECT_EQ(seen.err.find("CONSOLE"), std::string::npos) << seen.err;
}

TEST(Page, SaysOnTheConsoleWhatIsWrong) {
  // The check above can fail: a page with a broken script is told apart.
  const TempFolder folder;
  write_file(folder / "page.html", "<html><body><script>nothing.here()</script></body></html>");
  EXPECT_NE(browse(folder / "page.html", folder / "profile").err.find("CONSOLE"), std::string::npos);
}

}  // namespace mnemon::test
