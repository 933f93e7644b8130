"""What takes teach on screen: a look of the water that is learned, taken on, seen in the ways, and given up by Undo."""

from __future__ import annotations

import math
from typing import Any
from uuid import uuid4

from .conftest import Browser, api, composition_id

BEST_S = 0.1


def _logged(base: str, name: str) -> list[str]:
    """Takes of a composition at nine shutter times, rated the better the nearer to a tenth of a second; their ids."""
    composition = composition_id(base, name)
    opened = api(base, "GET", f"/api/compositions/{composition}")
    kit = api(base, "GET", "/api/kit")["items"]
    place = next(p for p in api(base, "GET", "/api/places")["places"] if p["id"] == opened["place_id"])["place"]
    held = {
        kind: next(i for i in kit if i["id"] == opened[f"{kind}_id"])["item"]["details"]
        for kind in ("body", "lens", "support")
    }
    filters = [i["item"]["details"] | {"id": i["id"]} for i in kit if i["item"]["kind"] == "filter"]
    takes = []
    for stops in range(-5, 4):
        scene: dict[str, Any] = {
            "place": place,
            "kit": held | {"filters": filters},
            "composition": opened["composition"],
        }
        settings = scene["composition"]["settings"] | {"compensation_stops": float(stops)}
        scene = scene | {"composition": scene["composition"] | {"settings": settings}}
        body = {"id": str(uuid4()), "composition_id": composition, "scene": scene}
        sequence = api(base, "POST", "/api/sequences", body)
        open_s = sequence["plan"]["sequence"]["frames"][0]["exposure_s"]
        stars = round(min(max(4.8 - abs(math.log2(open_s / BEST_S)), 1), 5))
        for k in range(3):
            started = f"2024-06-{10 + stops:02d}T1{k}:00:00Z"
            frames = [{"number": 1, "status": "done", "started_at": started, "exposed_s": open_s}]
            take = {
                "sequence_id": sequence["id"],
                "started_at": started,
                "ended_at": f"2024-06-{10 + stops:02d}T1{k}:04:00Z",
            }
            takes.append(str(uuid4()))
            api(base, "PUT", f"/api/takes/{takes[-1]}", take | {"frames": frames, "rating": stars})
    return takes


def _ways(browser: Browser, composition: str) -> str:
    browser.open(f"/compositions/{composition}")
    browser.until(lambda: browser.chip("shutter"))
    browser.keys("5")
    browser.until(lambda: browser.all("[data-testid^='way-way-'], [data-testid='why-not']"))
    told = browser.test_id("ways-sentence").text
    return " | ".join([told, *(one.text for one in browser.all("[data-testid^='way-way-']"))])


def test_a_learned_water_look_changes_the_ways_and_undo_takes_it_back(browser: Browser):
    stones = composition_id(browser.base, "Stepping stones below the fold")
    before = _ways(browser, stones)
    takes = _logged(browser.base, "Stepping stones below the fold")
    try:
        browser.open("/logbook?view=own")
        card = browser.test_id("learned-look-texture")
        assert "Common practice: 1/4 s to 2 s" in card.text and "rated takes those about" in card.text
        browser.click("Use my own")
        browser.until(lambda: browser.test_id("learned-look-texture").get_attribute("data-state") == "taken")
        with_own = _ways(browser, stones)
        assert with_own != before
        browser.open("/logbook?view=own")
        browser.click("Back to common practice")
        browser.until(lambda: browser.test_id("learned-look-texture").get_attribute("data-state") == "proposed")
        browser.click("Undo")
        browser.until(lambda: browser.test_id("learned-look-texture").get_attribute("data-state") == "taken")
        browser.click("Back to common practice")
        browser.until(lambda: browser.test_id("learned-look-texture").get_attribute("data-state") == "proposed")
        assert _ways(browser, stones) == before
    finally:
        for take in takes:
            api(browser.base, "DELETE", f"/api/takes/{take}")
