"""What the process that draws is asked, and what it answers."""

from __future__ import annotations

import pickle
from dataclasses import dataclass
from typing import IO, Any

from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.rehearsal.mishaps import Mishap
from lucid_ridge.reports.rehearsal.report import FrameReport, ProofReport


@dataclass(frozen=True)
class Asked:
    """What is to be drawn; a piece is place and pixels.

    ``number`` None asks for the frame that is exposed as metered, ``merged`` for all of them merged.
    """

    scene: Scene
    mishaps: tuple[Mishap, ...]
    longest_px: int
    number: int | None = None
    merged: bool = False
    piece: tuple[float, float, int, int] | None = None
    shutter_s: float | None = None
    aperture_n: float | None = None


@dataclass(frozen=True)
class Drawn:
    """What was drawn: the report of a frame or of the proof, JPEG and masks by name."""

    told: FrameReport | ProofReport
    width: int
    height: int
    jpeg: bytes
    masks: dict[str, bytes | None]


@dataclass(frozen=True)
class PairAsked:
    """What a drill looks at."""

    scene: Scene
    key: str
    seed: int
    level: int


@dataclass(frozen=True)
class PairDrawn:
    """One picture, or two beside each other, as JPEG; whether what went wrong can be seen in them."""

    seen: bool
    jpegs: tuple[bytes, ...]
    width: int
    height: int


@dataclass(frozen=True)
class LacksTerrain:
    """The answer of a process that has not heard of the terrain of a scene."""


@dataclass(frozen=True)
class NoSuchFrame:
    """The answer where there are fewer frames."""

    count: int


def send(to: IO[bytes], what: Any) -> None:
    """Say something over a pipe to one's own process."""
    pickle.dump(what, to, protocol=pickle.HIGHEST_PROTOCOL)
    to.flush()
