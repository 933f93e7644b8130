"""What the button of a mend says, told from its changes and the state that they lead to."""

from __future__ import annotations

import math

from lucid_ridge.core.changes.camera_moves import Level, SetHeight, StandAt
from lucid_ridge.core.changes.kinds import (
    Change,
    ChooseStandard,
    GoTo,
    PutOn,
    SetBulb,
    SetCompensation,
    SetHandHeld,
    SetTo,
    TakeBracket,
    TakeLayers,
    TakeSlices,
)
from lucid_ridge.core.changes.lens_changes import MountGear
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import (
    aperture_text,
    distance_text,
    iso_text,
    shutter_text,
    stops_text,
    stops_words,
)
from lucid_ridge.reports.light.words import when_text

_LAYER_OF = {"foliage": "the leaves", "wave": "the wave"}


def mend_label(before: State, changes: tuple[Change, ...], then: State) -> str:
    """What is done, in the words of the field; several changes are told as one act."""
    parts = [_act(before, one, then) for one in changes]
    if len(parts) == 2 and isinstance(changes[0], SetTo) and isinstance(changes[1], TakeSlices):
        return f"{parts[1]} at {aperture_text(then.exposure.settings.aperture_n)}"
    if len(parts) == 2 and all(isinstance(one, SetTo) for one in changes):
        settings = then.exposure.settings
        return f"ISO {iso_text(settings.iso)} and {aperture_text(settings.aperture_n)}"
    return ", ".join(parts)


def _act(before: State, change: Change, then: State) -> str:  # noqa: C901, PLR0912 -- a case for each kind of change
    units, settings = before.scene.units, then.exposure.settings
    match change:
        case SetTo(setting="aperture"):
            verb = "Open to" if settings.aperture_n < before.exposure.settings.aperture_n else "Stop down to"
            return f"{verb} {aperture_text(settings.aperture_n)}"
        case SetTo(setting="iso"):
            return f"ISO {iso_text(settings.iso)}"
        case SetTo(setting="focus"):
            return f"Focus at {distance_text(math.inf if settings.focus_m is None else settings.focus_m, units)}"
        case PutOn():
            return _filters(then, change)
        case TakeSlices(mode="gapless"):
            count = len(then.depth.slices)
            return f"Take {count} slices" if count > 1 else "Take the slice that holds both"
        case TakeSlices(mode="manual"):
            return f"Focus no closer than {distance_text(min(change.foci_m), units)}"
        case TakeSlices():
            return "One focus"
        case TakeBracket(mode="none"):
            return "Without the bracket"
        case TakeBracket():
            plan = then.range.bracket
            step = stops_words(plan.step_stops) if plan else ""
            return f"Bracket {len(then.offsets)} × {step}"
        case TakeLayers(layers=()):
            return "Without the layers"
        case TakeLayers():
            layer = change.layers[-1]
            return (
                f"A layer for {_LAYER_OF[layer.purpose]}, {shutter_text(layer.shutter_s)} at ISO {iso_text(layer.iso)}"
            )
        case SetBulb():
            return "Set bulb"
        case SetHandHeld():
            return f"Use the {before.scene.kit.support.name}"
        case SetHeight():
            verb = "Raise" if change.camera_height_m > before.scene.composition.camera_height_m else "Lower"
            return f"{verb} to {distance_text(change.camera_height_m, units)}"
        case StandAt():
            stands = before.scene.composition
            by = math.hypot(change.east_m - stands.east_m, change.north_m - stands.north_m)
            return f"Step back {distance_text(by, units)}"
        case Level():
            return "Level the camera"
        case GoTo():
            return f"Begin at {when_text(before, change.moment_utc.timestamp())}"
        case SetCompensation():
            more = (
                then.scene.composition.settings.compensation_stops
                - before.scene.composition.settings.compensation_stops
            )
            return f"Expose {stops_text(more)}"
        case ChooseStandard():
            return "Judge by the print"
        case MountGear():
            return "Take the close-up gear off"
    raise ValueError(f"no mend makes the change {change.kind}")


def _filters(then: State, change: PutOn) -> str:
    owned = {one.id: one for one in then.scene.kit.filters}
    density = [owned[use.filter_id].name for use in change.filters if owned[use.filter_id].kind == "nd"]
    words = f"Put on {' + '.join(density)}" if density else "Take off the ND"
    return f"{words}, {shutter_text(then.exposure.settings.shutter_s)}"
