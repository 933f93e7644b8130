"""The camera height for a share of reflection or of foreground."""

from __future__ import annotations

import numpy as np

from lucid_ridge.core.camera.geometry import build_geometry
from lucid_ridge.core.camera.picture import foreground_share, mirrors, reflection_share
from lucid_ridge.core.camera.reach import heights_in_reach
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.camera_moves import SetHeight
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.solve.common import granted, only, position_of, refused
from lucid_ridge.core.solve.wishes import ShareOf, Solution
from lucid_ridge.core.state.state import State

_SAMPLES = 33
_FINEST = 1e-5
_SAME = 0.005


def share_of(state: State, wish: ShareOf) -> Solution:
    """The height nearest to the present one, within the support's reach, that gives the share."""
    elements = state.geometry.elements
    index = -1
    if wish.of == "reflection":
        if wish.element_id is None:
            message = "Choose the element whose reflection is meant."
            raise SceneError([FieldProblem(pointer="/wish/element_id", message=message)])
        index = position_of(state, wish.element_id, "/wish/element_id", in_frame=False)
        if not mirrors(state.geometry):
            return refused("no_still_water")
    elif not any(e.role == "foreground" for e in elements):
        return refused("no_foreground")
    scene = only(state.scene, elements)
    low, high = heights_in_reach(state.scene, state.steady)
    now, wanted = state.scene.composition.camera_height_m, wish.percent / 100

    def share(height: float) -> float:
        geometry = build_geometry(apply_changes(scene, (SetHeight(camera_height_m=height),)))
        return reflection_share(geometry, index) if wish.of == "reflection" else foreground_share(geometry)

    heights = np.linspace(low, high, _SAMPLES)
    shares = np.array([share(float(h)) for h in heights])
    crossings = np.nonzero((shares[:-1] - wanted) * (shares[1:] - wanted) <= 0)[0]
    if len(crossings) == 0 or (shares.max() - shares.min() < _FINEST):
        least, most = int(shares.argmin()), int(shares.argmax())
        span = {"low_m": low, "high_m": high}
        if shares[most] - shares[least] < _SAME:
            return refused("share_stays", share=float(shares[most]), **span)
        return refused(
            "share_runs",
            least=float(shares[least]),
            least_at_m=float(heights[least]),
            most=float(shares[most]),
            most_at_m=float(heights[most]),
            **span,
        )
    at = min(crossings.tolist(), key=lambda n: min(abs(heights[n] - now), abs(heights[n + 1] - now)))
    a, b = float(heights[at]), float(heights[at + 1])
    rising = shares[at + 1] >= shares[at]
    while b - a > _FINEST:
        middle = (a + b) / 2
        if (share(middle) < wanted) == rising:
            a = middle
        else:
            b = middle
    height = round((a + b) / 2, 5)
    return granted((SetHeight(camera_height_m=height),), share=share(height))
