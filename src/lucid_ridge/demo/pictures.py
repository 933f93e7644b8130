"""Pictures of the demo, as the simulated camera took them."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.rehearsal.mishaps import Mishap
from lucid_ridge.core.rehearsal.rehearsal import Rehearsal
from lucid_ridge.core.state.state import build_state
from lucid_ridge.formats.frames import Written, jpeg_of, with_exif

LONGEST_PX = 1500


def taken(
    scene: Scene,
    started: datetime,
    mishaps: tuple[Mishap, ...] = (),
    longest_px: int = LONGEST_PX,
    seed: int = 1,
    terrain: Terrain | None = None,
) -> Iterator[tuple[int, bytes]]:
    """The frames of a scene's sequence in order, each by its number as JPEG with what a camera writes into it.

    *terrain* is the place's, where it has one: what stands before the sun is exposed for longer.
    """
    rehearsal = Rehearsal(build_state(scene, terrain=terrain), longest_px, seed, mishaps)
    zone, body = ZoneInfo(scene.place.time_zone), scene.kit.body
    for shot in rehearsal.shots:
        at = started.astimezone(zone) + timedelta(seconds=shot.starts_after_s)
        told = Written(
            taken=at.replace(tzinfo=None),
            camera=body.name,
            lens=scene.kit.lens.name,
            exposure_s=shot.shutter_s,
            f_number=shot.aperture_n,
            iso=shot.iso,
            focal_length_mm=rehearsal.state.exposure.settings.focal_length_mm,
            sensor_mm=(body.sensor_width_mm, body.sensor_height_mm),
            focus_m=shot.focus_m,
        )
        yield shot.number, with_exif(jpeg_of(rehearsal.frame(shot).picture), told)
