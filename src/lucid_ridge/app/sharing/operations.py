"""What can be done with shares."""

from __future__ import annotations

import json
import re
import tempfile
from pathlib import Path
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.accounts.operations import check_accounts
from lucid_ridge.app.accounts.tables import AccountRow
from lucid_ridge.app.archives.export import write_archive
from lucid_ridge.app.archives.importing import take_in
from lucid_ridge.app.compositions.documents import COMPOSITION
from lucid_ridge.app.compositions.operations import brief
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.database import Photographer
from lucid_ridge.app.editing import database, find, owner
from lucid_ridge.app.identity import acting_for
from lucid_ridge.app.jobs import operations as jobs
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.outlooks.operations import outlooks
from lucid_ridge.app.outlooks.schemas import OutlooksBody
from lucid_ridge.app.photographs.tables import PhotographRow
from lucid_ridge.app.places.operations import present as present_place
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.app.sharing.schemas import (
    CopiedOut,
    ShareBody,
    SharedComposition,
    SharedOut,
    ShareOut,
    SharesOut,
    SomebodyOut,
)
from lucid_ridge.app.sharing.tables import ShareRow
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.app.tracks.tables import TrackRow
from lucid_ridge.app.variants.tables import VariantRow
from lucid_ridge.core.model.scene import Composition
from lucid_ridge.reports.figures import aperture_text, degrees_text, iso_text, shutter_text

_MOST_DRAWN = 24
"""Of a place with more compositions only so many are drawn: that is what is looked for at a time."""
_TABLES: dict[str, type[PlaceRow] | type[CompositionRow]] = {"place": PlaceRow, "composition": CompositionRow}
_UUID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")
Chosen = dict[str, set[UUID]]


def _present(row: ShareRow, name: str, person: str) -> ShareOut:
    return ShareOut.model_validate(
        {
            "id": row.id,
            "kind": row.kind,
            "record_id": row.record_id,
            "name": name,
            "person": person,
            "may_copy": row.may_copy,
            "created_at": row.created_at,
        }
    )


def _named(session: Session, rows: list[ShareRow]) -> dict[UUID, str]:
    """Names of what is shared and still there, by the share."""
    found: dict[UUID, str] = {}
    for kind, table in _TABLES.items():
        ids = [row.record_id for row in rows if row.kind == kind]
        there = select(table.id, table.name).where(table.id.in_(ids), table.deleted_at.is_(None))
        names = dict(session.execute(there).all())
        found |= {row.id: names[row.record_id] for row in rows if row.kind == kind and row.record_id in names}
    return found


def shares() -> SharesOut:
    """What the asker shares, and what others share with them; what was deleted since is left out."""
    check_accounts()
    with database().transaction() as session:
        rows = list(
            session.scalars(
                select(ShareRow)
                .where((ShareRow.owner_id == owner()) | (ShareRow.with_id == owner()))
                .order_by(ShareRow.created_at.desc())
            )
        )
        names = _named(session, rows)
        called = dict(session.execute(select(Photographer.id, Photographer.name)).all())
        others = session.scalars(
            select(AccountRow)
            .where(AccountRow.id != owner(), AccountRow.stopped_at.is_(None))
            .order_by(AccountRow.name_key)
        )
        people = [SomebodyOut(id=row.id, name=row.name) for row in others]
    there = [row for row in rows if row.id in names]
    return SharesOut(
        mine=[_present(r, names[r.id], called[r.with_id]) for r in there if r.owner_id == owner()],
        theirs=[_present(r, names[r.id], called[r.owner_id]) for r in there if r.with_id == owner()],
        people=people,
    )


def share(sent: ShareBody) -> ShareOut:
    """Let somebody look at a record of the asker's; once more changes whether they may copy it.

    Raises
    ------
    NotFound, Refused
        If the record is not the asker's, or there is nobody else of that id.

    """
    check_accounts()
    with database().transaction() as session:
        record = find(session, _TABLES[sent.kind], sent.record_id, sent.kind)
        person = session.get(AccountRow, sent.with_id)
        if person is None or person.stopped_at is not None or person.id == owner():
            raise Refused("/with_id", "There is nobody else of that name here.")
        row = session.scalars(
            select(ShareRow).where(
                ShareRow.with_id == sent.with_id, ShareRow.kind == sent.kind, ShareRow.record_id == sent.record_id
            )
        ).one_or_none()
        if row is None:
            row = ShareRow(owner_id=owner(), with_id=person.id, kind=sent.kind, record_id=sent.record_id)
            session.add(row)
        row.may_copy = sent.may_copy
        session.flush()
        return _present(row, record.name, person.name)


def end(share_id: UUID) -> None:
    """End a share: its owner shares it no more, or whom it is shared with wants to see it no more."""
    with database().transaction() as session:
        row = session.get(ShareRow, share_id)
        if row is None or owner() not in (row.owner_id, row.with_id):
            raise NotFound("share")
        session.delete(row)


def _shared(session: Session, share_id: UUID) -> tuple[ShareOut, UUID]:
    """A share with the asker, and whose it is."""
    row = session.scalars(select(ShareRow).where(ShareRow.id == share_id, ShareRow.with_id == owner())).one_or_none()
    name = _named(session, [row]).get(row.id) if row is not None else None
    if row is None or name is None:
        raise NotFound("share")
    person = session.get_one(Photographer, row.owner_id).name
    return _present(row, name, person), row.owner_id


def _rows(session: Session, of: ShareOut) -> tuple[PlaceRow, list[tuple[CompositionRow, str]]]:
    """The place of a share and the compositions in it, each with its lens; for whoever owns them."""
    if of.kind == "place":
        place = find(session, PlaceRow, of.record_id, "place")
        chosen = CompositionRow.place_id == place.id
    else:
        composition = find(session, CompositionRow, of.record_id, "composition")
        place = find(session, PlaceRow, composition.place_id, "place")
        chosen = CompositionRow.id == composition.id
    found = session.execute(
        select(CompositionRow, KitItem.name)
        .join(KitItem, KitItem.id == CompositionRow.lens_id)
        .where(chosen, CompositionRow.owner_id == owner(), CompositionRow.deleted_at.is_(None))
        .order_by(CompositionRow.name, CompositionRow.id)
    )
    return place, [(row, name) for row, name in found]


def _facts(composition: Composition, lens: str, filters_named: dict[str, str]) -> list[str]:
    """With what a picture is taken, a line each."""
    using = composition.settings
    exposure = f"{aperture_text(using.aperture_n)}, {shutter_text(using.shutter_s)}, ISO {iso_text(using.iso)}"
    filters = ", ".join(filters_named.get(one.filter_id, "a filter") for one in using.filters)
    return [
        f"{lens} at {using.focal_length_mm:g} mm",
        exposure + (f", {filters}" if filters else ""),
        f"looking {degrees_text(composition.azimuth_deg)} from north",
    ]


def one(share_id: UUID) -> SharedOut:
    """What somebody shares with the asker, as it is now."""
    check_accounts()
    with database().transaction() as session:
        told, whose = _shared(session, share_id)
        with acting_for(whose):
            place, rows = _rows(session, told)
            mine = select(KitItem.id, KitItem.name).where(KitItem.owner_id == owner(), KitItem.kind == "filter")
            filters = {str(item): name for item, name in session.execute(mine)}
            shown = [
                (brief(row, place, lens, None), _facts(COMPOSITION.read(row.document), lens, filters))
                for row, lens in rows
            ]
            at = present_place(place, len(rows))
    with acting_for(whose):
        looks = {
            one.id: one for one in outlooks(OutlooksBody(ids=[made.id for made, _ in shown[:_MOST_DRAWN]])).outlooks
        }
    return SharedOut(
        share=told,
        place=at,
        compositions=[SharedComposition(brief=made, outlook=looks.get(made.id), facts=facts) for made, facts in shown],
    )


def _all_of(session: Session, of: ShareOut) -> Chosen:
    """Every record that a copy of a share needs, by kind; for whoever owns them."""
    place, rows = _rows(session, of)
    compositions = [row for row, _ in rows]
    ids = {row.id for row in compositions}
    variants = session.scalars(
        select(VariantRow).where(VariantRow.composition_id.in_(ids), VariantRow.deleted_at.is_(None))
    ).all()
    photographs = session.scalars(
        select(PhotographRow.id).where(PhotographRow.composition_id.in_(ids), PhotographRow.deleted_at.is_(None))
    )
    using: list[CompositionRow | VariantRow] = [*compositions, *variants]
    kit = {i for row in using for i in (row.body_id, row.lens_id, row.support_id)}
    # Filters, gear and lights stand in documents.
    named = {UUID(i) for row in using for i in _UUID.findall(json.dumps(row.document))}
    kit |= set(session.scalars(select(KitItem.id).where(KitItem.id.in_(named), KitItem.owner_id == owner())))
    found: Chosen = {
        "places": {place.id},
        "compositions": ids,
        "variants": {row.id for row in variants},
        "photographs": set(photographs),
        "kit": kit,
    }
    terrain = place.sky.get("terrain_id")
    if terrain and _UUID.fullmatch(str(terrain)):
        mine = select(TerrainRow.id).where(TerrainRow.id == UUID(terrain), TerrainRow.owner_id == owner())
        found["terrains"] = set(session.scalars(mine))
    if of.kind == "place":
        tracks = select(TrackRow.id).where(TrackRow.place_id == place.id, TrackRow.deleted_at.is_(None))
        found["tracks"] = set(session.scalars(tracks))
    return found


def copy(share_id: UUID) -> CopiedOut:
    """Copy what is shared into the asker's own, with the kit, terrain and photographs that belong to it.

    Raises
    ------
    NotFound, Refused
        If there is no such share, or it may only be looked at.

    """
    check_accounts()
    with database().transaction() as session:
        told, whose = _shared(session, share_id)
        if not told.may_copy:
            raise Refused("", f"{told.person} lets you look at it, not copy it.")
        with acting_for(whose):
            chosen = _all_of(session, told)
    with tempfile.TemporaryDirectory(dir=jobs.folder(), prefix=jobs.PASSING) as aside:
        target = Path(aside) / "copy.zip"
        with acting_for(whose):
            write_archive(target, lambda *_: None, chosen)
        taken = take_in(target, lambda *_: None)
    place = taken.moved[next(iter(chosen["places"]))]
    return CopiedOut(place_id=place, composition_ids=sorted(taken.moved[i] for i in chosen["compositions"]))
