"""Where a press in the view points, in words."""

from __future__ import annotations

from lucid_ridge.core.records import record
from lucid_ridge.core.solve.pointing import sight
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import degrees_text, distance_text


@record
class Pointed:
    """A press in the view: the distances that it may stand for, the likelier first, and how that is said."""

    bearing_deg: float
    altitude_deg: float
    distance_m: float | None
    terrain_m: float | None
    text: str


def pointed(state: State, x: float, y: float) -> Pointed:
    """What lies where a press in the view points."""
    found, units = sight(state, x, y), state.scene.units
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
    )
