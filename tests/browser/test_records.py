"""Places, kit and logbook on screen: change, conflict, delete, review; units and themes."""

from __future__ import annotations

import urllib.request
from uuid import uuid4

import pytest

from .conftest import Browser, api, composition_id


def make_place(browser: Browser, name: str) -> str:
    place = {"name": name, "latitude_deg": 54.0, "longitude_deg": -2.0, "time_zone": "Europe/London"}
    return str(api(browser.base, "POST", "/api/places", {"place": place})["id"])


def test_a_place_is_changed_copied_deleted_and_brought_back(browser: Browser):
    name = f"Gill {uuid4().hex[:5]}"
    make_place(browser, name)
    browser.open("/places")
    browser.click(f"Edit {name}")
    browser.fill("hazards", "Loose scree above the path.")
    browser.click("Save")
    browser.shows("Loose scree above the path.")
    browser.more(name, "Duplicate")
    browser.shows(f"{name}, copy")
    browser.more(f"{name}, copy", "Delete")
    browser.shows(f"{name}, copy deleted")
    browser.until(lambda: not browser.all(f"[aria-label='Edit {name}, copy']"))
    browser.undo()
    browser.until(lambda: browser.all(f"[aria-label='Edit {name}, copy']"))


def test_a_place_changed_elsewhere_is_not_overwritten_unasked(browser: Browser):
    name = f"Cove {uuid4().hex[:5]}"
    ident = make_place(browser, name)
    browser.open("/places")
    browser.click(f"Edit {name}")
    saved = next(p for p in api(browser.base, "GET", "/api/places")["places"] if p["id"] == ident)
    theirs = {"version": 1, "place": saved["place"], "access": "By the other gate."}
    api(browser.base, "PUT", f"/api/places/{ident}", theirs)
    browser.fill("access", "By the stile.")
    browser.click("Save")
    browser.shows("was saved elsewhere meanwhile")
    browser.shows("By the other gate.")
    browser.click("Save mine over it")
    browser.shows("By the stile.")


def test_a_bad_coordinate_is_told_beside_its_field_and_nothing_is_lost(browser: Browser):
    browser.open("/places")
    browser.click("New place")
    browser.fill("name", "Nowhere")
    browser.fill("longitude, east positive", "181")
    browser.fill("access", "A long way round.")
    browser.click("Save")
    browser.shows("This must be at most 180")
    field = browser.by_xpath("//label[normalize-space()='access']/following::textarea[1]")
    assert field.get_attribute("value") == "A long way round."


def test_a_lens_that_was_deleted_is_told_on_the_workbench(browser: Browser):
    kit = {i["item"]["details"]["name"]: i for i in api(browser.base, "GET", "/api/kit")["items"]}
    copy = api(browser.base, "POST", f"/api/kit/{kit['16-35 mm f/4']['id']}/duplicate")
    ident = composition_id(browser.base, "Tarn turned to glass")
    made = api(browser.base, "POST", f"/api/compositions/{ident}/duplicate")
    change = {k: v for k, v in made.items() if k not in ("id", "updated_at")} | {"lens_id": copy["id"]}
    change["composition"]["settings"] |= {"focal_length_mm": 24, "aperture_n": 8}
    api(browser.base, "PUT", f"/api/compositions/{made['id']}", change)
    api(browser.base, "DELETE", f"/api/kit/{copy['id']}")
    browser.open(f"/compositions/{made['id']}")
    browser.shows("The lens this composition uses was deleted")
    browser.keys("1")
    browser.choose("lens", "24-70 mm f/2.8")
    browser.until(lambda: browser.chip("focal_length") == "24 mm")
    assert "was deleted" not in browser.text()
    browser.saved()


def test_a_take_is_rated_noted_and_its_faults_changed(browser: Browser):
    takes = api(browser.base, "GET", "/api/takes")["takes"]
    take = next(t for t in takes if t["composition_name"] == "Sundew leaf with dew")
    browser.open(f"/logbook/{take['id']}")
    browser.click("2 of 5")
    browser.until(lambda: api(browser.base, "GET", f"/api/takes/{take['id']}")["rating"] == 2)
    browser.click("Add a fault")
    browser.click("stack artefacts")
    browser.until(lambda: browser.all("[aria-label='Remove fault stack artefacts']"))
    browser.fill("note", "Halo on the upper drops")
    browser.until(lambda: api(browser.base, "GET", f"/api/takes/{take['id']}")["note"] == "Halo on the upper drops")
    assert api(browser.base, "GET", f"/api/takes/{take['id']}")["faults"] == ["stack artefacts"]
    browser.click("Delete")
    browser.shows("Take deleted")
    browser.undo()
    browser.shows("Halo on the upper drops")


def test_feet_and_theme_are_remembered(browser: Browser):
    ident = composition_id(browser.base, "Tarn turned to glass")
    browser.open(f"/compositions/{ident}")
    browser.until(lambda: browser.chip("focus").endswith(" m"))
    browser.keys("1")
    browser.click("ft")
    browser.until(lambda: "ft" in browser.chip("focus"))
    browser.by_xpath("//button[contains(., 'Dusk') and contains(., 'Night')]").click()
    browser.open(f"/compositions/{ident}")
    browser.until(lambda: "ft" in browser.chip("focus"))
    assert browser.driver.execute_script("return document.documentElement.dataset.theme") == "dusk"
    browser.driver.execute_script("localStorage.clear()")


def test_a_page_that_is_not_there_shows_the_way_back(browser: Browser):
    browser.open("/nowhere/at/all")
    browser.shows("Nothing at this address")
    browser.by_xpath("//a[.='To the home page']").click()
    browser.shows("Boathouse at first light")


def test_a_place_is_made_from_a_pasted_position(browser: Browser):
    browser.open("/places")
    browser.click("New place")
    browser.fill("name", "Brant Edge")
    browser.fill("position, as written or pasted", "somewhere up there")
    browser.shows("This is no position.")
    browser.fill("position, as written or pasted", "45 30.5 S 170 12.25 E")
    latitude = browser.by_xpath("//label[normalize-space()='latitude, north positive']/following::input[1]")
    browser.until(lambda: latitude.get_attribute("value").startswith("-45.508"))
    zone = browser.by_xpath("//label[normalize-space()='time zone']/following::input[1]")
    assert zone.get_attribute("value") == "Pacific/Auckland"
    browser.click("Save")
    browser.shows("Brant Edge")
    made = next(p for p in api(browser.base, "GET", "/api/places")["places"] if p["place"]["name"] == "Brant Edge")
    assert made["place"]["longitude_deg"] == pytest.approx(170 + 12.25 / 60)
    api(browser.base, "DELETE", f"/api/places/{made['id']}")


def test_everything_is_written_out_and_taken_in_again(browser: Browser, tmp_path):
    browser.open("/settings")
    browser.click("Write it out")
    link = browser.by_xpath("//a[normalize-space()='Download']")
    path = str(link.get_attribute("href")).removeprefix(browser.base)
    with urllib.request.urlopen(browser.base + path) as answer:
        (tmp_path / "everything.zip").write_bytes(answer.read())
    browser.find("input[aria-label='An archive to take in']").send_keys(str(tmp_path / "everything.zip"))
    browser.shows("Nothing new in it: all of it is here already.")
    (tmp_path / "no.zip").write_bytes(b"no archive")
    browser.find("input[aria-label='An archive to take in']").send_keys(str(tmp_path / "no.zip"))
    browser.shows("This is no archive that Lucid Ridge wrote")
    browser.click("Forget: Taking an archive in")
    browser.until(lambda: "Nothing new in it" not in browser.text())
    browser.open("/jobs")
    browser.shows("In the background")
    browser.click("Forget: Everything you own, as one file")
    browser.shows("Nothing goes on")
    assert not browser.complaints()
