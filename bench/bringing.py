"""How fast a card full of pictures is in the list, against taking each in whole, and how long one frame is looked at."""

from __future__ import annotations

import io
import tempfile
import time
from datetime import datetime, timedelta
from pathlib import Path
from uuid import uuid4

import numpy as np
from PIL import Image
from tests.cluster import Databases

from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.pictures.bringing import MOST_AT_ONCE, keep_many, make_copies
from lucid_ridge.app.pictures.operations import keep
from lucid_ridge.core.rehearsal.rehearsal import Rehearsal
from lucid_ridge.core.review.findings import Came
from lucid_ridge.core.review.look import look
from lucid_ridge.core.review.plan import plan_of
from lucid_ridge.core.state.state import build_state
from lucid_ridge.demo.valley import scene_of
from lucid_ridge.formats.frames import Written, with_exif

_GOAL_PER_S = 150
_GOAL_LOOK_S = 1.0
_MANY, _FEW = 320, 40
_SIDES = (3000, 2000)


def _cards(count: int) -> list[tuple[str, bytes]]:
    """Pictures of six megapixels, each with what a camera writes into it."""
    rng = np.random.default_rng(1)
    rough = Image.fromarray(rng.integers(0, 255, (40, 60, 3), dtype=np.uint8)).resize(_SIDES, Image.Resampling.BICUBIC)
    made = io.BytesIO()
    rough.save(made, "JPEG", quality=90)
    files = []
    for k in range(count):
        told = Written(
            taken=datetime(2026, 9, 1, 5) + timedelta(seconds=7 * k), camera="Body", lens="Lens", exposure_s=1 / 60,
            f_number=8.0, iso=100.0, focal_length_mm=35.0, sensor_mm=(36.0, 24.0), focus_m=2.0,
        )  # fmt: skip
        # Programs that read a JPEG pass over what follows its end.
        files.append((f"frame {k:04d}.jpg", with_exif(made.getvalue(), told) + k.to_bytes(4, "big")))
    return files


def look_s() -> float:
    """Seconds that one frame of a stack is looked at."""
    state = build_state(scene_of("boathouse"))
    rehearsal = Rehearsal(state, 1500)
    came = [Came(shot.number, rehearsal.frame(shot).picture) for shot in rehearsal.shots]
    start = time.perf_counter()
    look(plan_of(state), came)
    return (time.perf_counter() - start) / len(came)


def main(databases: Databases) -> None:
    """Print how fast pictures come in, and how long one is looked at."""
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Configuration(databases.fresh(), Path(folder)))
        files = _cards(_MANY + _FEW)
        with app.app_context():
            keep_many(files[-1:])
            start = time.perf_counter()
            for k in range(0, _MANY, MOST_AT_ONCE):
                keep_many(files[k : k + MOST_AT_ONCE])
            many = _MANY / (time.perf_counter() - start)
            start = time.perf_counter()
            for name, data in files[_MANY:-1]:
                keep(uuid4(), name, data)
            each = (_FEW - 1) / (time.perf_counter() - start)
            start = time.perf_counter()
            make_copies(lambda doing, done, whole: None)
            copies = _MANY / (time.perf_counter() - start)
        app.extensions["database"].dispose()
    print(
        f"{'pictures of 6 megapixels into the list':<52} {many:9.0f} a second   {many / each:8.1f} × as fast as each "
        f"whole ({each:.0f} a second)   goal: {_GOAL_PER_S} a second"
    )
    print(f"{'their copies for the screen, afterwards':<52} {copies:9.0f} a second")
    print(f"{'looking at one frame at 1500 px':<52} {look_s():9.2f} s   goal: under {_GOAL_LOOK_S:.0f} s")
