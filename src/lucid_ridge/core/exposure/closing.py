"""From a meter reading to the shutter time: the ledger of a scene, closed.

What gives way depends on the locks: the shutter if it is free, else ISO, else the brightness of the
picture, which then stands in the account as a line of its own.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from lucid_ridge.core.camera.mounted_lens import extension_loss_stops
from lucid_ridge.core.camera.panorama import brightest_reading
from lucid_ridge.core.daylight.lighting import Lighting
from lucid_ridge.core.exposure.kernels import set_times
from lucid_ridge.core.light.ephemeris import LAST_UNIX
from lucid_ridge.core.light.illuminance import predicted_ev100
from lucid_ridge.core.model.kit import LONGEST_S, Body
from lucid_ridge.core.model.scene import Scene, Settings
from lucid_ridge.core.stops.film import gathered_s, held_open_s
from lucid_ridge.core.stops.filters import Filter, FilterInUse, cost_stops, graduated_cost
from lucid_ridge.core.stops.ledger import EntryKind, Ledger, LedgerEntry, close_ledger, frame_stops
from lucid_ridge.core.stops.scales import exposure_value, nearest_third, on_third, third_index

PREDICTION_APERTURE = 8.0
_NEGLIGIBLE_STOPS = 1e-6


@dataclass(frozen=True)
class Metered:
    """The exposure the account starts from. ``element_id`` is what was metered, or predicted for, if told."""

    aperture_n: float
    shutter_s: float
    iso: float
    ev100: float
    predicted: bool
    element_id: str | None
    light_since_stops: float
    seen_stops: float = 0.0

    @property
    def scene_ev100(self) -> float:
        """EV of what was metered without what stood before the meter; spot readings are compared with that."""
        return self.ev100 + self.seen_stops

    @property
    def now_ev100(self) -> float:
        """The same in the light of the moment."""
        return self.scene_ev100 + self.light_since_stops


@dataclass(frozen=True)
class Exposure:
    """Settings after closing, the ledger, and how much brighter than metered the frame is.

    ``gathered_s`` is the shutter time before the film's own correction: what other frames are counted from.
    ``asked_s`` is that before it is brought onto a mark: what other filters are counted from.
    """

    settings: Settings
    metered: Metered
    ledger: Ledger
    brighter_stops: float
    gathered_s: float
    asked_s: float


def metered_exposure(scene: Scene, lighting: Lighting, unix_s: float) -> Metered:
    """The reading, with the change since of the light on what was metered; or a prediction where there is none.

    A prediction is for a mid-tone in the light that falls on the subject, or on level ground without one. A panorama
    with readings is exposed throughout for its brightest one.
    """
    reading, composition = scene.composition.reading, scene.composition
    brightest = brightest_reading(composition)
    if brightest is not None:
        aperture = composition.settings.aperture_n
        at = composition.panorama.read_at_utc
        return Metered(
            aperture_n=aperture,
            shutter_s=aperture**2 / 2**brightest.ev100,
            iso=100.0,
            ev100=brightest.ev100,
            predicted=False,
            element_id=None,
            light_since_stops=0.0 if at is None else lighting.stops(None, at.timestamp(), unix_s),
        )
    if reading is None:
        target = lighting.target
        ev = float(predicted_ev100(lighting.lux(target, unix_s)))
        return Metered(
            aperture_n=PREDICTION_APERTURE,
            shutter_s=PREDICTION_APERTURE**2 / 2**ev,
            iso=100.0,
            ev100=ev,
            predicted=True,
            element_id=None if target is None else composition.elements[target].id,
            light_since_stops=0.0,
        )
    return Metered(
        aperture_n=reading.aperture_n,
        shutter_s=reading.shutter_s,
        iso=reading.iso,
        ev100=float(exposure_value(reading.aperture_n, reading.shutter_s, reading.iso)),
        predicted=False,
        element_id=reading.element_id,
        light_since_stops=lighting.since_reading(min(reading.taken_at_utc.timestamp(), LAST_UNIX), unix_s),
        seen_stops=sum(entry.stops for entry in _seen_entries(scene)),
    )


def filters_in_use(scene: Scene) -> list[tuple[Filter, FilterInUse]]:
    """Owned filters that are on the lens, in order."""
    owned = {f.id: f for f in scene.kit.filters}
    return [(owned[use.filter_id], use) for use in scene.composition.settings.filters]


def graduated_stops(scene: Scene, y: float) -> float:
    """Stops that all graduated filters take at a height in the frame."""
    return sum(
        float(graduated_cost(owned, use, y)) for owned, use in filters_in_use(scene) if owned.kind == "graduated"
    )


def _filter_entries(scene: Scene, element_y: dict[str, float]) -> list[LedgerEntry]:
    entries = []
    for owned, use in filters_in_use(scene):
        if owned.kind == "graduated":
            for element_id, y in element_y.items():
                cost = float(graduated_cost(owned, use, y))
                if cost > 0.05:
                    entries.append(LedgerEntry(kind="graduated", stops=-cost, scope=element_id, filter_id=owned.id))
            continue
        kind: EntryKind = "polariser" if owned.kind == "polariser" else "nd"
        entries.append(LedgerEntry(kind=kind, stops=-cost_stops(owned, use), filter_id=owned.id))
    return entries


def _seen_entries(scene: Scene) -> list[LedgerEntry]:
    """Filters that were before the lens when it was metered: what they took is in the reading, so it comes back."""
    reading = scene.composition.reading
    owned = {f.id: f for f in scene.kit.filters}
    if reading is None or not reading.through_lens:
        return []
    return [
        LedgerEntry(kind="seen", stops=cost_stops(owned[u.filter_id], u), filter_id=u.filter_id)
        for u in reading.filters_on
        if u.filter_id in owned and cost_stops(owned[u.filter_id], u) > _NEGLIGIBLE_STOPS
    ]


def _fixed_entries(
    scene: Scene, metered: Metered, magnification: float, element_y: dict[str, float]
) -> list[LedgerEntry]:
    """Every line but ISO and the closing one."""
    settings = scene.composition.settings
    entries = []
    if abs(metered.light_since_stops) > _NEGLIGIBLE_STOPS:
        entries.append(LedgerEntry(kind="light", stops=metered.light_since_stops))
    entries += _filter_entries(scene, element_y)
    entries += _seen_entries(scene)
    opened = 2 * math.log2(metered.aperture_n / settings.aperture_n)
    if abs(opened) > _NEGLIGIBLE_STOPS:
        entries.append(LedgerEntry(kind="aperture", stops=opened))
    reading = scene.composition.reading
    if metered.predicted or (reading is not None and not reading.through_lens):
        loss = extension_loss_stops(scene.kit.lens, settings, magnification)
        if abs(loss) > _NEGLIGIBLE_STOPS:
            entries.append(LedgerEntry(kind="working", stops=-loss))
    return entries


def close_exposure(scene: Scene, metered: Metered, magnification: float, element_y: dict[str, float]) -> Exposure:
    """Work out shutter, or ISO, or brightness, and the account that leads there.

    Parameters
    ----------
    scene
        Checked.
    metered
        From `metered_exposure`.
    magnification
        At the focus in use.
    element_y
        Height in the frame (0 top, 1 bottom) of each element seen, for graduated filters.

    """
    settings, body, locks = scene.composition.settings, scene.kit.body, scene.composition.locks
    power = body.reciprocity_p
    entries = _fixed_entries(scene, metered, magnification, element_y)
    iso = settings.iso
    if "shutter" in locks:
        total = -math.log2(settings.shutter_s / metered.shutter_s)
        if power is not None and settings.shutter_s > 1:
            # What a locked time is worth on film.
            stops = -math.log2(settings.shutter_s / float(gathered_s(settings.shutter_s, power)))
            entries.append(LedgerEntry(kind="film", stops=stops))
        if "iso" not in locks:
            wanted = metered.iso * 2 ** (total - frame_stops(entries) + settings.compensation_stops)
            low, high = nearest_third(body.base_iso, "iso"), nearest_third(body.highest_iso, "iso")
            iso = on_third(round(third_index(float(np.clip(wanted, low, high)), "iso")), "iso")
        entries += _iso_line(metered, iso)
        # A remainder within the rounding to marks is no choice of the photographer's.
        brighter = frame_stops(entries) - total
        if abs(brighter) > 1 / 6 + 1e-9:
            entries.append(LedgerEntry(kind="choice", stops=-brighter))
        elif abs(brighter) > _NEGLIGIBLE_STOPS:
            entries.append(LedgerEntry(kind="rounding", stops=-brighter))
        shutter = settings.shutter_s
        asked = float(gathered_s(shutter, power))
    else:
        entries += _iso_line(metered, iso)
        brighter = settings.compensation_stops
        if abs(brighter) > _NEGLIGIBLE_STOPS:
            entries.append(LedgerEntry(kind="choice", stops=-brighter))
        asked = metered.shutter_s * 2 ** -frame_stops(entries)
        corrected = float(held_open_s(min(asked, LONGEST_S), power))
        if power is not None and corrected > asked * (1 + 1e-9):
            entries.append(LedgerEntry(kind="film", stops=-math.log2(corrected / asked)))
        shutter = set_shutter_s(body, corrected)
        rounding = -math.log2(shutter / metered.shutter_s) - frame_stops(entries)
        if abs(rounding) > _NEGLIGIBLE_STOPS:
            entries.append(LedgerEntry(kind="rounding", stops=rounding))
            brighter += math.log2(float(gathered_s(shutter, power)) / asked)
    return Exposure(
        settings=replace(settings, iso=iso, shutter_s=shutter),
        metered=metered,
        ledger=close_ledger(metered.shutter_s, entries),
        brighter_stops=brighter,
        gathered_s=float(gathered_s(shutter, power)),
        asked_s=asked,
    )


def set_shutter_s(body: Body, exact_s: float) -> float:
    """A shutter time as it can be set: on a mark where the body times it, as it is where a hand does."""
    return float(set_times(body, exact_s))


def bracket_shutter_s(body: Body, gathered: float, offset_stops: float) -> float:
    """Shutter time of a frame exposed so much longer than one that gathers light for a time; film corrects each."""
    return set_shutter_s(body, float(held_open_s(gathered * 2**offset_stops, body.reciprocity_p)))


def _iso_line(metered: Metered, iso: float) -> list[LedgerEntry]:
    entry = LedgerEntry(kind="iso", stops=math.log2(iso / metered.iso))
    return [entry] if abs(entry.stops) > _NEGLIGIBLE_STOPS else []
