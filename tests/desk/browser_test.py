# SPDX-License-Identifier: MIT
"""The desk in a browser, by mouse and keys."""
import csv
import re
import shlex
import shutil
import subprocess
import time

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from driver import KITES, PROGRAM, Desk, open_browser


@pytest.fixture(scope="module")
def browser():
    driver = open_browser()
    yield driver
    driver.quit()


@pytest.fixture
def desk(browser, tmp_path):
    made = Desk(browser, tmp_path, KITES / "crossing", "--tracker", "blob-colour")
    yield made
    made.no_errors()
    made.end()


def truth(name="crossing"):
    with open(KITES / name / "truth.csv", encoding="utf-8") as file:
        return {int(row["frame"]): row for row in csv.DictReader(file)}


def true_box(frame, name="crossing"):
    row = truth(name)[frame]
    return tuple(float(row[key]) for key in ("x", "y", "w", "h"))


def trace_of(file):
    with open(file, encoding="utf-8") as lines:
        return [{key: row[key] for key in row if key != "step_ms"} for row in csv.DictReader(lines)]


def test_marks_runs_tunes_corrects_and_keeps(desk):
    """Tune a tracker by colours, correct it once, and get the same trace from the call that is shown."""
    desk.mark(true_box(0))
    assert desk.script("state.now.desk.marks.length") == 1
    desk.press("r")
    rows = desk.rows(220)
    assert rows[100]["overlap"] > 0.3
    # A parameter by its number field, and the flip to what was before.
    desk.type("#field-smooth", "0.2", Keys.TAB)
    desk.wait("state.now.desk.lanes[0].set.smooth === 0.2")
    tuned = desk.rows(220)
    assert [row["w"] for row in tuned] != [row["w"] for row in rows]
    assert desk.script("state.now.before[0].get(100).w") == rows[100]["w"]
    desk.click("#screen canvas")
    desk.press(Keys.ESCAPE, "f")
    assert desk.script("state.now.flip")
    desk.press("f")
    # Another one by its slider, and undone.
    desk.browser.execute_script("document.getElementById('field-gate-slider').focus()")
    desk.press(Keys.ARROW_RIGHT)
    desk.wait("'gate' in state.now.desk.lanes[0].set")
    desk.browser.execute_script("document.activeElement.blur()")
    desk.press("u")
    desk.wait("!('gate' in state.now.desk.lanes[0].set)")
    # A correction on a later frame; what was before stays.
    desk.go(150)
    desk.mark(true_box(150))
    corrected = desk.rows(220)
    assert corrected[150]["mark"] == 1 and corrected[149]["w"] == tuned[149]["w"]
    desk.press("4")
    desk.click("[data-keep=trace]")
    desk.wait("state.now.desk.kept.length == 2")
    command = desk.text("#same")
    assert "--set smooth=0.2" in command and " --box 150:" in command
    kept = trace_of(desk.folder / "kept/blob-colour-1.csv")
    assert len(kept) == 220
    words = shlex.split(command)
    assert words[0] == "mnemon"
    subprocess.run([PROGRAM, *words[1:-1], "again.csv"], cwd=desk.folder, check=True, capture_output=True)
    assert trace_of(desk.folder / "again.csv") == kept
    for what in ("settings", "marks", "plan", "overlay"):
        desk.click(f"[data-keep={what}]")
    desk.wait("state.now.desk.kept.length == 6")
    settings = [PROGRAM, "follow", str(KITES / "crossing"), "--settings", "kept/blob-colour-1.toml", "--to", "5"]
    subprocess.run(settings, cwd=desk.folder, check=True, capture_output=True)


def test_shows_how_far_the_trackers_have_come(desk):
    """A bar while all is worked out again from the mark to the frame that is shown; none for a step."""
    desk.browser.execute_script("""
      window.shares = [];
      const part = document.getElementById('progress');
      new MutationObserver(() => {
        const bar = part.querySelector('progress');
        if (!bar.hidden && part.textContent.startsWith('following')) window.shares.push(bar.value);
      }).observe(part, { subtree: true, childList: true, characterData: true, attributes: true });""")
    desk.mark(true_box(0))
    desk.press(Keys.ARROW_RIGHT)
    desk.rows(2)
    assert desk.script("window.shares") == []
    desk.go(150)
    desk.wait("state.now.at === 150")
    assert desk.script("window.shares") == [], "nobody asked the trackers to follow"
    desk.browser.execute_script("state.tell({ do: 'go', at: 150, to: 150 })")
    desk.rows(151)
    desk.choose("#tracker", "mask-memory")
    desk.wait("state.now.desk.lanes[0].tracker === 'mask-memory'")
    desk.rows(151)
    desk.wait("!document.querySelector('#progress').textContent.startsWith('following')")
    shares = desk.script("window.shares")
    assert len(set(shares)) > 5 and shares[-1] > 0.8 and all(0 <= share <= 1 for share in shares)
    # Each way is gone once, and not back: as many falls as there were ways.
    assert sum(after < before for before, after in zip(shares, shares[1:])) <= 1


def test_looks_inside(desk):
    """Stages before anything runs, after a step, over the frame, and the value under the pointer."""
    desk.press("2")
    desk.drag(*true_box(0))
    desk.wait("document.querySelectorAll('.stage canvas').length == 3")
    assert "would learn" in desk.text("#panel")
    desk.press(Keys.ENTER)
    desk.wait("state.now.desk.marks.length == 1")
    for _ in range(3):
        desk.press(Keys.ARROW_RIGHT)
    desk.rows(4)
    desk.wait("document.querySelector('#panel').innerText.includes('saw inside on frame 3')")
    desk.press("s")
    desk.wait("state.now.stage == 'weights'")
    x, y, w, h = true_box(3)
    mouse = ActionChains(desk.browser, duration=40)
    mouse.move_to_element_with_offset(desk.canvas(), *desk.place(x + w / 2, y + h / 3)).perform()
    caption = desk.wait("[...document.querySelectorAll('.stage figcaption')].map((one) => one.textContent).find((text) => text.includes(' at '))")
    assert float(re.search(r"; ([\d.]+) at", caption).group(1)) > 0.5  # the target's colours weigh


def test_goes_by_keys_alone(desk):
    """A box by its numbers, moved and turned, marked, followed, stopped, unmarked."""
    desk.type("#tools input[type=text]", "10, 20, 50, 60", Keys.TAB)
    desk.wait("state.now.draft?.box[0] == 10")
    desk.browser.execute_script("document.activeElement.blur()")
    desk.press(Keys.ARROW_RIGHT)
    ActionChains(desk.browser).key_down(Keys.SHIFT).send_keys(Keys.ARROW_DOWN).key_up(Keys.SHIFT).perform()
    assert desk.script("state.now.draft.box") == [11, 30, 50, 60]
    desk.press("]")
    assert desk.script("state.now.draft.angle") == 1
    desk.press(Keys.ENTER)
    desk.wait("state.now.desk.marks.length == 1")
    assert desk.script("state.now.desk.marks[0].region") == {"oriented": [11, 30, 50, 60, 1]}
    desk.press(" ")
    desk.wait("state.now.at > 3")
    desk.press(" ")
    desk.wait("state.now.going === ''")
    desk.press(Keys.HOME)
    desk.press(Keys.DELETE)
    desk.wait("state.now.desk.marks.length == 0")
    desk.press("?")
    assert desk.script("document.querySelector('dialog').open")
    desk.press(Keys.ESCAPE)
    desk.press("o")
    for x, y in ((280, 90), (330, 90), (305, 150)):
        mouse = ActionChains(desk.browser, duration=20)
        mouse.move_to_element_with_offset(desk.canvas(), *desk.place(x, y)).click().perform()
    desk.press(Keys.ENTER)
    desk.wait("state.now.desk.marks.length == 1")
    assert len(desk.script("state.now.desk.marks[0].region.polygon")) == 3
    desk.press("i")
    x, y, w, h = true_box(0)
    mouse = ActionChains(desk.browser, duration=20)
    mouse.move_to_element_with_offset(desk.canvas(), *desk.place(x + w / 2, y + h / 3)).click().perform()
    desk.press(Keys.ENTER)
    desk.wait("'points' in state.now.desk.marks[0].region")


def test_takes_a_mask_from_a_picture(browser, tmp_path):
    desk = Desk(browser, tmp_path, KITES / "crossing", "--tracker", "mask-plain")
    (tmp_path / "words.png").write_text("no picture")
    desk.on_element("#mask-file", lambda field: field.send_keys(str(tmp_path / "words.png")))
    desk.wait("document.getElementById('message').textContent.includes('words.png is no picture')")
    masks = sorted((KITES / "crossing/masks").iterdir())
    desk.on_element("#mask-file", lambda field: field.send_keys(str(masks[0])))
    desk.wait("state.now.draft?.kind === 'mask' && state.now.preview !== null")
    desk.press(Keys.ENTER)
    desk.wait("state.now.desk.marks.length == 1")
    assert desk.script("state.now.desk.marks[0].region.mask") == "kept/mask-1-0.png"
    desk.press("r")
    assert desk.rows(220)[10]["overlap"] > 0.7
    command = desk.script("state.now.desk.lanes[0].command")
    assert "--mask 0:kept/mask-1-0.png" in command
    desk.press("4")
    desk.click("[data-keep=trace]")
    desk.wait("state.now.desk.kept.length == 3")
    words = shlex.split(desk.text("#same"))
    subprocess.run([PROGRAM, *words[1:-1], "again.csv"], cwd=desk.folder, check=True, capture_output=True)
    assert trace_of(desk.folder / "again.csv") == trace_of(desk.folder / "kept/mask-plain-1.csv")
    desk.no_errors()
    desk.end()


def test_takes_nothing_out_of_somebodys_hands(desk):
    """A field that is being typed in and a button that is held live through news, and act once left or let go."""
    desk.mark(true_box(0))
    desk.type("#field-smooth", "0.3")
    desk.browser.execute_script("state.set({ lane: 0, values: { gate: 1.5 } })")
    desk.wait("state.now.desk.lanes[0].set.gate === 1.5")
    assert desk.script("document.activeElement.id") == "field-smooth"
    assert desk.script("document.activeElement.value") == "0.3"
    desk.press(Keys.TAB)
    desk.wait("state.now.desk.lanes[0].set.smooth === 0.3")
    desk.wait("document.getElementById('field-gate').value === '1.5'")
    mouse = ActionChains(desk.browser, duration=20)
    desk.on_element("#add-lane", lambda button: mouse.click_and_hold(button).perform())
    desk.browser.execute_script("state.set({ lane: 0, values: { gate: 1.25 } })")
    desk.wait("state.now.desk.lanes[0].set.gate === 1.25")
    assert desk.script("document.getElementById('field-gate').value") == "1.5"
    mouse = ActionChains(desk.browser, duration=20)
    mouse.release().perform()
    desk.wait("state.now.desk.lanes.length == 2")
    desk.wait("document.getElementById('field-gate').value === '1.25'")


def test_takes_a_colour_and_a_second_tracker(desk):
    desk.mark(true_box(0))
    desk.press("c")
    x, y, w, h = true_box(0)
    mouse = ActionChains(desk.browser, duration=20)
    mouse.move_to_element_with_offset(desk.canvas(), *desk.place(x + w * 0.7, y + h * 0.6)).click().perform()
    desk.wait("state.now.desk.lanes[0].set.colour === 'given'")
    red, green, blue = (desk.script(f"state.now.desk.lanes[0].values.{name}") for name in ("red", "green", "blue"))
    assert green > red and green > blue  # that part of the kite
    desk.click("#add-lane")
    desk.wait("state.now.desk.lanes.length == 2")
    desk.click("#stop-lost")
    desk.press("r")
    assert len(desk.rows(220, 1)) == 220
    desk.go(20)
    desk.click("#vary")
    desk.wait("document.querySelectorAll('#varied tbody tr').length > 4", 180)


def test_labels(desk):
    """Few marks, labels for every frame that are better than straight ones between the same marks."""
    frames = (0, 45, 90, 135, 180, 219)
    for frame in frames:
        desk.go(frame)
        desk.mark(true_box(frame))
    desk.press("1")
    desk.choose("#tracker", "corr-reliable")
    desk.wait("state.now.desk.lanes[0].tracker === 'corr-reliable'")
    desk.browser.execute_script("document.activeElement.blur()")
    desk.press("3")
    desk.click("#label")
    desk.wait("state.now.desk.labelled.length == 220 && state.now.desk.job === null", 180)
    if desk.script("state.now.desk.review.length"):
        left = desk.script("state.now.desk.review.length")
        desk.press("n")
        desk.press("y")
        desk.wait(f"state.now.desk.review.length == {left - 1}")
    desk.click("#keep-labels")
    desk.wait("state.now.desk.kept.includes('labels')")
    with open(desk.folder / "kept/labels/truth.csv", encoding="utf-8") as file:
        labels = {int(row["frame"]): tuple(float(row[key]) for key in "xywh") for row in csv.DictReader(file)}
    right = truth()

    def overlap(a, b):
        w = min(a[0] + a[2], b[0] + b[2]) - max(a[0], b[0])
        h = min(a[1] + a[3], b[1] + b[3]) - max(a[1], b[1])
        shared = max(0, w) * max(0, h)
        return shared / (a[2] * a[3] + b[2] * b[3] - shared)

    def straight(frame):
        before = max(one for one in frames if one <= frame)
        after = min(one for one in frames if one >= frame)
        share = 0 if after == before else (frame - before) / (after - before)
        return tuple(p + share * (q - p) for p, q in zip(true_box(before), true_box(after)))

    between = [frame for frame in range(220) if frame not in frames and right[frame]["present"] == "1"]
    by_label = sum(overlap(labels[frame], true_box(frame)) for frame in between) / len(between)
    by_line = sum(overlap(straight(frame), true_box(frame)) for frame in between) / len(between)
    assert by_label > by_line + 0.05


def test_keeps_areas_out(desk):
    desk.mark(true_box(0))
    desk.drag(20, 20, 90, 50)
    desk.press("k")
    desk.wait("state.now.desk.keep_out.length === 1")
    desk.wait("state.now.draft === null")
    left, top = desk.script("state.now.desk.keep_out[0][0]")
    assert abs(left - 20) < 2 and abs(top - 20) < 2
    desk.press("r")
    desk.rows(220)
    words = shlex.split(desk.script("state.now.desk.lanes[0].command"))
    assert words[words.index("--keep-out") + 1].startswith(f"{left:g},{top:g},")
    # An area over the very target is refused where the target is to be marked in it.
    desk.drag(*true_box(0))
    desk.press("k")
    desk.wait("state.now.desk.keep_out.length === 2")
    desk.wait("state.now.desk.lanes[0].failure.includes('area to keep out')")
    desk.press("k")
    desk.wait("state.now.desk.keep_out.length === 0")
    desk.rows(220)
    desk.press("k")
    desk.wait("document.getElementById('message').textContent.includes('never the target')")


def test_says_what_is_wrong_and_lives_on(desk):
    desk.type("#tools input[type=text]", "one, two", Keys.TAB)
    desk.wait("document.getElementById('message').textContent.includes('x, y, w, h')")
    desk.type("#tools input[type=text]", "5000, 20, 50, 60", Keys.TAB)
    desk.wait("document.getElementById('message').textContent.includes('outside the picture')")
    desk.browser.execute_script("document.activeElement.blur()")
    desk.press(Keys.ESCAPE, "u")
    desk.wait("document.getElementById('message').textContent.includes('nothing to undo')")
    desk.press("4")
    desk.click("[data-keep=labels]")
    desk.wait("document.getElementById('message').textContent.includes('no labels yet')")
    desk.mark(true_box(0))
    assert desk.message() == ""


def test_belongs_to_one_tab(desk):
    first = desk.browser.current_window_handle
    desk.browser.switch_to.new_window("tab")
    desk.browser.get(desk.address)
    desk.wait("document.querySelector('.cover')?.textContent.includes('Another tab has this desk')")
    desk.click(".cover button")
    desk.wait("document.body.dataset.ready == 'yes'")
    desk.browser.switch_to.window(first)
    desk.wait("document.querySelector('.cover')?.textContent.includes('has taken')")
    desk.click(".cover button")
    desk.wait("document.querySelector('.cover') === null")
    desk.browser.switch_to.window([one for one in desk.browser.window_handles if one != first][0])
    desk.browser.close()
    desk.browser.switch_to.window(first)
    desk.browser.refresh()  # a page that is loaded anew is the same tab
    desk.wait("document.body.dataset.ready == 'yes'")


def test_holds_a_live_picture(browser, tmp_path):
    # So few frames a second that they do not run out, however slow the browser is.
    slow = tmp_path / "slow"
    slow.mkdir()
    (slow / "sequence.toml").write_text(f'format = "mnemon-sequence/1"\nframes = "{KITES / "steady" / "frames"}/%06d.jpg"\nrate_hz = 4\n',
                                        encoding="utf-8")
    desk = Desk(browser, tmp_path, f"camera:sim:{slow}", "--tracker", "corr-kernel")
    desk.wait("state.now.at > 2")  # it is shown as it comes
    desk.drag(*true_box(desk.script("state.now.at"), "steady"))
    held = desk.script("state.now.at")
    time.sleep(0.8)
    assert desk.script("state.now.at") == held
    desk.press(Keys.ENTER)
    desk.wait("state.now.desk.marks.length == 1")
    desk.press("r")
    # Frames that came meanwhile are caught up with, and those that come still are followed.
    desk.wait(f"state.now.desk.input.frames > {held} + 1 && state.now.rows[0].size >= state.now.desk.input.frames - {held} - 1")
    desk.no_errors()
    desk.end()


# Text that can be told from its ground, and nothing cut off, from 1000 px on.
CONTRAST = """(() => {
  const parts = (text) => text.match(/[\\d.]+/g).map(Number);
  const light = (rgb) => rgb.slice(0, 3).map((one) => one / 255).map((one) => (one <= 0.04 ? one / 12.92 : ((one + 0.055) / 1.055) ** 2.4)).reduce((sum, one, i) => sum + one * [0.2126, 0.7152, 0.0722][i], 0);
  const ground = (node) => { for (let one = node; one; one = one.parentElement) { const colour = parts(getComputedStyle(one).backgroundColor); if (colour.length < 4 || colour[3] === 1) return colour; } return [255, 255, 255]; };
  const wrong = [];
  for (const node of document.querySelectorAll('button, p, label, b, th, td, h1, h2, code, figcaption, span')) {
    if (!node.innerText?.trim() || !node.getClientRects().length) continue;
    const [a, b] = [light(parts(getComputedStyle(node).color)), light(ground(node))].sort((x, y) => y - x);
    if ((a + 0.05) / (b + 0.05) < 4.5) wrong.push(`${node.tagName} ${node.innerText.slice(0, 30)}`);
  }
  return wrong;
})()"""


def test_asks_again_for_a_picture_that_did_not_come(browser, tmp_path):
    pictures = tmp_path / "pictures"
    pictures.mkdir()
    for frame in range(5):
        shutil.copy(KITES / f"crossing/frames/{frame:06}.jpg", pictures)
    whole = (pictures / "000003.jpg").read_bytes()
    (pictures / "000003.jpg").write_bytes(whole[:200])
    desk = Desk(browser, tmp_path, pictures)
    desk.go(1)
    desk.browser.execute_script("state.go(3)")
    desk.wait("document.getElementById('screen').textContent.includes('000003.jpg') || "
              "document.body.textContent.includes('000003.jpg')")
    (pictures / "000003.jpg").write_bytes(whole)
    time.sleep(1.2)  # the page asks again after a second, when it is looked at again
    desk.go(2)
    desk.go(3)
    desk.end()


def test_can_be_read_and_fits(desk):
    for wide in (1280, 1000):
        desk.browser.set_window_size(wide, 940)
        for panel in "1234":
            desk.press(panel)
            assert desk.script(CONTRAST) == []
            assert desk.script("document.documentElement.scrollWidth") <= wide
    desk.browser.set_window_size(1280, 940)


def test_lives_on_where_the_program_has_ended(browser, tmp_path):
    desk = Desk(browser, tmp_path, KITES / "crossing", "--tracker", "blob-colour")
    desk.go(3)
    desk.program.kill()
    desk.program.wait(30)
    desk.wait("document.querySelector('.cover') !== null")
    # A picture that cannot come is waited for once.
    desk.browser.execute_script("state.go(40)")
    time.sleep(0.5)
    began = time.monotonic()
    assert desk.script("state.now.at") == 40
    assert time.monotonic() - began < 5
