"""What a folder looks like from afar agrees with what the walk sees, for whatever lies in
it; what is unusual is not passed by."""

from __future__ import annotations

import os
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from indice.disk.outline import Outline, outline
from indice.disk.walk import BIN, walk

SALT = b"1 movies "


def seen(root: Path) -> dict[bytes, Outline]:
    told = outline(os.fsencode(root), lambda _: None)
    assert told is not None
    return told


def agrees(root: Path) -> None:
    from_afar = seen(root)
    near = {directory.path: directory for directory in walk(os.fsencode(root))}
    assert set(from_afar) == set(near)
    for path, directory in near.items():
        assert from_afar[path].count == len(directory.files)
        assert from_afar[path].signature(SALT) == directory.signature(SALT), path


@pytest.mark.parametrize(
    "names",
    [
        [],
        [b"a.mkv"],
        [b"Season 01/e 1.mkv", b"Season 01/e 2.mkv", b"Season 02/", b"poster.jpg"],
        [b"with space/ two  spaces .mkv", b"new\nline.mkv", b"tab\there.mkv", b"%s %T@.mkv", b"\\0.mkv"],
        ["鳥/Ünï.mkv".encode(), b"broken \xff\xfe/\xe9.mkv"],
        [b"-name", b"(", b"!", b"a/b/c/d/e/f.mkv"],
        [BIN + b"/thrown away.mkv", b"Sub/" + BIN + b"/kept.mkv"],
    ],
    ids=str,
)
def test_from_afar_and_near_agree(tmp_path: Path, names: list[bytes]) -> None:
    for place, name in enumerate(names):
        path = os.path.join(os.fsencode(tmp_path), name)
        os.makedirs(os.path.dirname(path), exist_ok=True)
        if not name.endswith(b"/"):
            with open(path, "wb") as file:
                file.write(b"x" * place)
    agrees(tmp_path)


_NAMES = st.binary(min_size=1, max_size=12).filter(lambda name: not {0, 47} & set(name) and name not in (b".", b".."))


@pytest.mark.parametrize("folder", ["Films [HD]", "Films *", "a?c", "-name", "Films\\x"])
def test_whatever_the_folder_is_called(tmp_path: Path, folder: str) -> None:
    root = tmp_path / folder
    for name in (f"{os.fsdecode(BIN)}/gone.mkv", "Sub/film.mkv", "film.mkv"):
        (root / name).parent.mkdir(parents=True, exist_ok=True)
        (root / name).touch()
    agrees(root)


@settings(max_examples=30, deadline=None)
@given(st.dictionaries(_NAMES, st.tuples(st.integers(0, 40), st.integers(0, 4_102_444_800_999_999_999)), max_size=6))
def test_any_name_any_size_any_time(
    tmp_path_factory: pytest.TempPathFactory, files: dict[bytes, tuple[int, int]]
) -> None:
    root = tmp_path_factory.mktemp("any")
    for name, (size, time_ns) in files.items():
        path = os.path.join(os.fsencode(root), name)
        with open(path, "wb") as file:
            file.write(b"x" * size)
        os.utime(path, ns=(time_ns, time_ns))
    agrees(root)


@pytest.mark.parametrize("change", ["written", "touched", "renamed", "added", "removed", "swapped"])
def test_whatever_changes_shows(tmp_path: Path, change: str) -> None:
    one, other = tmp_path / "S/one.mkv", tmp_path / "S/other.mkv"
    one.parent.mkdir()
    for file in (one, other):
        file.write_bytes(b"x" * 9)
        os.utime(file, ns=(10**18, 10**18))
    before = seen(tmp_path)[b"S"].signature(SALT)
    if change == "written":
        one.write_bytes(b"x" * 10)
        os.utime(one, ns=(10**18, 10**18))
    elif change == "touched":
        os.utime(one, ns=(10**18, 10**18 + 1))
    elif change == "renamed":
        one.rename(one.with_name("uno.mkv"))
    elif change == "added":
        (tmp_path / "S/third.mkv").touch()
    elif change == "removed":
        one.unlink()
    else:
        between = one.with_name("between")
        for source, target in ((one, between), (other, one), (between, other)):
            source.rename(target)
    assert seen(tmp_path)[b"S"].signature(SALT) != before


def test_links_and_closed_directories_are_to_be_looked_at_closer(tmp_path: Path) -> None:
    (tmp_path / "Linked").mkdir()
    (tmp_path / "Linked/film.mkv").symlink_to(tmp_path / "elsewhere.mkv")
    (tmp_path / "Closed").mkdir()
    (tmp_path / "Closed").chmod(0o000)
    (tmp_path / "Pipe").mkdir()
    os.mkfifo(tmp_path / "Pipe/film.mkv")
    told = seen(tmp_path)
    (tmp_path / "Closed").chmod(0o755)
    assert [told[name].is_plain for name in (b"Linked", b"Closed", b"Pipe", b"")] == [False, False, False, True]


def test_without_find_nothing_is_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("PATH", str(tmp_path))
    assert outline(os.fsencode(tmp_path), lambda _: None) is None


def test_who_wants_it_to_end_ends_it(tmp_path: Path) -> None:
    (tmp_path / "a").touch()

    def stop(_: bytes) -> None:
        raise InterruptedError

    with pytest.raises(InterruptedError):
        outline(os.fsencode(tmp_path), stop)
