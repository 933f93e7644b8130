"""Wishes of the picture granted by geometry: the change, what it gives, or why it cannot be."""

from __future__ import annotations

from lucid_ridge.core.solve.cropping import crop_instead
from lucid_ridge.core.solve.parting import part
from lucid_ridge.core.solve.placing import place_two
from lucid_ridge.core.solve.sharing import share_of
from lucid_ridge.core.solve.sizing import size_ratio
from lucid_ridge.core.solve.wishes import CropInstead, Part, PlaceTwo, ShareOf, SizeRatio, Solution, Wish
from lucid_ridge.core.state.state import State

__all__ = ["Solution", "Wish", "solve"]


def solve(state: State, wish: Wish) -> Solution:
    """What grants a wish.

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
