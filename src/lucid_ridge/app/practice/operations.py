"""What can be done with practice: ask, look, answer, see how far one has come."""

from __future__ import annotations

import random
from base64 import b64encode
from typing import Any
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.database import now
from lucid_ridge.app.documents import DocumentKind, UnreadableError
from lucid_ridge.app.editing import database, find, owner
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.outlooks.operations import kit_ids, scene_of
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.practice import cards
from lucid_ridge.app.practice.schemas import (
    DrillAnswerBody,
    DrillAnsweredOut,
    DrillOut,
    DrillRef,
    NextDrillOut,
    Practice,
    PracticeOut,
    PracticePicture,
)
from lucid_ridge.app.practice.tables import PracticeRow
from lucid_ridge.app.problems import Refused
from lucid_ridge.app.rehearsal.messages import PairAsked, PairDrawn
from lucid_ridge.app.rehearsal.studio import drawn
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.core.changes.check import check_scene
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.practice.drills import LEVELS, NoDrill, drill_of
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.practice.words import answer, question

PRACTICE: DocumentKind[Practice] = DocumentKind("practice", TypeAdapter(Practice))
_OTHERS = ("filter", "gear", "light")
_COMPOSITIONS_TRIED = 12
_MOST_COMPOSITIONS = 200


def read_of(session: Session) -> Practice:
    """How far the photographer's practice has come."""
    row = session.get(PracticeRow, owner())
    return Practice() if row is None else PRACTICE.read(row.document)


def _logged(session: Session) -> dict[str, int]:
    """How often the logbook has a fault that a drill is about, by the drill."""
    fault = func.unnest(Take.faults).label("fault")
    rows = session.execute(
        select(fault, func.count()).where(Take.owner_id == owner(), Take.deleted_at.is_(None)).group_by(fault)
    ).all()
    found: dict[str, int] = {}
    for name, count in rows:
        for key in cards.LOGGED_AS.get(name, ()):
            found[key] = found.get(key, 0) + int(count)
    return found


def progress() -> PracticeOut:
    """Every kind of drill and how far it has come."""
    at = now()
    with database().transaction() as session:
        practice, logged = read_of(session), _logged(session)
    shown = cards.shown(practice, logged, at)
    return PracticeOut(
        cards=shown,
        due=sum(one.due_at is not None and one.due_at <= at for one in shown),
        answered=sum(one.answered for one in shown),
    )


def _scene(session: Session, row: CompositionRow) -> Scene | None:
    """The scene of a composition; None where its kit or place is not there any more."""
    place = session.get(PlaceRow, row.place_id)
    kit = {item.id: item for item in session.scalars(select(KitItem).where(KitItem.id.in_(kit_ids(row))))}
    if place is None or place.deleted_at is not None or len(kit) < len(set(kit_ids(row))):
        return None
    others = session.scalars(
        select(KitItem)
        .where(KitItem.owner_id == owner(), KitItem.deleted_at.is_(None), KitItem.kind.in_(_OTHERS))
        .order_by(KitItem.kind, KitItem.name, KitItem.id)
    )
    try:
        return scene_of(row, place, kit, list(others))
    except UnreadableError:
        return None


def _state(scene: Scene) -> State:
    """The state of a scene.

    Raises
    ------
    SceneError
        If it cannot be computed.

    """
    return changed_state(scene, (), terrain_of(scene.place))


def ask(after: str | None) -> NextDrillOut:
    """The next drill: of what is due, from a composition that gives one."""
    chance = random.SystemRandom()
    with database().transaction() as session:
        practice = read_of(session)
        wanted = cards.order(practice, _logged(session), now(), after)
        rows = list(
            session.scalars(
                select(CompositionRow)
                .where(CompositionRow.owner_id == owner(), CompositionRow.deleted_at.is_(None))
                .order_by(CompositionRow.id)
                .limit(_MOST_COMPOSITIONS)
            )
        )
        chance.shuffle(rows)
        known = [(row.id, row.name, _scene(session, row)) for row in rows[:_COMPOSITIONS_TRIED]]
    if not known:
        return NextDrillOut(drill=None, why_none="Drills come from your own compositions. Make one first.")
    states: dict[UUID, State | None] = {}
    for key in wanted:
        card = practice.cards.get(key)
        level, seed = 0 if card is None else card.level, chance.randrange(2**31)
        for ident, name, scene in known:
            if ident not in states:
                # Worked out when it is come to: mostly the first gives a drill.
                try:
                    states[ident] = None if scene is None else _state(scene)
                except SceneError:
                    states[ident] = None
            state = states[ident]
            if state is None:
                continue
            try:
                drill = drill_of(state, key, seed, level)
            except NoDrill:
                continue
            return NextDrillOut(
                drill=DrillOut(
                    key=key, composition_id=ident, composition=name, seed=seed, level=level, levels=LEVELS,
                    asked=question(state, drill),
                ),
                why_none="",
            )  # fmt: skip
    return NextDrillOut(drill=None, why_none="None of your compositions gives a drill: put something into the picture.")


def _scene_again(ref: DrillRef) -> Scene:
    """The scene that a drill was made from, as it is now."""
    with database().transaction() as session:
        scene = _scene(session, find(session, CompositionRow, ref.composition_id, "composition"))
    if scene is None:
        raise Refused("/composition_id", "This composition cannot be worked out any more. Go on to the next.")
    return scene


def _gone() -> Refused:
    return Refused("/key", "The composition was changed and gives this drill no more. Go on to the next.")


def picture(ref: DrillRef) -> PracticePicture:
    """What a drill looks at.

    Raises
    ------
    NotFound, Refused, Busy
        If the composition is gone or changed, the drill has no picture, or too many wait.

    """
    if ref.key != "shutter" and not ref.key.startswith("mishap:"):
        raise Refused("/key", "This drill has no picture.")
    scene = _scene_again(ref)
    try:
        check_scene(scene)
        made = drawn(PairAsked(scene=scene, key=ref.key, seed=ref.seed, level=ref.level))
    except (NoDrill, SceneError):
        raise _gone() from None
    assert isinstance(made, PairDrawn)
    return PracticePicture(
        seen=made.seen, jpegs=[b64encode(one).decode() for one in made.jpegs], width=made.width, height=made.height
    )


def _number(given: str) -> str | float:
    """An answer as a number where it is one: 1/4, 0.25 and 0,25 alike."""
    text = given.strip().removesuffix("s").strip().replace(",", ".")
    top, _, bottom = text.partition("/")
    try:
        return float(top) / float(bottom) if bottom else float(top)
    except (ValueError, ZeroDivisionError):
        return given


def take(sent: DrillAnswerBody) -> DrillAnsweredOut:
    """Judge an answer and remember it.

    Raises
    ------
    NotFound, Refused
        If the composition is gone or changed, or the answer is no number where one is asked for.

    """
    try:
        state = _state(_scene_again(sent))
        drill = drill_of(state, sent.key, sent.seed, sent.level)
    except (NoDrill, SceneError):
        raise _gone() from None
    given: str | float = sent.given if isinstance(drill.truth, str) else _number(sent.given)
    if isinstance(given, str) and not isinstance(drill.truth, str):
        raise Refused("/given", "Give a number, such as 0.5 or 1/8.")
    judged, at = answer(state, drill, given), now()
    with database().transaction() as session:
        row = session.get(PracticeRow, owner(), with_for_update=True)
        practice = Practice() if row is None else PRACTICE.read(row.document)
        card = cards.answered(practice.cards.get(sent.key), judged.right, sent.took_s, at)
        practice = Practice(cards=practice.cards | {sent.key: card})
        document: dict[str, Any] = PRACTICE.write(practice, None if row is None else row.document)
        if row is None:
            session.add(PracticeRow(owner_id=owner(), document=document))
        else:
            row.document = document
        logged = _logged(session)
    return DrillAnsweredOut(answer=judged, card=cards.one_shown(sent.key, practice, logged, at))
