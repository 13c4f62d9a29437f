"""A newcomer's whole way in a real browser: the demo, first run, scan, a decision, search, play, a photo large."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from .drive import all_done, see, wait


def test_first_run_asks_for_the_owner_and_offers_the_folders(browser: webdriver.Chrome, address: str) -> None:
    browser.get(address)
    see(browser, "h1", "A place for everything")
    browser.find_element(By.NAME, "name").send_keys("Odile")
    browser.find_element(By.NAME, "password").send_keys("short")
    assert browser.find_element(By.CSS_SELECTOR, "button[type=submit]").get_attribute("disabled") is not None
    browser.find_element(By.NAME, "password").send_keys(" no more")
    browser.find_element(By.CSS_SELECTOR, "button[type=submit]").click()
    see(browser, "h1", "Which folders")
    see(browser, "li", "Home videos")
    see(browser, "[data-test=add-all]").click()
    see(browser, "h1", "What came in")


def test_entries_appear_while_the_scan_runs_and_it_ends(browser: webdriver.Chrome, address: str) -> None:
    see(browser, ".arrival", seconds=30)
    all_done(browser)
    wait(browser, lambda b: "Nothing runs at the moment" in b.find_element(By.TAG_NAME, "body").text, 30)
    browser.get(f"{address}/today")
    see(browser, ".library", "Home videos")
    assert [e.text for e in browser.find_elements(By.CSS_SELECTOR, "[role=alert]")] == []


def test_a_file_tells_its_story(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/folders")
    see(browser, ".files .row").click()
    see(browser, ".story th", "title")
    browser.find_element(By.CSS_SELECTOR, ".switch button:last-child").click()
    see(browser, ".files.would")


def test_findings_show_before_and_after(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/names?check=release-words")
    see(browser, "h1", "Release words")
    assert browser.find_elements(By.CSS_SELECTOR, ".finding del")
    assert browser.find_elements(By.CSS_SELECTOR, ".finding ins")


def keys(browser: webdriver.Chrome, *pressed: str) -> None:
    """Press keys on the page."""
    for key in pressed:
        browser.find_element(By.TAG_NAME, "body").send_keys(key)


def names_below(folder: Path) -> list[str]:
    """Every file below a folder."""
    return sorted(str(path.relative_to(folder)) for path in folder.rglob("*") if path.is_file())


def test_a_messy_library_is_made_clean_by_keyboard_and_undone(
    browser: webdriver.Chrome, address: str, home: Path
) -> None:
    films = next(path for path in home.rglob("Films") if path.is_dir())
    before = names_below(films)
    browser.get(f"{address}/names?all=1")
    see(browser, "h1", "Everything")
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, ".finding")) > 20)
    mended = int(browser.find_element(By.CSS_SELECTOR, ".head .soft").text)
    keys(browser, "a", "s", "k", "e")
    field = see(browser, ".edit input")
    assert browser.switch_to.active_element == field
    field.send_keys(Keys.ESCAPE)
    keys(browser, "A", Keys.ENTER)
    see(browser, "h1", "The plan")
    see(browser, ".sheet .diff ins")
    keys(browser, Keys.ENTER)
    see(browser, "h1", "Done", 60)
    after = names_below(films)
    assert len(after) == len(before) and after != before
    wait(browser, lambda b: int(b.find_elements(By.CSS_SELECTOR, "aside .row b")[-6].text) < mended, 30)
    keys(browser, "u")
    see(browser, "h1", "Taken back", 60)
    assert names_below(films) == before
    keys(browser, Keys.ESCAPE)
    wait(browser, lambda b: int(b.find_element(By.CSS_SELECTOR, ".head .soft").text) == mended, 30)


def test_a_convention_is_written_with_a_live_preview(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/house/conventions")
    field = see(browser, "#template-movie")
    field.click()
    see(browser, ".chip", "year")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("{{ titel }}")
    see(browser, ".template .bad", "no value titel")
    assert not browser.find_element(By.CSS_SELECTOR, "footer .el-button--primary").is_enabled()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("{{ title | letter }}/{{ title }}")
    see(browser, ".sample", "/")
    see(browser, "footer .el-button:enabled", "copy").click()
    see(browser, "aside .row.at", "Roomy, my way")


def test_a_match_is_decided_and_taken_back_by_key(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/matches")
    rows = wait(browser, lambda b: b.find_elements(By.CSS_SELECTOR, "aside button.item"))
    count = len(rows)
    assert count >= 3
    next(row for row in rows if "Postcards" in row.text).click()
    see(browser, "h1", "Postcards")
    browser.find_element(By.TAG_NAME, "body").send_keys("1")
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, "aside button.item")) == count - 1)
    see(browser, ".done", "Postcards from the Breakwater")
    browser.find_element(By.TAG_NAME, "body").send_keys("u")
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, "aside button.item")) == count)
    see(browser, "h1", "Postcards")
    browser.find_element(By.TAG_NAME, "body").send_keys("1")
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, "aside button.item")) == count - 1)


def laid_out(browser: webdriver.Chrome, *, other_than: str) -> tuple[str, int] | tuple[()]:
    """The files of what lies open and how many candidates it has, once it is another: a key before that says nothing.

    Empty while it is the same, and while it has no candidate.
    """
    heads = [head.text for head in browser.find_elements(By.CSS_SELECTOR, "thead th")]
    return (heads[0], len(heads) - 1) if len(heads) > 1 and heads[0] != other_than else ()


def undecided(browser: webdriver.Chrome) -> list[str]:
    """What waits, as it is called, in the order of the list."""
    return [title.text for title in browser.find_elements(By.CSS_SELECTOR, "aside button.item > span:last-child")]


def test_five_matches_are_decided_by_keyboard_alone(browser: webdriver.Chrome, address: str) -> None:
    """A number takes, n keeps the name, each leads to the next; all five are taken back with u."""
    browser.get(f"{address}/matches")
    waiting = wait(browser, undecided)
    assert len(set(waiting)) >= 5
    files = ""
    for place in range(1, 6):
        files, candidates = wait(browser, lambda b, before=files: laid_out(b, other_than=before))
        keys(browser, "n" if place % 2 == 0 else str(candidates))
        left = len(waiting) - place
        wait(browser, lambda b, left=left: len(undecided(b)) == left)
    decided = [row.text for row in browser.find_elements(By.CSS_SELECTOR, ".done")]
    assert len(decided) >= 5
    browser.get(f"{address}/house")
    see(browser, ".what", "no source knows")
    browser.get(f"{address}/matches")
    for place in range(1, 6):
        wait(browser, lambda b: b.find_elements(By.CSS_SELECTOR, ".done"))
        keys(browser, "u")
        back = len(waiting) - 5 + place
        wait(browser, lambda b, back=back: len(undecided(b)) == back)
    assert undecided(browser) == waiting


def test_what_was_taken_alone_is_looked_at_again(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/matches?list=again")
    rows = wait(browser, lambda b: b.find_elements(By.CSS_SELECTOR, "aside button.item"))
    see(browser, ".candidate .stamp", "TAKEN")
    keys(browser, "y")
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, "aside button.item")) == len(rows) - 1)
    keys(browser, "u")
    wait(browser, lambda b: len(b.find_elements(By.CSS_SELECTOR, "aside button.item")) == len(rows))


def test_several_films_get_a_genre_at_once(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/catalog/films?filter=copper")
    see(browser, "[data-test=pick]").click()
    for tile in wait(browser, lambda b: b.find_elements(By.CSS_SELECTOR, ".tile"))[:2]:
        tile.click()
    field = see(browser, "[data-test=many-value]")
    field.send_keys("Harbour tales", Keys.ENTER)
    see(browser, ".el-message", "2 entries")
    browser.get(f"{address}/catalog/with?field=genres&value=Harbour tales")
    assert len(wait(browser, lambda b: b.find_elements(By.CSS_SELECTOR, ".tile"))) == 2


def test_a_frame_of_the_film_becomes_its_backdrop(browser: webdriver.Chrome, address: str) -> None:
    open_film(browser, address, "Winter Ledger")
    browser.execute_script("arguments[0].click()", see(browser, "[data-test=frame]"))
    wait(browser, lambda b: b.execute_script("return document.querySelector('.framing img')?.naturalWidth > 0"))
    browser.execute_script("arguments[0].click()", see(browser, "[data-test=frame-backdrop]"))
    see(browser, ".picture .stamp", "CHOSEN")
    see(browser, ".picture .said", "a frame")


def test_writing_is_off_until_allowed_shown_first_and_taken_back(
    browser: webdriver.Chrome, address: str, home: Path
) -> None:
    films = home / "household" / "Films"
    before = {path for path in films.rglob("*") if path.is_file()}
    browser.get(f"{address}/house")
    row = next(r for r in wait(browser, lambda b: b.find_elements(By.CSS_SELECTOR, ".library")) if "Films" in r.text)
    next(b for b in row.find_elements(By.CSS_SELECTOR, ".acts .link") if b.text == "Settings").click()
    assert not browser.find_elements(By.CSS_SELECTOR, "[data-test=draft-writing]")
    see(browser, "[data-test=write-facts]").click()
    browser.execute_script("arguments[0].click()", see(browser, "[data-test=draft-writing]"))
    see(browser, ".sheet h1", "The plan")
    assert {path for path in films.rglob("*") if path.is_file()} == before
    browser.execute_script("arguments[0].click()", see(browser, ".sheet footer .el-button:enabled", "Carry it out"))
    see(browser, ".sheet h1", "Done", 40)
    written = {path for path in films.rglob("*") if path.is_file()} - before
    assert len(written) > 20
    assert all(path.suffix == ".jsonld" for path in written)
    browser.execute_script("arguments[0].click()", see(browser, ".sheet footer .el-button:enabled", "Undo"))
    see(browser, ".sheet h1", "Taken back", 40)
    assert {path for path in films.rglob("*") if path.is_file()} == before


def node_of(browser: webdriver.Chrome, name: str) -> WebElement:
    """A folder of the tree, which mounts what is in sight: it is scrolled to."""

    def look(b: webdriver.Chrome) -> WebElement | None:
        found = next((n for n in b.find_elements(By.CSS_SELECTOR, ".node") if name in n.text), None)
        if found is None:
            b.execute_script(
                "const a = document.querySelector('aside'); if (a) a.scrollTop = (a.scrollTop + 400) % a.scrollHeight"
            )
        return found

    found = wait(browser, look)
    assert found is not None
    return found


def test_a_folder_is_brought_into_form_from_folders(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/folders")
    node_of(browser, "unsorted").click()
    see(browser, ".switch button", "would").click()
    see(browser, "[data-test=into-form]").click()
    see(browser, ".sheet h1", "The plan")
    assert browser.find_elements(By.CSS_SELECTOR, ".sheet .diff")
    see(browser, ".sheet .back").click()
    see(browser, "[data-test=into-form]")


def test_a_film_is_found_and_played(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/today")
    see(browser, "h1", "What came in")
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.CONTROL, "k")
    browser.switch_to.active_element.send_keys("postcards from")
    see(browser, "[role=option]", "Postcards from the Breakwater")
    browser.switch_to.active_element.send_keys(Keys.ENTER)
    see(browser, "h1", "Postcards from the Breakwater")
    keep(browser, "look")
    see(browser, ".plot", "Forty years of unsent cards")
    see(browser, "[data-test=play]").click()
    wait(
        browser,
        lambda b: b.execute_script(
            "const v = document.querySelector('video'); return v && v.currentTime > 0.5 && v.duration > 5000"
        ),
        30,
    )
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ESCAPE)
    wait(browser, lambda b: not b.find_elements(By.TAG_NAME, "video"))


def test_a_film_goes_on_where_one_stopped(browser: webdriver.Chrome, address: str) -> None:
    """The moment is kept when one leaves, is on the shelf, is gone on from in a page
    loaded anew, and goes when it is seen."""
    browser.get(f"{address}/catalog/films?filter=postcards")
    see(browser, ".tile", "Postcards").click()
    see(browser, "[data-test=play]", "Play").click()
    at = "const v = document.querySelector('video'); return v ? v.currentTime : 0"
    wait(browser, lambda b: b.execute_script(at) > 0, 30)
    browser.execute_script("document.querySelector('video').currentTime = 1500")
    wait(browser, lambda b: b.execute_script(at) > 1500, 30)
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ESCAPE)
    see(browser, "[data-test=play]", "Go on at 25:0")
    browser.get(f"{address}/catalog/films")
    see(browser, ".going a", "Postcards").click()
    see(browser, "[data-test=play]", "Go on at 25:0").click()
    wait(browser, lambda b: 1490 < b.execute_script(at) < 1600, 30)
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ESCAPE)
    see(browser, "[data-test=seen]").click()
    see(browser, "[data-test=seen][aria-pressed=true]")
    see(browser, "[data-test=favourite]").click()
    see(browser, "[data-test=favourite][aria-pressed=true]")
    see(browser, "[data-test=play]", "Play")
    browser.get(f"{address}/catalog/films?filter=postcards")
    see(browser, ".tile .seen", "Seen")
    see(browser, ".tile .fond")
    assert not browser.find_elements(By.CSS_SELECTOR, ".going")


def test_a_series_shows_what_is_missing(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/catalog/series")
    see(browser, ".tile", "The Lampwrights").click()
    see(browser, "h1", "The Lampwrights")
    see(browser, ".cell.missing")
    assert [cell.text for cell in browser.find_elements(By.CSS_SELECTOR, "button.cell.missing")] == ["6", "7"]
    assert [cell.text for cell in browser.find_elements(By.CSS_SELECTOR, "button.cell.twice")] == ["2×"]
    # An episode opens beside it, and its neighbours by key.
    see(browser, "button.cell.here", "1").click()
    see(browser, "[data-test=episode-panel]", "Season 1 · 1")
    see(browser, "[data-test=panel-seen]").click()
    see(browser, "[data-test=panel-seen][aria-pressed=true]")
    see(browser, "button.cell.here.seen", "1")
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ARROW_RIGHT)
    see(browser, "[data-test=episode-panel]", "Season 1 · 2")
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ESCAPE)
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, "[data-test=episode-panel]"))


def test_an_album_plays_and_the_player_stays(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/catalog/music")
    see(browser, ".tile", "Porchlight").click()
    see(browser, "[data-test=play]").click()
    wait(
        browser,
        lambda b: b.execute_script("const a = document.querySelector('audio.live'); return a && a.currentTime > 0.3"),
        30,
    )
    browser.find_element(By.LINK_TEXT, "House").click() if browser.find_elements(By.LINK_TEXT, "House") else None
    see(browser, "h1", "Libraries")
    moved = browser.execute_script("return document.querySelector('audio.live').currentTime")
    wait(browser, lambda b: b.execute_script("return document.querySelector('audio.live').currentTime") > moved)
    see(browser, ".player [aria-label='Close the player']").click()
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, ".player, audio"))


def test_a_photo_is_shown_large(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/catalog/photos")
    see(browser, ".shot:not(:has(.clip)) img").click()
    picture = see(browser, "[role=dialog] img")
    wait(browser, lambda b: b.execute_script("return arguments[0].naturalWidth", picture) >= 600)
    first = picture.get_attribute("src")
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ARROW_RIGHT)
    wait(browser, lambda b: b.find_element(By.CSS_SELECTOR, "[role=dialog] img").get_attribute("src") != first)
    browser.find_element(By.TAG_NAME, "body").send_keys(Keys.ESCAPE)


def test_a_source_that_is_down_is_told_at_its_place(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/house")
    see(browser, "h2", "Sources")
    buttons = see(browser, ".source", "Almanac").find_elements(By.CSS_SELECTOR, ".acts .link")
    next(b for b in buttons if b.text == "Test").click()
    see(browser, ".el-message", "Almanac answers")


def test_a_reading_is_corrected_kept_and_taken_back(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/catalog/films?filter=granite")
    see(browser, ".tile", "Granite Waltz").click()
    keep(browser)
    see(browser, "a.name", "(1949).m").click()
    see(browser, "[data-test=correct-title]").click()
    see(browser, ".choice.mono", "Granite").click()
    see(browser, ".story .value", "Granite")
    wait(browser, lambda b: b.find_element(By.CSS_SELECTOR, ".story .value").text == "Granite")
    browser.get(f"{address}/house")
    row = see(browser, ".row", "the title ends before “Waltz”")
    row.find_element(By.CSS_SELECTOR, ".link").click()
    wait(browser, lambda b: "ends before" not in b.find_element(By.TAG_NAME, "body").text)
    browser.get(f"{address}/catalog/films?filter=granite")
    see(browser, ".tile", "Granite Waltz")


def test_a_drive_that_is_gone_loses_nothing(browser: webdriver.Chrome, address: str, home: Path) -> None:
    folder = home / "household" / "Home videos"
    folder.rename(home / "unplugged")
    try:
        browser.get(f"{address}/house")
        library = see(browser, ".library", "Home videos")
        next(link for link in library.find_elements(By.CSS_SELECTOR, ".link") if link.text == "Scan").click()
        see(browser, ".folder.away", "The folder is not there", 30)
        browser.get(f"{address}/folders")
        assert "root" in str(node_of(browser, "Home videos").get_attribute("class"))
    finally:
        (home / "unplugged").rename(folder)
    browser.get(f"{address}/house")
    library = see(browser, ".library", "Home videos")
    next(link for link in library.find_elements(By.CSS_SELECTOR, ".link") if link.text == "Scan").click()
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, ".folder.away"), 30)


def test_a_wrong_folder_is_told_where_it_was_typed(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/house")
    see(browser, "button", "Add a library").click()
    field = see(browser, ".path input")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("/no/such/folder", Keys.ENTER)
    see(browser, ".browse [role=alert]", "does not exist")


def test_a_wrong_profile_is_told_where_it_was_typed(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/house")
    see(browser, "button", "Add a source").click()
    see(browser, "textarea").send_keys("name = ")
    see(browser, "form.adding button[type=submit]").click()
    see(browser, "form.adding [role=alert]", "no valid TOML")


def open_film(browser: webdriver.Chrome, address: str, title: str) -> None:
    """The page of a film, by the search box for everything."""
    browser.get(f"{address}/catalog/films")
    link = wait(
        browser,
        lambda b: [a for a in b.find_elements(By.CSS_SELECTOR, "a[href*='/catalog/entry/']") if title in a.text],
    )
    browser.get(link[0].get_attribute("href"))
    see(browser, "h1", title)
    keep(browser)


def keep(browser: webdriver.Chrome, face: str = "keep") -> None:
    """Turn to the librarian's face of a page, which is then remembered, or to the household's; one key does it."""
    if see(browser, f"[data-test={face}]").get_attribute("aria-pressed") == "false":
        browser.find_element(By.TAG_NAME, "body").send_keys("k")
    see(browser, f"[data-test={face}][aria-pressed=true]")


def test_a_field_is_written_locked_and_survives_a_new_match(browser: webdriver.Chrome, address: str) -> None:
    open_film(browser, address, "Winter Ledger")
    row = see(browser, ".facts tr", "genre")
    row = next(r for r in browser.find_elements(By.CSS_SELECTOR, ".facts tr") if r.text.startswith("genre"))
    browser.execute_script("arguments[0].click()", row.find_element(By.CSS_SELECTOR, ".pen"))
    field = see(browser, ".edit input")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("Ledger drama, Snow", Keys.ENTER)
    see(browser, ".facts .lock")
    see(browser, ".acts .link", "Fetch").click()
    see(browser, ".el-message", "Fetched again")
    open_film(browser, address, "Winter Ledger")
    see(browser, ".facts", "Ledger drama, Snow")
    see(browser, ".facts details", "1 change by hand")


def test_a_picture_is_chosen(browser: webdriver.Chrome, address: str) -> None:
    open_film(browser, address, "La Casa de las Mareas")
    pictures = wait(browser, lambda b: b.find_elements(By.CSS_SELECTOR, ".picture"))
    assert len(pictures) >= 2
    other = next(p for p in pictures if p.get_attribute("aria-pressed") == "false")
    browser.execute_script("arguments[0].click()", other)
    see(browser, ".picture .stamp", "CHOSEN")
    assert len(browser.find_elements(By.CSS_SELECTOR, ".picture .stamp")) == 1


def test_a_wrong_match_is_mended_from_its_page(browser: webdriver.Chrome, address: str) -> None:
    open_film(browser, address, "Tin Orchard")
    where = browser.current_url
    see(browser, "button.link", "something else").click()
    see(browser, "h1", "Tin Orchard")
    wait(browser, lambda b: "/matches" in b.current_url)
    wait(browser, lambda b: b.find_elements(By.CSS_SELECTOR, "th, .candidate"))
    keys(browser, "n")
    see(browser, ".done", "Tin Orchard")
    keys(browser, "u")
    browser.get(where)
    see(browser, "h1", "Tin Orchard")


def test_subtitles_are_found_laid_beside_the_film_and_taken_back(
    browser: webdriver.Chrome, address: str, home: Path
) -> None:
    folder = home / "household" / "Films"
    before = names_below(folder)
    open_film(browser, address, "Moth Season")
    keep(browser)
    see(browser, "[data-test=look-texts]").click()
    languages = see(browser, "[data-test=text-languages]")
    languages.send_keys(Keys.CONTROL, "a")
    languages.send_keys("de", Keys.ENTER)
    see(browser, ".offers li", "German")
    see(browser, "[data-test=draft-text]").click()
    see(browser, ".draft dd")
    assert names_below(folder) == before, "a draft writes nothing"
    see(browser, "[data-test=keep-text]").click()
    see(browser, ".draft", "It lies there", seconds=40)
    fresh = set(names_below(folder)) - set(before)
    assert len(fresh) == 1 and next(iter(fresh)).endswith(".de.srt")
    wait(browser, lambda b: "German" in b.find_element(By.CSS_SELECTOR, ".texts ul").text, 40)
    see(browser, "[data-test=undo-text]").click()
    see(browser, ".draft", "All is as it was", seconds=40)
    assert names_below(folder) == before
    keep(browser, "look")


def test_services_of_subtitles_stand_in_the_house(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/house")
    line = see(browser, ".service", "Footline")
    next(b for b in line.find_elements(By.CSS_SELECTOR, ".link") if b.text == "Test").click()
    see(browser, ".el-message", "Footline answers")


@pytest.mark.parametrize(
    "place", ["today", "folders", "names", "matches", "catalog/films", "catalog/music", "catalog/photos", "house"]
)
def test_nothing_hangs_over_the_edge_of_a_phone(browser: webdriver.Chrome, address: str, place: str) -> None:
    browser.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride", {"width": 390, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    )
    try:
        browser.get(f"{address}/{place}")
        see(browser, "#desk")
        wait(browser, lambda b: len(b.find_element(By.ID, "desk").text) > 20)
        assert browser.execute_script("return document.documentElement.scrollWidth <= window.innerWidth")
    finally:
        browser.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False},
        )


def test_the_keys_of_a_place_are_shown(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/matches")
    see(browser, "h1")
    browser.find_element(By.TAG_NAME, "body").send_keys("?")
    assert "none of these" in see(browser, "[role=dialog]").text
    browser.find_element(By.TAG_NAME, "body").send_keys("?")
    wait(browser, lambda b: not b.find_elements(By.CSS_SELECTOR, "[role=dialog]"))


def test_an_unknown_address_leads_home(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/no/such/place")
    see(browser, "h1", "What came in")


def test_nothing_went_wrong_in_the_pages(browser: webdriver.Chrome, address: str) -> None:
    severe = [entry["message"] for entry in browser.get_log("browser") if entry["level"] == "SEVERE"]  # type: ignore[no-untyped-call]
    assert [
        message
        for message in severe
        if "401" not in message and "(NOT FOUND)" not in message and "(BAD REQUEST)" not in message
    ] == []


def test_signing_in_asks_for_the_right_password(browser: webdriver.Chrome, address: str) -> None:
    browser.get(f"{address}/house")
    see(browser, "button", "Sign out").click()
    see(browser, "h1", "Good to see you")
    browser.find_element(By.NAME, "name").send_keys("odile")
    browser.find_element(By.NAME, "password").send_keys("not the one")
    browser.find_element(By.CSS_SELECTOR, "button[type=submit]").click()
    see(browser, "[role=alert]", "Name or password is not right")
    browser.find_element(By.NAME, "password").send_keys(Keys.CONTROL, "a")
    browser.find_element(By.NAME, "password").send_keys("short no more")
    browser.find_element(By.CSS_SELECTOR, "button[type=submit]").click()
    see(browser, "h1", "What came in")
