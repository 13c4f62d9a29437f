"""What a folder is like is found out without leaving anything in it."""

from __future__ import annotations

import errno
import os
from pathlib import Path

import pytest

import indice.disk.trial as trial
from indice.disk.trial import mount_of, try_folder

TABLE = rb"""22 1 8:1 / / rw,relatime shared:1 - ext4 /dev/sda1 rw
30 22 0:45 / /media/films rw - cifs //shelf/films rw,vers=3.1.1
31 22 0:46 / /media/films/deep rw - nfs4 shelf:/deep rw
32 22 0:47 / /media/my\040drive rw - fuseblk /dev/sdb1 rw
33 22 0:48 / /media/films rw - ext4 /dev/sdc1 rw
broken
"""


@pytest.mark.parametrize(
    ("path", "kind", "is_share", "is_foreign"),
    [
        (b"/media/films/deep/a", "nfs4", True, False),
        (b"/media/filmstrip", "ext4", False, False),
        (b"/media/my drive/x", "fuseblk", False, True),
        (b"/media/films", "ext4", False, False),  # what was mounted last at a place lies on top
        (b"/", "ext4", False, False),
    ],
)
def test_the_mount_of_a_path(path: bytes, kind: str, is_share: bool, is_foreign: bool) -> None:
    found = mount_of(path, TABLE)
    assert found is not None
    assert (found.kind, found.is_share, found.is_foreign) == (kind, is_share, is_foreign)


def test_the_system_says_where_something_is_mounted(tmp_path: Path) -> None:
    found = mount_of(os.fsencode(tmp_path))
    assert found is not None and os.fsencode(tmp_path.resolve()).startswith(found.at.rstrip(b"/"))


def test_a_good_folder_takes_everything_and_is_left_as_it_was(tmp_path: Path) -> None:
    (tmp_path / "film.mkv").write_bytes(b"x")
    before = os.stat(tmp_path / "film.mkv")
    found = try_folder(os.fsencode(tmp_path))
    assert (found.reads, found.writes, found.renames, found.tells_case, found.problem) == (True, True, True, True, "")
    assert found.name_bytes == 255 and found.takes_colons
    assert os.listdir(tmp_path) == ["film.mkv"] and os.stat(tmp_path / "film.mkv") == before


@pytest.mark.parametrize(
    ("number", "word"),
    [
        (errno.EROFS, "read-only"),
        (errno.EACCES, "no-permission"),
        (errno.ENOSPC, "full"),
        (errno.ESTALE, "mount-gone"),
        (errno.EKEYREJECTED, "credentials"),
        (errno.EIO, os.strerror(errno.EIO)),
    ],
)
def test_why_nothing_can_be_written_is_told(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, number: int, word: str
) -> None:
    def refuse(*_: object) -> None:
        raise OSError(number, os.strerror(number))

    monkeypatch.setattr(trial.os, "mkdir", refuse)
    found = try_folder(os.fsencode(tmp_path))
    assert (found.reads, found.writes, found.problem) == (True, False, word)


def test_a_folder_that_is_not_there_or_slow(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    found = try_folder(os.fsencode(tmp_path / "none"))
    assert (found.reads, found.problem) == (False, "not-there")
    monkeypatch.setattr(trial, "SLOW_SECONDS", -1.0)
    assert try_folder(os.fsencode(tmp_path)).problem == "slow"


def test_a_file_system_of_short_names_without_case(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """As on a share of another system: `B` is `b`, names end at 143 bytes, and a colon is none."""
    real_open, real_exists = open, os.path.exists

    def narrow(path: bytes, mode: str) -> object:
        name = os.fsencode(os.path.basename(path))
        if len(name) > 143 or b":" in name:
            raise OSError(errno.EINVAL, "no")
        return real_open(path, mode)

    monkeypatch.setattr(trial, "open", narrow, raising=False)
    monkeypatch.setattr(
        trial.os.path, "exists", lambda path: real_exists(path) or real_exists(os.path.join(*_lower(path)))
    )
    found = try_folder(os.fsencode(tmp_path))
    assert (found.tells_case, found.name_bytes, found.takes_colons) == (False, 143, False)
    assert os.listdir(tmp_path) == []


def _lower(path: bytes) -> tuple[bytes, bytes]:
    folder, name = os.path.split(path)
    return folder, name.lower() if isinstance(name, bytes) else name
