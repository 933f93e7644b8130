"""Ways and exposure as a photographer uses them: layers found, grad against bracket, forgotten polariser, film."""

from __future__ import annotations

from .conftest import Browser, api, copy_of


def bench(browser: Browser, composition: str, key: str) -> None:
    browser.open(f"/compositions/{composition}")
    browser.until(lambda: browser.chip("focal_length"))
    browser.keys(key)


def test_the_beck_in_wind_is_taken_with_a_layer(browser: Browser):
    composition = copy_of(browser, "Stepping stones below the fold")
    bench(browser, composition, "5")
    browser.until(lambda: "ways give all that you want" in browser.test_id("ways-sentence").text)
    assert "a layer for the sharp leaves" in browser.test_id("way-way-0").text
    browser.driver.find_element("css selector", "[aria-label^='Take this way:']").click()
    browser.until(lambda: not browser.tensions() & {"foliage", "water_look", "range", "near_soft"})
    browser.shows("as you have it")
    browser.keys("6")
    browser.shows("Layer: sharp leaves")
    browser.shows("+ 1 layer")
    browser.click("Field card (PDF)")
    browser.shows("field-card.pdf saved")
    # One frame at f/16: told what breaks, and by how much.
    browser.keys("5")
    browser.fill("aperture", "f/16")
    browser.click("Why not so?")
    browser.until(lambda: "Bracken blurs in the wind" in browser.test_id("why-not").text)
    browser.saved()


def test_dawn_over_dark_rocks_by_grad_or_by_bracket(browser: Browser):
    composition = copy_of(browser, "Boathouse at first light")
    bench(browser, composition, "4")
    browser.click("Grad or bracket")
    browser.until(lambda: "loses" in browser.test_id("range-one").text)
    assert "holds" in browser.test_id("range-bracket").text and "3 frames" in browser.test_id("range-bracket").text
    assert "darkens" in browser.find("[data-testid='range-both'] + [data-testid='range-grad']").text
    # A spot reading as the meter shows it moves the element on the scale.
    browser.choose("read on", "boulder edge")
    browser.fill("it shows", "4 s")
    browser.until(lambda: "boulder edge EV 5" in browser.text() and "EV 5.5" not in browser.text())
    browser.click("Use: a bracket")
    browser.until(lambda: "range" not in browser.tensions())
    browser.keys("6")
    browser.shows("3 exposures")
    # An exposure is left out: the range is judged anew, and told.
    browser.driver.find_elements("css selector", "[aria-label^='Leave out the exposure']")[0].click()
    browser.shows("2 exposures")
    browser.until(lambda: "range" in browser.tensions())
    browser.chord("\ue009", "z")
    browser.shows("3 exposures")


def test_the_forgotten_polariser_shows_in_the_ledger(browser: Browser):
    composition = copy_of(browser, "Boathouse at first light")
    bench(browser, composition, "4")
    before = browser.test_id("ledger-shutter").text
    browser.by_xpath("//label[normalize-space()='through the filters that are on now']").click()
    browser.shows("Polariser was on when metered")
    browser.until(lambda: browser.test_id("ledger-shutter").text != before)
    # The filters side: what reaches two minutes.
    browser.click("Filters")
    browser.fill("open for (empty: for the look)", "120")
    browser.until(lambda: browser.all("[aria-label^='Put on: ND 10 stops']"))
    browser.shows("2 min 08 s")
    browser.click("Motion")
    browser.shows("a beck among stones")


def test_film_on_bellows_stands_in_the_account(browser: Browser):
    made = []
    for item in (
        {
            "kind": "body",
            "details": {
                "name": "view camera, sheet film", "sensor_width_mm": 120, "sensor_height_mm": 96, "pixels_across": 9600,
                "pixels_down": 7680, "base_iso": 50, "highest_iso": 50, "usable_range_stops": 6, "headroom_stops": 2.5,
                "reciprocity_p": 1.3,
            },
        },
        {
            "kind": "lens",
            "details": {
                "name": "150 mm f/5.6 view lens", "shortest_mm": 150, "longest_mm": 150, "widest_f_number": 5.6,
                "widest_f_number_long": 5.6, "narrowest_f_number": 45, "minimum_focus_m": 1.0,
            },
        },
        {
            "kind": "gear",
            "details": {"id": "new", "name": "long bellows", "kind": "bellows", "extension_mm": 20, "longest_mm": 200},
        },
    ):  # fmt: skip
        made.append(api(browser.base, "POST", "/api/kit", {"item": item})["id"])
    body, lens, gear = made
    copy = copy_of(browser, "Hoar frost on heather")
    saved = api(browser.base, "GET", f"/api/compositions/{copy}")
    scene = saved["composition"]
    scene["reading"] |= {"through_lens": False, "iso": 50, "shutter_s": 2}
    scene["settings"] |= {"focal_length_mm": 150, "aperture_n": 22.627416997969522, "iso": 50, "focus_m": 0.3}
    scene["close_up"]["mounted"] = [{"gear_id": gear, "draw_mm": 150}]
    scene["locks"] = []
    saved = {k: saved[k] for k in ("version", "name", "place_id", "support_id")} | {
        "body_id": body,
        "lens_id": lens,
        "composition": scene,
    }
    api(browser.base, "PUT", f"/api/compositions/{copy}", saved)
    try:
        bench(browser, copy, "4")
        browser.shows("Lens as it is extended, not seen by the meter")
        browser.shows("Film, t to the power of 1.3")
        browser.keys("3")
        browser.click("Close-up")
        # Life size on bellows: two stops, found three ways.
        browser.until(lambda: browser.text().count("−2\n") >= 3 or browser.text().count("−2") >= 4)
        browser.shows("counted as f-numbers")
    finally:
        api(browser.base, "DELETE", f"/api/compositions/{copy}")
        for one in made:
            api(browser.base, "DELETE", f"/api/kit/{one}")


def test_wants_that_contradict_get_a_clear_answer(browser: Browser):
    composition = copy_of(browser, "Stepping stones below the fold")
    bench(browser, composition, "5")
    browser.fill("frames at most", "1")
    browser.until(lambda: "No way gives all that you want" in browser.test_id("ways-sentence").text)
    browser.shows("Without")
    browser.fill("frames at most", "20")
    browser.until(
        lambda: (
            "give all that you want" in browser.test_id("ways-sentence").text
            and "No way" not in browser.test_id("ways-sentence").text
        )
    )


def test_the_wanted_light_a_smooth_background_and_the_order_of_frames(browser: Browser):
    composition = copy_of(browser, "Boathouse at first light")
    bench(browser, composition, "6")
    browser.until(browser.tensions)
    assert "light" not in browser.tensions()
    # Two hours later the sun stands too high for what is wanted; the mend goes back to it.
    browser.keys(">", ">")
    browser.until(lambda: "light" in browser.tensions())
    browser.until(lambda: "light" in browser.tensions())
    assert "sun at 3° to 14°" in browser.test_id("tension-light").text
    browser.mend("light")
    browser.until(lambda: "light" not in browser.tensions())
    # Slices and brackets together: what either order costs, and which hurts least.
    browser.mend("near_soft")
    browser.until(lambda: "near_soft" not in browser.tensions())
    browser.mend("range")
    browser.until(lambda: "slice by slice" in browser.test_id("orders").text)
    assert "Hurts least: slice by slice" in browser.test_id("orders").text
    # The frames are changed by hand: a focus too few leaves a gap, nonsense is told and changes nothing.
    browser.fill("focused at, metres from the lens", "0.74, far")
    browser.shows("Give distances in metres")
    browser.fill("focused at, metres from the lens", "0.74, ∞")
    browser.shows("2 slices × 3 exposures")
    browser.until(lambda: "gap_soft" in browser.tensions() or "far_soft" in browser.tensions())
    browser.fill("exposed, stops from the base", "-2, 0")
    browser.shows("2 slices × 2 exposures")
    browser.chord("\ue009", "z")
    browser.chord("\ue009", "z")
    browser.shows("3 slices × 3 exposures")
    # A background blurred over a twentieth of the frame cannot be had with everything sharp, and is told.
    browser.keys("5")
    browser.fill("background blurred from", "500")
    browser.shows("above 0, to 100")
    assert "background" not in browser.tensions()
    browser.fill("background blurred from", "5")
    browser.until(lambda: "background" in browser.tensions())
    browser.until(lambda: "No way gives all that you want" in browser.test_id("ways-sentence").text)
    browser.shows("Without the background as smooth as you want")
    browser.fill("background blurred from", "\ue017")
    browser.until(lambda: "background" not in browser.tensions())
    browser.saved()
