"""Filters in front of the lens, as data.

A filter takes light away. Makers mark that as optical density, as a factor, or in stops;
the three agree as ``stops = density / log10(2) = log2(factor)``. A factor of 1000 is therefore
9.97 stops, not 10.

References
----------
.. [1] Neutral density tables of published filter handbooks, for example Kodak Publication B-3.

"""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from annotated_types import Ge, Le, MaxLen, MinLen
from numpy.typing import ArrayLike, NDArray

from lucid_ridge.core.records import FieldProblem, record

FilterKind = Literal["nd", "variable_nd", "polariser", "graduated"]
GraduatedEdge = Literal["hard", "soft"]

# Share of the frame height over which the density of a graduated filter fades (common practice:
# a soft edge spreads over about half of a holder's opening, a hard one over a few percent).
EDGE_SPREAD: dict[GraduatedEdge, float] = {"hard": 0.06, "soft": 0.5}


@record
class Filter:
    """A filter as owned.

    ``stops`` is its cost: of an ND or of the dark part of a graduated filter as marked, of a
    polariser at full effect as measured by the owner. A variable ND runs from ``least_stops``
    to ``stops``, and up to ``safe_stops`` without a cross in the picture. ``thread_mm`` is a screw-in filter's,
    None for one that goes into a holder; ``thickness_mm`` how far its ring stands out. ``cast`` notes its colour.
    """

    id: str
    name: Annotated[str, MinLen(1), MaxLen(80)]
    kind: FilterKind
    stops: Annotated[float, Ge(0), Le(24)]
    least_stops: Annotated[float, Ge(0), Le(24)] = 0.0
    edge: GraduatedEdge = "soft"
    thread_mm: Annotated[float, Ge(10), Le(200)] | None = None
    thickness_mm: Annotated[float, Ge(0), Le(60)] = 5.0
    safe_stops: Annotated[float, Ge(0), Le(24)] | None = None
    cast: Annotated[str, MaxLen(80)] = ""


@record
class FilterInUse:
    """A filter put on: how far it is turned and where its edge lies.

    ``strength`` is 0..1 of the way from least to full cost, for a polariser or variable ND.
    ``edge_at`` is the height in the frame of a graduated edge's middle, 0 top to 1 bottom.
    """

    filter_id: str
    strength: Annotated[float, Ge(0), Le(1)] = 1.0
    edge_at: Annotated[float, Ge(0), Le(1)] = 0.4


def density_to_stops(density: ArrayLike) -> NDArray[np.float64]:
    """Stops of an optical density, ``d / log10(2)``."""
    return np.asarray(np.asarray(density, dtype=float) / math.log10(2))


def factor_to_stops(factor: ArrayLike) -> NDArray[np.float64]:
    """Stops of a filter factor, ``log2``."""
    return np.asarray(np.log2(np.asarray(factor, dtype=float)))


def stops_to_transmission(stops: ArrayLike) -> NDArray[np.float64]:
    """Share of the light that passes, 0..1."""
    return np.asarray(2.0 ** -np.asarray(stops, dtype=float))


def cost_stops(owned: Filter, use: FilterInUse) -> float:
    """Stops the filter takes from the whole frame as it is used now.

    A graduated filter takes nothing from the ground, which is what is metered: its cost falls
    on elements, by where they stand in the frame.
    """
    if owned.kind == "graduated":
        return 0.0
    if owned.kind == "nd":
        return owned.stops
    return owned.least_stops + use.strength * (owned.stops - owned.least_stops)


def graduated_cost(owned: Filter, use: FilterInUse, y: ArrayLike) -> NDArray[np.float64]:
    """Stops a graduated filter takes at height *y* in the frame (0 top, 1 bottom).

    A smooth step from full density above the edge to none below it.
    """
    spread = EDGE_SPREAD[owned.edge]
    u = np.clip((np.asarray(y, dtype=float) - use.edge_at) / spread + 0.5, 0.0, 1.0)
    return np.asarray(owned.stops * (1 - u * u * (3 - 2 * u)))


def check_filter(owned: Filter, pointer: str) -> list[FieldProblem]:
    """What is contradictory in a filter record."""
    if owned.least_stops > owned.stops:
        return [
            FieldProblem(
                pointer=f"{pointer}/least_stops",
                message="The weakest setting must not cost more than the strongest.",
            )
        ]
    return []
