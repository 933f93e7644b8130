"""From an outing as it is written down to what it is planned from: scenes, ground, paths, forecasts."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Generic, TypeVar
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.database import now
from lucid_ridge.app.documents import UnreadableError
from lucid_ridge.app.editing import database, owner
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.light.weather import ForecastTrouble, source
from lucid_ridge.app.outlooks.operations import key_of, scene_of
from lucid_ridge.app.places.operations import terrain_under, zone_at
from lucid_ridge.app.places.saved import notes_of
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.preferences.operations import own_pace
from lucid_ridge.app.problems import NotFound, Refused
from lucid_ridge.app.terrains.operations import load, terrain_of
from lucid_ridge.app.tracks.tables import TrackRow
from lucid_ridge.core.changes.check import check_scene
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.outing import Outing, OutingVisit, Spot
from lucid_ridge.core.model.place import Forecast, Place
from lucid_ridge.core.outing.legs import LegWay, Path
from lucid_ridge.core.outing.planning import Candidate, closed_in, points_of, stands_at, ways_of
from lucid_ridge.core.records import SceneError
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.reports.outing.readiness import PlaceWords

FORECAST_DAYS = 14
T = TypeVar("T")


class Remembered(Generic[T]):
    """The last few answers, by what they follow from."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: OrderedDict[Hashable, T] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """The answer for a key, worked out where it is not at hand."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        made = make()
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return made


_states: Remembered[State] = Remembered(48)
_ways: Remembered[list[list[LegWay | None]]] = Remembered(24)


@dataclass(frozen=True, eq=False)
class Assembled:
    """What an outing is planned from. ``gone`` names visits that cannot be planned, with why."""

    outing: Outing
    candidates: tuple[Candidate, ...]
    places: list[PlaceWords]
    ways: list[list[LegWay | None]]
    gone: list[str]


def with_zones(outing: Outing) -> Outing:
    """The outing with the time zone of every spot that tells none."""

    def zoned(spot: Spot | None) -> Spot | None:
        if spot is None or spot.time_zone:
            return spot
        return replace(spot, time_zone=zone_at(spot.latitude_deg, spot.longitude_deg))

    start = zoned(outing.start)
    assert start is not None
    return replace(
        outing,
        start=start,
        end=zoned(outing.end),
        days=tuple(replace(day, start=zoned(day.start), end=zoned(day.end)) for day in outing.days),
    )


@dataclass(frozen=True, eq=False)
class Shelf:
    """Saved compositions with their places, and the kit that is owned."""

    pairs: dict[UUID, tuple[CompositionRow, PlaceRow]]
    kit: dict[UUID, KitItem]

    @property
    def others(self) -> list[KitItem]:
        """Filters, gear and lights that are owned."""
        return [i for i in self.kit.values() if i.deleted_at is None and i.kind in ("filter", "gear", "light")]

    def state(self, composition_id: UUID) -> State:
        """The state of a saved composition, remembered for as long as nothing that it hangs on changes.

        Raises
        ------
        KeyError, SceneError, UnreadableError
            If it is not there, contradicts itself, or cannot be read.

        """
        row, place = self.pairs[composition_id]
        scene = scene_of(row, place, self.kit, self.others)
        terrain = terrain_of(scene.place)
        owned = tuple((i.id, i.version) for i in self.others)

        def make() -> State:
            check_scene(scene)
            return build_state(scene, terrain=terrain)

        key = (
            owner(),
            row.id,
            key_of(row, place, self.kit),
            owned,
            None if terrain is None else scene.place.terrain_id,
        )
        return _states.get(key, make)


def shelf(session: Session, only: Iterable[UUID] | None = None) -> Shelf:
    """The compositions with some ids, or all of them."""
    wanted = (
        select(CompositionRow, PlaceRow)
        .join(PlaceRow, PlaceRow.id == CompositionRow.place_id)
        .where(CompositionRow.owner_id == owner(), CompositionRow.deleted_at.is_(None))
    )
    if only is not None:
        wanted = wanted.where(CompositionRow.id.in_(list(only)))
    pairs = {row[0].id: (row[0], row[1]) for row in session.execute(wanted)}
    kit = {item.id: item for item in session.scalars(select(KitItem).where(KitItem.owner_id == owner()))}
    return Shelf(pairs, kit)


def id_of(visit: OutingVisit) -> UUID | None:
    """The composition of a visit; None where what is written there is no id."""
    try:
        return UUID(visit.composition_id)
    except ValueError:
        return None


def assemble(outing: Outing) -> Assembled:
    """Everything that an outing is planned from, with the ways between its points."""
    outing = with_zones(outing)
    ids = {i for v in outing.visits if (i := id_of(v)) is not None}
    with database().transaction() as session:
        saved = shelf(session, ids)
        place_ids = {place.id for _, place in saved.pairs.values()}
        tracks = session.scalars(
            select(TrackRow)
            .where(
                TrackRow.owner_id == owner(),
                TrackRow.place_id.in_(place_ids),
                TrackRow.kind == "path",
                TrackRow.deleted_at.is_(None),
            )
            .order_by(TrackRow.id)
        ).all()
        paths = [(t.id, t.version, t.name, t.points) for t in tracks]
    candidates, gone, names, pace = [], [], dict[UUID, PlaceRow](), own_pace()
    for visit in outing.visits:
        composition_id = id_of(visit)
        pair = None if composition_id is None else saved.pairs.get(composition_id)
        if composition_id is None or pair is None:
            gone.append("A composition is no longer there; take its visit out, or bring the composition back.")
            continue
        try:
            state = saved.state(composition_id)
        except (SceneError, UnreadableError, ValueError):
            gone.append(f"{pair[0].name} cannot be computed as it stands; open it to see why.")
            continue
        names[pair[1].id] = pair[1]
        candidates.append(Candidate(visit, pair[0].name, state, stands_at(state), pace))
    return Assembled(outing, tuple(candidates), _place_words(names), _ways_of(outing, candidates, paths), gone)


def _place_words(rows: dict[UUID, PlaceRow]) -> list[PlaceWords]:
    made = []
    for row in rows.values():
        notes = notes_of(row)
        made.append(PlaceWords(row.name, notes.hazards, notes.right_of_way, notes.parking))
    return made


def _ground(outing: Outing, candidates: list[Candidate]) -> tuple[str, Terrain | None]:
    """The terrain that the outing starts on, else that of its first place with one; and what it is known by."""
    try:
        under = terrain_under(outing.start.latitude_deg, outing.start.longitude_deg)
        if under is not None:
            return str(under[0]), load(under[0])
    except (NotFound, Refused):
        pass
    for candidate in candidates:
        place = candidate.state.scene.place
        terrain = terrain_of(place)
        if terrain is not None:
            return str(place.terrain_id), terrain
    return "", None


def _ways_of(
    outing: Outing, candidates: list[Candidate], paths: list[tuple[UUID, int, str, list[list[float]]]]
) -> list[list[LegWay | None]]:
    ground, terrain = _ground(outing, candidates)
    # All that the ways follow from.
    key = (
        owner(), tuple(points_of(outing, candidates)), closed_in(candidates), outing.rides,
        tuple((i, v) for i, v, _, _ in paths), ground, outing.pace, outing.detour,
    )  # fmt: skip

    def make() -> list[list[LegWay | None]]:
        lines = [Path(name, tuple((p[0], p[1], p[2]) for p in line)) for _, _, name, line in paths]
        return ways_of(outing, candidates, lines, terrain)

    return _ways.get(key, make)


def forecasts_for(places: Iterable[Place], first: datetime, last: datetime) -> dict[Place, Forecast]:
    """What is forecast for some places, where anything is and it reaches as far as some time between two instants."""
    asked = source()
    at = now().replace(minute=0, second=0, microsecond=0)
    if asked is None or last < at or first > at + timedelta(days=FORECAST_DAYS):
        return {}
    made = {}
    for place in dict.fromkeys(places):
        try:
            made[place] = asked.forecast(place.latitude_deg, place.longitude_deg, at, FORECAST_DAYS * 24)
        except ForecastTrouble:
            # One that does not answer for one place does not for the next either; nothing is forecast then.
            return {}
    return made
