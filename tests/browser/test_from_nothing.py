"""From an empty database to a field sequence, without a manual."""

from __future__ import annotations

from .conftest import Browser


def test_from_an_empty_database_to_a_sequence(empty_browser: Browser):
    b = empty_browser
    b.open("/")
    b.shows("No places yet")
    b.click("Add the first place")
    b.fill("name", "Ling Moss")
    b.fill("latitude, north positive", "154.1")
    b.fill("longitude, east positive", "-2.4")
    b.fill("time zone", "Europe/London")
    b.click("Save")
    b.shows("This must be at most 90")
    b.fill("latitude, north positive", "54.1")
    b.click("Save")
    b.shows("Ling Moss")

    # A composition needs a kit; the way there is shown.
    b.click("New composition at Ling Moss")
    b.shows("Your kit has no body")
    b.open("/kit")
    for one in ("Add a body", "Add a lens", "Add a support"):
        b.click(one)
        b.click("Save")
        b.until(lambda: not b.all("[role=dialog]"))
    b.click("Add a filter")
    b.fill("costs (at most, as measured)", "ten")
    b.shows("Give a number.")
    b.fill("costs (at most, as measured)", "10")
    b.click("Save")
    b.shows("ND 10 stops")

    # Delete and bring back; duplicate.
    b.click("Duplicate ND 10 stops")
    b.shows("ND 10 stops, copy")
    b.click("Delete ND 10 stops, copy")
    b.shows("ND 10 stops, copy deleted")
    b.undo()
    b.until(lambda: b.all("[aria-label='Edit ND 10 stops, copy']"))

    b.open("/")
    b.click("New composition at Ling Moss")
    b.fill("name", "Peat pool")
    b.click("Open the workbench")
    b.until(lambda: b.chip("focal_length") == "24 mm")
    b.keys("4")
    b.shows("Predicted from the light on level ground")
    b.keys("1")
    b.click("Add an element")
    b.shows("Elements: 1")
    b.saved()
    b.keys("6")
    b.click("Take it to the field")
    b.shows("Peat pool")
    b.click("Begin")
    b.shows("frame 1 of 1")
    b.open("/logbook")
    b.shows("No takes yet")
    assert b.complaints() == []
