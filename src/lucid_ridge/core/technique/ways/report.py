"""Ways as they are shown: a few techniques, each the best at something, with what it gives up for it."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import cast

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.figures import Figure, micrometres_text, significant, stops_words
from lucid_ridge.core.records import record
from lucid_ridge.core.stops.scales import aperture_text, iso_text, shutter_text
from lucid_ridge.core.technique.changes import (
    Change,
    PutOn,
    SetBulb,
    SetTo,
    TakeBracket,
    TakeLayers,
    TakeSlices,
    apply_changes,
)
from lucid_ridge.core.technique.layers import layer_reaching
from lucid_ridge.core.technique.moving import element_travel_mm, foliage_freezing_s, look_window, moving_elements
from lucid_ridge.core.technique.scene import Layer
from lucid_ridge.core.technique.sequence import LAYER_TEXT, Sequence, build_sequence
from lucid_ridge.core.technique.state import State, build_state
from lucid_ridge.core.technique.tensions import Found, find
from lucid_ridge.core.technique.ways.search import (
    COSTS,
    LAYER_SETS,
    LEAST_BLUR_PX,
    LEAST_SECONDS,
    LEAST_TRAVEL_PX,
    WANTS,
    Cost,
    Space,
    Want,
    explore,
    lens_cost,
)

MOST_WAYS = 6
_TRIED_AGAIN = 4
ALIKE = 1.1
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
WANT_TEXT: dict[Want, str] = {
    "sharp": "everything sharp that must be",
    "water": "the look of the water",
    "wave": "the frozen wave",
    "foliage": "the leaves sharp",
    "range": "both ends of the range held",
    "by hand": "no slower than the hand holds",
    "frames": "no more frames than you want",
    "bulb": "no longer than the body times",
    "exposure": "the picture as bright as you want",
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
    frames: Figure
    total: Figure
    drift: Figure
    drift_is_stale: bool
    blur: Figure
    iso: Figure
    travel: Figure | None
    sequence: Sequence
    changes: tuple[Change, ...]
    in_use: bool


@record
class WaysReport:
    """The ways of a composition. Without any that gives all that is wanted: the nearest, and what to relax."""

    ways: tuple[Way, ...]
    found: bool
    count: int
    judged: int
    sentence: str
    relax: tuple[str, ...]


@record
class Broken:
    """A want that a proposal breaks, and by how much."""

    title: str
    sentence: str
    figure: Figure


@record
class WhyNot:
    """What a proposed technique would break; nothing broken means that it is a way like the others."""

    settings_text: str
    technique_text: str
    verdict: str
    broken: tuple[Broken, ...]
    beaten_by: str
    way: Way
    changes: tuple[Change, ...]


def _changes_of(state: State, space: Space, at: int) -> tuple[Change, ...]:
    """The changes that turn a scene's technique into one of the space, layers aside."""
    a, i, c, p, bracket, _ = (int(v) for v in space.index[at])
    locks = state.scene.composition.locks
    focus = space.focuses[p]
    changes: list[Change] = []
    if "aperture" not in locks:
        changes.append(SetTo(setting="aperture", value=float(space.apertures[a])))
    if "iso" not in locks and "shutter" not in locks:
        changes.append(SetTo(setting="iso", value=float(space.isos[i])))
    if "filters" not in locks:
        changes.append(PutOn(filters=space.filters[c].uses))
    if focus.kind == "one":
        changes.append(TakeSlices(mode="one"))
        changes.append(
            SetTo(setting="focus", value=None if focus.focus_m is None or math.isinf(focus.focus_m) else focus.focus_m)
        )
    elif focus.kind == "gapless":
        changes.append(TakeSlices(mode="gapless"))
    changes.append(TakeBracket(mode="range" if bracket else "none"))
    changes.append(TakeLayers(layers=()))
    return tuple(changes)


def _applied(state: State, changes: tuple[Change, ...]) -> State:
    return build_state(apply_changes(state.scene, changes), earlier=state, terrain=state.terrain)


def _whole(state: State, space: Space, at: int) -> tuple[State, tuple[Change, ...]]:
    """The state of a technique with its layers and bulb, and all changes that lead there."""
    changes = _changes_of(state, space, at)
    made = _applied(state, changes)
    layers: list[Layer] = []
    for purpose in LAYER_SETS[int(space.index[at, 5])]:
        slowest = foliage_freezing_s(made) if purpose == "foliage" else look_window(made, "freeze")[1]
        layer = layer_reaching(made, purpose, slowest)
        if layer is not None:
            layers.append(layer)
    body = made.scene.kit.body
    bulb = made.exposure.settings.shutter_s > body.longest_timed_s * 2 ** (1 / 6) and body.has_bulb
    more: tuple[Change, ...] = (TakeLayers(layers=tuple(layers)), SetBulb(on=bulb))
    return _applied(state, (*changes, *more)), (*changes, *more)


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


def _way(
    base: State, made: State, changes: tuple[Change, ...], key: str, kept_for: tuple[str, ...], found: list[Found]
) -> Way:
    sequence = build_sequence(made)
    pitch = made.scene.kit.body.sensor_width_mm / made.scene.kit.body.pixels_across
    critical = [
        i for i, e in enumerate(made.scene.composition.elements) if e.sharp and not math.isnan(made.geometry.near_m[i])
    ]
    defocus = max(
        (max(float(made.depth.blur_near_mm[i]), float(made.depth.blur_far_mm[i])) for i in critical), default=0.0
    )
    blur = math.hypot(defocus, made.depth.airy_mm)
    layers = made.scene.composition.technique.layers
    leaves = next((one.shutter_s for one in layers if one.purpose == "foliage"), made.exposure.settings.shutter_s)
    travels = [element_travel_mm(made, i, leaves) for i in moving_elements(made, "foliage")]
    iso = max([made.exposure.settings.iso, *(one.iso for one in layers)])
    travel = max(travels, default=0.0)
    name = _name(kept_for)
    return Way(
        key=key,
        name=name,
        kept_for=tuple(NAMES[k][1] for k in kept_for),
        aperture_n=made.exposure.settings.aperture_n,
        settings_text=settings_text(made),
        technique_text=technique_text(made),
        gives_up=(),
        broken=tuple(f"{one.title}: {one.sentence}" for one in found),
        frames=Figure(value=len(sequence.frames), text=str(len(sequence.frames)), explain="sequence.total"),
        total=sequence.total,
        drift=sequence.drift,
        drift_is_stale=sequence.drift_is_stale,
        blur=Figure(value=blur / pitch, text=f"{significant(blur / pitch, 2)} px", explain="depth.measures"),
        iso=Figure(value=iso, text=f"ISO {iso_text(iso)}"),
        travel=Figure(value=travel / pitch, text=f"{significant(travel / pitch, 2)} px ({micrometres_text(travel)})")
        if travels
        else None,
        sequence=sequence,
        changes=changes,
        in_use=_same(base, made),
    )


def _value(way: Way, cost: Cost) -> float:
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


_GIVEN_UP: tuple[tuple[Cost, str], ...] = (
    ("frames", "the frames"), ("seconds", "the time"), ("blur", "the blur"), ("iso", "the ISO"), ("travel", "the leaves' travel"),
)  # fmt: skip


def _given_up(way: Way, ways: list[Way]) -> tuple[str, ...]:
    """Where another way does clearly better, in words."""
    said = []
    for cost, words in _GIVEN_UP:
        best, here = min(_value(one, cost) for one in ways), _value(way, cost)
        if here > best * 1.15:
            said.append(f"{significant(here / best, 2)} × {words}")
    off = math.log2(_value(way, "lens"))
    if off > 0.5:
        said.append(
            f"{way.settings_text.split(',')[0]} is {stops_words(round(off * 3) / 3)} from where most lenses are best"
        )
    return tuple(said)


def _scores(space: Space, chosen: NDArray[np.intp]) -> NDArray[np.float64]:
    """Sum of costs, each as doublings above the least among the chosen."""
    cost = space.cost[:, chosen]
    least = np.maximum(cost.min(axis=1, keepdims=True), 1e-9)
    return np.asarray(np.round(np.log2(np.maximum(cost, 1e-9) / least).sum(axis=0), 9))


def _first(space: Space, chosen: NDArray[np.intp], together: NDArray[np.float64], by: str) -> list[int]:
    """The best few of the chosen: by one cost and then all together, or by all together.

    The first is beaten by none: what beat it would have no more of the one cost, and less of all together.
    """
    if by == "balanced":
        best = np.flatnonzero(together <= together.min())
        order = np.concatenate([best, np.setdiff1d(np.argsort(together, kind="stable")[:_TRIED_AGAIN], best)])
    else:
        cost = np.round(space.cost[COSTS.index(cast(Cost, by)), chosen], 9)
        least = np.flatnonzero(cost <= cost.min())
        order = least[np.argsort(together[least], kind="stable")]
    return [int(chosen[k]) for k in order[:_TRIED_AGAIN]]


def _too_alike(space: Space, at: int, by: str, others: list[int]) -> bool:
    """Whether what a way is the best at is had within a tenth by one that is shown already."""
    if by == "balanced" or not others:
        return False
    cost = space.cost[COSTS.index(cast(Cost, by))]
    return bool(cost[others].min() <= cost[at] * ALIKE)


def ways(state: State) -> WaysReport:
    """Three to six ways to give all that is wanted, none beaten by another; or the nearest, and what to relax."""
    space = explore(state)
    feasible = np.flatnonzero(space.feasible)
    judged = space.broken.shape[1]
    if len(feasible) == 0:
        return _nearest(state, space, judged)
    picked: dict[int, list[str]] = {}
    kept: dict[int, tuple[State, tuple[Change, ...]]] = {}
    together = _scores(space, feasible)
    for by in NAMES:
        for at in _first(space, feasible, together, by):
            if at not in kept and _too_alike(space, at, by, list(picked)):
                break
            if at not in kept:
                made, changes = _whole(state, space, at)
                if find_wanted(made):
                    continue
                kept[at] = (made, changes)
            picked.setdefault(at, []).append(by)
            break
    order = sorted(picked, key=lambda at: (list(NAMES).index(picked[at][0]), at))[:MOST_WAYS]
    if not order:
        return _nearest(state, space, judged)
    made_ways = [_way(state, *kept[at], f"way-{k}", tuple(picked[at]), []) for k, at in enumerate(order)]
    told = tuple(replace(one, gives_up=_given_up(one, made_ways)) for one in made_ways)
    words = "way gives" if len(told) == 1 else "ways give"
    return WaysReport(
        ways=told,
        found=True,
        count=len(feasible),
        judged=judged,
        sentence=f"{len(told)} {words} all that you want, of {len(feasible)} that do; {judged} were judged.",
        relax=(),
    )


_SEARCHED = frozenset(
    {
        "near_soft",
        "gap_soft",
        "far_soft",
        "diffraction",
        "hand_held",
        "water_look",
        "frozen_wave",
        "foliage",
        "range",
        "bulb",
        "frames",
        "exposure",
        "iso",
    }
)


def find_wanted(state: State) -> list[Found]:
    """The tensions that a technique can answer for; where the camera stands and how the lens focuses is not its to say."""
    return [one for one in find(state) if one.kind in _SEARCHED]


def _nearest(state: State, space: Space, judged: int) -> WaysReport:
    """The technique that breaks least, and the wants that stand in the way."""
    total = np.round(space.broken.sum(axis=0), 9)
    least = np.flatnonzero(total <= total.min())
    at = int(least[_scores(space, least).argmin()])
    made, changes = _whole(state, space, at)
    way = _way(state, made, changes, "nearest", ("balanced",), find_wanted(made))
    relax = []
    for k, want in enumerate(WANTS):
        others = np.delete(space.broken, k, axis=0)
        if bool((others <= 0).all(axis=0).any()):
            relax.append(f"Without {WANT_TEXT[want]} there are ways.")
    if not relax:
        worst = WANTS[int(space.broken[:, at].argmax())]
        relax.append(
            f"No single want stands in the way; {WANT_TEXT[worst]} is farthest off. Free a setting, or relax two."
        )
    locks = state.scene.composition.locks
    free = f" Locked are {', '.join(name.replace('_', ' ') for name in locks)}." if locks else ""
    return WaysReport(
        ways=(replace(way, name="The nearest"),),
        found=False,
        count=0,
        judged=judged,
        sentence=f"No way gives all that you want; {judged} were judged.{free}",
        relax=tuple(relax),
    )


def why_not(state: State, changes: tuple[Change, ...]) -> WhyNot:
    """What a proposed technique breaks, and by how much; if nothing, which way beats it."""
    made = _applied(state, changes)
    found = find_wanted(made)
    proposal = _way(state, made, changes, "proposal", (), found)
    report = ways(state)
    beaten = ""
    if not found and report.found:
        better = [
            w
            for w in report.ways
            if all(_value(w, c) <= _value(proposal, c) * (1 + 1e-9) for c in COSTS)
            and any(_value(w, c) < _value(proposal, c) * 0.999 for c in COSTS)
        ]
        beaten = f"“{better[0].name}” does as well in everything and better in something." if better else ""
    verdict = (
        f"It breaks {len(found)} of your wants." if len(found) > 1
        else "It breaks one of your wants." if found
        else "It gives all that you want." + ("" if beaten else " No way shown beats it.")
    )  # fmt: skip
    return WhyNot(
        settings_text=settings_text(made),
        technique_text=technique_text(made),
        verdict=verdict,
        broken=tuple(Broken(title=f.title, sentence=f.sentence, figure=f.figure) for f in found),
        beaten_by=beaten,
        way=proposal,
        changes=changes,
    )
