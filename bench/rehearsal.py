"""How long the simulated camera takes, against light gathered point by point over the aperture in the same run."""

from __future__ import annotations

import resource
import statistics
import time
from collections.abc import Callable
from dataclasses import replace

import cv2
import numpy as np

from lucid_ridge.core.model.scene import Technique
from lucid_ridge.core.rehearsal.exposing import Stage
from lucid_ridge.core.rehearsal.rehearsal import Rehearsal
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.demo.valley import scene_of

_POINTS = 97
"""Points of the aperture that the brute force gathers light from; it is timed on some and counted for all."""
_TIMED = 5


def _median_s(act: Callable[[], object], times: int = 5) -> float:
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        act()
        taken.append(time.perf_counter() - start)
    return statistics.median(taken)


def _brute_s(stage: Stage) -> float:
    """One frame by brute force: every layer shifted and laid over for each point of the aperture."""
    shape = stage.window.shape
    start = time.perf_counter()
    for point in range(_TIMED):
        canvas = np.zeros((*shape, 3), np.float32)
        for layer in stage.layers:
            light = np.zeros((*shape, 4), np.float32)
            light[layer.place] = np.dstack([layer.colour * layer.alpha[..., None], layer.alpha])
            light = cv2.warpAffine(light, np.array([[1, 0, point * 0.3], [0, 1, 0.2]]), shape[::-1])
            canvas = canvas * (1 - light[..., 3:]) + light[..., :3]
    return (time.perf_counter() - start) / _TIMED * _POINTS


def _nine_slices() -> State:
    scene = scene_of("boathouse")
    foci = tuple(float(v) for v in 1 / np.linspace(1 / 1.2, 1 / 80, 9))
    technique = Technique(slices="manual", manual_foci_m=foci)
    return build_state(replace(scene, composition=replace(scene.composition, technique=technique)))


def figures() -> dict[str, float]:
    """Seconds, and how many times faster than brute force."""
    state = build_state(scene_of("boathouse"))
    warm = Rehearsal(state)
    shot = warm.shots[0]
    warm.frame(shot)
    frame = _median_s(lambda: warm.frame(shot))
    brute = _brute_s(warm._stage(shot, warm._padded))

    def nudged() -> None:
        settings = replace(
            state.scene.composition.settings, aperture_n=state.scene.composition.settings.aperture_n * 2**0.5
        )
        changed = build_state(replace(state.scene, composition=replace(state.scene.composition, settings=settings)))
        rehearsal = Rehearsal(changed, 640)
        rehearsal.frame(rehearsal.shots[0])

    stack = Rehearsal(_nine_slices())
    stack.frame(stack.shots[0])

    def proved() -> None:
        frames = [stack.frame(one) for one in stack.shots]
        stack.proof(frames=frames)

    nine = _median_s(proved, 1)
    return {
        "warm frame, s": frame,
        "brute force, s": brute,
        "times faster": brute / frame,
        "first picture after a nudge, s": _median_s(nudged, 3),
        "nine slices with proof, s": nine,
        "nine slices over one warm frame": nine / frame,
        "memory with two rehearsals, MB": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024,
    }


def main() -> None:
    """Print the figures."""
    for name, value in figures().items():
        print(f"{name:36} {value:8.2f}")


if __name__ == "__main__":
    main()
