"""A person plays odd files in a real browser: the right second, sound and text,
another size, and what cannot be played."""

from __future__ import annotations

import json
import subprocess
import time
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.playing.zoo import Animal, brightness_of, make

from .drive import LOOK, all_done, ask, looked, see, wait

LONG = "-c:v libx264 -preset ultrafast -pix_fmt yuv420p -g 50"
FILES = (
    Animal("first.mkv", f"{LONG} -c:a aac", "repackaged", sounds=2),
    Animal("second.avi", "-c:v mpeg4 -q:v 4 -c:a libmp3lame", "converted", (640, 360), "640x360"),
)
THICK = "-f lavfi -i nullsrc=640x360:rate=25:duration=20,geq=random(1)*255:128:128 -c:v libx264 -preset ultrafast -b:v 3M -f mp4"
TEXT = "1\n00:00:02,000 --> 00:00:19,000\n<i>Schöne</i> Grüße\n"


@pytest.fixture(scope="module")
def entries(browser: webdriver.Chrome, empty: str, tmp_path_factory: pytest.TempPathFactory) -> dict[str, int]:
    """A library of a series and a few clips; name of the file → number of its entry."""
    folder = tmp_path_factory.mktemp("films")
    season = folder / "Tern Row (2001)" / "Season 01"
    for place, animal in enumerate(FILES, 1):
        made = make(animal, season)
        made.rename(season / f"Tern Row - S01E{place:02d}{made.suffix}")
    (season / "Tern Row - S01E01.de.srt").write_bytes(TEXT.encode("cp1252"))
    (season / "Tern Row - S01E03.mkv").write_bytes(bytes(range(256)) * 50)
    thick = ["ffmpeg", "-v", "error", *THICK.split(" "), str(season / "Tern Row - S01E04.mp4")]
    subprocess.run(thick, check=True)
    browser.get(empty)
    see(browser, "h1", "A place for everything")
    ask(browser, "/api/setup", "POST", {"name": "Odile", "password": "tidewrack 9", "language": "en"})
    ask(browser, "/api/libraries", "POST", {"name": "Series", "kind": "series", "folders": [str(folder)]})
    all_done(browser)
    library = ask(browser, "/api/libraries")["libraries"][0]["folders"][0]["id"]
    where = f"/api/files?folder_id={library}&directory=Tern%20Row%20(2001)/Season%2001"
    return {file["name"]: file["entry_id"] for file in ask(browser, where)["files"]}


def light_of(second: int) -> float:
    """How bright a second is on the screen: luma of 16 to 235 as 0 to 255."""
    return (brightness_of(second) - 16) * 255 / 219


def test_a_film_begins_by_itself_and_jumps(browser: webdriver.Chrome, empty: str, entries: dict[str, int]) -> None:
    browser.get(f"{empty}/play/{entries['Tern Row - S01E02.avi']}?from=4")
    found = looked(browser, 4.05)
    assert found["size"] == [640, 360] and found["many"] == 1 and not found["paused"]
    assert found["light"] == pytest.approx(light_of(int(found["at"])), abs=6)
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ARROW_RIGHT)
    found = looked(browser, 14.05)
    assert found["light"] == pytest.approx(light_of(int(found["at"])), abs=6)


def test_another_size_is_chosen_without_losing_the_moment(browser: webdriver.Chrome, empty: str) -> None:
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.HOME)
    looked(browser, 0.3)
    browser.execute_script("document.querySelector('video').currentTime = 9.2")
    looked(browser, 9.3)
    Select(browser.find_element(By.CSS_SELECTOR, "[data-test=height] select")).select_by_visible_text("240p")
    found = wait(browser, lambda b: (x := b.execute_script(LOOK)) and x["size"] == [426, 240] and x["at"] > 9 and x, 30)
    assert found["at"] < 19
    Select(browser.find_element(By.CSS_SELECTOR, "[data-test=height] select")).select_by_index(0)
    wait(browser, lambda b: (x := b.execute_script(LOOK)) and x["size"] == [640, 360], 30)


def test_texts_of_an_old_code_page_are_shown_and_tracks_chosen(
    browser: webdriver.Chrome, empty: str, entries: dict[str, int]
) -> None:
    browser.get(f"{empty}/play/{entries['Tern Row - S01E01.mkv']}?from=3&sound=1")
    looked(browser, 3.0)
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.SHIFT)  # a slow machine's controls have gone to rest
    assert see(browser, "[data-test=sound]").text.startswith("Sound")
    assert (
        Select(browser.find_element(By.CSS_SELECTOR, "[data-test=sound] select")).first_selected_option.text[0] == "2"
    )
    Select(browser.find_element(By.CSS_SELECTOR, "[data-test=text] select")).select_by_visible_text("German")
    cue = "const t = [...document.querySelector('video').textTracks].find(t => t.mode === 'showing'); return t?.activeCues?.[0]?.text"
    assert wait(browser, lambda b: b.execute_script(cue)) == "<i>Schöne</i> Grüße"
    browser.find_element(By.TAG_NAME, "body").send_keys("]")
    start = "return [...document.querySelector('video').textTracks].find(t => t.mode === 'showing').cues[0].startTime"
    assert browser.execute_script(start) == 2.5


def test_the_next_episode_follows_and_can_be_stopped(browser: webdriver.Chrome, entries: dict[str, int]) -> None:
    browser.execute_script("document.querySelector('video').currentTime = 19.4")
    see(browser, "[data-test=stay]", seconds=30).click()
    assert not browser.find_elements(By.CSS_SELECTOR, "[data-test=stay]")
    see(browser, "[data-test=next]").click()
    wait(browser, lambda b: b.current_url.endswith(f"/play/{entries['Tern Row - S01E02.avi']}"))
    looked(browser, 0.2)


def test_a_series_goes_on_with_what_was_not_seen(
    browser: webdriver.Chrome, empty: str, entries: dict[str, int]
) -> None:
    first = entries["Tern Row - S01E01.mkv"]
    assert ask(browser, f"/api/entries/{first}")["card"]["mark"]["seen"], "it was played to its end"
    series = ask(browser, f"/api/entries/{first}")["parents"][0]["id"]
    browser.get(f"{empty}/catalog/entry/{series}")
    see(browser, "[data-test=play]").click()
    see(browser, ".tab b", ask(browser, f"/api/entries/{entries['Tern Row - S01E02.avi']}")["card"]["title"])


def test_what_cannot_be_played_is_said_and_offered(
    browser: webdriver.Chrome, empty: str, entries: dict[str, int]
) -> None:
    browser.get(f"{empty}/play/{entries['Tern Row - S01E03.mkv']}")
    see(browser, "[role=alert]", "cannot be played")
    assert see(browser, "[data-test=download]").get_attribute("href")
    see(browser, "[data-test=back]").click()
    wait(browser, lambda b: "/play/" not in b.current_url)


def test_a_child_finds_the_catalog_and_nothing_else(
    browser: webdriver.Chrome, empty: str, entries: dict[str, int]
) -> None:
    ask(browser, "/api/people", "POST", {"name": "Nell", "password": "tidewrack 10", "age": 6})
    ask(browser, "/api/session", "DELETE")
    browser.get(empty)
    see(browser, "input[name=name]").send_keys("Nell")
    browser.find_element(By.CSS_SELECTOR, "input[type=password]").send_keys("tidewrack 10", Keys.ENTER)
    see(browser, "nav .tab", "Catalog")
    wait(browser, lambda b: b.current_url.endswith("/catalog"), 40)
    assert [tab.text for tab in browser.find_elements(By.CSS_SELECTOR, "nav .tab")] == ["Catalog", "You"]
    browser.get(f"{empty}/names")
    wait(browser, lambda b: "/catalog" in b.current_url)
    browser.get(f"{empty}/you")
    see(browser, "form.pin", "up to 6")
    browser.get(f"{empty}/play/{entries['Tern Row - S01E01.mkv']}")
    see(browser, "[role=alert]")
    assert "Tern" not in browser.find_element(By.TAG_NAME, "body").text
    ask(browser, "/api/session", "DELETE")
    ask(browser, "/api/session", "POST", {"name": "Odile", "password": "tidewrack 9"})


def test_who_is_invited_comes_in_and_sees_what_was_said(browser: webdriver.Chrome, empty: str) -> None:
    link = ask(browser, "/api/invitations", "POST", {"libraries": [], "days": 1})["link"]
    ask(browser, "/api/session", "DELETE")
    browser.get(link)
    see(browser, "h1", "Odile invites you")
    see(browser, "input[name=name]").send_keys("Ivo")
    browser.find_element(By.NAME, "password").send_keys("a long hedge", Keys.ENTER)
    wait(browser, lambda b: b.current_url.endswith("/catalog"), 40)
    see(browser, ".catalog", "Begin")
    assert "Tern" not in browser.find_element(By.TAG_NAME, "body").text, "no library was given to him"
    browser.get(link)
    see(browser, "h1", "not open any more")
    ask(browser, "/api/session", "DELETE")
    ask(browser, "/api/session", "POST", {"name": "Odile", "password": "tidewrack 9"})


def test_over_a_narrow_line_less_is_sent(browser: webdriver.Chrome, empty: str, entries: dict[str, int]) -> None:
    page = f"{empty}/play/{entries['Tern Row - S01E04.mp4']}?from=2&quality=line"
    browser.get(page)
    looked(browser, 2.1)
    narrow = "return JSON.parse(sessionStorage['indice.line']).kbps"
    assert browser.execute_script(narrow) > 40_000, "on one machine nothing is narrow"
    browser.execute_script("delete sessionStorage['indice.line']")
    browser.set_network_conditions(
        offline=False, latency=10, download_throughput=160 * 1024, upload_throughput=160 * 1024
    )
    try:
        browser.get(page)
        looked(browser, 2.1)
        assert 700 < browser.execute_script(narrow) < 2000
        browser.find_element(By.TAG_NAME, "body").send_keys("i")
        see(browser, "dl.facts", "The line is too narrow for the original")
        at = looked(browser, 4.0)["at"]
        assert at < 12
    finally:
        browser.delete_network_conditions()
        browser.execute_script("delete sessionStorage['indice.line']; localStorage['indice.quality'] = '-1'")


# The last: a server that was killed takes a few seconds until it answers everybody again.
def test_a_player_whose_server_was_killed_goes_on(
    browser: webdriver.Chrome, empty: str, entries: dict[str, int], home: Path
) -> None:
    browser.get(f"{empty}/play/{entries['Tern Row - S01E02.avi']}?from=0")
    looked(browser, 0.3)
    supervisor = json.loads((home / "indice.lock").read_text())["pid"]
    subprocess.run(["pkill", "-9", "-P", str(supervisor), "-f", "indice.children"], check=True)
    time.sleep(1)
    browser.execute_script("document.querySelector('video').currentTime = 15.2")
    found = looked(browser, 15.3)
    assert found["light"] == pytest.approx(light_of(int(found["at"])), abs=6)
