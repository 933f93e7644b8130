"""Rehearsal and practice on screen: how it will look follows the hand, frames, merged, beside, strips, mishaps, ten drills."""

from __future__ import annotations

from itertools import pairwise

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from .conftest import Browser, copy_of

PATIENT_S = 180.0
"""A long stack is drawn on two cores that have other work: a piece waits for the frame that is being drawn."""


def _workbench(browser: Browser, name: str) -> None:
    browser.open(f"/compositions/{copy_of(browser, name)}")
    browser.until(lambda: browser.chip("shutter"))


def _drawn(browser: Browser) -> bool:
    return "drawing frame" not in browser.test_id("rehearsal").text and bool(
        browser.all("[data-testid='magnifier'][data-fresh='yes']")
    )


def _picture(browser: Browser) -> str:
    return str(browser.find("[data-testid='rehearsal'] img.lr-drawn").get_attribute("src"))


def _magnified(browser: Browser) -> str:
    """The piece that is looked at closely, once it is of the frame and the place that were asked for."""
    browser.until(lambda: browser.all("[data-testid='magnifier'][data-fresh='yes'] img"), "no piece", PATIENT_S)
    return str(browser.find("[data-testid='magnifier'] img").get_attribute("src"))


def test_how_it_will_look_is_one_key_away_and_follows_the_hand(browser: Browser):
    _workbench(browser, "Stepping stones below the fold")
    browser.keys("d")
    browser.until(lambda: browser.test_id("look").get_attribute("data-full") == "yes")
    before = browser.find("img.lr-drawn").get_attribute("src")
    browser.keys("v")
    browser.until(lambda: browser.find("img.lr-drawn").get_attribute("src") != before)
    browser.until(lambda: browser.test_id("look").get_attribute("data-full") == "yes")
    browser.keys("c", "d")
    browser.until(lambda: not browser.all("[data-testid='look']"))


def test_the_beck_in_wind_beside_another_way_and_at_every_shutter_time(browser: Browser):
    """Texture against leaves: two ways with the divider, then the water at nine times."""
    _workbench(browser, "Stepping stones below the fold")
    browser.keys("5")
    browser.by_xpath("(//button[normalize-space()='See it beside'])[1]").click()
    browser.until(lambda: browser.test_id("beside").get_attribute("data-drawn") == "both")
    edge = browser.find("[data-testid='beside'] input[type='range']")
    first, second = browser.all("[data-testid='beside'] img")
    assert first.get_attribute("src") != second.get_attribute("src")
    clip = second.value_of_css_property("clip-path")
    edge.send_keys(*[Keys.ARROW_LEFT] * 10)
    browser.until(lambda: second.value_of_css_property("clip-path") != clip)
    browser.click("Shutter times")
    strip = browser.test_id("strip-shutter_s")
    browser.until(lambda: "drawing" not in strip.text)
    pictures = {one.get_attribute("src") for one in strip.find_elements("tag name", "img")}
    assert len(pictures) == strip.text.count("Set it") + 1 >= 8
    assert "as you have it" in strip.text
    browser.click("Close")
    browser.until(lambda: not browser.all("[data-testid='rehearsal']"))


def test_the_dawn_over_dark_rocks_merged_from_a_bracket_holds_what_one_frame_does_not(browser: Browser):
    _workbench(browser, "Boathouse at first light")
    browser.keys("6")
    browser.click("See the frames")
    browser.until(lambda: _drawn(browser))
    one = browser.test_id("rehearsal").text
    assert "clipped:" in one and "invented" in one
    browser.choose("Something goes wrong", "Old exposure")
    browser.until(lambda: "The light has fallen" in browser.test_id("rehearsal").text)
    browser.until(lambda: _drawn(browser))
    browser.click("Apertures")
    browser.until(lambda: len(browser.all("[data-testid='strip-aperture_n'] img")) > 3)


def test_the_dawn_with_a_graduated_filter_against_a_bracket(browser: Browser):
    """The bracket that the tension offers is taken; a way with the grad lies beside it, and each says what it holds."""
    _workbench(browser, "Boathouse at first light")
    browser.mend("range")
    browser.keys("5")
    browser.by_xpath("(//button[normalize-space()='See it beside'])[1]").click()
    browser.until(lambda: browser.test_id("beside").get_attribute("data-drawn") == "both")
    bracket, grad = browser.all("[data-testid='beside'] img")
    assert bracket.get_attribute("src") != grad.get_attribute("src")
    assert "Merged from 3 frames" in browser.test_id("told-left").text
    assert (
        "of the picture" in browser.test_id("told-right").text
        or "Nothing is missing" in browser.test_id("told-right").text
    )


def test_a_missed_slice_of_dew_at_life_size_is_seen_in_the_magnifier(browser: Browser):
    """By keys alone, but for what goes wrong: on to the third frame, looked at closely, as planned and with its slice missed."""
    _workbench(browser, "Sundew leaf with dew")
    browser.keys("6")
    browser.click("See the frames")
    browser.until(lambda: browser.all("[data-testid='magnifier'][data-fresh='yes']"), "the first piece", PATIENT_S)
    assert len(browser.all("[aria-label='Frames'] button")) > 10
    first = _magnified(browser)
    ActionChains(browser.driver).send_keys(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT).perform()
    browser.until(lambda: "3 of 31" in browser.test_id("rehearsal").text, "not at the third frame", PATIENT_S)
    browser.until(lambda: _magnified(browser) != first, "the third frame", PATIENT_S)
    third = _magnified(browser)
    browser.choose("Something goes wrong", "Missed slice")
    browser.fill("frame", "99")
    browser.shows("1 to 31")
    browser.fill("frame", "3")
    browser.until(lambda: _magnified(browser) not in (first, third), "the missed slice", PATIENT_S)
    browser.driver.execute_script("document.activeElement.blur()")
    ActionChains(browser.driver).send_keys(Keys.ESCAPE).perform()
    browser.until(lambda: not browser.all("[data-testid='rehearsal']"))


def test_ten_drills_are_answered_by_keys(browser: Browser):
    browser.open("/practice")
    keys = []
    for _ in range(10):
        browser.test_id("drill")
        if browser.all("[data-testid='drill'] [aria-label='Answers']"):
            browser.until(lambda: browser.all("[data-testid='drill-picture'] img"))
            browser.keys("1")
        else:
            browser.find("[data-testid='drill'] input").send_keys("1/2", Keys.ENTER)
        judged = browser.test_id("judged").text
        assert ("Right:" in judged or "It was:" in judged) and "comes back" in judged
        keys.append(browser.test_id("drill").get_attribute("data-key"))
        browser.click("Next")
        browser.until(lambda: not browser.all("[data-testid='judged']"))
    assert all(a != b for a, b in pairwise(keys)) and len(set(keys)) >= 6
    browser.until(lambda: "10 answered" in browser.test_id("progress").text)
