"""A database as full as years of work make it: the demo's records multiplied by SQL, none of them loaded one by one."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import UUID, uuid5

import psycopg

from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER, Base
from lucid_ridge.app.tables import CompositionRow, PlaceRow, SequenceRow, Take


@dataclass(frozen=True)
class Fill:
    """How much one owner has."""

    places: int = 500
    compositions: int = 5_000
    takes: int = 100_000


WHOLE = Fill()
OTHERS = Fill(places=20, compositions=100, takes=2_000)
"""What each of the other owners has."""
_TAKEN_EVERY = "53 minutes"


def _id(owner: UUID, what: str, number: str) -> str:
    """SQL of the id of a multiplied record."""
    return f"md5('{owner}/{what}/' || ({number}))::uuid"


def _multiplied(table: type[Base], owner: UUID, what: str, count: int, changed: dict[str, str]) -> str:
    """The statement that adds so many records, each like one of the demo's in turn, with some columns *changed*."""
    name = table.__tablename__
    values = {"id": _id(owner, what, "g"), "owner_id": f"'{owner}'", **changed}
    columns = [column.name for column in table.__table__.columns]
    chosen = ", ".join(f"{values[c]}" if c in values else f"s.{c}" for c in columns)
    return (
        f"INSERT INTO {name} ({', '.join(columns)})"
        f" SELECT {chosen} FROM generate_series(0, {count - 1}) g JOIN demo_{name} s ON s.nth = g % s.of"
    )


def fill(url: str, others: int = 50, mine: Fill = WHOLE, theirs: Fill = OTHERS) -> None:
    """Multiply the records of a demo database: so much for its owner, and for so many other owners.

    It is vacuumed and analysed then, as PostgreSQL does by itself within minutes.
    """
    with psycopg.connect(url.replace("+psycopg", ""), autocommit=True) as connection:
        run = connection.execute
        # What refers to what is right by the way it is made: looking at each is most of the work.
        run("SET session_replication_role = replica")
        for table in (PlaceRow, CompositionRow, SequenceRow, Take):
            name = table.__tablename__
            run(
                f"CREATE TEMP TABLE demo_{name} AS"
                f" SELECT t.*, row_number() OVER (ORDER BY t.id) - 1 AS nth, count(*) OVER () AS of FROM {name} t"
            )
        for number in range(others + 1):
            owner = uuid5(LOCAL_PHOTOGRAPHER, f"owner {number}") if number else LOCAL_PHOTOGRAPHER
            amount = theirs if number else mine
            place = _id(owner, "place", f"g % {amount.places}")
            composition = _id(owner, "composition", f"g % {amount.compositions}")
            of_composition = _id(owner, "place", f"(g % {amount.compositions}) % {amount.places}")
            if number:
                run("INSERT INTO photographers (id, name) VALUES (%s, %s)", (owner, f"Photographer {number}"))
            for table, what, count, changed in (
                (PlaceRow, "place", amount.places, {"name": "s.name || ' ' || g"}),
                (CompositionRow, "composition", amount.compositions, {"name": "s.name || ' ' || g", "place_id": place}),
                (
                    SequenceRow,
                    "sequence",
                    amount.compositions,
                    {
                        "composition_id": composition,
                        "place_id": place,
                        "place_name": f"'Place ' || (g % {amount.places})",
                    },
                ),
                (
                    Take,
                    "take",
                    amount.takes,
                    {
                        "sequence_id": _id(owner, "sequence", f"g % {amount.compositions}"),
                        "composition_id": composition,
                        "place_id": of_composition,
                        "started_at": f"now() - g * interval '{_TAKEN_EVERY}'",
                        "ended_at": f"now() - g * interval '{_TAKEN_EVERY}' + interval '4 minutes'",
                        "day": f"(now() - g * interval '{_TAKEN_EVERY}')::date",
                        "season": "(ARRAY['winter', 'spring', 'summer', 'autumn'])[1 + g % 4]",
                        "sun_height_deg": "g % 50 - 8",
                        "sun_off_deg": "g % 180",
                        "shutter_s": "0.01 * (g % 1000)",
                        "kind": (
                            f"extract(year FROM now() - g * interval '{_TAKEN_EVERY}')::int * 100000"
                            " + (1 + g % 3) * 10000 + (1 + g % 5) * 1000 + (s.kind / 100 % 10) * 100"
                            " + (1 + g % 9) * 10 + s.kind % 10"
                        ),
                        # Most takes come back well.
                        "faults": "CASE WHEN g % 3 = 0 THEN s.faults ELSE '{}' END",
                    },
                ),
            ):
                run(_multiplied(table, owner, what, count, changed))
        connection.execute("VACUUM ANALYZE")
