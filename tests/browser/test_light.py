"""The light as a photographer plans it: terrain, skyline, light windows, alignments, files of maps."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from icalendar import Calendar

from lucid_ridge.calc.topics import TOPICS
from lucid_ridge.demo.terrain import write_demo_terrain

from .conftest import Browser, api, copy_of

SCENE = TOPICS["evaluate"].example.model_dump(mode="json")["scene"]


def light(browser: Browser, composition: str, side: str) -> None:
    """The light bench of a composition, at one of its sides."""
    browser.open(f"/compositions/{composition}")
    browser.until(lambda: browser.chip("focal_length"))
    browser.keys("2")
    browser.click(side)


def holds(browser: Browser, field: str, value: str) -> None:
    """Some field of this sort holds a value."""
    script = "return [...document.querySelectorAll(arguments[0])].some(one => one.value === arguments[1])"
    browser.until(lambda: browser.driver.execute_script(script, field, value), f"no {field} holds {value}")


def give(browser: Browser, test_id: str, *paths: Path) -> None:
    browser.find(f"[data-testid='{test_id}']").send_keys("\n".join(str(p) for p in paths))


def test_from_a_pasted_position_over_a_terrain_to_the_sun_on_the_subject(empty_browser: Browser, tmp_path):
    browser = empty_browser
    # Whatever another test left in the shared database is put away first.
    for left in api(browser.base, "GET", "/api/places")["places"]:
        api(browser.base, "DELETE", f"/api/places/{left['id']}")
    ids = {}
    for kind in ("body", "lens", "support"):
        ids[f"{kind}_id"] = api(
            browser.base, "POST", "/api/kit", {"item": {"kind": kind, "details": SCENE["kit"][kind]}}
        )["id"]
    browser.open("/places")
    browser.click("New place")
    browser.fill("name", "Pasted tarn")
    browser.fill("position, as written or pasted", "54° 06.0' N, 2° 24.0' W")
    holds(browser, "input", "Europe/London")
    browser.click("Save")
    browser.shows("54.1000° N")
    # Bring a terrain in on the map, watch it come, and use it for the place.
    write_demo_terrain(tmp_path / "valley.tif")
    browser.by_xpath("//nav//a[normalize-space()='Map']").click()
    browser.shows("None yet")
    give(browser, "terrain-file", tmp_path / "valley.tif")
    browser.shows("kept at 20")
    browser.click("Use it for Pasted tarn")
    browser.shows("now has this horizon")
    place = api(browser.base, "GET", "/api/places")["places"][0]
    assert place["place"]["horizon"] == "terrain"
    composition = SCENE["composition"] | {
        "reading": None,
        "settings": SCENE["composition"]["settings"] | {"filters": []},
    }
    made = api(
        browser.base,
        "POST",
        "/api/compositions",
        {"name": "Over there", "place_id": place["id"], **ids, "composition": composition},
    )
    light(browser, made["id"], "Skyline")
    rows = browser.until(
        lambda: browser.test_id("arrivals").text if "boathouse" in browser.test_id("arrivals").text else ""
    )
    told = {m[1]: m[2] for m in re.finditer(r"^(\D+?) (\d\d:\d\d) ", rows, re.M)}
    # The level sunrise is at 07:43; the fell to the east holds it back, on the boathouse less than on the standpoint.
    assert "07:50" < told["boathouse"] < told["standpoint"] < "09:00"
    browser.shows("ground here")
    assert browser.complaints() == []


def downloads(browser: Browser, folder: Path) -> None:
    browser.driver.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(folder)})


def test_the_next_windows_and_a_calendar_of_two(browser: Browser, tmp_path):
    downloads(browser, tmp_path)
    light(browser, copy_of(browser, "Boathouse at first light"), "Light windows")
    browser.shows("windows ahead")
    rows = browser.until(lambda: found if len(found := browser.all("[data-testid='windows'] > li")) == 10 else None)
    for row in rows[1:3]:
        row.find_element("css selector", "label").click()
    wanted = [row.find_element("css selector", "button").text.split("\n")[0] for row in rows[1:3]]
    browser.click("Chosen to a calendar")
    browser.shows("2 windows saved as a calendar")
    file = tmp_path / "light.ics"
    browser.until(lambda: file.exists() and file.stat().st_size)
    events = Calendar.from_ical(file.read_bytes()).walk("VEVENT")
    assert len(events) == 2 == len(wanted)
    assert str(events[0]["location"]) == "Hollin Tarn" and "slippery" in str(events[0]["description"])
    # pressing a window goes there.
    before = browser.test_id("moment").text
    rows[1].find_element("css selector", "button").click()
    browser.until(lambda: browser.test_id("moment").text != before)
    assert browser.complaints() == []


def test_a_wish_that_nothing_grants_says_what_is_in_the_way(browser: Browser):
    light(browser, copy_of(browser, "Tarn turned to glass"), "Light windows")
    browser.shows("Say which light you want")
    browser.by_xpath("//label[normalize-space()='back, right']").click()
    browser.until(lambda: "I want: back light, right" in browser.test_id("asked").text)
    browser.click("Change")
    browser.fill("sun from", "50")
    browser.shows("No window has all of it")
    browser.until(lambda: "sun above 50°" in browser.test_id("lacking").text)
    browser.fill("sun from", "3")
    browser.shows("windows ahead")
    # Undo takes the wish back; it is part of the composition.
    browser.saved()
    browser.until(lambda: "sun above 3°" in browser.test_id("asked").text)
    browser.click("Undo")
    browser.until(lambda: "sun above 3°" not in browser.test_id("asked").text)


def test_the_moon_over_a_bearing_takes_the_day_there(browser: Browser):
    light(browser, copy_of(browser, "Valley head in seven panels"), "Sun or moon in place")
    browser.fill("bearing", "120")
    browser.fill("within", "2")
    browser.click("Find")
    browser.shows("times in these months, on the skyline at 120°")
    first = browser.find("[data-testid='alignments'] > button")
    day = first.text.split("\n")[0]
    first.click()
    browser.until(lambda: day.split(" ", 1)[1] in str(browser.test_id("day-ribbon").get_attribute("aria-valuetext")))
    browser.fill("bearing", "0")
    browser.fill("height, or skyline", "70")
    browser.click("Find")
    browser.shows("comes no nearer than")


def test_the_map_shows_shade_and_makes_a_place_with_its_height(browser: Browser):
    browser.open("/map")
    browser.shows("Hollin valley")
    browser.click("Shade of the terrain")
    shade = "img.leaflet-image-layer[src*='/shade?at=']"
    browser.until(lambda: browser.find(shade).get_property("naturalWidth"))
    first = browser.find(shade).get_attribute("src")
    browser.click("+1 h")
    browser.until(lambda: browser.find(shade).get_attribute("src") != first)
    browser.click("New place in the middle")
    holds(browser, "select", "terrain")
    browser.fill("name", "In the middle")
    browser.click("Save")
    browser.until(lambda: browser.button("In the middle"))
    place = next(p for p in api(browser.base, "GET", "/api/places")["places"] if p["place"]["name"] == "In the middle")
    assert place["place"]["elevation_m"] > 200 and place["place"]["time_zone"] == "Europe/London"
    api(browser.base, "DELETE", f"/api/places/{place['id']}")
    assert browser.complaints() == []


def overlapping(browser: Browser, selector: str) -> list[tuple[str, str]]:
    """Pairs of visible texts that lie across one another."""
    boxes = browser.driver.execute_script(
        "return [...document.querySelectorAll(arguments[0])].filter((e) => e.textContent.trim() &&"
        "getComputedStyle(e).visibility !== 'hidden').map((e) => { const r = e.getBoundingClientRect();"
        "return [e.textContent, r.left, r.top, r.right, r.bottom]; })",
        selector,
    )
    return [
        (a[0], b[0])
        for i, a in enumerate(boxes)
        for b in boxes[i + 1 :]
        if a[1] < b[3] - 1 and b[1] < a[3] - 1 and a[2] < b[4] - 1 and b[2] < a[4] - 1
    ]


@pytest.mark.parametrize("theme", ["day", "dusk", "night"])
def test_long_names_do_not_lie_across_one_another(browser: Browser, theme: str):
    ident = copy_of(browser, "Boathouse at first light")
    made = api(browser.base, "GET", f"/api/compositions/{ident}")
    for element in made["composition"]["elements"]:
        element["name"] = f"the {element['name']} below the long wall of the upper pasture"[:80]
    change = {k: v for k, v in made.items() if k not in ("id", "updated_at")}
    api(browser.base, "PUT", f"/api/compositions/{ident}", change)
    browser.open("/kit")
    browser.driver.execute_script(f"localStorage.setItem('lucid-ridge/theme', '{theme}')")
    browser.open(f"/compositions/{ident}")
    browser.until(lambda: browser.all("[data-testid='view'] text"))
    browser.click("more rows")
    browser.test_id("ribbon-rows")
    assert overlapping(browser, "[data-testid='ribbon-rows'] text") == []
    # A name and the figures below it belong together; names keep apart from one another.
    names = "[data-testid='view'] text[style*='fonts-body']"
    assert overlapping(browser, names) == []
    browser.open("/map")
    browser.click("Hollin Tarn")
    browser.until(lambda: browser.all(".lr-mark span"))
    browser.until(lambda: overlapping(browser, ".lr-mark span") == [])
    api(browser.base, "DELETE", f"/api/compositions/{ident}")


GPX = """<?xml version="1.0"?><gpx version="1.1" creator="t" xmlns="http://www.topografix.com/GPX/1/1">
<trk><name>Ridge way</name><trkseg><trkpt lat="54.12" lon="-2.42"/><trkpt lat="54.13" lon="-2.40"/></trkseg></trk></gpx>"""


def test_files_of_maps_come_in_and_a_hostile_one_is_told_by_name(browser: Browser, tmp_path):
    good, bad = tmp_path / "ridge.gpx", tmp_path / "bomb.gpx"
    good.write_text(GPX)
    bad.write_text('<?xml version="1.0"?><!DOCTYPE g [<!ENTITY a "b">]><gpx/>')
    broken = tmp_path / "broken.tif"
    broken.write_bytes(b"II*\0" + b"\1" * 200)
    places = len(api(browser.base, "GET", "/api/places")["places"])
    browser.open("/map")
    browser.click("Sorrel Beck")
    give(browser, "geography-file", good, bad)
    browser.shows("1 path brought in")
    told = browser.test_id("import-told").text
    assert "bomb.gpx: The file declares a document type" in told
    browser.until(lambda: browser.by_xpath("//input[@value='Ridge way']"))
    give(browser, "terrain-file", broken)
    browser.shows("broken: This is no GeoTIFF")
    assert len(api(browser.base, "GET", "/api/places")["places"]) == places
    track = next(t for t in api(browser.base, "GET", "/api/tracks")["tracks"] if t["name"] == "Ridge way")
    browser.click("Delete Ridge way")
    browser.shows("“Ridge way” deleted")
    browser.click("Undo")
    browser.until(lambda: browser.by_xpath("//input[@value='Ridge way']"))
    api(browser.base, "DELETE", f"/api/tracks/{track['id']}")


def test_a_measured_skyline_a_season_and_a_tide_are_kept(browser: Browser):
    browser.open("/places")
    browser.click("New place")
    browser.fill("name", "Measured bay")
    browser.fill("position, as written or pasted", "-16.8, 179.98")
    browser.choose("horizon", "measured: azimuth and altitude")
    browser.fill("skyline, one point a line: azimuth, altitude", "90, steep")
    browser.shows("Line 1: give an azimuth and an altitude")
    # What was typed is still there, and cannot be saved as nothing.
    holds(browser, "textarea", "90, steep")
    assert not browser.button("Save").is_enabled()
    browser.fill("skyline, one point a line: azimuth, altitude", "80, 6\n120, 9")
    browser.click("Add a season")
    tide = {"name": "bay", "mean_m": 1, "constituents": [{"name": "M2", "amplitude_m": 0.6, "phase_deg": 180}]}
    field = "tide, constituents as JSON"
    browser.fill(field, json.dumps(tide | {"constituents": [{"name": "ZZ", "amplitude_m": 1, "phase_deg": 1}]}))
    browser.click("Save")
    browser.shows("'ZZ' is no constituent that is known here")
    browser.fill(field, json.dumps(tide))
    browser.click("Save")
    browser.shows("16.8000° S")
    saved = next(p for p in api(browser.base, "GET", "/api/places")["places"] if p["place"]["name"] == "Measured bay")
    assert [p["altitude_deg"] for p in saved["place"]["skyline"]] == [6, 9]
    assert saved["seasons"][0]["kind"] == "leaf_colour" and saved["place"]["tide"]["name"] == "bay"
    assert saved["place"]["time_zone"] == "Pacific/Fiji"
    api(browser.base, "DELETE", f"/api/places/{saved['id']}")


def test_the_ribbon_marks_forecast_as_simulated_and_shows_the_tide(browser: Browser):
    light(browser, copy_of(browser, "Withy in the channel"), "Now")
    browser.click("more rows")
    rows = browser.test_id("ribbon-rows")
    browser.until(lambda: "simulated" in rows.text)
    assert "clear sky" in rows.text and "with forecast (simulated)" in rows.text
    assert "Samphire Creek" in rows.text and re.search(r"high \d\d:\d\d \d\.\d m", rows.text)
    browser.shows("Follow the local tide table")
    browser.click("Take the forecast's")
    browser.saved()


def test_a_stale_reading_is_told_beside_it(browser: Browser):
    copy = copy_of(browser, "Withy in the channel")
    light(browser, copy, "Now")
    browser.keys("4")
    browser.until(lambda: "good until" in browser.test_id("freshness").text)
    browser.keys(".", ".", ".", ".")
    browser.until(lambda: "stale" in browser.test_id("freshness").text)
    assert "stale reading" in browser.test_id("chip-shutter").text


@pytest.mark.parametrize(
    ("date", "words"), [("2026-12-21", "The sun does not rise today"), ("2026-06-21", "The sun does not set today")]
)
def test_a_place_without_a_sunrise_says_so(browser: Browser, date, words):
    copy = copy_of(browser, "Tarn turned to glass")
    made = api(browser.base, "GET", f"/api/compositions/{copy}")
    place = SCENE["place"] | {
        "name": f"Far north {date}",
        "latitude_deg": 78.2,
        "longitude_deg": 15.6,
        "time_zone": "Arctic/Longyearbyen",
    }
    place_id = api(browser.base, "POST", "/api/places", {"place": place})["id"]
    composition = made["composition"] | {"moment_utc": f"{date}T11:00:00Z"}
    kept = {k: made[k] for k in ("name", "body_id", "lens_id", "support_id", "version")}
    api(browser.base, "PUT", f"/api/compositions/{copy}", kept | {"place_id": place_id, "composition": composition})
    light(browser, copy, "Day")
    browser.shows(words)
    api(browser.base, "DELETE", f"/api/places/{place_id}")


def test_the_year_picture_takes_a_press(browser: Browser):
    light(browser, copy_of(browser, "Boathouse at first light"), "Light windows")
    browser.shows("windows ahead")
    picture = browser.test_id("year")
    before = browser.test_id("day-ribbon").get_attribute("aria-valuetext")
    browser.driver.execute_script(
        "const b = arguments[0].getBoundingClientRect(); arguments[0].dispatchEvent(new MouseEvent('click', "
        "{bubbles: true, clientX: b.left + b.width * 0.6, clientY: b.top + b.height * 0.5}))", picture,
    )  # fmt: skip
    after = browser.until(
        lambda: text if (text := browser.test_id("day-ribbon").get_attribute("aria-valuetext")) != before else None
    )
    assert "2027" in str(after)


def test_the_change_of_light_over_any_interval_and_events_for_a_calendar(browser: Browser, tmp_path):
    downloads(browser, tmp_path)
    light(browser, copy_of(browser, "Withy in the channel"), "Now")
    browser.fill("or after", "30")
    # The same number as in the table beside it.
    cell = "//*[contains(., 'min')]/following-sibling::button[@data-explain='light.drift:30']"
    browser.until(lambda: browser.test_id("drift-asked").text == browser.by_xpath(cell).text)
    browser.click("Day")
    browser.by_xpath("//label[starts-with(normalize-space(), 'choose sunset')]").click()
    browser.click("Chosen to a calendar")
    browser.shows("1 event saved as a calendar")
    file = tmp_path / "light.ics"
    browser.until(lambda: file.exists() and b"sunset" in file.read_bytes())
