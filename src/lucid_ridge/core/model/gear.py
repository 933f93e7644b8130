"""Close-up gear and lights, and how a composition uses them."""

from __future__ import annotations

from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le, MaxLen

from lucid_ridge.core.records import FieldProblem, Identifier, Name, record

GearKind = Literal["tube", "bellows", "reversing_ring", "teleconverter", "close_up_lens", "rail"]
LightKind = Literal["flash", "lamp"]
SubjectKind = Literal["plant", "shy", "fixed"]

Millimetres = Annotated[float, Ge(0), Le(2000)]


@record
class Gear:
    """A piece of close-up gear. What counts for its kind is told by the fields' names.

    ``extension_mm`` is what a tube adds, or bellows at their shortest (``longest_mm`` drawn out); of a
    reversing ring it is the way from the mount to the sensor with the ring. ``factor`` is a converter's,
    ``dioptres`` a close-up lens's. Of a rail: ``travel_mm``, the finest step that the hand can set or the
    motor makes, and the seconds that a step takes.
    """

    id: Identifier
    name: Name
    kind: GearKind
    extension_mm: Millimetres = 0.0
    longest_mm: Millimetres = 0.0
    factor: Annotated[float, Ge(1), Le(4)] = 1.4
    dioptres: Annotated[float, Gt(0), Le(25)] = 2.0
    travel_mm: Millimetres = 100.0
    finest_step_mm: Annotated[float, Gt(0), Le(100)] = 0.1
    step_s: Annotated[float, Ge(0), Le(120)] = 6.0


@record
class LightSource:
    """A flash, known by its guide number (metres, ISO 100, full power), or a lamp, by its reading from 1 m.

    ``full_recycle_s`` and ``full_duration_s`` are a flash's at full power; ``least_power`` the least share
    of it that can be set.
    """

    id: Identifier
    name: Name
    kind: LightKind
    guide_number_m: Annotated[float, Gt(0), Le(200)] = 24.0
    full_recycle_s: Annotated[float, Ge(0), Le(120)] = 4.0
    full_duration_s: Annotated[float, Gt(0), Le(1)] = 1 / 500
    least_power: Annotated[float, Gt(0), Le(1)] = 1 / 128
    ev100_at_1_m: Annotated[float, Ge(-10), Le(25)] = 7.0
    ultraviolet: bool = False


@record
class MountedGear:
    """A piece that is on the camera; bellows are drawn out to ``draw_mm``."""

    gear_id: Identifier
    draw_mm: Millimetres = 0.0


@record
class LightInUse:
    """A light that is on: how far from the subject, and a flash at what share of its power."""

    light_id: Identifier
    distance_m: Annotated[float, Ge(0.01), Le(100)] = 0.3
    power: Annotated[float, Gt(0), Le(1)] = 1 / 16


@record
class CloseUp:
    """The close-up side of a composition.

    ``subject_depth_mm`` runs from the front that must be sharp to the back; ``subject_width_mm`` is its own
    width; ``behind_mm`` how far the background stands behind the plane of focus. None takes them from the
    elements. ``count_diffraction`` lets the
    wave nature of light add to the depth from half life size on. ``speed_mm_s`` is how fast the subject
    sways at its fastest.
    """

    mounted: Annotated[tuple[MountedGear, ...], MaxLen(10)] = ()
    lights: Annotated[tuple[LightInUse, ...], MaxLen(6)] = ()
    subject: SubjectKind = "plant"
    subject_width_mm: Annotated[float, Gt(0), Le(5000)] | None = None
    subject_depth_mm: Annotated[float, Ge(0), Le(5000)] | None = None
    behind_mm: Annotated[float, Gt(0), Le(1_000_000)] | None = None
    speed_mm_s: Annotated[float, Ge(0), Le(10_000)] = 0.0
    count_diffraction: bool = False


def check_gear(gear: Gear, pointer: str = "") -> list[FieldProblem]:
    """What a kind needs must be there, and not the wrong way round."""
    found = []
    if gear.kind in ("tube", "reversing_ring") and gear.extension_mm <= 0:
        message = "Say how many millimetres it adds."
        found.append(FieldProblem(pointer=f"{pointer}/extension_mm", message=message))
    if gear.kind == "bellows" and gear.longest_mm <= gear.extension_mm:
        message = "Drawn out, bellows must be longer than at their shortest."
        found.append(FieldProblem(pointer=f"{pointer}/longest_mm", message=message))
    if gear.kind == "rail" and gear.travel_mm < gear.finest_step_mm:
        message = "The rail's travel must not be less than its finest step."
        found.append(FieldProblem(pointer=f"{pointer}/travel_mm", message=message))
    return found
