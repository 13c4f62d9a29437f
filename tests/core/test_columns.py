"""A track's name as columns, and the leanings of folders."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.reading.columns import Known, read_columns
from indice.core.reading.occasions import Occasion, is_occasion, leaning_of, marks_of_folder
from indice.core.reading.photos import read_photo

KNOWN = Known(artist="Mara Teal", album="Kiln (Deluxe)", year=1997)
NOWHERE = Occasion(is_dated=False, is_below_date=False, is_below_sort=False)


@pytest.mark.parametrize(
    ("name", "labels"),
    [
        ("Mara Teal - Kiln - 03 - Slip", ["artist", "album", "number", "words"]),
        ("mara_teal_-_kiln_-_03_-_slip", ["artist", "album", "number", "words"]),
        ("03 Slip - Mara Teal", ["number", "words", "artist"]),
        ("Kiln.-.1997.-.A3.-.Slip", ["album", "year", "side", "words"]),
        ("Kiln_CD2_04_Slip", ["album", "disc", "number", "words"]),
        ("Kiln - 2-04 - Slip", ["album", "both", "words"]),
        ("Kiln - 08 of 31", ["album", "number"]),
        ("(11)_[Mara_Teal]_Slip", ["number", "artist", "words"]),
    ],
)
def test_what_repeats_the_folders_and_what_counts_is_told_from_words(name: str, labels: list[str]) -> None:
    found = read_columns(name, KNOWN)
    assert found is not None and [column.label for column in found.columns] == labels
    assert all(name[column.start : column.end].strip() == column.text for column in found.columns)


@pytest.mark.parametrize("name", ["Slip", "Half-Light", "Slip_Cast", "1997", "Slip, Cast", ""])
def test_where_nothing_is_explained_there_are_no_columns(name: str) -> None:
    assert read_columns(name, KNOWN) is None


@given(st.text(max_size=80))
def test_columns_lie_in_order_within_the_name(name: str) -> None:
    found = read_columns(name, KNOWN)
    if found is not None:
        places = [(column.start, column.end) for column in found.columns]
        assert places == sorted(places) and all(0 <= a <= b <= len(name) for a, b in places)


@pytest.mark.parametrize(
    ("words", "is_one"),
    [
        ("Sommerfest", True),
        ("Uncle Perrin", False),
        ("Grandad's 70th", True),
        ("Night sledge", True),
        ("Phone Mum", False),
        ("Sort me", False),
        ("家族旅行", True),
        ("スマホ", False),
        ("Lina", False),
        ("Weddings", False),
        ("Anna's wedding", True),
        ("Svatba Jany a Petra", True),
        ("Babička", False),
    ],
)
def test_a_folder_is_an_occasion_only_for_a_reason_of_its_own(words: str, is_one: bool) -> None:
    assert is_occasion(words, NOWHERE) is is_one


@pytest.mark.parametrize("words", ["Lina", "Nora & Jonas", "Маша", "Emma und Oma"])
def test_a_given_name_is_somebody_and_no_occasion_below_a_year(words: str) -> None:
    assert not is_occasion(words, Occasion(is_dated=False, is_below_date=True, is_below_sort=False))


@pytest.mark.parametrize("words", ["Old Town", "New house", "Kite day (Jonas' camera)"])
def test_words_that_tell_apart_and_words_aside_do_not_speak_against_an_occasion(words: str) -> None:
    assert is_occasion(words, NOWHERE)


@pytest.mark.parametrize("words", ["Otterwick", "Tessarin & Joon"])
def test_unknown_words_are_an_occasion_where_a_date_speaks_for_them(words: str) -> None:
    assert not is_occasion(words, NOWHERE)
    assert is_occasion(words, Occasion(is_dated=True, is_below_date=False, is_below_sort=False))
    assert is_occasion(words, Occasion(is_dated=False, is_below_date=True, is_below_sort=False))


@pytest.mark.parametrize(
    ("folder", "marks"),
    [
        ("Scanned prints", ("scan",)),
        ("Dia-Scans", ("scan",)),
        ("Bildschirmfotos", ("screenshot",)),
        ("Снимки экрана", ("screenshot",)),
        ("Chatter Images", ("messenger",)),
        ("Images", ()),
        ("Lake house", ()),
    ],
)
def test_folders_of_a_kind_of_picture_mark_their_files(folder: str, marks: tuple[str, ...]) -> None:
    assert marks_of_folder(folder) == marks


@given(
    st.lists(st.text(alphabet=st.characters(blacklist_characters="/\0"), min_size=1, max_size=30), max_size=4),
    st.text(max_size=40),
)
def test_any_folders_and_names_are_read(folders: list[str], stem: str) -> None:
    path = "/".join([*folders, stem + ".jpg"])
    reading = read_photo(path, folders, stem, "photo")
    assert reading.kind == "photo"
    assert sum(count for _, count in leaning_of(stem).counts) >= 0


LAW_DAYS = st.dates().filter(lambda day: 1900 <= day.year <= 2027)


@given(
    LAW_DAYS,
    st.sampled_from(("%Y-%m-%d", "%Y.%m.%d", "%Y_%m_%d", "%Y%m%d", "%d.%m.%Y")),
    st.sampled_from(("Otterwick", "Crab day", "七五三")),
)
def test_a_day_with_words_is_both_whatever_the_form(day: object, form: str, words: str) -> None:
    folder = f"{day:{form}} {words}"
    reading = read_photo(f"{folder}/IMG_0001.JPG", [folder], "IMG_0001", "photo")
    assert (reading.get("taken"), reading.get("event")) == (f"{day:%Y-%m-%d}", words)
