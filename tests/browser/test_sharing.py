"""Sharing and lists in a real browser: a link with a password, looked at signed out
and taken back; a television; a list."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.common.virtual_authenticator import VirtualAuthenticatorOptions

from .conftest import NAMES
from .drive import ask, looked, see, wait


def test_a_list_is_made_filled_and_ordered_by_keys(
    browser: webdriver.Chrome, empty: str, films: dict[str, int]
) -> None:
    for name in NAMES:
        browser.get(f"{empty}/catalog/entry/{films[f'{name}.mp4']}")
        see(browser, "[data-test=to-list]").click()
        wait(browser, lambda b: b.find_element(By.CSS_SELECTOR, "[data-test=list-name]").is_displayed())
        browser.find_element(By.CSS_SELECTOR, "[data-test=list-name]").send_keys("Evening", Keys.ENTER)
        see(browser, ".el-message", "Evening")
    browser.get(f"{empty}/catalog/lists")
    see(browser, "a.list", "3 in it").click()

    def rows(b: webdriver.Chrome) -> list[str]:
        return [str(row.get_attribute("aria-label"))[3:] for row in b.find_elements(By.CSS_SELECTOR, "[data-place]")]

    titles = [name.partition(" (")[0] for name in NAMES]
    wait(browser, lambda b: rows(b) == titles)
    first = browser.find_elements(By.CSS_SELECTOR, "[data-place]")[0]
    first.send_keys(Keys.ALT, Keys.ARROW_DOWN)
    wanted = [titles[1], titles[0], titles[2]]
    wait(browser, lambda b: rows(b) == wanted)
    browser.refresh()
    wait(browser, lambda b: rows(b) == wanted)
    see(browser, "[data-test=play-list]").click()
    looked(browser, 0.3)
    browser.find_element(By.TAG_NAME, "body").send_keys("n")
    wait(browser, lambda b: b.current_url.split("?")[0].endswith(f"/play/{films[f'{NAMES[0]}.mp4']}"))
    assert "list=" in browser.current_url


def test_a_link_with_a_password_is_looked_at_signed_out_and_taken_back(
    browser: webdriver.Chrome, stranger: webdriver.Chrome, empty: str, films: dict[str, int]
) -> None:
    browser.get(f"{empty}/catalog/entry/{films[f'{NAMES[0]}.mp4']}")
    see(browser, "[data-test=share]").click()
    see(browser, ".el-dialog", "Kettle Morning")
    browser.find_element(By.NAME, "share-password").send_keys("a tin whistle")
    browser.find_element(By.CSS_SELECTOR, "[data-test=make-link]").click()
    link = see(browser, "[data-test=made-link]").text
    stranger.get(link)
    see(stranger, "h1", "asks for a password")
    assert "Kettle" not in stranger.find_element(By.TAG_NAME, "body").text
    stranger.find_element(By.NAME, "share-password").send_keys("a tin whistle", Keys.ENTER)
    see(stranger, "h1", "Kettle Morning")
    see(stranger, "[data-test=play]").click()
    looked(stranger, 0.3)
    stranger.find_element(By.CSS_SELECTOR, "[data-test=back]").click()
    see(stranger, "h1", "Kettle Morning")
    stranger.get(f"{empty}/catalog")
    see(stranger, "h1", "Good to see you")
    browser.get(f"{empty}/house")
    see(browser, "[data-test=shares] .lined", "opened once").find_element(By.TAG_NAME, "button").click()
    see(browser, "[data-test=shares] .lined", "Nothing is shared")
    stranger.get(link)
    see(stranger, "h1", "leads nowhere")


def test_a_television_is_signed_in_by_its_code(
    browser: webdriver.Chrome, stranger: webdriver.Chrome, empty: str
) -> None:
    stranger.get(f"{empty}/welcome")
    see(stranger, "a", "television").click()
    code = see(stranger, "[data-test=user-code]").text
    browser.get(f"{empty}/code")
    see(browser, "input[name=code]").send_keys(code.lower(), Keys.ENTER)
    see(browser, "[data-test=allow]").click()
    see(browser, "[role=status]", "signed in as Odile")
    wait(stranger, lambda b: b.current_url.endswith("/catalog"), 30)
    see(stranger, ".catalog", "Begin")


def test_a_passkey_signs_in_without_a_password(browser: webdriver.Chrome, empty: str, films: dict[str, int]) -> None:
    options = VirtualAuthenticatorOptions(
        transport=VirtualAuthenticatorOptions.Transport.INTERNAL.value,
        has_resident_key=True,
        has_user_verification=True,
        is_user_verified=True,
    )
    browser.add_virtual_authenticator(options)
    here = browser.current_url
    by_name = empty.replace("127.0.0.1", "localhost")
    browser.get(by_name)
    see(browser, "h1", "Good to see you")
    ask(browser, "/api/session", "POST", {"name": "Odile", "password": "tidewrack 9"})
    browser.get(f"{by_name}/house")
    see(browser, "[data-test=looks] [name=language]")
    browser.execute_script("arguments[0].click()", see(browser, "[data-test=make-passkey]"))  # panels above still grow
    see(browser, "[data-test=passkeys] .row b")
    ask(browser, "/api/session", "DELETE")
    browser.get(by_name)
    see(browser, "[data-test=by-passkey]").click()
    wait(browser, lambda b: b.current_url.endswith("/today"), 30)
    browser.get(here)


def test_files_are_handed_in_by_a_link(
    browser: webdriver.Chrome,
    stranger: webdriver.Chrome,
    empty: str,
    films: dict[str, int],
    tmp_path_factory: pytest.TempPathFactory,
) -> None:
    door: Path = tmp_path_factory.mktemp("door")
    ask(browser, "/api/intakes", "POST", {"path": str(door), "alone": False})
    intake = ask(browser, "/api/shares")["intakes"][0]["id"]
    body = {"entry_id": films[f"{NAMES[1]}.mp4"], "intake_id": intake, "upload_megabytes": 1}
    stranger.get(ask(browser, "/api/shares", "POST", body)["link"])
    picture = tmp_path_factory.mktemp("mine") / "Wren & hill 鳥.jpg"
    picture.write_bytes(b"\xff\xd8 a picture")
    see(stranger, ".hand", "There is room for 1")
    stranger.find_element(By.CSS_SELECTOR, "[data-test=hand-in]").send_keys(str(picture))
    see(stranger, ".hand", "is there")
    assert (door / picture.name).read_bytes() == picture.read_bytes()
