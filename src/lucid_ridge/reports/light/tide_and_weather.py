"""Tide and forecast of a day, as the ribbon shows them."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.daylight.sun_chance import cloud_layers
from lucid_ridge.core.light.tide import tide_height, turns
from lucid_ridge.core.light.weather import cloud_stops, covered
from lucid_ridge.core.model.place import Forecast, TideStation
from lucid_ridge.core.records import record
from lucid_ridge.reports.figures import Readout, clock_text

Array = NDArray[np.float64]
_STEP_S = 360.0


@record
class TideTurn:
    """High or low water. Position 0..1 of the day, height 0..1 of the drawn range."""

    position: float
    height: float
    high: bool
    text: str


@record
class TideRow:
    """The tide through the day; points are position and height, 0..1."""

    station: str
    datum: str
    points: tuple[tuple[float, float], ...]
    turns: tuple[TideTurn, ...]
    now: Readout
    rising: bool
    turn_text: str


@record
class ForecastMark:
    """The weather at an hour of the day; shares 0..1."""

    position: float
    cloud: float
    wind_m_s: float
    text: str


@record
class ForecastRow:
    """A forecast through the day. ``simulated`` must be shown where it is true."""

    source: str
    simulated: bool
    marks: tuple[ForecastMark, ...]
    cloud: Readout
    cloud_stops: Readout
    wind: Readout
    text: str


@lru_cache(maxsize=64)
def _tide_day(station: TideStation, first: float, last: float) -> tuple[Array, Array, float, float]:
    """Instants and heights from half a day before to half a day after, and the range drawn."""
    at = np.arange(first - 43200, last + 43200 + _STEP_S, _STEP_S)
    heights = tide_height(at, station.mean_m, station.harmonics)
    return at, heights, float(heights.min()), float(heights.max())


def tide_row(station: TideStation, start: datetime, end: datetime, unix_s: float, zone: ZoneInfo) -> TideRow:
    """The tide of a day, its turns and its height now."""
    first, last = start.timestamp(), end.timestamp()
    at, heights, low, high = _tide_day(station, first, last)
    span, room = last - first, max(high - low, 0.1)
    inside = (at >= first) & (at <= last)
    now = float(np.interp(unix_s, at, heights))
    rising = bool(np.interp(unix_s + 60, at, heights) > now)
    found = turns(at, heights)

    coming = next(((t, h, is_high) for t, h, is_high in found if t > unix_s), None)
    turn = (
        ""
        if coming is None
        else f"{'high' if coming[2] else 'low'} water {coming[1]:.1f} m at {clock_text(coming[0], zone)}"
    )
    return TideRow(
        station=station.name,
        datum=station.datum,
        points=tuple(
            (round(x, 4), round(y, 4))
            for x, y in zip(
                ((at[inside] - first) / span).tolist(), ((heights[inside] - low) / room).tolist(), strict=True
            )
        ),
        turns=tuple(
            TideTurn(
                position=(t - first) / span,
                height=(h - low) / room,
                high=is_high,
                text=f"{clock_text(t, zone)} {h:.1f} m",
            )
            for t, h, is_high in found
            if first <= t <= last
        ),
        now=Readout(value=now, text=f"{now:.1f} m above {station.datum}", explain="light.tide"),
        rising=rising,
        turn_text=turn,
    )


def forecast_row(
    forecast: Forecast, start: datetime, end: datetime, unix_s: float, zone: ZoneInfo
) -> ForecastRow | None:
    """The forecast of a day; None where it says nothing of it."""
    first, last = start.timestamp(), end.timestamp()
    hours = [h for h in forecast.hours if first <= h.at_utc.timestamp() <= last]
    if not hours:
        return None
    at, low, middle, high = cloud_layers(forecast)
    share = float(np.interp(unix_s, at, covered(low, middle, high)))
    wind = float(np.interp(unix_s, at, [h.wind_m_s for h in forecast.hours]))
    gust = float(np.interp(unix_s, at, [h.gust_m_s for h in forecast.hours]))
    rain = float(np.interp(unix_s, at, [h.rain_mm_h for h in forecast.hours]))
    made = forecast.made_at_utc.astimezone(zone).strftime("%-d %b %H:%M")
    stops = float(cloud_stops(share))
    return ForecastRow(
        source=forecast.source,
        simulated=forecast.simulated,
        marks=tuple(
            ForecastMark(
                position=(h.at_utc.timestamp() - first) / (last - first),
                cloud=float(covered(h.cloud_low, h.cloud_middle, h.cloud_high)),
                wind_m_s=h.wind_m_s,
                text=(
                    f"{h.at_utc.astimezone(zone):%H:%M} cloud low {h.cloud_low:.0%}, middle {h.cloud_middle:.0%}, high "
                    f"{h.cloud_high:.0%}; wind {h.wind_m_s:.0f} m/s, gusts {h.gust_m_s:.0f}; rain {h.rain_mm_h:.1f} mm/h; "
                    f"visibility {h.visibility_km:.0f} km"
                ),
            )
            for h in hours
        ),
        cloud=Readout(value=share, text=f"{share:.0%} covered", explain="light.cloud"),
        cloud_stops=Readout(value=stops, text=f"{stops:.1f} stops", explain="light.cloud_stops"),
        wind=Readout(value=wind, text=f"{wind:.0f} m/s, gusts {gust:.0f}", explain="light.wind"),
        text=f"{'Simulated, no real forecast' if forecast.simulated else forecast.source}, made {made}"
        + (f"; rain {rain:.1f} mm/h" if rain >= 0.1 else ""),
    )
