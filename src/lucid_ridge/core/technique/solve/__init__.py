"""Wishes of the picture granted by geometry: the change, what it gives, or why it cannot be."""

from __future__ import annotations

from lucid_ridge.core.technique.solve.cropping import crop_instead
from lucid_ridge.core.technique.solve.parting import part
from lucid_ridge.core.technique.solve.placing import place_two
from lucid_ridge.core.technique.solve.sharing import share_of
from lucid_ridge.core.technique.solve.sizing import size_ratio
from lucid_ridge.core.technique.solve.wishes import Answer, CropInstead, Part, PlaceTwo, ShareOf, SizeRatio, Wish
from lucid_ridge.core.technique.state import State

__all__ = ["Answer", "Wish", "solve"]


def solve(state: State, wish: Wish) -> Answer:
    """The answer to a wish.

    Raises
    ------
    SceneError
        If the wish names an element that is not there or not in the frame.

    """
    match wish:
        case Part():
            return part(state, wish)
        case PlaceTwo():
            return place_two(state, wish)
        case ShareOf():
            return share_of(state, wish)
        case SizeRatio():
            return size_ratio(state, wish)
        case CropInstead():
            return crop_instead(state, wish)
