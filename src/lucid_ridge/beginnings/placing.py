"""A kind of picture put at a place: with the kit that is there, turned to the light, at its next good time."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from typing import TypeVar

from lucid_ridge.beginnings.pictures import HOLDS, Picture, wish_for
from lucid_ridge.core.changes.check import widest_aperture
from lucid_ridge.core.daylight.skyline import standpoint_horizon
from lucid_ridge.core.light.ephemeris import sun_at
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.light_windows.next_light import next_low_sun
from lucid_ridge.core.model.kit import Body, Kit, Lens, Support
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Composition, Element, Panorama, Scene, Settings, Wants
from lucid_ridge.core.motion.travel import equivalent_focal_length_mm
from lucid_ridge.core.state.state import build_state
from lucid_ridge.core.stops.filters import Filter, FilterInUse
from lucid_ridge.core.stops.scales import nearest_third

Key = TypeVar("Key")

_BEYOND_NEAREST = 1.05
"""A little farther than a lens focuses at its nearest."""
_NEAR_M = 50.0
"""What stands nearer moves with the lens; what is farther is the land behind it."""
USUAL_HEIGHT_M = 1.5
"""The eyes of somebody who stands."""
_USUAL_APERTURE = 8.0
_LONGEST_WANTED_S = 30.0
_FASTEST_WANTED_S = 1 / 250
"""An animal that may start is taken at this or faster (common practice)."""


@dataclass(frozen=True)
class Owned:
    """The kit that is there, each piece by the id it is kept under."""

    bodies: Mapping[str, Body]
    lenses: Mapping[str, Lens]
    supports: Mapping[str, Support]
    filters: tuple[Filter, ...] = ()


@dataclass(frozen=True)
class Placed:
    """A composition, and the body, lens and support it uses by the ids they are kept under."""

    body_id: str
    lens_id: str
    support_id: str
    composition: Composition


def _log_gap(value: float, low: float, high: float) -> float:
    """How far a value lies outside a span, in doublings."""
    return max(0.0, math.log2(low / value), math.log2(value / high))


def best_lens(owned: Owned, focal_length_mm: float, macro: bool) -> str:
    """The lens for a focal length: a macro lens where one is wanted, else the one that comes nearest."""

    def cost(one: Lens) -> tuple[float, float, float]:
        reaches = (one.largest_magnification or 0.0) >= 0.5
        gap = _log_gap(focal_length_mm, one.shortest_mm, one.longest_mm)
        # A macro lens serves as another only where nothing else comes as near.
        return (0.0 if reaches == macro else 2.0) + gap, one.minimum_focus_m if macro else 0.0, one.widest_f_number

    return min(owned.lenses, key=lambda i: cost(owned.lenses[i]))


def best_support(owned: Owned, height_m: float) -> str:
    """The support that reaches a height; a tripod before a bag, and a bag before the hand."""
    steady = {"tripod": 0.0, "bag": 0.1, "hand": 0.4}

    def cost(one: Support) -> float:
        return steady[one.kind] + _log_gap(max(height_m, 0.01), max(one.lowest_m, 0.01), one.highest_m)

    return min(owned.supports, key=lambda i: cost(owned.supports[i]))


def within_reach(support: Support, height_m: float) -> float:
    """The height nearest to a wanted one that a support reaches on its legs, to the centimetre inside."""
    low, high = math.ceil(support.lowest_m * 100) / 100, math.floor(support.highest_m * 100) / 100
    return round(min(max(height_m, low), max(low, high)), 2)


def _nearest_m(lens: Lens, focal_mm: float) -> float:
    """The nearest distance from the lens that it can be focused at, with a little over; a macro lens by its scale, f (1 + 1/m)."""
    if lens.largest_magnification is not None:
        return focal_mm / 1000 * (1 + 1 / lens.largest_magnification) * _BEYOND_NEAREST
    return lens.minimum_focus_m * _BEYOND_NEAREST


def _farther(elements: tuple[Element, ...], by_m: float) -> tuple[Element, ...]:
    """Things moved away from the camera, those far off left where they are."""
    return tuple(replace(e, north_m=e.north_m + by_m) if e.north_m < _NEAR_M else e for e in elements)


def _turned(element: Element, azimuth_deg: float) -> Element:
    """An element seen from the camera, as it stands when the camera looks along an azimuth."""
    a = math.radians(azimuth_deg)
    ahead, right = element.north_m, element.east_m
    return replace(
        element,
        east_m=round(ahead * math.sin(a) + right * math.cos(a), 4),
        north_m=round(ahead * math.cos(a) - right * math.sin(a), 4),
        turned_deg=round((element.turned_deg + azimuth_deg) % 360, 2),
    )


def _aperture(lens: Lens, focal_mm: float, wanted_n: float) -> float:
    """The mark nearest to a wanted f-number that a lens has at a focal length."""
    widest = nearest_third(widest_aperture(lens, focal_mm), "aperture")
    return min(max(nearest_third(max(wanted_n, 1.0), "aperture"), widest), lens.narrowest_f_number)


def _filters(picture: Picture, owned: tuple[Filter, ...]) -> tuple[FilterInUse, ...]:
    found = (next((f for f in owned if f.kind == kind), None) for kind in picture.filters)
    return tuple(FilterInUse(filter_id=f.id, strength=1.0) for f in found if f is not None)


def _pitch_on(element: Element, height_m: float) -> float:
    middle = element.base_m + element.height_m / 2
    return math.degrees(math.atan2(middle - height_m, element.north_m))


def _before_the_lens(
    picture: Picture, scale: float, nearest_m: float, height_m: float
) -> tuple[tuple[Element, ...], Element]:
    """The things of a picture as they stand before the lens that is there, and the one that is focused on.

    With a lens *scale* times as long as wanted a near subject stands so much farther off; nothing that must be sharp is
    nearer than the lens focuses; and what is close and low is lifted to the height that the support holds.
    """
    elements = picture.elements
    focus = next(e for e in elements if e.id == picture.focus_on)
    if focus.role == "subject" and focus.north_m < _NEAR_M:
        elements = _farther(elements, focus.north_m * (scale - 1))
    sharp_m = min((e.north_m for e in elements if e.sharp and e.role != "water"), default=nearest_m)
    if sharp_m < nearest_m:
        elements = _farther(elements, nearest_m - sharp_m)
    if picture.macro:
        lift = height_m - picture.height_m
        elements = tuple(replace(e, base_m=round(e.base_m + lift, 3)) if e.north_m < _NEAR_M else e for e in elements)
    return elements, next(e for e in elements if e.id == focus.id)


# Long: one record, field by field.
def place_picture(
    picture: Picture, place: Place, owned: Owned, after: datetime, terrain: Terrain | None = None
) -> Placed:
    """A kind of picture at a place, in the first good light after a time.

    Body, lens and support are those of the kit that come nearest; the camera stands at a height in reach, nothing
    lies nearer than the lens focuses, and the exposure is closed for the light of that time.

    Raises
    ------
    ValueError
        If the kit lacks a body, a lens or a support.

    """
    if not (owned.bodies and owned.lenses and owned.supports):
        raise ValueError("A composition needs a body, a lens and a support.")
    body_id = next(iter(owned.bodies))
    body = owned.bodies[body_id]
    factor = float(equivalent_focal_length_mm(1.0, body.sensor_width_mm, body.sensor_height_mm))
    wanted_mm = picture.equivalent_mm / factor
    lens_id = best_lens(owned, wanted_mm, picture.macro)
    lens = owned.lenses[lens_id]
    focal_mm = min(max(wanted_mm, lens.shortest_mm), lens.longest_mm)
    support_id = best_support(owned, picture.height_m)
    support = owned.supports[support_id]
    height = within_reach(support, picture.height_m)

    nearest = _nearest_m(lens, focal_mm)
    elements, focus = _before_the_lens(picture, focal_mm / wanted_mm, nearest, height)
    pitch = _pitch_on(focus, height) if picture.macro or picture.id == "shy_animal" else picture.pitch_deg

    bare = Composition(
        moment_utc=after,
        camera_height_m=height,
        settings=Settings(focal_length_mm=focal_mm, aperture_n=8.0, shutter_s=1 / 64, iso=100.0, focus_m=3.0),
    )
    kit = Kit(body=body, lens=lens, support=support, filters=owned.filters)
    horizon = standpoint_horizon(Scene(place=place, kit=kit, composition=bare), terrain)
    moment = next_low_sun(place, horizon, after, picture.highest_sun_deg)
    _, sun_azimuth = sun_at(moment.timestamp(), place.latitude_deg, place.longitude_deg)
    azimuth = round((sun_azimuth - HOLDS[picture.sun]) % 360, 1)

    aperture = _aperture(lens, focal_mm, picture.aperture / factor)
    distance = math.dist((0.0, height), (focus.north_m, focus.base_m + focus.height_m / 2))
    panorama = Panorama()
    if picture.span_deg is not None:
        half = picture.span_deg / 2
        panorama = Panorama(on=True, from_deg=round((azimuth - half) % 360, 1), to_deg=round((azimuth + half) % 360, 1))
    composition = replace(
        bare,
        moment_utc=moment,
        azimuth_deg=azimuth,
        pitch_deg=round(pitch, 1),
        orientation=picture.orientation,
        crop=picture.crop,
        panorama=panorama,
        hand_held=support.kind == "hand",
        cloud_stops=picture.cloud_stops,
        elements=tuple(_turned(e, azimuth) for e in elements),
        wants=picture.wants,
        technique=picture.technique,
        light_wish=wish_for(picture),
        settings=Settings(
            focal_length_mm=focal_mm,
            aperture_n=aperture,
            shutter_s=1 / 64,
            iso=nearest_third(min(max(picture.iso, body.base_iso), body.highest_iso), "iso"),
            focus_m=round(max(distance, nearest), 3),
            filters=_filters(picture, owned.filters),
            timer_s=0.0 if support.kind == "hand" else 2.0,
        ),
    )
    return Placed(body_id, lens_id, support_id, closed(Scene(place=place, kit=kit, composition=composition), terrain))


def closed(scene: Scene, terrain: Terrain | None) -> Composition:
    """The composition with the shutter time that its light asks for.

    ISO rises where an animal may start, and where the time would be longer than half a minute.
    """
    state = build_state(scene, terrain=terrain)
    composition = state.scene.composition
    starts = any(e.motion == "animal" for e in composition.elements)
    longest_s = _FASTEST_WANTED_S if starts else _LONGEST_WANTED_S
    highest = min(composition.wants.highest_iso, scene.kit.body.highest_iso)
    while composition.settings.shutter_s > longest_s and composition.settings.iso * 2 <= highest * 1.01:
        faster = replace(composition.settings, iso=composition.settings.iso * 2)
        state = build_state(replace(scene, composition=replace(composition, settings=faster)), state, terrain)
        composition = state.scene.composition
    body, settings = scene.kit.body, composition.settings
    if settings.shutter_s > body.longest_timed_s and body.has_bulb:
        composition = replace(composition, settings=replace(settings, bulb=True))
    return composition


def empty_frame(place: Place, kit: Kit, wants: Wants, after: datetime, terrain: Terrain | None = None) -> Composition:
    """A composition with nothing in it yet, in the next good light: side light, a middle aperture, a height in reach."""
    body, lens, support = kit.body, kit.lens, kit.support
    factor = float(equivalent_focal_length_mm(1.0, body.sensor_width_mm, body.sensor_height_mm))
    aperture = _aperture(lens, lens.shortest_mm, _USUAL_APERTURE / factor)
    bare = Composition(
        moment_utc=after,
        camera_height_m=within_reach(support, USUAL_HEIGHT_M),
        hand_held=support.kind == "hand",
        wants=wants,
        settings=Settings(
            focal_length_mm=lens.shortest_mm,
            aperture_n=aperture,
            shutter_s=1 / 64,
            iso=nearest_third(body.base_iso, "iso"),
            focus_m=max(3.0, lens.minimum_focus_m * 2),
        ),
    )
    scene = Scene(place=place, kit=kit, composition=bare)
    moment = next_low_sun(place, standpoint_horizon(scene, terrain), after)
    _, sun_azimuth = sun_at(moment.timestamp(), place.latitude_deg, place.longitude_deg)
    azimuth = round((sun_azimuth - HOLDS["side"]) % 360, 1)
    return closed(replace(scene, composition=replace(bare, moment_utc=moment, azimuth_deg=azimuth)), terrain)
