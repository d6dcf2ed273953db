# SPDX-License-Identifier: MIT
"""The desk's program and its page, driven by mouse and keys."""
import os
import pathlib
import re
import subprocess
import time

from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

PROGRAM = os.environ["MNEMON_PROGRAM"]
KITES = pathlib.Path(os.environ["MNEMON_DEMO"]) / "kites"
WIDTH, HEIGHT = 640, 360  # of the demo's frames


def open_browser(width=1280, height=940):
    options = webdriver.ChromeOptions()
    for switch in ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--hide-scrollbars"):
        options.add_argument(switch)
    options.add_argument(f"--window-size={width},{height}")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    browser = webdriver.Chrome(service=Service("/usr/bin/chromedriver"), options=options)
    browser.set_script_timeout(120)  # a machine that does much besides is slow, and not wrong
    return browser


class Desk:
    """The program and its page."""

    def __init__(self, browser, folder, sequence, *options):
        self.browser, self.folder = browser, folder
        self.program = subprocess.Popen([PROGRAM, "desk", str(sequence), "--to", "kept", *options], cwd=folder,
                                        stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
        self.address = re.search(r"http\S+", self.program.stdout.readline()).group(0)
        browser.get("about:blank")  # a page of before misses its program, and says so
        browser.get_log("browser")
        self.open()

    def open(self):
        self.browser.get(self.address)
        self.wait("document.body.dataset.ready == 'yes'")
        self.browser.execute_script("import('/page/state.js').then((state) => { window.state = state; })")
        self.wait("window.state !== undefined")
        self.wait("document.querySelector('#tracker')")

    def end(self):
        self.program.terminate()
        assert self.program.wait(30) == 0
        assert self.program.stderr.read() == ""

    def script(self, text):
        return self.browser.execute_script("return " + text)

    def wait(self, condition, seconds=60):
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            found = self.script(condition)
            if found:
                return found
            time.sleep(0.03)
        raise AssertionError(f"never: {condition}; the page says: {self.message()}")

    def message(self):
        return self.text("#message")

    def press(self, *keys):
        ActionChains(self.browser).send_keys(*keys).perform()

    def on_element(self, selector, act):
        """Does something to an element; again where a part of the page was made anew between finding it and that."""
        for _ in range(20):
            try:
                return act(self.browser.find_element(By.CSS_SELECTOR, selector))
            except StaleElementReferenceException:
                time.sleep(0.05)
        raise AssertionError(f"{selector} is made anew all the time")

    def click(self, selector):
        self.on_element(selector, lambda element: element.click())

    def type(self, selector, *keys):
        """Into a field, in place of what it holds."""
        self.on_element(selector, lambda element: element.send_keys(Keys.CONTROL + "a", Keys.NULL, *keys))

    def choose(self, selector, shown):
        """Of a list. Its name typed by keys would begin anew where the machine pauses between two of them."""
        self.on_element(selector, lambda element: Select(element).select_by_visible_text(shown))

    def text(self, selector):
        return self.on_element(selector, lambda element: element.text)

    def canvas(self):
        return self.browser.find_element(By.CSS_SELECTOR, "#screen canvas")

    def place(self, x, y):
        size = self.canvas().size
        scale = min(size["width"] / WIDTH, size["height"] / HEIGHT)
        return round((x - WIDTH / 2) * scale), round((y - HEIGHT / 2) * scale)

    def drag(self, x, y, w, h):
        mouse = ActionChains(self.browser, duration=40)
        mouse.move_to_element_with_offset(self.canvas(), *self.place(x, y)).click_and_hold()
        mouse.move_to_element_with_offset(self.canvas(), *self.place(x + w / 2, y + h / 2))
        mouse.move_to_element_with_offset(self.canvas(), *self.place(x + w, y + h)).release().perform()
        self.wait("state.now.draft !== null")

    def mark(self, box):
        before = self.script("state.now.desk.lanes[0].generation")
        self.drag(*box)
        self.press(Keys.ENTER)
        self.wait(f"state.now.draft === null && state.now.desk.lanes[0].generation > {before}")

    def go(self, frame):
        self.browser.execute_script(f"state.go({frame})")
        self.wait(f"document.querySelector('#screen canvas').dataset.frame == '{frame}'")

    def rows(self, count, lane=0):
        self.wait(f"(state.now.rows[{lane}]?.size ?? 0) >= {count}", 120)
        return self.script(f"[...state.now.rows[{lane}].values()].sort((a, b) => a.frame - b.frame)")

    def no_errors(self):
        wrong = [entry for entry in self.browser.get_log("browser") if "status of 400" not in entry["message"]
                 and "status of 409" not in entry["message"] and "status of 422" not in entry["message"]]
        assert wrong == []
