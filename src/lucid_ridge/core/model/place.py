"""The place of a scene: where it lies, what stands before its sky, its tide, and the weather there."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from annotated_types import Ge, Le, MaxLen, MinLen

from lucid_ridge.core.records import Identifier, Name, record

HorizonKind = Literal["flat", "sea", "measured", "terrain"]


@record
class SkylinePoint:
    """A point of a skyline measured by compass and clinometer, from true north and from level."""

    azimuth_deg: Annotated[float, Ge(-360), Le(720)]
    altitude_deg: Annotated[float, Ge(-30), Le(89)]


@record
class TideConstituent:
    """One harmonic constituent: its amplitude, and its phase lag at Greenwich (g, with times in UTC)."""

    name: Annotated[str, MinLen(1), MaxLen(8)]
    amplitude_m: Annotated[float, Ge(0), Le(20)]
    phase_deg: Annotated[float, Ge(-360), Le(720)]


@record
class TideStation:
    """Where the tide's constituents were observed; ``mean_m`` is the mean level above the datum of its heights."""

    name: Name
    datum: Annotated[str, MaxLen(40)] = "chart datum"
    mean_m: Annotated[float, Ge(-50), Le(50)] = 0.0
    constituents: Annotated[tuple[TideConstituent, ...], MinLen(1), MaxLen(40)]

    @property
    def harmonics(self) -> list[tuple[str, float, float]]:
        """Name, amplitude and phase of each constituent, as `core.light.tide` takes them."""
        return [(c.name, c.amplitude_m, c.phase_deg) for c in self.constituents]


@record
class Place:
    """Where the origin of the composition's metres lies, and what is known of its skyline and its tide.

    ``horizon`` says what stands before the sky: nothing (``flat``), the sea below, the ``skyline`` that was
    measured, or the terrain of ``terrain_id``.
    """

    name: Name
    latitude_deg: Annotated[float, Ge(-90), Le(90)]
    longitude_deg: Annotated[float, Ge(-180), Le(180)]
    elevation_m: Annotated[float, Ge(-450), Le(9000)] = 0.0
    time_zone: Annotated[str, MinLen(1), MaxLen(64)] = "UTC"
    horizon: HorizonKind = "flat"
    skyline: Annotated[tuple[SkylinePoint, ...], MaxLen(720)] = ()
    terrain_id: Identifier | None = None
    tide: TideStation | None = None


@record
class ForecastHour:
    """The weather at an hour: shares of sky covered by height of cloud, wind, rain and visibility."""

    at_utc: datetime
    cloud_low: Annotated[float, Ge(0), Le(1)]
    cloud_middle: Annotated[float, Ge(0), Le(1)]
    cloud_high: Annotated[float, Ge(0), Le(1)]
    wind_m_s: Annotated[float, Ge(0), Le(120)]
    gust_m_s: Annotated[float, Ge(0), Le(150)]
    rain_mm_h: Annotated[float, Ge(0), Le(300)]
    visibility_km: Annotated[float, Ge(0), Le(300)]


@record
class Forecast:
    """A forecast, by whom and when it was made; ``simulated`` when nobody forecast anything."""

    source: Name
    simulated: bool
    made_at_utc: datetime
    hours: Annotated[tuple[ForecastHour, ...], MaxLen(400)]
