"""Magnetic declination: how far a compass points from true north, by the World Magnetic Model."""

from __future__ import annotations

from datetime import datetime
from functools import cache

from pygeomag import GeoMag

FIRST_YEAR, LAST_YEAR = 2010, 2029
"""Years that the models of the package cover; nearest the poles a compass is of no use, and the model says so little."""


@cache
def _model(year: int) -> GeoMag:
    return GeoMag(base_year=year)


def declination_deg(
    latitude_deg: float, longitude_deg: float, when: datetime, elevation_m: float = 0.0
) -> float | None:
    """Declination at a place and time, degrees, east positive; None for years without a model.

    Source: World Magnetic Model 2010 to 2025 (NOAA, British Geological Survey) as computed by the package pygeomag. The
    field changes by a tenth of a degree or so a year; rocks and cameras bend a compass by more than the model's own error.
    """
    if not FIRST_YEAR <= when.year <= LAST_YEAR:
        return None
    day = when.timetuple().tm_yday
    epoch = 2010 if when.year < 2015 else when.year // 5 * 5
    model = _model(epoch)
    year = when.year + (day - 1) / (366 if when.year % 4 == 0 else 365)
    return float(model.calculate(latitude_deg, longitude_deg, elevation_m / 1000, year).d)
