"""What an outing takes: kit in use, frames, open-shutter time, charge and room on the cards.

Figures are common practice. Lithium cells give less in the cold and recover when warm; carry the spare close to the body.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.model.kit import Body
from lucid_ridge.core.sequence.timing import frame_count, scheduled_frames
from lucid_ridge.core.state.state import State

OPEN_S_PER_FRAME = 22.5
"""A charge of four hundred frames holds a shutter open for about two and a half hours: so many seconds count as one frame."""
COLD = ((-20.0, 0.5), (-10.0, 0.65), (0.0, 0.8), (20.0, 1.0))
"""Share of a charge that is left at so many degrees Celsius."""
MB_PER_MEGAPIXEL = 1.3
"""Of a raw file, compressed without loss (common practice)."""
SPARE = 1.5
"""Half as much again as the sequences: for what is tried, repeated and looked at."""
RELEASE_FROM_S = 1.0


@dataclass(frozen=True)
class Use:
    """What one composition's sequence uses, by name, and how much of it."""

    body: str
    lens: str
    support: str | None
    filters: tuple[str, ...]
    gear: tuple[str, ...]
    lights: tuple[str, ...]
    frames: int
    open_s: float
    bulb_s: float
    release: bool
    frames_per_charge: int
    frame_mb: float


def frame_mb(body: Body) -> float:
    """How much room a frame takes, megabytes."""
    if body.frame_mb is not None:
        return body.frame_mb
    return body.pixels_across * body.pixels_down / 1e6 * MB_PER_MEGAPIXEL


def use_of(state: State) -> Use:
    """What a composition as it stands uses."""
    scene = state.scene
    composition, kit = scene.composition, scene.kit
    timed, count = scheduled_frames(state), frame_count(state)
    open_s = sum(f.shutter_s + f.dark_frame_s for f in timed) * count / max(len(timed), 1)
    bulb_s = sum(f.shutter_s for f in timed if f.by_hand) * count / max(len(timed), 1)
    owned_gear, owned_lights = ({g.id: g.name for g in items} for items in (kit.gear, kit.lights))
    layered = {use.filter_id for layer in composition.technique.layers for use in layer.filters}
    filters = [f.name for f, _ in filters_in_use(scene)] + [f.name for f in kit.filters if f.id in layered]
    return Use(
        body=kit.body.name,
        lens=kit.lens.name,
        support=None if composition.hand_held or kit.support.kind == "hand" else kit.support.name,
        filters=tuple(dict.fromkeys(filters)),
        gear=tuple(owned_gear[m.gear_id] for m in composition.close_up.mounted if m.gear_id in owned_gear)
        + tuple(g.name for g in kit.gear if g.kind == "rail" and composition.technique.slices == "rail"),
        lights=tuple(owned_lights[u.light_id] for u in composition.close_up.lights if u.light_id in owned_lights),
        frames=count,
        open_s=open_s,
        bulb_s=bulb_s,
        release=bulb_s > 0 or max((f.shutter_s for f in timed), default=0.0) >= RELEASE_FROM_S,
        frames_per_charge=kit.body.frames_per_charge,
        frame_mb=frame_mb(kit.body),
    )


def cold_share(celsius: float) -> float:
    """Share of a charge that is left in the cold, by lines between `COLD`; held beyond its ends."""
    return float(np.interp(celsius, [t for t, _ in COLD], [s for _, s in COLD]))


@dataclass(frozen=True)
class Demand:
    """What one body needs: frames with spare, charge in full batteries, room in megabytes."""

    body: str
    frames: int
    open_s: float
    charges: float
    card_mb: float


def charges(frames: float, open_s: float, frames_per_charge: int, celsius: float) -> float:
    """Charges that frames and open-shutter time take at a temperature; not rounded."""
    return (frames + open_s / OPEN_S_PER_FRAME) / frames_per_charge / cold_share(celsius)


def demand_of(uses: list[Use], celsius: float, lasts: float = 1.0) -> tuple[Demand, ...]:
    """What each body needs for all that is taken with it; a charge *lasts* so many times as long as the body's own figure says."""
    made = []
    for body in dict.fromkeys(u.body for u in uses):
        mine = [u for u in uses if u.body == body]
        frames = math.ceil(sum(u.frames for u in mine) * SPARE)
        open_s = sum(u.open_s for u in mine) * SPARE
        made.append(
            Demand(
                body=body,
                frames=frames,
                open_s=open_s,
                charges=charges(frames, open_s, mine[0].frames_per_charge, celsius) / lasts,
                card_mb=frames * max(u.frame_mb for u in mine),
            )
        )
    return tuple(made)
