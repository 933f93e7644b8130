"""A camera that is made up, served on loopback: it takes the frames that the simulated camera draws, in the time that they take.

It stands before a scene that it is given, see ``PUT /v1/simulated/scene``; all else is asked of it as of any camera:

==============================  ====================================================================================
``GET /v1/capabilities``        what it can be set to
``GET /v1/state``               what it is at, its battery, and how many frames the card still takes
``PUT /v1/settings``            ``shutter_s``, ``aperture_n``, ``iso``, ``focus_m``
``PUT /v1/exposures/ID``        take a frame; the same ID again is the same frame
``GET /v1/exposures/ID``        ``exposing``, ``ready`` or ``stopped``
``DELETE /v1/exposures/ID``     close the shutter now
``GET /v1/exposures/ID/file``   the frame as JPEG with its Exif
``GET /v1/events?after=N``      what happened since
``PUT /v1/simulated/trouble``   what is wrong with it on purpose: one of `TROUBLES`; null mends it
==============================  ====================================================================================
"""

from __future__ import annotations

import argparse
import json
import math
import re
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Annotated, Any, Literal, get_args
from urllib.parse import parse_qs, urlsplit
from zoneinfo import ZoneInfo

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.rehearsal.mishaps import Mishap
from lucid_ridge.core.rehearsal.rehearsal import Rehearsal
from lucid_ridge.core.rehearsal.shots import Shot, shots_of
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.formats.frames import Written, jpeg_of, with_exif

Trouble = Literal["busy", "card full", "battery low", "connection lost"]
TROUBLES: tuple[Trouble, ...] = get_args(Trouble)
LONGEST_PX = 1600
CARD = 999
FRAMES_A_BATTERY = 400
_KEPT = 40
_MOST_BYTES = 2_000_000
_ID = re.compile(r"^/v1/exposures/([0-9a-f-]{36})(/file)?$")


class Settings(BaseModel):
    """What the camera is set to."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    shutter_s: Annotated[float, Field(ge=1 / 8000, le=7200)] = 1 / 60
    aperture_n: Annotated[float, Field(ge=1, le=64)] = 8
    iso: Annotated[float, Field(ge=25, le=409600)] = 100
    focus_m: Annotated[float, Field(gt=0.01, le=1e9)] = 10


class Standing(BaseModel):
    """Before what the camera stands: a scene, and the frame of its sequence that the tripod, the rail and the filters are set for.

    ``clock_off_s`` is by how much its clock is fast.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    scene: Scene
    number: Annotated[int, Field(ge=1, le=2000)]
    mishaps: Annotated[tuple[Mishap, ...], Field(max_length=6)] = ()
    clock_off_s: Annotated[float, Field(ge=-400 * 86400, le=400 * 86400)] = 0


class _Wrong(BaseModel):
    model_config = ConfigDict(extra="forbid")

    trouble: Trouble | None


class Refusal(Exception):
    """The camera does not do it: a status of HTTP and one word that says why."""

    def __init__(self, status: int, why: str) -> None:
        super().__init__(why)
        self.status, self.why = status, why


@dataclass
class _Exposure:
    settings: Settings
    standing: Standing
    at: datetime
    opened: float
    stopped_s: float | None = None
    file: bytes | None = None

    def exposed_s(self, hurry: float) -> float:
        """For how long the shutter has been open, or was."""
        return self.stopped_s or min((time.monotonic() - self.opened) * hurry, self.settings.shutter_s)


@dataclass
class Body:
    """The camera itself. With *hurry* its time runs so many times as fast."""

    hurry: float = 1.0
    settings: Settings = field(default_factory=Settings)
    standing: Standing | None = None
    trouble: Trouble | None = None
    taken: int = 0
    exposures: OrderedDict[str, _Exposure] = field(default_factory=OrderedDict)
    events: list[dict[str, Any]] = field(default_factory=list)
    _lock: threading.RLock = field(default_factory=threading.RLock)
    _drawing: threading.Lock = field(default_factory=threading.Lock)
    _rehearsed: tuple[Any, Rehearsal] | None = None

    def tell(self, kind: str, **more: object) -> None:
        """Note that something happened."""
        self.events.append(
            {"number": len(self.events) + 1, "kind": kind, "at_utc": datetime.now(UTC).isoformat(), **more}
        )

    def _open(self) -> bool:
        return any(
            one.stopped_s is None and one.exposed_s(self.hurry) < one.settings.shutter_s
            for one in self.exposures.values()
        )

    def state(self) -> dict[str, Any]:
        """What it is at."""
        with self._lock:
            busy = self._open() or self.trouble == "busy"
            battery = 0.03 if self.trouble == "battery low" else max(0.0, 1 - self.taken / FRAMES_A_BATTERY)
            return {
                "state": "busy" if busy else "ready",
                "battery": round(battery, 3),
                "frames_left": 0 if self.trouble == "card full" else max(0, CARD - self.taken),
                "settings": self.settings.model_dump(),
            }

    def set(self, settings: Settings) -> None:
        """Turn its dials."""
        with self._lock:
            self._ready()
            self.settings = settings
            self.tell("set", settings=settings.model_dump())

    def _ready(self) -> None:
        if self._open() or self.trouble == "busy":
            raise Refusal(409, "busy")

    def expose(self, name: str) -> None:
        """Open the shutter; the same name again is the same frame."""
        with self._lock:
            if name in self.exposures:
                return
            self._ready()
            now = self.state()
            for lacking, why in ((now["frames_left"] < 1, "card full"), (now["battery"] < 0.05, "battery low")):
                if lacking:
                    self.tell(why)
                    raise Refusal(507, why)
            if self.standing is None:
                raise Refusal(409, "nothing before the lens")
            self.exposures[name] = _Exposure(self.settings, self.standing, datetime.now(UTC), time.monotonic())
            while len(self.exposures) > _KEPT:
                self.exposures.popitem(last=False)
            self.taken += 1
            self.tell("opened", exposure=name)

    def of(self, name: str) -> _Exposure:
        """A frame that was taken."""
        with self._lock:
            if name not in self.exposures:
                raise Refusal(404, "unknown exposure")
            return self.exposures[name]

    def stop(self, name: str) -> None:
        """Close the shutter now, where it is open."""
        with self._lock:
            one = self.of(name)
            exposed = one.exposed_s(self.hurry)
            if one.stopped_s is None and exposed < one.settings.shutter_s:
                one.stopped_s = max(exposed, 1 / 8000)
                self.tell("stopped", exposure=name)

    def exposure(self, name: str) -> dict[str, Any]:
        """How far a frame is."""
        with self._lock:
            one = self.of(name)
            exposed = one.exposed_s(self.hurry)
            done = one.stopped_s is not None or exposed >= one.settings.shutter_s
            state = "stopped" if one.stopped_s is not None else "ready" if done else "exposing"
            return {"state": state, "exposed_s": exposed, "shutter_s": one.settings.shutter_s}

    def picture(self, name: str) -> bytes:
        """A frame as a file. It is drawn when it is first asked for."""
        one = self.of(name)
        if self.exposure(name)["state"] == "exposing":
            raise Refusal(409, "busy")
        with self._drawing:
            if one.file is None:
                one.file = self._drawn(one)
                self.tell("written", exposure=name)
        return one.file

    def _drawn(self, one: _Exposure) -> bytes:
        standing, settings = one.standing, one.settings
        key = (standing.scene, standing.mishaps)
        if self._rehearsed is None or self._rehearsed[0] != key:
            self._rehearsed = (key, Rehearsal(build_state(standing.scene), LONGEST_PX, mishaps=standing.mishaps))
        rehearsal = self._rehearsed[1]
        at = min(standing.number, len(rehearsal.shots)) - 1
        asked_m = shots_of(rehearsal.state)[at].focus_m
        shot = as_set(rehearsal.shots[at], asked_m, settings, one.stopped_s or settings.shutter_s)
        return with_exif(jpeg_of(rehearsal.frame(shot).picture), written(rehearsal.state, one, shot))


def as_set(planned: Shot, asked_m: float, settings: Settings, exposed_s: float) -> Shot:
    """A planned frame as the camera is set in its place: what lets in more light is brighter by so much.

    *asked_m* is where the plan wants it focused: what goes wrong with that goes wrong with what it is set to as well.
    """
    brighter = (
        math.log2(exposed_s / planned.shutter_s)
        + math.log2(settings.iso / planned.iso)
        - 2 * math.log2(settings.aperture_n / planned.aperture_n)
    )
    return replace(
        planned,
        focus_m=planned.focus_m * settings.focus_m / asked_m,
        shutter_s=exposed_s,
        iso=settings.iso,
        aperture_n=settings.aperture_n,
        stops=planned.stops + brighter,
    )


def written(state: State, one: _Exposure, shot: Shot) -> Written:
    """What the camera writes into its file: the truth but for its clock."""
    scene = state.scene
    local = one.at.astimezone(ZoneInfo(scene.place.time_zone)) + timedelta(seconds=one.standing.clock_off_s)
    return Written(
        taken=local.replace(tzinfo=None),
        camera="Simulated camera",
        lens=scene.kit.lens.name,
        exposure_s=shot.shutter_s,
        f_number=shot.aperture_n,
        iso=shot.iso,
        focal_length_mm=state.exposure.settings.focal_length_mm,
        sensor_mm=(scene.kit.body.sensor_width_mm, scene.kit.body.sensor_height_mm),
        focus_m=shot.focus_m,
    )


_STANDING: TypeAdapter[Standing] = TypeAdapter(Standing)


class _Handler(BaseHTTPRequestHandler):
    body: Body

    def _given(self) -> bytes:
        length = int(self.headers.get("Content-Length") or 0)
        if not 0 <= length <= _MOST_BYTES:
            raise Refusal(413, "too much")
        return self.rfile.read(length)

    def _answered(self, method: str) -> tuple[int, bytes, str]:
        body, asked = self.body, urlsplit(self.path)
        given = self._given()
        if asked.path == "/v1/simulated/trouble" and method == "PUT":
            body.trouble = _Wrong.model_validate_json(given).trouble
            if body.trouble is None:
                body.taken = 0
            return self._told({})
        if body.trouble == "connection lost":
            raise ConnectionError
        if asked.path == "/v1/simulated/scene" and method == "PUT":
            body.standing = _STANDING.validate_json(given)
            return self._told({})
        if asked.path == "/v1/settings" and method == "PUT":
            body.set(Settings.model_validate_json(given))
            return self._told(body.state())
        named = _ID.match(asked.path)
        if named is not None:
            return self._exposure(method, named[1], bool(named[2]))
        if method == "GET" and asked.path == "/v1/capabilities":
            return self._told(CAPABILITIES)
        if method == "GET" and asked.path == "/v1/state":
            return self._told(body.state())
        if method == "GET" and asked.path == "/v1/events":
            after = int(parse_qs(asked.query).get("after", ["0"])[0])
            return self._told({"events": body.events[max(0, after) :]})
        raise Refusal(404, "no such thing")

    def _exposure(self, method: str, name: str, file: bool) -> tuple[int, bytes, str]:
        if file and method == "GET":
            return 200, self.body.picture(name), "image/jpeg"
        if method == "PUT":
            self.body.expose(name)
        elif method == "DELETE":
            self.body.stop(name)
        return self._told(self.body.exposure(name))

    def _told(self, what: dict[str, Any], status: int = 200) -> tuple[int, bytes, str]:
        return status, json.dumps(what).encode(), "application/json"

    def _answer(self) -> None:
        try:
            status, data, kind = self._answered(self.command)
        except Refusal as no:
            status, data, kind = self._told({"error": no.why}, no.status)
        except (ValidationError, ValueError) as error:
            status, data, kind = self._told({"error": f"cannot be read: {str(error)[:300]}"}, 422)
        except ConnectionError:
            self.close_connection = True
            return
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(data)))
        self.end_headers()
        self.wfile.write(data)

    def do_GET(self) -> None:
        self._answer()

    def do_PUT(self) -> None:
        self._answer()

    def do_DELETE(self) -> None:
        self._answer()

    def log_message(self, format: str, *args: object) -> None:
        """Keep quiet."""


CAPABILITIES = {
    "name": "Simulated camera",
    "simulated": True,
    "shutter_s": [1 / 8000, 7200],
    "aperture_n": [1, 64],
    "iso": [25, 409600],
    "sets_focus": True,
    "formats": ["image/jpeg"],
}


def make_server(port: int = 0, hurry: float = 1.0) -> ThreadingHTTPServer:
    """A camera on loopback; port 0 takes any free one."""
    handler = type("Handler", (_Handler,), {"body": Body(hurry)})
    return ThreadingHTTPServer(("127.0.0.1", port), handler)


def main() -> int:
    """Serve until stopped."""
    options = argparse.ArgumentParser(description="Serve a simulated camera on loopback.")
    options.add_argument("--port", type=int, required=True)
    options.add_argument("--hurry", type=float, default=1.0, help="how many times as fast its time runs")
    given = options.parse_args()
    make_server(given.port, given.hurry).serve_forever()
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
