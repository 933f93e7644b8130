"""The first page of a phone without a server, from a browser just started, against the same with the server there."""

from __future__ import annotations

import time

from tests.browser.outdoors import OUTING, Outdoors, outdoors, outing_id
from tests.cluster import Databases

TIMES = 5


def _opened_s(made: Outdoors) -> float:
    """Seconds from the address to the first outing on the page, in a browser that was killed before."""
    made.off(killed=True)
    browser = made.device()
    started = time.perf_counter()
    browser.open("/")
    browser.shows(OUTING)
    return time.perf_counter() - started


def main(databases: Databases) -> None:
    """Print it."""
    with outdoors(databases, 18460) as made:
        browser = made.device()
        browser.open(f"/outings/{outing_id(made)}")
        browser.saved()
        browser.click("Take along")
        browser.until(lambda: "on board" in browser.test_id("on-board").text, "it does not come on board", 240)
        there = min(_opened_s(made) for _ in range(TIMES))
        made.unserve()
        gone = min(_opened_s(made) for _ in range(TIMES))
    print(
        f"{'first page of a phone without a server':<52} {gone * 1000:9.2f} ms   {there / gone:8.1f} × as fast as with it ({there * 1000:.0f} ms)   goal: under 2 s"
    )
