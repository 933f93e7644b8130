"""From a request to the state of its scene."""

from __future__ import annotations

from lucid_ridge.app.evaluation.schemas import EvaluateBody
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.core.technique.evaluate import changed_state
from lucid_ridge.core.technique.state import State


def state_of(body: EvaluateBody) -> State:
    """The state of the scene that was sent, after its changes, with the place's terrain where it has one."""
    return changed_state(body.scene, body.changes, terrain_of(body.scene.place))
