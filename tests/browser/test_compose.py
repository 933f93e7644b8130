"""Composing: wishes, variants, panorama, reference photographs, and hands in the plan."""

from __future__ import annotations

import io
import statistics
import time
from pathlib import Path
from uuid import uuid4

import pytest
from PIL import Image
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.actions.wheel_input import ScrollOrigin
from selenium.webdriver.common.keys import Keys

from .conftest import Browser, api, composition_id


def open_frame(browser: Browser, name: str, side: str | None = None) -> str:
    """The Frame bench of a copy of a composition, its variants too; the copy's id."""
    original = composition_id(browser.base, name)
    made = api(browser.base, "POST", f"/api/compositions/{original}/duplicate")
    for one in api(browser.base, "GET", f"/api/compositions/{original}/variants")["variants"]:
        kept = {k: one[k] for k in ("name", "body_id", "lens_id", "support_id", "composition")}
        api(browser.base, "POST", f"/api/compositions/{made['id']}/variants", kept | {"id": str(uuid4())})
    browser.open(f"/compositions/{made['id']}")
    browser.until(lambda: browser.chip("focal_length"))
    browser.keys("1")
    if side:
        browser.click(side)
    return str(made["id"])


def part(browser: Browser, title: str):
    """The part of a bench under a heading."""
    return browser.by_xpath(f"//section[.//h2[starts-with(normalize-space(), '{title}')]]")


def saved_composition(browser: Browser, found: str):
    browser.saved()
    return api(browser.base, "GET", f"/api/compositions/{found}")["composition"]


def press(browser: Browser, section, words: str) -> None:
    button = section.find_element("xpath", f".//button[normalize-space()='{words}']")
    browser.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
    button.click()


def choose_in(section, label: str, option: str) -> None:
    select = section.find_element("xpath", f".//label[normalize-space()='{label}']/following::select[1]")
    select.find_element("xpath", f"./option[normalize-space()='{option}']").click()


def test_a_merged_pair_is_mended_by_the_height_solver(browser: Browser):
    found = open_frame(browser, "Mooring post behind a rock", "Camera and elements")
    meeting = browser.test_id("meeting-overlap")
    assert "mooring post and the near rock overlap" in meeting.text
    press(browser, meeting, "Find a height")
    answer = browser.test_id("answer")
    assert answer.text.startswith("Raise to")
    assert "gap then: 1.5 %" in answer.text.replace("\n", " ")
    wanted = answer.text.split("\n")[0].removeprefix("Raise to ").removesuffix(" m")
    press(browser, answer, "Do it")
    browser.until(lambda: not browser.all("[data-testid='meeting-overlap']"))
    height = browser.by_xpath("//label[normalize-space()='lens above ground']/following::input[1]")
    browser.until(lambda: height.get_attribute("value") == wanted)
    assert saved_composition(browser, found)["camera_height_m"] == float(wanted)
    browser.click("Undo")
    browser.until(lambda: browser.all("[data-testid='meeting-overlap']"))


def test_two_anchors_are_put_on_thirds_by_a_step_and_the_aim(browser: Browser):
    found = open_frame(browser, "Tarn as a mirror", "Wishes")
    wish = part(browser, "Two things on two points")
    choose_in(wish, "first thing", "reeds")
    choose_in(wish, "second thing", "boathouse")
    press(browser, wish, "Find it")
    answer = browser.test_id("answer")
    assert "33.3% across" in answer.text and "66.7% across" in answer.text
    before = api(browser.base, "GET", f"/api/compositions/{found}")["composition"]
    press(browser, answer, "Do it")
    browser.until(lambda: not browser.all("[data-testid='answer']"))
    after = saved_composition(browser, found)
    assert (after["east_m"], after["azimuth_deg"]) != (before["east_m"], before["azimuth_deg"])
    assert after["camera_height_m"] == before["camera_height_m"]
    # An impossible wish says why and changes nothing.
    choose_in(wish, "first thing", "Skarn ridge")
    choose_in(wish, "at", "lower third")
    choose_in(wish, "second thing", "far shore")
    choose_in(wish, "at", "lower third")
    press(browser, wish, "Find it")
    assert browser.test_id("why-not").text
    assert saved_composition(browser, found) == after


def test_a_seven_panel_upright_panorama_is_planned_and_taken_to_the_sequence(browser: Browser):
    found = open_frame(browser, "Boathouse at first light", "Panorama")
    panels = part(browser, "Panorama")
    press(browser, panels, "portrait")
    press(browser, panels, "panels")
    browser.test_id("panorama-strip")
    browser.fill("from azimuth", "310")
    # 24 mm upright takes in 2 atan(12 / 24.3) = 52.5 degrees; six turns of at most 35 degrees reach 262.
    browser.fill("clockwise to", "190")
    browser.shows("7 panels, portrait")
    browser.fill("reading of panel 4", "12")
    browser.fill("reading of panel 6", "14")
    browser.shows("6 brightest")
    assert saved_composition(browser, found)["panorama"]["on"]
    browser.keys("4")
    browser.shows("Metered on the brightest panel")
    browser.keys("6")
    browser.shows("7 frames: 7 panels × 1 slice × 1 exposure")
    browser.shows("Turn to panel 2")


def test_three_variants_are_compared_and_one_is_promoted(browser: Browser):
    found = open_frame(browser, "Stepping stones below the fold", "Variants")
    browser.until(lambda: len(browser.all("[data-testid='variant']")) == 3)
    browser.click("Show the tries")
    browser.test_id("try-wide-strip")
    browser.click("Keep square")
    browser.until(lambda: len(browser.all("[data-testid='variant']")) == 4)
    for box in browser.all("[data-testid='variant'] input[type='checkbox']")[:3]:
        box.click()
    table = browser.test_id("comparison")
    heads = [h.text for h in table.find_elements("css selector", "thead th")[1:]]
    assert heads == ["portrait, as found", "landscape and lower", "square, over the stones"]
    rows = {r.find_element("css selector", "th").text: r.text for r in table.find_elements("css selector", "tbody tr")}
    assert "24 mm, landscape" in rows["lens"] and "0.55 m" in rows["camera height"]
    browser.click("Promote landscape and lower")
    browser.until(lambda: len(browser.all("[data-testid='variant']")) == 5)
    browser.shows("landscape and lower is the composition now")
    promoted = saved_composition(browser, found)
    assert (promoted["orientation"], promoted["camera_height_m"]) == ("landscape", 0.55)
    names = [v["name"] for v in api(browser.base, "GET", f"/api/compositions/{found}/variants")["variants"]]
    assert names[-1] == "before landscape and lower"
    browser.click("Remove square")
    browser.until(lambda: len(browser.all("[data-testid='variant']")) == 4)


def photograph_file(folder: Path) -> Path:
    out = io.BytesIO()
    Image.new("RGB", (900, 600), (120, 130, 120)).save(out, "JPEG")
    made = folder / "bank.jpg"
    made.write_bytes(out.getvalue())
    return made


def test_a_photograph_is_laid_under_the_view_and_a_thing_measured_from_it(browser: Browser, tmp_path):
    found = open_frame(browser, "Hoar frost on heather", "Photographs")
    picker = browser.find("input[type='file']")
    picker.send_keys(str(photograph_file(tmp_path)))
    browser.until(lambda: browser.all("[data-testid='photograph']"))
    browser.until(lambda: browser.all("[data-testid='view'] image"))
    assert saved_composition(browser, found)["underlay"]["opacity"] == 0.5
    browser.fill("field of view", "60")
    browser.fill("pitched", "0")
    marking = browser.test_id("marking")
    browser.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", marking)
    # With the keyboard: the cursor starts in the middle; the foot below it, the top above.
    marking.click()
    ActionChains(browser.driver).send_keys(*[Keys.ARROW_UP] * 8, Keys.ENTER).perform()
    browser.choose("known about it", "its distance is")
    browser.fill("that is", "2")
    # It is measured with each thing that is put in: this is what it comes to.
    browser.until(lambda: browser.test_id("measured").text.startswith("2.00 m at 119.9°"), "it does not measure 2 m")
    assert "tall" in browser.test_id("measured").text
    browser.choose("drawn as", "post")
    browser.fill("called", "marker post")
    browser.click("Put it in the view")
    after = saved_composition(browser, found)
    assert (after["elements"][-1]["name"], after["elements"][-1]["silhouette"]) == ("marker post", "post")
    (tmp_path / "notes.jpg").write_text("no picture")
    picker.send_keys(str(tmp_path / "notes.jpg"))
    browser.shows("This is no photograph that is read here")
    browser.click("Detach")
    browser.until(lambda: not browser.all("[data-testid='photograph']"))


def test_hands_and_keys_move_camera_aim_and_elements_in_the_plan(browser: Browser):
    found = open_frame(browser, "Boathouse at first light")
    start = saved_composition(browser, found)
    browser.keys("p")
    handle = browser.find("[aria-label^='Standpoint']")
    ActionChains(browser.driver).drag_and_drop_by_offset(handle, 30, -20).perform()
    browser.until(lambda: saved_composition(browser, found)["east_m"] > start["east_m"] + 0.5)
    moved = saved_composition(browser, found)
    assert moved["north_m"] > start["north_m"]
    handle = browser.find("[aria-label^='Standpoint']")
    browser.driver.execute_script("arguments[0].focus()", handle)
    ActionChains(browser.driver).send_keys(Keys.ARROW_UP).perform()
    browser.until(lambda: saved_composition(browser, found)["north_m"] > moved["north_m"] + 0.05)
    stones = browser.find("[aria-label^='shore stones']")
    browser.driver.execute_script("arguments[0].focus()", stones)
    ActionChains(browser.driver).key_down(Keys.SHIFT).send_keys(Keys.ARROW_RIGHT).key_up(Keys.SHIFT).perform()
    was = next(e for e in start["elements"] if e["id"] == "stones")
    browser.until(
        lambda: (
            next(e for e in saved_composition(browser, found)["elements"] if e["id"] == "stones")["east_m"]
            == pytest.approx(was["east_m"] + 1)
        )
    )
    browser.keys("o", "t", "l", "n")
    browser.until(lambda: saved_composition(browser, found)["azimuth_deg"] == start["azimuth_deg"] + 1)
    after = saved_composition(browser, found)
    assert after["camera_height_m"] == pytest.approx(start["camera_height_m"] + 0.05)
    assert after["guide"] == "golden"
    browser.keys("p")
    camera = browser.find("[aria-label='Camera height']")
    browser.driver.execute_script("arguments[0].focus()", camera)
    ActionChains(browser.driver).send_keys(Keys.ARROW_DOWN).perform()
    browser.until(
        lambda: saved_composition(browser, found)["camera_height_m"] == pytest.approx(start["camera_height_m"])
    )


def test_the_wheel_over_the_plan_changes_the_focal_length(browser: Browser):
    open_frame(browser, "Valley head in seven panels")
    browser.click("Free focal length")
    browser.until(lambda: browser.button("Lock focal length"))
    plan = browser.test_id("plan")
    ActionChains(browser.driver).scroll_from_origin(ScrollOrigin.from_element(plan), 0, -120).perform()
    browser.until(lambda: browser.chip("focal_length") == "37 mm")


@pytest.fixture
def forty(browser: Browser):
    """A composition of forty elements."""
    found = composition_id(browser.base, "Boathouse at first light")
    made = api(browser.base, "POST", f"/api/compositions/{found}/duplicate")
    composition = made["composition"]
    stone = next(e for e in composition["elements"] if e["id"] == "stones")
    for i in range(40 - len(composition["elements"])):
        composition["elements"].append(
            stone
            | {"id": f"s{i}", "name": f"stone {i}", "east_m": 1.5 + 0.7 * (i % 8), "north_m": 1.5 + 1.1 * (i // 8)}
        )
    kept = {k: made[k] for k in ("version", "place_id", "body_id", "lens_id", "support_id")}
    api(browser.base, "PUT", f"/api/compositions/{made['id']}", kept | {"name": "Forty", "composition": composition})
    yield made["id"]
    api(browser.base, "DELETE", f"/api/compositions/{made['id']}")


def test_the_view_follows_a_hand_in_the_plan_with_forty_elements(browser: Browser, forty: str):
    """Each step of a drag is drawn; how long it takes is measured by `./ridge bench`, here it only must not stall."""
    browser.open(f"/compositions/{forty}")
    browser.until(lambda: browser.chip("focal_length") == "24 mm")
    handle = browser.find("[aria-label^='Standpoint']")
    hand = ActionChains(browser.driver, duration=0).click_and_hold(handle)
    hand.perform()
    taken = []
    for _ in range(12):
        before = browser.test_id("view").get_attribute("innerHTML")
        start = time.perf_counter()
        ActionChains(browser.driver, duration=0).move_by_offset(2, -1).perform()
        browser.until(lambda before=before: browser.test_id("view").get_attribute("innerHTML") != before)
        taken.append(time.perf_counter() - start)
    ActionChains(browser.driver).release().perform()
    assert statistics.median(taken) < 2
    browser.saved()


def test_a_distance_is_taken_from_the_map(browser: Browser):
    open_frame(browser, "Tarn as a mirror")
    browser.keys("g")
    browser.click("Take the distance from the map")
    along = browser.test_id("sight-map")
    browser.until(lambda: along.get_attribute("aria-valuenow") not in (None, "0"))
    near = int(along.get_attribute("aria-valuenow"))
    # 3 % farther a step, 40 steps: about three and a quarter times as far.
    along.send_keys(*[Keys.PAGE_DOWN] * 12, *[Keys.PAGE_UP] * 12)
    browser.until(lambda: int(along.get_attribute("aria-valuenow")) > 20 * near)
    far = along.get_attribute("aria-valuetext")
    # A press on the map beside the standpoint is near again.
    browser.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", along)
    ActionChains(browser.driver).move_to_element_with_offset(along, 3, 3).click().perform()
    browser.until(lambda: along.get_attribute("aria-valuetext") != far)
    browser.click("Put it in")
    browser.shows("boulder")
    assert browser.complaints() == []
