"""The Close-up bench: how large and how near, lenses side by side, gear, background and wind."""

from __future__ import annotations

import math

from lucid_ridge.core.camera.mounted_lens import extension_loss_stops, whole_optics
from lucid_ridge.core.changes.check import widest_aperture
from lucid_ridge.core.light.lamps import flash_duration_s
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.optics.close_up import (
    background_disk_mm,
    factor_from_extension,
    factor_from_f_numbers,
    factor_from_target,
)
from lucid_ridge.core.records import record
from lucid_ridge.core.state.close_up import Near, near
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.scales import nearest_third
from lucid_ridge.reports.close_up.lenses import (
    GearRow,
    LensRow,
    gear_rows,
    lens_rows,
    magnification_text,
    millimetres,
    past_shade_mm,
)
from lucid_ridge.reports.close_up.lights import LightsReport, lights_report
from lucid_ridge.reports.close_up.stack import StackPlan, stack_plans
from lucid_ridge.reports.figures import (
    Readout,
    aperture_text,
    distance_text,
    shutter_text,
    significant,
    stops_text,
    stops_words,
)

TWICE = 2.0
"""Background at least so many times as far behind the subject as the camera in front (common practice)."""
TARGET_MM = 50.0


@record
class FactorRow:
    """One of the usual ways to find what extension takes from the light."""

    way: str
    how: str
    stops: Readout


@record
class BackgroundStep:
    """What one step would do to the background's blur disk."""

    what: str
    disk: Readout
    gain: str


@record
class Background:
    """How smooth the background gets."""

    behind: Readout
    disk: Readout
    share: Readout
    ratio: Readout
    practice: str
    steps: tuple[BackgroundStep, ...]


@record
class HandRow:
    """A way to hold a stack or a single frame by hand, with its floor and what it asks for."""

    what: str
    floor: Readout
    says: str


@record
class CloseUpReport:
    """Everything the Close-up bench shows. ``problem`` says why what is asked cannot be had."""

    magnification: Readout
    reach_text: str
    framed: Readout
    ruler_text: str
    subject_distance: Readout
    from_sensor: Readout
    working_distance: Readout
    past_shade: Readout
    working_aperture: Readout
    loss: Readout
    loss_text: str
    depth: Readout
    diffraction: Readout
    diffraction_text: str
    pupil_text: str
    problem: str
    lenses: tuple[LensRow, ...]
    gear: tuple[GearRow, ...]
    factors: tuple[FactorRow, ...]
    background: Background
    stacks: tuple[StackPlan, ...]
    sway: Readout
    sway_text: str
    hand: tuple[HandRow, ...]
    lights: LightsReport
    cautions: tuple[str, ...]


def _background(state: State, now: Near) -> Background:
    width, pupils = state.geometry.picture_mm[0], now.optics.pupil_magnification

    def disk(f: float, n: float, m: float, behind: float) -> float:
        return float(background_disk_mm(f, n, m, behind, pupils))

    here = disk(now.focal_mm, now.f_number, now.magnification, now.behind_mm)

    def step(what: str, changed: float) -> BackgroundStep:
        key = f"close.disk:{what[:60]}"
        return BackgroundStep(
            what=what,
            disk=Readout(value=changed / width, text=f"{changed / width:.1%}", explain=key),
            gain=f"{changed / here:.2f} times as smooth" if here > 0 else "",
        )

    # A step of a tenth of the distance nearer to the subject, which stays in focus.
    nearer = now.subject_mm * 0.9
    closer = now.focal_mm / (nearer - now.focal_mm)
    steps = [
        step(
            f"a step of {distance_text(now.subject_mm / 10000)} toward the subject",
            disk(now.focal_mm, now.f_number, closer, now.behind_mm),
        ),
        step(
            "a lens half as long again, as large in the frame",
            disk(now.focal_mm * 1.5, now.f_number, now.magnification, now.behind_mm),
        ),
        step("the background twice as far", disk(now.focal_mm, now.f_number, now.magnification, now.behind_mm * 2)),
    ]
    lens, settings = state.scene.kit.lens, state.scene.composition.settings
    widest = widest_aperture(lens, settings.focal_length_mm)
    if settings.aperture_n > widest * 1.05:
        opened = widest * now.f_number / settings.aperture_n
        steps.append(
            step(f"opened to {aperture_text(widest)}", disk(now.focal_mm, opened, now.magnification, now.behind_mm))
        )
    if lens.widest_f_number_long > lens.widest_f_number * 1.02 and lens.longest_mm > settings.focal_length_mm * 1.02:
        # At the same size in the frame: farther away, with the aperture that the long end has left.
        zoomed = whole_optics(lens, lens.longest_mm, max(settings.aperture_n, lens.widest_f_number_long))
        long = disk(zoomed.focal_length_mm, zoomed.f_number, now.magnification, now.behind_mm)
        steps.append(
            step(
                f"zoomed to {lens.longest_mm:g} mm, where it opens to {aperture_text(lens.widest_f_number_long)} only",
                long,
            )
        )
    ratio = now.behind_mm / now.subject_mm
    holds = ratio >= TWICE
    return Background(
        behind=millimetres(now.behind_mm),
        disk=millimetres(here, "close.disk"),
        share=Readout(
            value=here / width, text=f"{here / width:.1%} of the picture's width", explain="close.disk:share"
        ),
        ratio=Readout(value=ratio, text=f"{significant(ratio, 2)} times the camera's distance", explain="close.ratio"),
        practice=f"The practice of at least twice the camera's distance is {'kept' if holds else 'not kept'}.",
        steps=tuple(steps),
    )


def _factors(now: Near, marked_mm: float) -> tuple[FactorRow, ...]:
    def row(way: str, how: str, stops: float) -> FactorRow:
        key = f"close.loss:{way}"
        return FactorRow(way=way, how=how, stops=Readout(value=stops, text=stops_text(-stops), explain=key))

    m = now.image_mm / marked_mm - 1
    return (
        row(
            "measured extension",
            f"lens to sensor {significant(now.image_mm, 3)} mm, focal length {marked_mm:g} mm: (v/f)²",
            float(factor_from_extension(now.image_mm, marked_mm)),
        ),
        row(
            "counted as f-numbers",
            f"from f/{significant(marked_mm / 10, 2)} to f/{significant(now.image_mm / 10, 2)}, in stops",
            float(factor_from_f_numbers(now.image_mm, marked_mm)),
        ),
        row(
            "a target of known size",
            f"{TARGET_MM:g} mm are drawn {significant(TARGET_MM * m, 3)} mm long on the ground glass: (1 + m)²",
            float(factor_from_target(TARGET_MM, TARGET_MM * m)),
        ),
    )


def _hand(state: State, now: Near, by_hand: tuple[int, int]) -> tuple[HandRow, ...]:
    """Hand-held: a burst in natural light against single flash frames (floors are common practice)."""
    body, settings = state.scene.kit.body, state.exposure.settings
    limit = min(state.hand_held_limit_s, 1 / 200)
    need = math.log2(max(settings.shutter_s / limit, 1e-9))
    if need <= 1 / 6:
        says = "The shutter in use is fast enough."
    else:
        iso = settings.iso * 2**need
        says = f"The shutter in use is {stops_words(round(need * 3) / 3)} too slow: ISO {significant(nearest_third(iso, 'iso'), 2)} would do it."
    rows = [
        HandRow(
            what="burst in natural light",
            floor=Readout(value=limit, text=shutter_text(nearest_third(limit, "shutter")), explain="motion.hand_burst"),
            says=f"{says} 1/200 to 1/500 is usual, not slower than 1/320 without support. {body.burst_per_s:g} frames a second, swaying forward through the subject.",
        )
    ]
    for use in state.scene.composition.close_up.lights:
        owned = next((one for one in state.scene.kit.lights if one.id == use.light_id and one.kind == "flash"), None)
        if owned is not None:
            lit = float(flash_duration_s(owned.full_duration_s, use.power))
            rows.append(
                HandRow(
                    what=f"single frames with the {owned.name}",
                    floor=Readout(value=lit, text=shutter_text(lit), explain=f"close.flash_duration:{owned.id}"),
                    says="The flash itself freezes, while what is left of the daylight stays dark. 1/16 of its power or less recycles fast enough to follow a subject freehand.",
                )
            )
    taken, good = by_hand
    if taken:
        rows.append(
            HandRow(
                what="your own yield",
                floor=Readout(value=good / taken, text=f"{good / taken:.0%}"),
                says=f"Of {taken} takes by hand in your logbook, {good} came back without a fault: plan for {math.ceil(taken / max(good, 1))} tries.",
            )
        )
    rows.append(
        HandRow(
            what="support for the hands",
            floor=Readout(value=None, text=""),
            says="Both elbows on the ground or the knees; the lens on a bag, a stick or the left wrist; breathe out and sway, do not step.",
        )
    )
    return tuple(rows)


_CAUTIONS = {
    "shy": "Leave animals where they are; step back when one shows that it has seen you. Never cool, bind or bait one.",
    "plant": "Bend a stray stalk aside, do not pull it; look where you kneel.",
    "fixed": "",
}


# Long: one record, field by field.
def close_up_report(state: State, lenses: tuple[Lens, ...] = (), by_hand: tuple[int, int] = (0, 0)) -> CloseUpReport:
    """Everything the Close-up bench shows.

    *lenses* are the ones owned, to be set side by side; *by_hand* counts the takes by hand so far, and those of them
    that came back without a fault.
    """
    now, lens, settings = near(state), state.scene.kit.lens, state.scene.composition.settings
    close_up, shutter = state.scene.composition.close_up, state.exposure.settings.shutter_s
    low, high = now.reach
    m = now.magnification
    problem = ""
    if not low * 0.999 <= m <= high * 1.001:
        what = "more" if m > high else "less"
        problem = (
            f"{magnification_text(m)} is {what} than the {lens.name} draws with what is on it "
            f"({magnification_text(low) if low > 0 else '0'} to {magnification_text(high)}). Choose gear below that reaches it, or another lens."
        )
    elif now.working_mm is not None and now.working_mm <= 0:
        problem = "The subject would stand inside the lens: less magnification, or a longer lens."
    loss = extension_loss_stops(lens, settings, m)
    reading = state.scene.composition.reading
    allowed = state.depth.circle_of_confusion_mm / m
    sway = allowed / shutter
    wave = now.depth.diffraction
    beyond = wave > now.depth.geometric
    return CloseUpReport(
        magnification=Readout(value=m, text=magnification_text(m), explain="close.magnification"),
        reach_text=f"{magnification_text(low) if low > 0 else '0'} to {magnification_text(high)}",
        framed=Readout(
            value=now.frame_mm[0],
            text=f"{significant(now.frame_mm[0], 3)} × {significant(now.frame_mm[1], 3)} mm",
            explain="close.framed",
        ),
        ruler_text=f"A ruler across the frame shows {significant(now.frame_mm[0], 3)} mm.",
        subject_distance=millimetres(now.subject_mm, "close.subject_distance:lens"),
        from_sensor=millimetres(now.from_sensor_mm, "close.subject_distance:sensor"),
        working_distance=millimetres(now.working_mm, "close.working_distance"),
        past_shade=millimetres(past_shade_mm(lens, now.working_mm), "close.working_distance:shade"),
        working_aperture=Readout(
            value=now.working_f_number, text=aperture_text(now.working_f_number), explain="close.working_aperture"
        ),
        loss=Readout(value=loss, text=stops_text(-loss), explain="close.loss"),
        loss_text="The light lost stands in the ledger: the meter did not see it."
        if reading is not None and not reading.through_lens
        else "A meter through the lens has seen the light lost.",
        depth=millimetres(now.depth.counted, "close.depth"),
        diffraction=millimetres(wave, "close.diffraction"),
        diffraction_text="The diffraction depth exceeds the depth by geometry: sharpness is soft-edged here, and stopping down gives little."
        if beyond
        else "",
        pupil_text=""
        if lens.pupil_magnification != 1
        else "The pupils count as equal; the lens's record can tell their ratio.",
        problem=problem,
        lenses=lens_rows(state, now, lenses),
        gear=gear_rows(state, now),
        factors=_factors(now, settings.focal_length_mm),
        background=_background(state, now),
        stacks=stack_plans(state, now),
        sway=Readout(value=sway, text=f"{significant(sway, 2)} mm/s", explain="close.sway"),
        sway_text=f"At {shutter_text(shutter)} a stem may sway so fast and stay sharp."
        + (
            ""
            if close_up.speed_mm_s <= sway
            else f" At {close_up.speed_mm_s:g} mm/s it needs {shutter_text(nearest_third(allowed / close_up.speed_mm_s, 'shutter'))}."
        ),
        hand=_hand(state, now, by_hand),
        lights=lights_report(state, now),
        cautions=tuple(text for text in (_CAUTIONS[close_up.subject], *lights_report(state, now).cautions) if text),
    )
