"""A composition from what a photograph tells: body and lens found in the kit or made, aim, settings, reading, moment."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from lucid_ridge.beginnings.placing import USUAL_HEIGHT_M, closed, within_reach
from lucid_ridge.beginnings.usual_kit import FORMATS, usual_body
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.kit import LONGEST_S, SHORTEST_S, Body, Kit, Lens, Support
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Composition, Reading, Scene, Settings, Underlay
from lucid_ridge.core.motion.travel import equivalent_focal_length_mm
from lucid_ridge.core.records import record
from lucid_ridge.core.stops.scales import nearest_third

_SAME_SIZE = 0.04
"""Sensors that differ by less than this share are one: sizes are rounded where they are told."""
_USUAL_APERTURE, _USUAL_ISO = 8.0, 100.0
_FOCUS_M = 5.0
_NEAREST_SHARE = 8.0
"""A lens of which nothing more is known focuses down to some eight focal lengths (common practice)."""


@record
class Sensor:
    """A body as far as a photograph tells it; its pixels are those of the photograph."""

    name: str
    width_mm: float
    height_mm: float
    pixels_across: int
    pixels_down: int


@record
class Shot:
    """How a photograph was taken, with what was missing filled in. ``view_deg`` is its field of view across."""

    taken: datetime
    azimuth_deg: float
    focal_length_mm: float
    view_deg: float
    width_px: int
    height_px: int
    f_number: float | None = None
    exposure_s: float | None = None
    iso: float | None = None
    focus_m: float | None = None


@dataclass(frozen=True)
class Match:
    """A piece of the kit that a photograph was taken with, by the id it is kept under."""

    id: str
    name: str


def _near(a: float, b: float) -> bool:
    return abs(a - b) <= _SAME_SIZE * max(a, b)


def find_body(bodies: Mapping[str, Body], camera: str | None, sides_mm: tuple[float, float] | None) -> Match | None:
    """The body of a photograph: the one that is called so, else the only one with a sensor of that size."""
    for identity, body in bodies.items():
        if camera and body.name.casefold() == camera.casefold():
            return Match(identity, body.name)
    if sides_mm is None:
        return None
    found = [
        Match(identity, body.name)
        for identity, body in bodies.items()
        if _near(math.hypot(body.sensor_width_mm, body.sensor_height_mm), math.hypot(*sides_mm))
    ]
    return found[0] if len(found) == 1 else None


def find_lens(lenses: Mapping[str, Lens], name: str | None, focal_mm: float | None) -> Match | None:
    """The lens of a photograph: the one that is called so, else the only one that has its focal length."""
    for identity, lens in lenses.items():
        if name and lens.name.casefold() == name.casefold():
            return Match(identity, lens.name)
    if focal_mm is None:
        return None
    found = [
        Match(identity, lens.name)
        for identity, lens in lenses.items()
        if lens.shortest_mm * 0.99 <= focal_mm <= lens.longest_mm * 1.01
    ]
    return found[0] if len(found) == 1 else None


def made_body(sensor: Sensor) -> Body:
    """A body with the sensor that was worked out and usual values for the rest, by the usual format nearest in size."""
    diagonal = math.hypot(sensor.width_mm, sensor.height_mm)
    sensors = (one for one in FORMATS if one.id != "large_film")
    nearest = min(sensors, key=lambda one: abs(math.log(math.hypot(one.width_mm, one.height_mm) / diagonal)))
    usual = usual_body(nearest.id)
    return Body(
        name=sensor.name[:80],
        sensor_width_mm=round(sensor.width_mm, 2),
        sensor_height_mm=round(sensor.height_mm, 2),
        pixels_across=sensor.pixels_across,
        pixels_down=sensor.pixels_down,
        usable_range_stops=usual.usable_range_stops,
        headroom_stops=usual.headroom_stops,
        stabiliser_stops=usual.stabiliser_stops,
        highest_iso=usual.highest_iso,
        bracket_modes=usual.bracket_modes,
    )


def made_lens(
    name: str | None, focal_mm: float, f_number: float | None, span: tuple[float, float, float, float] | None
) -> Lens:
    """A lens by what it tells of itself, else one of the photograph's focal length and f-number alone."""
    wide = f_number or 2.8
    short, long, wide_short, wide_long = span or (focal_mm, focal_mm, wide, wide)
    short, long = min(short, focal_mm), max(long, focal_mm)
    told = f"{short:g} mm" if short == long else f"{short:g}-{long:g} mm"
    narrowest = max(22.0, f_number or 0.0)
    return Lens(
        name=(name or f"{told} f/{wide_short:g}")[:80],
        shortest_mm=round(short, 2),
        longest_mm=round(long, 2),
        widest_f_number=nearest_third(min(wide_short, f_number or wide_short), "aperture"),
        widest_f_number_long=nearest_third(min(wide_long, f_number or wide_long), "aperture"),
        narrowest_f_number=nearest_third(narrowest, "aperture"),
        minimum_focus_m=round(max(0.05, short / 1000 * _NEAREST_SHARE), 2),
    )


def equivalent_to_focal_mm(equivalent_mm: float, sides_mm: tuple[float, float]) -> float:
    """The focal length that takes in as much on a sensor as *equivalent_mm* does on 36 x 24 mm, by the diagonals."""
    return equivalent_mm / float(equivalent_focal_length_mm(1.0, *sides_mm))


def compose(  # Long: one record, field by field.
    shot: Shot, place: Place, kit: Kit, photograph_id: str, terrain: Terrain | None = None
) -> Composition:
    """The composition of a photograph, with the photograph under its view.

    The camera is level and at the height of the eyes or the support's reach: what no metadata tell is there to be put
    right by measuring. The exposure of the photograph counts as its meter reading.
    """
    lens, body, support = kit.lens, kit.body, kit.support
    upright = shot.height_px > shot.width_px
    aspect = shot.width_px / shot.height_px
    focal = min(max(shot.focal_length_mm, lens.shortest_mm), lens.longest_mm)
    marks = (min(max(shot.f_number or _USUAL_APERTURE, lens.widest_f_number), lens.narrowest_f_number), "aperture")
    aperture = nearest_third(marks[0], "aperture")
    iso = nearest_third(min(max(shot.iso or _USUAL_ISO, body.base_iso), body.highest_iso), "iso")
    shutter = min(max(shot.exposure_s or 1 / 64, SHORTEST_S), LONGEST_S)
    reading = None
    if shot.exposure_s and shot.f_number and shot.iso:
        reading = Reading(
            aperture_n=shot.f_number, shutter_s=shutter, iso=min(max(shot.iso, 1.0), 1e7), taken_at_utc=shot.taken
        )
    focus = shot.focus_m if shot.focus_m and shot.focus_m >= lens.minimum_focus_m else None
    composition = Composition(
        moment_utc=shot.taken,
        camera_height_m=within_reach(support, USUAL_HEIGHT_M),
        azimuth_deg=round(shot.azimuth_deg % 360, 1),
        orientation="portrait" if upright else "landscape",
        crop=_crop(body, aspect, upright),
        hand_held=support.kind == "hand",
        reading=reading,
        underlay=Underlay(
            photograph_id=photograph_id,
            azimuth_deg=round(shot.azimuth_deg % 360, 1),
            pitch_deg=0.0,
            view_deg=min(max(shot.view_deg, 0.1), 170.0),
            aspect=min(max(aspect, 0.05), 20.0),
            opacity=0.8,
        ),
        settings=Settings(
            focal_length_mm=focal,
            aperture_n=aperture,
            shutter_s=shutter,
            iso=iso,
            focus_m=focus or max(_FOCUS_M, lens.minimum_focus_m),
        ),
    )
    return closed(Scene(place=place, kit=kit, composition=composition), terrain)


def _crop(body: Body, aspect: float, upright: bool) -> Crop:
    """The photograph's own shape, where it is another than the sensor's."""
    sides = (body.sensor_height_mm, body.sensor_width_mm) if upright else (body.sensor_width_mm, body.sensor_height_mm)
    return Crop() if _near(aspect, sides[0] / sides[1]) else Crop(aspect=round(min(max(aspect, 0.2), 5.0), 4))


def usual_support() -> Support:
    """What a photograph was taken from as far as anybody knows: by hand."""
    return Support(name="by hand", kind="hand", lowest_m=0.1, highest_m=1.7)
