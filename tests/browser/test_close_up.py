"""Depth and close-up as a photographer uses them: lens chosen, stack planned, gap seen."""

from __future__ import annotations

from .conftest import Browser, copy_of


def depth(browser: Browser, composition: str, side: str) -> None:
    """The depth bench of a composition, at one of its sides."""
    browser.open(f"/compositions/{composition}")
    browser.until(lambda: browser.chip("focal_length"))
    browser.keys("3")
    browser.click(side)


def row(browser: Browser, test_id: str) -> str:
    return str(browser.test_id(test_id).text)


def test_the_longer_macro_is_chosen_for_a_shy_subject(browser: Browser):
    composition = copy_of(browser, "Sundew leaf with dew")
    depth(browser, composition, "Close-up")
    browser.choose("the subject is", "shy")
    browser.fill("as large as", "1")
    # At life size the thin lens stands 200 mm off; sensor to subject 300 mm, to the front 135 mm: told, not guessed.
    browser.until(lambda: "135 mm" in row(browser, "lens-100 mm f/2.8 macro"))
    assert "255 mm" in row(browser, "lens-180 mm f/3.5 macro")
    browser.click("Use the 180 mm f/3.5 macro")
    browser.until(lambda: browser.chip("focal_length") == "180 mm")
    browser.until(lambda: "in use" in row(browser, "lens-180 mm f/3.5 macro"))
    browser.until(lambda: browser.chip("focus") == "360 mm")
    browser.click("Close-up stack")
    browser.shows("Leave animals where they are")
    browser.saved()


def test_a_life_size_stack_of_twelve_millimetres(browser: Browser):
    composition = copy_of(browser, "Sundew leaf with dew")
    depth(browser, composition, "Close-up")
    browser.fill("as large as", "1")
    browser.until(lambda: browser.chip("focus") == "200 mm")
    browser.click("Close-up stack")
    browser.fill("deep (empty: as drawn)", "12")
    # By hand: f/5.6 works at f/11.3, Airy disk 15.2 µm, 24.5 of 28.8 µm left: 0.554 mm deep, steps of 0.444 mm.
    frames = "27"
    browser.until(lambda: row(browser, "stack-rail").split()[0] == frames)
    browser.keys("6")
    browser.shows("Rail forward")
    browser.shows(f"{frames} frames")
    # Deeper than the rail goes: said, and nothing lost.
    browser.keys("3")
    browser.fill("deep (empty: as drawn)", "150")
    browser.until(lambda: "the rail has 120 mm" in row(browser, "stack-rail"))
    browser.fill("deep (empty: as drawn)", "12")
    browser.until(lambda: row(browser, "stack-rail").split()[0] == frames)
    # A flash beside the day: three accounts and a caution.
    browser.click("Lights")
    browser.by_xpath("//label[normalize-space()='small flash']").click()
    browser.until(lambda: "power" in row(browser, "account-flash"))
    browser.shows("never into the eyes")
    browser.saved()


def test_two_hand_set_points_leave_a_gap_in_a_meadow_that_three_slices_close(browser: Browser):
    composition = copy_of(browser, "Boathouse at first light")
    depth(browser, composition, "Schools")
    browser.until(lambda: "1, worst" in row(browser, "school-two_points"))
    browser.click("Focus so: two points: near, subject")
    browser.click("Stack and check")
    browser.until(lambda: browser.all("[data-testid='even-ruler'][aria-label*='2 slices, 1 gap']"))
    browser.until(lambda: "gap_soft" in browser.tensions() or "near_soft" in browser.tensions())
    browser.click("Schools")
    browser.click("Focus so: even slices with overlap")
    browser.until(lambda: not {"gap_soft", "near_soft", "far_soft"} & browser.tensions())
    browser.click("Stack and check")
    browser.until(lambda: browser.all("[data-testid='even-ruler'][aria-label*='3 slices, 0 gaps']"))
    assert "sharp" in row(browser, "check-nearest") and "sharp" in row(browser, "check-farthest")
    browser.click("Schools")
    # An aperture is taken by pressing it in the sweep.
    browser.find("[data-testid='sweep'] [aria-label^='Set f/16']").click()
    browser.until(lambda: browser.chip("aperture") == "f/16")


def test_what_no_lens_reaches_is_answered(browser: Browser):
    composition = copy_of(browser, "Sundew leaf with dew")
    depth(browser, composition, "Close-up")
    browser.fill("as large as", "4")
    # The lens stops at life size; gear that goes further is offered, and what it reaches.
    browser.until(lambda: browser.chip("focus") == "200 mm")
    browser.shows("within reach: 0 to 1.00×")
    browser.click("Put on 36 mm tube")
    browser.shows("within reach: 0.36× to 1.36×")
    browser.fill("as large as", "1.3")
    browser.until(lambda: browser.chip("focus") == "177 mm")
    browser.shows("counted as f-numbers")
