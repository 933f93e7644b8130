"""Outings on screen: plan the dawn, see what falls, choose the better day, tick the list on a phone, write out and read back."""

from __future__ import annotations

import urllib.request
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import gpxpy
import icalendar
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By

from .conftest import Browser, api, composition_id


def _the_fifth_of_december() -> str:
    """The next one that is not over: its light is about the same every year."""
    today = datetime.now(UTC).date()
    this = today.replace(month=12, day=5)
    return str(this if today < this else this.replace(year=this.year + 1))


FIRST = _the_fifth_of_december()


def outing_of(browser: Browser, name: str, day: str | None = FIRST) -> str:
    """A copy of a demo outing, so that tests do not meddle with one another; on a day whose light is known."""
    one = next(o for o in api(browser.base, "GET", "/api/outings")["outings"] if o["name"] == name)
    copy = api(browser.base, "POST", f"/api/outings/{one['id']}/duplicate")
    if day:
        outing = copy["outing"] | {"days": [copy["outing"]["days"][0] | {"date": day}]}
        outing["visits"] = [v | {"margin_min": 15} for v in outing["visits"]]
        body = {"version": copy["version"], "name": copy["name"], "outing": outing}
        api(browser.base, "PUT", f"/api/outings/{copy['id']}", body)
    return str(copy["id"])


def saved(browser: Browser, ident: str) -> dict:
    return dict(api(browser.base, "GET", f"/api/outings/{ident}")["outing"])


@pytest.fixture
def kept(browser: Browser):
    """Outings that a test makes go with it: the next one is the demo's again."""
    made: list[str] = []
    yield made.append
    for ident in made:
        api(browser.base, "DELETE", f"/api/outings/{ident}")


def first_of(browser: Browser, name: str) -> str:
    card = browser.find(f"[data-testid='visit-{name}']").text
    return card.split("\nfirst ")[1][:5]


def test_the_dawn_is_planned_and_ten_minutes_more_make_something_fall(browser: Browser, kept):
    ident = outing_of(browser, "Dawn at the tarn")
    kept(ident)
    browser.open(f"/outings/{ident}")
    browser.shows("4 of 4 pictures; no better plan exists")
    # The first picture is held to its time: then a longer stay there cannot be put where nobody minds.
    card = browser.find("[data-testid^='visit-']")
    name = str(card.get_attribute("data-testid")).removeprefix("visit-")
    browser.find(f"[data-testid='row-{name}']").send_keys("\ue014")
    browser.until(lambda: any(v["first_at"] for v in saved(browser, ident)["visits"]))
    outing = saved(browser, ident)
    moved = next(v["id"] for v in outing["visits"] if v["first_at"])
    browser.find(f"[data-testid='visit-{name}'] button").click()
    browser.fill("To spare", "45")
    browser.click("Done")
    browser.until(lambda: browser.all("[data-testid^='left-out-']"))
    reason = browser.find("[data-testid^='left-out-']").text
    assert "would fit" in reason or "too late" in reason
    browser.click("Undo")
    browser.until(
        lambda: saved(browser, ident)["visits"][[v["id"] for v in outing["visits"]].index(moved)]["margin_min"] == 15
    )
    browser.click("Undo")
    browser.shows("4 of 4 pictures")
    assert browser.complaints() == []


def test_a_bad_value_says_what_it_wants_and_takes_nothing_away(browser: Browser, kept):
    ident = outing_of(browser, "Dawn at the tarn")
    kept(ident)
    browser.open(f"/outings/{ident}")
    browser.find("[data-testid='visit-Tarn turned to glass'] button").click()
    browser.fill("To spare", "9999")
    browser.shows("This must be at most 720.")
    browser.click("Done")
    browser.shows("Not planned, not saved. To spare: This must be at most 720.")
    assert browser.all("[data-testid='visit-Tarn turned to glass']") and browser.all("[data-testid='day-line-0']")
    assert all(v["margin_min"] == 15 for v in saved(browser, ident)["visits"])
    browser.by_xpath("//*[@role='alert']//button[normalize-space()='Undo']").click()
    browser.until(lambda: "Not planned" not in browser.text())
    browser.saved()


def test_what_is_far_is_reached_by_a_drive(browser: Browser, kept):
    ident = outing_of(browser, "Dawn at the tarn")
    kept(ident)
    one = api(browser.base, "GET", f"/api/outings/{ident}")
    outing = one["outing"]
    outing["days"][0]["back_by"] = "20:00:00"
    outing["visits"] = [
        {"id": "w", "composition_id": composition_id(browser.base, "Withy in the channel"), "goal": "any"}
    ]
    api(browser.base, "PUT", f"/api/outings/{ident}", {"version": one["version"], "name": "Far", "outing": outing})
    browser.open(f"/outings/{ident}")
    browser.shows("too far to walk. Add the drive or the boat there.")
    browser.click("Days and ways")
    browser.click("Add a drive")
    browser.choose("To", "Samphire Sands")
    browser.fill("takes", "45")
    browser.click("Done")
    browser.until(lambda: "by car 45 min" in browser.find("[data-testid='visit-Withy in the channel']").text)


def test_a_row_is_put_to_another_time_by_key_and_by_hand(browser: Browser, kept):
    ident = outing_of(browser, "Dawn at the tarn")
    kept(ident)
    browser.open(f"/outings/{ident}")
    name = "Boathouse at first light"
    row = browser.find(f"[data-testid='row-{name}']")
    before = first_of(browser, name)
    browser.driver.execute_script("arguments[0].focus()", row)
    row.send_keys("\ue014", "\ue014")
    browser.until(lambda: first_of(browser, name) != before)
    later = datetime.strptime(first_of(browser, name), "%H:%M") - datetime.strptime(before, "%H:%M")
    assert later == timedelta(minutes=10)
    browser.find(f"[data-testid='row-{name}']").send_keys("\ue017")
    browser.until(lambda: first_of(browser, name) == before)
    row = browser.find(f"[data-testid='row-{name}']")
    ActionChains(browser.driver).move_to_element(row).click_and_hold().move_by_offset(60, 0).release().perform()
    browser.until(lambda: saved(browser, ident)["visits"][1]["first_at"], "nothing nailed by hand")
    browser.chord("\ue009", "z")
    browser.until(lambda: saved(browser, ident)["visits"][1]["first_at"] is None)


def test_the_better_day_is_chosen(browser: Browser, kept):
    tomorrow = (datetime.now(UTC).date() + timedelta(days=1)).isoformat()
    ident = outing_of(browser, "Dawn at the tarn", tomorrow)
    kept(ident)
    browser.open(f"/outings/{ident}")
    browser.click("Which day")
    best = browser.find("[data-testid='best-day']")
    day = best.text.split("\n")[0]
    if "this day" not in best.text:
        best.find_element(By.CSS_SELECTOR, "button").click()
    browser.until(lambda: "this day" in browser.find("[data-testid='best-day']").text)
    browser.until(lambda: browser.find("h2").text.startswith(day))
    date = saved(browser, ident)["days"][0]["date"]
    browser.until(
        lambda: datetime.fromisoformat(saved(browser, ident)["days"][0]["date"]).strftime("%a %-d %b") == day, date
    )
    browser.click("Go or stay")
    browser.shows("simulated: nobody forecast anything")
    browser.click("What else is near?")
    browser.until(lambda: "Take along" in browser.text() or "Nothing near wants" in browser.text())


def test_the_list_is_ticked_on_a_phone_and_what_stayed_at_home_comes_first_the_next_time(browser: Browser, kept):
    ident = outing_of(browser, "Dawn at the tarn")
    kept(ident)
    browser.size(390, 844, phone=True)
    browser.open(f"/outings/{ident}/pack")
    browser.until(lambda: browser.all("[data-testid='group-forgotten'] [role='checkbox']"))
    assert "cable release" in browser.find("[data-testid='group-forgotten']").text
    boxes = browser.all("[role='checkbox']")
    assert all(box.rect["height"] >= 48 for box in boxes)
    for box in boxes[:3]:
        box.click()
    browser.until(lambda: browser.test_id("ticked").text.startswith("3 of"))
    browser.saved()
    browser.driver.refresh()
    browser.until(lambda: browser.test_id("ticked").text.startswith("3 of"))
    browser.fill("A line of your own", "thin rope")
    browser.until(lambda: "thin rope" in browser.find("[data-testid='group-own']").text)
    browser.click("back home")
    browser.until(lambda: browser.all("[data-testid='group-camera'] [role='checkbox']"))[0].click()
    browser.until(lambda: saved(browser, ident)["packing"]["forgotten"])
    assert browser.driver.execute_script("return document.documentElement.scrollWidth") <= 390


def test_what_is_written_out_is_read_back(browser: Browser, kept):
    ident = outing_of(browser, "Dawn at the tarn")
    kept(ident)
    browser.open(f"/outings/{ident}")
    browser.shows("4 of 4 pictures")
    browser.click("Write out")
    links = browser.until(lambda: browser.all("a[href*='/files/']"))
    assert len(links) == 5
    files = {}
    for link in links:
        with urllib.request.urlopen(str(link.get_property("href"))) as answer:
            files[str(link.get_property("href")).split("/files/")[1].split("?")[0]] = answer.read()
    shown = {row.get_attribute("data-testid").removeprefix("row-") for row in browser.all("[data-testid^='row-']")}
    assert {w.name for w in gpxpy.parse(files["gpx"].decode()).waypoints} == shown | {"Lay-by at the dam"}
    events = icalendar.Calendar.from_ical(files["ics"]).walk("VEVENT")
    assert {str(e["summary"]) for e in events} == shown | {"Back at Lay-by at the dam"}
    assert files["pdf"].startswith(b"%PDF") and b"Back by" in files["note.txt"]


def test_home_counts_down_to_the_next_outing(browser: Browser):
    browser.open("/")
    # Which of the demo's outings comes first hangs on the day of the week.
    found = api(browser.base, "GET", "/api/outings/next")
    outing = api(browser.base, "GET", f"/api/outings/{found['id']}")["outing"]
    box = browser.test_id("next-outing")
    assert found["name"] in box.text and f"leave {outing['start']['name']}" in box.text
    browser.by_xpath(f"//*[@data-testid='next-outing']//a[normalize-space()='{found['name']}']").click()
    browser.shows("pictures")
    assert browser.test_id("plan-heading") and browser.driver.current_url.endswith(f"/outings/{found['id']}")


def test_a_new_outing_from_a_place_and_what_is_gone_is_said(browser: Browser, kept):
    browser.open("/outings")
    browser.click("New outing")
    browser.fill("Name", "Evening by the fold")
    browser.choose("Starts at", "Gate below the fold")
    browser.click("Make it")
    browser.shows("Which pictures?")
    ident = browser.driver.current_url.rsplit("/", 1)[1]
    kept(ident)
    browser.click("Add pictures")
    browser.by_xpath("//label[normalize-space()='Stepping stones below the fold']").click()
    browser.click("Add 1")
    browser.until(lambda: browser.all("[data-testid^='visit-'], [data-testid^='left-out-']"))
    browser.until(lambda: len(saved(browser, ident)["visits"]) == 1)
    # Another device changes it meanwhile.
    one = api(browser.base, "GET", f"/api/outings/{ident}")
    body = {"version": one["version"], "name": "Elsewhere", "outing": one["outing"]}
    api(browser.base, "PUT", f"/api/outings/{ident}", body)
    browser.fill("Name of the outing", "Here")
    browser.shows("was saved elsewhere meanwhile")
    browser.click("Save mine over it")
    browser.until(lambda: api(browser.base, "GET", f"/api/outings/{ident}")["name"] == "Here")
    browser.saved()
    gone = one["outing"] | {"visits": [one["outing"]["visits"][0] | {"composition_id": "0" * 32}]}
    body = {"version": one["version"] + 2, "name": "Here", "outing": gone}
    api(browser.base, "PUT", f"/api/outings/{ident}", body)
    browser.driver.refresh()
    browser.shows("A composition is no longer there")


def test_an_empty_installation_says_what_to_do_first(empty_browser: Browser):
    base = empty_browser.base
    # Other tests began with nothing, too; what they made comes back afterwards.
    there = [p["id"] for p in api(base, "GET", "/api/places")["places"]]
    for ident in there:
        api(base, "DELETE", f"/api/places/{ident}")
    try:
        empty_browser.open("/outings")
        empty_browser.shows("No outing yet")
        empty_browser.click("New outing")
        empty_browser.shows("There is no place to start from yet")
        assert not empty_browser.button("Make it").is_enabled()
    finally:
        for ident in there:
            api(base, "POST", f"/api/places/{ident}/restore")


def test_a_path_drawn_by_hand_is_walked_along(browser: Browser):
    browser.open("/map")
    browser.click("Draw a path")
    area = browser.find(".leaflet-container")
    browser.until(lambda: browser.all(".leaflet-tile-loaded"))
    for dx, dy in ((-120, 40), (-60, 60), (0, 90)):
        ActionChains(browser.driver).move_to_element_with_offset(area, dx, dy).click().perform()
    browser.shows("3 points")
    browser.click("Point in the middle")
    browser.shows("4 points")
    browser.click("Take the last back")
    browser.click("Keep it")
    browser.fill("Name", "Sheep track")
    browser.find("[role='dialog'] button.chakra-button:not([aria-label])").click()
    browser.until(lambda: any(t["name"] == "Sheep track" for t in api(browser.base, "GET", "/api/tracks")["tracks"]))
    track = next(t for t in api(browser.base, "GET", "/api/tracks")["tracks"] if t["name"] == "Sheep track")
    assert track["kind"] == "path" and len(track["points"]) == 3
    api(browser.base, "DELETE", f"/api/tracks/{track['id']}")


def test_one_composition_may_be_visited_twice(browser: Browser, kept):
    ident = outing_of(browser, "Dawn at the tarn")
    kept(ident)
    outing = saved(browser, ident)
    twice = composition_id(browser.base, "Boathouse at first light")
    visits = [
        {"id": f"v{k}", "composition_id": twice, "goal": "moment", "moment": f"{9 + 2 * k:02}:00:00"} for k in (0, 1)
    ]
    one = api(browser.base, "GET", f"/api/outings/{ident}")
    body = {"version": one["version"], "name": "Twice", "outing": outing | {"visits": visits}}
    api(browser.base, "PUT", f"/api/outings/{ident}", body)
    browser.open(f"/outings/{ident}")
    browser.shows("2 of 2 pictures")
    assert len(browser.all("[data-testid='visit-Boathouse at first light']")) == 2


def test_on_the_way_the_next_step_and_what_being_late_costs(browser: Browser, kept):
    ident = outing_of(browser, "Dawn at the tarn")
    kept(ident)
    browser.size(390, 844, phone=True)
    browser.open(f"/outings/{ident}/way")
    browser.until(lambda: "leave Lay-by at the dam" in browser.test_id("next-step").text)
    browser.click("5 min")
    browser.shows("Everything still fits.")
    # Held to its minute with little time to get there, the first picture is the first to fall.
    one = api(browser.base, "GET", f"/api/outings/{ident}")
    outing = one["outing"]
    outing["days"] = [outing["days"][0] | {"leave_from": "08:10:00"}]
    outing["visits"] = [
        v | ({"first_at": f"{FIRST}T08:45:00Z"} if v["id"] == "glass-visit" else {}) for v in outing["visits"]
    ]
    api(browser.base, "PUT", f"/api/outings/{ident}", {"version": one["version"], "name": "Late", "outing": outing})
    browser.driver.refresh()
    browser.until(lambda: "08:1" in browser.test_id("next-step").text)
    browser.click("10 min")
    browser.shows("Tarn turned to glass falls")
    assert browser.driver.execute_script("return document.documentElement.scrollWidth") <= 390


def test_on_the_way_what_is_done_is_done_and_the_rest_goes_on_from_there(browser: Browser, kept):
    ident = outing_of(browser, "Dawn at the tarn")
    kept(ident)
    zone = ZoneInfo("Europe/London")
    begun, ends = datetime.now(zone) - timedelta(hours=3), datetime.now(zone) + timedelta(hours=6)
    one = api(browser.base, "GET", f"/api/outings/{ident}")
    day = {"date": str(begun.date()), "leave_from": f"{begun:%H:%M}:00", "back_by": f"{ends:%H:%M}:00"}
    at = [datetime.now(UTC) + timedelta(minutes=m) for m in (-60, 60, 100, 140)]
    nailed = zip(one["outing"]["visits"], at, strict=True)
    visits = [v | {"first_at": f"{m:%Y-%m-%dT%H:%M}:00Z"} for v, m in nailed]
    body = {"version": one["version"], "name": "Now", "outing": one["outing"] | {"days": [day], "visits": visits}}
    api(browser.base, "PUT", f"/api/outings/{ident}", body)
    browser.open(f"/outings/{ident}/way")
    browser.until(lambda: "late" in browser.test_id("next-step").text)
    first = "Done at Tarn turned to glass"
    browser.click(first)
    browser.until(lambda: len(saved(browser, ident)["done"]) == 1)
    # The rest goes on from where that picture was left, at once or after a wait.
    browser.until(lambda: first not in browser.text() and "late" not in browser.test_id("next-step").text)
    browser.click("Begin anew: nothing is done")
    browser.until(lambda: saved(browser, ident)["done"] == [])
