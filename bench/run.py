"""Timings as ratios against a baseline in the same run. `./ridge bench`.

Absolute times depend on the machine and on what else it does; the ratios much less so.
"""

from __future__ import annotations

import http.client
import json
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from skyfield.api import wgs84

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from bench import bringing, busy, first_page, light, outing, rehearsal, scale
from tests.browser.conftest import FLAGS, Browser, api, composition_id
from tests.cluster import throwaway_databases

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.requests import SceneRequest
from lucid_ridge.calc.topics import TOPICS
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.camera_moves import StandAt
from lucid_ridge.core.changes.kinds import Nudge, SetTo, TakeSlices
from lucid_ridge.core.light.day import light_day
from lucid_ridge.core.light.ephemeris import _ephemeris
from lucid_ridge.core.state.state import build_state
from lucid_ridge.core.tensions.find import find
from lucid_ridge.demo.compositions import BECK
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.ways.report import ways
from lucid_ridge.runtime.web import start_server, stop_server


def milliseconds(call: Callable[[], object], times: int) -> tuple[float, float]:
    """Median and 95th percentile of a call, in milliseconds."""
    call()
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        call()
        taken.append((time.perf_counter() - start) * 1000)
    return statistics.median(taken), statistics.quantiles(taken, n=20)[18]


def direct_skyfield_day() -> None:
    """Altitude and azimuth of the sun every minute of a day, by Skyfield alone."""
    timescale, bodies = _ephemeris()
    earth, sun = bodies["earth"], bodies["sun"]
    start = datetime(2026, 10, 18, tzinfo=UTC)
    t = timescale.from_datetimes([start + timedelta(minutes=m) for m in range(1441)])
    place = earth + wgs84.latlon(54.1, -2.4)
    place.at(t).observe(sun).apparent().altaz()


def interpolated_day() -> None:
    """The same through our own track, its cache of days emptied."""
    light_day.cache_clear()
    start = datetime(2026, 10, 18, tzinfo=UTC).timestamp()
    light_day(54.1, -2.4, start, start + 86400)


def over_http(port: int) -> tuple[float, float, float]:
    """Median and 95th percentile of POST /api/evaluate, and the median of the empty round trip."""
    connection = http.client.HTTPConnection("127.0.0.1", port)
    bodies = [
        SceneRequest(scene=TARN_SCENE, changes=(Nudge(setting="aperture", steps=step),)).model_dump_json()
        for step in (-2, -1, 0, 1)
    ]
    turn = iter(range(10**6))

    def ask() -> None:
        connection.request("POST", "/api/evaluate", bodies[next(turn) % 4], {"Content-Type": "application/json"})
        connection.getresponse().read()

    def knock() -> None:
        connection.request("POST", "/api/evaluate", "{}", {"Content-Type": "application/json"})
        connection.getresponse().read()

    for _ in range(30):
        ask()
    median, late = milliseconds(ask, 200)
    return median, late, milliseconds(knock, 60)[0]


BECK_SCENE = replace(TARN_SCENE, composition=BECK)
"""The beck in wind: a look of water, leaves to keep sharp, everything free but the focal length."""

FORTY = replace(
    TARN_SCENE,
    composition=replace(
        TARN_SCENE.composition,
        elements=(
            *TARN_SCENE.composition.elements,
            *(
                replace(
                    next(e for e in TARN_SCENE.composition.elements if e.id == "stones"),
                    id=f"s{i}", name=f"stone {i}", east_m=1.5 + 0.7 * (i % 8), north_m=1.5 + 1.1 * (i // 8),
                )
                for i in range(40 - len(TARN_SCENE.composition.elements))
            ),
        ),
    ),
)  # fmt: skip
"""The worked example with forty elements, most of them stones that overlap."""

# Moves the standpoint's handle in the plan and waits each time until the view is drawn anew.
DRAG = """
const done = arguments[0];
const handle = document.querySelector("[aria-label^='Standpoint']");
const svg = handle.ownerSVGElement, view = document.querySelector("[data-testid='view']");
const box = handle.getBoundingClientRect();
let x = box.x + box.width / 2, y = box.y + box.height / 2;
const fire = (target, type) => target.dispatchEvent(new PointerEvent(type, {
  bubbles: true, cancelable: true, button: 0, buttons: 1, pointerId: 1, clientX: x, clientY: y }));
svg.setPointerCapture = () => {};
fire(handle, "pointerdown");
const taken = [];
const step = () => {
  if (taken.length === 80) { fire(svg, "pointerup"); return done(taken); }
  x += taken.length % 16 < 8 ? 2 : -2; y -= taken.length % 16 < 8 ? 1 : -1;
  const start = performance.now();
  const seen = new MutationObserver(() => {
    seen.disconnect();
    requestAnimationFrame(() => { taken.push(performance.now() - start); setTimeout(step, 30); });
  });
  seen.observe(view, { subtree: true, childList: true, attributes: true });
  fire(svg, "pointermove");
};
setTimeout(step, 400);
"""


def drag_over_http(port: int) -> tuple[float, float]:
    """Median and 95th percentile of the evaluation that a drag of the standpoint asks for, forty elements."""
    connection = http.client.HTTPConnection("127.0.0.1", port)
    bodies = [
        SceneRequest(scene=FORTY, changes=(StandAt(east_m=0.02 * i, north_m=-0.01 * i),)).model_dump_json()
        for i in range(20)
    ]
    turn = iter(range(10**6))

    def ask() -> None:
        connection.request("POST", "/api/evaluate", bodies[next(turn) % 20], {"Content-Type": "application/json"})
        connection.getresponse().read()

    for _ in range(10):
        ask()
    return milliseconds(ask, 120)


def drag_in_the_browser(port: int) -> tuple[float, float]:
    """Median and 95th percentile from a move of the hand in the plan to the view drawn anew, in headless Chromium."""
    base = f"http://127.0.0.1:{port}"
    made = api(base, "POST", f"/api/compositions/{composition_id(base, 'Boathouse at first light')}/duplicate")
    document = json.loads(SceneRequest(scene=FORTY).model_dump_json())["scene"]["composition"]
    document["settings"]["filters"] = []
    kept = {k: made[k] for k in ("version", "place_id", "body_id", "lens_id", "support_id")}
    api(base, "PUT", f"/api/compositions/{made['id']}", kept | {"name": "Forty", "composition": document})
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for flag in [*FLAGS, f"--user-data-dir={profile}"]:
            options.add_argument(flag)
        driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        try:
            browser = Browser(driver, base)
            browser.size(1280, 800)
            browser.open(f"/compositions/{made['id']}")
            browser.until(lambda: browser.chip("focal_length"))
            driver.set_script_timeout(120)
            taken = driver.execute_async_script(DRAG)
        finally:
            driver.quit()
    return statistics.median(taken), statistics.quantiles(taken, n=20)[18]


def one_by_one(count: int) -> float:
    """Milliseconds to judge so many techniques each by itself: apply, work out the state, find what breaks."""
    state = changed_state(BECK_SCENE)
    start = time.perf_counter()
    tried = 40
    for k in range(tried):
        changes = (SetTo(setting="aperture", value=5.6 + k % 7), TakeSlices(mode="gapless" if k % 2 else "one"))
        find(build_state(apply_changes(state.scene, changes), earlier=state))
    return (time.perf_counter() - start) * 1000 / tried * count


def line(what: str, ours: float, baseline: str, theirs: float, goal: str) -> None:
    """Print one timing beside its baseline."""
    print(f"{what:<52} {ours:9.2f} ms   {theirs / ours:8.1f} × as fast as {baseline} ({theirs:.1f} ms)   goal: {goal}")


def main() -> None:
    """Print every timing."""
    evaluate(TARN_SCENE)
    direct, _ = milliseconds(direct_skyfield_day, 5)
    ours, _ = milliseconds(interpolated_day, 40)
    line("a day's sun at one minute", ours, "direct Skyfield calls", direct, "under 30 ms")
    core, _ = milliseconds(lambda: evaluate(TARN_SCENE), 100)
    line("evaluate in the core", core, "a day of direct Skyfield calls alone", direct, "")
    beck = changed_state(BECK_SCENE)
    found, found_late = milliseconds(lambda: ways(beck), 20)
    judged = ways(beck).judged
    line(
        f"ways, {judged} techniques (95th {found_late:.0f} ms)",
        found,
        "judging them one by one, from 40",
        one_by_one(judged),
        "under 100 ms",
    )
    with_json, _ = milliseconds(lambda: TOPICS["evaluate"].answer.dump_json(evaluate(TARN_SCENE)), 100)
    with throwaway_databases() as databases, tempfile.TemporaryDirectory() as folder:
        first_page.main(databases)
        bringing.main(databases)
        server = start_server(databases.fresh(), 18420, Path(folder) / "log", Path(folder) / "files")
        try:
            median, late, empty = over_http(18420)
            dragged, dragged_late = drag_over_http(18420)
        finally:
            stop_server(server)
        demo = databases.fresh(demo=True)
        server = start_server(demo, 18420, Path(folder) / "log", databases.files)
        try:
            seen, seen_late = drag_in_the_browser(18420)
        finally:
            stop_server(server)
    line(
        "evaluate at the HTTP boundary, median",
        median,
        "a day of direct Skyfield calls alone",
        direct,
        "median under 15 ms",
    )
    print(f"{'':<52} 95th percentile {late:.2f} ms (goal: under 30 ms); an empty round trip takes {empty:.2f} ms")
    line("a step of a drag with 40 elements, at the HTTP boundary", dragged, "a day of Skyfield calls", direct, "")
    print(f"{'':<52} 95th percentile {dragged_late:.2f} ms (goal: under 100 ms)")
    line("the same, from the hand to the view drawn in Chromium", seen, "a day of Skyfield calls", direct, "")
    print(f"{'':<52} 95th percentile {seen_late:.2f} ms (goal: under 100 ms)")
    print(f"{'':<52} evaluate and its JSON in process {with_json:.2f} ms")
    light.main()
    outing.main()
    rehearsal.main()


def full() -> None:
    """Print how a database with years of work answers, and a server that others keep busy."""
    with throwaway_databases() as databases, tempfile.TemporaryDirectory() as folder:
        scale.main(databases, Path(folder) / "log")
        busy.main(databases)


if __name__ == "__main__":
    full() if sys.argv[1:] == ["full"] else main()
