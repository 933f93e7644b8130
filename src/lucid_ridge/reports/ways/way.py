"""One way: a complete technique with what it costs."""

from __future__ import annotations

import math

import numpy as np

from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import element_travel_mm, moving_elements
from lucid_ridge.core.tensions.rule import Found
from lucid_ridge.core.ways.search import LEAST_BLUR_PX, LEAST_SECONDS, LEAST_TRAVEL_PX, Cost, lens_cost
from lucid_ridge.reports.figures import Readout, aperture_text, iso_text, micrometres_text, shutter_text, significant
from lucid_ridge.reports.sequence.build import build_sequence
from lucid_ridge.reports.sequence.frames import Sequence
from lucid_ridge.reports.sequence.layer_frames import LAYER_TEXT
from lucid_ridge.reports.tensions.words import said

_SAME_FOCUS = 0.03

NAMES: dict[str, tuple[str, str]] = {
    "balanced": ("Even-handed", "nothing else does so well in everything together"),
    "frames": ("Fewest frames", "none takes fewer frames"),
    "seconds": ("Quickest", "none is done sooner, so the light moves least"),
    "blur": ("Sharpest", "none is sharper where it matters"),
    "iso": ("Cleanest file", "none has a lower ISO"),
    "travel": ("Stillest", "in none do the leaves move less"),
    "lens": (
        "Lens at its best",
        "in none is the lens nearer the apertures where most are best (common practice: about f/8)",
    ),
}


@record
class Way:
    """A complete technique. ``changes`` make it; ``gives_up`` says where another way is better, ``broken`` which wants."""

    key: str
    name: str
    kept_for: tuple[str, ...]
    aperture_n: float
    settings_text: str
    technique_text: str
    gives_up: tuple[str, ...]
    broken: tuple[str, ...]
    frames: Readout
    total: Readout
    drift: Readout
    drift_is_stale: bool
    blur: Readout
    iso: Readout
    travel: Readout | None
    sequence: Sequence
    changes: tuple[Change, ...]
    in_use: bool


def settings_text(state: State) -> str:
    """Aperture, shutter, ISO and filters in one line."""
    settings = state.exposure.settings
    owned = {f.id: f.name for f in state.scene.kit.filters}
    filters = " + ".join(owned[u.filter_id] for u in settings.filters) or "no filter"
    return f"{aperture_text(settings.aperture_n)}, {shutter_text(settings.shutter_s)}, ISO {iso_text(settings.iso)}, {filters}"


def technique_text(state: State) -> str:
    """How the picture is put together, in one line."""
    slices, brackets, layers = len(state.depth.slices), len(state.offsets), state.scene.composition.technique.layers
    parts = ["one focus" if slices == 1 else f"{slices} slices"]
    if brackets > 1:
        parts.append(f"{brackets} exposures each" if slices > 1 else f"{brackets} exposures")
    parts += [
        f"a layer for the {LAYER_TEXT[one.purpose]}, {shutter_text(one.shutter_s)} at ISO {iso_text(one.iso)}"
        for one in layers
    ]
    return ", ".join(parts)


def _same(a: State, b: State) -> bool:
    """Whether two states are taken the same way, their focus within what nobody sees."""
    one, two = a.scene.composition, b.scene.composition
    near, far = (1 / (c.settings.focus_m or math.inf) for c in (one, two))
    return (
        one.technique == two.technique
        and settings_text(a) == settings_text(b)
        and abs(near - far) <= _SAME_FOCUS * max(near, far)
    )


def _name(kept_for: tuple[str, ...]) -> str:
    """What a way is the best at, shortly."""
    if not kept_for:
        return "Your proposal"
    if len(kept_for) >= len(NAMES) - 1:
        return "Best in everything"
    first, *others = (NAMES[k][0] for k in kept_for)
    return f"{first}, {others[0].lower()}" if others else first


def worst_blur_mm(state: State) -> float:
    """Blur, diffraction included, at the worst place that must be sharp, mm; the Airy disk where nothing must."""
    critical = [i for i, e in enumerate(state.scene.composition.elements) if e.sharp and state.geometry.seen(i)]
    return max((float(state.depth.worse.total_mm[i]) for i in critical), default=state.depth.airy_mm)


def leaves_travel_mm(state: State) -> float | None:
    """How far the fastest leaves go in the frame that they are taken from, mm; None where nothing sways."""
    layers = state.scene.composition.technique.layers
    shutter = next((one.shutter_s for one in layers if one.purpose == "foliage"), state.exposure.settings.shutter_s)
    return max((element_travel_mm(state, i, shutter) for i in moving_elements(state, "foliage")), default=None)


def leaves_travel_text(state: State) -> str:
    """The same in pixels and micrometres."""
    travel, body = leaves_travel_mm(state) or 0.0, state.scene.kit.body
    return f"{significant(travel / (body.sensor_width_mm / body.pixels_across), 2)} px ({micrometres_text(travel)})"


def make_way(
    base: State, made: State, changes: tuple[Change, ...], key: str, kept_for: tuple[str, ...], found: list[Found]
) -> Way:
    """A way from the state it leads to; *base* is the state that is now, *found* what the way breaks."""
    sequence = build_sequence(made)
    pitch = made.scene.kit.body.sensor_width_mm / made.scene.kit.body.pixels_across
    blur, travel = worst_blur_mm(made), leaves_travel_mm(made)
    iso = max([made.exposure.settings.iso, *(one.iso for one in made.scene.composition.technique.layers)])
    name = _name(kept_for)
    return Way(
        key=key,
        name=name,
        kept_for=tuple(NAMES[k][1] for k in kept_for),
        aperture_n=made.exposure.settings.aperture_n,
        settings_text=settings_text(made),
        technique_text=technique_text(made),
        gives_up=(),
        broken=tuple(f"{one.title}: {one.sentence}" for one in (said(made, f) for f in found)),
        frames=sequence.count,
        total=sequence.total,
        drift=sequence.drift,
        drift_is_stale=sequence.drift_is_stale,
        blur=Readout(value=blur / pitch, text=f"{significant(blur / pitch, 2)} px", explain="ways.blur"),
        iso=Readout(value=iso, text=f"ISO {iso_text(iso)}", explain="ways.iso"),
        travel=None
        if travel is None
        else Readout(value=travel / pitch, text=leaves_travel_text(made), explain="ways.travel"),
        sequence=sequence,
        changes=changes,
        in_use=_same(base, made),
    )


def cost_of(way: Way, cost: Cost) -> float:
    """A cost of a way as the search counts it: below what anyone sees it is nothing."""
    match cost:
        case "frames":
            return float(way.frames.value or 0)
        case "seconds":
            return max(float(way.total.value or 0), LEAST_SECONDS)
        case "blur":
            return max(float(way.blur.value or 0), LEAST_BLUR_PX)
        case "iso":
            return float(way.iso.value or 0)
        case "travel":
            return max(float(way.travel.value or 0) if way.travel else 0.0, LEAST_TRAVEL_PX)
        case "lens":
            return float(lens_cost(np.array([way.aperture_n]))[0])
