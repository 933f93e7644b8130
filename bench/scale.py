"""Lists, filters and summaries of somebody with years of work, among others with theirs; and twenty who evaluate at once."""

from __future__ import annotations

import http.client
import json
import statistics
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

from bench.filled import OTHERS, WHOLE, fill
from sqlalchemy import event
from sqlalchemy.engine import Engine
from tests.cluster import Databases

from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.requests import SceneRequest
from lucid_ridge.core.changes.kinds import Nudge
from lucid_ridge.runtime.web import start_server, stop_server

_PORT = 18420
_GOAL_MS = 100.0
_CLIENTS = 20
_THROWN_AWAY = 2_000
"""Rows that a plan may read in vain; an owner of most of a table has it read whole, and rightly."""

Ask = Callable[[str], Any]


def views(ask: Ask) -> dict[str, str]:
    """The addresses that are timed: every list, its filters and its deep pages, and what single records are opened by."""
    takes = ask("/api/takes")
    place, fault = takes["places"][len(takes["places"]) // 2]["id"], takes["faults"][-1]["fault"]
    deep = takes
    for _ in range(20):
        deep = ask("/api/takes?" + urlencode({"after": deep["next"], "limit": 200}))
    compositions = ask("/api/compositions?limit=100")
    one = compositions["compositions"][7]["id"]
    return {
        "takes": "/api/takes",
        "takes, page 21 of 200": "/api/takes?" + urlencode({"after": deep["next"], "limit": 200}),
        "takes at a place": "/api/takes?" + urlencode({"place_id": place}),
        "takes with a fault": "/api/takes?" + urlencode({"fault": fault}),
        "takes at a place with a fault": "/api/takes?" + urlencode({"place_id": place, "fault": fault}),
        "takes of a season": "/api/takes?season=autumn",
        "takes rated 4 and up": "/api/takes?rating=4",
        "takes by words": "/api/takes?words=wind+fell",
        "takes by words, a place's too": "/api/takes?" + urlencode({"words": "calm tarn", "rating": 3}),
        "takes of a day": "/api/takes?" + urlencode({"day": takes["takes"][0]["started_at"][:10]}),
        "calendar": "/api/takes/calendar",
        "map of takes": "/api/takes/places",
        "what works": "/api/takes/works",
        "what works at a place": "/api/takes/works?" + urlencode({"place_id": place}),
        "seasons of a place": "/api/takes/seasons?" + urlencode({"place_id": place}),
        "what takes teach": "/api/learning",
        "one take": f"/api/takes/{takes['takes'][0]['id']}",
        "places": "/api/places",
        "compositions": "/api/compositions",
        "compositions, next page": "/api/compositions?" + urlencode({"after": compositions["next"]}),
        "one composition": f"/api/compositions/{one}",
        "variants of a composition": f"/api/compositions/{one}/variants",
        "photographs of a composition": f"/api/compositions/{one}/photographs",
        "kit": "/api/kit",
        "terrains": "/api/terrains",
        "jobs": "/api/jobs",
    }


def _asking(connection: http.client.HTTPConnection, path: str) -> bytes:
    connection.request("GET", path)
    answer = connection.getresponse()
    read = answer.read()
    if answer.status != 200:
        raise RuntimeError(f"{path}: {answer.status} {read[:200]!r}")
    return read


def time_views(port: int) -> None:
    """Print the median of each view at the HTTP boundary."""
    connection = http.client.HTTPConnection("127.0.0.1", port)
    _, empty = _timed(connection, "/api/health/live", 50)
    print(f"an empty round trip: {empty:.1f} ms; goal: each under {_GOAL_MS:.0f} ms")
    for what, path in views(lambda path: json.loads(_asking(connection, path))).items():
        size, median = _timed(connection, path, 20)
        late = "" if median < _GOAL_MS else "   OVER"
        print(
            f"  {what:<34} {median:8.1f} ms   {median / empty:6.1f} × an empty round trip   {size / 1024:8.1f} kB{late}"
        )


def _timed(connection: http.client.HTTPConnection, path: str, times: int) -> tuple[int, float]:
    size = len(_asking(connection, path))
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        _asking(connection, path)
        taken.append((time.perf_counter() - start) * 1000)
    return size, statistics.median(taken)


@contextmanager
def _noted(engine: Engine) -> Iterator[list[tuple[str, Any]]]:
    """The statements that run within the block."""
    statements: list[tuple[str, Any]] = []

    def note(_c: object, _cursor: object, statement: str, parameters: Any, _context: object, _many: bool) -> None:
        if statement.lstrip().startswith("SELECT"):
            statements.append((statement, parameters))

    event.listen(engine, "before_cursor_execute", note)
    try:
        yield statements
    finally:
        event.remove(engine, "before_cursor_execute", note)


def _read_one_by_one(plan: dict[str, Any]) -> Iterator[str]:
    """What a plan reads whole: the table, and how many of its rows in vain."""
    wanted, rest = (plan.get(n, 0) * plan["Actual Loops"] for n in ("Actual Rows", "Rows Removed by Filter"))
    if plan["Node Type"] == "Seq Scan" and rest > max(_THROWN_AWAY, wanted):
        yield f"{plan['Relation Name']} whole: {wanted} rows are wanted and {rest} are not"
    for below in plan.get("Plans", ()):
        yield from _read_one_by_one(below)


def check_plans(url: str, files: Path) -> list[str]:
    """What the queries of the views read whole instead of by an index; empty where nothing is."""
    app = create_app(Configuration(url, files))
    database, client = app.extensions["database"], app.test_client()
    found = []
    for what, path in views(lambda path: client.get(path).get_json()).items():
        with _noted(database.engine) as statements:
            client.get(path)
        with database.engine.connect() as connection:
            for statement, parameters in statements:
                explained = connection.exec_driver_sql(
                    f"EXPLAIN (ANALYZE, FORMAT JSON) {statement}", parameters
                ).scalar()
                found += [f"{what}: {said}" for said in _read_one_by_one(explained[0]["Plan"])]
    database.dispose()
    return found


def _evaluating(port: int, until: float, done: list[int], wrong: list[str]) -> None:
    connection = http.client.HTTPConnection("127.0.0.1", port)
    count = 0
    while time.monotonic() < until:
        body = SceneRequest(
            scene=TARN_SCENE, changes=(Nudge(setting="aperture", steps=count % 7 - 3),)
        ).model_dump_json()
        connection.request("POST", "/api/evaluate", body, {"Content-Type": "application/json"})
        answer = connection.getresponse()
        answer.read()
        if answer.status != 200:
            wrong.append(str(answer.status))
        count += 1
    done.append(count)


def many_clients(port: int, seconds: float = 8.0) -> None:
    """Print how many evaluations a second one client gets, and twenty at once together."""
    rates = {}
    for clients in (1, _CLIENTS):
        done: list[int] = []
        wrong: list[str] = []
        until = time.monotonic() + seconds
        them = [threading.Thread(target=_evaluating, args=(port, until, done, wrong)) for _ in range(clients)]
        for one in them:
            one.start()
        for one in them:
            one.join()
        rates[clients] = sum(done) / seconds
        print(f"  {clients:2d} evaluating at once: {rates[clients]:6.1f} a second together, {len(wrong)} errors")
    print(f"  {_CLIENTS} together get {rates[_CLIENTS] / rates[1]:.2f} × what one gets")


def main(databases: Databases, log: Path) -> None:
    """Fill a database, and print all of it."""
    url = databases.fresh(demo=True)
    start = time.perf_counter()
    fill(url)
    print(
        f"{WHOLE.takes} takes, {WHOLE.compositions} compositions, {WHOLE.places} places of one owner, beside 50 with"
        f" {OTHERS.takes}, {OTHERS.compositions} and {OTHERS.places} each: made in {time.perf_counter() - start:.0f} s"
    )
    server = start_server(url, _PORT, log, databases.files)
    try:
        time_views(_PORT)
        many_clients(_PORT)
    finally:
        stop_server(server)
    whole = check_plans(url, databases.files)
    print("\n".join(whole) if whole else "no query reads a large table whole")
