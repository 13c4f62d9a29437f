"""How the tests drive a browser: waiting for what is shown, and telling what is shown instead."""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from typing import Any

from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException, TimeoutException, WebDriverException
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

__all__ = ["LOOK", "all_done", "ask", "looked", "see", "wait"]
LOOK = """
const v = document.querySelector('video'); if (!v || v.readyState < 2) return null
const c = document.createElement('canvas'); c.width = v.videoWidth; c.height = v.videoHeight
const x = c.getContext('2d'); x.drawImage(v, 0, 0)
return {at: v.currentTime, size: [v.videoWidth, v.videoHeight], muted: v.muted, paused: v.paused,
        light: x.getImageData(v.videoWidth >> 1, v.videoHeight >> 1, 1, 1).data[1],
        many: document.querySelectorAll('video, audio').length}
"""
# ChromeDriver's own word for an element that went while it was being looked at.
GONE = "does not belong to the document"
ASK = """
const [path, method, body, done] = arguments
const said = r => r.text().then(t => done([r.status, t ? JSON.parse(t) : null]))
fetch('/api/status').then(r => r.json()).then(s => fetch(path, {method,
  headers: {'Content-Type': 'application/json', 'X-Indice-Token': s.csrf}, body: body || undefined})).then(said)
"""


def wait(browser: webdriver.Chrome, what: Callable[[webdriver.Chrome], Any], seconds: float = 20) -> Any:
    """Wait until something is so."""

    def seen(b: webdriver.Chrome) -> Any:
        try:
            return what(b)
        except WebDriverException as error:
            if GONE not in str(error.msg):
                raise
            return None

    return WebDriverWait(
        browser, seconds, poll_frequency=0.2, ignored_exceptions=[StaleElementReferenceException]
    ).until(seen)


class Seen(WebElement):
    """What a person sees at a place: a page that draws it anew between a look and a press has it under the same words.

    A person presses what is there at that moment; so does this, by looking once more where the element is another now.
    """

    def __init__(self, now: WebElement, again: Callable[[], WebElement]) -> None:
        super().__init__(now.parent, now.id)
        self._again = again

    def _execute(self, command: str, params: dict[str, Any] | None = None) -> Any:
        try:
            return super()._execute(command, params)
        except WebDriverException as error:
            if not isinstance(error, StaleElementReferenceException) and GONE not in str(error.msg):
                raise
        self._id = self._again().id
        return super()._execute(command, params)


def see(browser: webdriver.Chrome, css: str, text: str = "", seconds: float = 20) -> WebElement:
    """Wait for an element that holds a text; what the page shows instead is told."""

    def found(b: webdriver.Chrome) -> WebElement | None:
        return next((e for e in b.find_elements(By.CSS_SELECTOR, css) if e.is_displayed() and text in e.text), None)

    try:
        return Seen(wait(browser, found, seconds), lambda: wait(browser, found, seconds))
    except TimeoutException:
        shown = browser.find_element(By.TAG_NAME, "body").text
        raise AssertionError(f"No {css} with {text!r} at {browser.current_url}, which shows:\n{shown[:1500]}") from None


def ask(browser: webdriver.Chrome, path: str, method: str = "GET", body: Any = None) -> Any:
    """Ask the server as the page does."""
    status, told = browser.execute_async_script(ASK, path, method, json.dumps(body) if body is not None else "")
    assert status == 200, f"{path}: {status} {told}"
    return told


def all_done(browser: webdriver.Chrome, still: float = 90) -> None:
    """Wait until no work is left. A busy machine may take as long as it likes; work that stands still may not.

    Raises:
        AssertionError: Work has stood still for so many seconds, or has failed.
    """
    seen, end = None, time.monotonic() + still
    while True:
        jobs = [job for job in ask(browser, "/api/jobs")["jobs"] if job["state"] != "done"]
        if not jobs:
            return
        now = [(job["id"], job["state"], job["step"], job["done"], job["current"]) for job in jobs]
        if now != seen:
            seen, end = now, time.monotonic() + still
        assert time.monotonic() < end and all(job["state"] != "failed" for job in jobs), jobs
        time.sleep(0.3)


def looked(browser: webdriver.Chrome, after: float = 0.0) -> dict[str, Any]:
    """What is seen, when the film is past a moment."""

    def seen(b: webdriver.Chrome) -> Any:
        found = b.execute_script(LOOK)
        return found if found and found["at"] > after else None

    return wait(browser, seen, 30)
