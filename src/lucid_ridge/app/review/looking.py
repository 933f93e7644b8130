"""Looking at the pictures of a take, in the background."""

from __future__ import annotations

import hashlib
import io
import json
from collections.abc import Callable
from dataclasses import replace
from typing import Any
from uuid import UUID

import numpy as np
from PIL import Image
from pydantic import TypeAdapter
from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions import operations as compositions
from lucid_ridge.app.database import now
from lucid_ridge.app.editing import database, find, owner
from lucid_ridge.app.field.plans import PLAN
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.jobs.operations import begin, under_way
from lucid_ridge.app.jobs.running import Running
from lucid_ridge.app.jobs.schemas import JobOut
from lucid_ridge.app.logbook.schemas import Fault
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.pictures.documents import FACTS
from lucid_ridge.app.pictures.operations import copy_of
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.app.review.schemas import LookedOut, NextTimeBody, NextTimeOut
from lucid_ridge.app.review.tables import LookedRow
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.model.scene import Composition
from lucid_ridge.core.review.detail import Detail, usual_of
from lucid_ridge.core.review.findings import Came, Finding
from lucid_ridge.core.review.look import details, look, soft
from lucid_ridge.core.review.plan import exposure_stops, plan_of
from lucid_ridge.core.review.tiles import fitted
from lucid_ridge.core.state.state import State
from lucid_ridge.formats.photographs import Facts
from lucid_ridge.reports.evaluate import changed_state
from lucid_ridge.reports.review.report import shown_of

CHECKS = 3
"""Counts up when the checks find other things in the same pictures."""
_MOST_EARLIER = 30
_LEAST_RATING = 2
"""What is rated lower may be soft, and nobody noted it."""
_SOFTENING: tuple[Fault, ...] = ("focus missed", "shake", "moved camera", "wind blur", "lens sprayed")
_HELD: TypeAdapter[dict[str, Detail]] = TypeAdapter(dict[str, Detail])
_FINDINGS: TypeAdapter[tuple[Finding, ...]] = TypeAdapter(tuple[Finding, ...])


def _pictures(session: Session, take_id: UUID) -> list[PictureRow]:
    """The pictures of a take's frames, of each frame the last one."""
    rows = session.scalars(
        select(PictureRow)
        .where(
            PictureRow.take_id == take_id,
            PictureRow.owner_id == owner(),
            PictureRow.deleted_at.is_(None),
            PictureRow.number.is_not(None),
        )
        .order_by(PictureRow.taken_at, PictureRow.id)
    )
    return sorted({row.number: row for row in rows}.values(), key=lambda row: row.number or 0)


def _key(rows: list[PictureRow]) -> str:
    told = json.dumps([CHECKS, [(str(row.id), row.number) for row in rows]])
    return hashlib.sha256(told.encode()).hexdigest()


def _state(session: Session, take: Take) -> State:
    """What the take's sequence was computed from."""
    plan = PLAN.read(session.get_one(SequenceRow, take.sequence_id).document)
    scene = plan.scene
    if scene is None:
        why = "was put together of its pictures" if plan.unplanned else "was planned by an earlier version"
        raise Refused("/id", f"This take {why}: there is no plan to compare them with.")
    return changed_state(scene, terrain=terrain_of(scene.place))


def looked(take_id: UUID) -> LookedOut:
    """What the pictures of a take show, as far as somebody has looked."""
    with database().transaction() as session:
        take = find(session, Take, take_id, "take")
        rows = _pictures(session, take_id)
        kept = session.get(LookedRow, take_id)
        if kept is None:
            return LookedOut(state="none", pictures=len(rows), shown=[])
        shown = shown_of(_state(session, take), _FINDINGS.validate_python(kept.document["findings"]))
        state = "good" if kept.key == _key(rows) else "old"
        return LookedOut.model_validate({"state": state, "pictures": len(rows), "shown": shown}, from_attributes=True)


def begin_looking(take_id: UUID) -> JobOut:
    """Have the pictures of a take looked at in the background."""
    with database().transaction() as session:
        take = find(session, Take, take_id, "take")
        if not _pictures(session, take_id):
            raise Refused("/id", "No pictures of this take have come back yet. Bring them in first.")
        name, arguments = take.name, {"take_id": str(take_id)}
    return under_way("look", arguments) or begin("look", name, arguments)


def _gathered(facts: Facts) -> float | None:
    if facts.exposure_s is None or facts.f_number is None or facts.iso is None:
        return None
    return exposure_stops(facts.exposure_s, facts.f_number, facts.iso)


def _came(row: PictureRow) -> Came | None:
    """A picture as it is looked at; None where its file was taken out of the folder, or is broken."""
    if row.number is None:
        return None
    try:
        data = copy_of(row.id)
    except (NotFound, Refused):
        return None
    image = Image.open(io.BytesIO(data), formats=["JPEG"]).convert("RGB")
    return Came(row.number, np.asarray(image, dtype=np.uint8), _gathered(FACTS.read(row.document)))


def _taken_with(rows: list[PictureRow], came: list[Came]) -> list[Any]:
    """What has to be the same for detail to be compared: the camera, the focal length, the size that is looked at."""
    if not rows or not came:
        return []
    facts = FACTS.read(rows[0].document)
    high, wide = fitted(came[0].picture).shape[:2]
    return [facts.camera, facts.focal_length_mm, wide, high]


def _earlier(session: Session, take: Take, taken_with: list[Any]) -> list[dict[str, Detail]]:
    """What elements held in the latest earlier takes of the composition that went well, with the same camera and lens."""
    documents = session.scalars(
        select(LookedRow.document)
        .join(Take, Take.id == LookedRow.take_id)
        .where(
            Take.owner_id == owner(),
            Take.composition_id == take.composition_id,
            Take.started_at < take.started_at,
            Take.deleted_at.is_(None),
            ~Take.faults.overlap(_SOFTENING),
            Take.rating.is_(None) | (Take.rating >= _LEAST_RATING),
        )
        .order_by(Take.started_at.desc(), Take.id)
        .limit(_MOST_EARLIER)
    )
    return [
        _HELD.validate_python(one["held"]) for one in documents if "held" in one and one["taken_with"] == taken_with
    ]


def look_at(
    take_id: UUID,
    tell: Callable[[int, int], None] = lambda done, whole: None,
    done: Callable[[Session, int], None] | None = None,
) -> None:
    """Look at the pictures of a take, and keep what they show.

    Parameters
    ----------
    take_id
        Which take.
    tell
        Told how many pictures were looked at, and of how many.
    done
        Told how many things stand out, in the transaction that keeps them.

    """
    with database().transaction() as session:
        take = find(session, Take, take_id, "take")
        rows = _pictures(session, take_id)
        state = _state(session, take)
    came = [one for one in map(_came, rows) if one is not None]
    plan, taken_with = plan_of(state), _taken_with(rows, came)
    held = details(plan, came)
    with database().transaction() as session:
        usual = usual_of(_earlier(session, take, taken_with))
    findings = (*look(plan, came, tell), *soft(plan, held, usual, [one.number for one in came]))
    with database().transaction() as session:
        document = {
            "findings": _FINDINGS.dump_python(findings, mode="json"),
            "held": _HELD.dump_python(held, mode="json"),
            "taken_with": taken_with,
        }
        session.merge(LookedRow(take_id=take_id, key=_key(rows), looked_at=now(), document=document))
        if done is not None:
            done(session, len(findings))


def carry_out_look(job: Running) -> None:
    """Look at the pictures of a take in the background."""

    def end(session: Session, count: int) -> None:
        job.finish(
            session, {"text": "Nothing stands out." if not count else f"{count} thing{'s' * (count > 1)} stand out."}
        )

    take_id = UUID(str(job.arguments["take_id"]))
    look_at(take_id, lambda done, whole: job.tell("looking at the pictures", done, whole), end)


def take_on(take_id: UUID, body: NextTimeBody) -> NextTimeOut:
    """Put a proposal for next time into the take's composition."""
    shown = looked(take_id).shown
    if body.finding >= len(shown) or body.proposal >= len(shown[body.finding].next_time):
        raise Refused("/proposal", "This is not proposed any more. Look at the pictures again.")
    changes = shown[body.finding].next_time[body.proposal].changes
    with database().transaction() as session:
        take = find(session, Take, take_id, "take")
        composition_id, state = take.composition_id, _state(session, take)
    if composition_id is None:
        raise Refused("/id", "This take is of no composition that could be changed.")

    def with_changes(composition: Composition) -> Composition:
        # The kit is the one that it was taken with: nothing here depends on another.
        return apply_changes(replace(state.scene, composition=composition), changes).composition

    made = compositions.change_now(composition_id, with_changes)
    return NextTimeOut(composition_id=composition_id, version=made.version)
