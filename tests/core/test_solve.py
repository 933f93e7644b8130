"""Wishes of the picture: every answer is fed back through the projection."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.camera.picture import foreground_share, reflection_share
from lucid_ridge.core.framing.separation import gap
from lucid_ridge.core.model.kit import Support
from lucid_ridge.core.model.scene import Element, KeepOutLine
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.solve.common import anchor_point, in_picture
from lucid_ridge.core.solve.wishes import Anchor, CropInstead, Part, PlaceTwo, ShareOf, SizeRatio
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.frame.answers import answer_to
from lucid_ridge.reports.frame.separation import separation

from .conftest import changed
from .test_separation import MERGED

# Solvers must meet the wish to a thousandth of the frame.
TOLERANCE = 1e-3
FREE = changed(TARN_SCENE, locks=())
ids = {e.id: i for i, e in enumerate(TARN_SCENE.composition.elements)}


def box_element(name, east, north, size=1.0, **more):
    return Element(
        id=name, name=name, role="foreground", silhouette="boulder", east_m=east, north_m=north, width_m=size,
        depth_m=size / 2, height_m=size, **more,
    )  # fmt: skip


def pair_gap(scene, changes=()):
    geometry = changed_state(scene, changes).geometry
    i, j = (next(n for n, e in enumerate(geometry.elements) if e.id == one) for one in ("post", "rock"))
    return gap(geometry.area(i), geometry.area(j))


@pytest.mark.parametrize("by", ["height", "sideways"])
@pytest.mark.parametrize("wanted", [0.5, 1.5, 4.0])
def test_a_merged_pair_is_parted_by_the_smallest_change(by, wanted):
    answer = answer_to(changed_state(MERGED), Part(element_id="post", other_id="rock", by=by, gap_percent=wanted))
    assert answer.why_not == ""
    reached = pair_gap(MERGED, answer.changes)
    assert wanted / 100 <= reached <= wanted / 100 + TOLERANCE
    first = answer.changes[0]
    size = first.camera_height_m - 0.5 if by == "height" else first.right_m
    less = replace(first, camera_height_m=0.5 + size * 0.98) if by == "height" else replace(first, right_m=size * 0.98)
    assert pair_gap(MERGED, (less, *answer.changes[1:])) < reached
    assert answer.picture is not None and answer.facts[0].figure.value == pytest.approx(reached * 100, abs=0.1)


def test_heights_beyond_the_legs_say_what_they_ask_of_the_support():
    stiff = Support(name="short legs", kind="tripod", lowest_m=0.3, highest_m=0.55, column_m=0.4)
    answer = answer_to(
        changed_state(replace(MERGED, kit=replace(MERGED.kit, support=stiff))), Part(element_id="post", other_id="rock")
    )
    assert answer.changes[0].camera_height_m > 0.55
    assert answer.alters[0].startswith("The column is out")
    short = replace(stiff, column_m=0.0)
    refused = answer_to(
        changed_state(replace(MERGED, kit=replace(MERGED.kit, support=short))), Part(element_id="post", other_id="rock")
    )
    assert refused.changes == () and refused.picture is None
    assert "No height from 300 mm to 0.55 m parts the mooring post and the near rock" in refused.why_not


def test_an_inverted_column_reaches_lower():
    # The rock's top hides the post's foot from above; only from far below the legs' reach is it clear.
    hung = Support(name="hung", kind="tripod", lowest_m=0.6, highest_m=1.6, inverted_lowest_m=0.1)
    foreground = ShareOf(of="foreground", percent=45)
    scene = replace(FREE, kit=replace(FREE.kit, support=hung))
    answer = answer_to(changed_state(changed(scene, camera_height_m=0.7)), foreground)
    assert answer.changes[0].camera_height_m < 0.6
    assert "upside down" in answer.alters[0]


def test_no_step_takes_one_over_a_line():
    free = answer_to(changed_state(MERGED), Part(element_id="post", other_id="rock", by="sideways"))
    side = np.sign(free.changes[0].right_m)
    # A line just beside the standpoint, along the view, on the side of that step; stand to its left.
    along = np.array([np.sin(np.radians(40)), np.cos(np.radians(40))])
    across = np.array([along[1], -along[0]]) * side * 0.05
    ends = [across - 50 * along, across + 50 * along][:: int(side)]
    line = KeepOutLine(
        name="edge of the bank", from_east_m=ends[0][0], from_north_m=ends[0][1], to_east_m=ends[1][0],
        to_north_m=ends[1][1],
    )  # fmt: skip
    fenced = changed(MERGED, keep_out_lines=(line,))
    assert all(not one.crossed for one in _plan(fenced).lines)
    answer = answer_to(changed_state(fenced), Part(element_id="post", other_id="rock", by="sideways"))
    assert np.sign(answer.changes[0].right_m) == -side
    near = Part(element_id="post", other_id="rock", by="sideways", farthest_step_m=abs(free.changes[0].right_m) * 1.02)
    assert "beyond the edge of the bank" in answer_to(changed_state(fenced), near).why_not
    assert all(one.crossed for one in _plan(changed(fenced, east_m=2 * across[0], north_m=2 * across[1])).lines)


def _plan(scene):
    from lucid_ridge.reports.frame.plan import plan_report

    return plan_report(changed_state(scene))


def placed(scene, answer, anchor):
    geometry = changed_state(scene, answer.changes).geometry
    index = next(i for i, e in enumerate(geometry.elements) if e.id == anchor.element_id)
    return in_picture(geometry, anchor_point(geometry, index, anchor.part))


@settings(max_examples=40, deadline=None)
@given(
    st.floats(-1.2, 1.2), st.floats(1.2, 4), st.floats(-12, 12), st.floats(15, 80),
    st.sampled_from([(1 / 3, 2 / 3), (2 / 3, 1 / 3), (0.382, 0.618)]), st.sampled_from([(None, None), (None, 1 / 3), (0.7, None)]),
)  # fmt: skip
def test_two_elements_fall_on_their_points(east, near, far_east, far, across, down):
    scene = changed(
        FREE, elements=(box_element("near", east, near, 0.4), box_element("far", far_east, far, 4.0)), azimuth_deg=0.0,
        pitch_deg=-4.0, reading=None,
    )  # fmt: skip
    first = Anchor(element_id="near", x=across[0], y=down[0])
    second = Anchor(element_id="far", x=across[1], y=down[1])
    answer = answer_to(changed_state(scene), PlaceTwo(first=first, second=second, farthest_step_m=30))
    assume(not answer.why_not)
    for anchor in (first, second):
        x, y = placed(scene, answer, anchor)
        assert x == pytest.approx(anchor.x, abs=TOLERANCE)
        assert anchor.y is None or y == pytest.approx(anchor.y, abs=TOLERANCE)


def test_two_anchors_on_thirds_with_both_heights_also_ask_for_the_camera_height():
    first = Anchor(element_id="boulder", part="top", x=1 / 3, y=2 / 3)
    second = Anchor(element_id="boathouse", part="middle", x=2 / 3, y=1 / 3)
    answer = answer_to(changed_state(FREE), PlaceTwo(first=first, second=second))
    assert answer.why_not == ""
    assert {c.kind for c in answer.changes} == {"step", "aim", "height"}
    for anchor in (first, second):
        assert placed(FREE, answer, anchor) == pytest.approx([anchor.x, anchor.y], abs=TOLERANCE)


def test_places_that_cannot_be_had_say_why():
    both_far = PlaceTwo(
        first=Anchor(element_id="skarn", x=0.05), second=Anchor(element_id="fellside", x=0.95), farthest_step_m=2.0
    )
    answer = answer_to(changed_state(FREE), both_far)
    assert answer.changes == () and "No standpoint within 2.00 m" in answer.why_not
    high = PlaceTwo(
        first=Anchor(element_id="boulder", part="top", x=0.4, y=0.9),
        second=Anchor(element_id="boathouse", x=0.6, y=0.05),
    )
    low = replace(FREE, kit=replace(FREE.kit, support=replace(FREE.kit.support, highest_m=0.6)))
    assert "Leave one of the heights free" in answer_to(changed_state(low), high).why_not


STILL = changed(
    FREE,
    pitch_deg=-12.0,
    elements=tuple(
        replace(e, motion="still") if e.id == "water" else e
        for e in TARN_SCENE.composition.elements
        if e.id != "stones"
    ),
)


@pytest.mark.parametrize(
    "wish", [ShareOf(of="foreground", percent=15), ShareOf(of="reflection", element_id="skarn", percent=25)]
)
def test_a_wanted_share_is_met_to_a_thousandth(wish):
    answer = answer_to(changed_state(STILL), wish)
    assert answer.why_not == ""
    geometry = changed_state(STILL, answer.changes).geometry
    index = next(i for i, e in enumerate(geometry.elements) if e.id == "skarn")
    reached = foreground_share(geometry) if wish.of == "foreground" else reflection_share(geometry, index)
    assert reached == pytest.approx(wish.percent / 100, abs=TOLERANCE)


def test_shares_that_no_height_gives_say_what_there_is():
    answer = answer_to(changed_state(STILL), ShareOf(of="foreground", percent=99))
    assert answer.changes == () and "runs from" in answer.why_not
    moving = answer_to(changed_state(FREE), ShareOf(of="reflection", element_id="boathouse", percent=50))
    assert "No still water" in moving.why_not
    with pytest.raises(SceneError):
        answer_to(changed_state(STILL), ShareOf(of="reflection", percent=50))


@settings(max_examples=30, deadline=None)
@given(st.floats(2, 8), st.floats(20, 90), st.floats(0.55, 1.8))
def test_the_near_far_ratio_is_met_and_the_kept_element_stays(near, far, factor):
    scene = changed(
        FREE, elements=(box_element("near", -0.4, near, 0.5), box_element("far", 4.0, far, 4.0)), azimuth_deg=2.0,
        pitch_deg=-3.0, reading=None, settings={"focal_length_mm": 40.0, "focus_m": near},
    )  # fmt: skip
    before = changed_state(scene)
    answer = answer_to(before, SizeRatio(keep_id="near", change_id="far", factor=factor))
    assume(not answer.why_not)
    after = changed_state(scene, answer.changes)

    def face(state, index):
        ends = [in_picture(state.geometry, anchor_point(state.geometry, index, part)) for part in ("foot", "top")]
        return abs(ends[0][1] - ends[1][1])

    assert face(after, 0) == pytest.approx(face(before, 0), abs=TOLERANCE)
    assert face(after, 1) / face(before, 1) == pytest.approx(factor, rel=2e-3)
    # The textbook ratio of the two depths before and after, by hand (thin pinhole).
    k, o = (before.geometry.camera.to_camera(anchor_point(before.geometry, i, "middle"))[2] for i in (0, 1))
    k2, o2 = (after.geometry.camera.to_camera(anchor_point(after.geometry, i, "middle"))[2] for i in (0, 1))
    assert (k2 / k) * (o / o2) == pytest.approx(factor, rel=0.02)


def test_ratios_out_of_the_lens_reach_say_how_far_it_goes():
    answer = answer_to(changed_state(FREE), SizeRatio(keep_id="boulder", change_id="boathouse", factor=9))
    assert "out of its reach" in answer.why_not and "24–70 mm" in answer.why_not
    assert (
        "locked"
        in answer_to(changed_state(TARN_SCENE), SizeRatio(keep_id="boulder", change_id="boathouse", factor=1.5)).why_not
    )


def test_a_crop_to_two_thirds_of_200_mm_is_a_300_mm_frame():
    # Common practice: a 45 MP frame at 200 mm cropped to two thirds is a 300 mm frame.
    tele = replace(FREE.kit.lens, shortest_mm=70, longest_mm=200)
    scene = changed(
        replace(FREE, kit=replace(FREE.kit, lens=tele)),
        settings={"focal_length_mm": 200.0, "focus_m": None},
    )
    answer = answer_to(changed_state(scene), CropInstead(focal_length_mm=300))
    assert answer.changes[0].crop.scale == pytest.approx(2 / 3)
    assert answer.facts[0].figure.value == pytest.approx(8192 * 5460 / 1e6 * 4 / 9, rel=1e-3)
    # 5461 pixels at 300 to the inch are 18.2 inches.
    assert answer.facts[1].figure.value == pytest.approx(18.2 * 0.0254, rel=1e-3)
    assert answer_to(changed_state(scene), CropInstead(focal_length_mm=180)).changes == ()


def test_elements_out_of_the_frame_cannot_be_parted():
    with pytest.raises(SceneError) as caught:
        answer_to(changed_state(TARN_SCENE), Part(element_id="boathouse", other_id="nobody"))
    assert caught.value.problems[0].pointer == "/wish/other_id"


def test_a_skyline_is_cleared_without_making_up_a_gap():
    # A post 1.1 m high at 10 m before a wall whose top is 2 m up at 100 m. The wall's top runs above the
    # post's as soon as (1.1 - h) / 10 < (2 - h) / 100, that is from a lens 1 m up.
    post = replace(box_element("post", 0, 10, 0.2), silhouette="post", role="subject", height_m=1.1)
    wall = replace(box_element("wall", 0, 100, 300), silhouette="wall", role="background", height_m=2.0)
    scene = changed(FREE, elements=(post, wall), azimuth_deg=0.0, pitch_deg=0.0, reading=None, camera_height_m=0.6)
    answer = answer_to(changed_state(scene), Part(element_id="post", other_id="wall"))
    assert 0.95 < answer.changes[0].camera_height_m < 1.1
    assert answer.facts == () and "no skyline" in answer.gives
    assert not [m for m in separation(changed_state(scene, answer.changes)) if m.kind == "cut"]
    short = replace(scene, kit=replace(scene.kit, support=replace(scene.kit.support, lowest_m=0.5, highest_m=0.7)))
    refused = answer_to(changed_state(short), Part(element_id="post", other_id="wall"))
    assert "No height" in refused.why_not and "The most" not in refused.why_not
    clear = changed(scene, camera_height_m=1.3)
    assert "already stand clear" in answer_to(changed_state(clear), Part(element_id="post", other_id="wall")).why_not
