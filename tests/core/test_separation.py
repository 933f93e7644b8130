"""Gaps between outlines and skylines through subjects."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.framing.separation import cut_share, gap, in_frame_heights, skyline_y
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.technique.compose import height_to_part, separation
from lucid_ridge.core.technique.evaluate import changed_state
from lucid_ridge.core.technique.scene import Element

from .conftest import changed

SQUARE = np.array([[0.0, 0.0], [1, 0], [1, 1], [0, 1]])


def moved(dx, dy, size=1.0):
    return SQUARE * size + np.array([dx, dy])


@pytest.mark.parametrize(
    ("other", "expected"),
    [
        (moved(1.25, 0), 0.25),
        (moved(0, -1.5), 0.5),
        (moved(1.3, 1.4), 0.5),
        (moved(0.9, 0), -0.1),
        (moved(0.3, 0.8), -0.2),
        (moved(0.25, 0.25, 0.5), -0.75),
    ],
)
def test_gaps_of_squares(other, expected):
    assert gap(SQUARE, other) == pytest.approx(expected, abs=1e-12)
    assert gap(other, SQUARE) == pytest.approx(expected, abs=1e-12)


@given(st.floats(-3, 3), st.floats(-3, 3), st.floats(0.1, 2))
def test_parting_by_the_overlap_parts(dx, dy, size):
    other = moved(dx, dy, size)
    between = gap(SQUARE, other)
    if between < -1e-9:
        shifts = [other + np.array(d) * (-between + 1e-6) for d in ((1, 0), (-1, 0), (0, 1), (0, -1))]
        assert max(gap(SQUARE, one) for one in shifts) >= -1e-9


def test_a_corner_in_a_notch_counts_by_the_outline_not_by_its_box():
    notch = np.array([[0.0, 0], [2, 0], [2, 2], [1.4, 2], [1.4, 0.5], [0.6, 0.5], [0.6, 2], [0, 2]])
    assert gap(notch, moved(0.8, 1.0, 0.4)) == pytest.approx(0.2)


def test_a_ridge_cuts_a_subject_at_a_share_of_its_height():
    house = np.array([[0.4, 0.6], [0.4, 0.3], [0.5, 0.2], [0.6, 0.3], [0.6, 0.6]])
    ridge = np.array([[0.0, 0.6], [0.0, 0.4], [1.0, 0.4], [1.0, 0.6]])
    line = skyline_y(ridge, 0.5)
    assert line == pytest.approx(0.4)
    assert cut_share(house, line) == pytest.approx(0.5)
    assert cut_share(house, 0.1) is None
    assert skyline_y(ridge, 1.5) is None


MERGED = changed(
    TARN_SCENE,
    camera_height_m=0.5,
    elements=(
        *(e for e in TARN_SCENE.composition.elements if e.role in ("background", "water")),
        Element(
            id="post", name="mooring post", role="subject", silhouette="post", east_m=6.4, north_m=7.7,
            turned_deg=40, width_m=0.25, depth_m=0.25, height_m=1.1,
        ),
        Element(
            id="rock", name="near rock", role="foreground", silhouette="boulder", east_m=1.28, north_m=1.53,
            turned_deg=40, width_m=0.9, depth_m=0.6, height_m=0.5,
        ),
    ),
    reading=None,
)  # fmt: skip


def test_a_merged_pair_is_told_and_parted_by_the_least_change_of_height():
    state = changed_state(MERGED)
    merged = [m for m in separation(state) if {m.element_id, m.other_id} == {"post", "rock"}]
    assert [m.kind for m in merged] == ["overlap"]
    answer = height_to_part(state, "post", "rock")
    assert answer.change is not None
    assert answer.label.startswith("Raise to")
    after = changed_state(MERGED, [answer.change])
    assert not [m for m in separation(after) if {m.element_id, m.other_id} == {"post", "rock"}]
    # The next lower centimetre does not part them: the change is the smallest.
    lower = replace(answer.change, camera_height_m=answer.change.camera_height_m - 0.01)
    assert [m for m in separation(changed_state(MERGED, [lower])) if {m.element_id, m.other_id} == {"post", "rock"}]
    assert TARN_SCENE.kit.support.lowest_m <= answer.change.camera_height_m <= TARN_SCENE.kit.support.highest_m


def test_what_no_height_parts_says_why():
    low = replace(MERGED, kit=replace(MERGED.kit, support=replace(MERGED.kit.support, highest_m=0.55)))
    answer = height_to_part(changed_state(low), "post", "rock")
    assert answer.change is None
    assert "550" not in answer.label
    assert "step sideways" in answer.why_not


def test_skylines_through_the_subject_are_told_with_their_share():
    cuts = {m.other_id: m for m in separation(changed_state(TARN_SCENE)) if m.kind == "cut"}
    assert set(cuts) == {"skarn", "far-shore"}
    assert 75 < cuts["skarn"].gap.value < 90


def test_elements_out_of_the_frame_cannot_be_parted():
    with pytest.raises(SceneError) as caught:
        height_to_part(changed_state(TARN_SCENE), "boathouse", "nobody")
    assert caught.value.problems[0].pointer == "/other_id"


def test_frame_heights_are_alike_in_both_directions():
    assert in_frame_heights(np.array([[1.0, 1.0]]), 1.5).tolist() == [[1.5, 1.0]]
