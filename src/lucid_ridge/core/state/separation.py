"""Separation of what is in the picture."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from shapely.geometry.base import BaseGeometry

from lucid_ridge.core.camera.picture import picture
from lucid_ridge.core.figures import Figure, degrees_text
from lucid_ridge.core.framing.separation import cut_share, gap, skyline_y
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.model.scene import Element
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State

MeetingKind = Literal["overlap", "touch", "cut", "horizon", "edge", "leaves"]

WANTED_GAP = 0.015
"""Gap in frame heights from which two outlines read as apart (common practice: a clear gap)."""
# A skyline within this share of a subject's foot is what it stands on, not what cuts it.
_FOOT_SHARE = 0.1
_STANDING = ("foreground", "subject", "middle")
_BEHIND = ("middle", "background")
_EDGE_ROOM = 0.005
MOST_PAIRS = 60


@record
class Meeting:
    """Two outlines that meet, or one that a line or the frame's edge meets.

    ``gap`` is in percent of the frame's height, negative for an overlap; for a cut the share of the
    subject's height from its foot.
    """

    kind: MeetingKind
    element_id: str
    other_id: str | None
    sentence: str
    gap: Figure
    angle: Figure | None


def _close_pairs(areas: list[BaseGeometry]) -> list[tuple[int, int]]:
    """Positions of the pairs whose extents come within the wanted gap, nearest elements first.

    At most `MOST_PAIRS`: in a thicket where everything meets everything, more would tell nothing.
    """
    if len(areas) < 2:
        return []
    bounds = np.array([area.bounds for area in areas])
    low, high = bounds[:, :2], bounds[:, 2:]
    apart = (np.maximum(low[:, None], low[None]) - np.minimum(high[:, None], high[None])).max(axis=-1)
    first, second = np.nonzero(np.triu(apart <= WANTED_GAP, k=1))
    return list(zip(first.tolist(), second.tolist(), strict=True))[:MOST_PAIRS]


def _standing(element: Element) -> bool:
    return element.role in _STANDING and element.silhouette not in LYING


def _angle(state: State, share: float) -> float:
    """Degrees that a share of the frame's height spans in the middle of the frame."""
    return math.degrees(math.atan(abs(share) * 2 * state.geometry.camera.half_tangents[1]))


def _percent(share: float) -> str:
    return f"{'−' if share < 0 else ''}{abs(share) * 100:.1f} %"


def skyline_cut(subject: BaseGeometry, other: BaseGeometry) -> float | None:
    """Share of the subject's height at which the other's skyline passes behind its middle."""
    line = skyline_y(other, (subject.bounds[0] + subject.bounds[2]) / 2)
    share = None if line is None else cut_share(subject, line)
    return share if share is not None and share > _FOOT_SHARE else None


def stands_behind(subject: Element, other: Element, subject_m: float, other_m: float) -> bool:
    """Whether the other's skyline behind the subject is what matters, not the gap between the two."""
    return subject.role == "subject" and other.role in _BEHIND and other_m > subject_m


def _meeting(state: State, kind: MeetingKind, a: Element, b: Element | None, share: float) -> Meeting:
    angle = _angle(state, share)
    name = b.name if b else "horizon"
    sentence = {
        "overlap": f"The {a.name} and the {name} overlap by {_percent(abs(share))} of the frame's height.",
        "touch": f"The {a.name} and the {name} nearly touch: {_percent(share)} of the frame's height between them.",
        "cut": f"The {name} runs through the {a.name} at {share:.0%} of its height.",
        "horizon": f"The horizon runs through the {a.name} at {share:.0%} of its height.",
        "edge": f"The {a.name} touches the edge of the picture.",
        "leaves": f"The {a.name} leaves the picture by {_percent(abs(share))} of the frame's height.",
    }[kind]
    paired = kind in ("overlap", "touch")
    of = f"{kind} {a.id} {b.id}" if b else f"{kind} {a.id}"
    return Meeting(
        kind=kind,
        element_id=a.id,
        other_id=b.id if b else None,
        sentence=sentence,
        gap=Figure(value=share * 100, text=_percent(share), explain=f"framing.gap:{of}"),
        angle=Figure(value=angle, text=degrees_text(angle, 1), explain=f"framing.angle:{of}") if paired else None,
    )


def separation(state: State) -> tuple[Meeting, ...]:
    """Everything in the picture that is not clear of something else."""
    geometry = state.geometry
    areas = {
        i: geometry.area(i)
        for i, e in enumerate(geometry.elements)
        if geometry.seen(i) and e.role != "sky" and e.silhouette not in LYING and not geometry.area(i).is_empty
    }
    elements, away = geometry.elements, geometry.near_m
    standing = sorted((i for i in areas if _standing(elements[i])), key=lambda i: away[i])
    found: list[Meeting] = []
    for n, m in _close_pairs([areas[i] for i in standing]):
        i, j = standing[n], standing[m]
        first, second = (i, j) if elements[i].role == "subject" else (j, i)
        if elements[second].role == "middle" and stands_behind(
            elements[first], elements[second], away[first], away[second]
        ):
            continue
        between = gap(areas[i], areas[j])
        if between < WANTED_GAP:
            kind: MeetingKind = "overlap" if between < 0 else "touch"
            found.append(_meeting(state, kind, elements[first], elements[second], between))
    horizon = geometry.camera.horizon_y()
    for i in (one for one in standing if elements[one].role == "subject"):
        subject, area = elements[i], areas[i]
        for j, other in areas.items():
            if stands_behind(subject, elements[j], away[i], away[j]):
                share = skyline_cut(area, other)
                if share is not None:
                    found.append(_meeting(state, "cut", subject, elements[j], share))
        if horizon is not None:
            share = cut_share(area, sum(horizon) / 2)
            if share is not None and share > _FOOT_SHARE:
                found.append(_meeting(state, "horizon", subject, None, share))
        found += _at_the_edge(state, subject, area)
    return tuple(found)


def _at_the_edge(state: State, subject: Element, area: BaseGeometry) -> list[Meeting]:
    """A subject that touches or leaves the picture after the crop, its foot aside."""
    left, top, right, _ = picture(state.geometry).bounds
    low_x, low_y, high_x, _ = area.bounds
    room = min(low_x - left, right - high_x, low_y - top)
    if room >= _EDGE_ROOM or state.scene.composition.panorama.on:
        return []
    return [_meeting(state, "edge" if room >= 0 else "leaves", subject, None, float(room))]
