"""The light that a photographer wants on a composition."""

from __future__ import annotations

from typing import Annotated, Literal

from annotated_types import Ge, Le, MaxLen

from lucid_ridge.core.records import Identifier, record

WantedSide = Literal["front", "side_left", "side_right", "back_left", "back_right"]
AroundEvent = Literal["sunrise", "sunset", "arrives", "leaves", "moonrise", "moonset"]
MoonWish = Literal["any", "up", "down"]


@record
class LitWish:
    """That an element, or where the camera stands (None), lies in direct sun, or in the terrain's shade."""

    element_id: Identifier | None = None
    lit: bool = True


@record
class LightWish:
    """The light that is wanted on a composition. What is left open is not asked for.

    ``sides`` are the directions of light that will do; altitudes are the sun's as seen. ``around`` asks for
    the minutes before and after an event only. A window must last ``shortest_min``; ``ready_min`` is how
    long before it the photographer wants to stand there. Clock hours are the place's own.
    """

    sides: Annotated[tuple[WantedSide, ...], MaxLen(5)] = ()
    lowest_deg: Annotated[float, Ge(-18), Le(90)] | None = None
    highest_deg: Annotated[float, Ge(-18), Le(90)] | None = None
    lit: Annotated[tuple[LitWish, ...], MaxLen(20)] = ()
    around: AroundEvent | None = None
    before_min: Annotated[float, Ge(0), Le(720)] = 20.0
    after_min: Annotated[float, Ge(0), Le(720)] = 20.0
    moon: MoonWish = "any"
    moon_lit_from: Annotated[float, Ge(0), Le(1)] = 0.0
    from_hour: Annotated[float, Ge(0), Le(24)] = 0.0
    to_hour: Annotated[float, Ge(0), Le(24)] = 24.0
    shortest_min: Annotated[float, Ge(1), Le(720)] = 5.0
    ready_min: Annotated[float, Ge(0), Le(720)] = 30.0
