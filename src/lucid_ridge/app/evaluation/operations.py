"""From a request to the state of its scene."""

from __future__ import annotations

from lucid_ridge.app.evaluation.schemas import CloseUpBody, EvaluateBody
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.technique.check import check_lens
from lucid_ridge.core.technique.evaluate import changed_state
from lucid_ridge.core.technique.reports.close_up import CloseUpReport, close_up_report
from lucid_ridge.core.technique.state import State


def close_up(body: CloseUpBody) -> CloseUpReport:
    """The close-up study of the scene that was sent, its lenses checked.

    Raises
    ------
    SceneError
        If the scene or a lens cannot be computed.

    """
    problems = [p for i, lens in enumerate(body.lenses) for p in check_lens(lens, f"/lenses/{i}")]
    if problems:
        raise SceneError(problems)
    return close_up_report(state_of(body), body.lenses)


def state_of(body: EvaluateBody) -> State:
    """The state of the scene that was sent, after its changes, with the place's terrain where it has one."""
    return changed_state(body.scene, body.changes, terrain_of(body.scene.place))
