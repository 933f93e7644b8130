"""Positions as they are written or pasted."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lucid_ridge.formats.coordinates import PositionError, read_position

# 54° 06' 07.56" N, 2° 24' 11.88" W is 54.1021, -2.4033: 6 / 60 + 7.56 / 3600 and 24 / 60 + 11.88 / 3600, by hand.
SAME = [
    "54.1021, -2.4033",
    "54.1021 -2.4033",
    "54.1021;-2.4033",
    "54,1021; -2,4033",
    "54,1021 -2,4033",
    "54.1021 N, 2.4033 W",
    "N 54.1021 W 2.4033",
    "W2.4033 N54.1021",
    "54.1021°N 2.4033°W",
    "54° 6.126' N, 2° 24.198' W",
    "54 06.126 N 2 24.198 W",
    "54°06'07.56\"N 2°24'11.88\"W",
    "54°06′07.56″ N, 2°24′11.88″ W",
    "N54 06 07.56 W002 24 11.88",
    "54 06 07.56, -2 24 11.88",
    "54.1021,−2.4033",
    "geo:54.1021,-2.4033",
    "geo:54.1021,-2.4033,380;u=10",
    "+54.1021-002.4033/",
    "+54.1021-002.4033+380CRSWGS_84/",
    "  54.1021 ,\n -2.4033 ",
]


@pytest.mark.parametrize("text", SAME)
def test_the_usual_notations_are_one_place(text):
    found = read_position(text)
    assert (found.latitude_deg, found.longitude_deg) == pytest.approx((54.1021, -2.4033), abs=1e-9)


def test_the_geo_address_of_the_standard():
    # RFC 5870, section 1: geo:13.4125,103.8667.
    assert read_position("geo:13.4125,103.8667").longitude_deg == 103.8667


@given(st.floats(-90, 90), st.floats(-180, 180))
def test_what_is_written_in_degrees_and_minutes_is_read_back(latitude, longitude):
    def half(value, letters):
        size = round(abs(value) * 60, 6)
        degrees, minutes = divmod(size, 60)
        return f"{degrees:.0f}° {minutes:.6f}' {letters[value < 0]}"

    text = f"{half(latitude, 'NS')}, {half(longitude, 'EW')}"
    if "60.000000" in text:
        return
    found = read_position(text)
    assert (found.latitude_deg, found.longitude_deg) == pytest.approx((latitude, longitude), abs=1e-7)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "latitude and a longitude"),
        ("54.1021", "latitude and a longitude"),
        ("the tarn", "no position"),
        ("91, 0", "between -90 and 90"),
        ("54, 181", "between -180 and 180"),
        ("54 61 N 2 24 W", "below 60"),
        ("54.5 30 N 2 24 W", "Only the last number"),
        ("54 N 2 N", "one latitude"),
        ("-54 N 2 W", "minus sign or a letter"),
        ("1, 2, 3", "latitude and a longitude"),
        ("54 1 2 3 4 5 6 N 2 W", "no angle"),
    ],
)
def test_what_is_no_position_says_what_to_write(text, words):
    with pytest.raises(PositionError) as caught:
        read_position(text)
    assert words in str(caught.value) and "54.1021" in str(caught.value)


@given(st.text(max_size=60))
def test_any_text_is_a_position_or_refused(text):
    try:
        found = read_position(text)
    except PositionError:
        return
    assert abs(found.latitude_deg) <= 90 and abs(found.longitude_deg) <= 180
