"""What follows from a scene: the quantities that reports, tensions and explanations read.

Building a state is the cheap half of an evaluation; mends are tried by building the state of the
changed scene.
"""

from __future__ import annotations

import math
from collections.abc import Hashable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.camera_stack import Taken, moved_slices
from lucid_ridge.core.camera.critical import critical_span, critical_spans
from lucid_ridge.core.camera.geometry import Geometry, build_geometry, focus_distance
from lucid_ridge.core.camera.mounted_lens import optics_of
from lucid_ridge.core.camera.moving_support import Sway, sway_of, together_s
from lucid_ridge.core.camera.panorama import panel_grid
from lucid_ridge.core.daylight.lighting import Lighting
from lucid_ridge.core.daylight.skyline import element_horizon, standpoint_horizon
from lucid_ridge.core.daylight.surfaces import CLOUD_WITHOUT_SHADOWS, LightCurve, LitSurface, light_curve
from lucid_ridge.core.exposure.closing import (
    Exposure,
    close_exposure,
    graduated_stops,
    metered_exposure,
)
from lucid_ridge.core.exposure.polarised import polarised
from lucid_ridge.core.exposure.tones import Tone, doubt_stops, tone_of
from lucid_ridge.core.light.ephemeris import LAST_UNIX, sun_at
from lucid_ridge.core.light.horizon import Horizon
from lucid_ridge.core.light.refraction import seen_altitude_deg
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.motion.travel import equivalent_focal_length_mm, hand_held_limit_s
from lucid_ridge.core.optics.criteria import blur_criterion_mm
from lucid_ridge.core.optics.depth_of_field import hyperfocal_m
from lucid_ridge.core.optics.pupils import Optics, Sharpness
from lucid_ridge.core.optics.slices import (
    LeastBlur,
    Slice,
    TooMuchDiffraction,
    gapless_slices,
    least_blur,
    slice_at,
    slices_over,
)
from lucid_ridge.core.range.brackets import BracketPlan, HeldRange, held, plan_bracket, usable_range_stops
from lucid_ridge.core.stops.scales import aperture_text, on_third, third_index

Array = NDArray[np.float64]

FARTHEST_FOCUSED_M = 1e7
"""Stands for infinity where a finite number is needed."""


@dataclass(frozen=True)
class Depth:
    """Sharpness of a scene, for the picture that is printed. Blurs hold arrays (elements,) in mm, NaN out of frame.

    ``airy_mm`` and ``allowance_mm`` are of a frame at the focus in use; every slice has its own. ``moved_m`` (slices,)
    is how far the camera has gone forward for each slice; their distances count from where it stands at first.
    """

    optics: Optics
    sharp: Sharpness
    criterion_mm: float
    airy_mm: float
    allowance_mm: float
    magnification: float
    image_distance_mm: float
    hyperfocal_m: float
    slices: tuple[Slice, ...]
    moved_m: Array
    slices_problem: str
    near_m: float
    far_m: float
    blur_near: LeastBlur
    blur_far: LeastBlur

    @property
    def focused_m(self) -> Array:
        """What the lens is focused on for each slice, from where the camera then stands."""
        return np.array([one.focus_m for one in self.slices]) - self.moved_m

    @cached_property
    def worse(self) -> LeastBlur:
        """Of each element the blur at the worse of its two ends, arrays (elements,)."""
        far = self.blur_far.total_mm > self.blur_near.total_mm
        return LeastBlur(*(np.where(far, b, a) for a, b in zip(self.blur_near, self.blur_far, strict=True)))

    def blur_at(self, distance_m: Array) -> LeastBlur:
        """Blur at distances from the lens (points,) in the frame that is sharpest there."""
        return least_blur(self.optics, np.minimum(self.focused_m, FARTHEST_FOCUSED_M), distance_m, self.moved_m)


@dataclass(frozen=True)
class Range:
    """Scene range in stops relative to the frame's mid-tone. Empty readings: both ends zero.

    ``bounded`` are stops and id of everything in the frame that must hold detail. ``doubt_stops`` is how far what is predicted may be off; 0 where everything is read.
    """

    element_stops: tuple[tuple[str, float], ...]
    bounded: tuple[tuple[float, str], ...]
    doubt_stops: float
    darkest: float
    brightest: float
    darkest_id: str | None
    brightest_id: str | None
    usable: float
    bracket: BracketPlan | None
    bracket_problem: str
    held: HeldRange


@dataclass(frozen=True)
class State:
    """A scene with everything that follows from it. ``scene`` carries the closed settings.

    ``shading`` is azimuth and refracted altitude of a sun that casts shadows, None where there is none.
    """

    scene: Scene
    unix_s: float
    terrain: Terrain | None
    horizon: Horizon
    sun_altitude_deg: float
    sun_azimuth_deg: float
    shading: tuple[float, float] | None
    geometry: Geometry
    exposure: Exposure
    depth: Depth
    range: Range
    equivalent_mm: float
    hand_held_limit_s: float
    stabiliser_stops: float
    sway: Sway
    lighting: Lighting
    tones: tuple[Tone | None, ...]
    """How bright each element is at the moment, None where nothing tells."""
    shadows: dict[str, dict[int, Array]] = field(default_factory=dict, compare=False, repr=False)
    """Cast shadows by element under "rings", once they are asked for."""
    tried: dict[Hashable, State] = field(default_factory=dict, compare=False, repr=False)
    """States that changes of this one led to, by the changes."""

    def horizon_of(self, index: int | None) -> Horizon:
        """The skyline at an element, or where the camera stands (None)."""
        if index is None:
            return self.horizon
        return element_horizon(self.scene, self.geometry.elements[index], self.geometry.middle_m[index], self.terrain)

    @cached_property
    def metered_light(self) -> LitSurface:
        """The light on what the exposure goes by, at any time."""
        return self.lighting.lit_surface(self.lighting.target)

    @cached_property
    def light_curve(self) -> LightCurve:
        """The same, sampled once for the many frames of a sequence."""
        return light_curve(self.metered_light)

    @property
    def steady(self) -> bool:
        """Whether the camera stands on something."""
        return not self.scene.composition.hand_held and self.scene.kit.support.kind != "hand"

    @property
    def steadiness_s(self) -> float:
        """Longest shutter time that the hand, and what one stands on, let stay sharp; inf on firm ground."""
        return together_s(math.inf if self.steady else self.hand_held_limit_s, self.sway.limit_s)

    @property
    def offsets(self) -> tuple[float, ...]:
        """Exposure offsets of the frames at one focus, stops."""
        return self.range.bracket.offsets_stops if self.range.bracket else (0.0,)


def slices_planned(
    scene: Scene, geometry: Geometry, optics: Optics, sharp: Sharpness, span: tuple[float, float]
) -> tuple[Slice, ...]:
    """The gapless slices of a technique, over the whole span or only what must be sharp.

    Raises
    ------
    ValueError
        As `gapless_slices`.

    """
    technique = scene.composition.technique
    spans = tuple(critical_spans(scene, geometry)) if technique.only_critical else ()
    if spans:
        return slices_over(optics, sharp, spans, technique.overlap)
    return gapless_slices(optics, sharp, *span, technique.overlap)


def _slices(scene: Scene, geometry: Geometry, optics: Optics, sharp: Sharpness, span: tuple[float, float]) -> Taken:
    technique, focus = scene.composition.technique, focus_distance(scene)
    single = Taken(slices=(slice_at(optics, sharp, focus),), moved_m=np.zeros(1), problem="")
    if technique.slices == "hand":
        usable = sorted(s for s in technique.hand_foci_m if s * 1000 > optics.focal_length_mm * 1.001)
        if not usable:
            return replace(single, problem="No hand-set focus lies beyond the focal length.")
        return Taken(tuple(slice_at(optics, sharp, s) for s in usable), np.zeros(len(usable)), "")
    try:
        if technique.slices == "gapless":
            slices = slices_planned(scene, geometry, optics, sharp, span)
            return Taken(slices, np.zeros(len(slices)), "")
        if technique.slices in ("rail", "sway"):
            return moved_slices(scene, optics, sharp, span)
    except TooMuchDiffraction as problem:
        return replace(single, problem=diffraction_words(scene.composition.settings.aperture_n * problem.times))
    except ValueError as problem:
        return replace(single, problem=f"{str(problem)[0].upper()}{str(problem)[1:]}.")
    return single


def diffraction_words(widest_f_number: float) -> str:
    """Why there is no stack, and the aperture that has one: a mark at or wider than the limit."""
    mark = on_third(math.floor(third_index(widest_f_number, "aperture") - 1e-6), "aperture")
    return (
        f"So close, diffraction alone is more blur than counts as sharp: no stack mends that. Open to {aperture_text(mark)} "
        "or wider."
    )


def _hyperfocal_m(optics: Optics, sharp: Sharpness) -> float:
    """Hyperfocal distance from the lens, diffraction counted at that focus."""
    found = math.inf
    for _ in range(3):
        allowance = max(sharp.allowance_mm(optics, found), 1e-6)
        found = float(hyperfocal_m(optics.focal_length_mm, optics.f_number, allowance))
    return found


def _depth(scene: Scene, geometry: Geometry) -> Depth:
    body = scene.kit.body
    optics = optics_of(scene.kit.lens, scene.composition.settings)
    camera, panorama = geometry.camera, scene.composition.panorama.on
    # What is printed of a panorama is more than a frame, and no crop of one.
    picture = (camera.frame_width_mm, camera.frame_height_mm) if panorama else geometry.picture_mm
    criterion = blur_criterion_mm(
        scene.composition.wants.criterion, *picture, body.sensor_width_mm / body.pixels_across
    )
    sharp = Sharpness(criterion)
    near, far = critical_span(scene, geometry)
    focus = focus_distance(scene)
    m = optics.magnification(focus)
    taken = _slices(scene, geometry, optics, sharp, (near, far))
    foci = np.minimum(np.array([one.focus_m for one in taken.slices]) - taken.moved_m, FARTHEST_FOCUSED_M)
    closest = optics.focal_length_mm / 1000 * 1.05

    def blur(distance: Array) -> LeastBlur:
        unseen = np.isnan(distance)
        found = least_blur(optics, foci, np.where(unseen, 1e3, np.maximum(distance, closest)), taken.moved_m)
        return LeastBlur(*(np.where(unseen, np.nan, one) for one in found))

    return Depth(
        optics=optics,
        sharp=sharp,
        criterion_mm=criterion,
        airy_mm=optics.airy_mm(m),
        allowance_mm=sharp.allowance_mm(optics, focus),
        magnification=m,
        image_distance_mm=camera.image_distance_mm,
        hyperfocal_m=_hyperfocal_m(optics, sharp),
        slices=taken.slices,
        moved_m=taken.moved_m,
        slices_problem=taken.problem,
        near_m=near,
        far_m=far,
        blur_near=blur(geometry.near_m),
        blur_far=blur(geometry.far_m),
    )


def _range(scene: Scene, geometry: Geometry, exposure: Exposure, slices: int, tones: tuple[Tone | None, ...]) -> Range:
    composition, body = scene.composition, scene.kit.body
    stops: list[tuple[str, float]] = []
    doubt = 0.0
    bounded: list[tuple[float, str]] = []
    for i, element in enumerate(composition.elements):
        tone = tones[i]
        if tone is None:
            continue
        doubt = max(doubt, tone.doubt_stops)
        relative = tone.ev100 - tone.polarised_stops - exposure.metered.now_ev100 + exposure.brighter_stops
        relative -= graduated_stops(scene, float(geometry.middle_y[i]))
        stops.append((element.id, relative))
        if element.holds_detail and not math.isnan(geometry.near_m[i]):
            bounded.append((relative, element.id))
    darkest, darkest_id = min(bounded, default=(0.0, None))
    brightest, brightest_id = max(bounded, default=(0.0, None))
    usable = usable_range_stops(body.usable_range_stops, exposure.settings.iso, body.base_iso)
    headroom = min(body.headroom_stops, usable)
    plan: BracketPlan | None = None
    problem = ""
    if composition.technique.bracket == "range":
        try:
            plan = plan_bracket(
                darkest, brightest, usable, headroom, body.bracket_modes, most_frames=brackets_at_most(scene, slices)
            )
        except ValueError as error:
            problem = f"{str(error)[0].upper()}{str(error)[1:]}."
    elif composition.technique.bracket == "hand" and composition.technique.hand_offsets_stops:
        offsets = tuple(sorted(composition.technique.hand_offsets_stops))
        steps = np.diff(offsets)
        plan = BracketPlan(
            offsets_stops=offsets,
            step_stops=float(steps.mean()) if len(steps) else 0.0,
            centre_stops=(offsets[0] + offsets[-1]) / 2,
            by_body=False,
        )
    return Range(
        element_stops=tuple(stops),
        bounded=tuple(bounded),
        doubt_stops=doubt,
        darkest=darkest,
        brightest=brightest,
        darkest_id=darkest_id,
        brightest_id=brightest_id,
        usable=usable,
        bracket=plan,
        bracket_problem=problem,
        held=held([stops for stops, _ in bounded] or [0.0], plan.offsets_stops if plan else (0.0,), usable, headroom),
    )


def brackets_at_most(scene: Scene, slices: int) -> float:
    """How many exposures of each focus there may be, of all the frames that are wanted at most."""
    composition = scene.composition
    grid = panel_grid(composition, scene.kit)
    turns = grid.count if grid else 1
    return (composition.wants.most_frames - len(composition.technique.layers)) / (turns * slices)


def _shading_sun(scene: Scene, horizon: Horizon, azimuth_deg: float, altitude_deg: float) -> tuple[float, float] | None:
    """Azimuth and refracted altitude of a sun that casts shadows; None where it is down or behind hill or cloud.

    Two stops of cloud take the shadows away (common practice).
    """
    seen = seen_altitude_deg(altitude_deg, scene.place.elevation_m)
    clear = scene.composition.cloud_stops < CLOUD_WITHOUT_SHADOWS
    return (azimuth_deg, seen) if seen > 0 and clear and bool(horizon.clears(azimuth_deg, altitude_deg)) else None


def build_state(scene: Scene, earlier: State | None = None, terrain: Terrain | None = None) -> State:
    """Everything that follows from a checked scene. *terrain* is the place's, where it has one.

    *earlier* is the state of the scene from which this one was made by a change of settings,
    technique or wants; its metered exposure is used again where it still holds.
    """
    composition, body = scene.composition, scene.kit.body
    unix_s = min(composition.moment_utc.timestamp(), LAST_UNIX)
    altitude, azimuth = sun_at(unix_s, scene.place.latitude_deg, scene.place.longitude_deg)
    horizon = standpoint_horizon(scene, terrain)
    sun = _shading_sun(scene, horizon, azimuth, altitude)
    geometry = build_geometry(scene, sun)
    lighting = Lighting(scene, geometry, terrain)
    same_light = (
        earlier is not None
        and earlier.unix_s == unix_s
        and earlier.horizon is horizon
        and earlier.scene.composition.reading is composition.reading
        and earlier.scene.composition.elements is composition.elements
        and earlier.scene.composition.panorama == composition.panorama
        and earlier.scene.composition.cloud_stops == composition.cloud_stops
    )
    metered = earlier.exposure.metered if earlier and same_light else metered_exposure(scene, lighting, unix_s)
    magnification = optics_of(scene.kit.lens, composition.settings).magnification(focus_distance(scene))
    element_y = {
        e.id: float(geometry.middle_y[i])
        for i, e in enumerate(composition.elements)
        if not math.isnan(geometry.near_m[i])
    }
    exposure = close_exposure(scene, metered, magnification, element_y)
    scene = replace(scene, composition=replace(composition, settings=exposure.settings))
    depth = _depth(scene, geometry)
    doubt = doubt_stops(scene, altitude)
    tones = tuple(
        polarised(scene, geometry, i, tone_of(scene, i, metered, lighting, unix_s, doubt), (azimuth, altitude))
        for i in range(len(composition.elements))
    )
    equivalent = float(
        equivalent_focal_length_mm(composition.settings.focal_length_mm, body.sensor_width_mm, body.sensor_height_mm)
    )
    stabiliser = max(body.stabiliser_stops, scene.kit.lens.stabiliser_stops)
    diagonal = math.hypot(body.sensor_width_mm, body.sensor_height_mm)
    by_hand = float(
        hand_held_limit_s(
            equivalent,
            stabiliser,
            magnification,
            depth.criterion_mm / diagonal,
            composition.wants.hand_held_factor,
        )
    )
    return State(
        scene=scene,
        unix_s=unix_s,
        terrain=terrain,
        horizon=horizon,
        sun_altitude_deg=altitude,
        sun_azimuth_deg=azimuth,
        shading=sun,
        geometry=geometry,
        exposure=exposure,
        depth=depth,
        range=_range(scene, geometry, exposure, len(depth.slices), tones),
        lighting=lighting,
        tones=tones,
        equivalent_mm=equivalent,
        hand_held_limit_s=by_hand,
        stabiliser_stops=stabiliser,
        sway=sway_of(scene.kit.support, geometry, depth.criterion_mm, stabiliser),
    )
