"""A phone outside: everything that was taken along opens and works with the server gone, and comes back to it."""

from __future__ import annotations

import time
from contextlib import contextmanager

import pytest

from .conftest import Browser, api
from .outdoors import OUTING, TAKING_ALONG_S, Outdoors, outdoors, outing_id
from .test_accessibility import AXE, findings

BOATHOUSE = "Boathouse at first light"

NOBODY_WAITS_S = 10.0
"""Nothing waits for a server that is gone; how fast the first page shows is measured in `bench.first_page`."""


@pytest.fixture(scope="module")
def away(databases):
    """The dawn is on board of the device, and the server is gone."""
    with outdoors(databases, 18450) as made:
        browser = made.device()
        made.outing = outing_id(made)
        browser.open(f"/outings/{made.outing}")
        browser.saved()
        browser.click("Take along")
        browser.until(
            lambda: "on board" in browser.test_id("on-board").text, "it does not come on board", TAKING_ALONG_S
        )
        made.along = api(made.base, "POST", f"/api/outings/{made.outing}/along")
        yield made


@pytest.fixture
def gone(away):
    away.unserve()
    return away


def sequence_of(made: Outdoors, name: str) -> str:
    return str(next(s["sequence"]["id"] for s in made.along["sequences"] if s["name"] == name))


def test_everything_opens_after_a_cold_start_without_the_server(gone, capsys):
    before = gone.requests()
    gone.off(killed=True)
    browser = gone.device()
    started = time.monotonic()
    browser.open("/")
    # Which of the demo's outings that is hangs on the day of the week.
    browser.shows("Next outing")
    first = time.monotonic() - started
    with capsys.disabled():
        print(f"\nfirst page without a server: {first:.2f} s")
    assert first < NOBODY_WAITS_S
    boathouse = sequence_of(gone, BOATHOUSE)
    for path, words in (
        ("/", "10 compositions"),
        ("/outings", "Two days in the valley"),
        (f"/outings/{gone.outing}", "Without a connection"),
        (f"/outings/{gone.outing}/way", "leave Lay-by at the dam"),
        (f"/outings/{gone.outing}/pack", "Look out for"),
        (f"/outings/{gone.outing}/cards", "The note to leave with somebody"),
        (f"/field/{boathouse}", "slippery"),
        (f"/field/{boathouse}/spot", "The account"),
        (f"/field/{boathouse}/soft", "Try first"),
        (f"/measure?sequence={boathouse}", "Find where I stand"),
        ("/board", "they open without a network"),
        ("/words", "standpoint"),
    ):
        browser.open(path)
        browser.shows(words)
    assert browser.complaints() == []
    assert gone.requests() == before


def test_what_is_on_board_is_small_and_says_how_fresh_it_is(gone):
    browser = gone.device()
    browser.open("/board")
    words = browser.test_id(f"board-{OUTING}").text
    assert "min ago" in words or "just now" in words
    size = next(float(part.split(" MB")[0]) for part in words.split(" · ") if " MB" in part)
    assert size < 12
    used = browser.driver.execute_async_script(
        "const done = arguments[0]; navigator.storage.estimate().then((e) => done(e.usage))"
    )
    assert used < 12_000_000, "with the pages and the ground"


def test_the_ground_is_drawn_without_the_server(gone):
    browser = gone.device()
    browser.size(1280, 800)
    browser.open(f"/outings/{gone.outing}")
    browser.until(
        lambda: browser.driver.execute_script(
            "const all = [...document.querySelectorAll('img.leaflet-tile')];"
            "return all.length > 2 && all.every((one) => one.complete && one.naturalWidth === 256)"
        ),
        "no picture of the ground",
    )


def test_a_sequence_is_carried_out_through_a_reload_and_a_kill_and_handed_in_once(gone):
    browser = gone.device()
    sequence = sequence_of(gone, "Valley head in seven panels")
    browser.open("/words")
    browser.driver.execute_script("localStorage.setItem('lucid-ridge/clock-rate', '200')")
    browser.open(f"/field/{sequence}")
    browser.click("Begin")
    count = int(browser.by_xpath("//*[contains(., 'frame 1 of ')]").text.split("frame 1 of ")[1].split(",")[0])
    for number in (1, 2, 3):
        browser.shows(f"frame {number} of {count}")
        browser.keys(" ")
        if number == 2:
            browser.driver.refresh()
    browser.shows(f"frame 4 of {count}")
    browser.until(lambda: kept(browser) == 3)
    gone.off(killed=True)
    browser = gone.device()
    browser.open(f"/field/{sequence}")
    browser.shows(f"frame 4 of {count}")
    assert kept(browser) == 3
    for number in range(4, count + 1):
        browser.shows(f"frame {number} of {count}")
        browser.click("Start")
    browser.shows("Sequence done")
    browser.click("4 of 5")
    browser.click("Write the take")
    browser.shows("Kept on this device")
    gone.off(killed=True)
    browser = gone.device()
    browser.open("/board")
    browser.until(lambda: len(browser.all("[data-testid='outbox-waiting']")) == 1)
    gone.serve()
    browser.click("Try to send it now")
    browser.until(lambda: len(browser.all("[data-testid='outbox-sent']")) == 1)
    takes = [t for t in api(gone.base, "GET", "/api/takes")["takes"] if t["frames_planned"] == count]
    assert [(t["frames_done"], t["rating"]) for t in takes if t["started_at"] > "2026-11"] == [(count, 4)]


def kept(browser: Browser) -> int:
    return int(browser.test_id("field").get_attribute("data-kept"))


def test_another_light_gets_its_answer_and_the_sequence_goes_on_with_it(gone):
    browser = gone.device()
    sequence = sequence_of(gone, BOATHOUSE)
    browser.open(f"/field/{sequence}/spot")
    planned = browser.test_id("spot-shutter").text
    for _ in range(3):
        browser.click("Darker")
    browser.until(lambda: browser.test_id("spot-shutter").text != planned)
    darker = browser.test_id("spot-shutter").text
    assert seconds(darker) / seconds(planned) == pytest.approx(2, rel=0.15)
    rows = browser.test_id("spot-ledger").text.split("\n")
    assert rows[-1].endswith(darker)
    browser.choose("In front of the lens", "ND 6 stops")
    browser.until(lambda: browser.test_id("spot-shutter").text != darker)
    # Six stops for one and a third of the polariser.
    assert seconds(browser.test_id("spot-shutter").text) / seconds(darker) == pytest.approx(2 ** (6 - 4 / 3), rel=0.15)
    found = browser.test_id("spot-shutter").text
    browser.click(f"Go on with {found}")
    browser.shows("On the spot: metered")
    browser.click("Begin")
    browser.shows("ND 6 stops")
    assert found in browser.test_id("field").text
    browser.open(f"/field/{sequence}/spot")
    browser.click("Later")
    browser.shows("stops")


def seconds(text: str) -> float:
    value = text.split(" ", maxsplit=1)[0]
    top, _, bottom = value.partition("/")
    return float(top) / float(bottom or 1)


def test_why_it_is_soft_and_what_was_tried_goes_into_the_take(gone):
    browser = gone.device()
    sequence = sequence_of(gone, BOATHOUSE)
    browser.open(f"/field/{sequence}/soft")
    browser.click("by hand")
    for _ in range(9):
        browser.click("Longer")
    first = browser.test_id("soft-first").text
    assert "Put it on the stand" in first
    browser.click("It did not")
    browser.until(lambda: "Put it on the stand" not in browser.test_id("soft-first").text)
    assert "Try next" in browser.test_id("soft-first").text
    browser.click("It helped")
    browser.until(lambda: browser.driver.current_url.endswith(f"/field/{sequence}"))
    browser.driver.execute_script("localStorage.setItem('lucid-ridge/clock-rate', '400')")
    browser.driver.refresh()
    browser.until(lambda: browser.all("button") and ("Begin" in browser.text() or browser.startable()))
    if "Begin" in browser.text():
        browser.click("Begin")
    browser.click("Start")
    browser.shows("Sequence done")
    browser.click("Write the take")
    browser.shows("Kept on this device")
    gone.serve()
    browser.click("Try to send it now")
    browser.until(lambda: "/logbook/" in browser.driver.current_url)
    take = api(gone.base, "GET", f"/api/takes/{browser.driver.current_url.split('/')[-1]}")
    assert "Put it on the stand" in take["note"] and "It did not help." in take["note"] and "It helped." in take["note"]
    assert "On the spot: metered" in take["note"]


def test_ticks_outlive_a_kill_and_meet_the_desk_in_a_conflict(gone):
    browser = gone.device()
    browser.open(f"/outings/{gone.outing}/pack")
    browser.shows("Look out for")
    boxes = browser.until(lambda: browser.all("[role=checkbox]"))
    for box in boxes[:3]:
        browser.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", box)
        box.click()
    browser.until(lambda: browser.test_id("ticked").text.startswith("3 of"))
    time.sleep(0.2)
    gone.off(killed=True)
    browser = gone.device()
    browser.open(f"/outings/{gone.outing}/pack")
    browser.until(lambda: browser.test_id("ticked").text.startswith("3 of"))
    browser.open("/board")
    browser.shows("ticks and changes")
    gone.serve()
    saved = api(gone.base, "GET", f"/api/outings/{gone.outing}")
    assert saved["outing"]["packing"]["ticked"] == []
    body = {"version": saved["version"], "name": "Dawn, from the desk", "outing": saved["outing"]}
    api(gone.base, "PUT", f"/api/outings/{gone.outing}", body)
    browser.open(f"/outings/{gone.outing}/pack")
    browser.shows("Dawn, from the desk")
    browser.click("Save mine over it")
    browser.saved()
    after = api(gone.base, "GET", f"/api/outings/{gone.outing}")
    assert len(after["outing"]["packing"]["ticked"]) == 3
    assert after["name"] == OUTING


def test_on_the_way_what_falls_is_told_without_a_connection(away):
    """The clock of the device is set to the outing: what is left late makes others fall, out of what is on board."""
    away.serve()
    visits = away.along["plan"]["plan"]["days"][0]["visits"]
    outing, done, late = away.along["outing"]["outing"], [], None
    for visit in visits[:-1]:
        body = {"outing": {**outing, "done": done}, "visit_id": visit["visit_id"]}
        body["now"] = done[-1]["left_at"] if done else None
        later = api(away.base, "POST", "/api/outings/late", body)["later"]
        counts = {one["minutes"]: sum(len(d["visits"]) for d in one["plan"]["days"]) for one in later}
        late = next(((visit, m) for m in (5, 10, 20) if counts.get(m, 0) < counts[0]), None)
        if late:
            break
        done.append({"visit_id": visit["visit_id"], "left_at": visit["leave_by"]["at_utc"]})
    away.unserve()
    browser = away.device()
    visit, minutes = late or (visits[0], 5)
    done = done if late else []
    browser.open("/words")
    by_id = {v["visit_id"]: v for v in visits}
    for before in done:
        with clock_at(browser, before["left_at"]):
            browser.open(f"/outings/{away.outing}/way")
            browser.click(f"Done at {by_id[before['visit_id']]['name']}")
            browser.until(
                lambda before=before: by_id[before["visit_id"]]["name"] not in browser.all("main button")[0].text
            )
            time.sleep(0.3)
    with clock_at(browser, visit["first"]["at_utc"]):
        browser.open(f"/outings/{away.outing}/way")
        browser.shows("Without a connection")
        browser.shows(f"Done at {visit['name']}")
        assert browser.by_xpath(f"//a[contains(., 'Carry out {visit['name']}')]")
        browser.click(f"{minutes} min")
        browser.shows("falls" if late else "Everything still fits")
        browser.click(f"Done at {visit['name']}")
        browser.until(lambda: f"Done at {visit['name']}" not in browser.text())
        browser.click("Begin anew: nothing is done")
        browser.until(lambda: "Begin anew" not in browser.text())
    away.serve()
    browser.saved()


@contextmanager
def clock_at(browser: Browser, instant: str):
    """The device's clock set to an instant, for pages opened meanwhile."""
    script = (
        f"const shift = Date.parse({instant!r}) + 30000 - Date.now(); const real = Date.now;"
        "Date.now = () => real.call(Date) + shift;"
        "const Real = Date; window.Date = class extends Real {"
        " constructor(...all) { if (all.length) super(...all); else super(Real.now()); } };"
    )
    added = browser.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": script})
    try:
        yield
    finally:
        browser.driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", added)


def test_without_room_it_is_said_and_what_was_on_board_stays(away):
    away.serve()
    browser = away.device()
    browser.open(f"/outings/{away.outing}")
    browser.saved()
    browser.driver.execute_script(
        "IDBObjectStore.prototype.put = () => { throw new DOMException('no room', 'QuotaExceededError'); }"
    )
    browser.click("Take along again")
    browser.until(lambda: "no room" in browser.text(), "nothing is said of the room", TAKING_ALONG_S)
    browser.open("/board")
    browser.test_id(f"board-{OUTING}")
    browser.click("Take off")
    browser.until(lambda: not browser.all(f"[data-testid='board-{OUTING}']"))
    browser.undo()
    browser.test_id(f"board-{OUTING}")


@pytest.mark.parametrize("theme", ["day", "dusk", "night"])
def test_the_outside_pages_are_fit_for_everybody(away, theme):
    away.serve()
    browser = away.device()
    boathouse = sequence_of(away, BOATHOUSE)
    for path, words in (
        ("/board", "With this device"),
        (f"/outings/{outing_id(away)}/cards", "The note to leave"),
        ("/trust", "Have this device trust"),
        ("/pair", "Sign this device in"),
        (f"/field/{boathouse}/spot", "The account"),
        (f"/field/{boathouse}/soft", "Pixels of the sensor"),
        (f"/measure?sequence={boathouse}", "Measured so far"),
    ):
        browser.open(path)
        browser.driver.execute_script(f"localStorage.setItem('lucid-ridge/theme', '{theme}')")
        browser.open(path)
        browser.shows(words)
        browser.driver.execute_script(AXE.read_text())
        assert findings(browser, path, theme) == {}
        assert browser.driver.execute_script("return document.documentElement.scrollWidth") <= 390, path
        small = browser.driver.execute_script(
            "return [...document.querySelectorAll('main button, main a, main select, main summary')]"
            ".filter((e) => e.offsetParent && Math.min(e.getBoundingClientRect().height, 999) < 47.5"
            " && !e.closest('p, code'))"
            ".map((e) => e.textContent.slice(0, 30) + ' ' + Math.round(e.getBoundingClientRect().height))"
        )
        if path.startswith(("/field", "/measure")):
            assert small == [], path
