"""How the tests drive a browser: waiting for what is shown, and telling what is shown instead."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException, TimeoutException, WebDriverException
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

__all__ = ["see", "wait"]


def wait(browser: webdriver.Chrome, what: Callable[[webdriver.Chrome], Any], seconds: float = 20) -> Any:
    """Wait until something is so."""

    def seen(b: webdriver.Chrome) -> Any:
        try:
            return what(b)
        except WebDriverException as error:
            # ChromeDriver's own word for an element that went while it was being looked at.
            if "does not belong to the document" not in str(error.msg):
                raise
            return None

    return WebDriverWait(
        browser, seconds, poll_frequency=0.2, ignored_exceptions=[StaleElementReferenceException]
    ).until(seen)


def see(browser: webdriver.Chrome, css: str, text: str = "", seconds: float = 20) -> WebElement:
    """Wait for an element that holds a text; what the page shows instead is told."""

    def found(b: webdriver.Chrome) -> WebElement | None:
        return next((e for e in b.find_elements(By.CSS_SELECTOR, css) if e.is_displayed() and text in e.text), None)

    try:
        return wait(browser, found, seconds)
    except TimeoutException:
        shown = browser.find_element(By.TAG_NAME, "body").text
        raise AssertionError(f"No {css} with {text!r} at {browser.current_url}, which shows:\n{shown[:1500]}") from None
