"""The whole path on the demo: workbench, mend, filters, sequence, field, logbook."""

from __future__ import annotations

from .conftest import Browser, composition_id


def test_from_the_tarn_to_a_take(browser: Browser):
    browser.open("/")
    browser.by_xpath("//a[.//*[text()='Boathouse at first light']]").click()
    browser.until(lambda: browser.chip("aperture") == "f/11")
    assert browser.chip("shutter") == "1/8 s"

    # Nudge the aperture by key: tensions follow, and back.
    before = browser.test_id("tensions").text
    browser.keys("s", "s", "s")
    browser.until(lambda: browser.chip("aperture") == "f/16")
    browser.until(lambda: browser.chip("shutter") == "1/4 s")
    browser.until(lambda: "water_look" not in browser.tensions())
    assert browser.test_id("tensions").text != before
    browser.keys("a", "a", "a")
    browser.until(lambda: browser.chip("shutter") == "1/8 s")
    browser.until(lambda: "water_look" in browser.tensions())

    # Apply a mend: the boulder is held by slices.
    assert "near_soft" in browser.tensions()
    browser.mend("near_soft")
    browser.until(lambda: "near_soft" not in browser.tensions() and "far_soft" not in browser.tensions())

    # Ten stops on an eighth of a second, with the polariser in the account.
    browser.keys("4", "f")
    browser.by_xpath("//label[contains(., 'ND 10 stops')]").click()
    browser.keys("\ue00c")
    browser.until(lambda: browser.test_id("ledger-shutter").text == "2 min 08 s")
    assert browser.chip("shutter") == "2 min 08 s"
    kinds = [row.get_attribute("data-kind") for row in browser.all("[data-testid='ledger'] tbody tr")]
    assert kinds == ["reading", "polariser", "nd"]
    assert "−1⅓" in browser.test_id("ledger").text
    browser.until(lambda: "bulb" in browser.tensions())
    browser.mend("bulb")
    browser.until(lambda: "bulb" not in browser.tensions())

    # A bracket for the range: slices times brackets.
    browser.mend("range")
    browser.until(lambda: "range" not in browser.tensions())
    browser.keys("6")
    browser.shows("9 frames: 3 slices × 3 exposures")
    browser.saved()

    # Into the field.
    browser.size(390, 844, phone=True)
    browser.click("Take it to the field")
    browser.until(lambda: "/field/" in browser.driver.current_url)
    browser.shows("slippery")
    browser.click("I am here, setting up")
    browser.shows("Here since")
    browser.click("Not yet")
    browser.click("I am here, setting up")
    # From here on time runs faster.
    browser.driver.execute_script("localStorage.setItem('lucid-ridge/clock-rate', '400')")
    browser.driver.refresh()
    browser.shows("Here since")
    browser.click("Begin")
    browser.shows("frame 1 of 9")
    browser.shows("Focus on the boulder edge")
    for number in range(1, 10):
        browser.shows(f"frame {number} of 9")
        if number == 4:
            browser.click("Skip")
            continue
        browser.click("Start")
        if number == 2:
            browser.click("Fault")
            browser.click("wind blur")
            browser.until(lambda: not browser.all("[role=dialog]"))
        if number == 5:
            # A phone that drops the page carries on where it was.
            browser.shows("frame 6 of 9")
            browser.driver.refresh()
    browser.shows("Sequence done")
    browser.shows("8 of 9 frames taken")
    browser.click("4 of 5")
    browser.fill("note", "Wind in the second frame")
    browser.click("Write the take")

    # The take is in the logbook, planned beside actual.
    browser.until(lambda: "/logbook/" in browser.driver.current_url)
    browser.size(1280, 800)
    browser.shows("set up in")
    table = browser.test_id("plan-beside-actual")
    rows = table.find_elements("css selector", "tbody tr")
    assert len(rows) == 9
    assert "skipped" in rows[3].text
    assert any("wind blur" in row.text for row in rows[1:3])
    browser.click("Logbook") if browser.all("button[aria-label='Logbook']") else browser.by_xpath(
        "//a[.='Logbook']"
    ).click()
    # What was on board shows first, and what the server has takes its place.
    browser.until(lambda: "8 of 9 frames" in browser.all("[data-testid='take']")[0].text)
    assert "Boathouse at first light" in browser.all("[data-testid='take']")[0].text
    browser.choose("fault", "wind blur (2)")
    browser.shows("2 takes")
    assert browser.complaints() == []


def test_a_take_written_without_a_connection_is_sent_later_and_once(browser: Browser):
    ident = composition_id(browser.base, "Hoar frost on heather")
    browser.open(f"/compositions/{ident}")
    browser.until(lambda: browser.chip("focal_length") == "100 mm")
    browser.keys("6")
    browser.driver.execute_script("localStorage.setItem('lucid-ridge/clock-rate', '400')")
    browser.click("Take it to the field")
    browser.click("Begin")
    browser.click("Start")
    browser.shows("Sequence done")
    browser.driver.execute_cdp_cmd("Network.enable", {})
    offline = {"offline": True, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
    browser.driver.execute_cdp_cmd("Network.emulateNetworkConditions", offline)
    browser.click("Write the take")
    browser.shows("Kept on this device")
    browser.driver.execute_cdp_cmd("Network.emulateNetworkConditions", offline | {"offline": False})
    browser.open("/logbook")
    browser.until(lambda: len([t for t in browser.all("[data-testid='take']") if "Hoar frost" in t.text]) == 2)
    browser.open("/logbook")
    browser.shows("Hoar frost")
    assert len([t for t in browser.all("[data-testid='take']") if "Hoar frost" in t.text]) == 2
