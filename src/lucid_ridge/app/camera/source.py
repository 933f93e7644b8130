"""A camera behind one interface; by default the simulated one over HTTP."""

from __future__ import annotations

import json
import urllib.error
import urllib.request
from dataclasses import dataclass
from typing import Annotated, Any, Literal, Protocol, TypeVar
from uuid import UUID

from flask import current_app
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from lucid_ridge.app.problems import CameraTrouble
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.rehearsal.mishaps import Mishap

_PATIENCE_S = 5.0
_PICTURE_PATIENCE_S = 30.0
_LARGEST_BYTES = 80 * 1024 * 1024
_WORDS = {
    "busy": "The camera is at something else. Wait a moment and start again.",
    "card full": "The card is full. Put another in and start again.",
    "battery low": "The battery is nearly empty. Change it and start again.",
    "unknown exposure": "The camera does not know this frame any more. Take it again.",
}
GONE = "The camera does not answer. Look at its cable or its connection; what it took stays on its card."


Answer = TypeVar("Answer", bound=BaseModel)


class Capabilities(BaseModel):
    """What a camera can be set to: ranges from least to most."""

    model_config = ConfigDict(extra="ignore")

    name: Annotated[str, Field(max_length=80)]
    simulated: bool = False
    shutter_s: tuple[float, float]
    aperture_n: tuple[float, float]
    iso: tuple[float, float]
    sets_focus: bool = False


class CameraState(BaseModel):
    """What a camera is at."""

    model_config = ConfigDict(extra="ignore")

    state: Literal["ready", "busy"]
    battery: Annotated[float, Field(ge=0, le=1)]
    frames_left: Annotated[int, Field(ge=0)]


class Exposure(BaseModel):
    """How far a frame is."""

    model_config = ConfigDict(extra="ignore")

    state: Literal["exposing", "ready", "stopped"]
    exposed_s: float


@dataclass(frozen=True)
class CameraSettings:
    """What a camera is to be set to."""

    shutter_s: float
    aperture_n: float
    iso: float
    focus_m: float


class Camera(Protocol):
    """A camera. Every call raises `CameraTrouble` where it does not do what it is asked."""

    def capabilities(self) -> Capabilities:
        """What it can be set to."""

    def state(self) -> CameraState:
        """What it is at."""

    def set(self, settings: CameraSettings) -> None:
        """Turn its dials."""

    def expose(self, frame_id: UUID) -> Exposure:
        """Take a frame; the same id again is the same frame."""

    def exposure(self, frame_id: UUID) -> Exposure | None:
        """How far a frame is; None where the camera knows of none."""

    def stop(self, frame_id: UUID) -> None:
        """Close the shutter now, where it is open."""

    def fetch(self, frame_id: UUID) -> bytes:
        """The file of a frame."""

    def stand(self, scene: Scene, number: int, mishaps: tuple[Mishap, ...], clock_off_s: float) -> None:
        """Have a simulated camera stand before a scene, set up for a frame of its sequence; a real one stands where it stands."""


_SCENE: TypeAdapter[Scene] = TypeAdapter(Scene)
_MISHAPS: TypeAdapter[tuple[Mishap, ...]] = TypeAdapter(tuple[Mishap, ...])


class HttpCamera:
    """A camera that is spoken to over HTTP, see `standins.camera`."""

    def __init__(self, address: str) -> None:
        self._address = address.rstrip("/")
        self._simulated: bool | None = None

    def _asked(self, method: str, path: str, given: Any = None, patience_s: float = _PATIENCE_S) -> bytes:
        data = None if given is None else json.dumps(given).encode()
        request = urllib.request.Request(f"{self._address}{path}", data=data, method=method)
        try:
            with urllib.request.urlopen(request, timeout=patience_s) as answer:
                return bytes(answer.read(_LARGEST_BYTES))
        except urllib.error.HTTPError as error:
            raise _refusal(error) from None
        except (OSError, ValueError):
            raise CameraTrouble(GONE) from None

    def capabilities(self) -> Capabilities:
        """See `Camera`."""
        made = _read(Capabilities, self._asked("GET", "/v1/capabilities"))
        self._simulated = made.simulated
        return made

    def state(self) -> CameraState:
        """See `Camera`."""
        return _read(CameraState, self._asked("GET", "/v1/state"))

    def set(self, settings: CameraSettings) -> None:
        """See `Camera`."""
        self._asked("PUT", "/v1/settings", vars(settings))

    def expose(self, frame_id: UUID) -> Exposure:
        """See `Camera`."""
        return _read(Exposure, self._asked("PUT", f"/v1/exposures/{frame_id}"))

    def exposure(self, frame_id: UUID) -> Exposure | None:
        """See `Camera`."""
        try:
            return _read(Exposure, self._asked("GET", f"/v1/exposures/{frame_id}"))
        except CameraTrouble as trouble:
            if str(trouble) == _WORDS["unknown exposure"]:
                return None
            raise

    def stop(self, frame_id: UUID) -> None:
        """See `Camera`."""
        self._asked("DELETE", f"/v1/exposures/{frame_id}")

    def fetch(self, frame_id: UUID) -> bytes:
        """See `Camera`."""
        return self._asked("GET", f"/v1/exposures/{frame_id}/file", patience_s=_PICTURE_PATIENCE_S)

    def stand(self, scene: Scene, number: int, mishaps: tuple[Mishap, ...], clock_off_s: float) -> None:
        """See `Camera`."""
        if self._simulated is None:
            self.capabilities()
        if self._simulated:
            standing = {
                "scene": _SCENE.dump_python(scene, mode="json"),
                "number": number,
                "mishaps": _MISHAPS.dump_python(mishaps, mode="json"),
                "clock_off_s": clock_off_s,
            }
            self._asked("PUT", "/v1/simulated/scene", standing)


def _refusal(error: urllib.error.HTTPError) -> CameraTrouble:
    """What a camera that refuses says, in words."""
    try:
        said = str(json.loads(error.read(10_000))["error"])
    except (OSError, ValueError, LookupError, TypeError):
        said = ""
    words = _WORDS.get(said, "The camera does not take this setting or this frame. Look at its own screen.")
    return CameraTrouble(words, busy=said == "busy")


def _read(kind: type[Answer], data: bytes) -> Answer:
    try:
        return kind.model_validate_json(data)
    except ValidationError:
        raise CameraTrouble(
            "What answers at the camera's address is no camera. Look at the settings of this server."
        ) from None


def camera() -> Camera | None:
    """The camera of this server, None where it has none."""
    found: Camera | None = current_app.extensions["camera"]
    return found
