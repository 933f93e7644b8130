"""Ridgelines, reflections, shadows, shares and the sides of a picture."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.camera.geometry import build_geometry
from lucid_ridge.core.camera.picture import foreground_share, hidden_shares, reflection_share, sky_share
from lucid_ridge.core.framing.camera import Camera, earth_drop_m
from lucid_ridge.core.framing.guides import GUIDE_LINES
from lucid_ridge.core.framing.reflection import mirrored
from lucid_ridge.core.framing.shadows import shaded_side, shadow_rings
from lucid_ridge.core.framing.silhouettes import silhouette
from lucid_ridge.core.model.scene import Element, RidgePoint
from lucid_ridge.reports.evaluate import changed_state, evaluate
from lucid_ridge.reports.frame.plan import plan_report
from lucid_ridge.reports.frame.section import section_report

from .conftest import changed

BARE = changed(
    TARN_SCENE, elements=(), reading=None, azimuth_deg=0.0, pitch_deg=0.0, camera_height_m=1.5, locks=(),
    settings={"focal_length_mm": 24.0, "focus_m": None, "filters": ()},
)  # fmt: skip
SLAB = Element(
    id="slab", name="slab", role="subject", silhouette="wall", east_m=0, north_m=20, turned_deg=0, width_m=4,
    depth_m=1, height_m=2,
)  # fmt: skip
POND = Element(
    id="pond", name="pond", role="water", silhouette="water", east_m=0, north_m=2, turned_deg=0, width_m=400,
    depth_m=18, height_m=0, motion="still",
)  # fmt: skip


def scene(*elements, **parts):
    return changed(BARE, elements=elements, **parts)


@settings(max_examples=40, deadline=None)
@given(st.floats(500, 30_000), st.floats(-20, 20), st.floats(10, 900))
def test_a_ridge_point_stands_where_its_bearing_distance_and_height_put_it(distance, bearing, height):
    line = tuple(RidgePoint(bearing_deg=bearing + d, distance_m=distance, height_m=height) for d in (-5, 0, 5))
    ridge = replace(SLAB, id="ridge", silhouette="ridge", north_m=0, ridgeline=line, base_m=-50)
    geometry = build_geometry(scene(ridge))
    away, told = geometry.away(0)
    assert away == pytest.approx(distance)
    assert (told - bearing + 180) % 360 - 180 == pytest.approx(0, abs=1e-9)
    # By hand: the altitude of a far point is lowered by d (1 - k) / 2R.
    altitude = math.degrees(math.atan2(height - float(earth_drop_m(distance)) - 1.5, distance))
    x, y = geometry.camera.project_direction(bearing, altitude)
    crest = np.array(geometry.outlines(0)[0].points)
    assert np.hypot(*(crest - (x, y)).T).min() < 1e-5


def test_a_ridgeline_counts_as_near_as_its_nearest_part_in_the_frame():
    line = (
        RidgePoint(bearing_deg=-20, distance_m=1000, height_m=100),
        RidgePoint(bearing_deg=0, distance_m=3000, height_m=200),
        RidgePoint(bearing_deg=60, distance_m=4000, height_m=90),
    )
    geometry = build_geometry(scene(replace(SLAB, silhouette="ridge", north_m=0, ridgeline=line)))
    assert 900 < geometry.near_m[0] < 1000
    behind = tuple(replace(p, bearing_deg=p.bearing_deg + 180) for p in line[:2])
    assert np.isnan(build_geometry(scene(replace(SLAB, silhouette="ridge", ridgeline=behind))).near_m[0])


def test_a_thing_at_the_water_is_mirrored_foot_to_foot():
    # A plane mirror: the image of a top at height h above the water is seen h below it.
    camera = Camera((0, 0, 1.5), 0, 0, 0, 24, 36, 24)
    top = np.array([[0.0, 20.0, 2.0]])
    (_, image), = mirrored((("body", top),), 0.0, (0, 0, 1.5))  # fmt: skip
    drop = float(earth_drop_m(20.0))
    assert image[0] == pytest.approx([0, 20, -2 - 2 * drop], abs=1e-6)
    x, y = camera.project(image)[0]
    assert (x, y) == pytest.approx((0.5, 0.5 + 3.5 / 20 / 1.0), abs=1e-4)


@settings(max_examples=30, deadline=None)
@given(st.floats(0.3, 4), st.floats(0.5, 4), st.floats(4, 60), st.floats(0.5, 20))
def test_what_is_seen_of_a_reflection_agrees_with_rays(camera_height, height, distance, far_side):
    """A ray from the lens to the mirrored point meets the level at d h / (h + z): there must be water."""
    near_side = min(2.0, distance / 2)
    pond = replace(POND, north_m=near_side, depth_m=max(min(far_side, distance - near_side), 0.1))
    wall = replace(SLAB, silhouette="boathouse", north_m=distance, width_m=0.2, height_m=height)
    made = scene(pond, wall, camera_height_m=camera_height, settings={"focal_length_mm": 12.0})
    made = replace(made, kit=replace(made.kit, lens=replace(made.kit.lens, shortest_mm=12.0)))
    geometry = build_geometry(made)
    z = np.linspace(0, height, 2001)
    meets = distance * camera_height / (camera_height + z)
    water = (meets >= near_side) & (meets <= near_side + pond.depth_m)
    # The gable narrows upwards: weigh each height by the outline's width there.
    u = silhouette("boathouse", "slab")[0].points
    width = np.interp(z / height, [0, 0.56, 1], [1, 1, 0]) if u else z
    expected = (water * width).sum() / width.sum()
    inside = geometry.camera.project(np.array([0, distance, -height]))[1]
    if inside < 1:
        assert reflection_share(geometry, 1) == pytest.approx(expected, abs=0.02)


def test_moving_water_mirrors_nothing_and_reeds_hide_a_reflection():
    moving = replace(POND, motion="water", speed_m_s=0.3)
    assert reflection_share(build_geometry(scene(moving, SLAB)), 1) == 0
    open_share = reflection_share(build_geometry(scene(POND, SLAB, pitch_deg=-8.0)), 1)
    hiding = replace(SLAB, id="board", role="foreground", north_m=3, width_m=0.4, depth_m=0.1, height_m=1.45)
    assert open_share > 0.9
    assert reflection_share(build_geometry(scene(POND, SLAB, hiding, pitch_deg=-8.0)), 1) < open_share - 0.3


def test_a_level_camera_over_bare_ground_sees_half_sky():
    assert sky_share(build_geometry(BARE)) == pytest.approx(0.5, abs=1e-3)
    wall = replace(SLAB, north_m=10, width_m=1000, height_m=1000)
    assert sky_share(build_geometry(scene(wall))) == pytest.approx(0.0, abs=1e-6)
    # Pitched up past half the field of view there is only sky, and pitched down past it none.
    assert sky_share(build_geometry(scene(pitch_deg=40.0))) == 1
    assert sky_share(build_geometry(scene(pitch_deg=-40.0))) == 0


def test_shares_count_the_picture_after_the_crop():
    near = replace(
        SLAB, role="foreground", silhouette="post", north_m=3, width_m=50, depth_m=0.1, height_m=1.5 - 3 * 0.25
    )
    whole = build_geometry(scene(near))
    # Seen from 1.5 m, the post's top lies a quarter of its distance below the horizon: y = 1/2 + 0.25 * 24 / 24.
    assert foreground_share(whole) == pytest.approx(0.25, abs=5e-3)
    low = replace(whole, crop=(0.0, 0.5, 1.0, 0.5))
    assert foreground_share(low) == pytest.approx(0.5, abs=1e-2)
    assert sky_share(low) == pytest.approx(0.0, abs=1e-3)


def test_what_stands_in_front_hides():
    half = replace(
        SLAB,
        id="front",
        role="foreground",
        silhouette="post",
        north_m=10,
        east_m=-1.5,
        width_m=3,
        height_m=9,
        depth_m=0.1,
    )
    geometry = build_geometry(scene(SLAB, half))
    # The front edge at x = 0 m hides the left half of a slab that is centred behind it.
    assert hidden_shares(geometry)[0] == pytest.approx(0.5, abs=0.03)
    assert 1 not in hidden_shares(geometry)


@settings(max_examples=30, deadline=None)
@given(
    st.lists(
        st.tuples(st.floats(-12, 12), st.floats(4, 60), st.sampled_from(["wall", "boulder", "reeds", "trunk"])),
        min_size=2,
        max_size=9,
    )
)
def test_what_is_hidden_is_what_all_nearer_outlines_cover_together(places):
    """Another route than from near to far at once: for each one, the union of what stands before it."""
    them = tuple(
        replace(SLAB, id=f"t{n}", name=f"t{n}", silhouette=shape, east_m=east, north_m=north)
        for n, (east, north, shape) in enumerate(places)
    )
    geometry = build_geometry(scene(*them))
    frame = shapely.box(0, 0, geometry.aspect, 1)
    order = geometry.far_to_near
    shares = hidden_shares(geometry)
    for place, i in enumerate(order):
        own = geometry.area(i).intersection(frame)
        before = [geometry.area(n) for n in order[place + 1 :] if geometry.seen(n)]
        if geometry.seen(i) and own.area > 1e-6:
            assert shares.get(i, 0.0) == pytest.approx(
                own.intersection(shapely.union_all(before)).area / own.area, abs=1e-6
            )


@given(st.floats(1, 80), st.floats(0, 360), st.floats(0.1, 30))
def test_a_shadow_points_from_the_sun_as_long_as_height_over_tangent(altitude, azimuth, height):
    foot = np.array([[-0.5, 0], [0.5, 0], [0.5, 1], [-0.5, 1]])
    (ring,) = shadow_rings(foot[None], np.array([height]), azimuth, altitude)
    away = -np.array([math.sin(math.radians(azimuth)), math.cos(math.radians(azimuth))])
    reach = (ring @ away).max() - (foot @ away).max()
    assert reach == pytest.approx(min(height / math.tan(math.radians(altitude)), 60 * height), rel=1e-6)
    assert len(shadow_rings(foot[None], np.array([height]), azimuth, -1.0)[0]) == 0


@pytest.mark.parametrize(("sun", "side"), [(90, "left"), (270, "right"), (10, "all"), (190, "")])
def test_the_side_away_from_the_sun_is_shaded(sun, side):
    assert shaded_side(sun, 0.0) == side


def test_shade_lies_within_its_body_on_the_side_told():
    for kind in ("boulder", "boathouse", "wall", "post", "hill", "ridge"):
        for side, low, high in (("left", 0, 0.43), ("right", 0.57, 1), ("all", 0, 1)):
            shades = [s for s in silhouette(kind, "one", side) if s.paint == "shade"]
            assert shades
            us = [u for s in shades for u, _ in s.points]
            assert min(us) >= low - 1e-9 and max(us) <= high + 1e-9


def test_shadows_and_glow_come_and_go_with_the_sun():
    morning = evaluate(TARN_SCENE)
    clouded = evaluate(changed(TARN_SCENE, cloud_stops=3.0))
    assert any(e.shadow for e in morning.framing.elements) == (morning.light.altitude.value > 0)
    assert not any(e.shadow for e in clouded.framing.elements)
    assert clouded.framing.glow is None


def test_guides_are_symmetric_and_golden():
    for lines in GUIDE_LINES.values():
        turned = {tuple(round(1 - v, 9) for v in (x1, y1, x0, y0)) for x0, y0, x1, y1 in lines}
        assert turned == {tuple(round(v, 9) for v in line) for line in lines}
    # Euclid, Elements II.11: the whole is to the longer part as that is to the shorter.
    longer = max(x0 for x0, _, _, _ in GUIDE_LINES["golden"])
    assert 1 / longer == pytest.approx(longer / (1 - longer))


def test_the_plan_draws_sharp_ground_between_the_limits():
    state = changed_state(scene(SLAB, settings={"focal_length_mm": 24.0, "focus_m": 5.0}))
    plan = plan_report(state)
    norths = [n for _, n in plan.sharp]
    # A level lens: ground at level distance d lies at depth d.
    assert min(norths) == pytest.approx(state.depth.slices[0].near_m, rel=1e-6)
    assert plan.focus[0][1] == pytest.approx(5.0)
    assert plan.elements[0].away == "20.0 m at 0°"
    pitched = plan_report(
        changed_state(scene(SLAB, pitch_deg=-30.0, settings={"focal_length_mm": 24.0, "focus_m": 3.0}))
    )
    # Pitched down by p from height h: d = (D - h sin p) / cos p with sin p counted downwards.
    assert pitched.focus[0][1] == pytest.approx((3.0 - 1.5 * 0.5) / math.cos(math.radians(30)))


def test_the_section_tells_what_the_first_thing_on_the_axis_hides():
    low = replace(
        SLAB, id="rock", name="rock", role="foreground", silhouette="boulder", north_m=2, depth_m=1, height_m=0.5
    )
    section = section_report(changed_state(scene(SLAB, low)))
    # From 1.5 m over a far edge 0.5 m high at 3 m the ground shows again from 4.5 m.
    assert section.sight_text == "over the rock the ground shows again from 4.50 m"
    tall = replace(low, height_m=2.5)
    # From below its near edge hides: 1.5 + (2.5 - 1.5) / 2 * length.
    section = section_report(changed_state(scene(SLAB, tall)))
    assert section.sight[1][1] == pytest.approx(1.5 + section.length_m / 2)
