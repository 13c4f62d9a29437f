"""Texts of films in every form become WebVTT: their words, their place, what is slanted."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from indice.core.playing.words import BadText, as_webvtt, cues_between, decode_text

SRT = "1\n00:00:01,000 --> 00:00:02,500\n{said}\n"
ASS = """[Script Info]
ScriptType: v4.00+

[V4+ Styles]
Format: Name, Fontname, Fontsize, PrimaryColour, SecondaryColour, OutlineColour, BackColour, Bold, Italic, Underline, StrikeOut, ScaleX, ScaleY, Spacing, Angle, BorderStyle, Outline, Shadow, Alignment, MarginL, MarginR, MarginV, Encoding
Style: Default,Arial,20,&H00FFFFFF,&H0000FFFF,&H00000000,&H00000000,0,0,0,0,100,100,0,0,1,2,2,2,10,10,10,1
Style: Above,Arial,20,&H00FFFFFF,&H0000FFFF,&H00000000,&H00000000,0,-1,0,0,100,100,0,0,1,2,2,8,10,10,10,1

[Events]
Format: Layer, Start, End, Style, Name, MarginL, MarginR, MarginV, Effect, Text
Dialogue: 0,0:00:01.00,0:00:03.00,{style},,0,0,0,,{said}
"""


def cue(webvtt: str) -> tuple[str, str]:
    """Times and words of the only cue."""
    _, _, rest = webvtt.partition("\n\n")
    times, _, words = rest.strip().partition("\n")
    return times, words


@pytest.mark.parametrize(
    ("said", "place", "words"),
    [
        ("Hello", "", "Hello"),
        ("<i>Hello</i> you", "", "<i>Hello</i> you"),
        ("Salt & < vinegar", "", "Salt &amp; &lt; vinegar"),
        ("{\\an8}Up here", " line:0", "Up here"),
        ("{\\an5}Here", " line:50%", "Here"),
        ("two\nlines", "", "two\nlines"),
        ("<font color=red>Red</font>", "", "Red"),
    ],
)
def test_subrip(said: str, place: str, words: str) -> None:
    assert cue(as_webvtt(SRT.format(said=said), "srt")) == (f"00:00:01.000 --> 00:00:02.500{place}", words)


@pytest.mark.parametrize(
    ("style", "said", "place", "words"),
    [
        ("Default", "Plain", "", "Plain"),
        ("Default", "One\\NTwo", "", "One\nTwo"),
        ("Above", "All of it", " line:0", "<i>All of it</i>"),
        ("Default", "{\\i1}Slanted{\\i0} not", "", "<i>Slanted</i> not"),
        ("Default", "{\\a6}Old way", " line:0", "Old way"),
        ("Default", "{\\k20}Sung {\\k30}words", "", "Sung words"),
    ],
)
def test_substation(style: str, said: str, place: str, words: str) -> None:
    assert cue(as_webvtt(ASS.format(style=style, said=said), "ass")) == (f"00:00:01.000 --> 00:00:03.000{place}", words)


def test_microdvd_counts_pictures() -> None:
    made = as_webvtt("{48}{96}{Y:i}Slanted|twice\n", "sub", pictures_a_second=24)
    assert cue(made) == ("00:00:02.000 --> 00:00:04.000", "<i>Slanted\ntwice</i>")


def test_webvtt_keeps_its_lines_and_loses_its_styles() -> None:
    given_text = "WEBVTT\n\nSTYLE\n::cue {{ background: url(x) }}\n\nNOTE no\n\nid\n01:02.500 --> 01:04.000 line:10% align:start\n<b>Bold</b> <i>x</i>\n"
    assert cue(as_webvtt(given_text, "vtt")) == ("00:01:02.500 --> 00:01:04.000 line:10%", "Bold <i>x</i>")


def test_what_is_no_text_is_said() -> None:
    for noise in ("", "nothing of the kind", "\x00\x01\x02" * 50):
        with pytest.raises(BadText):
            as_webvtt(noise, "srt")


@pytest.mark.parametrize(
    ("text", "page", "language"),
    [
        ("Zażółć gęślą jaźń", "cp1250", "pl"),
        ("Добрый вечер", "cp1251", "ru"),
        ("Καλησπέρα", "cp1253", "el"),
        ("İyi akşamlar", "cp1254", "tr"),
        ("שלום", "cp1255", "he"),
        ("こんばんは", "cp932", "ja"),
        ("Grüße", "cp1252", "de"),
        ("Grüße", "utf-8", None),
        ("Grüße", "utf-8-sig", "pl"),
        ("Добрый", "utf-16", None),
        ("A long enough line in wide letters, unmarked", "utf-16-le", None),
        ("A long enough line in wide letters, unmarked", "utf-16-be", None),
    ],
)
def test_old_code_pages_are_read_by_their_language(text: str, page: str, language: str | None) -> None:
    assert decode_text(text.encode(page), language) == text


@given(st.binary(max_size=300), st.sampled_from([None, "de", "ru", "ja", "xx"]))
def test_decoding_never_fails(data: bytes, language: str | None) -> None:
    decode_text(data, language)


def test_the_cues_of_a_span() -> None:
    made = as_webvtt(
        "1\n00:00:05,000 --> 00:00:07,000\nover the edge\n\n2\n00:00:20,000 --> 00:00:21,000\nlater\n", "srt"
    )
    assert "over the edge" in cues_between(made, 0, 6) and "over the edge" in cues_between(made, 6, 12)
    assert "later" not in cues_between(made, 6, 12)
