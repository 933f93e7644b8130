"""Where a press in the view points, in words."""

from __future__ import annotations

import math

from lucid_ridge.core.light.terrain import position_of
from lucid_ridge.core.records import record
from lucid_ridge.core.solve.pointing import sight
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import degrees_text, distance_text

_NEAREST_M, _FARTHEST_M = 2.0, 60_000.0
_STEP_SHARE = 0.03
"""Places along a sight as a map shows them: each three hundredths farther than the one before."""


@record
class AlongSight:
    """A place along a sight on the map, and how far off it is."""

    distance_m: float
    latitude_deg: float
    longitude_deg: float
    text: str


@record
class Pointed:
    """A press in the view: the distances that it may stand for, the likelier first, and how that is said."""

    bearing_deg: float
    altitude_deg: float
    distance_m: float | None
    terrain_m: float | None
    text: str
    from_deg: tuple[float, float]
    """Latitude and longitude of the standpoint."""
    along: tuple[AlongSight, ...]
    """From near to far."""


def _along(state: State, bearing_deg: float) -> tuple[AlongSight, ...]:
    composition, place, units = state.scene.composition, state.scene.place, state.scene.units
    bearing = math.radians(bearing_deg)
    made, distance = [], _NEAREST_M
    while distance <= _FARTHEST_M:
        east = composition.east_m + distance * math.sin(bearing)
        north = composition.north_m + distance * math.cos(bearing)
        at = position_of(place.latitude_deg, place.longitude_deg, east, north)
        text = distance_text(distance, units)
        made.append(AlongSight(distance_m=distance, latitude_deg=at[0], longitude_deg=at[1], text=text))
        distance *= 1 + _STEP_SHARE
    return tuple(made)


def pointed(state: State, x: float, y: float) -> Pointed:
    """What lies where a press in the view points."""
    found, units = sight(state, x, y), state.scene.units
    composition, place = state.scene.composition, state.scene.place
    parts = [f"towards {degrees_text(found.bearing_deg)}"]
    if found.level_m is not None:
        parts.append(f"{distance_text(found.level_m, units)} off on level ground")
    if found.terrain_m is not None:
        parts.append(f"{distance_text(found.terrain_m, units)} off by the terrain")
    if len(parts) == 1:
        parts.append("above the horizon")
    return Pointed(
        bearing_deg=found.bearing_deg,
        altitude_deg=found.altitude_deg,
        distance_m=found.level_m if found.level_m is not None else found.terrain_m,
        terrain_m=found.terrain_m,
        text=", ".join(parts),
        from_deg=position_of(place.latitude_deg, place.longitude_deg, composition.east_m, composition.north_m),
        along=_along(state, found.bearing_deg),
    )
