"""Text tracks of every form as WebVTT: their text, whether it stands at the top, and what is slanted. Pure.

Source: W3C WebVTT. Styles and places beyond that are left out.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

import pysubs2
from charset_normalizer import from_bytes
from pysubs2.exceptions import Pysubs2Error
from pysubs2.formats.substation import parse_tags

from ..phrase import phrase

__all__ = ["BadText", "as_webvtt", "cues_between", "decode_text", "form_of", "spans_of"]

MOST_BYTES = 20_000_000
_PAGES = {
    "cp1250": "pl cs sk hu sl hr bs ro sq pol ces cze slk slo hun slv hrv bos ron rum sqi alb",
    "cp1251": "ru uk bg sr be mk rus ukr bul srp bel mkd mac",
    "cp1253": "el ell gre",
    "cp1254": "tr az tur aze",
    "cp1255": "he heb",
    "cp1256": "ar fa ur ara fas per urd",
    "cp1257": "lt lv et lit lav est",
    "cp1258": "vi vie",
    "cp932": "ja jpn",
    "gb18030": "zh zho chi",
    "cp949": "ko kor",
    "cp874": "th tha",
}
_PAGE_OF = {language: page for page, languages in _PAGES.items() for language in languages.split()}
"""The code page that texts of a language were written in before Unicode."""
_FORMS = {"srt": "srt", "vtt": "vtt", "ass": "ass", "ssa": "ssa", "sub": "microdvd", "txt": "microdvd"}


class BadText(ValueError):
    """No text track can be made of it; the words are for a person."""


def decode_text(data: bytes, language: str | None = None) -> str:
    """Text of a file in Unicode or in an old code page, which its language makes likely; never raises."""
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            return data.decode(encoding, "replace")
    if data[:200].count(0) > 20:
        odd = sum(1 for byte in data[1:200:2] if not byte)
        return data.decode("utf-16-le" if odd > 20 else "utf-16-be", "replace")
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError:
        pass
    page = _PAGE_OF.get((language or "").split("-")[0].lower())
    if page is not None:
        try:
            return data.decode(page)
        except UnicodeDecodeError:
            pass
    found = from_bytes(data[:200_000]).best() if language is None else None
    return data.decode(found.encoding if found is not None else "cp1252", "replace")


def as_webvtt(text: str, extension: str, *, pictures_a_second: float = 25.0) -> str:
    """A text track as WebVTT; raises :class:`BadText` when nothing of the kind is in it."""
    form = form_of(text, extension)
    if form == "vtt":
        return "\n".join(["WEBVTT", "", *_plain_cues(text), ""])
    try:
        read = pysubs2.SSAFile.from_string(text, format_=form, fps=pictures_a_second)
    except (Pysubs2Error, ValueError, KeyError, IndexError, OverflowError) as error:
        raise BadText(phrase("No subtitles can be read from this file.")) from error
    cues: list[tuple[int, int, str]] = []
    for event in read:
        if event.is_comment or event.end <= event.start:
            continue
        style = read.styles.get(event.style)
        words = "\n".join(line for line in _words(event.text, read, event.style).split("\n") if line.strip())
        if words:
            cues.append((event.start, event.end, _cue(event.start, event.end, words, _place(event.text, style))))
    if not cues:
        raise BadText(phrase("No subtitles can be read from this file."))
    return "\n".join(["WEBVTT", "", *(cue for _, _, cue in sorted(cues, key=lambda cue: cue[:2])), ""])


_TIMES = re.compile(r"((?:\d+:)?\d\d:\d\d\.\d{3})[ \t]+-->[ \t]+((?:\d+:)?\d\d:\d\d\.\d{3})([^\n]*)")
_TAG = re.compile(r"<(?!/?i>)[^>\n]*>")


def _plain_cues(text: str) -> Iterator[str]:
    """Cues of WebVTT with their text, their line and what is slanted; styles, regions and notes are left out."""
    for block in re.split(r"\n[ \t]*\n", text.replace("\r\n", "\n").replace("\r", "\n").replace("\0", "")):
        found = _TIMES.search(block)
        if found is None or block.startswith(("NOTE", "STYLE", "REGION")):
            continue
        line = re.search(r"\bline:-?\d{1,3}(?:\.\d+)?%?(?=[ ,\t]|$)", found[3])
        start, end = (_milliseconds(moment) for moment in found.group(1, 2))
        words = _TAG.sub("", block[found.end() :].strip("\n"))
        if words.strip() and end > start:
            yield _cue(start, end, words, f" {line[0]}" if line else "")


def _milliseconds(moment: str) -> int:
    *hours, minutes, seconds = moment.split(":")
    whole, _, rest = seconds.partition(".")
    return ((int(hours[0]) if hours else 0) * 3600 + int(minutes) * 60 + int(whole)) * 1000 + int(rest)


def form_of(text: str, extension: str) -> str:
    """What form it really has, since many names lie; raises :class:`BadText` when it is none that is known."""
    extension = extension.lower().lstrip(".")
    start = text.lstrip("\ufeff \r\n\t")[:4000]
    if start.startswith("WEBVTT"):
        return "vtt"
    if "[Script Info]" in start or "[Events]" in start:
        return "ass"
    if re.match(r"\{\d+\}\{\d*\}", start):
        return "microdvd"
    if re.search(r"\d+:\d\d:\d\d[,.]\d{1,3}\s*-->", start):
        return "srt"
    if extension not in _FORMS:
        raise BadText(phrase("No subtitles of a kind that is known."))
    return _FORMS[extension]


def _moment(milliseconds: int) -> str:
    seconds, rest = divmod(max(milliseconds, 0), 1000)
    return f"{seconds // 3600:02d}:{seconds // 60 % 60:02d}:{seconds % 60:02d}.{rest:03d}"


def _cue(start: int, end: int, words: str, place: str) -> str:
    return f"{_moment(start)} --> {_moment(end)}{place}\n{words}\n"


_ALIGNED = re.compile(r"\\an([1-9])|\\a(1?[0-9])(?![0-9n])")


def _place(text: str, style: pysubs2.SSAStyle | None) -> str:
    """Where a cue stands: nothing for the bottom."""
    found = _ALIGNED.search(text)
    if found and found[1]:
        number = int(found[1])
    elif found:  # the older way counts: 5, 6, 7 at the top, 9, 10, 11 in the middle
        number = {5: 7, 6: 8, 7: 9, 9: 4, 10: 5, 11: 6}.get(int(found[2]), 2)
    else:
        number = int(style.alignment) if style is not None else 2
    return " line:0" if number >= 7 else " line:50%" if number >= 4 else ""


def _words(text: str, read: pysubs2.SSAFile, style: str) -> str:
    base = read.styles.get(style, pysubs2.SSAStyle())
    slanted = False
    found: list[str] = []
    for piece, look in parse_tags(text, base, read.styles):
        if look.drawing or not piece:
            continue
        if bool(look.italic) != slanted:
            found.append("<i>" if look.italic else "</i>")
            slanted = bool(look.italic)
        plain = piece.replace("\\N", "\n").replace("\\n", "\n").replace("\\h", "\u00a0")
        found.append(plain.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;"))
    return "".join([*found, "</i>" if slanted else ""])


_CUE = re.compile(r"(\d\d):(\d\d):(\d\d)\.(\d{3}) --> (\d\d):(\d\d):(\d\d)\.(\d{3})")


def cues_between(webvtt: str, start_seconds: float, end_seconds: float) -> str:
    """The cues of :func:`as_webvtt` that are shown in a span, as a segment of HLS whose time is the film's own."""
    cues = (block for block, start, end in _timed(webvtt) if start < end_seconds and end > start_seconds)
    return "\n\n".join(["WEBVTT\nX-TIMESTAMP-MAP=MPEGTS:0,LOCAL:00:00:00.000", *cues, ""])


def _timed(webvtt: str) -> Iterator[tuple[str, float, float]]:
    for block in webvtt.split("\n\n")[1:]:
        found = _CUE.match(block.strip())
        if found:
            h, m, s, ms, h2, m2, s2, ms2 = map(int, found.groups())
            yield block.strip(), h * 3600 + m * 60 + s + ms / 1000, h2 * 3600 + m2 * 60 + s2 + ms2 / 1000


def spans_of(webvtt: str) -> list[tuple[float, float]]:
    """When each cue of :func:`as_webvtt` begins and ends, in seconds."""
    return [(start, end) for _, start, end in _timed(webvtt)]
