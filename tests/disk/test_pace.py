"""Background work keeps to the pace that the owner allows, whoever of several does it."""

from __future__ import annotations

import threading
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.disk import digest
from indice.disk.pace import Pace, set_paces
from indice.disk.workshop import Workshop


class Clock:
    """Time that passes only while somebody sleeps, or works."""

    def __init__(self) -> None:
        self.now = 100.0
        self.slept = 0.0

    def sleep(self, seconds: float) -> None:
        self.now += seconds
        self.slept += seconds


def paced(megabytes_per_second: float) -> tuple[Pace, Clock]:
    clock = Clock()
    pace = Pace(clock=lambda: clock.now, sleep=clock.sleep)
    pace.limit(megabytes_per_second)
    return pace, clock


def test_without_a_limit_nobody_waits() -> None:
    pace, clock = paced(0)
    for _ in range(100):
        pace.took(10**9)
    assert clock.slept == 0


@given(st.lists(st.integers(0, 40_000_000), min_size=1, max_size=60), st.floats(0.5, 200))
def test_never_faster_than_the_pace_and_hardly_slower(counts: list[int], limit: float) -> None:
    pace, clock = paced(limit)
    for count in counts:
        pace.took(count)
    due = sum(counts) / (limit * 1_000_000)
    assert due - 0.1 - 1e-6 <= clock.slept <= due + 1e-6


def test_what_was_not_used_is_not_saved_up() -> None:
    pace, clock = paced(1)
    clock.now += 3600
    pace.took(5_000_000)
    assert clock.slept == pytest.approx(5)


def test_several_share_one_pace() -> None:
    waits: list[float] = []
    pace = Pace(clock=lambda: 0.0, sleep=waits.append)
    pace.limit(10)
    threads = [threading.Thread(target=pace.took, args=(10_000_000,)) for _ in range(4)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    assert sorted(waits) == pytest.approx([1, 2, 3, 4])


def test_fingerprints_are_taken_at_that_pace(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    pace, clock = paced(2)
    monkeypatch.setattr(digest, "READING", pace)
    (tmp_path / "film").write_bytes(b"x" * 9_000_000)
    told = digest.digest_of(bytes(tmp_path / "film"))
    assert clock.slept == pytest.approx(4.5, abs=0.1)
    monkeypatch.undo()
    assert digest.digest_of(bytes(tmp_path / "film")) == told


def test_the_paces_of_this_process_are_set_and_lifted(monkeypatch: pytest.MonkeyPatch) -> None:
    waits: list[float] = []
    monkeypatch.setattr(digest.READING, "_sleep", waits.append)
    set_paces(reading=1, fetching=0)
    digest.READING.took(2_000_000)
    set_paces(reading=0, fetching=0)
    digest.READING.took(2_000_000)
    assert waits == [pytest.approx(2, abs=0.1)]


def test_a_child_rests_behind_its_work(monkeypatch: pytest.MonkeyPatch) -> None:
    shop = Workshop(1)
    try:
        assert isinstance(shop.run("towns", [(48.2, 16.4)]), list)
        rests: list[float] = []
        monkeypatch.setattr("indice.disk.workshop.time.sleep", rests.append)
        shop.share = 0.25
        for _ in range(3):
            shop.run("towns", [(48.2, 16.4)])
        with pytest.raises(ValueError):
            shop.run("probe", b"/nowhere", 3, 4, 5)
    finally:
        monkeypatch.undo()
        shop.close()
    assert len(rests) == 4 and all(rest > 0 for rest in rests), "also behind what failed"
