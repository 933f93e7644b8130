"""The workbench: locks, undo, autosave, conflict, explanations, the ribbon, bad input."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from .conftest import Browser, api, composition_id


@pytest.fixture
def bench(browser: Browser) -> Browser:
    """A fresh copy of the tarn on the workbench, so that tests do not meet."""
    ident = composition_id(browser.base, "Tarn turned to glass")
    copy = api(browser.base, "POST", f"/api/compositions/{ident}/duplicate")
    browser.open(f"/compositions/{copy['id']}")
    browser.until(lambda: browser.chip("aperture") == "f/16")
    browser.ident = copy["id"]
    return browser


def test_locks_hold_and_undo_steps_back(bench: Browser):
    bench.chord("\ue008", "a")
    bench.until(lambda: bench.button("Free aperture").get_attribute("aria-pressed") == "true")
    bench.keys("a")
    bench.shows("Aperture is locked")
    bench.keys("e")
    bench.until(lambda: bench.button("Undo").is_enabled())
    assert bench.chip("aperture") == "f/16"
    bench.chord("\ue009", "z")
    bench.chord("\ue009", "z")
    bench.until(lambda: bench.button("Lock aperture").get_attribute("aria-pressed") == "false")
    bench.chord("\ue009", "y")
    bench.until(lambda: bench.button("Free aperture").get_attribute("aria-pressed") == "true")


def test_a_typed_value_is_set_and_nonsense_is_not(bench: Browser):
    chip = bench.test_id("chip-aperture")
    chip.find_element("css selector", "button[aria-label*='press to type']").click()
    ActionChains(bench.driver).send_keys("eleven\ue007").perform()
    assert bench.find("input[aria-label='New aperture']").get_attribute("aria-invalid") == "true"
    field = bench.find("input[aria-label='New aperture']")
    field.send_keys("\ue009a\ue000f/8\ue007")
    bench.until(lambda: bench.chip("aperture") == "f/8")


def test_it_saves_by_itself_and_tells_a_conflict(bench: Browser):
    bench.keys("s")
    bench.until(lambda: bench.chip("aperture") == "f/18")
    bench.saved()
    path = f"/api/compositions/{bench.ident}"
    kept = api(bench.base, "GET", path)
    assert kept["composition"]["settings"]["aperture_n"] == pytest.approx(17.96, abs=0.01)

    # Somebody else saves meanwhile.
    theirs = {k: v for k, v in kept.items() if k not in ("id", "updated_at")} | {"name": "Theirs"}
    api(bench.base, "PUT", path, theirs)
    bench.keys("s")
    bench.shows("saved elsewhere meanwhile")
    bench.shows("Theirs")
    assert api(bench.base, "GET", path)["name"] == "Theirs"
    bench.click("Save mine over it")
    bench.saved()
    assert api(bench.base, "GET", path)["composition"]["settings"]["aperture_n"] == pytest.approx(20.16, abs=0.01)


def test_taking_the_saved_one_keeps_mine_one_undo_away(bench: Browser):
    path = f"/api/compositions/{bench.ident}"
    kept = api(bench.base, "GET", path)
    api(bench.base, "PUT", path, {k: v for k, v in kept.items() if k not in ("id", "updated_at")} | {"name": "Theirs"})
    bench.keys("s")
    bench.shows("saved elsewhere meanwhile")
    bench.click("Take the saved one")
    bench.until(lambda: bench.find("h1").text == "Theirs")
    bench.until(lambda: bench.chip("aperture") == "f/16")
    bench.click("Undo")
    bench.until(lambda: bench.chip("aperture") == "f/18")


def test_a_number_explains_itself(bench: Browser):
    bench.keys("3")
    bench.find("[data-explain='depth.hyperfocal']").click()
    shown = bench.test_id("explanation")
    bench.until(lambda: "f² / (N c′) + f" in shown.text)
    assert "Ray" in shown.text
    bench.keys("\ue00c")


def test_the_moment_is_dragged_and_everything_follows(bench: Browser):
    ribbon = bench.test_id("day-ribbon")
    before = bench.test_id("moment").text
    shutter = bench.chip("shutter")
    ActionChains(bench.driver).move_to_element_with_offset(ribbon, -200, 10).click_and_hold().move_by_offset(
        300, 0
    ).release().perform()
    bench.until(lambda: bench.test_id("moment").text != before)
    bench.until(lambda: bench.chip("shutter") != shutter)
    bench.keys("[")
    bench.keys("2")
    bench.shows("sunrise")
    there = bench.test_id("moment").text
    ribbon.send_keys("\ue014")
    bench.until(lambda: bench.test_id("moment").text[:5] != there[:5])


def test_a_date_outside_the_ephemeris_is_told_and_undone(bench: Browser):
    bench.keys("2")
    bench.click("Day")
    field = bench.find("input[type=date]")
    bench.driver.execute_script(
        "const s = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set; s.call(arguments[0], '2100-06-01');"
        "arguments[0].dispatchEvent(new Event('input', {bubbles: true})); arguments[0].dispatchEvent(new Event('change', {bubbles: true}));",
        field,
    )
    bench.shows("1900 to 2050")
    bench.by_xpath("//*[@role='alert']//button[.='Undo']").click()
    bench.until(lambda: "1900 to 2050" not in bench.text())


def test_elements_are_added_changed_and_removed_with_a_way_back(bench: Browser):
    bench.keys("1")
    bench.click("Add an element")
    bench.shows("Elements: 9")
    bench.fill("name", "mooring post")
    bench.fill("distance", "twelve")
    bench.shows("Give a number.")
    bench.fill("distance", "12")
    bench.until(lambda: bench.find("g[aria-label^='mooring post, 12.0 m']"))
    bench.fill("width", "-3")
    bench.shows("This must be at least 0")
    bench.fill("width", "0.3")
    bench.until(lambda: "This must be at least 0" not in bench.text())
    bench.click("Remove")
    bench.shows("mooring post removed")
    bench.shows("Elements: 8")
    bench.undo()
    bench.shows("Elements: 9")


def test_another_lens_is_fitted(bench: Browser):
    bench.keys("1")
    bench.choose("lens", "70-200 mm f/4")
    bench.until(lambda: bench.chip("focal_length") == "70 mm")
    assert bench.all("[role=alert]") == []


def test_the_bench_tabs_go_by_arrow_keys(bench: Browser):
    frame = bench.find("#tab-frame")
    frame.click()
    for key, name in (("\ue014", "light"), ("\ue014", "depth"), ("\ue012", "light"), ("\ue011", "frame"), ("\ue012", "sequence"), ("\ue010", "sequence")):  # fmt: skip
        bench.driver.switch_to.active_element.send_keys(key)
        bench.until(lambda name=name: bench.find(f"#tab-{name}").get_attribute("aria-selected") == "true")
    assert bench.driver.switch_to.active_element.get_attribute("id") == "tab-sequence"
    # One stop for the tab key.
    assert [one.get_attribute("tabindex") for one in bench.all("[role='tab']")].count("0") == 1


def test_the_skyline_follows_the_way_the_camera_is_held(bench: Browser):
    def band() -> float:
        bench.keys("2")
        bench.click("Skyline")
        return float(bench.test_id("skyline-frame").get_attribute("width") or 0)

    level = band()
    bench.keys("1")
    bench.click("portrait")
    bench.saved()
    bench.until(lambda: band() < level * 0.8)


def test_keys_are_behind_the_question_mark(bench: Browser):
    bench.keys("?")
    bench.shows("a third of a stop each")
    bench.keys("\ue00c")
    bench.until(lambda: "a third of a stop each" not in bench.text())


def test_feedback_is_quick(bench: Browser):
    """From a key to the new number on screen, measured in the page; the goal is 100 ms."""
    bench.saved()
    taken = bench.driver.execute_async_script(
        """
        const done = arguments[arguments.length - 1];
        const chip = () => document.querySelector("[data-testid='chip-aperture'] button").textContent;
        const times = [];
        const step = (n) => {
          if (n === 0) return done(times);
          const before = chip(), start = performance.now();
          window.dispatchEvent(new KeyboardEvent("keydown", { key: n % 2 ? "a" : "s", bubbles: true }));
          const look = () => chip() === before ? requestAnimationFrame(look) : (times.push(performance.now() - start), setTimeout(step, 30, n - 1));
          look();
        };
        step(24);
        """
    )
    # Not a bench: only that nothing is badly wrong on a busy machine.
    assert sorted(taken)[len(taken) // 2] < 400


def test_a_missing_composition_says_so(browser: Browser):
    browser.open("/compositions/00000000-0000-4000-8000-000000000000")
    browser.shows("No such composition")


def test_panes_are_moved_by_keys_and_stay_where_they_were_put(browser: Browser):
    browser.open(f"/compositions/{composition_id(browser.base, 'Tarn as a mirror')}")
    browser.until(lambda: browser.chip("shutter"))
    # The second tension comes with the light: only then there is something to unfold.
    browser.until(
        lambda: browser.tensions() and browser.all("[role='separator'][aria-label='Height of the tensions']"),
        "the tensions do not unfold",
    )
    for name, key in (
        ("Width of the pictures", Keys.ARROW_RIGHT),
        ("Height of the small pictures", Keys.ARROW_UP),
        ("Height of the tensions", Keys.ARROW_DOWN),
    ):
        line = browser.find(f"[role='separator'][aria-label='{name}']")
        before = int(line.get_attribute("aria-valuenow"))
        line.send_keys(key, key, key)
        browser.until(lambda line=line, before=before: abs(int(line.get_attribute("aria-valuenow")) - before) == 6)
    put = [e.get_attribute("aria-valuenow") for e in browser.all("[role='separator']")]
    assert len(put) == 3
    browser.driver.refresh()
    browser.until(lambda: [e.get_attribute("aria-valuenow") for e in browser.all("[role='separator']")] == put)
