"""From a request to the state of its scene."""

from __future__ import annotations

from sqlalchemy import func, or_, select

from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.evaluation.schemas import CloseUpBody, ExplainBody, SequenceFileBody, WhyNotBody
from lucid_ridge.app.evaluation.sequence_files import sequence_csv, sequence_json, sequence_pdf
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.calc.requests import SceneRequest
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.check import check_lens, check_scene
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.close_up.report import CloseUpReport, close_up_report
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.explain import Explanation, explain
from lucid_ridge.reports.ways.why import WhyNot, why_not


def close_up(body: CloseUpBody) -> CloseUpReport:
    """The close-up study of the scene that was sent, its lenses checked.

    Raises
    ------
    SceneError
        If the scene or a lens cannot be computed.

    """
    _check_lenses(body.lenses)
    return close_up_report(state_of(body), body.lenses, _by_hand())


def explained(body: ExplainBody) -> Explanation:
    """How a number of the scene that was sent was got.

    Raises
    ------
    SceneError
        If the scene or a lens cannot be computed, or the key names nothing.

    """
    _check_lenses(body.lenses)
    return explain(state_of(body), body.key, body.lenses)


def _check_lenses(lenses: tuple[Lens, ...]) -> None:
    problems = [p for i, lens in enumerate(lenses) for p in check_lens(lens, f"/lenses/{i}")]
    if problems:
        raise SceneError(problems)


def _by_hand() -> tuple[int, int]:
    """Takes of compositions that are taken by hand or swayed through, and how many came back without a fault."""
    by_hand = or_(
        CompositionRow.document["hand_held"].as_boolean(),
        CompositionRow.document["technique"]["slices"].as_string() == "sway",
    )
    faultless = func.count().filter(func.cardinality(Take.faults) == 0)
    with database().transaction() as session:
        taken, good = session.execute(
            select(func.count(), faultless)
            .select_from(Take)
            .join(CompositionRow, CompositionRow.id == Take.composition_id)
            .where(Take.owner_id == owner(), Take.deleted_at.is_(None), by_hand)
        ).one()
    return int(taken), int(good)


def why_not_so(body: WhyNotBody) -> WhyNot:
    """What a proposal breaks.

    Raises
    ------
    SceneError
        If the proposal cannot be computed.

    """
    state = state_of(body)
    check_scene(apply_changes(state.scene, body.proposal))
    return why_not(state, body.proposal)


def sequence_file(body: SequenceFileBody) -> tuple[bytes | str, str, str]:
    """The file's content, its type and its name."""
    state = state_of(body)
    match body.form:
        case "pdf":
            return sequence_pdf(state, body.name), "application/pdf", "field-card.pdf"
        case "csv":
            return sequence_csv(state), "text/csv", "sequence.csv"
        case "json":
            return sequence_json(state, body.name), "application/json", "sequence.json"


def state_of(body: SceneRequest) -> State:
    """The state of the scene that was sent, after its changes, with the place's terrain where it has one."""
    return changed_state(body.scene, body.changes, terrain_of(body.scene.place))
