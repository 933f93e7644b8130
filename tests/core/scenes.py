"""Scenes drawn at random from all that a scene may hold, for tests that go through everything."""

from __future__ import annotations

import random
from dataclasses import replace
from datetime import UTC, datetime, timedelta

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.check import check_scene
from lucid_ridge.core.changes.kinds import FitToKit
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.model.gear import CloseUp, LightInUse, MountedGear
from lucid_ridge.core.model.scene import PanelReading, Panorama, Scene, Technique, Wants
from lucid_ridge.core.model.wanted import LightWish
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.stops.filters import Filter, FilterInUse
from lucid_ridge.core.stops.scales import on_third

from .near import BELLOWS, CONVERTER, DIOPTRE, FLASH, LAMP, LONG, MACRO, RAIL, RING, SHORT, TUBE

VARIABLE = Filter(id="vnd", name="variable ND", kind="variable_nd", stops=8, least_stops=1, safe_stops=6)
START = datetime(2026, 1, 1, tzinfo=UTC)


def random_scene(seed: int) -> Scene:
    """A scene that can be computed, the same for the same seed."""
    rng = random.Random(seed)
    for _ in range(50):
        scene = _drawn(rng)
        try:
            scene = apply_changes(scene, [FitToKit()])
            check_scene(scene)
        except SceneError:
            continue
        return scene
    raise AssertionError("no scene in fifty could be computed")


def _drawn(rng: random.Random) -> Scene:
    base = TARN_SCENE
    lens = rng.choice([base.kit.lens, base.kit.lens, MACRO, LONG, SHORT])
    lens = replace(lens, pupil_magnification=rng.choice([1.0, 1.0, 0.5, 1.8]))
    body = replace(
        base.kit.body, reciprocity_p=rng.choice([None, None, 1.25]), dark_frame=rng.random() < 0.3,
        clicks_per_stop=rng.choice([1, 2, 3]), stabiliser_stops=rng.choice([0.0, 4.0]),
    )  # fmt: skip
    support = replace(base.kit.support, rocking_deg_s=rng.choice([0, 0, 1.5]), drift_deg_s=rng.choice([0, 0, 0.4]))
    gear = (TUBE, BELLOWS, CONVERTER, DIOPTRE, RING, RAIL)
    kit = replace(
        base.kit, body=body, lens=lens, support=support, filters=(*base.kit.filters, VARIABLE), gear=gear,
        lights=(FLASH, LAMP),
    )  # fmt: skip
    mounted = tuple(
        MountedGear(gear_id=one.id, draw_mm=80.0 if one.kind == "bellows" else 0.0)
        for one in rng.sample(gear, rng.choice([0, 0, 0, 1, 2]))
    )
    elements = tuple(
        replace(
            e, motion=rng.choice([e.motion, e.motion, "foliage", "water"]),
            speed_m_s=rng.choice([e.speed_m_s, 0.1, 1.0]), wet=rng.random() < 0.2, warm=rng.random() < 0.2,
            reading_ev100=rng.choice([e.reading_ev100, None]), reflectance=rng.choice([None, 0.3]),
        )
        for e in rng.sample(base.composition.elements, rng.randint(0, len(base.composition.elements)))
    )  # fmt: skip
    moment = START + timedelta(minutes=rng.randint(0, 525_000))
    read = replace(
        base.composition.reading, taken_at_utc=moment - timedelta(minutes=rng.choice([0, 20, 90])),
        element_id=rng.choice([e.id for e in elements] or [None]), incident=rng.random() < 0.3,
        through_lens=rng.random() < 0.6, light=rng.choice(["as_found", "sun", "shade"]),
        filters_on=rng.choice([(), (FilterInUse(filter_id="pol"),)]),
    )  # fmt: skip
    filters = tuple(
        FilterInUse(filter_id=f.id, strength=rng.choice([0.0, 0.5, 1.0]))
        for f in rng.sample(kit.filters, rng.choice([0, 0, 1, 2, 3]))
    )
    focus = rng.choice([None, 1.9, rng.uniform(0.25, 40)]) if lens is base.kit.lens else lens.longest_mm / 1000 * rng.uniform(2, 5)  # fmt: skip
    panorama = Panorama(
        on=rng.random() < 0.15, from_deg=350.0, to_deg=90.0, bottom_deg=rng.choice([None, -20.0]), top_deg=30.0,
        pupil_offset_mm=rng.choice([0.0, 55.0]),
        readings=rng.choice([(), (PanelReading(azimuth_deg=20, ev100=12.5), PanelReading(azimuth_deg=70, ev100=14))]),
    )  # fmt: skip
    technique = Technique(
        slices=rng.choice(["one", "one", "gapless", "manual", "rail", "sway"]), manual_foci_m=(0.7, 3.0, 40.0),
        bracket=rng.choice(["none", "none", "range", "manual"]), manual_offsets_stops=(-2.0, 0.0, 2.0),
        order=rng.choice(["brackets_inside", "slices_inside"]), only_critical=rng.random() < 0.3,
    )  # fmt: skip
    wants = Wants(
        sharpness_standard=rng.choice(["print", "large_print", "pixel"]), water_look=rng.choice(["any", "texture", "glass", "freeze"]),
        sharp_foliage=rng.random() < 0.5, frozen_wave=rng.random() < 0.3, smooth_background=rng.choice([None, 0.1]),
        most_frames=rng.choice([4, 200]), motion_school=rng.choice(["seconds", "travel"]),
        hand_held_factor=rng.choice([1.0, 2.5]),
    )  # fmt: skip
    wish = rng.choice([LightWish(), LightWish(sides=("side_left", "side_right"), lowest_deg=1.0)])
    composition = replace(
        base.composition, moment_utc=moment, elements=elements, reading=rng.choice([None, read]), wants=wants,
        technique=technique, panorama=panorama, light_wish=wish, hand_held=rng.random() < 0.3,
        cloud_stops=rng.choice([0.0, 0.0, 1.0, 3.0]), orientation=rng.choice(["landscape", "portrait"]),
        crop=rng.choice([Crop(), Crop(aspect=1.0), Crop(scale=0.4)]), pitch_deg=rng.uniform(-12, 12),
        camera_height_m=rng.uniform(0.2, 2.2), azimuth_deg=rng.uniform(20, 70),
        locks=tuple(rng.sample(["aperture", "shutter", "iso", "focus", "filters"], rng.choice([0, 0, 1, 2]))),
        close_up=CloseUp(
            mounted=mounted, subject_depth_mm=rng.choice([None, 8.0]), behind_mm=rng.choice([None, 300.0]),
            speed_mm_s=rng.choice([0.0, 30.0]), count_diffraction=rng.random() < 0.5,
            lights=rng.choice([(), (LightInUse(light_id="flash"), LightInUse(light_id="lamp"))]),
        ),
        settings=replace(
            base.composition.settings, filters=filters, focus_m=focus, bulb=rng.random() < 0.3,
            aperture_n=on_third(rng.randint(9, 27), "aperture"), iso=on_third(rng.randint(0, 12), "iso"),
            shutter_s=on_third(rng.randint(-30, 20), "shutter"), focal_length_mm=rng.choice([24.0, 35.0, 70.0]),
            compensation_stops=rng.choice([0.0, 1 / 3, -1.0]),
        ),
    )  # fmt: skip
    return replace(base, kit=kit, composition=composition)
