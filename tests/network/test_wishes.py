"""What the owner wants of the network is kept on this machine; what cannot be read wants nothing."""

from __future__ import annotations

from pathlib import Path

import pytest

from indice.network.wishes import Standing, Wishes, read_standing, read_wishes, write_standing, write_wishes


def test_what_is_wanted_comes_back(tmp_path: Path) -> None:
    assert read_wishes(tmp_path) == Wishes() and not read_wishes(tmp_path).any
    assert read_wishes(tmp_path, announce=True).announce, "as the settings say, before the owner has"
    write_wishes(tmp_path, Wishes(announce=False, outside_port=8443))
    assert read_wishes(tmp_path, announce=True) == Wishes(outside_port=8443)
    write_standing(tmp_path, Standing(announced="Indice", outside_port=1))
    assert read_standing(tmp_path) == Standing(announced="Indice", outside_port=1)


@pytest.mark.parametrize("said", ["", "[]", "{", '{"announce": 1, "outside_port": "8443"}', '{"outside_port": 70000}'])
def test_what_cannot_be_read_wants_nothing(tmp_path: Path, said: str) -> None:
    (tmp_path / "network.json").write_text(said)
    (tmp_path / "network-state.json").write_text(said.replace("8443", "x").replace("70000", "[]"))
    assert read_wishes(tmp_path) == Wishes()
    assert read_standing(tmp_path) == Standing()
