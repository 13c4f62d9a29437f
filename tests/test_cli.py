"""The commands, as a person types them: what they print, and how they end."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from indice.demo.media import write_video
from indice.standins.profile import PROFILE
from indice.store.database import Database

ROOT = Path(__file__).resolve().parents[1]


def indice(*arguments: str, given: str = "", **env: str) -> subprocess.CompletedProcess[str]:
    """Run a command."""
    return subprocess.run(
        [sys.executable, "-m", "indice.cli", *arguments],
        input=given,
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
        env={**os.environ, "PYTHONPATH": str(ROOT / "src"), **env},
    )


@pytest.fixture
def household(tmp_path: Path, database: Database) -> dict[str, str]:
    """An environment with a data folder and a database of its own, and a film beside it."""
    write_video(
        tmp_path / "Films" / "Moth Season (2016)" / "Moth Season (2016).mp4",
        title="Moth Season",
        year=2016,
        minutes=1,
        height=90,
    )
    (tmp_path / "Films" / "Thumbs.db").write_bytes(b"x")
    (tmp_path / "home").mkdir()
    return {"INDICE_HOME": str(tmp_path / "home"), "INDICE_DATABASE_URL": database.url}


def test_read_streams_one_reading_a_line() -> None:
    asked = [
        {"path": "Moth Season (2016).mkv", "library": "movies"},
        {"path": "Caf\udce9.mp3", "library": "music"},
        {"path": "x.part", "library": "mixed"},
    ]
    done = indice("read", "--jsonl", given="".join(json.dumps(row) + "\n" for row in asked))
    rows = [json.loads(line) for line in done.stdout.splitlines()]
    assert done.returncode == 0
    assert rows[0] == {"kind": "movie", "title": "Moth Season", "year": 2016}
    assert [row["kind"] for row in rows] == ["movie", "track", "other"]


@pytest.mark.parametrize(
    "line",
    [
        "no json",
        "[]",
        '{"library": "movies"}',
        '{"path": 1, "library": "movies"}',
        '{"path": "x", "library": "paintings"}',
    ],
)
def test_a_wrong_line_is_told_and_the_rest_goes_on(line: str) -> None:
    done = indice("read", "--jsonl", given=line + '\n{"path": "a.mkv", "library": "movies"}\n')
    assert done.returncode == 1
    assert "line 1" in done.stderr
    assert [json.loads(row)["kind"] for row in done.stdout.splitlines()] == ["other", "movie"]


def test_read_explains() -> None:
    shown = indice("read", "Moth.Season.2016.1080p.mkv", "--library", "movies").stdout
    assert "‾" in shown
    assert "“2016”, last year before the technical words" in shown


def test_check_ends_as_a_linter_does(tmp_path: Path) -> None:
    folder = tmp_path / "Moth Season (2016)"
    folder.mkdir()
    (folder / "Moth Season (2016).mkv").write_bytes(b"x")
    assert indice("check", str(tmp_path), "--library", "movies").returncode == 0
    (folder / "Thumbs.db").write_bytes(b"x")
    done = indice("check", str(tmp_path), "--library", "movies", "--jsonl")
    assert done.returncode == 1
    assert json.loads(done.stdout) == {
        "check": "junk",
        "path": "Moth Season (2016)/Thumbs.db",
        "severity": "advice",
        "message": "This is no media. Delete it when you do not need it.",
    }
    assert indice("check", str(tmp_path / "nothing"), "--library", "movies").returncode == 2


def test_a_library_goes_from_folder_to_export(household: dict[str, str], tmp_path: Path) -> None:
    assert indice("library", "add", "Films", "--kind", "movies", str(tmp_path / "Films"), **household).returncode == 0
    assert "1 warning" not in indice("scan", "Films", "--wait", **household).stdout
    rows = [json.loads(line) for line in indice("export", "Films", "--jsonl", **household).stdout.splitlines()]
    assert [(row["kind"], row["title"], row["decision"], row["files"]) for row in rows] == [
        ("movie", "Moth Season", "unseen", ["Moth Season (2016)/Moth Season (2016).mp4"])
    ]


def test_what_is_wrong_is_said_without_a_trace(household: dict[str, str], tmp_path: Path) -> None:
    for arguments in (
        ("library", "add", "X", "--kind", "movies", "/no/such/folder"),
        ("library", "add", "X", "--kind", "paintings", str(tmp_path)),
        ("scan", "Nothing", "--wait"),
        ("source", "test", "Nobody"),
        ("source", "add", str(tmp_path / "no.toml")),
        ("export", "Nothing"),
    ):
        done = indice(*arguments, **household)
        assert done.returncode == 2, arguments
        assert done.stderr.startswith("indice: ")
        assert "Traceback" not in done.stderr


def test_a_source_is_added_listed_and_fails_in_words(household: dict[str, str], tmp_path: Path) -> None:
    (tmp_path / "almanac.toml").write_text(PROFILE.format(url="http://127.0.0.1:9/reconcile"))
    assert indice("source", "add", str(tmp_path / "almanac.toml"), "--key", "tern", **household).returncode == 0
    listed = indice("source", "list", **household).stdout
    assert "Almanac" in listed
    assert "tern" not in listed
    assert indice("source", "test", "Almanac", **household).returncode == 2
    assert (
        indice(
            "library", "add", "Films", "--kind", "movies", str(tmp_path / "Films"), "--source", "Almanac", **household
        ).returncode
        == 0
    )
    indice("scan", "--wait", **household)
    done = indice("match", "Films", "--wait", **household)
    assert done.returncode == 1
    assert "Almanac" in done.stderr


def test_status_and_doctor_tell(household: dict[str, str]) -> None:
    assert "not running" in indice("status", **household).stdout
    shown = indice("doctor", **household).stdout
    assert "another server is used" in shown
    assert "free space" in shown


def test_every_command_has_help() -> None:
    shown = indice("--help").stdout
    for command in (
        "demo",
        "start",
        "stop",
        "status",
        "doctor",
        "read",
        "check",
        "scan",
        "match",
        "export",
        "test",
        "library",
        "source",
    ):
        assert command in shown
        assert "Example" in indice(command, "--help").stdout or command in ("library", "source", "status", "doctor")


def test_a_library_is_given_a_schedule(household: dict[str, str], tmp_path: Path) -> None:
    assert indice("library", "add", "Films", "--kind", "movies", str(tmp_path / "Films"), **household).returncode == 0
    assert "nightly at 3" in indice("library", "schedule", "Films", "Nightly at 3:00", **household).stdout
    assert "changes" in indice("library", "schedule", "Films", "off", **household).stdout
    for wrong in (("Films", "now and then"), ("Nowhere", "every hour")):
        done = indice("library", "schedule", *wrong, **household)
        assert (
            done.returncode != 0
            and "Traceback" not in done.stderr
            and wrong[0 if wrong[0] != "Films" else 1] in done.stderr
        )


def test_people_are_added_changed_and_removed(household: dict[str, str], tmp_path: Path) -> None:
    assert indice("library", "add", "Films", "--kind", "movies", str(tmp_path / "Films"), **household).returncode == 0
    (tmp_path / "word").write_text("tidewrack 9\n")
    added = indice(
        *("person", "add", "Nell", "--library", "Films", "--age", "10", "--password-file", str(tmp_path / "word")),
        **household,
    )
    assert added.returncode == 0, added.stderr
    changed = ("person", "set", "nell", "--age", "12", "--unrated", "show", "--share", "--no-download")
    assert indice(*changed, **household).returncode == 0
    told = json.loads(indice("person", "list", "--jsonl", **household).stdout)
    rights = {"download": False, "share": True, "tidy": False}
    assert told == {"name": "Nell", "role": "member", "libraries": ["Films"], "age": 12, "unrated": "show", **rights}
    for wrong in (("person", "set", "Nell", "--role", "king"), ("person", "set", "Nell", "--age", "old")):
        done = indice(*wrong, **household)
        assert done.returncode != 0 and "Traceback" not in done.stderr
    limited = indice("folder", "limit", str(tmp_path / "Films"), "--age", "18", **household)
    assert limited.returncode == 0, limited.stderr
    assert indice("person", "remove", "Nell", **household).returncode == 0
    assert indice("person", "list", "--jsonl", **household).stdout == ""
