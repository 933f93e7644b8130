"""Turns: what takes long stands in line, and never keeps the rest of the threads."""

from __future__ import annotations

import multiprocessing
import os
import threading
import time
from pathlib import Path

import pytest

from lucid_ridge.app import turns
from lucid_ridge.app.problems import Busy
from lucid_ridge.app.turns import Turns
from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.calc.requests import SceneRequest


class Counter:
    """How many are within at the same time, and the most that were."""

    def __init__(self):
        self.lock, self.now, self.most, self.done = threading.Lock(), 0, 0, 0

    def __enter__(self):
        with self.lock:
            self.now += 1
            self.most = max(self.most, self.now)

    def __exit__(self, *_):
        with self.lock:
            self.now -= 1
            self.done += 1


@pytest.mark.parametrize("waiting", [0, 1, 3, 7])
def test_one_at_a_time_and_no_more_in_line_than_may_be(waiting, tmp_path):
    line, within, refused = Turns(waiting, tmp_path), Counter(), []
    gate = threading.Event()

    def ask():
        try:
            with line.turn(), within:
                gate.wait(20)
        except Busy:
            refused.append(1)

    them = [threading.Thread(target=ask) for _ in range(12)]
    for one in them:
        one.start()
    while len(refused) < 12 - 1 - waiting:
        time.sleep(0.005)
    gate.set()
    for one in them:
        one.join()
    assert (within.most, within.done, len(refused)) == (1, 1 + waiting, 11 - waiting)
    with line.turn():
        pass


def _hold(folder: Path, ready, gate) -> None:
    with Turns(0, folder).turn():
        ready.set()
        gate.wait(30)


def test_processes_see_each_other_and_one_that_dies_gives_its_place_back(tmp_path, monkeypatch):
    context = multiprocessing.get_context("spawn")
    cores = max(1, (os.cpu_count() or 1) - 1)
    held = []
    for _ in range(cores):
        ready, gate = context.Event(), context.Event()
        one = context.Process(target=_hold, args=(tmp_path, ready, gate))
        one.start()
        assert ready.wait(60)
        held.append(one)
    monkeypatch.setattr(turns, "PATIENCE_S", 0.2)
    with pytest.raises(Busy), Turns(0, tmp_path).turn():
        pytest.fail("all places are taken")
    held[0].kill()
    held[0].join()
    monkeypatch.setattr(turns, "PATIENCE_S", 20.0)
    with Turns(0, tmp_path).turn():
        pass
    for one in held[1:]:
        one.kill()
        one.join()


def test_a_folder_that_takes_no_file_keeps_nobody_from_searching(tmp_path):
    (tmp_path / "taken").write_text("a file where the folder would be")
    with Turns(0, tmp_path / "taken").turn():
        pass


def test_a_search_that_finds_the_line_full_says_so_and_when_to_come_back(app, client, tmp_path):
    body = SceneRequest(scene=TARN_SCENE).model_dump_json()
    line = app.extensions["turns"] = Turns(0, tmp_path)
    with line.turn():
        answer = client.post("/api/ways", data=body, content_type="application/json")
    assert answer.status_code == 503 and answer.headers["Retry-After"] == "1"
    assert answer.get_json()["type"] == "/problems/busy"
    assert client.post("/api/evaluate", data=body, content_type="application/json").status_code == 200
    assert client.post("/api/ways", data=body, content_type="application/json").status_code == 200
