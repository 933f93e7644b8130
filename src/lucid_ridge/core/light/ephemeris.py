"""Sun and Moon from the JPL ephemeris DE421, interpolated from nodes.

Skyfield gives apparent right ascension, declination, distance and sidereal time at nodes (the Sun
once a day, the Moon every twelve hours); between them Greenwich hour angle, declination and
distance are interpolated. The place on the Earth then comes in as a vector, with the diurnal
parallax. That agrees with direct Skyfield calls to better than 0.001 degrees, and a whole year by
the minute costs a fraction of a second.

References
----------
.. [1] B. Rhodes, Skyfield; W. M. Folkner et al., DE421, JPL IOM 343R-08-003, 2008.
.. [2] J. Meeus, Astronomical Algorithms, 2nd ed., 1998, chapters 11, 40 and 48.

"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any, Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]
BodyName = Literal["sun", "moon"]

FIRST_YEAR, LAST_YEAR = 1900, 2050
FIRST_UNIX = -2208988800.0
"""1900-01-01T00:00Z."""
LAST_UNIX = 2556143999.0
"""2050-12-31T23:59:59Z."""
_BLOCK_DAYS = 64
_NODES_A_DAY: dict[BodyName, int] = {"sun": 1, "moon": 2}
_BESIDE = 2
"""Nodes kept beyond each end of a block, for six-point interpolation."""
_KNOT_S = 1200.0
_AU_KM = 149597870.7
_EQUATOR_KM = 6378.137
_FLATTENING = 1 / 298.257223563


@dataclass(frozen=True)
class SkyPlace:
    """Airless topocentric altitude and azimuth in degrees, distance from the Earth's centre in astronomical units."""

    altitude_deg: Array
    azimuth_deg: Array
    distance_au: Array


@dataclass(frozen=True)
class MoonPhase:
    """Lit share of the Moon's disk 0..1, and its ecliptic longitude east of the Sun's, 0..360 degrees."""

    lit: Array
    elongation_deg: Array


@lru_cache(maxsize=1)
def _ephemeris() -> tuple[Any, Any]:
    from skyfield.api import Loader
    from skyfield_data import get_skyfield_data_path

    load = Loader(str(Path(get_skyfield_data_path())), verbose=False)
    return load.timescale(builtin=True), load("de421.bsp")


def _node_times(body: BodyName, block: int) -> Any:  # noqa: ANN401 - Skyfield has no types
    timescale, _ = _ephemeris()
    rate = _NODES_A_DAY[body]
    count = _BLOCK_DAYS * rate
    days = np.arange(-_BESIDE, count + _BESIDE + 1) / rate + block * _BLOCK_DAYS
    return timescale.utc(1970, 1, 1 + days)


@lru_cache(maxsize=128)
def _nodes(body: BodyName, block: int) -> Array:
    """Rows hour angle, declination (degrees) and distance (au) at the nodes of one block and two beyond each end.

    The hour angle lacks the whole turns of the days, so that it runs on smoothly.
    """
    _, bodies = _ephemeris()
    t = _node_times(body, block)
    right_ascension, declination, distance = bodies["earth"].at(t).observe(bodies[body]).apparent().radec(epoch="date")
    rate = _NODES_A_DAY[body]
    turns = 360.0 * ((np.arange(len(t)) - _BESIDE) % rate) / rate
    hour_angle = 15.0 * (t.gast - right_ascension.hours) - turns
    excess = np.degrees(np.unwrap(np.radians(hour_angle)))
    return np.stack([excess, declination.degrees, distance.au])


@lru_cache(maxsize=64)
def _phase_nodes(block: int) -> Array:
    """Rows lit share and elongation (degrees, running on) of the Moon at its nodes; see `_nodes`."""
    from skyfield.framelib import ecliptic_frame

    _, bodies = _ephemeris()
    seen = bodies["earth"].at(_node_times("moon", block))
    moon, sun = (seen.observe(bodies[one]).apparent() for one in ("moon", "sun"))
    _, moon_longitude, _ = moon.frame_latlon(ecliptic_frame)
    _, sun_longitude, _ = sun.frame_latlon(ecliptic_frame)
    elongation = np.degrees(np.unwrap(np.radians(moon_longitude.degrees - sun_longitude.degrees)))
    return np.stack([np.asarray(moon.fraction_illuminated(bodies["sun"])), elongation])


def _lagrange(rows: Array, at: Array) -> Array:
    """Six-point Lagrange interpolation of *rows* (R, K) at node positions *at* (T,), between its third and third last."""
    i = np.clip(np.floor(at).astype(int), 2, rows.shape[1] - 4)
    u = at - i
    a, b, c, d, e, f = u + 2, u + 1, u, u - 1, u - 2, u - 3
    weights = (
        -b * c * d * e * f / 120, a * c * d * e * f / 24, -a * b * d * e * f / 12,
        a * b * c * e * f / 12, -a * b * c * d * f / 24, a * b * c * d * e / 120,
    )  # fmt: skip
    made = np.zeros((rows.shape[0], len(at)))
    for k, weight in enumerate(weights):
        for row in range(rows.shape[0]):
            made[row] += weight * rows[row].take(i + (k - 2))
    return made


def _in_blocks(unix_s: Array, rate: int, rows: int, nodes: Callable[[int], Array]) -> Array:
    """Interpolate over blocks; instants may be in any order."""
    days = unix_s / 86400.0
    blocks = np.floor(days / _BLOCK_DAYS).astype(int)
    made = np.empty((rows, len(days)))
    for block in range(int(blocks.min()), int(blocks.max()) + 1):
        chosen = np.flatnonzero(blocks == block)
        if not len(chosen):
            continue
        # A stretch in order is a slice, which costs no copies.
        part = slice(chosen[0], chosen[-1] + 1) if chosen[-1] - chosen[0] + 1 == len(chosen) else chosen
        made[:, part] = _lagrange(nodes(block), (days[part] - block * _BLOCK_DAYS) * rate + _BESIDE)
    return made


def _dense(unix_s: Array, rate: int, rows: int, nodes: Callable[[int], Array]) -> Array:
    """The same for many instants: by lines between knots, where that is quicker.

    Over twenty minutes the Moon's declination bends by less than 0.00004 degrees from a line.
    """
    first, last = float(unix_s.min()), float(unix_s.max())
    count = int((last - first) // _KNOT_S) + 2
    if count * 4 > len(unix_s):
        return _in_blocks(unix_s, rate, rows, nodes)
    knots = np.linspace(first, last, count)
    # Angles may start a turn apart in neighbouring blocks.
    through = np.unwrap(_in_blocks(knots, rate, rows, nodes), period=360.0)
    return np.stack([np.interp(unix_s, knots, row) for row in through])


def _checked(unix_s: ArrayLike) -> Array:
    instants = np.atleast_1d(np.asarray(unix_s, dtype=float))
    if instants.min() < FIRST_UNIX or instants.max() > LAST_UNIX:
        raise ValueError(
            f"the sun and the moon are known for the years {FIRST_YEAR} to {LAST_YEAR}; choose a moment among them"
        )
    return instants


def geocentric(body: BodyName, unix_s: ArrayLike) -> tuple[Array, Array, Array]:
    """Greenwich hour angle and declination in degrees, distance in au, seen from the Earth's centre, each (T,).

    Raises
    ------
    ValueError
        Outside the years 1900 to 2050.

    """
    instants = _checked(unix_s)
    hour_angle, declination, distance = _dense(instants, _NODES_A_DAY[body], 3, lambda block: _nodes(body, block))
    return hour_angle + 360.0 * ((instants / 86400.0) % 1.0), declination, distance


def sky_place(body: BodyName, unix_s: ArrayLike, latitude_deg: float, longitude_deg: float) -> SkyPlace:
    """The Sun or the Moon seen from a place on the Earth, without air.

    Parameters
    ----------
    body
        Which.
    unix_s
        Instants in seconds since 1970-01-01 UTC, scalar or array.
    latitude_deg, longitude_deg
        Geodetic, north and east positive, at sea level.

    Raises
    ------
    ValueError
        Outside the years 1900 to 2050, which the packaged ephemeris covers.

    """
    hour_angle, declination, distance = geocentric(body, unix_s)
    h = np.radians(hour_angle + longitude_deg)
    dec, lat = np.radians(declination), np.radians(latitude_deg)
    # The observer's distance from the axis and from the equator's plane, in au (Meeus, chapter 11).
    eccentricity2 = _FLATTENING * (2 - _FLATTENING)
    normal = _EQUATOR_KM / np.sqrt(1 - eccentricity2 * np.sin(lat) ** 2) / _AU_KM
    axis, plane = normal * np.cos(lat), normal * (1 - eccentricity2) * np.sin(lat)
    across = distance * np.cos(dec)
    # Towards the meridian, west, and along the axis; then east, north and up.
    meridian, west, pole = across * np.cos(h) - axis, across * np.sin(h), distance * np.sin(dec) - plane
    north = pole * np.cos(lat) - meridian * np.sin(lat)
    up = pole * np.sin(lat) + meridian * np.cos(lat)
    altitude = np.degrees(np.arctan2(up, np.hypot(west, north)))
    azimuth = np.degrees(np.arctan2(-west, north)) % 360.0
    shape = np.shape(unix_s)
    return SkyPlace(altitude.reshape(shape), azimuth.reshape(shape), distance.reshape(shape))


def sun_place(unix_s: ArrayLike, latitude_deg: float, longitude_deg: float) -> SkyPlace:
    """The Sun; see `sky_place`."""
    return sky_place("sun", unix_s, latitude_deg, longitude_deg)


def moon_place(unix_s: ArrayLike, latitude_deg: float, longitude_deg: float) -> SkyPlace:
    """The Moon; see `sky_place`."""
    return sky_place("moon", unix_s, latitude_deg, longitude_deg)


def moon_phase(unix_s: ArrayLike) -> MoonPhase:
    """Lit share and elongation of the Moon, seen from the Earth's centre.

    Raises
    ------
    ValueError
        Outside the years 1900 to 2050.

    """
    instants = _checked(unix_s)
    lit, elongation = _dense(instants, _NODES_A_DAY["moon"], 2, _phase_nodes)
    shape = np.shape(unix_s)
    return MoonPhase(np.clip(lit, 0.0, 1.0).reshape(shape), (elongation % 360.0).reshape(shape))


@lru_cache(maxsize=4096)
def sun_at(unix_s: float, latitude_deg: float, longitude_deg: float) -> tuple[float, float]:
    """Airless altitude and azimuth of the Sun in degrees at one instant; see `sky_place`."""
    place = sun_place(unix_s, latitude_deg, longitude_deg)
    return float(place.altitude_deg), float(place.azimuth_deg)
