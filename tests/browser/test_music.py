"""Music in a real browser: a queue that survives walking about and a reload, is put
in order by keys, and becomes a list."""

from __future__ import annotations

import subprocess
from pathlib import Path

import pytest
from mutagen.flac import FLAC
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from .drive import all_done, ask, see, wait

SONGS = ("Low Gate", "Hedge", "Weir", "Sluice")


LOUD = ("Quarry", "Kiln")


@pytest.fixture(scope="module")
def album(browser: webdriver.Chrome, empty: str, tmp_path_factory: pytest.TempPathFactory) -> int:
    """An album of four songs of twenty seconds, with who keeps it signed in."""
    folder = tmp_path_factory.mktemp("music")
    folder.chmod(0o755)
    place = folder / "Music" / "Wren Halloway" / "Tin Orchard (1979)"
    place.mkdir(parents=True)
    for number, title in enumerate(SONGS, 1):
        sound = f"sine=frequency={200 + 50 * number}:duration=20"
        command = ["ffmpeg", "-v", "error", "-f", "lavfi", "-i", sound, "-c:a", "flac"]
        subprocess.run([*command, str(place / f"{number:02d} - {title}.flac")], check=True)
    other = place.parent / "Louder Weather (1984)"
    other.mkdir()
    for number, title in enumerate(LOUD, 1):
        path = str(other / f"{number:02d} - {title}.flac")
        subprocess.run([*command[:-2], "-c:a", "flac", path], check=True)
        tagged = FLAC(path)
        tagged["replaygain_track_gain"], tagged["replaygain_album_gain"] = "-9.5 dB", "-6.00 dB"
        tagged.save()
    browser.get(empty)
    see(browser, "h1", "A place for everything")
    ask(browser, "/api/setup", "POST", {"name": "Odile", "password": "tidewrack 9", "language": "en"})
    root = str(Path(place).parents[1])
    ask(browser, "/api/libraries", "POST", {"name": "Music", "kind": "music", "folders": [root]})
    all_done(browser)
    return albums(browser)["Tin Orchard"]


def albums(browser: webdriver.Chrome) -> dict[str, int]:
    """Title → id."""
    return {one["title"]: int(one["id"]) for one in ask(browser, "/api/shelves/music")["entries"]}


@pytest.fixture
def loud(browser: webdriver.Chrome, album: int) -> int:
    """An album whose tags say that it is too loud."""
    return albums(browser)["Louder Weather"]


def queue(browser: webdriver.Chrome) -> list[str]:
    """Labels of the queue that is open, in their order."""
    return [one.text for one in browser.find_elements(By.CSS_SELECTOR, "[data-test=queue] li b")]


def heard(browser: webdriver.Chrome) -> float:
    """Second at which the song is that plays; below 0 where none does."""
    return float(
        browser.execute_script(
            "const a = document.querySelector('audio.live'); return a && !a.paused && a.readyState > 1 ? a.currentTime : -1"
        )
    )


def press(browser: webdriver.Chrome, *keys: str) -> None:
    ActionChains(browser).send_keys(*keys).perform()


def test_a_queue_is_ordered_by_keys_and_survives_walking_about_and_a_reload(
    browser: webdriver.Chrome, empty: str, album: int
) -> None:
    browser.get(f"{empty}/catalog/entry/{album}")
    see(browser, "[data-test=play]").click()
    wait(browser, lambda b: heard(b) > 0.5)
    press(browser, "q")
    see(browser, "[data-test=queue]")
    assert queue(browser) == list(SONGS)
    ActionChains(browser).key_down(Keys.ALT).send_keys(Keys.ARROW_DOWN, Keys.ARROW_DOWN).key_up(Keys.ALT).perform()
    wait(browser, lambda b: queue(b) == ["Hedge", "Weir", "Low Gate", "Sluice"])
    press(browser, Keys.ARROW_UP, Keys.DELETE)
    wait(browser, lambda b: queue(b) == ["Hedge", "Low Gate", "Sluice"])
    before = heard(browser)
    assert before > 0  # what plays was moved, and plays on
    press(browser, Keys.ESCAPE)
    see(browser, "a[href='/catalog/lists'], nav a", "").click()
    wait(browser, lambda b: heard(b) > max(before, 6))
    browser.get(f"{empty}/catalog/films")
    bar = see(browser, ".player.audio", "Low Gate")
    assert heard(browser) < 0, "a page that was loaded anew waits for a person"
    assert "2/3" in bar.text
    bar.find_element(By.CSS_SELECTOR, ".main").click()
    assert wait(browser, lambda b: heard(b) if heard(b) > 0 else None) >= 4, "it goes on where it was"


def test_the_next_song_follows_by_itself_and_the_last_one_ends_the_queue(
    browser: webdriver.Chrome, empty: str, album: int
) -> None:
    browser.execute_script("document.querySelector('audio.live').currentTime = 19")
    see(browser, ".player.audio", "Sluice")
    wait(browser, lambda b: 0.2 < heard(b) < 10)
    browser.execute_script("document.querySelector('audio.live').currentTime = 19")
    wait(browser, lambda b: heard(b) < 0)
    see(browser, ".player.audio", "Sluice")


def test_a_queue_takes_songs_in_and_is_kept_as_a_playlist(browser: webdriver.Chrome, empty: str, album: int) -> None:
    browser.get(f"{empty}/catalog/entry/{album}")
    see(browser, "[data-test=play-next]").click()
    see(browser, "[data-test=open-queue]", "3/7").click()
    see(browser, "[data-test=save-queue]").click()
    see(browser, "[data-test=queue-name]").send_keys("Evening", Keys.ENTER)
    wait(browser, lambda b: [one["name"] for one in ask(b, "/api/lists")["lists"]] == ["Evening"])
    made = ask(browser, "/api/lists")["lists"][0]
    places = ask(browser, f"/api/lists/{made['id']}")["places"]
    assert [one["entry"]["title"] for one in places] == ["Hedge", "Low Gate", "Sluice", *SONGS]


def test_who_signs_out_takes_the_queue_along(browser: webdriver.Chrome, empty: str, album: int) -> None:
    browser.get(f"{empty}/house")
    see(browser, ".player.audio", "Sluice")
    button = see(browser, "button", "Sign out")
    browser.execute_script("arguments[0].scrollIntoView({block: 'center'})", button)
    button.click()
    see(browser, "h1", "Good to see you")
    assert browser.execute_script("return localStorage.getItem('indice.queue')") is None


def test_all_songs_stand_in_one_list_and_play_from_the_chosen_one_on(
    browser: webdriver.Chrome, empty: str, album: int
) -> None:
    ask(browser, "/api/session", "POST", {"name": "Odile", "password": "tidewrack 9"})
    browser.get(f"{empty}/catalog/music")
    see(browser, "[data-test=way-songs]").click()
    see(browser, ".row .name", "Hedge")
    names = [one.text for one in browser.find_elements(By.CSS_SELECTOR, ".row .name")]
    assert names == sorted((*SONGS, *LOUD))
    press(browser, "j", Keys.ENTER)
    see(browser, ".row.on .name", "Kiln")
    wait(browser, lambda b: heard(b) > 0.3)
    browser.find_element(By.CSS_SELECTOR, ".filter").send_keys("orchard slu")
    wait(browser, lambda b: [one.text for one in b.find_elements(By.CSS_SELECTOR, ".row .name")] == ["Sluice"])


def test_folders_are_walked_as_they_lie_and_played_whole(browser: webdriver.Chrome, empty: str, album: int) -> None:
    ask(browser, "/api/session", "POST", {"name": "Odile", "password": "tidewrack 9"})
    browser.get(f"{empty}/catalog/music")
    see(browser, "[data-test=way-folders]").click()
    see(browser, "[data-test=folders] a", "Wren Halloway").click()
    see(browser, "h1", "Wren Halloway")
    see(browser, "[data-test=folders] a", "Louder Weather (1984)").click()
    see(browser, ".row .name", LOUD[0])
    names = [one.text for one in browser.find_elements(By.CSS_SELECTOR, ".row .name")]
    assert names == list(LOUD), "as the files lie, not by title"
    see(browser, "[data-test=play-below]").click()
    see(browser, ".row.on .name", LOUD[0])
    browser.back()
    see(browser, "[data-test=folders] a", "Tin Orchard (1979)")


# What the page does at a change of songs: how long the old one had to go when the new one began.
WATCH_CHANGE = """
const [old] = document.querySelectorAll('audio.live'), other = document.querySelector('audio:not(.live)')
window.change = null
other.addEventListener('playing', () => (window.change = {rest: old.duration - old.currentTime, at: other.currentTime}))
"""


def test_the_following_song_stands_ready_before_it_is_its_turn(
    browser: webdriver.Chrome, empty: str, album: int
) -> None:
    browser.get(f"{empty}/catalog/entry/{album}")
    see(browser, "[data-test=play]").click()
    wait(browser, lambda b: heard(b) > 0.2)
    ready = "const a = document.querySelector('audio:not(.live)'); return a.paused && a.readyState"
    wait(browser, lambda b: b.execute_script(ready) == 4)
    browser.execute_script(WATCH_CHANGE)
    browser.execute_script("document.querySelector('audio.live').currentTime = 17")
    told = wait(browser, lambda b: b.execute_script("return window.change"))
    assert told["rest"] < 1.2, "not before the end"
    see(browser, ".player.audio", "Hedge")
    wait(browser, lambda b: heard(b) > 0.5)
    # One who goes on by hand hears only one song.
    see(browser, ".player.audio button[aria-label='Next']").click()
    see(browser, ".player.audio", "Weir")
    both = "return [...document.querySelectorAll('audio')].filter(one => !one.paused).length"
    wait(browser, lambda b: heard(b) > 0.3 and b.execute_script(both) == 1)


def test_songs_are_made_as_loud_as_each_other(browser: webdriver.Chrome, empty: str, loud: int) -> None:
    browser.get(f"{empty}/catalog/entry/{loud}")
    see(browser, "[data-test=play]").click()
    volume = "return document.querySelector('audio.live').volume"
    wait(browser, lambda b: abs(b.execute_script(volume) - 10 ** (-6 / 20)) < 0.001)
    press(browser, "q")
    see(browser, "[data-test=even]").click()
    wait(browser, lambda b: b.execute_script(volume) == 1)
    see(browser, "[data-test=even]").click()
    wait(browser, lambda b: b.execute_script(volume) < 1)
