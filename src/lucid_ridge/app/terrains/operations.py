"""What can be done with terrain models."""

from __future__ import annotations

import hashlib
import re
import secrets
import shutil
import threading
from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any, BinaryIO
from uuid import UUID

from sqlalchemy import Select, select
from sqlalchemy.orm import Session, object_session

from lucid_ridge.app import editing
from lucid_ridge.app.database import now
from lucid_ridge.app.editing import claimed, database, find, owner
from lucid_ridge.app.files import drop, fetched, keep, share
from lucid_ridge.app.jobs import operations as jobs
from lucid_ridge.app.jobs.tables import JobRow
from lucid_ridge.app.paging import PageQuery, page, text
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.app.terrains import files
from lucid_ridge.app.terrains.schemas import TerrainOut, TerrainsOut
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.core.light.ephemeris import sun_at
from lucid_ridge.core.light.refraction import seen_altitude_deg
from lucid_ridge.core.light.shade import shaded_ground
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.place import Place
from lucid_ridge.formats import relief
from lucid_ridge.formats.relief_tiles import DEEPEST_ZOOM, empty_tile, tile_degrees
from lucid_ridge.formats.relief_tiles import relief_tile as draw_tile
from lucid_ridge.formats.terrain_grids import (
    LARGEST_BYTES,
    Plan,
    TerrainError,
    import_terrain,
    plan_import,
    read_terrain,
    write_terrain,
)

_UNSAFE = re.compile(r'[\x00-\x1f\x7f-\x9f/\\:*?"<>|\u2028\u2029]+')
_SILENT = timedelta(seconds=90)
_REMEMBERED = 4
_TILE_FORM = "1"
"""Changes when tiles are drawn otherwise."""
_loaded: OrderedDict[tuple[UUID, UUID], Terrain] = OrderedDict()
_lock = threading.Lock()


def present(row: TerrainRow) -> TerrainOut:
    """The terrain as the API shows it. An import that has been silent for long, and that no job does, was cut off."""
    shown = TerrainOut.model_validate(row, from_attributes=True)
    session = object_session(row)
    silent = row.state == "importing" and now() - row.updated_at > _SILENT
    if silent and session is not None and session.scalar(_doing(row.id)) is None:
        return shown.model_copy(
            update={"state": "failed", "problem": "The server stopped meanwhile; send the file again."}
        )
    return shown


def _doing(terrain_id: UUID) -> Select[UUID]:
    """The job that imports a terrain."""
    return select(JobRow.id).where(
        JobRow.state.in_(("waiting", "running")), JobRow.arguments["terrain"].astext == str(terrain_id)
    )


def list_terrains(query: PageQuery) -> TerrainsOut:
    """A page of the terrains by name."""
    with database().transaction() as session:
        mine = select(TerrainRow).where(TerrainRow.owner_id == owner(), TerrainRow.deleted_at.is_(None))
        order = {"by_name": TerrainRow.name, "by_id": TerrainRow.id}
        rows, following = page(session, mine, query, order, (text, UUID))
        shown = [present(row[0]) for row in rows]
    return TerrainsOut(
        terrains=shown,
        next=following,
        largest_bytes=LARGEST_BYTES,
        relief_key=_relief_key(_ready()),
        deepest_zoom=DEEPEST_ZOOM,
    )


def one(terrain_id: UUID) -> TerrainOut:
    """One terrain, with how far its import is."""
    with database().transaction() as session:
        return present(find(session, TerrainRow, terrain_id, "terrain"))


def _receive(terrain_id: UUID, sent: BinaryIO) -> Path:
    """Keep what is sent until it is imported, without holding it in memory; nothing of what breaks off."""
    path = jobs.folder() / f"terrain {terrain_id.hex} {secrets.token_hex(4)}"
    try:
        with path.open("wb") as out:
            shutil.copyfileobj(sent, out)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    return path


def begin(terrain_id: UUID, name: str, crs: str, sent: BinaryIO) -> tuple[TerrainOut, bool]:
    """Take a file in: look at it at once, and import its heights in the background; whether it is new.

    The same id again gives the one that is kept, unless its import failed.
    """
    with database().transaction() as session:
        row = _mine(session, terrain_id)
        if row is not None and present(row).state != "failed":
            return present(row), False
    path = _receive(terrain_id, sent)
    try:
        plan = plan_import(path, crs)
    except TerrainError as error:
        path.unlink(missing_ok=True)
        raise Refused("/file", f"{name}: {error}") from None
    share(path, f"jobs/{path.name}")
    with database().transaction() as session:
        made, fresh = _record(session, terrain_id, name, path.stat().st_size, plan)
        if fresh:
            told = {"terrain": str(terrain_id), "file": path.name, "crs": crs}
            job = jobs.add(session, "terrain", name, told).id
    if not fresh:
        # Sent twice at the same moment: the other one was faster, with the same file.
        drop(path)
        return made, False
    jobs.queue().put(job)
    return made, True


def add_now(terrain_id: UUID, name: str, path: Path) -> TerrainOut:
    """Import a file that lies here already, and wait for it."""
    plan = plan_import(path)
    with database().transaction() as session:
        _record(session, terrain_id, name, path.stat().st_size, plan)
    _import(terrain_id, path, plan, lambda done: None, lambda session: None)
    return one(terrain_id)


def _mine(session: Session, terrain_id: UUID) -> TerrainRow | None:
    """The terrain that has this id already, and nobody else's until the transaction ends."""
    row = claimed(session, TerrainRow, terrain_id)
    if row is not None and row.owner_id != owner():
        raise Refused("/id", "A record with this id exists already; use another id.")
    return row


def _record(session: Session, terrain_id: UUID, name: str, size: int, plan: Plan) -> tuple[TerrainOut, bool]:
    """Say that a terrain is being imported; whether this is the import that does it."""
    row = _mine(session, terrain_id)
    if row is not None and present(row).state != "failed":
        return present(row), False
    if row is None:
        row = TerrainRow(id=terrain_id, owner_id=owner())
        session.add(row)
    row.name, row.state, row.done, row.problem = name, "importing", 0.0, ""
    row.source_text, row.size_bytes = plan.source_text, size
    row.latitude_deg, row.longitude_deg, row.cell_m = plan.latitude_deg, plan.longitude_deg, plan.cell_m
    row.columns, row.rows = plan.columns, plan.rows
    # A sign of life, also where an import that was cut off begins again with the same figures.
    row.updated_at = now()
    session.flush()
    return present(row), True


def _import(
    terrain_id: UUID, path: Path, plan: Plan, told: Callable[[float], None], finish: Callable[[Session], None]
) -> None:
    """Read the heights and keep them; how far it is stands in the record. *finish* is called as it is noted as ready."""

    def tell(done: float) -> None:
        told(done)
        with database().transaction() as session:
            row = session.get(TerrainRow, terrain_id)
            if row is not None:
                row.done, row.updated_at = done, now()

    target = files.kept(terrain_id)
    part = target.with_name(f".part {secrets.token_hex(4)} {target.name}")
    try:
        made, void = import_terrain(path, plan, tell)
        write_terrain(made, part)
        keep(part, target)
    finally:
        part.unlink(missing_ok=True)
    with database().transaction() as session:
        row = session.get(TerrainRow, terrain_id)
        if row is not None:
            row.state, row.done, row.problem, row.updated_at = "ready", 1.0, "", now()
            row.lowest_m, row.highest_m = made.relief_m
            row.void_share = void
            row.south_deg, row.west_deg, row.north_deg, row.east_deg = relief.map_bounds(made)
        session.flush()
        finish(session)


def import_given(told: dict[str, Any], tell: Callable[[float], None], finish: Callable[[Session], None]) -> None:
    """Import the file that a job tells of; *finish* is called in the transaction that notes it as ready.

    Raises
    ------
    TerrainError
        If it cannot be read.

    """
    terrain_id = UUID(told["terrain"])
    try:
        path = fetched(jobs.folder() / told["file"])
    except FileNotFoundError:
        raise TerrainError("The file that was sent is not here any more; send it again.") from None
    with database().transaction() as session:
        row = session.get(TerrainRow, terrain_id)
        if row is not None:
            row.state, row.problem, row.updated_at = "importing", "", now()
    try:
        _import(terrain_id, path, plan_import(path, told["crs"]), tell, finish)
    except TerrainError:
        drop(path)
        raise
    drop(path)


def note_undone(session: Session, told: dict[str, Any], problem: str) -> None:
    """Note that the import that a job told of came to nothing."""
    row = session.get(TerrainRow, UUID(told["terrain"]))
    if row is not None and row.state == "importing":
        row.state, row.done, row.problem, row.updated_at = "failed", 0.0, problem, now()


def load(terrain_id: UUID) -> Terrain:
    """The heights of a terrain; those used last stay in memory.

    Raises
    ------
    NotFound
        If there is no such terrain, it is not ready, or its file was taken away.

    """
    key = (owner(), terrain_id)
    with database().transaction() as session:
        # Without a lock: every evaluation over a terrain asks whether it is still there.
        found = session.execute(
            select(TerrainRow.latitude_deg, TerrainRow.longitude_deg).where(
                TerrainRow.id == terrain_id,
                TerrainRow.owner_id == owner(),
                TerrainRow.deleted_at.is_(None),
                TerrainRow.state == "ready",
            )
        ).one_or_none()
    if found is None:
        with _lock:
            _loaded.pop(key, None)
        raise NotFound("terrain")
    with _lock:
        if key in _loaded:
            _loaded.move_to_end(key)
            return _loaded[key]
    try:
        made = read_terrain(fetched(files.kept(terrain_id)), *found)
    except (TerrainError, FileNotFoundError):
        raise NotFound("terrain") from None
    with _lock:
        _loaded[key] = made
        while len(_loaded) > _REMEMBERED:
            _loaded.popitem(last=False)
    return made


def terrain_of(place: Place) -> Terrain | None:
    """The terrain that a place's horizon asks for; None where it asks for none, or it is not at hand."""
    if place.horizon != "terrain" or place.terrain_id is None:
        return None
    try:
        return load(UUID(place.terrain_id))
    except (NotFound, Refused, ValueError):
        return None


def delete(terrain_id: UUID) -> None:
    """Hide a terrain; what an import that was cut off left of its file is removed."""
    editing.delete(TerrainRow, terrain_id, "terrain")
    with suppress(Refused):
        files.forget_given(terrain_id)


def _ready() -> list[TerrainRow]:
    """The terrains that can be drawn, in a fixed order."""
    with database().transaction() as session:
        return list(
            session.scalars(
                select(TerrainRow)
                .where(TerrainRow.owner_id == owner(), TerrainRow.deleted_at.is_(None), TerrainRow.state == "ready")
                .order_by(TerrainRow.id)
            )
        )


def _relief_key(rows: list[TerrainRow]) -> str:
    """Changes whenever the map's relief does."""
    told = "/".join(f"{row.id}{row.updated_at.isoformat()}" for row in rows)
    return hashlib.sha256(f"{_TILE_FORM}{owner()}{told}".encode()).hexdigest()[:16]


def relief_key() -> str | None:
    """The key of the relief of all terrains; None where there is none."""
    rows = _ready()
    return _relief_key(rows) if rows else None


def relief_tile(z: int, x: int, y: int) -> bytes:
    """A tile of the relief of all terrains as PNG, rendered once and kept.

    Raises
    ------
    NotFound
        If there is no such tile in Web Mercator at that zoom.

    """
    if not 0 <= z <= DEEPEST_ZOOM or not 0 <= x < 2**z or not 0 <= y < 2**z:
        raise NotFound("tile")
    rows = _ready()
    west, south, east, north = tile_degrees(z, x, y)
    near = [
        r for r in rows if r.south_deg <= north and r.north_deg >= south and r.west_deg <= east and r.east_deg >= west
    ]
    if not near:
        return empty_tile()
    kept = files.tile(_relief_key(rows), z, x, y)
    if kept.exists():
        return kept.read_bytes()
    terrains = []
    for row in near:
        with suppress(NotFound, Refused):
            terrains.append(load(row.id))
    made = draw_tile(terrains, z, x, y) or empty_tile()
    files.keep_tile(kept, made)
    return made


def shade(terrain_id: UUID, at: datetime) -> bytes:
    """Ground in the terrain's shade at a moment, as PNG; all of it when the sun is down."""
    terrain = load(terrain_id)
    try:
        altitude, azimuth = sun_at(at.timestamp(), terrain.latitude_deg, terrain.longitude_deg)
    except (ValueError, OverflowError):
        raise Refused("/at", "The sun is known for the years 1900 to 2050; choose a moment among them.") from None
    seen = seen_altitude_deg(altitude, sum(terrain.relief_m) / 2)
    return relief.shade_png(terrain, shaded_ground(terrain, azimuth, seen))


def file_of(terrain_id: UUID) -> tuple[Path, str]:
    """The GeoTIFF that is kept, and a name for it."""
    with database().transaction() as session:
        row = find(session, TerrainRow, terrain_id, "terrain")
        name = row.name
    try:
        path = fetched(files.kept(terrain_id))
    except FileNotFoundError:
        raise NotFound("terrain's file") from None
    # A name is any text; that of a file has no line ends, and leads into no folder.
    return path, f"{_UNSAFE.sub('_', name).strip(' .') or 'terrain'}.tif"
