"""A household in real browsers: an invitation is redeemed, a PIN lifts an age,
somebody tidies, the router opens a port."""

from __future__ import annotations

import http.client
from collections.abc import Iterator

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from indice.standins.router import FakeRouter

from .conftest import ssdp_port
from .drive import ask, see, wait


def sign_in(browser: webdriver.Chrome, address: str, name: str, password: str) -> None:
    """As somebody, in a browser in which nobody else is any more."""
    browser.get("about:blank")
    browser.execute_cdp_cmd("Network.clearBrowserCookies", {})
    browser.get(f"{address}/welcome")
    see(browser, "h1", "Good to see you")
    browser.find_element(By.NAME, "name").send_keys(name)
    browser.find_element(By.NAME, "password").send_keys(password, Keys.ENTER)
    wait(browser, lambda b: "/catalog" in b.current_url)


def titles(browser: webdriver.Chrome) -> int:
    return len(browser.find_elements(By.CSS_SELECTOR, "a.tile"))


def test_what_a_shelf_is_narrowed_down_to_is_kept_as_a_list_that_fills_itself(
    browser: webdriver.Chrome, empty: str, films: dict[str, int]
) -> None:
    browser.get(f"{empty}/catalog/films?filter=year:2000-")
    wait(browser, lambda b: titles(b) == 2)
    see(browser, "[data-test=keep-narrowing]").click()
    name = see(browser, "[data-test=narrowing-name]")
    assert name.get_attribute("value") == "year:2000-"
    name.clear()
    name.send_keys("Of this century", Keys.ENTER)
    see(browser, "h1", "Of this century")
    rows = [one.text for one in browser.find_elements(By.CSS_SELECTOR, "[data-place]")]
    assert ["Kettle Morning" in rows[0], "Wren Parade" in rows[1], len(rows)] == [True, True, 2]
    assert not browser.find_elements(By.CSS_SELECTOR, "[data-place] .out"), "nothing is taken out by hand"
    see(browser, "[data-test=rule]").click()
    wait(browser, lambda b: "filter=year:2000-" in b.current_url and titles(b) == 2)


def test_filters_are_offered_while_one_types(browser: webdriver.Chrome, empty: str, films: dict[str, int]) -> None:
    browser.get(f"{empty}/catalog/films")
    box = see(browser, "[role=search] input")
    box.click()
    assert "kind:film" in see(browser, "[data-test=filter-hints]").text
    box.send_keys("is:")
    see(browser, "#found button", "is:unseen").click()
    wait(browser, lambda b: box.get_attribute("value") == "is:unseen ")
    box.send_keys("kind:film year:1998")
    wait(browser, lambda b: [o.text for o in b.find_elements(By.CSS_SELECTOR, "#found .title")] == ["Slow Tin"])
    box.send_keys(Keys.ENTER)
    see(browser, "h1", "Slow Tin")


def test_an_invitation_is_redeemed_in_a_fresh_browser_and_leads_to_what_it_says(
    browser: webdriver.Chrome, stranger: webdriver.Chrome, empty: str, films: dict[str, int]
) -> None:
    browser.get(f"{empty}/house")
    see(browser, "[data-test=invite]").click()
    section = see(browser, "[data-test=invitations]")
    for tick in section.find_elements(By.CSS_SELECTOR, "fieldset input[type=checkbox]"):
        if not tick.is_selected():
            tick.click()
    see(browser, "[data-test=make-invitation]").click()
    link = see(browser, "[data-test=made-link]").text
    stranger.get(link)
    see(stranger, "body", "Odile")
    stranger.find_element(By.NAME, "name").send_keys("Bram")
    stranger.find_element(By.NAME, "password").send_keys("nine tin cups", Keys.ENTER)
    wait(stranger, lambda b: "/catalog" in b.current_url)
    stranger.get(f"{empty}/catalog/films")
    wait(stranger, lambda b: titles(b) == len(films))
    tabs = stranger.find_element(By.TAG_NAME, "nav").text
    assert "Catalog" in tabs and "House" not in tabs and "Names" not in tabs
    stranger.get(f"{empty}/house")
    wait(stranger, lambda b: b.current_url.endswith("/catalog"))
    stranger.get("about:blank")
    stranger.execute_cdp_cmd("Network.clearBrowserCookies", {})
    stranger.get(link)
    wait(stranger, lambda b: not b.find_elements(By.NAME, "password"))  # it was for one use


def test_a_pin_lifts_the_age_in_this_browser_until_it_holds_again(
    browser: webdriver.Chrome, stranger: webdriver.Chrome, empty: str, films: dict[str, int]
) -> None:
    child = {"name": "Nell", "password": "paper boat 7", "libraries": ["Films"], "age": 10, "pin": "4711"}
    ask(browser, "/api/people", "POST", child)
    sign_in(stranger, empty, "Nell", "paper boat 7")
    stranger.get(f"{empty}/catalog/entry/{next(iter(films.values()))}")
    see(stranger, "body", "There is no such entry")
    stranger.get(f"{empty}/you")
    pin = see(stranger, "input[inputmode=numeric]")
    pin.send_keys("4711", Keys.ENTER)
    see(stranger, "body", "The limit is lifted")
    stranger.get(f"{empty}/catalog/films")
    wait(stranger, lambda b: titles(b) == len(films))
    stranger.get(f"{empty}/you")
    see(stranger, "button", "hold again").click()
    see(stranger, "input[inputmode=numeric]")
    stranger.get(f"{empty}/catalog/entry/{next(iter(films.values()))}")
    see(stranger, "body", "There is no such entry")


def test_looks_follow_a_person(browser: webdriver.Chrome, stranger: webdriver.Chrome, empty: str) -> None:
    sign_in(stranger, empty, "Bram", "nine tin cups")
    stranger.get(f"{empty}/you")
    see(stranger, "[data-test=looks]")
    stranger.find_element(By.CSS_SELECTOR, "input[value=dark]").click()
    html = "return document.documentElement.dataset.theme"
    wait(stranger, lambda b: b.execute_script(html) == "dark")
    stranger.refresh()
    wait(stranger, lambda b: b.execute_script(html) == "dark")
    assert browser.execute_script(html) == "light", "of others nothing changes"


@pytest.fixture
def router() -> Iterator[FakeRouter]:
    made = FakeRouter(outside="127.0.0.9", port=ssdp_port())
    made.start()
    yield made
    made.stop()


def test_the_router_opens_a_port_when_it_is_wanted_and_closes_it(
    browser: webdriver.Chrome, empty: str, films: dict[str, int], router: FakeRouter
) -> None:
    port = int(empty.rpartition(":")[2])
    browser.get(f"{empty}/house")
    panel = see(browser, "[data-test=from-away]")
    panel.find_element(By.CSS_SELECTOR, ".head button").click()
    see(browser, "[data-test=from-away]", "passes nothing on")
    assert not router.opened, "it only looks"
    see(browser, "[data-test=open-port]").click()
    see(browser, "[data-test=from-away]", f"passes port {port} on")
    assert list(router.opened) == [port]
    outside = http.client.HTTPConnection("127.0.0.9", port, timeout=10)
    outside.request("GET", "/api/status")
    assert outside.getresponse().status == 200
    see(browser, "[data-test=open-port]").click()
    see(browser, "[data-test=from-away]", "passes nothing on")
    wait(browser, lambda _: not router.opened)
