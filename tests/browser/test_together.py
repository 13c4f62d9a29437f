"""Two browsers on one film: the same moment, one stops for both, an opening is skipped; and a text is found for it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.playing.zoo import Animal, make, run

from .conftest import chromium
from .drive import all_done, ask, see, wait

LONG = "-c:v libx264 -preset ultrafast -pix_fmt yuv420p -g 50 -c:a aac"
CHAPTERS = ";FFMETADATA1\n" + "".join(
    f"[CHAPTER]\nTIMEBASE=1/1\nSTART={start}\nEND={end}\ntitle={title}\n"
    for start, end, title in ((0, 2, "Cold open"), (2, 12, "Opening"), (12, 20, "The weir"))
)
MOMENT = "const v = document.querySelector('video'); return v && [performance.timeOrigin + performance.now(), v.currentTime, v.paused]"


@pytest.fixture(scope="module")
def second() -> Iterator[webdriver.Chrome]:
    """Another browser, of somebody else."""
    with chromium() as made:
        yield made


@pytest.fixture(scope="module")
def film(browser: webdriver.Chrome, empty: str, tmp_path_factory: pytest.TempPathFactory) -> int:
    """A film with chapters, in a library that both see; its number."""
    folder = tmp_path_factory.mktemp("films")
    place = folder / "Weir House (1983)"
    about = folder / "chapters.txt"
    about.write_text(CHAPTERS)
    made = make(Animal("weir.mp4", LONG, "direct"), place)
    run(
        "ffmpeg",
        "-v",
        "error",
        "-i",
        made,
        "-i",
        about,
        "-map_metadata",
        "1",
        "-c",
        "copy",
        place / "Weir House (1983).mp4",
    )
    made.unlink()
    about.unlink()
    browser.get(empty)
    see(browser, "h1", "A place for everything")
    ask(browser, "/api/setup", "POST", {"name": "Odile", "password": "tidewrack 9", "language": "en"})
    ask(browser, "/api/libraries", "POST", {"name": "Films", "kind": "movies", "folders": [str(folder)]})
    all_done(browser)
    person = {"name": "Nell", "password": "tidewrack 10", "role": "member", "libraries": ["Films"], "unrated": "show"}
    ask(browser, "/api/people", "POST", person)
    return ask(browser, "/api/search?q=Weir")["entries"][0]["id"]


def moment(browser: webdriver.Chrome) -> tuple[float, float, bool]:
    found: Any = wait(browser, lambda b: b.execute_script(MOMENT))
    return found[0] / 1000, found[1], found[2]


def test_an_opening_is_skipped_by_a_key(browser: webdriver.Chrome, empty: str, film: int) -> None:
    browser.get(f"{empty}/play/{film}?from=3")
    assert "opening" in see(browser, "[data-test=skip]").text
    browser.find_element(By.TAG_NAME, "body").send_keys("s")
    assert wait(browser, lambda b: (x := moment(b)[1]) >= 12 and x) < 16
    assert not browser.find_elements(By.CSS_SELECTOR, "[data-test=skip]")


def test_the_household_is_invited_and_sees_the_same_moment(
    browser: webdriver.Chrome, second: webdriver.Chrome, empty: str, film: int
) -> None:
    second.get(empty)
    see(second, "input[name=name]").send_keys("Nell")
    second.find_element(By.CSS_SELECTOR, "input[type=password]").send_keys("tidewrack 10", Keys.ENTER)
    see(second, "nav .tab", "Catalog")
    browser.get(f"{empty}/catalog/entry/{film}")
    see(browser, "[data-test=watch-together]").click()
    see(browser, "[data-test=together]", "You are the first")
    note = see(second, "[data-test=invited]", "Odile invites you")
    assert "Weir House" in note.text
    note.find_element(By.CSS_SELECTOR, "a").click()
    see(second, "[data-test=together]", "Nell")
    see(browser, "[data-test=together]", "Odile and Nell")
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.HOME)
    browser.find_element(By.TAG_NAME, "body").send_keys(" ")
    for one in (browser, second):
        wait(one, lambda b: not (found := moment(b))[2] and found[1] > 0.5)
    apart: list[float] = []

    def is_one_moment(_: webdriver.Chrome) -> bool:
        apart.append(abs(behind(browser) - behind(second)))
        return len(apart) > 3 and max(apart[-3:]) < 0.2

    assert wait(browser, is_one_moment, 15), apart


def behind(browser: webdriver.Chrome) -> float:
    """When the film would have begun, for what is shown now to be shown now."""
    at, shown, _ = moment(browser)
    return at - shown


def test_one_stops_for_both_and_jumps_for_both(browser: webdriver.Chrome, second: webdriver.Chrome) -> None:
    second.find_element(By.TAG_NAME, "body").send_keys(" ")
    for one in (browser, second):
        wait(one, lambda b: moment(b)[2])
        see(one, "[data-test=together]", "Stopped by Nell")
    wait(browser, lambda b: abs(moment(b)[1] - moment(second)[1]) < 0.2)
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.HOME)
    wait(second, lambda b: moment(b)[1] < 0.2)
    see(second, "[data-test=leave-together]").click()
    wait(second, lambda b: "with=" not in b.current_url)
    wait(browser, lambda b: see(b, "[data-test=together]", "You are the first"))


def test_who_stopped_in_one_browser_goes_on_in_another(
    browser: webdriver.Chrome, second: webdriver.Chrome, empty: str, film: int
) -> None:
    browser.get(f"{empty}/play/{film}?from=9")
    wait(browser, lambda b: moment(b)[1] > 11)
    browser.find_element(By.TAG_NAME, "body").send_keys(" ")
    stopped = moment(browser)[1]
    wait(browser, lambda b: (mark := ask(b, f"/api/entries/{film}")["card"]["mark"]) and mark["position_seconds"])
    ask(second, "/api/session", "DELETE")
    ask(second, "/api/session", "POST", {"name": "Odile", "password": "tidewrack 9"})
    second.get(f"{empty}/catalog/entry/{film}")
    see(second, "[data-test=play]", "0:1").click()
    begun = wait(second, lambda b: (x := moment(b)[1]) > 1 and x)
    assert stopped - 6 < begun < stopped + 4
