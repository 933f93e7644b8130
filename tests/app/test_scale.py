"""A database with many records of many owners: counts by another route, and no query that reads what it need not."""

from __future__ import annotations

from collections import Counter

import psycopg
import pytest
from bench.filled import Fill, fill
from bench.scale import check_plans, views
from psycopg.sql import SQL, Identifier

from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER
from lucid_ridge.app.factory import Configuration, create_app


@pytest.fixture(scope="module")
def full(databases):
    url = databases.fresh(demo=True)
    fill(url, others=12, mine=Fill(200, 1_000, 20_000), theirs=Fill(20, 200, 4_000))
    return url


def test_no_query_reads_a_large_table_whole(full, databases):
    assert check_plans(full, databases.files) == []


def test_that_one_would_is_noticed(full, databases):
    with psycopg.connect(full.replace("+psycopg", ""), autocommit=True) as connection:
        named = "SELECT indexname FROM pg_indexes WHERE tablename = 'takes' AND indexname LIKE 'ix_takes_owner%'"
        for (name,) in connection.execute(named).fetchall():
            connection.execute(SQL("DROP INDEX {}").format(Identifier(name)))
        found = check_plans(full, databases.files)
        connection.execute("CREATE INDEX ix_takes_owner_id ON takes (owner_id)")
    assert any(said.startswith("takes: takes whole") for said in found)


def test_what_is_counted_is_what_is_there(full, databases):
    app = create_app(Configuration(full, databases.files))
    client = app.test_client()
    with psycopg.connect(full.replace("+psycopg", "")) as connection:
        rows = connection.execute(
            "SELECT place_id, faults FROM takes WHERE owner_id = %s AND deleted_at IS NULL", (LOCAL_PHOTOGRAPHER,)
        ).fetchall()
    places, faults = Counter(str(place) for place, _ in rows), Counter(f for _, them in rows for f in set(them))
    told = client.get("/api/takes").get_json()
    assert told["total"] == len(rows) > 20_000
    assert {one["id"]: one["takes"] for one in told["places"]} == places
    assert {one["fault"]: one["takes"] for one in told["faults"]} == faults
    addresses = views(lambda path: client.get(path).get_json())
    place, fault = next(iter(places)), next(iter(faults))
    for query, counted in (
        ({"place_id": place}, places[place]),
        ({"fault": fault}, faults[fault]),
        ({"place_id": place, "fault": fault}, sum(str(p) == place and fault in them for p, them in rows)),
    ):
        assert client.get("/api/takes", query_string=query).get_json()["total"] == counted
    assert client.get(addresses["takes, page 21 of 200"]).get_json()["total"] == len(rows)
    app.extensions["database"].dispose()
