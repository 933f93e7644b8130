"""What the pictures of a take show, beside what was planned."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import groupby, pairwise

import cv2
import numpy as np

from lucid_ridge.core.review.alignment import LEAST_SHARE, Alignment, agreeing, fit
from lucid_ridge.core.review.detail import Detail, Usual, detail_of, sharpest, softer
from lucid_ridge.core.review.exposures import blocked, clipped, filter_forgotten, light_changed, white_changed
from lucid_ridge.core.review.findings import Came, Finding, Looked, Sureness
from lucid_ridge.core.review.focusing import LEAST_FRAMES, Focused, where_focused
from lucid_ridge.core.review.level import off_level_deg
from lucid_ridge.core.review.plan import Plan
from lucid_ridge.core.review.shaking import LEAST_TILES, MOST_MOVING, shake_of
from lucid_ridge.core.review.tiles import TILE_PX, Grey, fitted, grey_of, offsets_between

_CLEARLY_SOFTER_STOPS = 0.8
_TILTED_DEG = 0.4
"""People see a horizon that is off by about half a degree (common practice)."""
_FEW = 6
_SUBJECT_PX = 4.0
_BESIDE_PX = 150.0
_SHAKEN_BESIDE = 0.035


def look(
    plan: Plan, pictures: Sequence[Came], told: Callable[[int, int], None] = lambda done, whole: None
) -> tuple[Finding, ...]:
    """What the pictures of a take show; of a frame that was repeated the last one is given. *told* hears how far it is."""
    looked = []
    ordered = sorted(pictures, key=lambda each: each.number)
    for at, one in enumerate(ordered):
        told(at, len(ordered))
        planned, small = plan.of(one.number), fitted(one.picture)
        if planned is not None:
            moving = _moving(plan, small.shape)
            looked.append(Looked(planned, one, small, shake_of(grey_of(small), moving)))
    found: list[Finding] = list(_missing(plan, looked))
    forgotten = list(filter_forgotten(looked))
    lost = {one.frames[0] for one in forgotten if len(one.frames) == 1}
    # Of a frame that is lost for its filter nothing else is told of its exposure: that would send one the wrong way.
    exposed = [one for one in looked if one.came.number not in lost]
    found += [*forgotten, *clipped(exposed), *blocked(exposed)]
    found += _tilted(plan, looked)
    for _, same in groupby((one for one in looked if not one.planned.blended), key=lambda one: one.planned.panel):
        group = [one for one in same if one.small.shape == looked[0].small.shape]
        lies = {(a.came.number, b.came.number): _lies(plan, a, b) for a, b in pairwise(group)}
        found += _moved(plan, group, lies)
        found += _focused(plan, group, lies)
        found += light_changed(group)
        found += white_changed(group)
        found += _shaken(group)
    return tuple(found)


def details(plan: Plan, pictures: Sequence[Came]) -> dict[str, Detail]:
    """How much fine detail each element holds in the frame that holds most of it; see `detail`."""
    return sharpest(
        [
            detail_of(grey_of(fitted(one.picture)), plan.labels, plan.elements)
            for one in pictures
            if (planned := plan.of(one.number)) is not None and not planned.blended
        ]
        if plan.elements
        else []
    )


def soft(
    plan: Plan, now: Mapping[str, Detail], usual: Mapping[str, Usual], numbers: Sequence[int]
) -> tuple[Finding, ...]:
    """What is softer in all frames of a take than it was in earlier ones; the box holds what lost most."""
    found = softer(now, usual)
    if found is None:
        return ()
    return (
        Finding(
            kind="soft",
            frames=tuple(numbers),
            sure="likely" if found.stops > _CLEARLY_SOFTER_STOPS else "perhaps",
            size=found.stops,
            box=plan.box_of(found.elements[0]),
            elements=found.elements,
            focused=found.focused,
            takes=found.takes,
        ),
    )


def _moving(plan: Plan, shape: tuple[int, ...]) -> Grey:
    """Where things move by themselves, 0 to 1, as large as a picture."""
    size = (shape[1], shape[0])
    return np.asarray(cv2.resize(plan.moving.astype(np.float32), size, interpolation=cv2.INTER_LINEAR))


def _missing(plan: Plan, looked: list[Looked]) -> Iterator[Finding]:
    """Frames that did not come, of slices of which others did."""
    have = {one.came.number for one in looked}
    slices = {one.planned.slice_at for one in looked if not one.planned.blended}
    lacking = tuple(
        one.number for one in plan.pictures if one.number not in have and (one.blended or one.slice_at in slices)
    )
    if lacking and have:
        yield Finding(kind="frame_missing", frames=lacking, sure="sure", size=float(len(lacking)))


def _slice_missing(plan: Plan, at: int, beside: Iterable[int], sure: Sureness) -> Finding:
    return Finding(
        kind="slice_missing", frames=tuple(beside), sure=sure, size=float(at + 1), focus_m=float(plan.focus_m[at])
    )


def _tilted(plan: Plan, looked: list[Looked]) -> Iterator[Finding]:
    """How the horizon runs, where it was to be in the picture: in the middle of all frames that show it."""
    if plan.horizon is None:
        return
    seen = {
        one.came.number: off
        for one in looked
        if not one.planned.blended and (off := off_level_deg(grey_of(one.small), plan.horizon)) is not None
    }
    off = float(np.median(list(seen.values()))) if seen else 0.0
    if abs(off) > _TILTED_DEG:
        yield Finding(kind="tilted", frames=tuple(seen), sure="perhaps", size=off)


def _lies(plan: Plan, one: Looked, other: Looked) -> Alignment:
    """How a frame lies to the one before; what moves by itself has no say in it."""
    offsets = offsets_between(grey_of(one.small), grey_of(other.small))
    high, wide = one.small.shape[:2]
    share = cv2.blur(_moving(plan, one.small.shape), (TILE_PX, TILE_PX))
    at = np.clip(np.round(offsets.middles).astype(int), 0, (wide - 1, high - 1))
    still = share[at[:, 1], at[:, 0]] < MOST_MOVING if len(at) else np.zeros(0, dtype=bool)
    kept = offsets.only(still)
    alignment = fit(kept, (high, wide))
    if alignment.known:
        return alignment
    # Where little stands still, what moves may be asked as well, as long as it says what that little says.
    whole = fit(offsets, (high, wide))
    agree = len(kept.offsets) >= _FEW and agreeing(whole, kept, (high, wide)) >= LEAST_SHARE
    return replace(whole if whole.known and agree else alignment, outliers=np.zeros((0, 4)))


def _moved(plan: Plan, group: list[Looked], lies: Mapping[tuple[int, int], Alignment]) -> Iterator[Finding]:
    unknown = []
    for (a, b), lie in lies.items():
        if not lie.known:
            unknown.append((a, b))
            continue
        wide = group[0].small.shape[1]
        sensor = plan.pixels / wide
        if lie.moved:
            yield Finding(
                kind="camera_moved",
                frames=(a, b),
                sure="sure" if lie.far_px > 2 * lie.least_px else "likely",
                size=lie.far_px * sensor,
                direction_deg=math.degrees(math.atan2(lie.shift[1], lie.shift[0])),
            )
        box = _cluster(lie.outliers, group[0].small.shape)
        if box is not None:
            yield Finding(kind="subject_moved", frames=(a, b), sure="perhaps", size=box[1] * sensor, box=box[0])
    if unknown:
        yield Finding(kind="movement_unknown", frames=tuple(sorted({n for pair in unknown for n in pair})), sure="sure")


def _cluster(outliers: np.ndarray, shape: tuple[int, ...]) -> tuple[tuple[float, float, float, float], float] | None:
    """The box of two or more neighbouring tiles that moved the same way, and how far they did, pixels."""
    far = outliers[np.hypot(outliers[:, 2], outliers[:, 3]) > _SUBJECT_PX] if len(outliers) else outliers
    for one in far:
        near = (np.hypot(*(far[:, :2] - one[:2]).T) < _BESIDE_PX) & (
            np.hypot(*(far[:, 2:] - one[2:]).T) < _SUBJECT_PX / 2
        )
        if near.sum() >= 2:
            high, wide = shape[:2]
            places = far[near, :2]
            low, most = places.min(axis=0) - TILE_PX / 2, places.max(axis=0) + TILE_PX / 2
            box = (low[0] / wide, low[1] / high, (most[0] - low[0]) / wide, (most[1] - low[1]) / high)
            left, top = max(float(box[0]), 0.0), max(float(box[1]), 0.0)
            return (left, top, min(float(box[2]), 1 - left), min(float(box[3]), 1 - top)), float(np.hypot(*one[2:]))
    return None


def _focused(plan: Plan, group: list[Looked], lies: Mapping[tuple[int, int], Alignment]) -> Iterator[Finding]:
    """Where the slices were really taken: by one exposure of each, the one nearest to as metered."""
    if len(plan.image_log) < 2:
        return
    best: dict[int, Looked] = {}
    for one in group:
        kept = best.get(one.planned.slice_at)
        if kept is None or abs(one.planned.offset_stops) < abs(kept.planned.offset_stops):
            best[one.planned.slice_at] = one
    chosen = [best[k] for k in sorted(best)]
    numbers = tuple(one.came.number for one in chosen)
    told = None if len(chosen) < LEAST_FRAMES or plan.by_rail else _told_by_size(plan, chosen, lies)
    if told is None:
        yield Finding(kind="focus_unknown", frames=numbers, sure="sure")
        # All that is left to go by is which frames the pictures were taken to be.
        for k in sorted({one.slice_at for one in plan.pictures if not one.blended} - set(best)):
            yield _slice_missing(
                plan,
                k,
                (n for n, one in zip(numbers, chosen, strict=True) if abs(one.planned.slice_at - k) == 1),
                "likely",
            )
        return
    for k in told.missing:
        yield _slice_missing(
            plan, k, (n for n, at in zip(numbers, told.slices, strict=True) if abs(at - k) <= 1), "sure"
        )
    if told.end_missing:
        yield Finding(kind="end_slice_missing", frames=numbers, sure="likely", size=float(told.end_missing))
    for number, off in zip(numbers, told.off, strict=True):
        if off:
            yield Finding(kind="focus_off", frames=(number,), sure="likely", size=off)


def _told_by_size(plan: Plan, chosen: list[Looked], lies: Mapping[tuple[int, int], Alignment]) -> Focused | None:
    steps = [lies.get((a.came.number, b.came.number)) or _lies(plan, a, b) for a, b in pairwise(chosen)]
    return where_focused(
        plan.image_log,
        plan.allowance_log,
        np.array([one.log_scale for one in steps]),
        np.array([one.scale_error for one in steps]),
    )


def _shaken(group: list[Looked]) -> Iterator[Finding]:
    """Frames that have less detail along one direction: than across it, or than the frames beside them have."""
    way = {one.came.number: one.shake.amount * np.exp(2j * np.radians(one.shake.direction_deg)) for one in group}
    usual = np.median([v.real for v in way.values()]) + 1j * np.median([v.imag for v in way.values()]) if way else 0
    for one in group:
        beside = way[one.came.number] - usual if len(group) > 2 else 0
        by_others = abs(beside) > _SHAKEN_BESIDE and one.shake.tiles >= LEAST_TILES
        if by_others or (len(group) <= 2 and one.shake.shaken):
            turn = beside if by_others else way[one.came.number]
            yield Finding(
                kind="shaken",
                frames=(one.came.number,),
                sure="likely" if by_others else "perhaps",
                size=float(abs(turn)),
                direction_deg=float(np.degrees(np.angle(turn)) / 2 % 180),
            )
