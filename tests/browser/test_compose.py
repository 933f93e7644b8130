"""Composing: a merged pair is parted by the camera height that the solver finds."""

from __future__ import annotations

from .conftest import Browser, composition_id


def test_a_merged_pair_is_mended_by_the_height_solver(browser: Browser):
    browser.open(f"/compositions/{composition_id(browser.base, 'Mooring post behind a rock')}")
    browser.until(lambda: browser.chip("focal_length") == "24 mm")
    browser.keys("1")
    meeting = browser.test_id("meeting-overlap")
    assert "mooring post and the near rock overlap" in meeting.text
    meeting.find_element("css selector", "button.chakra-button").click()
    raise_it = browser.by_xpath(
        "//*[@data-testid='meeting-overlap']//button[starts-with(normalize-space(), 'Raise to')]"
    )
    wanted = raise_it.text.removeprefix("Raise to ").removesuffix(" m")
    raise_it.click()
    browser.until(lambda: not browser.all("[data-testid='meeting-overlap']"))
    height = browser.by_xpath("//label[normalize-space()='lens above ground']/following::input[1]")
    browser.until(lambda: height.get_attribute("value") == str(float(wanted)))
    browser.click("Undo")
    browser.until(lambda: browser.all("[data-testid='meeting-overlap']"))
    browser.saved()
