"""Skylines against closed forms and a slow exact method; tides against UTide; weather and polarisation."""

from __future__ import annotations

import math
import warnings
from datetime import UTC, datetime

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter

from lucid_ridge.core.framing.camera import EARTH_RADIUS_M, earth_drop_m
from lucid_ridge.core.light.horizon import measured_horizon, sea_horizon, terrain_horizon
from lucid_ridge.core.light.polarisation import brewster_deg, glare_removed, mirrored_shares, sky_polarisation
from lucid_ridge.core.light.terrain import Terrain, lie_of, position_of
from lucid_ridge.core.light.tide import KINDS, tide_height, turns
from lucid_ridge.core.light.weather import cloud_stops


def terrain(height, cell=10.0, side=1001):
    """A square terrain about its origin from a function of east and north."""
    axis = (np.arange(side) - side // 2) * cell
    east, north = np.meshgrid(axis, axis)
    return Terrain(height(east, north).astype(np.float32), cell, axis[0], axis[0], 54.1, -2.4)


def test_cone():
    # Closed form of a cone seen from the ground, no curvature; what curvature and refraction then take off is
    # d^2 (1 - k) / (2 R) at the foot of the tangent, at most 0.02 degrees here.
    land = terrain(lambda e, n: np.maximum(0.0, 600 * (1 - np.hypot(e, n - 4000) / 1500)), side=1201)
    made = terrain_horizon(land, 0, 0, 0.0).at([0, 5, 10, 15, 20])
    flat = np.array([8.530766, 6.679540, 4.763492, 2.800460, 0.809503])
    curved = np.degrees(np.arctan(np.tan(np.radians(flat)) - float(earth_drop_m(4000)) / 4000))
    assert np.abs(made - curved).max() < 0.01
    assert made[0] < flat[0]


def test_straight_ridge_with_curvature():
    # tan h = (H - drop) / (d0 / cos a), the drop at the distance along the sight.
    land = terrain(lambda e, n: np.where(n >= 3000, 400.0, 0.0), cell=10.0, side=1201)
    azimuths = np.array([0.0, 20.0, 40.0])
    away = 3000 / np.cos(np.radians(azimuths))
    expected = np.degrees(np.arctan((400 - earth_drop_m(away)) / away))
    assert np.abs(terrain_horizon(land, 0, 0, 0.0).at(azimuths) - expected).max() < 0.04
    assert terrain_horizon(land, 0, 0, 0.0, azimuths=720).distance_m[0] == pytest.approx(3000, abs=15)


def test_inclined_plane():
    # On a plane of slope s the skyline stands at atan(s cos a) above level, uphill; downhill lies the dip.
    slope = 0.2
    land = terrain(lambda e, n: slope * n, side=401)
    made = terrain_horizon(land, 0, 0, 0.0)
    azimuths = np.array([0.0, 30.0, 60.0])
    expected = np.degrees(np.arctan(slope * np.cos(np.radians(azimuths))))
    assert np.abs(made.at(azimuths) - expected).max() < 0.02
    assert made.at(180.0) < 0


def rough(seed, side=700):
    noise = np.random.default_rng(seed).standard_normal((side, side))
    land = sum(
        size * gaussian_filter(noise, cells) / gaussian_filter(noise, cells).std()
        for size, cells in ((160, 45), (40, 12), (8, 3))
    )
    return Terrain(land.astype(np.float32), 20.0, -side * 10.0, -side * 10.0, 46.0, 8.0)


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_rough_land_against_the_slow_exact_method(seed):
    # One ray at a time in steps of a quarter cell, bilinear.
    land = rough(seed)
    eye = float(land.height_at(130, -250)) + 1.6
    made = terrain_horizon(land, 130, -250, eye)
    distances = np.arange(20.0, 14_000, 5.0)
    worst = 0.0
    for azimuth in range(0, 360, 9):
        a = math.radians(azimuth)
        heights = land.height_at(130 + distances * math.sin(a), -250 + distances * math.cos(a))
        slow = np.degrees(np.nanmax(np.arctan((heights - eye - earth_drop_m(distances)) / distances)))
        # Below the dip of the lowest land that is taken to go on, nothing is seen by either.
        dip = -1.76 / 60 * math.sqrt(eye - land.relief_m[0])
        worst = max(worst, abs(float(made.at(azimuth)) - max(slow, dip)))
    assert worst < 0.2


@pytest.mark.parametrize("seed", [4, 5])
@pytest.mark.parametrize("eye_m", [0.3, 1.6, 12.0])
def test_close_to_the_camera_every_rise_is_seen(seed, eye_m):
    # Rough ground in coarse cells, so that what hides the sky stands within the first few: against steps of a
    # fiftieth of a cell. Between the grid's lines bilinear ground is a little higher than the lines at times.
    land = rough(seed, side=200)
    land = Terrain(land.heights_m * 3, 90.0, -9000.0, -9000.0, 46.0, 8.0)
    rng = np.random.default_rng(seed)
    worst = 0.0
    for east, north in rng.uniform(-4000, 4000, (12, 2)):
        eye = float(land.height_at(east, north)) + eye_m
        made = terrain_horizon(land, east, north, eye)
        distances = np.concatenate([np.arange(0.2, 2000, 1.8), np.arange(2000, 18_000, 9.0)])
        for azimuth in range(0, 360, 15):
            a = math.radians(azimuth)
            heights = land.height_at(east + distances * math.sin(a), north + distances * math.cos(a))
            slow = np.degrees(np.nanmax(np.arctan((heights - eye - earth_drop_m(distances)) / distances)))
            dip = -1.76 / 60 * math.sqrt(max(eye - land.relief_m[0], 0))
            worst = max(worst, abs(float(made.at(azimuth)) - max(slow, dip)))
    assert worst < 0.2


def test_a_crest_within_the_first_cell_hides_the_sky():
    # A slope of 20 degrees up to a crest 12 m ahead, in cells of 12 m: (12 tan 20 - 1.6)/12 above level.
    steep = math.tan(math.radians(20))
    land = terrain(lambda e, n: steep * np.minimum(n, 24 - n), cell=12.0, side=401)
    expected = math.degrees(math.atan(steep - 1.6 / 12))
    assert float(terrain_horizon(land, 0, 0, 1.6).at(0)) == pytest.approx(expected, abs=0.01)


@pytest.mark.parametrize("away", [333.0, 1203.7, 4411.0])
def test_a_sharp_crest_between_the_samples_is_not_cut_off(away):
    # A roof of 45 degrees whose ridge lies on a line of the grid, seen from odd places.
    land = terrain(lambda e, n: np.maximum(0.0, 400 - np.abs(n - 6000)), cell=25.0, side=801)
    for east in (0.0, 7.3):
        made = terrain_horizon(land, east, 6000 - away, 2.0)
        ground = max(0.0, 400 - away)
        eye = max(2.0, ground)
        expected = math.degrees(math.atan((400 - eye - float(earth_drop_m(away))) / away))
        assert float(made.at(0)) == pytest.approx(expected, abs=0.01)


def test_dip_of_the_sea():
    # Bowditch: 1.76' sqrt(h); 100 m stands 17.6' above its horizon, 38.6 km away with refraction k = 0.13.
    made = sea_horizon(100.0)
    assert float(made.at(12.0)) == pytest.approx(-17.6 / 60, abs=1e-6)
    assert made.distance_m[0] == pytest.approx(math.sqrt(2 * EARTH_RADIUS_M / 0.87 * 100), rel=1e-9)


def test_a_measured_skyline_goes_through_its_points_and_round():
    made = measured_horizon([350, 10, 100], [4, 8, 2])
    assert made.at([350, 10, 100]) == pytest.approx([4, 8, 2], abs=0.05)
    assert float(made.at(0)) == pytest.approx(6, abs=0.05)
    assert float(made.at(225)) == pytest.approx(3, abs=0.05)


def test_a_place_lies_where_it_should_in_a_terrain():
    # The other way round by the same geodesic; the convergence over 20 km east at 54 degrees is 0.25 degrees.
    land = terrain(lambda e, n: e * 0.0)
    latitude, longitude = position_of(54.1, -2.4, 20_000.0, 0.0)
    lie = lie_of(land, latitude, longitude)
    assert (lie.east_m, lie.north_m) == pytest.approx((20_000.0, 0.0), abs=0.01)
    assert abs(lie.turn_deg) == pytest.approx((longitude + 2.4) * math.sin(math.radians(latitude)), abs=0.001)
    # A step to true north there ends where its own position says.
    east, north = lie.to_grid(0.0, 1000.0)
    further = lie_of(land, *position_of(latitude, longitude, 0.0, 1000.0))
    assert (float(east), float(north)) == pytest.approx((further.east_m, further.north_m), abs=0.05)


STATION = (
    ("M2", 1.2, 318.0), ("S2", 0.42, 2.0), ("N2", 0.24, 295.0), ("K2", 0.12, 359.0), ("K1", 0.11, 186.0), ("O1", 0.11, 41.0),
    ("P1", 0.04, 178.0), ("Q1", 0.03, 350.0), ("M4", 0.1, 210.0), ("MS4", 0.06, 262.0), ("MN4", 0.03, 180.0),
)  # fmt: skip


@pytest.mark.parametrize("year", [1998, 2006, 2015, 2026])
def test_tide_against_utide(year):
    # UTide's own reconstruction from the same constituents, nodal corrections at every instant (0.01 m on a
    # 2 m tide); years at both ends of the Moon's node and between.
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        from utide._ut_constants import ut_constants
        from utide.harmonics import ut_E
    names = [str(name).strip() for name in ut_constants.const.name]
    index = np.array([names.index(name) for name, _, _ in STATION])
    at = datetime(year, 5, 1, tzinfo=UTC).timestamp() + np.arange(0, 20 * 86400, 900.0)
    days = at / 86400 + 719163
    waves = ut_E(days, days.mean(), ut_constants.const.freq[index], index, 54.0, [0, 0, 0, 0], [])
    amplitude = np.array([a for _, a, _ in STATION]) * np.exp(-1j * np.radians([g for _, _, g in STATION]))
    theirs = np.real(waves @ amplitude)
    assert np.abs(tide_height(at, 0.0, STATION) - theirs).max() < 0.01


def test_a_solar_tide_is_high_at_noon_and_midnight():
    # By its definition S2 with no phase lag culminates with the mean sun at Greenwich.
    at = datetime(2026, 3, 1, tzinfo=UTC).timestamp() + np.arange(0, 86401, 300.0)
    found = turns(at, tide_height(at, 3.0, [("S2", 1.0, 0.0)]))
    highs = [t for t, h, high in found if high]
    assert highs == pytest.approx([at[0] + 43200], abs=1)
    assert all(h == pytest.approx(4.0 if high else 2.0, abs=1e-3) for _, h, high in found)


def test_every_constituent_has_its_published_speed():
    # Degrees an hour, Pugh and Woodworth, table 4.1 (from memory): the angle of V gained in an hour.
    speeds = {
        "M2": 28.9841042, "S2": 30.0, "N2": 28.4397295, "K2": 30.0821373, "K1": 15.0410686, "O1": 13.9430356,
        "P1": 14.9589314, "Q1": 13.3986609, "M4": 57.9682084, "MF": 1.0980331, "MM": 0.5443747, "SSA": 0.0821373,
    }  # fmt: skip
    rates = np.array([15.0, 0.5490165, 0.0410686, 0.0046418, 0.0022064, 0.0000020])
    for name, speed in speeds.items():
        assert float(np.array(KINDS[name].multiples) @ rates) == pytest.approx(speed, abs=2e-6)


def test_polarisation():
    # Rayleigh: nothing towards the sun, all at right angles, 1/3 at 45 degrees.
    assert sky_polarisation([0, 90, 45]) == pytest.approx([0, 1, 1 / 3])
    # Brewster's angle of water, 53.1 degrees; normal incidence mirrors 2 %.
    assert brewster_deg() == pytest.approx(53.12, abs=0.01)
    assert float(glare_removed(brewster_deg())) == pytest.approx(1.0, abs=1e-9)
    assert float(mirrored_shares(0.0)[0]) == pytest.approx(0.0204, abs=0.0002)
    assert float(glare_removed(0.0)) == pytest.approx(0.0, abs=1e-9)


def test_cloud():
    # Kasten and Czeplak 1980: an overcast sky lets a quarter through, two stops.
    assert cloud_stops([0.0, 1.0]) == pytest.approx([0.0, 2.0])
