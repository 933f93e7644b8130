"""The logbook on screen: chosen by words and season, as pictures, by days, on the map, and what it adds up to."""

from __future__ import annotations

from .conftest import Browser


def _takes(browser: Browser) -> int:
    return len(browser.all("[data-testid='take']"))


def test_takes_are_found_by_words_and_what_is_chosen_stays_in_the_address(browser: Browser):
    browser.open("/logbook")
    browser.until(lambda: _takes(browser) == 9)
    browser.fill("words", "wind refl")
    browser.until(lambda: _takes(browser) == 1)
    browser.shows("wind on the reflection")
    assert "words=wind" in browser.driver.current_url
    browser.driver.refresh()
    browser.until(lambda: _takes(browser) == 1)
    browser.fill("words", "nothing like it")
    browser.shows("No take fits")
    browser.click("Show all")
    browser.until(lambda: _takes(browser) == 9)
    browser.choose("season", "autumn")
    browser.choose("rated", "5")
    browser.until(lambda: _takes(browser) == 1)
    browser.shows("Two minutes of flat calm")
    table = browser.by_xpath("//a[contains(., 'table (CSV)')]").get_attribute("href") or ""
    assert "rating=5" in table and "season=autumn" in table and "form=csv" in table


def test_a_day_of_the_calendar_shows_its_pictures(browser: Browser):
    browser.open("/logbook?view=calendar")
    browser.until(lambda: browser.test_id("calendar-year").text == "2026")
    browser.find("[aria-label^='17 Oct: 2 takes']").click()
    browser.until(lambda: len(browser.all("[data-testid='take-card']")) == 2)
    browser.until(lambda: len(browser.all("[data-testid='take-card'] img")) == 1)
    assert "day=2026-10-17" in browser.driver.current_url
    browser.find("[aria-label='Not just 2026-10-17']").click()
    browser.until(lambda: len(browser.all("[data-testid='take-card']")) == 9)


def test_a_place_on_the_map_shows_its_pictures(browser: Browser):
    browser.open("/logbook?view=map")
    browser.until(lambda: len(browser.all("[data-testid='takes-map'] .leaflet-marker-icon")) == 3)
    mark = browser.find("[data-testid='takes-map'] .leaflet-marker-icon[title^='Sorrel Beck: 2 takes']")
    browser.driver.execute_script("arguments[0].click()", mark)
    browser.until(lambda: len(browser.all("[data-testid='take-card']")) == 2)


def test_what_works_and_the_seasons_of_a_place(browser: Browser):
    browser.open("/logbook?view=works")
    browser.until(lambda: "9 of 9 takes are rated" in browser.test_id("works").text)
    for title in ("By where the sun stood", "Running water by shutter time", "What went wrong, by year"):
        assert title in browser.test_id("works").text
    browser.choose("place", "Hollin Tarn (4)")
    browser.until(lambda: len(browser.all("[data-testid='season']")) == 4)
    autumn = browser.all("[data-testid='season']")[3].text
    assert "autumn" in autumn and "4 takes" in autumn and "Tarn turned to glass" in autumn
    assert "not there yet" in browser.all("[data-testid='season']")[0].text
    tab = browser.find("#tab-works")
    tab.send_keys("\ue012")  # the left arrow
    browser.until(lambda: browser.find("#tab-map").get_attribute("aria-selected") == "true")
