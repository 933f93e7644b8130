"""Kills at random moments while clients write: every acknowledged write is there, and nothing half-written.

A few rounds with the other tests; `./ridge test endurance` runs a hundred and prints what happened.
"""

from __future__ import annotations

import http.client
import os
import random
import threading
import time
from uuid import uuid4

import pytest

from .served import Served

ROUNDS = int(os.environ.get("LUCID_RIDGE_ROUNDS", "3"))
VICTIMS = ("a web process", "the web server", "a worker", "the database", "the start command", "all of them")
WRITERS = 3


class Writer(threading.Thread):
    """Adds places and changes them, and remembers what was acknowledged."""

    def __init__(self, served: Served, number: int) -> None:
        super().__init__(daemon=True)
        self._served, self._number = served, number
        self.done = threading.Event()
        self.acknowledged: dict[str, tuple[int, str]] = {}
        self.asked = 0
        self.odd: list[tuple[int, object]] = []

    def run(self) -> None:
        chance = random.Random(self._number)
        while not self.done.is_set():
            known = list(self.acknowledged)
            self.asked += 1
            name = f"{self._number} {self.asked} {'é' * chance.randint(0, 30)}"
            where = {"name": name, "latitude_deg": 54.1, "longitude_deg": -2.4, "time_zone": "Europe/London"}
            try:
                if known and chance.random() < 0.5:
                    one = chance.choice(known)
                    body = {"place": where, "version": self.acknowledged[one][0]}
                    status, answer = self._served.ask("PUT", f"/api/places/{one}", body)
                    if status == 409:
                        # A change whose answer was lost had been saved: that is what is saved now.
                        status, answer = 200, answer["current"]
                else:
                    one = str(uuid4())
                    status, answer = self._served.ask("POST", "/api/places", {"place": where, "id": one})
            except (OSError, http.client.HTTPException, ValueError):
                time.sleep(0.05)
                continue
            if status in (200, 201):
                self.acknowledged[one] = (answer["version"], answer["place"]["name"])
            elif status != 503:
                self.odd.append((status, answer))


def kill(served: Served, victim: str, chance: random.Random) -> bool:
    """Kill something; whether it has to be started by hand again."""
    if victim == "a web process":
        served.kill(*chance.sample(served.workers(), k=1))
    elif victim == "a worker":
        served.kill(*served.background())
    elif victim == "the web server":
        served.kill(served.web)
    elif victim == "the database":
        served.kill(served.postmaster)
    elif victim == "the start command":
        served.kill(served.process.pid)
        served.process.wait()
        served.said.close()
        return True
    else:
        served.kill_all()
        return True
    return False


def asked_for(served: Served) -> list[str]:
    """A job, where it was acknowledged."""
    try:
        status, answer = served.ask("POST", "/api/archives/export")
    except (OSError, http.client.HTTPException, ValueError):
        return []
    return [answer["id"]] if status == 202 else []


def over(served: Served, job: str) -> bool:
    """Whether a job has ended."""
    try:
        return served.ask("GET", f"/api/jobs/{job}")[1]["state"] in ("done", "failed", "stopped")
    except (OSError, http.client.HTTPException, ValueError, KeyError):
        return False


@pytest.mark.parametrize("seed", [20261125])
def test_nothing_acknowledged_is_lost_whatever_is_killed(tmp_path_factory, seed, capsys):
    served = Served(tmp_path_factory.mktemp("endurance"))
    chance = random.Random(seed)
    served.start()
    writers = [Writer(served, number) for number in range(WRITERS)]
    for writer in writers:
        writer.start()
    back: list[float] = []
    jobs: list[str] = []
    try:
        for number in range(ROUNDS):
            time.sleep(chance.uniform(0.3, 1.5))
            jobs += asked_for(served)
            victim = VICTIMS[number % len(VICTIMS)] if len(VICTIMS) <= ROUNDS else chance.choice(VICTIMS[1:])
            since = time.monotonic()
            if kill(served, victim, chance):
                served.start()
            served.until(served.answers, f"it does not come back after {victim} was killed")
            back.append(time.monotonic() - since)
        for writer in writers:
            writer.done.set()
        for writer in writers:
            writer.join(30)
        # They piled up while whoever does them was killed again and again.
        for job in jobs:
            served.until(lambda job=job: over(served, job), "a job does not end")
        ends = [served.ask("GET", f"/api/jobs/{job}")[1] for job in jobs]
        saved, after = {}, None
        while True:
            page = served.ask("GET", f"/api/places?limit=200{f'&after={after}' if after else ''}")[1]
            saved |= {one["id"]: (one["version"], one["place"]["name"]) for one in page["places"]}
            after = page["next"]
            if after is None:
                break
    finally:
        served.stop()
    acknowledged = {one: told for writer in writers for one, told in writer.acknowledged.items()}
    assert [writer.odd for writer in writers] == [[]] * WRITERS
    lost = {one: told for one, told in acknowledged.items() if one not in saved or saved[one][0] < told[0]}
    assert lost == {}
    # What is saved at the acknowledged version is what was acknowledged.
    assert all(saved[one][1] == told[1] for one, told in acknowledged.items() if saved[one][0] == told[0])
    assert len(acknowledged) > ROUNDS
    assert [job for job in ends if job["state"] != "done" or not job["has_file"]] == []
    with capsys.disabled():
        print(
            f"\n{ROUNDS} kills, {sum(w.asked for w in writers)} writes asked, {len(acknowledged)} records acknowledged, "
            f"none lost; {len(jobs)} jobs, all done; back after {min(back):.1f} to {max(back):.1f} s"
        )
