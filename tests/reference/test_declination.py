"""Magnetic declination against the model's own published test values."""

from datetime import UTC, datetime

import pytest

from lucid_ridge.core.framing.declination import declination_deg


@pytest.mark.parametrize(
    ("latitude", "longitude", "declination"),
    [(80, 0, -1.28), (0, 120, 0.16), (-80, 240, 69.36)],
)
def test_test_values_of_the_model_of_2020(latitude: float, longitude: float, declination: float):
    # World Magnetic Model 2020, technical report, table of test values at 2020.0 and height 0; figures from memory.
    assert declination_deg(latitude, longitude, datetime(2020, 1, 1, tzinfo=UTC)) == pytest.approx(
        declination, abs=0.005
    )


def test_years_without_a_model_have_none():
    assert declination_deg(54, -2, datetime(2009, 12, 31, tzinfo=UTC)) is None
    assert declination_deg(54, -2, datetime(2030, 1, 1, tzinfo=UTC)) is None


@pytest.mark.parametrize("year", range(2010, 2030))
def test_a_year_follows_the_year_before(year: int):
    # Secular change at the equator is well under half a degree a year, across the seams of the models too.
    ends = (declination_deg(0, 10, datetime(year, month, 1, tzinfo=UTC)) for month in (1, 12))
    first, last = ends
    assert first is not None and last is not None and abs(first - last) < 0.5
