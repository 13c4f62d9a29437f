"""Settings: defaults, the file, the environment, and what is told of a wrong one."""

from __future__ import annotations

from pathlib import Path

import pytest

from indice.settings import Settings, default_home


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
