"""Pictures come back: a camera takes a stack by itself, a card is brought in, and what they show changes the composition."""

from __future__ import annotations

import json
import urllib.request
from datetime import timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from pydantic import TypeAdapter

from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.kinds import SetTo, TakeSlices
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.rehearsal.mishaps import Mishap
from lucid_ridge.demo.pictures import taken
from lucid_ridge.demo.valley import scene_of

from .conftest import Browser, api, composition_id

SLICED = apply_changes(scene_of("boathouse"), (TakeSlices(mode="gapless"), SetTo(setting="aperture", value=5.6)))
DRAWING_S = 25


def to_the_field(browser: Browser, scene: Scene = SLICED) -> dict[str, Any]:
    """Take a scene to the field as a sequence of the boathouse."""
    body = {
        "id": str(uuid4()),
        "composition_id": composition_id(browser.base, "Boathouse at first light"),
        "scene": TypeAdapter(Scene).dump_python(scene, mode="json"),
    }
    made: dict[str, Any] = api(browser.base, "POST", "/api/sequences", body)
    return made


def card(folder: Path, scene: Scene = SLICED, off_s: float = 0.0, mishaps: tuple[Mishap, ...] = ()) -> list[Path]:
    """The files of a card on which a sequence lies, taken by a camera with a wrong clock."""
    made = []
    began = scene.composition.moment_utc + timedelta(seconds=off_s)
    for number, data in taken(scene, began, mishaps, 1500):
        made.append(folder / f"RIDGE{number:04d}.jpg")
        made[-1].write_bytes(data)
    return made


def bring_in(browser: Browser, files: list[Path]) -> None:
    browser.open("/review")
    browser.shows("Bring pictures in")
    browser.driver.find_element("css selector", "input[type=file]").send_keys("\n".join(map(str, files)))
    browser.until(
        lambda: browser.test_id("brought").text.startswith(f"{len(files)} brought in"), "not brought in", DRAWING_S
    )


def test_the_camera_takes_a_stack_by_itself_and_what_it_took_is_in_the_take(browser: Browser):
    sequence = to_the_field(browser)
    browser.size(390, 844, phone=True)
    browser.open("/words")
    browser.driver.execute_script("localStorage.setItem('lucid-ridge/clock-rate', '20')")
    browser.open(f"/field/{sequence['id']}")
    browser.click("Begin")
    browser.click("Let the camera take them")
    browser.shows("It opens the shutter when the countdown does.")
    browser.click("Start")
    # One press: it goes on by itself, as nobody's hands are needed for the focus.
    browser.until(lambda: "Sequence done" in browser.text(), "not done", DRAWING_S)
    # The last frame is still on its way; the take waits for it.
    browser.until(lambda: browser.button("Write the take").is_enabled(), "it never comes", DRAWING_S)
    browser.click("Write the take")
    browser.until(lambda: "/logbook/" in browser.driver.current_url)
    take = browser.driver.current_url.rsplit("/", 1)[-1]
    browser.until(lambda: len(browser.all("[data-testid='sheet'] img")) == 4, "no pictures", DRAWING_S)
    browser.until(lambda: browser.all("[data-testid='finding']"), "nobody looked", DRAWING_S)
    pictures = api(browser.base, "GET", f"/api/pictures?take_id={take}")["pictures"]
    assert [one["number"] for one in pictures] == [1, 2, 3, 4]
    assert browser.complaints() == []


@pytest.mark.parametrize("trouble", ["card full", "connection lost"])
def test_what_is_wrong_with_the_camera_is_told_in_the_field_and_the_frame_waits(browser: Browser, camera, trouble):
    def wrong(what: str | None) -> None:
        data = json.dumps({"trouble": what}).encode()
        urllib.request.urlopen(urllib.request.Request(f"{camera}/v1/simulated/trouble", data, method="PUT")).close()

    sequence = to_the_field(browser)
    browser.open("/words")
    browser.driver.execute_script("localStorage.setItem('lucid-ridge/clock-rate', '20')")
    browser.open(f"/field/{sequence['id']}")
    browser.click("Begin")
    browser.click("Let the camera take them")
    wrong(trouble)
    try:
        browser.click("Start")
        browser.until(lambda: browser.all("[data-testid='camera'] [role='alert']"), "it says nothing", DRAWING_S)
        browser.shows("frame 1 of 4")
    finally:
        wrong(None)
    browser.until(lambda: browser.all("button[type='button']") and "Start" in browser.test_id("field").text)
    browser.click("Start")
    browser.until(lambda: "Sequence done" in browser.text(), "not done", DRAWING_S)
    assert browser.complaints() == []


def test_a_card_with_a_missed_slice_and_a_clock_an_hour_off(browser: Browser, tmp_path):
    to_the_field(browser)
    ident = composition_id(browser.base, "Boathouse at first light")
    before = api(browser.base, "GET", f"/api/compositions/{ident}")
    files = card(tmp_path, off_s=3600, mishaps=(Mishap(kind="missed_slice", frame=3, size=1),))
    bad = tmp_path / "broken.jpg"
    bad.write_bytes(files[0].read_bytes()[:3000])
    browser.size(1280, 800)
    bring_in(browser, files)
    browser.driver.find_element("css selector", "input[type=file]").send_keys(str(bad))
    browser.shows("broken.jpg:")
    # The hour is found from the pattern, and nothing is taken on without a press.
    browser.shows("The camera's clock was 1 h fast.")
    browser.click("Make a take of them")
    browser.until(lambda: "/logbook/" in browser.driver.current_url)
    browser.until(
        lambda: any("Slice 3," in one.text for one in browser.all("[data-testid='finding']")), "not found", DRAWING_S
    )
    # Rated by keys, which are heard as soon as the sheet has the focus.
    browser.all("[data-testid='sheet'] button img")[0].find_element("xpath", "..").click()
    browser.until(lambda: browser.all("[data-testid='loupe']"))
    browser.keys("4", "\ue014", "x", "z")
    browser.until(lambda: "2 of 4, rejected" in browser.test_id("loupe").text)
    browser.keys("\ue00c")
    take = browser.driver.current_url.rsplit("/", 1)[-1]
    browser.until(
        lambda: (
            [
                (one["rating"], one["verdict"])
                for one in api(browser.base, "GET", f"/api/pictures?take_id={take}")["pictures"][:2]
            ]
            == [(4, None), (None, "reject")]
        ),
        "not judged",
    )
    browser.click("Note the fault: missed slice")
    browser.shows("noted: missed slice")
    # What is proposed goes into the composition, and out of it again.
    button = next(b for b in browser.all("[data-testid='finding'] button") if "Name each slice" in b.text)
    browser.driver.execute_script("arguments[0].scrollIntoView({block: 'center'}); arguments[0].click()", button)
    browser.shows("In the composition: Name each slice")
    saved = api(browser.base, "GET", f"/api/compositions/{ident}")
    assert saved["composition"]["technique"]["slices"] == "manual"
    browser.click("Undo")
    browser.until(
        lambda: api(browser.base, "GET", f"/api/compositions/{ident}")["composition"] == before["composition"],
        "not undone",
    )
    assert browser.complaints() == []


def test_pictures_nobody_planned_are_put_in_the_logbook_from_the_servers_folder(browser: Browser, tmp_path):
    """A whole card laid on the server's disk: a stack and, an hour later, a single frame, long before anything was planned."""
    inbox = Path(api(browser.base, "GET", "/api/pictures/inbox")["folder"])
    old = -timedelta(days=900).total_seconds()
    for off, mishaps in ((old, ()), (old + 3600, ())):
        folder = tmp_path / f"{off:.0f}"
        folder.mkdir()
        for file in card(folder, off_s=off, mishaps=mishaps)[: 4 if off == old else 1]:
            file.rename(inbox / f"{off:.0f}-{file.name}")
    browser.size(1280, 800)
    browser.open("/review")
    browser.shows("On the server's disk: 5 files")
    browser.click("Bring in what lies there")
    browser.until(lambda: "5 brought in." in browser.text(), "not brought in", DRAWING_S)
    told = {"4 frames, focused at 4 distances", "1 frame"}
    browser.until(
        lambda: told <= {one.text.split("\n")[1] for one in browser.all("[data-testid='bundle']")}, "not told"
    )
    stack = next(one for one in browser.all("[data-testid='bundle']") if "4 distances" in one.text)
    for words in ("Look at all 4", "Put in the logbook"):
        stack.find_element("xpath", f".//button[normalize-space()='{words}']").click()
    browser.until(lambda: len(stack.find_elements("css selector", "[data-testid='sheet'] img")) == 4)
    browser.fill("Call it", "Reeds before I planned")
    browser.choose("Taken at", "Hollin Tarn")
    browser.click("Put in")
    browser.until(lambda: "/logbook/" in browser.driver.current_url)
    browser.shows("put together of its pictures")
    take = browser.driver.current_url.rsplit("/", 1)[-1]
    browser.until(lambda: len(browser.all("[data-testid='sheet'] img")) == 4)
    assert not browser.all("[data-testid='plan-beside-actual']"), "there is no plan"
    browser.open("/logbook")
    browser.shows("Reeds before I planned")
    browser.open(f"/logbook/{take}")
    browser.shows("put together of its pictures")
    assert browser.complaints() == []
    for file in inbox.iterdir():
        file.unlink()
    pictures = api(browser.base, "GET", "/api/pictures?loose=true")["pictures"]
    pictures += api(browser.base, "GET", f"/api/pictures?take_id={take}")["pictures"]
    for one in pictures:
        api(browser.base, "DELETE", f"/api/pictures/{one['id']}")
    api(browser.base, "DELETE", f"/api/takes/{take}")
