"""Walking real folders, with everything that can be wrong with them."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from indice.disk.walk import is_away, shown, walk


def files_below(root: Path) -> list[bytes]:
    """Paths that the walk yields."""
    return [seen.path for directory in walk(os.fsencode(root)) for seen in directory.files]


def test_every_file_is_seen_once_in_order(tmp_path: Path) -> None:
    for name in ("b/2.mkv", "a/1.mkv", "a/c/3.mkv", "0.mkv"):
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_bytes(b"x")
    assert files_below(tmp_path) == [b"0.mkv", b"a/1.mkv", b"a/c/3.mkv", b"b/2.mkv"]


def test_a_path_may_be_any_bytes(tmp_path: Path) -> None:
    odd = os.fsencode(tmp_path) + b"/Cami\xf3n\n.mkv"
    Path(os.fsdecode(odd)).write_bytes(b"x")
    assert files_below(tmp_path) == [b"Cami\xf3n\n.mkv"]
    assert shown(b"Cami\xf3n.mkv") == "Cami\ufffdn.mkv"
    assert len(shown(b"\xff\xfe.mkv")) == len(os.fsdecode(b"\xff\xfe.mkv"))


def test_links_to_folders_are_not_followed(tmp_path: Path) -> None:
    (tmp_path / "a").mkdir()
    (tmp_path / "a" / "loop").symlink_to(tmp_path)
    (tmp_path / "a" / "x.mkv").write_bytes(b"x")
    assert files_below(tmp_path) == [b"a/x.mkv"]


def test_links_to_files_count_inside_the_folder_only(tmp_path: Path) -> None:
    outside, root = tmp_path / "outside", tmp_path / "root"
    outside.mkdir()
    root.mkdir()
    (outside / "y.mkv").write_bytes(b"y")
    (root / "x.mkv").write_bytes(b"x")
    (root / "inside.mkv").symlink_to("x.mkv")
    (root / "out.mkv").symlink_to(outside / "y.mkv")
    (root / "folder").symlink_to(outside)
    (root / "nowhere").symlink_to("../gone")
    (found,) = list(walk(os.fsencode(root)))
    assert [seen.path for seen in found.files] == [b"inside.mkv", b"x.mkv"]
    assert sorted(found.outside) == [b"folder", b"nowhere", b"out.mkv"] and not found.problem


@pytest.mark.skipif(os.geteuid() == 0, reason="root reads everything")
def test_a_closed_folder_is_told_and_the_rest_goes_on(tmp_path: Path) -> None:
    (tmp_path / "closed").mkdir(mode=0o000)
    (tmp_path / "open.mkv").write_bytes(b"x")
    problems = [directory.problem for directory in walk(os.fsencode(tmp_path)) if directory.problem]
    assert "permission" in problems[0]
    assert files_below(tmp_path) == [b"open.mkv"]


def test_a_folder_that_goes_away_while_walking_is_told(tmp_path: Path) -> None:
    found = list(walk(os.fsencode(tmp_path / "nothing")))
    assert found[0].files == []
    assert "not there" in found[0].problem


def test_an_unplugged_drive_is_away(tmp_path: Path) -> None:
    assert is_away(os.fsencode(tmp_path / "nothing"))
    assert is_away(os.fsencode(tmp_path))
    (tmp_path / "x").write_bytes(b"x")
    assert not is_away(os.fsencode(tmp_path))
