"""What can be done with outlooks: work them out, keep them, and say them."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from contextlib import suppress
from datetime import datetime, timedelta
from typing import Any, cast
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, defer

from lucid_ridge.app.compositions.documents import COMPOSITION
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.database import now
from lucid_ridge.app.documents import UnreadableError
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.kit.documents import BY_KIND
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.outlooks.schemas import NextLight, OutlookOut, OutlooksBody, OutlooksOut
from lucid_ridge.app.outlooks.tables import OutlookRow
from lucid_ridge.app.places.saved import core_place
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.app.turns import turn
from lucid_ridge.core.changes.check import check_scene
from lucid_ridge.core.light.direction import SIDES, LightSide, light_side
from lucid_ridge.core.light.ephemeris import sun_at
from lucid_ridge.core.light_windows.next_light import next_window
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.reports.frame.view import FramingReport, framing_report
from lucid_ridge.reports.light.words import next_light_text

_VIEW: TypeAdapter[FramingReport] = TypeAdapter(FramingReport)
_FORM = hashlib.sha256(json.dumps(_VIEW.json_schema(), sort_keys=True).encode()).hexdigest()[:12]
"""Changes with what the small drawing is made of: what was kept in an older form is worked out anew."""
_NOTHING_FOR = timedelta(days=1)


def kit_ids(row: CompositionRow) -> tuple[UUID, UUID, UUID]:
    """The body, lens and support of a composition."""
    return row.body_id, row.lens_id, row.support_id


def key_of(row: CompositionRow, place: PlaceRow, kit: dict[UUID, KitItem]) -> str:
    """What an outlook hangs on: the versions of the composition, its place and its kit."""
    parts = [_FORM, row.version, place.version, *(kit[i].version for i in kit_ids(row))]
    return hashlib.sha256("/".join(map(str, parts)).encode()).hexdigest()


def scene_of(row: CompositionRow, place: PlaceRow, kit: dict[UUID, KitItem], others: list[KitItem]) -> Scene:
    """The scene of a saved composition; *others* are the filters, gear and lights that are owned.

    Raises
    ------
    UnreadableError
        If something of it cannot be read any more.

    """
    body, lens, support = (BY_KIND[kit[i].kind].read(kit[i].details) for i in kit_ids(row))
    owned: dict[str, list[Any]] = {"filter": [], "gear": [], "light": []}
    for item in others:
        owned[item.kind].append(BY_KIND[item.kind].read(item.details))
    return Scene(
        place=core_place(place),
        kit=Kit(
            body=body,
            lens=lens,
            support=support,
            filters=tuple(owned["filter"][:40]),
            gear=tuple(owned["gear"][:40]),
            lights=tuple(owned["light"][:20]),
        ),
        composition=COMPOSITION.read(row.document),
    )


def small_view(state: State) -> dict[str, Any]:
    """What the small drawing shows, with points to a thousandth of the frame."""
    return cast(dict[str, Any], _rounded(_VIEW.dump_python(framing_report(state, shares=False), mode="json")))


def _rounded(value: Any) -> Any:
    match value:
        case float():
            return round(value, 4)
        case dict():
            return {name: _rounded(one) for name, one in value.items()}
        case list():
            return [_rounded(one) for one in value]
    return value


def _side(state: State, at: datetime) -> LightSide:
    place = state.scene.place
    altitude, azimuth = sun_at(at.timestamp(), place.latitude_deg, place.longitude_deg)
    return SIDES[int(light_side(azimuth, altitude, state.scene.composition.azimuth_deg))]


def _work_out(outlook: OutlookRow, scene: Scene, at: datetime) -> None:
    """Put into a row how a scene looks and when its light comes next."""
    try:
        # A filter that it uses may have been deleted since.
        check_scene(scene)
        state = build_state(scene, terrain=terrain_of(scene.place))
        window = next_window(state, at)
    except (SceneError, ValueError):
        outlook.view, outlook.starts_at, outlook.ends_at, outlook.side = None, None, None, "none"
        outlook.good_until = at + _NOTHING_FOR
        return
    outlook.view = small_view(state)
    outlook.starts_at, outlook.ends_at = window or (None, None)
    outlook.side = _side(state, window[0] + (window[1] - window[0]) / 2) if window else "none"
    outlook.good_until = window[1] if window else at + _NOTHING_FOR


def _present(outlook: OutlookRow, zone: str, at: datetime) -> OutlookOut:
    light = None
    if outlook.starts_at is not None and outlook.ends_at is not None:
        said = next_light_text(outlook.starts_at, outlook.ends_at, cast(LightSide, outlook.side), zone, at)
        light = NextLight(starts_utc=outlook.starts_at, ends_utc=outlook.ends_at, text=said)
    missing = "cannot be drawn; open it to see why" if outlook.view is None else "no such light in the next two months"
    return OutlookOut(
        id=outlook.composition_id,
        view=None if outlook.view is None else _VIEW.validate_python(outlook.view, strict=False),
        next_light=light,
        said=light.text if light else missing,
    )


def known(
    session: Session, rows: Iterable[tuple[CompositionRow, PlaceRow]], drawn: bool = True
) -> dict[UUID, OutlookRow]:
    """The outlooks that are kept of some compositions and still hold; their drawings too where they are to be *drawn*."""
    pairs = list(rows)
    wanted = select(OutlookRow).where(
        OutlookRow.composition_id.in_([row.id for row, _ in pairs]), OutlookRow.good_until > now()
    )
    kept = session.scalars(wanted if drawn else wanted.options(defer(OutlookRow.view))).all()
    by_id = {one.composition_id: one for one in kept}
    ids = {i for row, _ in pairs for i in kit_ids(row)}
    kit = {item.id: item for item in session.scalars(select(KitItem).where(KitItem.id.in_(ids)))}
    return {
        row.id: by_id[row.id]
        for row, place in pairs
        if row.id in by_id and by_id[row.id].key == key_of(row, place, kit)
    }


def _keep(outlook: OutlookRow) -> None:
    """Keep an outlook, unless another request was faster with the same one, or the composition is gone meanwhile."""
    with suppress(IntegrityError), database().transaction() as session:
        session.merge(outlook)


def outlooks(sent: OutlooksBody) -> OutlooksOut:
    """The outlooks of some compositions; those that are not known, or no longer hold, are worked out and kept."""
    at = now()
    made = []
    with database().transaction() as session:
        pairs = [
            (row[0], row[1])
            for row in session.execute(
                select(CompositionRow, PlaceRow)
                .join(PlaceRow, PlaceRow.id == CompositionRow.place_id)
                .where(
                    CompositionRow.id.in_(sent.ids),
                    CompositionRow.owner_id == owner(),
                    CompositionRow.deleted_at.is_(None),
                )
            )
        ]
        there = known(session, pairs)
        mine = session.scalars(select(KitItem).where(KitItem.owner_id == owner())).all()
        kit = {item.id: item for item in mine}
        others = [i for i in mine if i.deleted_at is None and i.kind in ("filter", "gear", "light")]
    for row, place in pairs:
        outlook = there.get(row.id)
        if outlook is None:
            outlook = OutlookRow(composition_id=row.id, key=key_of(row, place, kit))
            try:
                with turn():
                    _work_out(outlook, scene_of(row, place, kit, others), at)
            except UnreadableError:
                continue
            _keep(outlook)
        made.append(_present(outlook, place.time_zone, at))
    return OutlooksOut(outlooks=made)
