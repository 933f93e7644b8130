"""People: the first owner comes in by the printed link, invites another, and neither sees what is the other's."""

from __future__ import annotations

import pytest

from lucid_ridge.runtime.people import make_link
from lucid_ridge.runtime.reach import Reach
from lucid_ridge.runtime.web import listening_port, start_server, stop_server

from .conftest import Browser, fresh_page

PASSWORD = "four dull words here"


@pytest.fixture
def house(databases, tmp_path):
    """A server in which people sign in, and the link of its first owner."""
    port, url = listening_port(18450), databases.fresh(demo=False)
    process = start_server(url, port, tmp_path / "log", tmp_path / "files", reach=Reach(accounts=True))
    base = f"http://127.0.0.1:{port}"
    yield base, make_link(url, base, "owner")
    stop_server(process)


def enter(browser: Browser, label: str, text: str) -> None:
    field = browser.by_xpath(f"//label[starts-with(normalize-space(), '{label}')]/following::input[1]")
    browser.until(field.is_displayed)
    field.clear()
    field.send_keys(text)


def come_in(browser: Browser, link: str, name: str) -> None:
    browser.driver.get("about:blank")
    browser.driver.get(link)
    enter(browser, "What you want to be called", name)
    enter(browser, "Password", PASSWORD)
    browser.click("Come in")
    browser.shows("Your first picture")


def sign_in(browser: Browser, name: str, password: str = PASSWORD) -> None:
    enter(browser, "Name", name)
    enter(browser, "Password", password)
    browser.by_xpath("//form//button[normalize-space()='Sign in']").click()


def test_two_people_in_one_house(chromium, house):
    base, link = house
    browser = fresh_page(chromium, base)
    browser.open("/kit")
    browser.shows("Sign in")
    assert "Kit" not in browser.text()
    come_in(browser, link, "Ada")
    browser.open("/settings")
    browser.click("Make a link")
    browser.shows("A link to come in")
    invitation = browser.until(lambda: browser.find("[role='dialog'] code").text)
    assert invitation.startswith(f"{base}/join#")
    browser.click("Close")
    browser.open("/places")
    browser.click("Add the first place")
    browser.fill("name", "Hollow moss")
    browser.fill("position, as written or pasted", "54.1, -2.4")
    browser.click("Save")
    browser.shows("54.1000")
    # Signed out somewhere else while at work: the page stays, and goes on after signing in.
    chromium.delete_all_cookies()
    browser.more("Hollow moss", "Duplicate")
    browser.shows("Sign in again")
    sign_in(browser, "nobody")
    browser.shows("Name or password is not right")
    sign_in(browser, "ada")
    browser.until(lambda: "Sign in again" not in browser.text())
    browser.more("Hollow moss", "Duplicate")
    browser.shows("Hollow moss, copy")
    # Somebody else on the same device.
    browser.open("/settings")
    browser.click("Sign out")
    browser.shows("No account, or no password any more?")
    come_in(browser, invitation, "Ben")
    browser.open("/places")
    browser.shows("No places yet")
    assert "moss" not in browser.text()
    browser.open("/settings")
    browser.shows("Sign out on every device")
    assert "Make a link" not in browser.text()
    # Ada lets Ben look at a place, and copy it; he does.
    browser.click("Sign out")
    browser.shows("No account, or no password any more?")
    sign_in(browser, "Ada")
    browser.shows("Your first picture")
    browser.open("/places")
    browser.more("Hollow moss", "Share")
    browser.choose("with", "Ben")
    browser.by_xpath("//label[normalize-space()='they may copy it into their own']").click()
    browser.by_xpath("//*[@role='dialog']//button[normalize-space()='Share']").click()
    browser.shows("Ben may look and copy")
    browser.click("Close")
    browser.open("/settings")
    browser.click("Sign out")
    browser.shows("No account, or no password any more?")
    sign_in(browser, "Ben")
    browser.shows("Your first picture")
    browser.open("/shared")
    browser.shows("from Ada, may be copied")
    browser.by_xpath("//a[normalize-space()='Hollow moss']").click()
    browser.click("Copy into my own")
    browser.shows("It is yours now")
    browser.open("/places")
    browser.shows("54.1000")
    # A link is good once.
    chromium.get("about:blank")
    chromium.get(invitation)
    browser.shows("This link does not open anything")
    assert not browser.complaints()
