"""A forecast that is made up, served on loopback: ``GET /v1/forecast?latitude=&longitude=&start=&hours=``.

It follows no weather model. Cloud and wind wander smoothly with the hours, the same for the same place
and time, so that practice and tests can be repeated. Every answer says that it is simulated.
"""

from __future__ import annotations

import argparse
import json
import math
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs, urlsplit
from zlib import crc32

HOURS, MOST_HOURS = 72, 14 * 24


def _wander(name: str, latitude: float, longitude: float, hour: float, period_h: float) -> float:
    """A value 0..1 that wanders with the hours: smooth between knots drawn from the place and the time."""
    knot = math.floor(hour / period_h)
    share = hour / period_h - knot
    low, high = (crc32(f"{name}/{latitude:.2f}/{longitude:.2f}/{k}".encode()) / 2**32 for k in (knot, knot + 1))
    smooth = share * share * (3 - 2 * share)
    return low + (high - low) * smooth


def simulated_hour(latitude: float, longitude: float, at: datetime) -> dict[str, Any]:
    """The weather made up for an hour at a place."""
    hour = at.timestamp() / 3600

    def wander(name: str, period_h: float) -> float:
        return _wander(name, latitude, longitude, hour, period_h)

    low = max(0.0, 1.3 * wander("low", 11) - 0.35)
    middle = max(0.0, 1.2 * wander("middle", 8) - 0.4)
    wind = 1.0 + 11.0 * wander("wind", 13) ** 1.5
    rain = max(0.0, low + middle - 1.2) * 3.0
    return {
        "at_utc": at.astimezone(UTC).isoformat(),
        "cloud_low": round(min(1.0, low), 2),
        "cloud_middle": round(min(1.0, middle), 2),
        "cloud_high": round(wander("high", 9), 2),
        "wind_m_s": round(wind, 1),
        "gust_m_s": round(wind * (1.3 + 0.5 * wander("gust", 5)), 1),
        "rain_mm_h": round(rain, 1),
        "visibility_km": round(max(0.5, 40.0 * (1 - 0.6 * low) - 6 * rain), 1),
    }


def simulated_forecast(latitude: float, longitude: float, start: datetime, hours: int = HOURS) -> dict[str, Any]:
    """So many hours from that of *start* on, two weeks at most."""
    first = start.astimezone(UTC).replace(minute=0, second=0, microsecond=0)
    return {
        "source": "simulated forecast",
        "simulated": True,
        "made_at_utc": first.replace(hour=first.hour // 6 * 6).isoformat(),
        "hours": [
            simulated_hour(latitude, longitude, first + timedelta(hours=h))
            for h in range(min(max(hours, 1), MOST_HOURS))
        ],
    }


class _Handler(BaseHTTPRequestHandler):
    def do_GET(self) -> None:
        asked = urlsplit(self.path)
        body: dict[str, Any] = {"error": "ask /v1/forecast with latitude, longitude and start"}
        status = 404
        if asked.path == "/v1/forecast":
            try:
                given = {name: values[0] for name, values in parse_qs(asked.query).items()}
                start = datetime.fromisoformat(given["start"])
                start = start if start.tzinfo is not None else start.replace(tzinfo=UTC)
                latitude, longitude = float(given["latitude"]), float(given["longitude"])
                body, status = simulated_forecast(latitude, longitude, start, int(given.get("hours", HOURS))), 200
            except (LookupError, ValueError, OverflowError):
                body, status = {"error": "latitude, longitude or start is missing or cannot be read"}, 400
        data = json.dumps(body).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)

    def log_message(self, format: str, *args: object) -> None:
        """Keep quiet."""


def make_server(port: int = 0) -> ThreadingHTTPServer:
    """A server on loopback; port 0 takes any free one."""
    return ThreadingHTTPServer(("127.0.0.1", port), _Handler)


def main() -> int:
    """Serve until stopped."""
    options = argparse.ArgumentParser(description="Serve simulated forecasts on loopback.")
    options.add_argument("--port", type=int, required=True)
    make_server(options.parse_args().port).serve_forever()
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
