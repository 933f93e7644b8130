"""Exposures in changing light against SciPy's adaptive integration and constant light."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.daylight.surfaces import LEVEL, LitSurface
from lucid_ridge.core.light.ephemeris import moon_phase, moon_place, sun_at
from lucid_ridge.core.light.falling import seconds_in_changing_light
from lucid_ridge.core.light.horizon import flat_horizon
from lucid_ridge.core.light.illuminance import natural_lux
from lucid_ridge.core.light.moonlight import moonlit_level_lux
from lucid_ridge.core.model.scene import Reading
from lucid_ridge.core.stops.filters import FilterInUse
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.explain import explain

from .conftest import changed

LATITUDE, LONGITUDE = 54.1, -2.4
LIT = LitSurface(TARN_SCENE.place, LEVEL, flat_horizon(), 0.0)


def light(unix_s):
    moon = moon_place(unix_s, LATITUDE, LONGITUDE)
    by_moon = moonlit_level_lux(moon.altitude_deg, moon_phase(unix_s).lit, moon.distance_au)
    return float(natural_lux(sun_at(unix_s, LATITUDE, LONGITUDE)[0]) + by_moon)


@settings(max_examples=25, deadline=None)
@given(st.integers(5 * 3600, 19 * 3600), st.floats(1, 600))
def test_the_light_gathered_is_that_of_constant_light(second, constant):
    start = datetime(2026, 10, 18, tzinfo=UTC).timestamp() + second
    taken = seconds_in_changing_light(constant, start, LIT.lux)
    if math.isinf(taken):
        return
    gathered, _ = quad(lambda t: light(start + t) / light(start), 0, taken, limit=200)
    assert gathered == pytest.approx(constant, rel=5e-4)


def test_at_dusk_it_takes_longer_at_dawn_less_and_at_noon_as_long():
    day = datetime(2026, 10, 18, tzinfo=UTC).timestamp()
    dawn, noon, dusk = (seconds_in_changing_light(240, day + h * 3600, LIT.lux) for h in (6.4, 11.9, 17.4))
    assert dawn < 235 and dusk > 245
    assert noon == pytest.approx(240, abs=0.5)


def test_light_that_goes_faster_than_it_is_gathered_never_suffices():
    # Without a Moon, a few days before it is new.
    dusk = datetime(2026, 10, 8, 18, 0, tzinfo=UTC).timestamp()
    assert math.isinf(seconds_in_changing_light(3600, dusk, LIT.lux))


def test_the_ledger_tells_what_a_long_exposure_takes_at_dusk():
    dusk = datetime(2026, 10, 18, 17, 24, tzinfo=UTC)
    reading = Reading(aperture_n=11.313708498984761, shutter_s=0.25, iso=100.0, taken_at_utc=dusk)
    evening = changed(
        TARN_SCENE, moment_utc=dusk, reading=reading, locks=("aperture", "iso"),
        settings={"filters": (FilterInUse(filter_id="nd10"),), "bulb": True},
    )  # fmt: skip
    ledger = evaluate(evening).ledger
    # 1/4 s and ten stops are 256 s; each minute takes away nearly a third of a stop by then.
    assert ledger.shutter.value == pytest.approx(256, rel=1e-6)
    assert ledger.changing.value > 1.1 * 256
    assert ledger.changing.value == pytest.approx(
        seconds_in_changing_light(256, dusk.timestamp(), changed_state(evening).metered_light.lux)
    )
    made = explain(changed_state(evening), "exposure.changing")
    assert made.result == ledger.changing.text and "clear sky" in made.note
    noon = changed(
        evening, moment_utc=dusk.replace(hour=12), reading=replace(reading, taken_at_utc=dusk.replace(hour=12))
    )
    assert evaluate(noon).ledger.changing is None
    short = changed(evening, settings={"filters": (), "bulb": False})
    assert evaluate(short).ledger.changing is None
