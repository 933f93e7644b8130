"""How long an evaluation takes while others search and import, or draw frames, against how long it takes alone."""

from __future__ import annotations

import http.client
import itertools
import statistics
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from uuid import uuid4

import numpy as np
import rasterio
from rasterio.transform import from_origin
from tests.cluster import Databases

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.requests import SceneRequest
from lucid_ridge.core.changes.kinds import Nudge
from lucid_ridge.demo.compositions import BECK
from lucid_ridge.runtime.web import start_server, start_worker, stop_server

_PORT = 18421
_SEARCHES = 4
_IMPORTS = 2
_REHEARSALS = 2
_GOAL = 3.0
_SIDE = 3_000
"""Samples along each side of the terrain that is imported meanwhile."""


def _body(steps: int) -> str:
    return SceneRequest(scene=TARN_SCENE, changes=(Nudge(setting="aperture", steps=steps),)).model_dump_json()


def _search(steps: int) -> str:
    scene = replace(TARN_SCENE, composition=BECK)
    return SceneRequest(scene=scene, changes=(Nudge(setting="aperture", steps=steps),)).model_dump_json()


def _late_ms(times: int) -> tuple[float, float]:
    """Median and 95th percentile of evaluations asked one after the other, as a hand at a dial asks them."""
    connection = http.client.HTTPConnection("127.0.0.1", _PORT)
    taken = []
    for count in range(times):
        start = time.perf_counter()
        connection.request("POST", "/api/evaluate", _body(count % 7 - 3), {"Content-Type": "application/json"})
        connection.getresponse().read()
        taken.append((time.perf_counter() - start) * 1000)
        time.sleep(0.02)
    return statistics.median(taken), statistics.quantiles(taken, n=20)[18]


def _keep_asking(path: str, stop: threading.Event, answers: list[int]) -> None:
    """One who asks for the same again and again, each time after a change of its own: ways, or a rehearsal's frames."""
    connection = http.client.HTTPConnection("127.0.0.1", _PORT)
    for count in itertools.count():
        if stop.is_set():
            return
        connection.request("POST", path, _search(count % 5 - 2), {"Content-Type": "application/json"})
        answer = connection.getresponse()
        answer.read()
        answers.append(answer.status)


def _keep_importing(stop: threading.Event, grid: bytes, done: list[int]) -> None:
    connection = http.client.HTTPConnection("127.0.0.1", _PORT)
    while not stop.is_set():
        path = f"/api/terrains/{uuid4()}"
        connection.request("PUT", f"{path}?name=busy", grid, {"Content-Type": "image/tiff"})
        answer = connection.getresponse()
        said = answer.read()
        if answer.status != 202:
            raise RuntimeError(f"an import was not begun: {answer.status} {said[:200]!r}")
        while b'"importing"' in said and not stop.is_set():
            time.sleep(0.2)
            connection.request("GET", path)
            said = connection.getresponse().read()
        done.append(1)


def _grid(folder: Path) -> bytes:
    path = folder / "busy.tif"
    rng = np.random.default_rng(4)
    with rasterio.open(
        path, "w", driver="GTiff", width=_SIDE, height=_SIDE, count=1, dtype="float32", crs="EPSG:32632",
        transform=from_origin(400_000, 5_200_000, 10, 10),
    ) as out:  # fmt: skip
        out.write(rng.normal(500, 40, (_SIDE, _SIDE)).astype("float32"), 1)
    return path.read_bytes()


@contextmanager
def _beside(acts: list[Callable[[threading.Event], None]]) -> Iterator[None]:
    """Some who keep the server busy until the block ends."""
    stop = threading.Event()
    them = [threading.Thread(target=act, args=(stop,)) for act in acts]
    for one in them:
        one.start()
    time.sleep(2.0)
    try:
        yield
    finally:
        stop.set()
        for one in them:
            one.join()


def main(databases: Databases) -> None:
    """Print the 95th percentile of an evaluation alone, beside four searches and two imports, and beside two rehearsals."""
    answers: list[int] = []
    drawn: list[int] = []
    done: list[int] = []
    url = databases.fresh(demo=True)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        server = start_server(url, _PORT, folder / "log", databases.files, workers=True)
        worker = start_worker(url, folder / "worker.log", databases.files, folder)
        try:
            _late_ms(40)
            middle, alone = _late_ms(300)
            grid = _grid(folder)
            searching = [lambda stop: _keep_asking("/api/ways", stop, answers)] * _SEARCHES
            importing = [lambda stop: _keep_importing(stop, grid, done)] * _IMPORTS
            with _beside([*searching, *importing]):
                beside_middle, beside = _late_ms(300)
            with _beside([lambda stop: _keep_asking("/api/rehearsal/frame", stop, drawn)] * _REHEARSALS):
                drawing_middle, drawing = _late_ms(300)
        finally:
            stop_server(worker)
            stop_server(server)
    print(f"an evaluation alone: median {middle:.1f} ms, 95th percentile {alone:.1f} ms")
    print(
        f"beside {_SEARCHES} searches and {_IMPORTS} imports: median {beside_middle:.1f} ms, 95th percentile {beside:.1f} ms,"
        f" {beside / alone:.1f} × as long; goal: under {_GOAL:.0f} ×"
    )
    print(
        f"beside {_REHEARSALS} rehearsals: median {drawing_middle:.1f} ms, 95th percentile {drawing:.1f} ms,"
        f" {drawing / alone:.1f} × as long; meanwhile {drawn.count(200)} frames drawn, {len(drawn) - drawn.count(200)} refused"
    )
    print(
        f"meanwhile {answers.count(200)} searches and {len(done)} imports done, {len(answers) - answers.count(200)} refused"
    )
