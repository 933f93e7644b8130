"""Separation of what is in the picture."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from shapely.geometry.base import BaseGeometry

from lucid_ridge.core.camera.picture import picture
from lucid_ridge.core.framing.separation import cut_share, gap, skyline_y
from lucid_ridge.core.framing.silhouettes import LYING
from lucid_ridge.core.model.scene import Element
from lucid_ridge.core.state.state import State

MergerKind = Literal["overlap", "touch", "cut", "horizon", "edge", "leaves"]

WANTED_GAP = 0.015
"""Gap in frame heights from which two outlines read as apart (common practice: a clear gap)."""
# A skyline within this share of a subject's foot is what it stands on, not what cuts it.
_FOOT_SHARE = 0.1
_STANDING = ("foreground", "subject", "middle")
_BEHIND = ("middle", "background")
_EDGE_ROOM = 0.005
MOST_PAIRS = 60


@dataclass(frozen=True)
class Merger:
    """Two outlines that merge, or one that a line or the frame's edge meets.

    ``share`` is the gap in heights of the frame, negative for an overlap; for a cut the share of the subject's height from
    its foot; for an edge the room to it. ``other_id`` is None for the horizon and the edge.
    """

    kind: MergerKind
    element_id: str
    other_id: str | None
    share: float


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


def skyline_cut(subject: BaseGeometry, other: BaseGeometry) -> float | None:
    """Share of the subject's height at which the other's skyline passes behind its middle."""
    line = skyline_y(other, (subject.bounds[0] + subject.bounds[2]) / 2)
    share = None if line is None else cut_share(subject, line)
    return share if share is not None and share > _FOOT_SHARE else None


def stands_behind(subject: Element, other: Element, subject_m: float, other_m: float) -> bool:
    """Whether the other's skyline behind the subject is what matters, not the gap between the two."""
    return subject.role == "subject" and other.role in _BEHIND and other_m > subject_m


def mergers(state: State) -> tuple[Merger, ...]:
    """Everything in the picture that is not clear of something else: at most `MOST_PAIRS` of pairs, and of cuts as well."""
    geometry = state.geometry
    areas = {
        i: geometry.area(i)
        for i, e in enumerate(geometry.elements)
        if geometry.seen(i) and e.role != "sky" and e.silhouette not in LYING and not geometry.area(i).is_empty
    }
    elements, away = geometry.elements, geometry.near_m
    standing = sorted((i for i in areas if _standing(elements[i])), key=lambda i: away[i])
    found: list[Merger] = []
    for n, m in _close_pairs([areas[i] for i in standing]):
        i, j = standing[n], standing[m]
        first, second = (i, j) if elements[i].role == "subject" else (j, i)
        if elements[second].role == "middle" and stands_behind(
            elements[first], elements[second], away[first], away[second]
        ):
            continue
        between = gap(areas[i], areas[j])
        if between < WANTED_GAP:
            kind: MergerKind = "overlap" if between < 0 else "touch"
            found.append(Merger(kind, elements[first].id, elements[second].id, between))
    horizon, cuts = geometry.camera.horizon_y(), 0
    for i in (one for one in standing if elements[one].role == "subject"):
        subject, area = elements[i], areas[i]
        for j, other in areas.items():
            if cuts < MOST_PAIRS and stands_behind(subject, elements[j], away[i], away[j]):
                share = skyline_cut(area, other)
                if share is not None:
                    cuts += 1
                    found.append(Merger("cut", subject.id, elements[j].id, share))
        if horizon is not None:
            share = cut_share(area, sum(horizon) / 2)
            if share is not None and share > _FOOT_SHARE:
                found.append(Merger("horizon", subject.id, None, share))
        found += _at_the_edge(state, subject, area)
    return tuple(found)


def _at_the_edge(state: State, subject: Element, area: BaseGeometry) -> list[Merger]:
    """A subject that touches or leaves the picture after the crop, its foot aside."""
    left, top, right, _ = picture(state.geometry).bounds
    low_x, low_y, high_x, _ = area.bounds
    room = min(low_x - left, right - high_x, low_y - top)
    if room >= _EDGE_ROOM or state.scene.composition.panorama.on:
        return []
    return [Merger("edge" if room >= 0 else "leaves", subject.id, None, float(room))]
