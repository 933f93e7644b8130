"""Light of sun, sky, Moon and stars against published values, other models and closed forms."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pvlib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from skyfield.api import Star, wgs84

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.daylight.surfaces import LEVEL, SKY, LitSurface, Surface
from lucid_ridge.core.exposure.polarised import passed_stops
from lucid_ridge.core.exposure.tones import tone_of
from lucid_ridge.core.light.clear_sky import beam_lux, clouded, sky_lux, split
from lucid_ridge.core.light.ephemeris import _ephemeris, moon_phase, moon_place
from lucid_ridge.core.light.horizon import flat_horizon
from lucid_ridge.core.light.illuminance import DARK_SKY_LUX, illuminance_lux, natural_lux
from lucid_ridge.core.light.moonlight import MEAN_DISTANCE_AU, moonbeam_lux, moonlit_level_lux
from lucid_ridge.core.light.polarisation import angle_between_deg, mirrored_shares
from lucid_ridge.core.light.stars import declination_deg, longest_s, trail_mm
from lucid_ridge.reports.evaluate import changed_state
from tests.core.conftest import changed

PLACE = TARN_SCENE.place
NOON = datetime(2026, 6, 21, 12, 10, tzinfo=UTC)


@pytest.mark.parametrize(
    ("altitude", "beam", "sky"), [(6, 19_986, 3_106), (10, 40_917, 3_975), (30, 87_970, 7_278), (60, 104_975, 12_034)]
)
def test_beam_and_sky_of_circular_171(altitude, beam, sky):
    # Janiczek and DeYoung, USNO Circular 171 (1987), closed forms from memory, worked out apart from the code.
    assert float(beam_lux(altitude)) == pytest.approx(beam, rel=1e-4)
    assert float(sky_lux(altitude)) == pytest.approx(sky, rel=1e-4)
    # They add up to the circular's own polynomials within 12 per cent, to which they are scaled.
    whole = beam * math.sin(math.radians(altitude)) + sky
    assert whole == pytest.approx(float(illuminance_lux(altitude)), rel=0.13)


@given(st.floats(-30, 90))
def test_beam_and_sky_together_light_level_ground_as_before(altitude):
    both = split(altitude)
    level = float(both.beam) * math.sin(math.radians(max(altitude, 0))) + float(both.sky)
    assert level == pytest.approx(float(natural_lux(altitude)), rel=1e-9)


@pytest.mark.parametrize(("altitude", "within"), [(10, 0.5), (20, 0.5), (30, 0.5), (45, 0.5), (60, 0.5)])
def test_the_split_agrees_with_another_clear_sky_within_the_doubt(altitude, within):
    # Second opinion: Ineichen and Perez (2002) in pvlib, Linke turbidity 3, watts to lux by about 105 lm/W for the beam
    # and 130 for the sky (common practice); half a stop of the one stop of doubt that is told.
    mass = pvlib.atmosphere.get_relative_airmass(90 - altitude)
    found = pvlib.clearsky.ineichen(90 - altitude, mass, 3.0, dni_extra=1364.0)
    both = split(altitude)
    assert abs(math.log2(float(both.beam) / (found["dni"] * 105))) < within
    assert abs(math.log2(float(both.sky) / (found["dhi"] * 130))) < within + 0.3


@given(st.floats(1, 90), st.floats(0, 8))
def test_cloud_takes_its_stops_from_level_ground(altitude, stops):
    clear = split(altitude)
    under = clouded(clear, altitude, stops, 2.0)
    up = math.sin(math.radians(altitude))
    whole, left = (float(one.beam) * up + float(one.sky) for one in (clear, under))
    assert left == pytest.approx(whole * 2**-stops, rel=0.15)
    assert stops < 2 or float(under.beam) == 0


# --- the light on each thing ------------------------------------------------------------------------


def lit(surface, cloud=0.0):
    return LitSurface(PLACE, surface, flat_horizon(), cloud)


def test_what_faces_a_low_sun_gets_four_times_what_the_ground_gets():
    # Sun at 6 degrees: 19986 cos 6 + 3106/2 against 19986 sin 6 + 3106 lux.
    day = np.arange(NOON.timestamp() - 43_200, NOON.timestamp() + 43_200, 60.0)
    from lucid_ridge.core.light.ephemeris import sun_place

    sun = sun_place(day, PLACE.latitude_deg, PLACE.longitude_deg)
    i = int(np.abs(sun.altitude_deg - 6.0)[: len(day) // 2].argmin())
    h, at = math.radians(float(sun.altitude_deg[i])), day[i]
    facing = float(lit(Surface("upright", float(sun.azimuth_deg[i]))).lux(at))
    level, turned = float(lit(LEVEL).lux(at)), float(lit(Surface("upright", float(sun.azimuth_deg[i]) + 180)).lux(at))
    beam, sky = float(beam_lux(math.degrees(h))), float(sky_lux(math.degrees(h)))
    assert facing / level == pytest.approx((beam * math.cos(h) + sky / 2) / (beam * math.sin(h) + sky), rel=1e-6)
    assert 3.5 < facing / level < 4.8
    assert turned / level == pytest.approx(sky / 2 / (beam * math.sin(h) + sky), rel=1e-6)


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 365), st.floats(0, 24), st.floats(0, 360))
def test_no_face_gets_more_than_the_beam_and_the_sky_it_sees(day, hour, faces):
    at = datetime(2026, 1, 1, tzinfo=UTC).timestamp() + day * 86_400 + hour * 3600
    upright = float(lit(Surface("upright", faces)).lux(at))
    sky = float(lit(SKY).lux(at))
    level = float(lit(LEVEL).lux(at))
    assert sky <= level * (1 + 1e-9)
    assert upright >= sky / 2 * (1 - 1e-9)
    shaded = float(lit(Surface("upright", faces), 3.0).lux(at))
    assert shaded <= max(upright, level)


def test_each_thing_changes_at_its_own_rate():
    # In the morning the ground gains most as the sun climbs, what looks away from it only what the sky gains.
    at = (NOON.replace(hour=5, minute=30)).timestamp()
    from lucid_ridge.core.light.ephemeris import sun_place

    azimuth = float(sun_place(at, PLACE.latitude_deg, PLACE.longitude_deg).azimuth_deg)
    gains = [
        math.log2(float(np.divide(*lit(s).lux([at + 3600, at]))))
        for s in (Surface("upright", azimuth), LEVEL, Surface("upright", azimuth + 180))
    ]
    assert 0 < gains[2] < gains[0] < gains[1] - 0.3


def test_a_reading_in_the_shade_stays_one_and_a_subject_keeps_its_own_light():
    scene = changed(TARN_SCENE, moment_utc=TARN_SCENE.composition.moment_utc + timedelta(minutes=45))
    read = replace(TARN_SCENE.composition.reading, element_id=None)
    gained = {
        light: changed_state(changed(scene, reading=replace(read, light=light))).exposure.metered.light_since_stops
        for light in ("as_found", "sun", "shade")
    }
    assert gained["as_found"] == pytest.approx(gained["sun"])
    # In a tree's shade only the sky's light grows.
    assert 0 < gained["shade"] < gained["sun"]
    state = changed_state(scene)
    by_hand = {e.id: i for i, e in enumerate(scene.composition.elements)}
    tones = {name: state.tones[i] for name, i in by_hand.items() if state.tones[i]}
    moved = {name: tones[name].ev100 - scene.composition.elements[by_hand[name]].reading_ev100 for name in tones}
    # The water lies level, the boathouse looks away from the sun: the one gains more than the other.
    assert moved["water"] > moved["boathouse"] > 0
    assert tone_of(scene, by_hand["water"], state.exposure.metered, state.lighting, state.unix_s, 1.0).doubt_stops == 0


# --- the Moon ---------------------------------------------------------------------------------------


@pytest.mark.parametrize(("phase", "lux"), [(0, 0.267), (45, 0.090), (90, 0.024), (135, 0.003)])
def test_moonlight_of_krisciunas_and_schaefer(phase, lux):
    # PASP 103, 1033 (1991), at the zenith and the mean distance, worked out apart from the code.
    found = float(moonbeam_lux(90.0, (1 + math.cos(math.radians(phase))) / 2))
    assert found == pytest.approx(lux, rel=0.02, abs=0.0005)


@pytest.mark.parametrize("altitude", [10, 25, 40, 60, 85])
def test_the_full_moon_agrees_with_circular_171(altitude):
    # The circular's own polynomial for the full Moon on level ground (from memory): within half a stop.
    pieces = {True: (-1.95, 4.06, -4.24, 1.56), False: (-2.58, 12.58, -42.58, 59.06)}[altitude >= 20]
    x = altitude / 90
    theirs = 10 ** sum(c * x**k for k, c in enumerate(pieces))
    assert abs(math.log2(float(moonlit_level_lux(altitude, 1.0)) / theirs)) < 0.5


def test_a_full_moon_is_eight_stops_over_the_dark_sky():
    full = datetime(2026, 1, 3, 0, 30, tzinfo=UTC).timestamp()
    new = datetime(2026, 1, 18, 23, 30, tzinfo=UTC).timestamp()
    assert float(moon_phase(full).lit) > 0.99 and float(moon_phase(new).lit) < 0.01
    bright, dark = (float(lit(LEVEL).lux(at)) for at in (full, new))
    assert dark == pytest.approx(DARK_SKY_LUX)
    assert 7 < math.log2(bright / dark) < 8.5
    # Nearer the Moon is brighter, by the square.
    place = moon_place(full, PLACE.latitude_deg, PLACE.longitude_deg)
    again = moonlit_level_lux(place.altitude_deg, moon_phase(full).lit, place.distance_au)
    assert bright == pytest.approx(float(again) + DARK_SKY_LUX, rel=1e-6)
    assert float(moonbeam_lux(50, 1.0, MEAN_DISTANCE_AU / 2) / moonbeam_lux(50, 1.0)) == pytest.approx(4)


def test_the_light_of_the_night_goes_over_into_the_day_without_a_step():
    at = np.arange(datetime(2026, 1, 3, tzinfo=UTC).timestamp(), datetime(2026, 1, 4, tzinfo=UTC).timestamp(), 30.0)
    for surface in (LEVEL, Surface("upright", 140.0), SKY):
        stops = np.log2(lit(surface).lux(at))
        assert np.abs(np.diff(stops)).max() < 0.25


# --- stars ------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("ra", "declination"), [(2.5, 0.0), (6.0, 45.0), (11.0, -16.0), (2.53, 89.26)])
def test_stars_trail_as_skyfield_says(ra, declination):
    # Directions of a star one minute apart by Skyfield; on the sensor of a 50 mm lens aimed at it.
    timescale, bodies = _ephemeris()
    here = bodies["earth"] + wgs84.latlon(PLACE.latitude_deg, PLACE.longitude_deg)
    star = Star(ra_hours=ra, dec_degrees=declination)
    seen = [here.at(timescale.utc(2026, 2, 1, 22, minute)).observe(star).apparent() for minute in (0, 1)]
    (h0, a0, _), (h1, a1, _) = (one.altaz() for one in seen)
    turned = math.radians(float(angle_between_deg(a0.degrees, h0.degrees, a1.degrees, h1.degrees)))
    own = seen[0].radec(epoch="date")[1].degrees
    # Over a minute arc and chord are alike; refraction and aberration hardly change meanwhile.
    assert float(trail_mm(50.0, own, 60.0)) == pytest.approx(50.0 * turned, rel=2e-3, abs=2e-5)
    altitude, azimuth, _ = seen[0].altaz()
    found = float(declination_deg(azimuth.degrees, altitude.degrees, PLACE.latitude_deg))
    assert found == pytest.approx(own, abs=0.01)


@given(st.floats(8, 600), st.floats(0.002, 0.01), st.floats(1, 20), st.floats(-89, 89))
def test_at_the_longest_time_the_trail_is_as_long_as_allowed(f, pitch, pixels, declination):
    assert float(trail_mm(f, declination, longest_s(f, pitch, pixels, declination))) == pytest.approx(pitch * pixels)


# --- the polariser ----------------------------------------------------------------------------------


@given(st.floats(0, 1), st.floats(0, 1))
def test_a_polariser_passes_by_malus(degree, strength):
    # Light of degree P: half of (1 - P) + P cos^2 of the angle to its own direction passes, over half of all.
    angle = math.radians(90 * strength)
    passes = ((1 - degree) / 2 + degree * math.cos(angle) ** 2) / 0.5
    assert passed_stops(degree, strength) == pytest.approx(-math.log2(max(passes, 0.02)), abs=1e-9)
    assert passed_stops(0.0, strength) == 0.0


def test_sky_and_water_are_darkened_by_their_angles():
    from lucid_ridge.core.stops.filters import FilterInUse

    scene = changed(TARN_SCENE, settings={"filters": (FilterInUse(filter_id="pol", strength=1.0),)})
    off = changed(TARN_SCENE, settings={"filters": ()})
    state, bare = changed_state(scene), changed_state(off)
    by = {e.id: (state.tones[i], bare.tones[i]) for i, e in enumerate(scene.composition.elements)}
    assert by["boathouse"][0].polarised_stops == by["boathouse"][1].polarised_stops == 0
    # The sky there stands about square to the sun: Rayleigh gives most of it; the water at a low angle less.
    assert by["cloud"][0].polarised_stops > 1
    assert 0 < by["water"][0].polarised_stops < by["cloud"][0].polarised_stops
    assert by["cloud"][1].polarised_stops == 0
    # At Brewster's angle nothing is mirrored along the plane of incidence (Born and Wolf).
    across, along = mirrored_shares(53.12)
    assert float(along) < 1e-6 < float(across)
    spread = {name: dict(one.range.element_stops) for name, one in (("with", state), ("without", bare))}
    closer = spread["without"]["cloud"] - spread["without"]["boathouse"]
    assert spread["with"]["cloud"] - spread["with"]["boathouse"] < closer - 1
