"""What every answer says to the browser besides what it holds."""

from __future__ import annotations

from dataclasses import replace

import pytest
from flask.testing import FlaskClient

from indice.settings import Settings
from indice.store.database import Database
from indice.web.app import create_app

from .kettle import Sign, ids, said


@pytest.mark.parametrize("path", ["/", "/api/status", "/api/entries/1", "/api/nowhere", "/assets/none.js"])
def test_every_answer_forbids_what_a_page_of_ours_never_does(client: FlaskClient, path: str) -> None:
    told = client.get(path).headers
    assert told["X-Content-Type-Options"] == "nosniff"
    assert told["X-Frame-Options"] == "DENY" and told["Referrer-Policy"] == "no-referrer"
    assert told["Cross-Origin-Opener-Policy"] == told["Cross-Origin-Resource-Policy"] == "same-origin"
    policy = dict(rule.strip().split(" ", 1) for rule in told["Content-Security-Policy"].split(";"))
    assert policy["default-src"] == "'self'" and policy["object-src"] == policy["frame-ancestors"] == "'none'"
    assert "script-src" not in policy, "scripts are the application's own, by the default"
    assert "Strict-Transport-Security" not in told
    assert "Access-Control-Allow-Origin" not in told


@pytest.mark.parametrize("path", ["/api/status", "/api/shelves/films", "/api/sessions", "/api/nowhere"])
def test_what_is_told_of_a_household_is_kept_in_no_cache(sign: Sign, path: str) -> None:
    assert sign("member").get(path).headers["Cache-Control"] == "no-store"


def test_files_are_served_with_a_policy_that_allows_nothing(sign: Sign, household: Database) -> None:
    client = sign("member")
    page = said(client.get(f"/api/entries/{ids(household, 'movie')['Kettle Morning']}"))
    answer = client.get(f"/api/files/{page['versions'][0]['file_id']}/content")
    assert "default-src 'none'" in answer.headers["Content-Security-Policy"]
    assert answer.headers["X-Content-Type-Options"] == "nosniff"


def test_with_a_certificate_of_ones_own_browsers_stay_with_https(settings: Settings, database: Database) -> None:
    client = create_app(replace(settings, https="own"), database).test_client()
    assert client.get("/api/status", base_url="https://localhost").headers["Strict-Transport-Security"]


def test_a_page_elsewhere_is_answered_nothing_that_its_browser_would_show(client: FlaskClient) -> None:
    answer = client.options("/api/status", headers={"Origin": "http://elsewhere.example"})
    assert not [name for name, _ in answer.headers if name.startswith("Access-Control")]
