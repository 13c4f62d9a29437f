"""Photos: found by the map, by mouse and by keys; large and near; in albums and groups."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from indice.demo.media import write_moments, write_photo
from indice.demo.photographs import SCENES, render

from .drive import all_done, ask, see, wait

TAKEN = (
    ("pier", (41.200, -70.500), "Brackwater"),
    ("gull", (41.201, -70.502), "Brackwater"),
    ("mill", (42.900, -73.100), "Olmar"),
    ("kiosk", (-33.400, 19.200), "Farrowgate"),
)


@pytest.fixture(scope="module")
def photos(browser: webdriver.Chrome, empty: str, tmp_path_factory: pytest.TempPathFactory) -> str:
    """The address of a house with a few photos, of which one says no place."""
    folder = tmp_path_factory.mktemp("photos")
    for number, (name, place, town) in enumerate(TAKEN):
        made = render(SCENES[number], number, (600, 400))
        called = {"town": town, "country": "Norrow"}
        write_photo(
            folder / f"{name}.jpg", made, moment=datetime(2019, 7, 4, number), camera=None, place=place, called=called
        )
    write_photo(
        folder / "IMG_0411.JPG",
        render(SCENES[2], 11, (600, 400)),
        moment=datetime(2019, 7, 4, 9),
        camera=None,
        place=None,
    )
    write_moments(folder / "IMG_0411.MOV", render(SCENES[2], 11, (600, 400)))
    write_photo(folder / "hall.jpg", render(SCENES[0], 9, (600, 400)), moment=None, camera=None, place=None)
    return prepared(browser, empty, folder)


def prepared(browser: webdriver.Chrome, empty: str, folder: Path) -> str:
    """Set up, and looked through."""
    browser.get(empty)
    see(browser, "h1", "A place for everything")
    ask(browser, "/api/setup", "POST", {"name": "Odile", "password": "tidewrack 9", "language": "en"})
    ask(browser, "/api/libraries", "POST", {"name": "Photos", "kind": "photos", "folders": [str(folder)]})
    all_done(browser)
    return empty


def heaps(browser: webdriver.Chrome) -> list[str]:
    """What the map shows, in words."""
    return sorted(one.accessible_name for one in browser.find_elements(By.CSS_SELECTOR, "[data-test=heap]"))


def choose(browser: webdriver.Chrome, said: str) -> None:
    """Click a heap; the map draws them anew while it comes to rest."""

    def clicked(b: webdriver.Chrome) -> bool:
        found = [one for one in b.find_elements(By.CSS_SELECTOR, "[data-test=heap]") if said in one.text]
        if found:
            found[0].click()
        return bool(found)

    wait(browser, clicked)


def test_a_photo_is_found_by_the_map(browser: webdriver.Chrome, photos: str) -> None:
    browser.get(f"{photos}/catalog/photos")
    see(browser, "[data-test=way-map]").click()
    wait(browser, lambda b: heaps(b) == ["Norrow 1 photo", "Norrow 3 photos"])
    assert see(browser, "[data-test=total]").text == "4"
    choose(browser, "3")
    see(browser, "[data-test=heap-panel]", "3 photos")
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, ".shot")) == 3)
    see(browser, "[data-test=heap-panel] header .pill").click()
    wait(browser, lambda b: heaps(b) == ["Brackwater 2 photos", "Olmar 1 photo"])
    choose(browser, "Olmar")
    see(browser, "[data-test=heap-panel]", "Olmar")
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, ".shot")) == 1)
    see(browser, ".shot").click()
    see(browser, "figcaption", "mill")
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ESCAPE)
    see(browser, "[data-test=wall]").click()
    wait(browser, lambda b: "near%3A" in b.current_url or "near:" in b.current_url)
    wait(
        browser, lambda b: [one.get_attribute("title") for one in b.find_elements(By.CSS_SELECTOR, ".shot")] == ["mill"]
    )
    see(browser, ".slip", "One place on the map").click()
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, ".shot")) == 6)


def test_a_photos_page_leads_to_its_place(browser: webdriver.Chrome, photos: str) -> None:
    found = {one["title"]: one["id"] for one in ask(browser, "/api/shelves/photos")["entries"]}
    browser.get(f"{photos}/catalog/entry/{found['kiosk']}")
    see(browser, "[data-test=to-map]", "Farrowgate, Norrow").click()
    wait(browser, lambda b: heaps(b) == ["Farrowgate 1 photo"])
    browser.get(f"{photos}/catalog/entry/{found['hall']}")
    see(browser, "h1", "hall")
    assert not browser.find_elements(By.CSS_SELECTOR, "[data-test=to-map]")


def test_the_map_goes_by_keys_and_is_narrowed_down(browser: webdriver.Chrome, photos: str) -> None:
    browser.get(f"{photos}/catalog/photos/map?filter=town:farrowgate")
    wait(browser, lambda b: heaps(b) == ["Farrowgate 1 photo"])
    body = browser.find_element(By.TAG_NAME, "body")
    see(browser, "[data-test=heap]").send_keys(Keys.ENTER)
    see(browser, "[data-test=heap-panel]", "Farrowgate")
    body.send_keys(Keys.ESCAPE)
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, "[data-test=heap-panel]"))
    for _ in range(12):
        body.send_keys(Keys.ARROW_RIGHT)
    wait(browser, lambda b: heaps(b) == [])
    # Also when nothing of what is in sight now is known any more.
    wait(browser, lambda b: see(b, "[data-test=total]").text == "0")
    body.send_keys("0")
    wait(browser, lambda b: heaps(b) == ["Farrowgate 1 photo"])
    browser.get(f"{photos}/catalog/photos/map?filter=town:nowhere")
    see(browser, ".empty", "Nothing")


def press(browser: webdriver.Chrome, *keys: str) -> None:
    ActionChains(browser).send_keys(*keys).perform()


def test_a_photo_lies_large_and_near_with_what_is_known(browser: webdriver.Chrome, photos: str) -> None:
    browser.get(f"{photos}/catalog/photos")
    see(browser, ".shot[title=mill]").click()
    see(browser, "figcaption", "mill")
    press(browser, "i")
    see(browser, "[data-test=light-facts]", "Olmar, Norrow")
    press(browser, "z")
    size = "const i = document.querySelector('.near img'); return i && i.complete && [i.naturalWidth, i.width]"
    wait(browser, lambda b: b.execute_script(size) == [600, 600])
    assert "/content" in browser.find_element(By.CSS_SELECTOR, ".near img").get_attribute("src")
    press(browser, Keys.ESCAPE)
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, ".near"))
    press(browser, "f")
    see(browser, "[data-test=fond][aria-pressed=true]")
    mill = next(one for one in ask(browser, "/api/shelves/photos")["entries"] if one["title"] == "mill")
    wait(browser, lambda b: ask(b, "/api/shelves/photos?traits=mark:favourite")["entries"][0]["id"] == mill["id"])
    place = int(see(browser, ".acts .mono").text.partition("/")[0])
    press(browser, " ")
    wait(browser, lambda b: see(b, ".acts .mono").text == f"{place + 1}/6")
    press(browser, Keys.ESCAPE)
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, "[role=dialog]"))


def test_a_photo_moves_where_its_moments_lie_beside_it(browser: webdriver.Chrome, photos: str) -> None:
    browser.get(f"{photos}/catalog/photos")
    shots = {one["title"]: one for one in ask(browser, "/api/shelves/photos")["entries"]}
    assert {title for title, one in shots.items() if one["moves"]} == {"IMG_0411.JPG"}
    assert {one["kind"] for one in shots.values()} == {"photo"}, "what it films is no clip of its own"
    see(browser, ".shot[title^=IMG_0411]").click()
    see(browser, "[data-test=move]").click()
    playing = "const v = document.querySelector('[role=dialog] video'); return v && !v.paused && v.currentTime > 0.2"
    wait(browser, lambda b: b.execute_script(playing))
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, "[role=dialog] video"))  # it is over by itself
    press(browser, "m")
    wait(browser, lambda b: b.execute_script(playing))
    press(browser, "m")
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, "[role=dialog] video"))
    press(browser, Keys.ARROW_RIGHT)
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, "[data-test=move]"))


def test_an_album_is_made_on_the_wall_and_ordered_by_keys(browser: webdriver.Chrome, photos: str) -> None:
    browser.get(f"{photos}/catalog/photos/albums")
    see(browser, ".empty", "No album yet")
    browser.get(f"{photos}/catalog/photos")
    see(browser, "[data-test=pick]").click()
    for title in ("pier", "gull", "mill"):
        see(browser, f".shot[title={title}]").click()
    see(browser, "[data-test=to-list]").click()
    see(browser, "[data-test=list-name]").send_keys("Summer", Keys.ENTER)
    wait(browser, lambda b: [one["count"] for one in ask(b, "/api/lists")["lists"]] == [3])
    see(browser, "[data-test=way-albums]").click()
    see(browser, "a.list", "Summer").click()

    def titles(b: webdriver.Chrome) -> list[str]:
        return [one.get_attribute("title") or "" for one in b.find_elements(By.CSS_SELECTOR, ".album .shot")]

    wait(browser, lambda b: len(titles(b)) == 3)
    first, second, third = titles(browser)
    see(browser, f".album .shot[title={first}]").send_keys(Keys.ALT, Keys.ARROW_RIGHT)
    wait(browser, lambda b: titles(b) == [second, first, third])
    see(browser, f".album .shot[title={third}]").send_keys(Keys.DELETE)
    wait(browser, lambda b: titles(b) == [second, first])
    browser.refresh()
    wait(browser, lambda b: titles(b) == [second, first])
    see(browser, f".album .shot[title={first}]").send_keys(Keys.ENTER)
    see(browser, "figcaption", first)


def test_photos_stand_in_groups_by_where_they_were_taken(browser: webdriver.Chrome, photos: str) -> None:
    browser.get(f"{photos}/catalog/photos")
    Select(see(browser, "[data-test=group-by]")).select_by_value("town")
    wait(
        browser,
        lambda b: (
            [one.text for one in b.find_elements(By.CSS_SELECTOR, "[data-test=group] h2")]
            == ["Brackwater", "Farrowgate", "Olmar"]
        ),
    )
    see(browser, "[data-test=group] h2 a", "Brackwater").click()
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, ".shot")) == 2)
    see(browser, ".slip", "Brackwater")
