"""Settings: defaults, the file, the environment, and what is told of a wrong one."""

from __future__ import annotations

import runpy
from dataclasses import fields
from pathlib import Path

import pytest

from indice.settings import Settings, default_home

ROOT = Path(__file__).resolve().parents[1]


def test_defaults(tmp_path: Path) -> None:
    settings = Settings.load({"INDICE_HOME": str(tmp_path)})
    assert (settings.home, settings.host, settings.port, settings.database_url) == (tmp_path, "127.0.0.1", 7800, "")


def test_the_environment_wins_over_the_file(tmp_path: Path) -> None:
    (tmp_path / "indice.toml").write_text('port = 8000\nhost = "0.0.0.0"\nsecure_cookie = true\n')
    settings = Settings.load({"INDICE_HOME": str(tmp_path), "INDICE_PORT": "9000"})
    assert (settings.port, settings.host, settings.secure_cookie) == (9000, "0.0.0.0", True)


@pytest.mark.parametrize(
    ("text", "env", "told"),
    [
        ("port = ", {}, "Mend that line"),
        ("colour = 1", {}, "no setting called 'colour'"),
        ("", {"INDICE_PORT": "many"}, "port: 'many' is not a int"),
        ("", {"INDICE_SECURE_COOKIE": "perhaps"}, "secure_cookie"),
        ("background_percent = 0", {}, "background_percent: 0 is not between 1 and 100"),
        ("background_percent = 101", {}, "background_percent"),
        ("read_mb_per_second = -1", {}, "read_mb_per_second"),
        ("", {"INDICE_FETCH_MB_PER_SECOND": "nan"}, "fetch_mb_per_second"),
    ],
)
def test_a_wrong_setting_is_named(tmp_path: Path, text: str, env: dict[str, str], told: str) -> None:
    (tmp_path / "indice.toml").write_text(text)
    with pytest.raises(ValueError, match=told):
        Settings.load({"INDICE_HOME": str(tmp_path), **env})


def test_the_data_folder_follows_the_standard(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("os.geteuid", lambda: 1000)
    assert default_home({"XDG_DATA_HOME": "/data"}) == Path("/data/indice")
    assert default_home({"HOME": "/home/odile"}) == Path("/home/odile/.local/share/indice")
    monkeypatch.setattr("os.geteuid", lambda: 0)
    assert default_home({"HOME": "/root"}) == Path("/var/lib/indice")


def test_the_page_of_settings_is_theirs() -> None:
    told = (ROOT / "docs" / "settings.md").read_text("utf-8")
    rows = [line for line in told.splitlines() if line.startswith("| `")]
    assert [row.split("`")[1] for row in rows] == [field.name for field in fields(Settings)]
    made = runpy.run_path(str(ROOT / "tools" / "settings_page.py"))["page"]()
    assert told == made, "run .venv/bin/python tools/settings_page.py"
    assert all(f"`INDICE_{row.split('`')[1].upper()}`" in row for row in rows)
