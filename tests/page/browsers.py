"""Browsers of this machine that open pages; tests that ask them are passed over where there are none."""

import json
import shutil
import socket
import subprocess
import time
from contextlib import contextmanager
from pathlib import Path

CHROMIUM, DRIVER, FIREFOX = (shutil.which(name) for name in ("chromium", "chromedriver", "firefox-esr"))
_FLAGS = (
    "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--hide-scrollbars",
)  # fmt: skip


@contextmanager
def chromium(folder, width=1280, height=900):
    """A Chromium without a window, which saves to a folder."""
    from selenium import webdriver
    from selenium.webdriver.chrome.service import Service

    options = webdriver.ChromeOptions()
    options.binary_location = CHROMIUM
    for flag in (*_FLAGS, f"--window-size={width},{height}"):
        options.add_argument(flag)
    options.add_experimental_option("prefs", {"download.default_directory": str(folder)})
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service(DRIVER))
    try:
        yield driver
    finally:
        driver.quit()


def opened(driver, path, state=""):
    """Opens a page, and waits until it can be read by hand."""
    driver.get("about:blank")
    driver.get(f"{Path(path).as_uri()}{state}")
    end = time.monotonic() + 10
    while time.monotonic() < end:
        if driver.execute_script("return document.getElementById('stage').dataset.ready === 'yes'"):
            return
        time.sleep(0.02)
    raise AssertionError(f"the page does not wake: {driver.get_log('browser')}")


def written(figure, folder, name="page", **options):
    path = folder / f"{name}.html"
    figure.export(path, **{"width": "150 mm", **options})
    return path


def moved(driver, x, y, *, drag=None, click=False, shift=False):
    from selenium.webdriver.common.action_chains import ActionChains
    from selenium.webdriver.common.keys import Keys

    chain = ActionChains(driver, duration=20)
    if shift:
        chain.key_down(Keys.SHIFT)
    chain.w3c_actions.pointer_action.move_to_location(round(x), round(y))
    if click:
        chain.click()
    if drag:
        chain.click_and_hold()
        chain.w3c_actions.pointer_action.move_to_location(round(drag[0]), round(drag[1]))
        chain.release()
    if shift:
        chain.key_up(Keys.SHIFT)
    chain.perform()


def status(driver):
    return driver.execute_script("return document.getElementById('status').textContent")


def errors(driver):
    return [one["message"] for one in driver.get_log("browser") if one["level"] == "SEVERE"]


class Firefox:
    """A Firefox without a window, asked by the protocol that all browsers know (W3C, WebDriver BiDi)."""

    def __init__(self, profile):
        import websocket

        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        command = [
            FIREFOX,
            "--headless",
            "--no-remote",
            "--profile",
            str(profile),
            "--remote-debugging-port",
            str(port),
            "about:blank",
        ]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        end = time.monotonic() + 40
        while True:
            try:
                self.socket = websocket.create_connection(f"ws://127.0.0.1:{port}/session", timeout=30, suppress_origin=True)
                break
            except (OSError, websocket.WebSocketException):
                if time.monotonic() > end:
                    raise
                time.sleep(0.2)
        self.count = 0
        self.ask("session.new", capabilities={})
        self.context = self.ask("browsingContext.getTree")["contexts"][0]["context"]

    def ask(self, method, **params):
        """The answer to a command."""
        self.count += 1
        self.socket.send(json.dumps({"id": self.count, "method": method, "params": params}))
        while True:
            answer = json.loads(self.socket.recv())
            if answer.get("id") == self.count:
                if answer["type"] == "error":
                    raise AssertionError(answer)
                return answer["result"]

    def get(self, path, state=""):
        """Opens a page, and waits until it can be read by hand."""
        self.ask("browsingContext.navigate", context=self.context, url="about:blank", wait="complete")
        self.ask("browsingContext.navigate", context=self.context, url=f"{Path(path).as_uri()}{state}", wait="complete")
        end = time.monotonic() + 10
        while self.run("document.getElementById('stage').dataset.ready") != "yes":
            assert time.monotonic() < end, "the page does not wake"
            time.sleep(0.02)

    def run(self, expression):
        """The value of an expression."""
        asked = {"expression": expression, "target": {"context": self.context}, "awaitPromise": True}
        return self.ask("script.evaluate", **asked)["result"].get("value")

    def press(self, *keys):
        """Presses keys, one after the other."""
        actions = [{"type": sort, "value": key} for key in keys for sort in ("keyDown", "keyUp")]
        self.ask("input.performActions", context=self.context, actions=[{"type": "key", "id": "keys", "actions": actions}])

    def drag(self, *places):
        """Moves the pointer to the first place, and with its button held on to the others."""
        moves = [{"type": "pointerMove", "x": round(x), "y": round(y)} for x, y in places]
        held = (
            [moves[0], {"type": "pointerDown", "button": 0}, *moves[1:], {"type": "pointerUp", "button": 0}]
            if len(moves) > 1
            else moves
        )
        self.ask("input.performActions", context=self.context, actions=[{"type": "pointer", "id": "mouse", "actions": held}])

    def end(self):
        """Ends it."""
        self.socket.close()
        self.process.kill()
        self.process.wait()
