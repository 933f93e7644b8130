"""Gaps between outlines and skylines through subjects."""

from __future__ import annotations

from collections import Counter

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import Polygon, box
from shapely.affinity import translate

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.framing.separation import cut_share, gap, skyline_y
from lucid_ridge.core.model.scene import Element
from lucid_ridge.core.state.separation import MOST_PAIRS, mergers
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.frame.separation import separation

from .conftest import changed

SQUARE = box(0, 0, 1, 1)


def moved(dx, dy, size=1.0):
    return box(dx, dy, dx + size, dy + size)


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
        by = -between + 1e-6
        shifts = [translate(other, x * by, y * by) for x, y in ((1, 0), (-1, 0), (0, 1), (0, -1))]
        assert max(gap(SQUARE, one) for one in shifts) >= -1e-9


def test_a_corner_in_a_notch_counts_by_the_outline_not_by_its_box():
    notch = Polygon([(0, 0), (2, 0), (2, 2), (1.4, 2), (1.4, 0.5), (0.6, 0.5), (0.6, 2), (0, 2)])
    assert gap(notch, moved(0.8, 1.0, 0.4)) == pytest.approx(0.2)


def test_a_ridge_cuts_a_subject_at_a_share_of_its_height():
    house = Polygon([(0.4, 0.6), (0.4, 0.3), (0.5, 0.2), (0.6, 0.3), (0.6, 0.6)])
    ridge = box(0, 0.4, 1, 0.6)
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


def test_a_merged_pair_is_told():
    merged = [m for m in separation(changed_state(MERGED)) if {m.element_id, m.other_id} == {"post", "rock"}]
    assert [m.kind for m in merged] == ["overlap"]


def test_skylines_through_the_subject_are_told_with_their_share():
    cuts = {m.other_id: m for m in separation(changed_state(TARN_SCENE)) if m.kind == "cut"}
    assert set(cuts) == {"skarn", "far-shore"}
    assert 75 < cuts["skarn"].gap.value < 90


def test_in_a_thicket_no_more_meetings_are_told_than_tell_anything():
    subjects = [
        Element(
            id=f"s{n}",
            name=f"stem {n}",
            role="subject",
            silhouette="trunk",
            east_m=n % 20 - 10,
            north_m=8 + n / 10,
            height_m=3,
        )
        for n in range(60)
    ]
    behind = [
        Element(
            id=f"b{n}",
            name=f"slope {n}",
            role="background",
            silhouette="wall",
            east_m=0,
            north_m=60 + n,
            width_m=90,
            height_m=7,
        )
        for n in range(30)
    ]
    found = mergers(changed_state(changed(TARN_SCENE, elements=(*subjects, *behind), reading=None)))
    told = Counter("pair" if one.kind in ("overlap", "touch") else one.kind for one in found)
    assert 0 < told["pair"] <= MOST_PAIRS and told["cut"] == MOST_PAIRS
