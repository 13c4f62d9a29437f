"""Words of songs: lines and their moments, whatever wrote them."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.lyrics import holds_lyrics, line_with, read_lyrics

Lines = list[tuple[str, float | None]]


@pytest.mark.parametrize(
    ("text", "lines"),
    [
        ("", []),
        ("\n \n", []),
        ("Low tide\nhigh lamp", [("Low tide", None), ("high lamp", None)]),
        ("\n\nLow tide\n\n\n\nhigh lamp\n\n", [("Low tide", None), ("", None), ("high lamp", None)]),
        ("Low   tide\r\nhigh\tlamp\rdawn", [("Low tide", None), ("high lamp", None), ("dawn", None)]),
        ("[Chorus]\nLow tide", [("[Chorus]", None), ("Low tide", None)]),
        ("[00:12.00]Low tide\n[00:15.30]high lamp", [("Low tide", 12.0), ("high lamp", 15.3)]),
        ("[00:12]Low tide\n[01:02:50]high lamp", [("Low tide", 12.0), ("high lamp", 62.5)]),
        ("[ar:Osk]\n[ti: Marl]\n[length:03:10]\n[00:01.00]Low tide", [("Low tide", 1.0)]),
        ("[00:09.00][00:03.00]again\n[00:06.00]once", [("again", 3.0), ("once", 6.0), ("again", 9.0)]),
        ("[offset:+500]\n[00:12.00]Low tide", [("Low tide", 11.5)]),
        ("[offset:-250]\n[00:12.00]Low tide", [("Low tide", 12.25)]),
        ("[offset:+5000]\n[00:02.00]Low tide", [("Low tide", 0.0)]),
        ("[00:12.00]Low tide\nand lower\n[00:15.00]dawn", [("Low tide", 12.0), ("and lower", 12.0), ("dawn", 15.0)]),
        ("[00:12.00]<00:12.00>Low <00:12.40>tide", [("Low tide", 12.0)]),
        ("[00:12.00]Low tide\n[00:20.00]\n[00:30.00]dawn", [("Low tide", 12.0), ("", 20.0), ("dawn", 30.0)]),
        ("\ufeff[00:01.50]Låt vågen gå\n[00:04.00]灯台", [("Låt vågen gå", 1.5), ("灯台", 4.0)]),
        ("12:30 at the quay", [("12:30 at the quay", None)]),
    ],
)
def test_lines(text: str, lines: Lines) -> None:
    assert [(line.text, line.at_seconds) for line in read_lyrics(text)] == lines


@given(st.text(alphabet="[]0:1.5<>ab offset+-\r\n\t\0é灯", max_size=300))
def test_lines_are_in_order_and_bounded_whatever_comes(text: str) -> None:
    lines = read_lyrics(text)
    moments = [line.at_seconds for line in lines]
    assert len({moment is None for moment in moments}) <= 1, "all have a moment, or none"
    known = [moment for moment in moments if moment is not None]
    assert known == sorted(known) and all(moment >= 0 for moment in known)
    assert not lines or lines[0].text
    assert all("\n" not in line.text and line.text == line.text.strip() for line in lines)
    assert not any(not one.text and not other.text for one, other in itertools.pairwise(lines))


@given(st.lists(st.tuples(st.integers(0, 5999), st.integers(0, 99), st.from_regex(r"[a-z]{1,8}", fullmatch=True))))
def test_moments_come_back_as_they_were_written(rows: list[tuple[int, int, str]]) -> None:
    text = "\n".join(f"[{second // 60:02d}:{second % 60:02d}.{part:02d}]{word}" for second, part, word in rows)
    found = [(line.at_seconds, line.text) for line in read_lyrics(text)]
    wanted = sorted((second + part / 100, place, word) for place, (second, part, word) in enumerate(rows))
    assert [(pytest.approx(at), word) for at, _, word in wanted] == found


@pytest.mark.parametrize(
    ("text", "is_sung"),
    [("", False), ("[ar:Osk]\n[00:01.00]\n", False), ("♪ ♪", False), ("instrumental", True), ("[00:01.00]灯", True)],
)
def test_what_holds_no_word_is_no_lyrics(text: str, is_sung: bool) -> None:
    assert holds_lyrics(text) == is_sung


def test_the_line_that_holds_words() -> None:
    text = "[00:01.00]Low tide\n[00:02.00]the LAMP is lit\n[00:03.00]lamp again"
    assert line_with(text, "lamp is") == "the LAMP is lit"
    assert line_with(text, "gull") == ""
