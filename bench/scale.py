"""Years of work: lists, filters and counts of a full database at the HTTP boundary, the plans of their queries, many at once.

`./ridge bench scale`. One owner has 100,000 takes, 5,000 compositions and 500 places; 49 others have a fiftieth of that each.
"""

from __future__ import annotations

import http.client
import json
import statistics
import tempfile
import threading
import time
from pathlib import Path
from typing import Any
from urllib.parse import quote

from sqlalchemy import event, text
from tests.cluster import throwaway_databases

from lucid_ridge.app.database import Database
from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.requests import SceneRequest
from lucid_ridge.core.changes.kinds import Nudge
from lucid_ridge.demo.load import load_demo
from lucid_ridge.runtime.web import start_server, stop_server

PORT = 18425
TAKES, COMPOSITIONS, PLACES, SEQUENCES, OTHERS = 100_000, 5_000, 500, 2_000, 49
BIG = ("takes", "compositions", "places", "sequences", "tracks")
_FILL = """
CREATE TEMP TABLE who AS SELECT id, 1.0 AS share FROM photographers LIMIT 1;
INSERT INTO photographers (id, name) SELECT gen_random_uuid(), 'other ' || n FROM generate_series(1, {others}) n;
INSERT INTO who SELECT id, 0.02 FROM photographers WHERE name LIKE 'other %';
CREATE TEMP TABLE kit AS SELECT DISTINCT ON (w.id, k.kind) w.id AS owner, gen_random_uuid() AS id, k.kind, k.name, k.details
    FROM who w, kit_items k WHERE k.kind IN ('body', 'lens', 'support');
INSERT INTO kit_items (id, owner_id, created_at, name, version, updated_at, kind, details, usual)
    SELECT id, owner, now(), name, 1, now(), kind, details, false FROM kit;
CREATE TEMP TABLE at AS SELECT w.id AS owner, gen_random_uuid() AS id, n, row_number() OVER (PARTITION BY w.id) AS r
    FROM who w, LATERAL generate_series(1, ({places} * w.share)::int) n;
INSERT INTO places (id, owner_id, created_at, name, version, updated_at, latitude_deg, longitude_deg, elevation_m, time_zone,
        access, hazards, notes, sky)
    SELECT a.id, a.owner, now(), 'place ' || n, 1, now(), 54 + n / 1000.0, -2 - n / 1000.0, p.elevation_m, p.time_zone,
        p.access, p.hazards, p.notes, p.sky - 'terrain_id' || '{{"horizon": "level"}}'
    FROM at a, (SELECT * FROM places LIMIT 1) p;
CREATE TEMP TABLE made AS SELECT w.id AS owner, gen_random_uuid() AS id, n, row_number() OVER (PARTITION BY w.id) AS r
    FROM who w, LATERAL generate_series(1, ({compositions} * w.share)::int) n;
INSERT INTO compositions (id, owner_id, created_at, name, version, updated_at, place_id, body_id, lens_id, support_id, moment_utc,
        east_m, north_m, azimuth_deg, element_count, subject, document)
    SELECT m.id, m.owner, now(), 'composition ' || n, 1, now() - n * interval '1 hour', a.id, b.id, l.id, s.id, c.moment_utc,
        c.east_m, c.north_m, c.azimuth_deg, c.element_count, c.subject, c.document
    FROM made m
    JOIN at a ON a.owner = m.owner AND a.r = 1 + m.n % GREATEST(1, (SELECT count(*) FROM at x WHERE x.owner = m.owner))
    JOIN kit b ON b.owner = m.owner AND b.kind = 'body' JOIN kit l ON l.owner = m.owner AND l.kind = 'lens'
    JOIN kit s ON s.owner = m.owner AND s.kind = 'support', (SELECT * FROM compositions LIMIT 1) c;
CREATE TEMP TABLE planned AS SELECT w.id AS owner, gen_random_uuid() AS id, n, row_number() OVER (PARTITION BY w.id) AS r
    FROM who w, LATERAL generate_series(1, ({sequences} * w.share)::int) n;
INSERT INTO sequences (id, owner_id, created_at, composition_id, composition_name, place_id, place_name, time_zone, frame_count,
        aperture_n, shutter_s, iso, filters, document)
    SELECT p.id, p.owner, now(), c.id, c.name, c.place_id, t.name, t.time_zone, s.frame_count, s.aperture_n, s.shutter_s, s.iso,
        s.filters, s.document
    FROM planned p
    JOIN made m ON m.owner = p.owner AND m.r = 1 + p.n % GREATEST(1, (SELECT count(*) FROM made x WHERE x.owner = p.owner))
    JOIN compositions c ON c.id = m.id JOIN places t ON t.id = c.place_id, (SELECT * FROM sequences LIMIT 1) s;
INSERT INTO takes (id, owner_id, created_at, name, version, updated_at, sequence_id, composition_id, place_id, started_at, ended_at,
        rating, note, faults, frames_done, document)
    SELECT gen_random_uuid(), w.id, now(), 'take ' || n, 1, now(), s.id, s.composition_id, s.place_id,
        now() - n * interval '30 minutes', now() - n * interval '30 minutes' + interval '5 minutes', n % 6, '',
        CASE n % 10 WHEN 0 THEN ARRAY['soft_focus'] WHEN 1 THEN ARRAY['wind_blur', 'clipped'] ELSE ARRAY[]::varchar[] END,
        t.frames_done, t.document
    FROM who w, LATERAL generate_series(1, ({takes} * w.share)::int) n
    JOIN planned p ON p.owner = w.id AND p.r = 1 + n % GREATEST(1, (SELECT count(*) FROM planned x WHERE x.owner = w.id))
    JOIN sequences s ON s.id = p.id, (SELECT * FROM takes LIMIT 1) t;
"""


def fill(url: str) -> None:
    """Multiply the demo by SQL: nobody types a hundred thousand takes."""
    database = Database(url)
    amounts = {"takes": TAKES, "compositions": COMPOSITIONS, "places": PLACES, "sequences": SEQUENCES, "others": OTHERS}
    with database.transaction() as session:
        for statement in _FILL.format(**amounts).split(";\n"):
            if statement.strip():
                session.execute(text(statement))
    with database.engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.execute(text("VACUUM ANALYZE"))
    database.dispose()


def views(client: Any) -> dict[str, str]:
    """What is asked for, by what it is."""
    takes = client("/api/takes")
    place, fault = takes["places"][0]["id"], takes["faults"][0]["fault"]
    compositions = client("/api/compositions")
    first = compositions["compositions"][0]["id"]
    return {
        "takes, newest": "/api/takes",
        "takes, a page on": f"/api/takes?after={quote(takes['next'])}",
        "takes with a fault": f"/api/takes?fault={fault}",
        "takes at a place": f"/api/takes?place_id={place}",
        "places": "/api/places",
        "compositions": "/api/compositions",
        "compositions, a page on": f"/api/compositions?after={quote(compositions['next'])}",
        "one composition": f"/api/compositions/{first}",
        "kit": "/api/kit",
        "marks and paths": "/api/tracks",
        "preferences": "/api/preferences",
    }


def asked(port: int, path: str, times: int = 15) -> float:
    """Median of asking for something, in milliseconds."""
    connection = http.client.HTTPConnection("127.0.0.1", port)
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        connection.request("GET", path)
        answer = connection.getresponse()
        answer.read()
        assert answer.status == 200, (path, answer.status)
        taken.append((time.perf_counter() - start) * 1000)
    connection.close()
    return statistics.median(taken)


def whole_tables_read(app: Any, path: str) -> list[str]:
    """The big tables that a view's queries read from end to end, instead of through an index."""
    engine, seen = app.extensions["database"].engine, []

    def note(_c: Any, _cursor: Any, statement: str, parameters: Any, *_: Any) -> None:
        if statement.startswith("SELECT"):
            seen.append((statement, parameters))

    event.listen(engine, "before_cursor_execute", note)
    assert app.test_client().get(path).status_code == 200
    event.remove(engine, "before_cursor_execute", note)
    found = set()
    with engine.connect() as connection:
        for statement, parameters in seen:
            plan = connection.exec_driver_sql(f"EXPLAIN (FORMAT JSON) {statement}", parameters).scalar()
            found |= _scans(plan[0]["Plan"])
    return sorted(found)


def _scans(node: dict[str, Any]) -> set[str]:
    here = {node["Relation Name"]} if node["Node Type"] == "Seq Scan" and node["Relation Name"] in BIG else set()
    return here.union(*(_scans(one) for one in node.get("Plans", [])))


def evaluations(port: int, clients: int, seconds: float = 8.0) -> tuple[float, int]:
    """Evaluations a second of so many clients at once, and how many went wrong."""
    body = SceneRequest(scene=TARN_SCENE, changes=(Nudge(setting="aperture", steps=1),)).model_dump_json()
    counts, wrong = [0] * clients, [0] * clients
    end = time.monotonic() + seconds

    def ask(number: int) -> None:
        connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        while time.monotonic() < end:
            connection.request("POST", "/api/evaluate", body, {"Content-Type": "application/json"})
            answer = connection.getresponse()
            answer.read()
            counts[number] += answer.status == 200
            wrong[number] += answer.status != 200
        connection.close()

    threads = [threading.Thread(target=ask, args=(number,)) for number in range(clients)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return sum(counts) / seconds, sum(wrong)


def main() -> None:
    """Print every figure."""
    with throwaway_databases() as databases, tempfile.TemporaryDirectory() as folder:
        url, files = databases.fresh(demo=False), Path(folder) / "files"
        load_demo(url, files)
        since = time.monotonic()
        fill(url)
        print(f"filled in {time.monotonic() - since:.0f} s")
        app = create_app(Configuration(url, files))
        server = start_server(url, PORT, Path(folder) / "log", files)
        try:
            nothing = asked(PORT, "/api/health/live")

            def get(path: str) -> Any:
                connection = http.client.HTTPConnection("127.0.0.1", PORT)
                connection.request("GET", path)
                return json.loads(connection.getresponse().read())

            for what, path in views(get).items():
                took, whole = asked(PORT, path), whole_tables_read(app, path)
                read = f"reads {', '.join(whole)} from end to end" if whole else "by index"
                print(f"{what:<28} {took:8.1f} ms   {took / nothing:6.1f} × an empty round trip   {read}")
            alone, _ = evaluations(PORT, 1)
            together, wrong = evaluations(PORT, 20)
            print(
                f"{'20 clients evaluating':<28} {together:8.1f} /s   {together / alone:6.2f} × one client ({alone:.1f} /s), {wrong} wrong"
            )
        finally:
            stop_server(server)
            app.extensions["database"].dispose()


if __name__ == "__main__":
    main()
