"""The process that draws: it keeps what it worked out of the last two scenes, so that the next frame costs its own drawing only."""

from __future__ import annotations

import os
import pickle
import sys
from collections import OrderedDict
from collections.abc import Hashable
from dataclasses import replace

from lucid_ridge.app.rehearsal.messages import Asked, Drawn, LacksTerrain, NoSuchFrame, PairAsked, PairDrawn, send
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.practice.drills import drill_of
from lucid_ridge.core.practice.pairs import pair_of, shown_at
from lucid_ridge.core.rehearsal.rehearsal import Frame, Proof, Rehearsal
from lucid_ridge.core.rehearsal.window import Window
from lucid_ridge.core.state.state import build_state
from lucid_ridge.formats.frames import jpeg_of, mask_png
from lucid_ridge.reports.rehearsal.report import frame_report, proof_report

_KEPT = 2
_TERRAINS = 3
"""That are kept, with none at all for one of them."""
_FRAMES_KEPT = 40
_NICE = 10


class Desk:
    """Rehearsals of the last scenes, and terrains that were heard of."""

    def __init__(self) -> None:
        self._terrains: OrderedDict[str | None, Terrain | None] = OrderedDict({None: None})
        self._rehearsals: OrderedDict[Hashable, tuple[Rehearsal, dict[int, Frame]]] = OrderedDict()

    def learn(self, name: str, terrain: Terrain | None) -> None:
        """Take in a terrain under its name; None where it is not at hand."""
        self._terrains[name] = terrain
        while len(self._terrains) > _TERRAINS:
            self._terrains.pop(next(one for one in self._terrains if one is not None))

    def _terrain(self, scene: Scene) -> Terrain | None:
        """The terrain of a scene; one that is not at hand yet is asked for again the next time."""
        name = _needed(scene)
        found = self._terrains[name]
        if name is not None and found is None:
            del self._terrains[name]
        return found

    def answer(self, asked: Asked | PairAsked) -> Drawn | PairDrawn | LacksTerrain | NoSuchFrame:
        """Draw what is asked for."""
        if _needed(asked.scene) not in self._terrains:
            return LacksTerrain()
        return self._pair(asked) if isinstance(asked, PairAsked) else self._drawn(asked)

    def _pair(self, asked: PairAsked) -> PairDrawn:
        state = build_state(asked.scene, terrain=self._terrain(asked.scene))
        drill = drill_of(state, asked.key, asked.seed, asked.level)
        if drill.shutter_s is not None:
            pictures, seen = [shown_at(state, drill.shutter_s, asked.seed)], True
        else:
            pair = pair_of(state, drill, asked.key, asked.seed)
            pictures, seen = [pair.planned, pair.came_back], pair.seen
        rows, columns, _ = pictures[0].shape
        return PairDrawn(seen, tuple(jpeg_of(one) for one in pictures), columns, rows)

    def _drawn(self, asked: Asked) -> Drawn | NoSuchFrame:
        rehearsal, frames = self._rehearsal(asked)
        window = None
        if asked.number is None:
            shot = min(rehearsal.merged(), key=lambda one: abs(one.offset_stops))
        elif asked.number > len(rehearsal.shots):
            return NoSuchFrame(len(rehearsal.shots))
        else:
            shot = rehearsal.shots[asked.number - 1]
        if asked.piece is not None:
            x, y, across, down = asked.piece
            window = rehearsal.piece(shot, (x, y), across, down)
        if asked.merged:
            return self._proof(rehearsal, frames, window)
        plain = asked.shutter_s is None and asked.aperture_n is None
        if not plain:
            shot = replace(
                shot, shutter_s=asked.shutter_s or shot.shutter_s, aperture_n=asked.aperture_n or shot.aperture_n
            )
        frame = frames.get(shot.number) if plain and window is None else None
        if frame is None:
            frame = rehearsal.frame(shot, window)
            if plain and window is None and len(frames) < _FRAMES_KEPT:
                frames[shot.number] = frame
        rows, columns, _ = frame.picture.shape
        masks = {"clipped": mask_png(frame.clipped), "blocked": mask_png(frame.blocked)}
        return Drawn(frame_report(rehearsal.state, frame), columns, rows, jpeg_of(frame.picture), masks)

    def _proof(self, rehearsal: Rehearsal, frames: dict[int, Frame], window: Window | None) -> Drawn:
        made: Proof = rehearsal.proof(window, frames.values() if window is None else ())
        rows, columns, _ = made.picture.shape
        masks = {"soft": mask_png(made.soft), "lost": mask_png(made.lost), "ghosts": mask_png(made.ghosts)}
        told = proof_report(rehearsal.state, made, len(rehearsal.merged()))
        return Drawn(told, columns, rows, jpeg_of(made.picture), masks)

    def _rehearsal(self, asked: Asked) -> tuple[Rehearsal, dict[int, Frame]]:
        terrain = self._terrain(asked.scene)
        key = (asked.scene, terrain is None, asked.mishaps, asked.longest_px)
        if key not in self._rehearsals:
            while len(self._rehearsals) >= _KEPT:
                self._rehearsals.popitem(last=False)
            made = Rehearsal(build_state(asked.scene, terrain=terrain), asked.longest_px, mishaps=asked.mishaps)
            self._rehearsals[key] = (made, {})
        self._rehearsals.move_to_end(key)
        return self._rehearsals[key]


def _needed(scene: Scene) -> str | None:
    """The name of the terrain that a scene's skyline asks for."""
    return scene.place.terrain_id if scene.place.horizon == "terrain" else None


def main() -> None:
    """Draw what is asked for on standard input, for as long as somebody asks."""
    os.nice(_NICE)
    desk, heard, told = Desk(), sys.stdin.buffer, sys.stdout.buffer
    sys.stdout = sys.stderr
    while True:
        try:
            asked = pickle.load(heard)
        except EOFError:
            return
        if isinstance(asked, tuple):
            desk.learn(*asked)
            continue
        try:
            send(told, desk.answer(asked))
        except Exception as error:
            send(told, error)


if __name__ == "__main__":
    main()
