"""What follows from a terrain, remembered for as long as the terrain itself is in use and not a moment longer."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Concatenate, Generic, ParamSpec, TypeVar
from weakref import WeakKeyDictionary

from lucid_ridge.core.light.terrain import Terrain

P = ParamSpec("P")
T = TypeVar("T")


class _OfTerrain(Generic[P, T]):
    def __init__(self, work_out: Callable[Concatenate[Terrain, P], T], most: int) -> None:
        self._work_out, self._most = work_out, most
        self._lock = Lock()
        # Not `lru_cache`: it would hold each terrain, of tens of megabytes, until its last entry has been pushed out.
        self._kept: WeakKeyDictionary[Terrain, OrderedDict[object, T]] = WeakKeyDictionary()

    def __call__(self, terrain: Terrain, /, *rest: P.args, **named: P.kwargs) -> T:
        key = (rest, tuple(named.items()))
        with self._lock:
            kept = self._kept.setdefault(terrain, OrderedDict())
            if key in kept:
                kept.move_to_end(key)
                return kept[key]
        made = self._work_out(terrain, *rest, **named)
        with self._lock:
            kept[key] = made
            while len(kept) > self._most:
                kept.popitem(last=False)
        return made


def remembered_by_terrain(
    most: int,
) -> Callable[[Callable[Concatenate[Terrain, P], T]], Callable[Concatenate[Terrain, P], T]]:
    """Remember the last *most* answers of each terrain; they must not refer to it."""

    def of(work_out: Callable[Concatenate[Terrain, P], T]) -> Callable[Concatenate[Terrain, P], T]:
        return _OfTerrain(work_out, most)

    return of
