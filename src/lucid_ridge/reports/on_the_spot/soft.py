"""Soft on the screen: why? Each likely cause in pixels, and what to try for it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.on_the_spot.grid import Grid
from lucid_ridge.core.on_the_spot.soft import SEEN_PX, Softness, softness_of
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.scales import on_third, third_index
from lucid_ridge.reports.figures import aperture_text, distance_text, shutter_text

Pixels = tuple[float, ...]
_FIRST_THIRD, _LAST_THIRD = -36, 24
_WINDS = ("still air", "leaves rustle", "twigs move", "branches move")


@record
class SoftElement:
    """Something one looks at enlarged: its blur by cause, and what to try.

    ``motion`` is by winds and shutters, ``depth`` and ``focus`` by apertures; ``for_motion`` is what to try, by winds.
    """

    name: str
    motion: tuple[Pixels, ...]
    depth: Pixels
    focus: Pixels
    for_motion: tuple[str, ...]
    for_depth: str
    for_focus: str


@record
class SoftTable:
    """Likely sizes of each cause in pixels of the sensor, for the settings in use, and the single change to try.

    ``hand`` and ``support`` are by shutters, ``wind`` by winds and shutters, ``diffraction`` by apertures. What is below
    ``seen_px`` is not what one sees. ``otherwise`` is what to look at where nothing here is large enough. ``own_shutter``
    is the place of the planned one; apertures are the spot table's.
    """

    shutters: tuple[str, ...]
    own_shutter: int
    winds: tuple[str, ...]
    by_hand: bool
    seen_px: float
    hand: Pixels
    support: Pixels
    wind: tuple[Pixels, ...]
    diffraction: Pixels
    for_hand: str
    for_support: str
    for_wind: str
    for_diffraction: str
    otherwise: str
    elements: tuple[SoftElement, ...]


def _px(values: NDArray[np.float64]) -> Pixels:
    return tuple(round(min(float(v), 9999.0), 1) for v in values)


def _first_within(blur: NDArray[np.float64], from_end: bool = False) -> int | None:
    """The place of the first value that is not seen, from the start or from the end; None where every one is."""
    within = np.flatnonzero(blur <= SEEN_PX)
    return None if within.size == 0 else int(within[-1 if from_end else 0])


def _for_motion(blur: NDArray[np.float64], times: list[float], name: str) -> str:
    k = _first_within(blur, from_end=True)
    if k is None:
        return f"No time here holds the {name} still: wait for it to rest, or let it blur on purpose."
    return f"{shutter_text(times[k])} or shorter holds the {name}: a wider aperture or a higher ISO pays for it."


def _for_depth(blur: NDArray[np.float64], grid: Grid, name: str, near_m: float, units: Units) -> str:
    k = _first_within(blur)
    at = distance_text(near_m, units)
    if k is None:
        return f"One frame more, focused on the {name} at {at}."
    return f"{aperture_text(grid.apertures[k])} or narrower, or one frame more, focused on the {name} at {at}."


def _for_diffraction(softness: Softness, grid: Grid) -> str:
    k = _first_within(softness.diffraction, from_end=True)
    if k is None:
        return "Pixels this small show diffraction at every aperture; judge at the size of the print."
    return f"{aperture_text(grid.apertures[k])} or wider, with a slice more for the depth."


def _for_hand(softness: Softness, times: list[float]) -> str:
    k = _first_within(softness.hand, from_end=True)
    told = "Put it on the stand, with the timer or a remote"
    return f"{told}." if k is None else f"{told}; by hand, {shutter_text(times[k])} or shorter."


def soft_table(state: State, grid: Grid) -> SoftTable:
    """The likely sizes of each cause of softness about a state."""
    times = [on_third(k, "shutter") for k in range(_FIRST_THIRD, _LAST_THIRD + 1)]
    found = softness_of(state, np.array(times), grid.by_aperture)
    own = round(third_index(state.exposure.settings.shutter_s, "shutter")) - _FIRST_THIRD
    names = [state.scene.composition.elements[i].name for i in found.elements]
    elements = []
    for k, (i, name) in enumerate(zip(found.elements, names, strict=True)):
        near = float(state.geometry.near_m[i])
        still = not np.any(found.motion[k] > 0)
        elements.append(
            SoftElement(
                name=name,
                motion=tuple(_px(one) for one in found.motion[k]),
                depth=_px(found.depth[k]),
                focus=_px(found.focus[k]),
                for_motion=tuple("" if still else _for_motion(one, times, name) for one in found.motion[k]),
                for_depth=_for_depth(found.depth[k], grid, name, near, state.scene.units),
                for_focus=f"Focus again on the {name}, enlarged on the screen, and do not touch the ring after.",
            )
        )
    column = " Column down first." if state.scene.kit.support.column_m > 0 else ""
    return SoftTable(
        shutters=tuple(shutter_text(one) for one in times),
        own_shutter=min(max(own, 0), len(times) - 1),
        winds=_WINDS,
        by_hand=not state.steady,
        seen_px=SEEN_PX,
        hand=_px(found.hand),
        support=_px(found.support),
        wind=tuple(_px(one) for one in found.wind),
        diffraction=_px(found.diffraction),
        for_hand=_for_hand(found, times),
        for_support="Firmer ground: legs down to rock or a hard bottom, or a shorter time.",
        for_wind=f"Wait for a lull; stand low and be the wind's shield; no strap, no hood that catches it.{column}",
        for_diffraction=_for_diffraction(found, grid),
        otherwise="Nothing here is large enough. Look at the front of the lens: dew, spray, a finger mark. Then whether the "
        "stabiliser works against the stand, and whether something moved between two frames.",
        elements=tuple(elements),
    )
