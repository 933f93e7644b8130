"""Lights for close-up: flash, lamp and what is there, each as an account in stops."""

from __future__ import annotations

import math
from typing import Literal

from lucid_ridge.core.exposure.closing import filters_in_use
from lucid_ridge.core.light.lamps import flash_stops, lamp_stops, power_for_stops, recycle_s, together_stops
from lucid_ridge.core.records import record
from lucid_ridge.core.state.close_up import Near
from lucid_ridge.core.state.state import State
from lucid_ridge.core.stops.filters import cost_stops
from lucid_ridge.reports.figures import (
    Readout,
    distance_text,
    shutter_text,
    significant,
    stops_change_text,
    stops_words,
)


@record
class LightAccount:
    """One light on the subject: how far it alone exposes above or below a mid-tone, and its share of all."""

    kind: Literal["ambient", "flash", "lamp"]
    name: str
    light_id: str
    stops: Readout
    share: Readout
    says: str


@record
class LightsReport:
    """The lights together. ``ratio`` is flash to lamp to ambient in stops, the ambient at nought."""

    accounts: tuple[LightAccount, ...]
    together: Readout
    ratio: str
    frames_per_minute: Readout
    problems: tuple[str, ...]
    cautions: tuple[str, ...]


# Long: one record, field by field.
def lights_report(state: State, now: Near) -> LightsReport:
    """Every light in use at the settings in use; the ambient is what the ledger exposes for."""
    settings, close_up, body = state.exposure.settings, state.scene.composition.close_up, state.scene.kit.body
    owned = {one.id: one for one in state.scene.kit.lights}
    filters = sum(cost_stops(f, use) for f, use in filters_in_use(state.scene) if f.kind != "graduated")
    given: list[tuple[Literal["ambient", "flash", "lamp"], str, str, float, str]] = [
        (
            "ambient",
            "the light that is there",
            "",
            state.exposure.brighter_stops,
            f"{shutter_text(settings.shutter_s)} decides it",
        )
    ]
    problems, cautions, waits = [], [], [0.0]
    for use in close_up.lights:
        light = owned[use.light_id]
        far = distance_text(use.distance_m, state.scene.units)
        if light.kind == "flash":
            stops = float(
                flash_stops(
                    light.guide_number_m, use.power, use.distance_m, now.working_f_number, settings.iso, filters
                )
            )
            mid = power_for_stops(light.guide_number_m, use.distance_m, now.working_f_number, settings.iso, filters)
            waits.append(float(recycle_s(light.full_recycle_s, use.power)))
            says = f"from {far} at {_power(use.power)}; a mid-tone by itself takes {_power(mid)}"
            given.append(("flash", light.name, light.id, stops, says))
            if mid > 1:
                problems.append(
                    f"The {light.name} is {stops_words(math.log2(mid))} too weak by itself: go nearer, open up, or raise ISO."
                )
            if use.power < light.least_power * 0.99:
                problems.append(f"The {light.name} goes down to {_power(light.least_power)}; move it away instead.")
            if settings.shutter_s < body.flash_sync_s / 2 ** (1 / 6):
                problems.append(
                    f"{shutter_text(settings.shutter_s)} is faster than the sync time of {shutter_text(body.flash_sync_s)}: part of the frame stays dark."
                )
            cautions.append(
                "A flash a hand's breadth from an eye harms it: never into the eyes of an animal or a person, and never at full power close by."
            )
        else:
            stops = (
                float(
                    lamp_stops(
                        light.ev100_at_1_m, use.distance_m, now.working_f_number, settings.shutter_s, settings.iso
                    )
                )
                - filters
            )
            given.append(("lamp", light.name, light.id, stops, f"from {far}, by its reading from 1 m"))
            cautions.append(
                "A lamp close by warms: what is small and damp dries and suffers within minutes. Do not look into it."
            )
        if light.ultraviolet:
            cautions.append(
                "Ultraviolet: protect eyes and skin with what the lamp's maker and local rules ask for, and keep it short on living things."
            )
    total = together_stops([stops for *_, stops, _ in given])
    accounts = tuple(
        LightAccount(
            kind=kind,
            name=name,
            light_id=light_id,
            stops=Readout(
                value=stops,
                text=stops_change_text(stops),
                explain=f"close.{kind}:{light_id}",
            ),
            share=Readout(
                value=2 ** (stops - total), text=f"{2 ** (stops - total):.0%}", explain=f"close.share:{light_id}"
            ),
            says=says,
        )
        for kind, name, light_id, stops, says in given
    )
    ambient = given[0][3]
    ratio = (
        " : ".join(f"{name} {stops_change_text(stops - ambient)}" for _, name, _, stops, _ in given)
        if len(given) > 1
        else ""
    )
    between = (
        max(*waits, settings.shutter_s + 1 / body.burst_per_s)
        if len(waits) > 1
        else settings.shutter_s + 1 / body.burst_per_s
    )
    return LightsReport(
        accounts=accounts,
        together=Readout(value=total, text=stops_change_text(total), explain="close.lights"),
        ratio=ratio,
        frames_per_minute=Readout(
            value=60 / between, text=f"{significant(60 / between, 2)} a minute", explain="close.rate"
        ),
        problems=tuple(problems),
        cautions=tuple(dict.fromkeys(cautions)),
    )


def _power(share: float) -> str:
    """A share of a flash's power as its dial says it, to the nearest third of a stop."""
    if share >= 0.99:
        return "full power" if share < 1.1 else f"{significant(share, 2)} times its full power"
    return f"1/{significant(1 / share, 2)} power"
