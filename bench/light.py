"""Timings and errors of the light: a year of Sun and Moon, the skyline of a large terrain, the months ahead."""

from __future__ import annotations

import math
import time
import warnings
from collections.abc import Callable
from datetime import UTC, datetime

import numpy as np
import pandas as pd
import pvlib
from scipy.ndimage import gaussian_filter
from skyfield.api import wgs84

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.framing.camera import earth_drop_m
from lucid_ridge.core.light import ephemeris
from lucid_ridge.core.light.ephemeris import _ephemeris, sky_place
from lucid_ridge.core.light.horizon import terrain_horizon
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.light.year import light_windows

PLACE = (54.1, -2.4)
CHUNKS = 30


def once(call: Callable[[], object]) -> float:
    """Seconds of one call."""
    start = time.perf_counter()
    call()
    return time.perf_counter() - start


def best(call: Callable[[], object], times: int) -> float:
    """Seconds of the quickest of some calls."""
    return min(once(call) for _ in range(times))


def fresh_year() -> np.ndarray:
    """A year of minutes, with the nodes of other runs forgotten."""
    for cache in (ephemeris._nodes, ephemeris._phase_nodes):
        cache.cache_clear()
    return datetime(2026, 1, 1, tzinfo=UTC).timestamp() + np.arange(525_600) * 60.0


def year() -> None:
    """Both bodies by the minute against direct Skyfield, one chunk of thirty timed and scaled, and pvlib's SPA."""
    timescale, bodies = _ephemeris()
    instants = fresh_year()
    chunk = instants[::CHUNKS]
    place = bodies["earth"] + wgs84.latlon(*PLACE)

    def direct(body: str) -> tuple[np.ndarray, np.ndarray]:
        t = timescale.utc(1970, 1, 1 + chunk / 86400)
        altitude, azimuth, _ = place.at(t).observe(bodies[body]).apparent().altaz()
        return altitude.degrees, azimuth.degrees

    ours = best(lambda: [sky_place(body, fresh_year(), *PLACE) for body in ("sun", "moon")], 3)
    warm = best(lambda: [sky_place(body, instants, *PLACE) for body in ("sun", "moon")], 3)
    theirs = sum(once(lambda body=body: direct(body)) for body in ("sun", "moon")) * CHUNKS
    worst = {}
    for body in ("sun", "moon"):
        altitude, azimuth = direct(body)
        made = sky_place(body, chunk, *PLACE)
        across = ((made.azimuth_deg - azimuth + 180) % 360 - 180) * np.cos(np.radians(altitude))
        worst[body] = max(np.abs(made.altitude_deg - altitude).max(), np.abs(across).max())
    times = pd.to_datetime(instants, unit="s", utc=True)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        spa = once(lambda: pvlib.solarposition.spa_python(times, *PLACE, how="numpy"))
    sun = best(lambda: sky_place("sun", instants, *PLACE), 3)
    print(f"a year of Sun and Moon by the minute, nodes and all   {ours:9.3f} s    goal: under 0.4 s for both")
    print(
        f"{'':<52} {theirs / ours:8.0f} × as fast as direct Skyfield ({theirs:.0f} s, scaled from a thirtieth); goal: 200 ×"
    )
    print(
        f"{'':<52} with the nodes kept {warm:.3f} s; error Sun {worst['sun']:.6f}°, Moon {worst['moon']:.6f}° (goal: 0.001°)"
    )
    print(f"{'':<52} Sun alone {sun:.3f} s, {spa / sun:.0f} × as fast as pvlib's SPA in numpy ({spa:.1f} s)")


def rough_land(side: int, cell: float) -> Terrain:
    """Rough land, the same every time."""
    noise = np.random.default_rng(1).standard_normal((side, side))
    land = sum(
        s * gaussian_filter(noise, c) / gaussian_filter(noise, c).std() for s, c in ((240, 90), (60, 22), (9, 3))
    )
    return Terrain(land.astype(np.float32), cell, -side * cell / 2, -side * cell / 2, *PLACE)


def skyline() -> None:
    """720 azimuths over 2000 x 2000 cells against one bilinear ray at a time in steps of a cell."""
    land = rough_land(2000, 10.0)
    eye = float(land.height_at(0.0, 0.0)) + 1.6
    distances = np.arange(10.0, 14_000.0, 10.0)
    drop = earth_drop_m(distances)

    def one_by_one(distances: np.ndarray, drop: np.ndarray, azimuths: np.ndarray) -> np.ndarray:
        found = np.empty(len(azimuths))
        for k, azimuth in enumerate(azimuths.tolist()):
            a = math.radians(azimuth)
            heights = land.height_at(distances * math.sin(a), distances * math.cos(a))
            found[k] = np.degrees(np.nanmax(np.arctan((heights - eye - drop) / distances)))
        return found

    ours = best(lambda: terrain_horizon(land, 0.0, 0.0, eye), 5)
    theirs = best(lambda: one_by_one(distances, drop, np.arange(720) / 2), 2)
    dip = -1.76 / 60 * math.sqrt(eye - land.relief_m[0])
    fine, some = np.arange(10.0, 14_000.0, 1.0), np.arange(0.0, 360.0, 2.0)
    exact = np.maximum(one_by_one(fine, earth_drop_m(fine), some), dip)
    error = np.abs(terrain_horizon(land, 0.0, 0.0, eye).at(some) - exact).max()
    print(f"skyline, 720 azimuths over 2000 x 2000 cells          {ours * 1000:9.1f} ms   goal: under 60 ms")
    print(f"{'':<52} {theirs / ours:8.1f} × as fast as one bilinear ray at a time ({theirs * 1000:.0f} ms); goal: 3 ×")
    print(f"{'':<52} error against rays in steps of a metre {error:.3f}° (goal: 0.2°)")


def months() -> None:
    """The windows of twelve months for a wish with direct light."""
    state = changed_state(TARN_SCENE)
    wish = LightWish(sides=("side_right",), lowest_deg=3.0, highest_deg=12.0, moon="up")
    first = once(lambda: light_windows(state, wish))
    again = best(lambda: light_windows(state, wish), 3)
    print(
        f"twelve months of windows, one wish                     {first:9.3f} s    again for another wish {again:.3f} s"
    )


def main() -> None:
    """Print every timing."""
    year()
    skyline()
    months()


if __name__ == "__main__":
    main()
