"""The demo valley beside somebody's own places: loaded and taken away by one press each."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from lucid_ridge.app.database import Database, Editable, now
from lucid_ridge.app.tables import (
    CompositionRow,
    KitItem,
    OutingRow,
    PhotographRow,
    PictureRow,
    PlaceRow,
    SpotRow,
    Take,
    TerrainRow,
    TrackRow,
    VariantRow,
)
from lucid_ridge.demo.compositions import COMPOSITIONS, PLACES
from lucid_ridge.demo.kit import BODIES, FILTERS, GEAR, LENSES, LIGHTS, SUPPORTS
from lucid_ridge.demo.names import demo_id
from lucid_ridge.demo.outings import OUTINGS
from lucid_ridge.demo.spots import SPOTS
from lucid_ridge.demo.valley import TAKES, TRACKS, VARIANTS, WITH_PICTURE, load_valley
from lucid_ridge.demo.years import note_past, past_ids

_KIT: dict[str, Mapping[str, object]] = {
    "body": BODIES,
    "lens": LENSES,
    "support": SUPPORTS,
    "filter": FILTERS,
    "gear": GEAR,
    "light": LIGHTS,
}

Records = dict[type[Editable], set[UUID]]


def records() -> Records:
    """The ids of everything that the valley consists of, by table."""
    past_takes, past_pictures = past_ids()
    return {
        KitItem: {demo_id(f"{kind}/{name}") for kind, items in _KIT.items() for name in items},
        PlaceRow: {demo_id(f"place/{name}") for name in PLACES},
        CompositionRow: {demo_id(f"composition/{name}") for name in COMPOSITIONS},
        VariantRow: {
            demo_id(f"variant/{name}/{i}") for name, tries in VARIANTS.items() for i in range(1, len(tries) + 1)
        },
        PictureRow: {demo_id(f"picture/{i}") for i, take in enumerate(TAKES, 1) if take.composition == WITH_PICTURE}
        | past_pictures,
        PhotographRow: {demo_id("photograph/mirror")},
        TerrainRow: {demo_id("terrain/valley")},
        TrackRow: {demo_id(f"track/{i}") for i in range(TRACKS)},
        SpotRow: {demo_id(f"spot/{name}") for name in SPOTS},
        OutingRow: {demo_id(f"outing/{name}") for name in OUTINGS},
        Take: {demo_id(f"take/{i}") for i in range(1, len(TAKES) + 1)} | past_takes,
    }


@dataclass(frozen=True)
class DemoValley:
    """The valley of one installation; ``has_worker`` says that there is one to draw the pictures of two years."""

    database_url: str
    files_folder: Path | None
    has_worker: bool = False

    @contextmanager
    def _session(self) -> Iterator[Session]:
        database = Database(self.database_url)
        try:
            with database.transaction() as session:
                yield session
        finally:
            database.dispose()

    def is_there(self) -> bool:
        """Whether any composition of the valley is there."""
        with self._session() as session:
            return _there(session, deleted=False)

    def load(self) -> None:
        """Load the valley, or bring it back if it was taken away."""
        with self._session() as session:
            if _there(session, deleted=False):
                return
            if _there(session, deleted=True):
                for table, ids in records().items():
                    for row in session.scalars(select(table).where(table.id.in_(ids))):
                        row.deleted_at = None
                return
        load_valley(self.database_url, self.files_folder)
        if self.has_worker:
            note_past(self.database_url)

    def remove(self) -> None:
        """Hide the valley. Places at which somebody composed, and kit and terrain that they use, stay."""
        with self._session() as session:
            all_of = records()
            own = session.scalars(
                select(CompositionRow).where(
                    CompositionRow.deleted_at.is_(None), CompositionRow.id.not_in(all_of[CompositionRow])
                )
            ).all()
            used = {i for row in own for i in (row.place_id, row.body_id, row.lens_id, row.support_id)}
            own_places = session.scalars(select(PlaceRow).where(PlaceRow.deleted_at.is_(None))).all()
            for place in own_places:
                terrain = place.sky.get("terrain_id")
                if terrain and (place.id in used or place.id not in all_of[PlaceRow]):
                    used.add(UUID(terrain))
            for table, ids in all_of.items():
                for record in session.scalars(select(table).where(table.id.in_(ids - used))):
                    record.deleted_at = now()


def _there(session: Session, deleted: bool) -> bool:
    gone = CompositionRow.deleted_at.is_not(None) if deleted else CompositionRow.deleted_at.is_(None)
    rows = select(CompositionRow.id).where(CompositionRow.id.in_(records()[CompositionRow]), gone).limit(1)
    return session.scalar(rows) is not None
