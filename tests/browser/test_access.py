"""Every screen as those meet it who hear it, see little colour, use keys or a finger; and whole in German.

The rules are those of WCAG 2.2, levels A and AA, as axe-core checks them; what it advises beyond them counts too.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator
from contextlib import suppress
from typing import Any

import pytest
from selenium import webdriver
from selenium.common.exceptions import TimeoutException
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from ..english import english as told_in_english
from .conftest import ROOT
from .drive import Seen, all_done, ask, see, wait

AXE = (ROOT / "frontend/node_modules/axe-core/axe.min.js").read_text()
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
# What floats over a page hangs at the end of it, outside of its landmarks; who opens it is led there and back.
OFF = {"region": {"enabled": False}}
CHECK = """
const [options, done] = arguments
axe.run(document, options).then(r => done(r.violations.map(v => [v.id, v.nodes.map(n => n.target.join(' ') + ': ' + n.html.slice(0, 120))])))
"""
REST = """
const done = arguments[0]
let last = performance.now()
const watcher = new MutationObserver(() => (last = performance.now()))
watcher.observe(document, {subtree: true, childList: true, attributes: true})
const began = last
const look = () => performance.now() - last > 350 || performance.now() - began > 6000
  ? (watcher.disconnect(), done(true)) : setTimeout(look, 50)
look()
"""
SAID = """
const said = new Set()
const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
while (walk.nextNode())
  if (!walk.currentNode.parentElement.closest('.mono, del, ins, [translate=no]')) said.add(walk.currentNode.textContent.trim())
for (const e of document.querySelectorAll('[aria-label], [title], [placeholder]'))
  for (const name of ['aria-label', 'title', 'placeholder']) said.add((e.getAttribute(name) || '').trim())
return [...said].filter(Boolean)
"""
PLACES = [
    "/today",
    "/folders",
    "/names",
    "/names/missing",
    "/names/twice",
    "/matches",
    "/catalog",
    "/catalog/films",
    "/catalog/films/by/director",
    "/catalog/series",
    "/catalog/music",
    "/catalog/songs",
    "/catalog/music/folders",
    "/catalog/photos",
    "/catalog/photos/albums",
    "/catalog/photos/map",
    "/catalog/photos/folders",
    "/catalog/photos/by/town",
    "/catalog/lists",
    "/catalog/list/{list}",
    "/catalog/with?field=directors&value={person}",
    "/catalog/entry/{films}",
    "/catalog/entry/{series}",
    "/catalog/entry/{music}",
    "/catalog/entry/{photos}",
    "/play/{films}",
    "/house",
    "/house/conventions",
    "/you",
    "/code",
]
"""Where one can be; those without the frame are of who is not signed in."""
STRANGER_PLACES = ["/welcome", "/invitation/none", "/s/none", "/television"]
LOOKS = [(1280, "light"), (1280, "dark"), (390, "light"), (390, "dark")]
"""Pixels wide, and light or dark."""


def rest(browser: webdriver.Chrome) -> None:
    """Wait until the page changes no more."""
    browser.execute_async_script(REST)


def look(browser: webdriver.Chrome, width: int, theme: str) -> None:
    """A screen of another width, and what the system says of light or dark."""
    browser.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride",
        {"width": width, "height": 800, "deviceScaleFactor": 1, "mobile": width < 500},
    )
    features = [("prefers-color-scheme", theme), ("prefers-reduced-motion", "reduce")]
    browser.execute_cdp_cmd(
        "Emulation.setEmulatedMedia", {"features": [{"name": name, "value": value} for name, value in features]}
    )


def wrong(browser: webdriver.Chrome) -> list[str]:
    """What a page does wrong, and where."""
    with suppress(TimeoutException):  # pages have a heading when what they show has come; a player has none
        wait(browser, lambda b: b.find_elements(By.TAG_NAME, "h1"), 10)
    rest(browser)
    browser.execute_script(AXE)
    options = {"runOnly": {"type": "tag", "values": TAGS}, "rules": OFF, "resultTypes": ["violations"]}
    found = browser.execute_async_script(CHECK, options)
    return [f"{rule} {where}" for rule, places in found for where in places[:3]]


def clean(found: dict[str, list[str]]) -> None:
    """Nothing was found anywhere; else everything that was, by place."""
    bad = {place: told for place, told in found.items() if told}
    assert not bad, json.dumps(bad, indent=1, ensure_ascii=False)


@pytest.fixture(scope="module")
def ids(browser: webdriver.Chrome, address: str) -> dict[str, Any]:
    """The demo's household with everything in, and what to look at of each kind."""
    browser.set_script_timeout(60)
    browser.get(address)
    see(browser, "h1", "A place for everything")
    ask(browser, "/api/setup", "POST", {"name": "Odile", "password": "tidewrack 9", "language": "en"})
    browser.get(address)
    see(browser, "[data-test=add-all]").click()
    see(browser, "h1", "What came in")
    all_done(browser)
    found: dict[str, Any] = {}
    for shelf in ("films", "series", "music", "photos"):
        entries = ask(browser, f"/api/shelves/{shelf}")["entries"]
        pages = (ask(browser, f"/api/entries/{one['id']}") for one in entries if one["kind"] != "clip")
        known = shelf in ("films", "series")
        page = next(page for page in pages if page["credits"] or not known)
        found[shelf] = page["card"]["id"]
        found["person"] = page["credits"][0]["name"] if known else found["person"]
    held = {"name": "For a wet Sunday", "entry_ids": [found["films"], found["series"]]}
    found["list"] = ask(browser, "/api/lists", "POST", held)["id"]
    return found


@pytest.fixture(autouse=True)
def as_before(browser: webdriver.Chrome) -> Iterator[None]:
    """Other tests look at a wide, light screen."""
    yield
    look(browser, 1280, "light")


def test_every_screen_is_looked_at() -> None:
    text = (ROOT / "frontend/src/router.ts").read_text()
    known = [re.sub(r"\{\w+\}", "1", place.partition("?")[0]) for place in PLACES + STRANGER_PLACES]
    paths = [path for path in re.findall(r"path: '([^']+)'", text) if path != "/" and ":rest" not in path]
    forms = [re.sub(r":\w+(\([^/]*?\))?(\?)?", "[^/]+", path.replace("/:code?", "(/[^/]+)?")) for path in paths]
    forms = [form.replace("/conventions/[^/]+", "/conventions(/[^/]+)?") for form in forms]
    missed = [path for path, form in zip(paths, forms, strict=True) if not any(re.fullmatch(form, k) for k in known)]
    assert missed == ["/s/:share/play/:id(\\\\d+)"]  # the same page as /play


@pytest.mark.parametrize(("width", "theme"), LOOKS)
def test_no_screen_breaks_a_rule(
    browser: webdriver.Chrome, address: str, ids: dict[str, Any], width: int, theme: str
) -> None:
    look(browser, width, theme)
    found: dict[str, list[str]] = {}
    for place in PLACES:
        browser.get(address + place.format(**ids))
        found[place] = wrong(browser)
    clean(found)


def press(browser: webdriver.Chrome, css: str, nth: int = 0) -> None:
    """Press the nth of what is found, as the page has it at that moment."""

    def found(b: webdriver.Chrome) -> WebElement | None:
        shown = b.find_elements(By.CSS_SELECTOR, css)
        return shown[nth] if len(shown) > nth and any(one.is_displayed() for one in shown) else None

    Seen(wait(browser, found), lambda: wait(browser, found)).click()


def keys(browser: webdriver.Chrome, *pressed: str) -> None:
    """Press keys, one after another, each when the page has come to rest."""
    for key in pressed:
        rest(browser)
        ActionChains(browser).send_keys(key).perform()


def find(browser: webdriver.Chrome, words: str = "") -> None:
    """The search box, with words in it."""
    ActionChains(browser).key_down(Keys.CONTROL).send_keys("k").key_up(Keys.CONTROL).perform()
    if words:
        browser.switch_to.active_element.send_keys(words)
        see(browser, "[role=option]")


def forget(browser: webdriver.Chrome) -> None:
    """What the page remembers of this person, so that each begins alike."""
    browser.execute_script("localStorage.clear(); sessionStorage.clear()")


State = tuple[str, Callable[[webdriver.Chrome], None], str]
STATES: dict[str, State] = {
    "keys": ("/catalog", lambda b: keys(b, "?"), "[role=dialog]"),
    "hints": ("/catalog", find, "[data-test=filter-hints]"),
    "search": ("/catalog", lambda b: find(b, "the"), "[role=option]"),
    "front arranged": ("/catalog", lambda b: press(b, ".arrange"), ".row .acts"),
    "film kept": ("/catalog/entry/{films}", lambda b: press(b, "[data-test=keep]"), ".pen"),
    "series kept": (
        "/catalog/entry/{series}",
        lambda b: press(b, "[data-test=keep]"),
        "[data-test=keep][aria-pressed=true]",
    ),
    "album kept": ("/catalog/entry/{music}", lambda b: press(b, "[data-test=keep]"), ".pen"),
    "photo kept": (
        "/catalog/entry/{photos}",
        lambda b: press(b, "[data-test=keep]"),
        "[data-test=keep][aria-pressed=true]",
    ),
    "note": ("/catalog/entry/{films}", lambda b: press(b, "[data-test=note]"), "[data-test=note-text]"),
    "to a list": ("/catalog/entry/{films}", lambda b: press(b, "[data-test=to-list]"), "[data-test=list-name]"),
    "episode": ("/catalog/entry/{series}", lambda b: press(b, ".cell.there, .cell"), "[data-test=episode-panel]"),
    "narrowing films": ("/catalog/films", lambda b: press(b, "[data-test=narrow]"), "[data-test=narrow-panel]"),
    "narrowing photos": ("/catalog/photos", lambda b: press(b, "[data-test=narrow]"), "[data-test=narrow-panel]"),
    "several": (
        "/catalog/films",
        lambda b: (press(b, "[data-test=pick]"), press(b, ".tile"), press(b, ".tile", 1))[0],
        ".tile.picked",
    ),
    "light table": ("/catalog/photos", lambda b: press(b, ".shot:not(:has(.clip))"), "[data-test=told]"),
    "light table, told": (
        "/catalog/photos",
        lambda b: (press(b, ".shot:not(:has(.clip))"), press(b, "[data-test=told]"))[0],
        "[data-test=light-facts]",
    ),
    "heap": ("/catalog/photos/map", lambda b: press(b, "[data-test=heap]"), "[data-test=heap-panel]"),
    "plan": ("/names", lambda b: keys(b, "a", Keys.ENTER), ".plan, [data-test=plan], h1"),
    "name edited": ("/names?check=release-words", lambda b: keys(b, "e"), ".edit input"),
    "folder": ("/folders", lambda b: press(b, ".files .row"), ".story"),
    "player": ("/catalog/entry/{music}", lambda b: press(b, "[data-test=play]"), "[data-test=open-queue]"),
    "queue": (
        "/catalog/entry/{music}",
        lambda b: (press(b, "[data-test=play]"), press(b, "[data-test=open-queue]"))[0],
        "[data-test=queue]",
    ),
    "lyrics": (
        "/catalog/entry/{music}",
        lambda b: (press(b, "[data-test=play]"), press(b, "[data-test=open-lyrics]"))[0],
        "[data-test=lyrics]",
    ),
    "film told": ("/play/{films}", lambda b: keys(b, "i"), "video"),
}
"""What opens on a page: where, how, and what is then there."""


@pytest.mark.parametrize(("width", "theme"), [(1280, "light"), (390, "dark")])
def test_nothing_that_opens_breaks_a_rule(
    browser: webdriver.Chrome, address: str, ids: dict[str, Any], width: int, theme: str
) -> None:
    look(browser, width, theme)
    found: dict[str, list[str]] = {}
    for name, (place, act, sign) in STATES.items():
        browser.get(address + place.format(**ids))
        rest(browser)
        act(browser)
        see(browser, sign)
        found[name] = wrong(browser)
        forget(browser)
    clean(found)


def english_only() -> set[str]:
    """Words that only English says: what a German page must not show."""
    told = {}
    for language in ("en", "de"):
        text = (ROOT / f"frontend/src/locales/{language}.ts").read_text()
        told[language] = {
            (one or other).replace("\\'", "'")
            for one, other in re.findall(r": '((?:[^'\\]|\\.)*)'|: \"([^\"]*)\"", text)
        }
    return {word for word in told["en"] - told["de"] if "{" not in word and "|" not in word and len(word) > 2}


def left_english(browser: webdriver.Chrome, english: set[str]) -> list[str]:
    """What a page says in English: words of the screens, and what the server told it."""
    said = set(browser.execute_script(SAID))
    return sorted({*english.intersection(said), *told_in_english(list(said))})


def test_german_is_whole(browser: webdriver.Chrome, address: str, ids: dict[str, Any]) -> None:
    english = english_only()
    english -= {library["name"] for library in ask(browser, "/api/libraries")["libraries"]}
    assert english > {"Today", "Write a note", "What is missing"}
    looks = {"theme": "system", "cards": "medium", "hides": [], "tells_seen": False}
    ask(browser, "/api/me/looks", "PUT", {**looks, "language": "de"})
    found: dict[str, list[str]] = {}
    for place in PLACES:
        browser.get(address + place.format(**ids))
        rest(browser)
        assert browser.execute_script("return document.documentElement.lang") == "de"
        found[place] = left_english(browser, english)
    for name, (place, act, sign) in STATES.items():
        browser.get(address + place.format(**ids))
        rest(browser)
        act(browser)
        see(browser, sign)
        found[name] = left_english(browser, english)
        forget(browser)
    ask(browser, "/api/me/looks", "PUT", {**looks, "language": "en"})
    clean(found)


def test_who_is_not_signed_in_meets_no_broken_rule(stranger: webdriver.Chrome, address: str) -> None:
    stranger.set_script_timeout(60)
    found: dict[str, list[str]] = {}
    for width, theme in LOOKS:
        look(stranger, width, theme)
        for place in STRANGER_PLACES:
            stranger.get(address + place)
            found[f"{place} {width} {theme}"] = wrong(stranger)
    clean(found)
