"""The study of exposure: filters carried, a grad against a bracket, and what each look of motion would be."""

from __future__ import annotations

import math
from typing import Literal

from lucid_ridge.core.changes.kinds import Change, PutOn, TakeBracket
from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.exposure.tolerances import RANGE_STOPS
from lucid_ridge.core.motion.travel import WaterLook, look_window_s, within_look
from lucid_ridge.core.range.brackets import held, plan_bracket, usable_range_stops
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.core.state.subject_motion import water_heights_per_s
from lucid_ridge.core.state.tonal_range import brackets_at_most
from lucid_ridge.core.stops.filters import FilterInUse, graduated_cost
from lucid_ridge.core.ways.space import grad_edge, held_tones
from lucid_ridge.reports.exposure.filters import FilterStudy, filter_study
from lucid_ridge.reports.exposure.moving_things import MovingThing, moving_things
from lucid_ridge.reports.exposure.night import NightStudy, night_study
from lucid_ridge.reports.exposure.polariser import PolariserStudy, polariser_study
from lucid_ridge.reports.exposure.support import SupportStudy, support_study
from lucid_ridge.reports.exposure.words import LOOK_TEXT
from lucid_ridge.reports.figures import Readout, shutter_text, significant, stops_text, stops_words
from lucid_ridge.reports.tensions.words import own_text, window_text

LOOKS: tuple[WaterLook, ...] = ("freeze", "texture", "soft", "glass")
_WINDY_M_S, _LONG_MM = 8.0, 150.0


@record
class RangeWay:
    """One way to hold the range: frames, what is still lost, and what a grad does to what stands in the sky."""

    kind: Literal["grad", "bracket", "both", "one"]
    name: str
    frames: int
    lost: Readout
    holds: bool
    darkens: tuple[str, ...]
    blend: str
    changes: tuple[Change, ...]


@record
class LookRow:
    """A look of moving water: the times that give it by both schools, and its streak in frame heights there."""

    look: WaterLook
    name: str
    by_seconds: str
    by_travel: str
    streak: float
    streak_text: str
    in_use: bool
    wanted: bool


@record
class ExposureStudy:
    """The study of exposure. ``wind`` is the one counted with, from the forecast where nobody says."""

    filters: FilterStudy
    range_ways: tuple[RangeWay, ...]
    looks: tuple[LookRow, ...]
    looks_text: str
    wind: Readout
    wind_source: str
    speeds: tuple[MovingThing, ...]
    steadiness: tuple[str, ...]
    support: SupportStudy | None
    polariser: PolariserStudy | None
    night: NightStudy | None


# Long: one record, field by field.
def range_ways(state: State) -> tuple[RangeWay, ...]:
    """Grad, bracket, and both, each with what it holds; nothing where no tones are known."""
    scene, body = state.scene, state.scene.kit.body
    if not held_tones(state):
        return ()
    base = state.exposure.brighter_stops - state.exposure.metered.now_ev100
    usable = usable_range_stops(body.usable_range_stops, state.exposure.settings.iso, body.base_iso)
    headroom = min(body.headroom_stops, usable)
    edge = grad_edge(state)
    kept = tuple(u for f, u in filters_in_use(scene) if f.kind != "graduated")
    y = state.geometry.middle_y
    names = [e.name for e in scene.composition.elements]
    made: list[RangeWay] = []

    def add(
        kind: Literal["grad", "bracket", "both", "one"], name: str, grad: FilterInUse | None, bracket: bool
    ) -> None:
        owned = next((f for f in scene.kit.filters if grad and f.id == grad.filter_id), None)
        cost = [
            float(graduated_cost(owned, grad, float(v))) if owned and grad and not math.isnan(v) else 0.0 for v in y
        ]
        tones = [(ev + base - cost[i]) for i, ev in held_tones(state)]
        offsets: tuple[float, ...] = (0.0,)
        if bracket:
            try:
                most = brackets_at_most(scene, len(state.depth.slices))
                plan = plan_bracket(min(tones), max(tones), usable, headroom, body.bracket_modes, most_frames=most)
            except ValueError:
                plan = None
            offsets = plan.offsets_stops if plan else (0.0,)
        lost = held(tones, offsets, usable, headroom).lost
        dark = [
            f"{names[i]} by {stops_words(round(cost[i] * 3) / 3)}"
            for i, e in enumerate(scene.composition.elements)
            if e.role != "sky" and cost[i] > 1 / 3
        ]
        if bracket and len(offsets) == 1 and offsets[0] != 0:
            name = f"{name.replace('a bracket', 'one frame')}, exposed {stops_text(offsets[0])}"
        blend = "" if len(offsets) == 1 else f"{len(offsets)} frames to blend; what moves differs between them"
        uses = (*kept, *((grad,) if grad else ()))
        made.append(
            RangeWay(
                kind=kind,
                name=name,
                frames=len(offsets),
                lost=Readout(
                    value=lost,
                    text="nothing" if lost <= RANGE_STOPS else stops_words(round(lost * 3) / 3),
                    explain=f"range.way:{len(made)}",
                ),
                holds=lost <= RANGE_STOPS,
                darkens=tuple(dark),
                blend=blend,
                changes=(PutOn(filters=uses), TakeBracket(mode="range" if bracket else "none")),
            )
        )

    add("one", "one frame", None, False)
    add("bracket", "a bracket", None, True)
    for f in scene.kit.filters:
        if f.kind == "graduated":
            use = FilterInUse(filter_id=f.id, edge_at=edge)
            add("grad", f"{f.name}, edge at {edge:.0%} down", use, False)
            add("both", f"{f.name} and a bracket", use, True)
    return tuple(made)


def _looks(state: State) -> tuple[LookRow, ...]:
    rate = water_heights_per_s(state)
    allowed = state.depth.circle_of_confusion_mm / state.geometry.camera.frame_height_mm
    wants, shutter = state.scene.composition.wants, state.exposure.settings.shutter_s
    rows = []
    for look in LOOKS:
        own = wants.own_look(look)
        seconds, travel = (look_window_s(look, school, rate, allowed, own) for school in ("seconds", "travel"))
        window = seconds if wants.motion_school == "seconds" else travel
        middle = (
            window[1]
            if window[0] <= 0
            else math.sqrt(window[0] * window[1])
            if math.isfinite(window[1])
            else window[0] * 2
        )
        streak = rate * middle
        rows.append(
            LookRow(
                look=look,
                name=LOOK_TEXT[look],
                by_seconds=own_text(own) if own else window_text(seconds),
                by_travel=window_text(travel) if rate > 0 else "no speed told",
                streak=streak,
                streak_text=f"{significant(streak, 2)} frame heights" if streak >= 1 else f"{streak:.1%} of the height",
                in_use=within_look(window, shutter),
                wanted=wants.water_look == look,
            )
        )
    return tuple(rows)


def _wind(state: State, wind_m_s: float | None) -> tuple[float, str]:
    if wind_m_s is not None:
        return wind_m_s, "as you say"
    forecast = state.scene.forecast
    if forecast is not None and forecast.hours:
        hour = min(forecast.hours, key=lambda h: abs(h.at_utc.timestamp() - state.unix_s))
        return hour.wind_m_s, "simulated forecast"
    return 3.0, "a light breeze, assumed"


def _steadiness(state: State, wind: float) -> tuple[str, ...]:
    """What holds the camera, at this lens and in this wind (common practice)."""
    said = [
        f"By hand no slower than {shutter_text(state.hand_held_limit_s)}, and 1/60 on a walk with a wide lens; "
        "from a boat or kneeling 1/100 to 1/320."
    ]
    if state.steady and wind >= _WINDY_M_S and state.equivalent_mm >= _LONG_MM:
        said.append(
            f"{state.equivalent_mm:.0f} mm in {wind:.0f} m/s shakes on a tripod too: column down, shade off, weight on the legs near the ground, and wait for lulls."
        )
    elif state.steady and wind >= _WINDY_M_S:
        said.append("Wind: column down, and do not hang a heavy bag that swings.")
    if state.steady and state.equivalent_mm >= _LONG_MM:
        said.append("A long lens: five seconds of self-timer, or a remote.")
    return tuple(said)


def exposure_study(state: State, wanted_s: float | None = None, wind_m_s: float | None = None) -> ExposureStudy:
    """Everything the Exposure bench shows beyond the evaluation."""
    wind, source = _wind(state, wind_m_s)
    rate = water_heights_per_s(state)
    return ExposureStudy(
        filters=filter_study(state, wanted_s),
        range_ways=range_ways(state),
        looks=_looks(state),
        looks_text=f"The fastest water goes {significant(rate, 2)} frame heights in a second."
        if rate
        else "No water with a speed is in the frame.",
        wind=Readout(value=wind, text=f"{wind:.0f} m/s"),
        wind_source=source,
        speeds=moving_things(wind),
        steadiness=_steadiness(state, wind),
        support=support_study(state),
        polariser=polariser_study(state),
        night=night_study(state),
    )
