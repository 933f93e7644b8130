"""Make docs/screenshots anew from the demo: `./ridge pictures`. Look at every one before committing it."""

from __future__ import annotations

import tempfile
from pathlib import Path
from threading import Thread

from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from lucid_ridge.core.rehearsal.mishaps import Mishap
from lucid_ridge.runtime.web import start_server, stop_server
from lucid_ridge.standins.forecast import make_server

from .browser.conftest import FLAGS, Browser, api, composition_id
from .browser.test_review import DRAWING_S, bring_in, card, to_the_field
from .cluster import throwaway_databases

BENCHES = "frame light depth exposure ways sequence"
OUT = Path(__file__).resolve().parents[1] / "docs/screenshots"


class Album:
    """Takes pictures of the screens."""

    def __init__(self, browser: Browser) -> None:
        self.browser = browser

    def theme(self, name: str) -> None:
        self.browser.driver.execute_script(f"localStorage.setItem('lucid-ridge/theme', '{name}')")

    def take(self, name: str) -> None:
        # Two frames after the last change everything is drawn.
        self.browser.driver.execute_async_script(
            "const d = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => setTimeout(d, 350)))"
        )
        self.browser.driver.save_screenshot(str(OUT / f"{name}.png"))

    def planning(self) -> None:
        b = self.browser
        b.open("/kit")
        self.theme("day")
        # The sentences of a first visit are no part of how a bench looks from then on.
        b.driver.execute_script(f"localStorage.setItem('lucid-ridge/benches-known', '{BENCHES}')")
        b.open("/")
        b.until(lambda: all("light" in tile.text for tile in b.all("[data-testid='next-light']")))
        b.until(lambda: len(b.all("[data-testid='composition'] figure svg")) >= 10)
        self.take("home")
        for path, words, name in (("/logbook", "takes", "logbook"),):
            b.open(path)
            b.shows(words)
            self.take(name)
        self.review()
        b.open(f"/compositions/{composition_id(b.base, 'Boathouse at first light')}")
        b.until(lambda: b.chip("shutter") == "1/8 s")
        b.keys("1")
        self.take("workbench-frame")
        b.keys("2")
        b.click("Light windows")
        b.shows("windows ahead")
        b.keys("f")
        b.by_xpath("//label[contains(., 'ND 6 stops')]").click()
        b.keys("\ue00c", "4")
        b.until(lambda: b.chip("shutter") == "8 s")
        self.take("workbench-exposure")
        b.mend("near_soft")
        b.keys("3")
        b.until(lambda: "near_soft" not in b.tensions())
        self.take("workbench-depth")
        b.mend("range")
        b.keys("6")
        b.shows("9 frames")
        b.saved()
        self.take("workbench-sequence")
        self.framing()
        b.open(f"/compositions/{composition_id(b.base, 'Boathouse at first light')}")
        b.until(lambda: b.chip("shutter") == "8 s")
        self.theme("night")
        b.open(b.driver.current_url.removeprefix(b.base))
        b.until(lambda: b.chip("shutter") == "8 s")
        b.keys("4")
        self.take("workbench-night")
        self.theme("day")
        b.open("/map")
        b.click("Hollin Tarn")
        b.click("Shade of the terrain")
        b.until(lambda: b.find("img[src*='/shade?at=']").get_property("naturalWidth"))
        self.take("map")
        b.open(f"/compositions/{composition_id(b.base, 'Withy in the channel')}")
        b.until(lambda: b.chip("focal_length") == "35 mm")
        b.keys("2")
        b.click("Skyline")
        b.until(lambda: "withy post" in b.test_id("arrivals").text)
        self.take("workbench-light")

    def frame(self, name: str, side: str) -> None:
        """One side of the Frame bench."""
        b = self.browser
        b.open(f"/compositions/{composition_id(b.base, name)}")
        b.until(lambda: b.chip("focal_length"))
        b.keys("1")
        b.click(side)

    def framing(self) -> None:
        b = self.browser
        b.open(f"/compositions/{composition_id(b.base, 'Stepping stones below the fold')}")
        b.until(lambda: b.chip("focal_length"))
        b.keys("5")
        b.test_id("way-way-0")
        self.take("workbench-ways")
        self.outings()

    def outings(self) -> None:
        b = self.browser
        dawn = next(o for o in api(b.base, "GET", "/api/outings")["outings"] if o["name"] == "Dawn at the tarn")
        b.open(f"/outings/{dawn['id']}")
        b.test_id("day-line-0")
        b.until(lambda: len(b.all("[data-testid='outing-map'] .leaflet-tile-loaded")) >= 6)
        self.take("outing")
        b.size(390, 844, phone=True)
        b.open(f"/outings/{dawn['id']}/pack")
        b.until(lambda: b.all("[data-testid='group-forgotten']"))
        self.take("pack")
        along = api(b.base, "POST", f"/api/outings/{dawn['id']}/along")
        boathouse = next(s["sequence"]["id"] for s in along["sequences"] if s["name"] == "Boathouse at first light")
        b.open(f"/field/{boathouse}/spot")
        b.shows("The account")
        for _ in range(3):
            b.click("Darker")
        self.take("spot")
        b.size(1280, 800)

    def rehearsal(self) -> None:
        """The frames beforehand, and a drill from them."""
        b = self.browser
        self.theme("day")
        b.open(f"/compositions/{composition_id(b.base, 'Stepping stones below the fold')}")
        b.until(lambda: b.chip("shutter"))
        b.keys("5")
        b.by_xpath("(//button[normalize-space()='See it beside'])[1]").click()
        b.until(lambda: b.test_id("beside").get_attribute("data-drawn") == "both")
        self.take("rehearsal")
        self.theme("dusk")
        b.open("/practice")
        while not b.all("[data-testid='drill-picture'] img"):
            b.test_id("drill")
            if not b.all("[data-testid='drill'] [aria-label='Answers']"):
                b.find("[data-testid='drill'] input").send_keys("1/2\n")
                b.click("Next")
                b.until(lambda: not b.all("[data-testid='judged']"))
        b.keys("1")
        b.test_id("judged")
        self.take("practice")
        self.theme("day")

    def review(self) -> None:
        """A card with a stack in which a slice was missed, brought in and looked at."""
        b = self.browser
        to_the_field(b)
        with tempfile.TemporaryDirectory() as folder:
            bring_in(b, card(Path(folder), mishaps=(Mishap(kind="missed_slice", frame=3, size=1),)))
        b.click("Make a take of them")
        b.until(lambda: b.all("[data-testid='finding']"), "nobody looks", DRAWING_S)
        take = b.driver.current_url.removeprefix(b.base)
        b.open(take)
        b.until(lambda: b.all("[data-testid='finding']"))
        self.take("take")

    def pocket(self) -> None:
        """The workbench on a phone, and what somebody sees who has nothing yet."""
        b = self.browser
        self.theme("day")
        b.open(f"/compositions/{composition_id(b.base, 'Withy in the channel')}")
        b.until(lambda: b.chip("focal_length") == "35 mm")
        b.size(390, 844, phone=True)
        b.driver.execute_script("document.getElementById('tab-depth').click()")
        b.click("Sharpness")
        b.shows("Even ruler")
        b.click("fold")
        self.take("pocket")
        b.size(1280, 800)
        for kind in ("compositions", "places", "kit"):
            listed = api(b.base, "GET", f"/api/{kind}")
            for one in listed["items" if kind == "kit" else kind]:
                api(b.base, "DELETE", f"/api/{kind}/{one['id']}")
        b.driver.execute_cdp_cmd("Emulation.setTimezoneOverride", {"timezoneId": "Europe/London"})
        b.open("/begin")
        b.shows("A guess from your time zone")
        b.until(lambda: len(b.all("[data-testid='kind'] svg")) >= 10)
        self.take("begin")

    def field(self) -> None:
        b = self.browser
        self.theme("day")
        b.open(f"/compositions/{composition_id(b.base, 'Boathouse at first light')}")
        b.until(lambda: b.chip("shutter") == "8 s")
        b.keys("6")
        b.size(390, 844, phone=True)
        b.click("Take it to the field")
        b.shows("Begin")
        b.click("Begin")
        b.click("Start")
        b.until(lambda: "0:01 gone" in b.test_id("phase").text)
        b.hold("Hold to stop and note")
        self.theme("night")
        b.open(b.driver.current_url.removeprefix(b.base))
        # The body takes its bracket by itself: which frame it has come to is not for us to say.
        b.shows("of 9, slice")
        self.take("field-night")


def main() -> None:
    """Make them all."""
    OUT.mkdir(parents=True, exist_ok=True)
    with throwaway_databases() as databases, tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        files = Path(folder) / "files"
        forecast = make_server()
        Thread(target=forecast.serve_forever, daemon=True).start()
        weather = f"http://127.0.0.1:{forecast.server_address[1]}"
        server = start_server(databases.fresh(demo=False), 18440, Path(folder) / "log", files, "demo", weather)
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for flag in [*FLAGS, f"--user-data-dir={folder}/profile"]:
            options.add_argument(flag)
        driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        try:
            browser = Browser(driver, "http://127.0.0.1:18440")
            browser.size(1280, 800)
            album = Album(browser)
            album.planning()
            album.rehearsal()
            album.field()
            album.pocket()
        finally:
            driver.quit()
            stop_server(server)


if __name__ == "__main__":
    main()
