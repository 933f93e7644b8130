"""A server that goes away and comes back, and a browser that is killed and starts again on the same device."""

from __future__ import annotations

import os
import signal
import subprocess
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from selenium import webdriver
from selenium.common.exceptions import WebDriverException
from selenium.webdriver.chrome.service import Service

from lucid_ridge.runtime.web import listening_port, start_server, stop_server

from .conftest import FLAGS, Browser, api

OUTING = "Dawn at the tarn"


class Outdoors:
    """One installation and one device, each of which may be gone."""

    def __init__(self, database: str, files: Path, folder: Path, port: int) -> None:
        self._database, self._files, self._folder = database, files, folder
        self.port = port
        self.base = f"http://127.0.0.1:{port}"
        self._server: subprocess.Popen[bytes] | None = None
        self._driver: webdriver.Chrome | None = None

    @property
    def _profile(self) -> Path:
        return self._folder / "device"

    def serve(self) -> None:
        """Have the server there."""
        if self._server is None:
            self._server = start_server(self._database, self.port, self._folder / "log", self._files)

    def unserve(self, killed: bool = False) -> None:
        """Have the server gone: stopped, or with all its processes killed at once."""
        if self._server is None:
            return
        if killed:
            with suppress(ProcessLookupError):
                os.killpg(self._server.pid, signal.SIGKILL)
            self._server.wait()
        else:
            stop_server(self._server)
        self._server = None

    def requests(self) -> int:
        """How many requests the server has answered so far."""
        return (self._folder / "log").read_text(errors="replace").count('"event": "request"')

    def device(self) -> Browser:
        """The browser of the device, started where it does not run."""
        if self._driver is None:
            options = webdriver.ChromeOptions()
            options.binary_location = "/usr/bin/chromium"
            for flag in [*FLAGS, f"--user-data-dir={self._profile}"]:
                options.add_argument(flag)
            options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
            self._driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        browser = Browser(self._driver, self.base)
        browser.size(390, 844, phone=True)
        return browser

    def off(self, killed: bool = False) -> None:
        """Have the browser gone: closed, or killed with all its processes in the middle of whatever it does."""
        if self._driver is None:
            return
        if killed:
            subprocess.run(["pkill", "-9", "-f", f"user-data-dir={self._profile}"], check=False)
            with suppress(WebDriverException, OSError):
                self._driver.service.stop()
            time.sleep(0.1)
            for lock in self._profile.glob("Singleton*"):
                lock.unlink(missing_ok=True)
        else:
            self._driver.quit()
        self._driver = None


TAKING_ALONG_S = 240
"""For how long taking along is waited for: on a machine that does nothing else it takes a tenth of that."""


@contextmanager
def outdoors(databases, port: int) -> Iterator[Outdoors]:
    """An installation with the demo, served, and a device that has nothing yet."""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        made = Outdoors(databases.fresh(demo=True), databases.files, Path(folder), listening_port(port))
        try:
            made.serve()
            yield made
        finally:
            made.off(killed=True)
            made.unserve()


def outing_id(made: Outdoors) -> str:
    """The outing at dawn."""
    listed = api(made.base, "GET", "/api/outings")["outings"]
    return str(next(o["id"] for o in listed if o["name"] == OUTING))
