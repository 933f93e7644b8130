"""Records as an archive holds them: each table's columns as JSON, checked before anything of it is used."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Annotated, Any
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, TypeAdapter, ValidationError, create_model
from sqlalchemy import Column, DateTime, Float, ForeignKey, Integer, String, Table, Uuid
from sqlalchemy.dialects.postgresql import ARRAY, JSONB
from sqlalchemy.types import Boolean

from lucid_ridge.app.compositions.documents import COMPOSITION
from lucid_ridge.app.compositions.tables import CompositionRow
from lucid_ridge.app.database import Base
from lucid_ridge.app.documents import UnreadableError
from lucid_ridge.app.field.plans import PLAN
from lucid_ridge.app.field.tables import SequenceRow
from lucid_ridge.app.kit.documents import BY_KIND
from lucid_ridge.app.kit.tables import KitItem
from lucid_ridge.app.logbook.facts import TAKEN
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.outings.documents import OUTING
from lucid_ridge.app.outings.tables import OutingRow
from lucid_ridge.app.photographs.pictures import ENDINGS
from lucid_ridge.app.photographs.tables import PhotographRow
from lucid_ridge.app.pictures.documents import FACTS
from lucid_ridge.app.pictures.tables import PictureRow
from lucid_ridge.app.places.saved import core_place, notes_of
from lucid_ridge.app.places.tables import PlaceRow
from lucid_ridge.app.practice.operations import PRACTICE
from lucid_ridge.app.practice.tables import PracticeRow
from lucid_ridge.app.preferences.operations import PREFERENCES
from lucid_ridge.app.preferences.tables import PreferencesRow
from lucid_ridge.app.spots.operations import SPOT
from lucid_ridge.app.spots.tables import SpotRow
from lucid_ridge.app.terrains.tables import TerrainRow
from lucid_ridge.app.tracks.schemas import TrackPoint
from lucid_ridge.app.tracks.tables import TrackRow
from lucid_ridge.app.variants.tables import VariantRow
from lucid_ridge.formats.sealed import SealedError

_OWNER = "owner_id"
_WHOLE = 2**31 - 1


class _Points(BaseModel):
    """The points of a mark or a path, of which an import may bring more than the map draws by hand."""

    points: Annotated[list[TrackPoint], Field(min_length=1, max_length=500_000)]


_LATE = datetime(9000, 1, 1, tzinfo=UTC)


def _track(row: Any) -> None:
    _Points(points=[tuple(p) for p in row.points])


def _place(row: Any) -> None:
    core_place(row)
    notes_of(row)


def _photograph(row: Any) -> None:
    if row.media_type not in ENDINGS:
        raise ValueError(f"{row.media_type} is no kind of picture that is read here")


def _picture(row: Any) -> None:
    _photograph(row)
    FACTS.read(row.document)


@dataclass(frozen=True)
class Kind:
    """One kind of record: what people call it, its table, and what else must hold of a row of it."""

    name: str
    what: str
    table: type[Base]
    check: Callable[[Any], object]

    @property
    def part(self) -> str:
        """The part of an archive that holds them."""
        return f"records/{self.name}.json"


KINDS = (
    Kind("kit", "kit item", KitItem, lambda row: BY_KIND[row.kind].read(row.details)),
    Kind("terrains", "terrain", TerrainRow, lambda row: None),
    Kind("places", "place", PlaceRow, _place),
    Kind("tracks", "mark or path", TrackRow, _track),
    Kind("compositions", "composition", CompositionRow, lambda row: COMPOSITION.read(row.document)),
    Kind("variants", "variant", VariantRow, lambda row: COMPOSITION.read(row.document)),
    Kind("photographs", "photograph", PhotographRow, _photograph),
    Kind("sequences", "sequence", SequenceRow, lambda row: PLAN.read(row.document)),
    Kind("takes", "take", Take, lambda row: TAKEN.read(row.document)),
    Kind("pictures", "picture", PictureRow, _picture),
    Kind("outings", "outing", OutingRow, lambda row: OUTING.read(row.document)),
    Kind("spots", "measurement", SpotRow, lambda row: SPOT.read(row.document)),
)
"""In an order in which each refers only to those before it."""
PREFERENCES_KIND = Kind("preferences", "preferences", PreferencesRow, lambda row: PREFERENCES.read(row.document))
PRACTICE_KIND = Kind("practice", "practice", PracticeRow, lambda row: PRACTICE.read(row.document))
OF_A_PERSON = (PREFERENCES_KIND, PRACTICE_KIND)
"""Of these everybody has one."""
ALL = (*KINDS, *OF_A_PERSON)


def columns_of(kind: Kind) -> list[Column[Any]]:
    """The columns that an archive holds of a kind: all but whose it is and what is worked out of the others."""
    table: Table = kind.table.__table__  # type: ignore[assignment]
    return [column for column in table.columns if column.name != _OWNER and not column.info.get("worked out")]


def _type_of(column: Column[Any]) -> Any:
    kind = column.type
    if isinstance(kind, Uuid):
        found: Any = UUID
    elif isinstance(kind, DateTime):
        found = AwareDatetime
    elif isinstance(kind, Boolean):
        found = bool
    elif isinstance(kind, Integer):
        found = Annotated[int, Field(ge=-_WHOLE, le=_WHOLE)]
    elif isinstance(kind, Float):
        found = Annotated[float, Field(allow_inf_nan=False)]
    elif isinstance(kind, ARRAY):
        longest = kind.item_type.length if isinstance(kind.item_type, String) else None
        found = Annotated[list[Annotated[str, Field(max_length=longest or 40)]], Field(max_length=100)]
    elif isinstance(kind, JSONB):
        found = list[Any] if column.name == "points" else dict[str, Any]
    elif isinstance(kind, String):
        found = Annotated[str, Field(max_length=kind.length or 100_000)]
    else:
        raise NotImplementedError(f"no archive knows a column of {kind!r}")
    return found | None if column.nullable else found


def _model(kind: Kind) -> TypeAdapter[list[Any]]:
    fields: dict[str, Any] = {
        column.name: (_type_of(column), column.info.get("added", ...)) for column in columns_of(kind)
    }
    made = create_model(f"Archived_{kind.name}", __config__=ConfigDict(extra="forbid", strict=True), **fields)
    return TypeAdapter(list[made])  # type: ignore[valid-type]


_MODELS = {kind.name: _model(kind) for kind in ALL}


def schema() -> dict[str, Any]:
    """The JSON schema of every part with records, by its name in an archive."""
    return {kind.part: _MODELS[kind.name].json_schema() for kind in ALL}


def _plain(value: Any) -> Any:
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat().replace("+00:00", "Z")
    return str(value) if isinstance(value, UUID) else value


def as_json(kind: Kind, row: Any) -> dict[str, Any]:
    """A row as an archive holds it."""
    return {column.name: _plain(getattr(row, column.name)) for column in columns_of(kind)}


def _without_nul(value: Any) -> bool:
    if isinstance(value, str):
        return "\x00" not in value
    if isinstance(value, dict):
        return all(_without_nul(k) and _without_nul(v) for k, v in value.items())
    return all(_without_nul(one) for one in value) if isinstance(value, list) else True


def read_rows(kind: Kind, data: bytes) -> list[dict[str, Any]]:
    """The records of a part, each column as the database takes it, all of it checked.

    Raises
    ------
    SealedError
        Naming the part, the record by its position from 1, and what is wrong with it.

    """
    try:
        read = [record.model_dump() for record in _MODELS[kind.name].validate_json(data)]
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        number = first["loc"][0] + 1 if first["loc"] and isinstance(first["loc"][0], int) else 0
        where = ", ".join(str(part) for part in first["loc"][1:])
        raise SealedError(f"{kind.part}, {kind.what} {number}: {where}: {first['msg']}.") from None
    for number, values in enumerate(read, 1):
        try:
            _check(kind, values)
        except (UnreadableError, ValidationError, ValueError, KeyError, TypeError, OverflowError) as error:
            raise SealedError(f"{kind.part}, {kind.what} {number}: {str(error)[:300]}") from None
    return read


def _check(kind: Kind, values: Mapping[str, Any]) -> None:
    if not _without_nul(dict(values)):
        raise ValueError("no text may hold the character NUL")
    for value in values.values():
        if isinstance(value, datetime) and not datetime(1, 1, 2, tzinfo=UTC) < value < _LATE:
            raise ValueError("a moment is out of all bounds")
    kind.check(kind.table(**values))


def references(kind: Kind) -> dict[str, str]:
    """The columns of a kind that refer to other records, each with the kind it refers to."""
    by_table = {other.table.__tablename__: other.name for other in KINDS}
    found = {}
    for column in columns_of(kind):
        for key in column.foreign_keys:
            found[column.name] = by_table[_target(key)]
    return found


def _target(key: ForeignKey) -> str:
    return str(key.target_fullname).split(".")[0]
