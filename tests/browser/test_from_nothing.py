"""From an empty database by each way in to a carried-out sequence, counting what is typed and chosen."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator

import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from lucid_ridge.runtime.web import listening_port, start_server, stop_server
from tests.app.test_from_photograph import FULL, WHERE, photograph

from .conftest import Browser, api, fresh_page

MOST_VALUES = 15


@pytest.fixture
def nothing(chromium, databases, tmp_path) -> Iterator[Browser]:
    """A page of a server with nothing in it, for this test alone."""
    port = listening_port(18440)
    process = start_server(databases.fresh(demo=False), port, tmp_path / "log", tmp_path / "files")
    yield fresh_page(chromium, f"http://127.0.0.1:{port}")
    stop_server(process)


class Newcomer:
    """Somebody who counts the values that they type or choose, and looks at what the workbench shows."""

    def __init__(self, browser: Browser) -> None:
        self.browser, self.values = browser, 0

    def choose_kind(self, name: str) -> None:
        self.values += 1
        self.browser.by_xpath(f"//*[@role='radio'][.//*[text()='{name}']]").click()

    def fill(self, label: str, value: str) -> None:
        self.values += 1
        self.browser.fill(label, value)

    def choose(self, label: str, option: str) -> None:
        self.values += 1
        self.browser.choose(label, option)

    def sane(self) -> None:
        """Nothing absurd: half a minute at most, daylight, nothing out of reach, something in the frame."""
        b = self.browser
        b.until(lambda: b.chip("shutter"))
        shutter = b.chip("shutter")
        seconds = re.fullmatch(r"(?:1/(\d+)|([\d.]+)) s", shutter)
        assert seconds, shutter
        assert (1 / float(seconds[1]) if seconds[1] else float(seconds[2])) <= 30
        altitude = re.search(r"(-?[\d.]+)°", b.test_id("moment").text)
        assert altitude and float(altitude[1]) > 0
        assert not {"reach", "focus_reach", "height"} & b.tensions()

    def carry_out(self) -> None:
        """To the field, and every frame of the sequence."""
        b = self.browser
        b.saved()
        b.keys("6")
        b.driver.execute_script("localStorage.setItem('lucid-ridge/clock-rate', '400')")
        b.click("Take it to the field")
        b.click("Begin")
        for _ in range(60):
            b.until(lambda: "Sequence done" in b.text() or b.startable(), "the next frame does not come up")
            if "Sequence done" in b.text():
                break
            b.click("Start")
        b.click("Write the take")
        b.until(lambda: "/logbook/" in b.driver.current_url)
        assert self.values <= MOST_VALUES
        assert b.complaints() == []


@pytest.mark.parametrize("kind", ["Near rock and far hill", "Running water", "Flower with a smooth background"])
def test_from_a_kind_of_picture(nothing: Browser, kind: str):
    b, somebody = nothing, Newcomer(nothing)
    b.open("/")
    b.shows("Your first picture")
    b.by_xpath("//a[.='Choose one']").click()
    somebody.choose_kind(kind)
    somebody.fill("name of the place", "Ling Moss")
    somebody.fill("position", "54.1, -2.4")
    b.click("Open the workbench")
    somebody.sane()
    assert somebody.values == 3
    somebody.carry_out()
    b.open("/")
    b.shows(kind)
    b.until(lambda: "light" in b.test_id("next-light").text)


def measured_one(b: Browser) -> None:
    """Led through the first measuring: one thing marked by keys and put in, the next skipped, the last left."""
    assert "Something near" in b.test_id("first-measuring").text
    marking = b.test_id("marking")
    b.driver.execute_script("arguments[0].scrollIntoView({block: 'center'}); arguments[0].focus()", marking)
    for keys in ([Keys.ARROW_DOWN] * 60, [Keys.ARROW_UP] * 20):
        ActionChains(b.driver).send_keys(*keys, Keys.ENTER).perform()
    b.until(lambda: "tall" in b.test_id("measured").text)
    b.click("Put it in the view")
    b.until(lambda: "Something whose height you know" in b.test_id("first-measuring").text)
    b.shows("boulder is in the view")
    b.click("Skip this one")
    b.until(lambda: "Something far" in b.test_id("first-measuring").text)
    b.click("Leave it")
    b.until(lambda: not b.all("[data-testid='first-measuring']"))


def test_from_a_photograph_that_tells_everything(nothing: Browser, tmp_path):
    b, somebody = nothing, Newcomer(nothing)
    (tmp_path / "Evening.jpg").write_bytes(photograph(FULL, WHERE))
    b.open("/")
    b.by_xpath("//a[.='Choose a photograph']").click()
    b.find("input[type=file]").send_keys(str(tmp_path / "Evening.jpg"))
    b.shows("Nothing more to say")
    b.shows("23.77 × 15.85 mm (worked out)")
    b.click("Open the workbench")
    somebody.sane()
    assert (b.chip("focal_length"), b.chip("aperture"), b.chip("shutter")) == ("35 mm", "f/8", "1/60 s")
    b.until(lambda: b.all("[data-testid='view'] image"))
    measured_one(b)
    somebody.carry_out()


def test_a_screenshot_is_asked_for_what_it_does_not_tell(nothing: Browser, tmp_path):
    b, somebody = nothing, Newcomer(nothing)
    out = io.BytesIO()
    Image.new("RGB", (1170, 2532), (90, 100, 90)).save(out, "PNG")
    (tmp_path / "screen.png").write_bytes(out.getvalue())
    (tmp_path / "broken.jpg").write_bytes(photograph(FULL)[:2500])
    b.open("/begin/photograph")
    b.find("input[type=file]").send_keys(str(tmp_path / "broken.jpg"))
    b.shows("broken or cut off")
    b.find("input[type=file]").send_keys(str(tmp_path / "screen.png"))
    b.shows("It tells nothing of when, where and how it was taken")
    somebody.fill("position", "nowhere in words")
    b.click("Open the workbench")
    b.shows("This is no position")
    somebody.fill("position", "54.1, -2.4")
    somebody.fill("taken, by the clock there", "2026-06-02 19:40")
    somebody.choose("looking to", "NW")
    somebody.choose("sensor or film", "one inch")
    somebody.fill("focal length, for 35 mm film", "26")
    b.click("Open the workbench")
    somebody.sane()
    somebody.carry_out()


def test_from_a_place_on_the_map_and_an_empty_frame(nothing: Browser):
    b, somebody = nothing, Newcomer(nothing)
    b.open("/")
    b.by_xpath("//a[.='Open the map']").click()
    b.button("Press where it lies")
    somebody.values += 1
    b.click("New place in the middle")
    somebody.fill("name", "Middle of nowhere")
    b.click("Save")
    b.until(lambda: "/begin?place=" in b.driver.current_url)
    somebody.choose_kind("Empty frame")
    b.click("Open the workbench")
    somebody.sane()
    # The empty frame offers its first thing; it is put in by pointing.
    b.click("Put in the first thing")
    b.shows("on level ground")
    somebody.choose("drawn as", "post")
    b.click("Put it in")
    b.until(lambda: b.all("[aria-label='Top of the post; arrow keys move it']"))
    b.saved()
    made = api(b.base, "GET", "/api/compositions")["compositions"][0]
    before = api(b.base, "GET", f"/api/compositions/{made['id']}")["composition"]["elements"][0]
    assert before["silhouette"] == "post"
    # Its top is dragged up by keys.
    top = b.find("[aria-label='Top of the post; arrow keys move it']")
    b.driver.execute_script("arguments[0].focus()", top)
    ActionChains(b.driver).send_keys("\ue013").send_keys("\ue013").perform()
    b.until(
        lambda: (
            api(b.base, "GET", f"/api/compositions/{made['id']}")["composition"]["elements"][0]["height_m"]
            > before["height_m"]
        )
    )
    somebody.carry_out()


def test_beside_the_demo_valley(nothing: Browser):
    b, somebody = nothing, Newcomer(nothing)
    b.open("/")
    b.click("Load the valley")
    b.shows("Boathouse at first light")
    b.by_xpath("//article//a[.//*[text()='Boathouse at first light']]").click()
    somebody.sane()
    somebody.carry_out()
    b.open("/")
    b.click("Take the demo valley away")
    b.shows("Your first picture")


def test_kit_and_place_by_hand(empty_browser: Browser):
    b = empty_browser
    b.open("/places")
    b.shows("No places yet")
    b.click("Add the first place")
    b.fill("name", "Ling Moss")
    b.fill("latitude, north positive", "154.1")
    b.fill("longitude, east positive", "-2.4")
    b.fill("time zone", "Europe/London")
    b.click("Save")
    b.shows("This must be at most 90")
    b.fill("latitude, north positive", "54.1")
    b.click("Save")
    b.shows("Ling Moss")
    b.open("/kit")
    for one in ("Add a body", "Add a lens", "Add a support"):
        b.click(one)
        b.click("Save")
        b.until(lambda: not b.all("[role=dialog]"))
    b.click("Add a filter")
    b.fill("costs (at most, as measured)", "ten")
    b.shows("Give a number.")
    b.fill("costs (at most, as measured)", "10")
    b.click("Save")
    b.shows("ND 10 stops")
    b.more("ND 10 stops", "Duplicate")
    b.shows("ND 10 stops, copy")
    b.more("ND 10 stops, copy", "Delete")
    b.shows("ND 10 stops, copy deleted")
    b.undo()
    b.until(lambda: b.all("[aria-label='Edit ND 10 stops, copy']"))
    # A starter kit adds usual things beside these, marked until they are confirmed.
    b.click("Starter kit")
    b.click("Add to the kit")
    b.click("Values of Polariser are right")
    b.until(lambda: not b.all("[aria-label='Values of Polariser are right']"))
    assert b.complaints() == []


def test_the_tour_is_left_at_any_step_and_never_comes_back_by_itself(nothing: Browser):
    b = nothing
    b.open("/")
    b.shows("Your first picture")
    assert "Leave the tour" not in b.text()
    b.click("Show me around")
    b.shows("Choose a kind of picture")
    b.until(lambda: b.all(".lr-toured"))
    b.click("Next")
    b.by_xpath("//a[.='Choose one']").click()
    b.shows("Say where, and with what")
    b.until(lambda: b.all("[aria-label='Where'].lr-toured"))
    b.fill("name of the place", "Ling Moss")
    b.fill("position", "54.1, -2.4")
    b.click("Open the workbench")
    b.click("Next")
    b.shows("Look through the frame")
    b.until(lambda: b.all("[data-testid='view'].lr-toured"))
    b.click("Leave the tour")
    b.until(lambda: "Leave the tour" not in b.text())
    b.open("/")
    b.shows("Near rock and far hill")
    assert "Leave the tour" not in b.text()
    assert b.complaints() == []
