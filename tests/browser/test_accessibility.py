"""axe-core on every main view in each theme: no serious finding."""

from __future__ import annotations

from pathlib import Path

import pytest

from .conftest import Browser, api, composition_id

LIGHT = ["2 Now", "2 Skyline", "2 Light windows", "2 Sun or moon in place", "2 Day"]
DEPTH = [f"3 {side}" for side in ("Sharpness", "Schools", "Stack and check", "Close-up", "Close-up stack", "Lights")]
EXPOSURE = [f"4 {side}" for side in ("Account", "Filters", "Grad or bracket", "Motion", "Polariser", "Night")]
BENCHES = [
    "1 Camera and elements",
    "1 Wishes",
    "1 Variants",
    "1 Panorama",
    "1 Photographs",
    *LIGHT,
    *DEPTH,
    *EXPOSURE,
    "5",
    "6",
]
AXE = Path(__file__).resolve().parents[2] / "web/node_modules/axe-core/axe.min.js"


def views(base: str) -> dict[str, tuple[str, str]]:
    """Path of each view and words that show it is there."""
    tarn = composition_id(base, "Tarn turned to glass")
    take = api(base, "GET", "/api/takes")["takes"][-1]
    sequence = api(base, "GET", f"/api/takes/{take['id']}")["sequence_id"]
    dawn = next(o for o in api(base, "GET", "/api/outings")["outings"] if o["name"] == "Two days in the valley")
    return {
        "outings": ("/outings", "Dawn at the tarn"),
        "outing": (f"/outings/{dawn['id']}", "Take hold of a row"),
        "pack": (f"/outings/{dawn['id']}/pack", "Look out for"),
        "way": (f"/outings/{dawn['id']}/way", "leave Lay-by at the dam"),
        "home": ("/", "Recent takes"),
        "begin": ("/begin", "Running water"),
        "photograph": ("/begin/photograph", "Drop a photograph"),
        "places": ("/places", "Hollin Tarn"),
        "map": ("/map", "Hollin valley"),
        "kit": ("/kit", "Bodies"),
        "workbench": (f"/compositions/{tarn}", "Tensions"),
        "field": (f"/field/{sequence}", "Begin"),
        "logbook": ("/logbook", "takes"),
        "take": (f"/logbook/{take['id']}", "planned"),
        "logbook, pictures": ("/logbook?view=pictures", "no picture came back"),
        "logbook, calendar": ("/logbook?view=calendar", "2026"),
        "logbook, map": ("/logbook?view=map", "Sorrel Beck"),
        "logbook, own": ("/logbook?view=own", "Pace"),
        "logbook, works": ("/logbook?view=works", "By how it was taken"),
        "practice": ("/practice", "How far you are"),
        "review": ("/review", "Bring pictures in"),
    }


STILL = "return document.getAnimations().every((one) => one.playState !== 'running' || one.effect.getTiming().iterations === Infinity)"


def findings(browser: Browser, where: str, theme: str) -> dict[str, tuple[object, str]]:
    """What axe finds serious on the page as it is once nothing on it changes any more: colours half way are nobody's."""
    browser.until(lambda: browser.driver.execute_script(STILL))
    result = browser.driver.execute_async_script(
        "const done = arguments[arguments.length - 1]; axe.run(document, arguments[0]).then(done)",
        {"resultTypes": ["violations"]} | ({} if theme == "day" else {"runOnly": ["color-contrast"]}),
    )
    return {
        f"{where} {one['id']}": ([node["target"] for node in one["nodes"][:3]], one["nodes"][0]["failureSummary"][:200])
        for one in result["violations"]
        if one["impact"] in ("serious", "critical")
    }


PHONE = {"1", "2 Now", "3 Sharpness", "4 Account", "5", "6"}


@pytest.mark.parametrize("theme", ["day", "dusk", "night"])
def test_no_serious_finding_on_a_phone(browser: Browser, theme: str):
    """The same views at 390 px, one side of each bench; and nothing there scrolls sideways."""
    browser.open("/kit")
    browser.driver.execute_script(f"localStorage.setItem('lucid-ridge/theme', '{theme}')")
    browser.size(390, 844, phone=True)
    found, wide = {}, {}
    for name, (path, words) in views(browser.base).items():
        browser.open(path)
        browser.shows("tension" if name == "workbench" else words)
        browser.driver.execute_script(AXE.read_text())
        for bench in sorted(PHONE) if name == "workbench" else [""]:
            if bench:
                browser.keys(bench[0])
            if bench[1:]:
                browser.click(bench[1:].strip())
            found |= findings(browser, f"{name}{bench}", theme)
            width = browser.driver.execute_script("return document.documentElement.scrollWidth")
            if width > 390:
                wide[f"{name}{bench}"] = width
    assert not found, "\n".join(f"{where}: {what}" for where, what in found.items())
    assert not wide


@pytest.mark.parametrize("theme", ["day", "dusk", "night"])
def test_no_serious_finding(browser: Browser, theme: str):
    """Every rule by day; the other themes change nothing but colours."""
    browser.open("/kit")
    browser.driver.execute_script(f"localStorage.setItem('lucid-ridge/theme', '{theme}')")
    found = {}
    for name, (path, words) in views(browser.base).items():
        browser.open(path)
        browser.shows(words)
        browser.driver.execute_script(AXE.read_text())
        for bench in BENCHES if name == "workbench" else [""]:
            if bench:
                browser.keys(bench[0])
            if bench[1:]:
                browser.click(bench[1:].strip())
            found |= findings(browser, f"{name}{bench}", theme)
    assert not found, "\n".join(f"{where}: {what}" for where, what in found.items())


@pytest.mark.parametrize(("theme", "phone"), [("day", False), ("dusk", True), ("night", True)])
def test_no_serious_finding_while_rehearsing(browser: Browser, theme: str, phone: bool):
    """Every side of the rehearsal, and a drill that was answered; on a phone nothing scrolls sideways."""
    browser.open("/kit")
    browser.driver.execute_script(f"localStorage.setItem('lucid-ridge/theme', '{theme}')")
    browser.open(f"/compositions/{composition_id(browser.base, 'Stepping stones below the fold')}")
    browser.until(lambda: browser.chip("shutter"))
    browser.size(*((390, 844) if phone else (1280, 800)), phone=phone)
    browser.driver.execute_script("document.getElementById('tab-sequence').click()")
    browser.click("See the frames")
    browser.until(lambda: browser.all("[data-testid='magnifier'][data-fresh='yes']"))
    browser.driver.execute_script(AXE.read_text())
    found = {}
    for side in ("The frame", "Beside another", "Shutter times", "Apertures"):
        browser.click(side)
        browser.until(lambda: "drawing …" not in browser.text() and "Looking for" not in browser.text())
        found |= findings(browser, f"rehearsal {side}", theme)
        wide = browser.driver.execute_script("return document.documentElement.scrollWidth > innerWidth")
        assert not wide, side
    browser.open("/practice")
    browser.until(lambda: browser.all("[data-testid='drill-picture'] img, [data-testid='drill'] input"))
    browser.driver.execute_script(AXE.read_text())
    found |= findings(browser, "practice", theme)
    assert not found, "\n".join(f"{where}: {what}" for where, what in found.items())
