"""A sequence that nobody planned, put together of the pictures that came back: laid out as planned ones are."""

from __future__ import annotations

from collections.abc import Sequence as Several

from lucid_ridge.core.model.scene import Units
from lucid_ridge.core.review.grouping import Group
from lucid_ridge.core.review.matching import Setting
from lucid_ridge.reports.figures import (
    Readout,
    aperture_text,
    distance_text,
    duration_text,
    iso_text,
    shutter_text,
)
from lucid_ridge.reports.sequence.frames import PlannedFrame, Sequence

_UNKNOWN = "not told"
_NOTHING = Readout(value=None, text="")


def group_text(group: Group) -> str:
    """What pictures taken together are, in words."""
    count = len(group.pictures)
    told = [f"{count} frame{'s' * (count > 1)}"]
    told += [f"focused at {group.slices} distances"] * (group.slices > 1)
    told += [f"a bracket of {group.exposures}"] * (group.exposures > 1)
    return ", ".join(told)


def as_taken(settings: Several[Setting], group: Group, units: Units) -> Sequence:
    """The sequence of a group of pictures: each a frame, with what it was taken with."""
    first = settings[group.pictures[0]]
    last = settings[group.pictures[-1]]
    frames = tuple(
        _frame(settings[k], number, group, first.at_s, units) for number, k in enumerate(group.pictures, start=1)
    )
    whole = last.at_s - first.at_s + (last.shutter_s or 0.0)
    return Sequence(
        frames=frames,
        count=Readout(value=len(frames), text=str(len(frames))),
        slice_count=group.slices,
        bracket_count=group.exposures,
        total=Readout(value=whole, text=duration_text(whole)),
        drift=_NOTHING,
        drift_is_stale=False,
        by_body=False,
    )


def _frame(one: Setting, number: int, group: Group, began_s: float, units: Units) -> PlannedFrame:
    exposure = one.shutter_s or 0.0
    return PlannedFrame(
        number=number,
        slice_number=1,
        slice_count=group.slices,
        bracket_number=1,
        bracket_count=group.exposures,
        offset_stops=0.0,
        title=f"Frame {number}",
        caption=f"Frame {number}",
        actions=(),
        changed=(),
        focus=_told(one.focus_m, distance_text(one.focus_m, units) if one.focus_m else ""),
        aperture=_told(one.aperture_n, aperture_text(one.aperture_n) if one.aperture_n else ""),
        shutter=_told(one.shutter_s, shutter_text(one.shutter_s) if one.shutter_s else ""),
        iso=_told(one.iso, f"ISO {iso_text(one.iso)}" if one.iso else ""),
        filters=_UNKNOWN,
        bulb=False,
        timer_s=0.0,
        exposure_s=exposure,
        duration_s=exposure,
        duration=Readout(value=exposure, text=duration_text(exposure)),
        starts_after_s=one.at_s - began_s,
    )


def _told(value: float | None, text: str) -> Readout:
    return Readout(value=value, text=text or _UNKNOWN)
