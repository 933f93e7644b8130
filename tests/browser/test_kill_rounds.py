"""The device and the server are killed at random moments: nothing that was acknowledged is lost, nothing comes twice."""

from __future__ import annotations

import os
import random
import time
from threading import Timer

from selenium.common.exceptions import WebDriverException

from .conftest import Browser, api
from .outdoors import TAKING_ALONG_S, Outdoors, outdoors

ROUNDS = int(os.environ.get("LUCID_RIDGE_DEVICE_ROUNDS", "50"))
LOOK = """
const field = document.querySelector("[data-testid='field']");
if (!field) return [location.pathname, "", 0, ""];
const words = [...field.querySelectorAll("button")].map((one) => one.textContent);
const can = ["Begin", "Start", "Write the take", "On board"].find((one) => words.some((word) => word.trim() === one)) ?? "";
return [location.pathname, field.dataset.take, Number(field.dataset.kept), field.innerText.includes("Kept on this device") ? "kept" : can];
"""


class Told:
    """What the device said was kept: the take at work with its frames, and takes that were written."""

    def __init__(self) -> None:
        self.take, self.frames = "", 0
        self.written: set[str] = set()
        self.owed: set[str] = set()

    def hear(self, take: str, frames: int) -> None:
        if take == self.take:
            self.frames = max(self.frames, frames)
        elif frames > 0:
            self.take, self.frames = take, frames

    def check(self, take: str, frames: int) -> None:
        """What a page that was just opened shows, against what was said before."""
        if self.frames == 0 or self.take in self.written:
            return
        if take == self.take:
            assert frames >= self.frames, "frames that were kept are gone"
        else:
            # It was written, and the device died before it said so: then it has to come to the server.
            self.owed.add(self.take)


def press(browser: Browser, words: str) -> None:
    browser.driver.execute_script(
        "[...document.querySelectorAll('button')].find((one) => one.textContent.trim() === arguments[0])?.click()",
        words,
    )


def one_round(made: Outdoors, sequence: str, told: Told, rng: random.Random) -> None:
    """Open the field, go on with it until some moment, and be killed."""
    browser = made.device()
    browser.open(f"/field/{sequence}")
    browser.test_id("field")
    _, take, frames, _ = browser.driver.execute_script(LOOK)
    told.check(take, frames)
    ends = time.monotonic() + rng.uniform(0.1, 1.5)
    written = ""
    try:
        while time.monotonic() < ends:
            path, take, frames, can = browser.driver.execute_script(LOOK)
            if written and (path.startswith("/logbook/") or can == "kept"):
                told.written.add(written)
                written = ""
                browser.open(f"/field/{sequence}")
                continue
            if not take:
                continue
            told.hear(take, frames)
            if can == "Write the take":
                written = take
            if can and can != "kept":
                press(browser, can)
    except WebDriverException:
        pass
    made.off(killed=True)


def test_nothing_acknowledged_is_lost_and_nothing_comes_twice(databases, capsys):
    seed = random.SystemRandom().randrange(10**6)
    rng, told = random.Random(seed), Told()
    with outdoors(databases, 18460) as made:
        browser = made.device()
        outing = next(o for o in api(made.base, "GET", "/api/outings")["outings"] if o["name"] == "Dawn at the tarn")
        along = api(made.base, "POST", f"/api/outings/{outing['id']}/along")
        sequence = next(s["sequence"]["id"] for s in along["sequences"] if s["name"] == "Valley head in seven panels")
        before = {t["id"] for t in api(made.base, "GET", "/api/takes")["takes"]}
        browser.open(f"/field/{sequence}")
        browser.driver.execute_script("localStorage.setItem('lucid-ridge/clock-rate', '4000')")
        browser.until(
            lambda: "on board" in browser.test_id("on-board").text, "it does not come on board", TAKING_ALONG_S
        )
        # What the small store of a browser holds is on the disk some seconds later.
        time.sleep(6)
        made.off()
        there = True
        for _ in range(ROUNDS):
            if rng.random() < 0.15:
                if there:
                    made.unserve(killed=rng.random() < 0.5)
                else:
                    made.serve()
                there = not there
            dying = (
                Timer(rng.uniform(0.2, 2.0), lambda: made.unserve(killed=True))
                if there and rng.random() < 0.1
                else None
            )
            if dying:
                dying.start()
                there = False
            one_round(made, sequence, told, rng)
            if dying:
                dying.join()
        made.serve()
        browser = made.device()
        browser.open("/board")
        browser.shows("With this device")
        browser.until(lambda: not browser.all("[data-testid='outbox-waiting']"))
        assert not browser.all("[data-testid='outbox-refused']")
        listed = api(made.base, "GET", "/api/takes?limit=200")["takes"]
        fresh = [t["id"] for t in listed if t["id"] not in before]
        with capsys.disabled():
            print(f"\n{ROUNDS} kills, seed {seed}: {len(told.written)} takes acknowledged, {len(fresh)} handed in")
        assert len(fresh) == len(set(fresh))
        assert told.written | told.owed <= set(fresh), "a take that was kept is gone"
        for ident in fresh:
            take = api(made.base, "GET", f"/api/takes/{ident}")
            assert all(row["repeats"] == 0 and row["status"] == "done" for row in take["compared"]), (
                "a frame came twice"
            )
