"""Timings as ratios against a baseline in the same run. `./ridge bench`.

Absolute times depend on the machine and on what else it does; the ratios much less so.
"""

from __future__ import annotations

import http.client
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

from skyfield.api import wgs84

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tests.cluster import throwaway_databases

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.topics import TOPICS, SceneRequest
from lucid_ridge.core.light.day import light_day
from lucid_ridge.core.light.ephemeris import _ephemeris
from lucid_ridge.core.technique.changes import Nudge
from lucid_ridge.core.technique.evaluate import evaluate
from lucid_ridge.runtime.serve import start_server, stop_server


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
    timescale, earth, sun = _ephemeris()
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
    with_json, _ = milliseconds(lambda: TOPICS["evaluate"].answer.dump_json(evaluate(TARN_SCENE)), 100)
    with throwaway_databases() as databases, tempfile.TemporaryDirectory() as folder:
        server = start_server(databases.fresh(), 18420, Path(folder) / "log", Path(folder) / "files")
        try:
            median, late, empty = over_http(18420)
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
    print(f"{'':<52} evaluate and its JSON in process {with_json:.2f} ms")


if __name__ == "__main__":
    main()
