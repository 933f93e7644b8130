"""Moon, risings, settings and twilights against published examples and other libraries."""

from __future__ import annotations

import warnings
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from lucid_ridge.core.light.day import light_day
from lucid_ridge.core.light.ephemeris import _ephemeris, geocentric, moon_phase, moon_place, sky_place
from lucid_ridge.core.light.year import track


def unix(*when):
    return datetime(*when, tzinfo=UTC).timestamp()


def test_meeus_examples_47a_and_48a():
    # Meeus, Astronomical Algorithms, examples 47.a (declination 13.768368, distance 368409.7 km, by a theory
    # good to 10 arc-seconds) and 48.a (lit fraction 0.6786): 1992-04-12 0h TD, 59 s ahead of UTC.
    at = unix(1992, 4, 12) - 59
    _, declination, distance = geocentric("moon", at)
    assert declination[0] == pytest.approx(13.768368, abs=0.003)
    assert distance[0] * 149597870.7 == pytest.approx(368409.7, abs=30)
    assert float(moon_phase(at).lit) == pytest.approx(0.6786, abs=0.0005)


@pytest.mark.parametrize("body", ["sun", "moon"])
def test_interpolation_against_direct_skyfield(body):
    # The goal is 0.001 degrees against Skyfield's own altaz, one by one and for a year by the minute.
    from skyfield.api import wgs84

    timescale, bodies = _ephemeris()
    earth = bodies["earth"]
    place = earth + wgs84.latlon(-41.3, 174.8)

    def direct(instants):
        t = timescale.utc(1970, 1, 1 + instants / 86400)
        altitude, azimuth, _ = place.at(t).observe(bodies[body]).apparent().altaz()
        return altitude.degrees, azimuth.degrees

    def misses(altitude, azimuth, instants):
        high, round_ = direct(instants)
        across = ((azimuth - round_ + 180) % 360 - 180) * np.cos(np.radians(high))
        return max(np.abs(altitude - high).max(), np.abs(across).max())

    instants = np.random.default_rng(7).uniform(unix(1950, 1, 1), unix(2049, 1, 1), 300)
    ours = sky_place(body, instants, -41.3, 174.8)
    assert misses(ours.altitude_deg, ours.azimuth_deg, instants) < 0.001
    year = track(-41.3, 174.8, unix(2027, 1, 1), unix(2028, 1, 1))
    some = np.random.default_rng(8).integers(0, len(year.unix_s), 300)
    altitude, azimuth = getattr(year, f"{body}_altitude_deg")[some], getattr(year, f"{body}_azimuth_deg")[some]
    assert misses(altitude, azimuth, year.unix_s[some]) < 0.001


def astropy_altitude(body, instants, latitude, longitude):
    from astropy import units
    from astropy.coordinates import AltAz, EarthLocation, get_body
    from astropy.time import Time
    from astropy.utils import iers

    iers.conf.auto_download = False
    iers.conf.auto_max_age = None
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        where = EarthLocation(lat=latitude * units.deg, lon=longitude * units.deg)
        at = Time(instants, format="unix")
        return get_body(body, at, where).transform_to(AltAz(obstime=at, location=where)).alt.deg


# The polar circle, high north, middle latitude, the equator, the south, and beside the date line.
SIX = [(66.56, 25.0), (78.2, 15.6), (54.1, -2.4), (0.2, -78.5), (-45.0, 168.7), (-16.8, 179.98)]
LEVELS = {
    "astronomical_dawn": -18, "nautical_dawn": -12, "civil_dawn": -6, "sunrise": -0.833, "sunset": -0.833,
    "civil_dusk": -6, "nautical_dusk": -12, "astronomical_dusk": -18,
}  # fmt: skip


@pytest.mark.parametrize(("latitude", "longitude"), SIX)
def test_events_of_six_places_against_astropy(latitude, longitude):
    # Astropy's sun stands at the level of each event within 0.004 degrees when we say it happens, and crosses
    # each level as often as we say: a second or two, except where the sun grazes the level.
    told, instants = [], []
    for month in (1, 3, 4, 6, 7, 9, 11, 12):
        start = unix(2026, month, 21)
        day = light_day(latitude, longitude, start, start + 86400)
        grid = np.linspace(start, start + 86400, 289)
        altitude = astropy_altitude("sun", grid, latitude, longitude)
        for level in (-18, -12, -6, -0.833):
            if np.abs(altitude - level).min() < 0.3 and np.abs(np.diff(altitude)).max() < 0.5:
                continue
            crossings = int(np.count_nonzero(np.diff(altitude >= level)))
            ours = sum(1 for _, name in day.events if LEVELS.get(name) == level)
            assert ours == crossings, (month, level)
        for at, name in day.events:
            if name in LEVELS:
                told.append(LEVELS[name])
                instants.append(at)
    if instants:
        found = astropy_altitude("sun", np.array(instants), latitude, longitude)
        assert np.abs(found - np.array(told)).max() < 0.004
    else:
        assert abs(latitude) > 66


@pytest.mark.parametrize(("latitude", "longitude"), SIX)
def test_the_moon_against_astropy(latitude, longitude):
    # Astropy's built-in lunar theory is good to some arc-seconds.
    instants = np.linspace(unix(2026, 1, 1), unix(2026, 12, 31), 150)
    theirs = astropy_altitude("moon", instants, latitude, longitude)
    assert np.abs(moon_place(instants, latitude, longitude).altitude_deg - theirs).max() < 0.008


def test_full_and_new_moons_of_a_year():
    # Full moons 2026 by the U.S. Naval Observatory's published dates (from memory): 3 January, 3 March (eclipsed),
    # 28 August (partly eclipsed), 24 December; new moons 17 February and 12 August (both solar eclipses).
    days = np.arange(unix(2026, 1, 1), unix(2027, 1, 1), 3600.0)
    lit = moon_phase(days).lit
    inside = lit[1:-1]
    full = days[1:-1][(inside > lit[:-2]) & (inside >= lit[2:])]
    new = days[1:-1][(inside < lit[:-2]) & (inside <= lit[2:])]

    def has(found, *when):
        return np.abs(found - (unix(*when) + 43200)).min() < timedelta(hours=18).total_seconds()

    assert all(has(full, 2026, m, d) for m, d in ((1, 3), (3, 3), (8, 28), (12, 24)))
    assert all(has(new, 2026, m, d) for m, d in ((2, 17), (8, 12)))
