"""The real server and a real browser: headless Chromium from Debian."""

from __future__ import annotations

import http.client
import json
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from threading import Thread
from typing import Any

import pytest
from selenium import webdriver
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    NoSuchElementException,
    StaleElementReferenceException,
    TimeoutException,
    WebDriverException,
)
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from lucid_ridge.runtime.web import listening_port, start_server, stop_server
from lucid_ridge.standins.camera import make_server as make_camera
from lucid_ridge.standins.forecast import make_server

FLAGS = [
    "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1",
]  # fmt: skip
WAIT_S = 60


class Browser:
    """A page driven as a person would: by what is written on it, and by keys."""

    def __init__(self, driver: webdriver.Chrome, base: str) -> None:
        self.driver = driver
        self.base = base

    def size(self, width: int, height: int, phone: bool = False) -> None:
        self.driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": phone},
        )

    def open(self, path: str) -> None:
        self.driver.get(self.base + path)

    def until(self, true: Callable[[], Any], what: str = "", wait_s: float = WAIT_S) -> Any:
        try:
            return WebDriverWait(self.driver, wait_s, poll_frequency=0.05).until(lambda _: self._quietly(true))
        except TimeoutException:
            raise AssertionError(f"{what or 'not so'} within {wait_s:g} s; on the page: {self.text()[:1500]}") from None

    @staticmethod
    def _quietly(true: Callable[[], Any]) -> Any:
        try:
            return true()
        except (IndexError, NoSuchElementException, StaleElementReferenceException, ElementClickInterceptedException):
            # Not there yet, drawn anew, or moved away under the hand while the page was laid out: try again.
            return False

    def find(self, selector: str) -> WebElement:
        return self.until(lambda: self.driver.find_element(By.CSS_SELECTOR, selector), f"no {selector}")

    def all(self, selector: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, selector)

    def test_id(self, name: str) -> WebElement:
        return self.find(f"[data-testid='{name}']")

    def by_xpath(self, path: str) -> WebElement:
        return self.until(lambda: self.driver.find_element(By.XPATH, path), f"no {path}")

    def button(self, words: str) -> WebElement:
        """A button by its words or its label."""
        return self.by_xpath(f"//button[normalize-space()={json.dumps(words)} or @aria-label={json.dumps(words)}]")

    def click(self, words: str) -> None:
        def press() -> bool:
            # Found anew each time: what is saved may be drawn anew between finding and pressing.
            button = self.button(words)
            if not button.is_enabled():
                return False
            self.driver.execute_script(
                "arguments[0].scrollIntoView({block: 'center'}); window.pressed = false;"
                "arguments[0].addEventListener('click', () => (window.pressed = true), {once: true, capture: true})",
                button,
            )
            try:
                button.click()
            except StaleElementReferenceException:
                # A button may be gone by the time the press is told of: pressing the next one would be a second press.
                return bool(self.driver.execute_script("return window.pressed"))
            return True

        self.until(press, f"{words!r} cannot be pressed")

    def hold(self, words: str) -> None:
        """Hold a button that acts only when it is held."""
        ActionChains(self.driver).click_and_hold(self.button(words)).pause(1.1).release().perform()

    def undo(self) -> None:
        """Press Undo in a notice, once it has come to rest."""
        button = self.by_xpath("//*[@data-scope='toast']//button[.='Undo']")
        places: list[dict[str, float]] = []

        def at_rest() -> bool:
            places.append(button.rect)
            return len(places) > 4 and all(place == places[-1] for place in places[-4:])

        self.until(at_rest, "the notice does not come to rest")
        button.click()

    def keys(self, *keys: str) -> None:
        """Keys with nothing focused."""
        self.driver.execute_script("document.activeElement && document.activeElement.blur()")
        for key in keys:
            ActionChains(self.driver).send_keys(key).perform()

    def chord(self, modifier: str, key: str) -> None:
        self.driver.execute_script("document.activeElement && document.activeElement.blur()")
        ActionChains(self.driver).key_down(modifier).send_keys(key).key_up(modifier).perform()

    def fill(self, label: str, value: str) -> None:
        """Type into the field with this label, and leave it."""
        path = f"//label[normalize-space()={json.dumps(label)}]/following::*[self::input or self::textarea][1]"
        field = self._unfolded(path)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", field)
        field.click()
        ActionChains(self.driver).key_down("\ue009").send_keys("a").key_up("\ue009").send_keys(value).perform()
        self.driver.execute_script("arguments[0].blur()", field)

    def _unfolded(self, path: str) -> WebElement:
        """A field, what it is folded away in opened; a page may just be on its way in."""

        def shown() -> WebElement | None:
            field = self.driver.find_element(By.XPATH, path)
            for summary in field.find_elements(By.XPATH, "./ancestor::details[not(@open)][1]/summary"):
                summary.click()
            return field if field.is_displayed() else None

        field: WebElement = self.until(shown, f"no field shows at {path}")
        return field

    def more(self, of: str, act: str) -> None:
        """Choose one of the rare acts behind three dots."""
        self.click(f"More for {of}")
        item = self.by_xpath(f"//*[@role='menuitem'][normalize-space()={json.dumps(act)}]")
        self.until(item.is_displayed)
        item.click()

    def choose(self, label: str, option: str) -> None:
        """Choose an option, by its words, in the list with this label."""
        select = self._unfolded(f"//label[normalize-space()={json.dumps(label)}]/following::select[1]")
        select.find_element(By.XPATH, f"./option[normalize-space()={json.dumps(option)}]").click()

    def text(self) -> str:
        return str(self.driver.execute_script("return document.body.innerText"))

    def shows(self, words: str) -> None:
        self.until(lambda: words in self.text(), f"{words!r} not shown")

    def chip(self, setting: str) -> str:
        chip = self.test_id(f"chip-{setting}")
        value = chip.find_elements(By.CSS_SELECTOR, "button[aria-label*='press to type']")
        return (value[0] if value else chip.find_element(By.CSS_SELECTOR, "button")).text.split("\n")[-1]

    def tensions(self) -> set[str]:
        """The kinds of all tensions, those that are folded too."""
        for more in self.all(
            "[data-testid='tensions'] button[aria-expanded='false']:not([disabled]):not([aria-haspopup])"
        ):
            more.click()
        return {
            str(e.get_attribute("data-testid")).removeprefix("tension-") for e in self.all("[data-testid^='tension-']")
        }

    def mend(self, kind: str) -> None:
        """Apply the mend of a tension."""
        self.until(lambda: kind in self.tensions(), f"no tension {kind}")
        self.find(f"[data-testid='tension-{kind}'] button.chakra-button").click()

    def startable(self) -> bool:
        """Whether a frame of a sequence waits to be started."""
        return any(e.is_enabled() for e in self.driver.find_elements(By.XPATH, "//button[normalize-space()='Start']"))

    def saved(self) -> None:
        self.until(lambda: self.test_id("save-status").text.startswith("saved"), "not saved")

    def complaints(self) -> list[str]:
        """Errors the browser logged, failed requests of the server aside."""
        return [
            entry["message"]
            for entry in self.driver.get_log("browser")
            if entry["level"] == "SEVERE" and "Failed to load resource" not in entry["message"]
        ]


@pytest.fixture(scope="session")
def camera() -> Iterator[str]:
    """A simulated camera whose time runs fast; its address."""
    made = make_camera(hurry=20)
    Thread(target=made.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{made.server_address[1]}"
    made.shutdown()
    made.server_close()


@pytest.fixture(scope="session")
def server(databases, camera) -> Iterator[str]:
    """The real server with the demo; its address."""
    with tempfile.TemporaryDirectory() as folder:
        port = listening_port(18430)
        weather = make_server()
        Thread(target=weather.serve_forever, daemon=True).start()
        address = f"http://127.0.0.1:{weather.server_address[1]}"
        database = databases.fresh(demo=True)
        process = start_server(
            database, port, Path(folder) / "log", databases.files, forecast_url=address, camera_url=camera
        )
        yield f"http://127.0.0.1:{port}"
        stop_server(process)
        weather.shutdown()
        weather.server_close()


@pytest.fixture(scope="session")
def empty_server(databases) -> Iterator[str]:
    """The real server with nothing in it."""
    with tempfile.TemporaryDirectory() as folder:
        port = listening_port(18431)
        process = start_server(databases.fresh(demo=False), port, Path(folder) / "log", Path(folder) / "files")
        yield f"http://127.0.0.1:{port}"
        stop_server(process)


@pytest.fixture(scope="session")
def chromium() -> Iterator[webdriver.Chrome]:
    """One browser for all tests: starting it takes longer than many a test."""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for flag in [*FLAGS, f"--user-data-dir={profile}"]:
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        made = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        yield made
        made.quit()


def fresh_page(chromium: webdriver.Chrome, base: str) -> Browser:
    """A page as a new visitor's: nothing kept, connected, at the usual size."""
    offline = {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
    try:
        chromium.get("about:blank")
    except WebDriverException:
        # The page of the test before was just on its way somewhere: now it is there.
        chromium.get("about:blank")
    chromium.execute_cdp_cmd("Network.emulateNetworkConditions", offline)
    chromium.execute_cdp_cmd("Storage.clearDataForOrigin", {"origin": base, "storageTypes": "all"})
    chromium.get_log("browser")
    made = Browser(chromium, base)
    made.size(1280, 800)
    return made


@pytest.fixture
def browser(chromium, server) -> Browser:
    return fresh_page(chromium, server)


@pytest.fixture
def empty_browser(chromium, empty_server) -> Browser:
    return fresh_page(chromium, empty_server)


def api(base: str, method: str, path: str, body: Any = None) -> Any:
    """One request to the server, beside the browser."""
    connection = http.client.HTTPConnection(base.removeprefix("http://"))
    connection.request(method, path, None if body is None else json.dumps(body), {"Content-Type": "application/json"})
    answer = connection.getresponse()
    data = answer.read()
    connection.close()
    assert answer.status < 300, data
    return json.loads(data) if data else None


def composition_id(base: str, name: str) -> str:
    found = api(base, "GET", "/api/compositions")["compositions"]
    return next(c["id"] for c in found if c["name"] == name)


def copy_of(browser: Browser, name: str) -> str:
    """A duplicate of a demo composition, so that tests do not meddle with one another."""
    made = api(browser.base, "POST", f"/api/compositions/{composition_id(browser.base, name)}/duplicate")
    return str(made["id"])
