"""How each shown number was got: formula, inputs and source."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.records import FieldProblem, SceneError
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.close_up.explain import close
from lucid_ridge.reports.close_up.explain_beside import lens_beside
from lucid_ridge.reports.depth.explain import depth
from lucid_ridge.reports.explanation import Explanation
from lucid_ridge.reports.exposure.explain import exposure, motion, range
from lucid_ridge.reports.frame.explain import framing, panorama
from lucid_ridge.reports.light.explain import light
from lucid_ridge.reports.sequence.explain import sequence
from lucid_ridge.reports.shown import beside_each_other, text_of
from lucid_ridge.reports.ways.explain import ways

__all__ = ["Explanation", "explain"]

_BENCHES: dict[str, Callable[[State, str, str], Explanation | None]] = {
    "framing": framing,
    "light": light,
    "panorama": panorama,
    "depth": depth,
    "close": close,
    "exposure": exposure,
    "range": range,
    "motion": motion,
    "sequence": sequence,
    "ways": ways,
}


def explain(state: State, key: str, lenses: tuple[Lens, ...] = ()) -> Explanation:
    """The explanation for a figure's ``explain`` key; it ends in the number that is shown under it.

    *lenses* are the ones that stand side by side on the Close-up bench, the lens in use alone unless given. What stands
    in an answer, a way or another take is explained in the state after its changes.

    Raises
    ------
    SceneError
        If the key names nothing in this scene.

    """
    bench, _, rest = key.partition(".")
    what, _, of = rest.partition(":")
    if bench == "close" and what.startswith("lens_") and of.isdigit():
        beside = beside_each_other(state, lenses)
        if int(of) >= len(beside):
            message = "Send the lenses that stand side by side, in the order in which they were sent for the report."
            raise SceneError([FieldProblem(pointer="/lenses", message=message)])
        found = lens_beside(state, what.removeprefix("lens_"), beside[int(of)])
    else:
        found = _BENCHES[bench](state, what, of) if bench in _BENCHES else None
    if found is None:
        raise SceneError([FieldProblem(pointer="/key", message=f"Nothing is explained under '{key}'.")])
    shown = text_of(state, key, lenses)
    return found if shown is None or shown in found.result else replace(found, result=shown)
