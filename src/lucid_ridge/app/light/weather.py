"""Where forecasts come from: a source behind one interface, by default the local stand-in over HTTP."""

from __future__ import annotations

import threading
import time
import urllib.error
import urllib.request
from datetime import datetime
from typing import Protocol
from urllib.parse import urlencode

from flask import current_app
from pydantic import TypeAdapter, ValidationError

from lucid_ridge.core.model.place import Forecast

_FORECAST: TypeAdapter[Forecast] = TypeAdapter(Forecast)
USUAL_HOURS = 72
_PATIENCE_S = 2.0
_LARGEST_BYTES = 1_000_000
_KEPT_S = 600.0
_MOST_KEPT = 200


class ForecastTrouble(Exception):
    """No forecast can be had now; the message says so in plain words."""


class ForecastSource(Protocol):
    """Anything that forecasts the weather by the hour."""

    def forecast(
        self, latitude_deg: float, longitude_deg: float, start: datetime, hours: int = USUAL_HOURS
    ) -> Forecast:
        """So many hours from *start* on, or as many as there are.

        Raises
        ------
        ForecastTrouble
            If the source does not answer, or not with a forecast.

        """


class HttpForecast:
    """A source that answers ``GET {address}/v1/forecast`` with a `Forecast` as JSON. Answers are kept for ten minutes."""

    def __init__(self, address: str) -> None:
        self._address = address.rstrip("/")
        self._kept: dict[str, tuple[float, Forecast]] = {}
        self._lock = threading.Lock()

    def forecast(
        self, latitude_deg: float, longitude_deg: float, start: datetime, hours: int = USUAL_HOURS
    ) -> Forecast:
        """See `ForecastSource`."""
        asked = urlencode(
            {
                "latitude": f"{latitude_deg:.3f}",
                "longitude": f"{longitude_deg:.3f}",
                "start": start.isoformat(),
                "hours": hours,
            }
        )
        with self._lock:
            kept = self._kept.get(asked)
        if kept is not None and time.monotonic() - kept[0] < _KEPT_S:
            return kept[1]
        try:
            with urllib.request.urlopen(f"{self._address}/v1/forecast?{asked}", timeout=_PATIENCE_S) as answer:
                made = _FORECAST.validate_json(answer.read(_LARGEST_BYTES))
        except (OSError, ValidationError, ValueError):
            raise ForecastTrouble("The forecast does not answer; the light counts a clear sky.") from None
        with self._lock:
            if len(self._kept) >= _MOST_KEPT:
                self._kept.clear()
            self._kept[asked] = (time.monotonic(), made)
        return made


def source() -> ForecastSource | None:
    """The source of this server, None where it has none."""
    found: ForecastSource | None = current_app.extensions["forecast"]
    return found
