"""Photos and clips: the day, the occasion, the camera's number and the marks that names carry."""

from __future__ import annotations

import datetime
import re
from dataclasses import dataclass, replace
from functools import cache, lru_cache

from .model import Reading
from .occasions import Occasion, is_kind_of_occasions, is_occasion, is_trip, leaning_of, marks_of_folder
from .places import is_sorting
from .scan import scan, tidy_title
from .vocabulary import alternation, months, words_for

__all__ = ["full_day", "is_camera_name", "is_whole_camera_name", "month_of_folders", "read_photo"]

STAMP = re.compile(
    r"(?<![0-9])(?P<y>(?:18|19|20)[0-9]{2})(?P<s>[-._:]?)(?P<m>0[1-9]|1[0-2])[-._:]?(?P<d>0[1-9]|[12][0-9]|3[01])"
    r"(?:(?:[\sT_.-]|\s(?:at|um|à|alle|kl\.?|om|в|às|a las)\s|,\s){0,4}(?P<H>[01]?[0-9]"
    r"|2[0-3])[-._:;hu]?(?P<M>[0-5][0-9])[-._:;m]?(?P<S>[0-5][0-9])(?P<ms>[-.]?[0-9]{3})?(?![0-9])(?:\s?(?P<half>[AP]M)(?![a-z]))?)?(?![0-9])",
    re.IGNORECASE,
)
DAY_FIRST = re.compile(
    r"(?<![0-9])(?P<d>0[1-9]|[12][0-9]|3[01])(?P<sep>[._-])(?P<m>0[1-9]|1[0-2])(?P=sep)(?P<y>(?:18|19"
    r"|20)[0-9]{2})(?![0-9])"
    r"(?:,?[\s_T.-]{1,3}(?P<H>[01][0-9]"
    r"|2[0-3])(?P<between>[\s._:-])(?P<M>[0-5][0-9])(?P=between)(?P<S>[0-5][0-9])(?![0-9]))?"
)
EAST_DAY = re.compile(
    r"(?P<y>(?:18|19|20)[0-9]{2})年\s?(?P<m>[0-9]{1,2})月(?:\s?(?P<d>[0-9]{1,2})日)?|(?P<y2>(?:19"
    r"|20)[0-9]{2})년\s?(?P<m2>[0-9]{1,2})월(?:\s?(?P<d2>[0-9]{1,2})일)?"
)
_SPLIT_DAY = re.compile(
    r"(?<![0-9])(?P<y>20[0-9]{2})_(?P<m>0[1-9]|1[0-2])(?P<d>0[1-9]|[12][0-9]|3[01])_(?P<H>[01][0-9]"
    r"|2[0-3])(?P<M>[0-5][0-9])(?P<S>[0-5][0-9])"
)
MONTHS = months()
_WORD_DAY = re.compile(
    r"(?<![^\W_])(?P<d>[0-9]{1,2})\.?(?:st|nd|rd|th)?(?:\s+(?:de\s+)?"
    r"|[-_.])(?P<name>[^\W\d_]{3,12})\.?,?(?:\s+(?:de\s+)?|[-_.])(?P<y>(?:18|19|20)[0-9]{2})(?![0-9])"
    r"|(?P<name2>[^\W\d_]{3,12})\s+(?P<d2>[0-9]{1,2})(?:st|nd|rd|th)?,?\s+(?P<y2>(?:19"
    r"|20)[0-9]{2})(?![0-9])"
)
_WORD_MONTH = re.compile(
    r"^(?P<name>[^\W\d_]{3,12})\s+(?P<y>(?:18|19|20)[0-9]{2})$|^(?P<y2>(?:18|19"
    r"|20)[0-9]{2})\s+(?P<name2>[^\W\d_]{3,12})$"
)

CAMERA = re.compile(
    r"^[\s_]*(?:(?:IMG|_MG|MG|DSC|_DSC|DSCF|_DSF|DSCN|DSC_|SDC|SAM|PICT|P|IMGP|_IGP|DJI|GOPR|GP|GX|GH|GL"
    r"|GS|MVI|MOV|MOVI|MAH|M2U|CIMG|EOS|KIF|HPIM|PANO|VID|C|STA|STB|STC|PXL|MVIMG|BURST|PTT|AUD|CLIP|XT|L"
    r"|R|LEICA|YDXJ|YI|INSV|100|101|S|DCP|DCS|A|K|_K|_P|_A|D|FILE|IM|PIC|PHOTO|FH|HDR|NIK|OLY|_R|MLK|SNC"
    r"|MOL|ZOO|TRIM)[-_]?(?:E)?)(?P<n>[0-9]{3,8})(?=$|[\s_.()\[-]|[A-Z][0-9])",
    re.IGNORECASE,
)
_SEQUENCES: tuple[tuple[re.Pattern[str], str], ...] = (
    (re.compile(r"^(?:IMG|VID|PTT|AUD|STK)-[0-9]{8}-WA(?P<n>[0-9]{4,5})", re.I), "messenger's number"),
    (re.compile(r"^P[0-9A-C][0-9]{2}(?P<n>[0-9]{4})(?![0-9])", re.I), "camera's number after month and day"),
    (re.compile(r"^G[XHLPS](?:AA|[0-9]{2})(?P<n>[0-9]{4})(?![0-9])", re.I), "action camera's number"),
    (re.compile(r"^GOPR(?P<n>[0-9]{4})", re.I), "action camera's number"),
    (re.compile(r"^G[0-9]{3}(?P<n>[0-9]{4})(?![0-9])"), "action camera's number after its series'"),
    (re.compile(r"^[0-9]{3}[_-](?P<n>[0-9]{4})(?![0-9])"), "camera's number after its folder's"),
    (re.compile(r"^DJI_[0-9]{14}_(?P<n>[0-9]{4})", re.I), "drone's number"),
    (
        re.compile(
            r"^(?:scan|scanned|numérisation|escaneo|scansione|skanning|skan|dia|slide|negativ|negative"
            r"|neg)[\s_-]*(?:[0-9]{1,8}[-_]|\x01+[\s_-]+)?(?P<n>[0-9]{1,6})(?=$|[\s_.\x00-])",
            re.I,
        ),
        "scanner's number",
    ),
    (re.compile(r"^R[0-9]{1,2}[-_](?P<n>[0-9]{1,2})A?$"), "picture's number on its roll of film"),
    (re.compile(r"^M2U(?P<n>[0-9]{5})", re.I), "camcorder's number"),
    (
        re.compile(
            r"^(?:_?(?:IMG|MG|DSC|DSCF|DSF|DSCN|SDC|SAM|PICT|IMGP|IGP|DJI|MVI|MOV|MOVI|MAH|CLIP|CIMG|EOS|KIF|HPIM"
            r"|PANO|VID|YDXJ|DCP|R|L|C|S|D|K|A|STA|STB|STC|IM|PIC|IMAG|IMAGE|PHOTO|BILD|FOTO|FILE|SNC|FH"
            r"|HDR))[_-]?E?(?P<n>[0-9]{3,6})(?=$|[\s_.()\[~\x00-]|M[0-9]{2}$)",
            re.I,
        ),
        "camera's running number",
    ),
    (
        re.compile(r"^[A-Z][0-9]{3}(?P<n>[0-9]{4})(?=$|[_.()~\x00-]|\s\()"),
        "last four of a camera's eight characters (DCF)",
    ),
    (re.compile(r"^(?P<n>[0-9]{5})$"), "camcorder's running number"),
    (
        re.compile(r"^_?[A-Z][A-Z0-9]{0,4}[_-]?(?<![0-9])(?P<n>[0-9]{4,6})(?=$|[_.()~\x00-]|\s\()"),
        "running number after capital letters, as cameras write it",
    ),
)
_LATER = re.compile(
    r"(?:[_\s(\[-]|(?<=[\x00\x01]))_?(?-i:[A-Z]{1,4}|MVI|GOPR|PICT|CIMG)[_-]?(?P<n>[0-9]{3,6})(?=$|[\s_.()\[\]\x00-])",
    re.I,
)
"""A camera's name behind a stamp or a caption."""
_DASHCAM = re.compile(r"^_(?P<n>[0-9]{3,4})(?:_?[A-Z])?$")
_MARKS: tuple[tuple[str, re.Pattern[str]], ...] = (
    (
        "copy",
        re.compile(
            rf"""
            \s{{0,2}} (?: \( (?P<n> [1-9][0-9]? ) \)
              | [-_\s(]{{1,4}} (?: {alternation("copy")} ) \)? (?: \s* \([0-9]+\) | \s* [0-9]{{1,2}} )? ) (?= $ | [\s._] )
            | ^ (?: {alternation("copy-of")} | {alternation("copy")} ) \s+
            """,
            re.IGNORECASE | re.VERBOSE,
        ),
    ),
    (
        "edited",
        re.compile(rf"[\s_-]{{0,3}}[(\[]?(?<![^\W_])(?:{alternation('edited')})(?![^\W_])[)\]]?", re.I),
    ),
    ("panorama", re.compile(r"^PANO(?=[_\s-])|[\s_.-]{0,3}(?<![^\W_])(?:pano|panorama|stitch(?:ed)?)(?![^\W_])", re.I)),
    (
        "burst",
        re.compile(
            r"^BURST(?=[_\s0-9])"
            r"|[\s_.-]{0,3}[(\[]?(?<![^\W_])burst[0-9]{0,3}(?:_cover)?(?![^\W_])[)\]]?(?:_[0-9]{1,3})?"
            r"|_BURST(?:[0-9]{1,5}(?![0-9]))?(?:_COVER)?",
            re.I,
        ),
    ),
    (
        "portrait",
        re.compile(
            r"^(?:[0-9]+[ls]?)?PORTRAIT(?=_[0-9])|[\s_.-]{0,3}(?<![^\W])portrait(?![^\W])|[_.](?:PORTRAIT"
            r"|BOKEH)(?:-[0-9]+\.ORIGINAL|-COVER)?",
            re.I,
        ),
    ),
    (
        "night",
        re.compile(
            r"^NIGHT(?=_[0-9])|[\s_.-]{1,3}(?<![^\W_])night(?![^\W_])$|\.NIGHT(?:-[0-9]+\.ORIGINAL|-COVER|(?=$|[.-]))",
            re.I,
        ),
    ),
    ("live", re.compile(r"^MVIMG(?=_)|\.MP(?=$|[.-])|[\s_]{0,3}[(\[]live[)\]]", re.I)),
    (
        "screenshot",
        re.compile(
            r"^(?:screenshots?|screen shot|bildschirmfoto|capture d['’]écran|captura de pantalla|schermata"
            r"|schermafbeelding|skärmavbild|zrzut ekranu|снимок экрана|スクリーンショット|截屏|截图|스크린샷|captura de tela"
            r"|captura de ecrã|skjermbilde|skærmbillede)",
            re.I,
        ),
    ),
    (
        "scan",
        re.compile(
            r"^(?:scan|scanned|numérisation|escaneo|scansione|skan)(?=[\s_0-9-]|$)|[\s_-]{1,3}scan(?:ned)?$"
            r"|^(?:slide|dia|negativ|negative|neg)(?=[\s_-]*[0-9]+$)",
            re.I,
        ),
    ),
    ("messenger", re.compile(r"^(?:IMG|VID|AUD|PTT|STK)-[0-9]{8}-WA[0-9]+|^(?:received[_ -]|signal-)[0-9]{4,}", re.I)),
)
_SEQUENCE_START = re.compile(r"_?[^\W\d_]{1,13}[\s_-]{0,3}(?:[^\W\d_]?[0-9]|\x01)|[0-9]{3}|G[XHLPS]AA", re.I)
"""What every name that a camera writes begins like; most other names are told by this alone."""
_EDITED_PHONE = re.compile(r"IMG_E[0-9]{4}")
_CAMERA_DIGITS = re.compile(r"(?:IMGP?|DSC|P)[0-9]{7,8}$")
_PHONE = re.compile(
    r"^(?:IMG|VID|PXL|MVIMG|PANO|BURST|Screenshot|clip|video|movie|trim|signal|photo|image|P|C|DJI)?[-_\s]?$", re.I
)
_TAIL_DROP = re.compile(
    r"(?:^|[\s_.-]+)(?:[0-9]{3,4}[pi]|[48][kK]|uhd|UHD|hdr|[a-z]?HDR|HHT|NR|Auto|EFFECTS|Pro|Rich|COLLAGE"
    r"|ANIMATION|BOKEH|MIX|RAW|[A-Z]|~[0-9]+|LS|TS|COVER|MP)$"
)
_MACHINE = re.compile(
    r"^(?:(?=[^ ]*[0-9])(?=[^ ]*[a-f])[0-9a-f]{10,}|[0-9a-f]{8}(?:[- ][0-9a-f]{4}){3}[- ][0-9a-f]{12}"
    r"|(?-i:[A-Z]{2,5}(?:[ _-][A-Z]{2,5})*(?:[ _-][0-9]+)+)|(?-i:WIN|[0-9]{3,}[A-Z]{2,5})"
    r"|[0-9]{5}[A-Z]{3}[ _][0-9]{5}|photo|image|picture|img|foto|bild|untitled|received[ _][0-9]+)$",
    re.I,
)
_MONTH_YEAR = re.compile(r"[\s,]+(?P<name>[^\W\d_]{3,12})\.?(?:\s*[-–/&]\s*[^\W\d_]{3,12}\.?)?\s+(?:18|19|20)[0-9]{2}$")
_LAST_MONTH_YEAR = re.compile(r"[\s,–-]+(?P<name>[^\W\d_]{3,12})\.?[\s-]+(?:18|19|20)[0-9]{2}$")
_EXPLAINED = re.compile(r"[\x00\x01]+")
_MESSENGER_DAY = re.compile(r"(?:IMG|VID)-\x01+-WA(?P<n>[0-9]{4,5})")
_DRONE_DAY = re.compile(r"DJI_\x01+_(?P<n>[0-9]{4})(?:_[A-Z])?")
_BEHIND_DAY = re.compile(r"\x01+_(?P<n>[0-9]{3,4})(?:_[A-Z])?$")
"""Running numbers behind a day and a time, which are blanked out by then."""


def is_camera_name(stem: str) -> bool:
    """Whether a camera, phone or messenger wrote this name."""
    return (
        _first_sequence(stem) is not None
        or CAMERA.match(stem) is not None
        or re.match(r"^(?:VID|PXL|IMG|MVIMG)[_-][0-9]{8}", stem, re.I) is not None
        or re.match(r"^[0-9]{8}[_-][0-9]{6}", stem) is not None
    )


_WHOLE = re.compile(
    r"^(?:(?:IMG|DSC|_DSC|DSCN|MVI|MOV|GOPR|GX[0-9]{2}|GH[0-9]{2}|DJI|PXL|VID|MAH"
    r"|P[0-9]{3})[_-]?[0-9]{4,8}(?:[_-]?[0-9]{6,9})?)(?:[\s_-]*(?:\([0-9]\)|- ?copy|edited))?$",
    re.IGNORECASE,
)


def is_whole_camera_name(stem: str) -> bool:
    """Whether nothing but a camera's or phone's own name stands here."""
    return _WHOLE.match(stem) is not None


def _first_sequence(stem: str) -> tuple[re.Match[str], str] | None:
    if not _SEQUENCE_START.match(stem):
        return None
    for pattern, rule in _SEQUENCES:
        match = pattern.match(stem)
        if match is not None:
            return match, rule
    return None


def read_photo(path: str, folders: list[str], stem: str, kind: str) -> Reading:
    """A photo or a clip."""
    reading = Reading(kind)
    at = len(path) - len(path.rsplit("/", 1)[-1])
    rest = _own_marks(reading, stem, at, kind)
    rest = _own_stamp(reading, stem, rest, at)
    rest = _own_sequence(reading, stem, rest, at)
    if kind == "clip":
        for tech in scan(stem).techs:
            is_after = tech.start > 0 and "\x01" in rest[: tech.start]
            if (tech.strong or is_after) and tech.facts and tech.facts[0][0] == "resolution":
                reading.put(
                    "resolution", tech.facts[0][1], (at + tech.start, at + tech.end), "technical word for resolution"
                )
    _caption(reading, stem, rest, at)
    _folders(reading, folders)
    return reading


def _own_marks(reading: Reading, stem: str, at: int, kind: str) -> str:
    """Find the marks; returns the stem with their letters blanked out."""
    marks: list[str] = []
    spans: list[tuple[int, int]] = []
    rest = stem
    for name, pattern in _MARKS:
        match = pattern.search(rest)
        if match is None:
            continue
        marks.append(name)
        spans.append((at + match.start(), at + match.end()))
        if name not in ("scan", "messenger") or match.start() > 0:
            rest = rest[: match.start()] + "\x00" * (match.end() - match.start()) + rest[match.end() :]
    if _EDITED_PHONE.match(stem):
        marks.append("edited")
        spans.append((at, at + 5))
    if marks:
        reading.put("marks", sorted(set(marks)), spans[0], "mark that a camera, phone or person left")
        reading.facts["marks"].spans = tuple(spans)
    return rest


def _own_stamp(reading: Reading, stem: str, rest: str, at: int) -> str:
    match = _SPLIT_DAY.search(rest) or STAMP.search(rest) or DAY_FIRST.search(rest) or EAST_DAY.search(rest)
    if match is None:
        return rest
    if _CAMERA_DIGITS.match(stem):
        return rest
    value = _when(match)
    groups = match.groupdict()
    if value is None and not (groups.get("H") and (groups.get("d") or groups.get("d2"))):
        return rest
    if value is not None:
        reading.put("taken", value, (at + match.start(), at + match.end()), "day and time in the name")
    return rest[: match.start()] + "\x01" * (match.end() - match.start()) + rest[match.end() :]


def _day_of(year: int, month: int, day: int) -> str | None:
    """A day as `YYYY-MM-DD`; None where the calendar has none such."""
    try:
        return datetime.date(year, month, day).isoformat()
    except ValueError:
        return None


def _when(match: re.Match[str]) -> str | None:
    groups = match.groupdict()
    year, month, day = (groups.get(k) or groups.get(f"{k}2") for k in ("y", "m", "d"))
    if not day or not month or not year:
        return None
    date = _day_of(int(year), int(month), int(day))
    if date is None or groups.get("H") is None:
        return date
    hour = int(groups["H"])
    if groups.get("half"):
        hour = hour % 12 + (12 if groups["half"].lower() == "pm" else 0)
    return f"{date}T{hour:02d}:{groups['M']}:{groups['S']}"


def _own_sequence(reading: Reading, stem: str, rest: str, at: int) -> str:
    shift = len(rest) - len(rest.lstrip("\x00"))
    found = _first_sequence(rest[shift:])
    if found is None:
        messenger, drone = _MESSENGER_DAY.match(rest), _DRONE_DAY.match(rest)
        later = messenger or drone or _LATER.search(rest) or _BEHIND_DAY.match(rest)
        if later is None or (drone is None and messenger is None and _is_hour_after_day(reading, rest, later)):
            return rest
        found = (later, "camera's running number")
        shift = 0
    match, rule = found
    start, end = shift + match.start(), shift + match.end()
    reading.put("sequence", int(match["n"]), (at + shift + match.start("n"), at + shift + match.end("n")), rule)
    return rest[:start] + "\x01" * (end - start) + rest[end:]


def _is_hour_after_day(reading: Reading, rest: str, later: re.Match[str]) -> bool:
    """Whether four digits right behind a day without a time are the hour and the minute: they state nothing."""
    digits = later["n"]
    is_behind = re.match(r"\x01+_$", rest[: later.start("n")]) is not None
    is_time = len(digits) == 4 and int(digits[:2]) < 24 and int(digits[2:]) < 60
    return is_behind and is_time and "T" not in str(reading.get("taken") or "T")


_SCANNED = re.compile(
    r"^(?:scan|scanned|numérisation|escaneo|scansione|skan|dia|slide)(?:[\s_]*[-–:][\s_]*|[_\s]+)(?=\S)", re.I
)
"""What says of a caption only that it was scanned."""


_HOUR = re.compile(r"(?<=\x01)[ _-]+(?:[01][0-9]|2[0-3])[.:hu]?[0-5][0-9](?=[ _-]|$)")
"""An hour and a minute behind the day; without seconds they state nothing."""
_RUNNING = re.compile(r"(?<=[^\W\d_])[\s_-]+(?!(?:18|19|20)[0-9]{2}$)(?:0[0-9]{1,4}|[0-9]{3,5})$")
"""A running number behind words."""


_WRITES_STAMPS = re.compile(r"[A-Z]{2,4}_")
"""What a device calls itself before a stamp."""


def _caption(reading: Reading, stem: str, rest: str, at: int) -> None:
    """What is left of the name is what a person typed."""
    left = _EXPLAINED.split(_HOUR.sub("\x01", rest))
    taken = "\x00" in rest or "\x01" in rest
    pieces: list[str] = []
    for place, piece in enumerate(left):
        if place == 0 and taken and _WRITES_STAMPS.fullmatch(piece):
            continue
        text = _SCANNED.sub("", piece.strip(" _-–.()[]~"))
        text = _RUNNING.sub("", text)
        while (dropped := _TAIL_DROP.sub("", text)) != text:
            text = dropped
        if (
            not text
            or (taken and (_PHONE.match(piece.strip(" _.-~")) or is_whole_camera_name(text)))
            or re.fullmatch(r"(?:IMG|VID|PXL|DSC|scan|WA[0-9]+|at|um|à|[0-9]{1,4}|[A-Z]|M[0-9]{2})", text, re.I)
        ):
            continue
        if reading.get("marks") and "screenshot" in reading.get("marks"):
            continue
        pieces.append(text)
    if not pieces:
        return
    title = tidy_title(" ".join(pieces), dotted="." in pieces[0] and " " not in pieces[0] and not taken, articles=False)
    if title and any(c.isalpha() for c in title) and not _MACHINE.match(title) and not _is_only_pictured(title):
        start = stem.find(pieces[0])
        reading.put(
            "title", title, (at + max(start, 0), at + max(start, 0) + len(pieces[0])), "caption that a person typed"
        )


_WORD = re.compile(r"[^\W\d_]+")


def _is_only_pictured(title: str) -> bool:
    """Whether words say no more than that it is a picture or a recording, and which: `clip 004`, `Bild 12`."""
    words = [word.lower() for word in _WORD.findall(title)]
    return all(word in _pictured() for word in words)


@cache
def _pictured() -> frozenset[str]:
    return frozenset(words_for("pictured"))


_CAMERA_FOLDER = re.compile(
    r"^(?:dcim|[0-9]{3}[_A-Z][A-Z0-9_]{2,7}|[0-9]{3}_[0-9]{4}|[0-9]{3}|private|avchd|bdmv|stream|m4root|clip|mp_root"
    r"|video_ts|audio_ts|certificate|playlist|clipinf)$",
    re.IGNORECASE,
)
_YEAR_TEXT = r"(?:18|19|20)[0-9]{2}"
_DAY_TEXT = (
    rf"(?:{_YEAR_TEXT}[-._]?(?:0[1-9]|1[0-2])[-._]?(?:0[1-9]|[12][0-9]|3[01])"
    rf"|[0-3]?[0-9]\.[01]?[0-9]\.(?:{_YEAR_TEXT})?)"
)
_TILL_WORDS = "and | und | et | en | y | e | og | och | i | to | bis | au | al | a | till | do | по"
"""What stands between the first and the last of several days."""
_TILL = rf"(?: \s* (?: - | – | — | & | \+ ) \s* | \s+ (?: {_TILL_WORDS} ) \s+ )"
_DAY_FIRST = rf"[0-3]?[0-9]\.\s?[01]?[0-9]\.\s?(?:{_YEAR_TEXT}|[0-9]{{2}})(?![0-9])"
_RANGE = re.compile(
    rf"""
    (?<![0-9]) (?: (?P<first> {_DAY_TEXT} )
       | (?<![0-9][-._]) (?: [1-9] | [0-3][0-9] ) \.? (?= [\s_]* [-–—&+] [\s_]* {_DAY_FIRST} ) )
    [\s_]* (?: - | – | — | \.\. | _ (?= [0-3]?[0-9] (?: [\s_] | $ ) ) | & | \+ | t/m | {_TILL_WORDS} ) [\s_]*
    (?: {_DAY_TEXT} | (?:0[1-9]|1[0-2])[-.](?:0[1-9]|[12][0-9]|3[01]) | [0-3]?[0-9]\.? )
    (?![0-9])
    """,
    re.VERBOSE | re.IGNORECASE,
)
"""Several days in a row; it states no day."""
_IN_BRACKET = re.compile(r"[(\[]([^()\[\]]{4,40})[)\]]")
_BETWEEN_DAYS = frozenset((*_TILL_WORDS.split(" | "), "ca", "um", "around", "circa"))
_MONTH_FIRST = re.compile(
    rf"^(?P<m>0?[1-9]|1[0-2])[./-](?P<y>{_YEAR_TEXT})(?=[\s_,–-]+[^\W\d_])"
    rf"|(?<=[^\W\d])[\s_,–-]+(?P<m2>0?[1-9]|1[0-2])[./-](?P<y2>{_YEAR_TEXT})$"
)
"""A month before its year, at either end: `03.2015 Ski day`, `Ski day 03-2015`."""
_WORDED_RANGE = re.compile(
    rf"""
    (?<![^\W_]) (?:
        (?P<d> [0-3]?[0-9] ) \.? (?: \s* (?P<m> [^\W\d_]{{3,12}} ) \.? )? {_TILL}
        [0-3]?[0-9] \.? (?: st | nd | rd | th )? \s+ (?: de \s+ )? (?P<m2> [^\W\d_]{{3,12}} ) \.?,? \s+ (?: de \s+ )? {_YEAR_TEXT}
      | (?P<m3> [^\W\d_]{{3,12}} ) \s+ [0-3]?[0-9] (?: st | nd | rd | th )? {_TILL}
        (?: (?P<m4> [^\W\d_]{{3,12}} ) \s+ )? [0-3]?[0-9] (?: st | nd | rd | th )? ,? \s+ {_YEAR_TEXT}
    ) (?![0-9])
    """,
    re.VERBOSE | re.IGNORECASE,
)
"""Several days in a row, the month in words: `12.-14. Juni 2014`, `June 12-14, 2014`."""
_YEAR_FIRST = re.compile(rf"^(?P<name>[^\W\d_]{{3,12}})\.?\s+{_YEAR_TEXT}\s*[-–—,:_]*\s*(?=[^\W\d_])")
"""`July 2010 - words`."""
_SHORT_DOTTED = re.compile(
    rf"(?<![0-9.])(?P<d>0?[1-9]|[12][0-9]|3[01])\.\s?(?P<m>0?[1-9]|1[0-2])\.\s?(?P<y>{_YEAR_TEXT}|[0-9]{{2}})(?![0-9.])"
)
"""A day as it is written by hand: `7.6.14`, `7. 6. 2014`."""
_MONTH_AND_DAY = re.compile(r"^(?P<m>0[1-9]|1[0-2])[-_.]?(?P<d>0[1-9]|[12][0-9]|3[01])[\s_-]+(?=[^\W\d_])")
"""Month and day before words, below a year's folder: `0607 Zoo`."""
_SHORT_DAY = re.compile(
    r"""
    (?: ^ (?= [0-9]{6} [\s_.-]+ [^\W\d_] ) | (?<= [^\W\d_] ) [\s_-]+ (?= [0-9]{6} $ ) )
    (?P<y> [0-9]{2} ) (?P<m> 0[1-9] | 1[0-2] ) (?P<d> 0[1-9] | [12][0-9] | 3[01] )
    """,
    re.VERBOSE,
)
"""`170402 Heron colony`, `Heron colony 170402`: year, month and day of two digits each, at either end of words."""


@dataclass(frozen=True, slots=True)
class _FolderSays:
    """What a folder's name says, taken apart."""

    words: str = ""
    """Without its date."""
    day: str | None = None
    year: int | None = None
    month: int | None = None
    day_of_month: int | None = None
    is_dated: bool = False
    is_period: bool = False
    """Whether it is a stretch of time that is none of the calendar's months: a quarter, a week."""


_ASIDE = re.compile(r"\s*[(\[](?P<words>[^()\[\]]+)[)\]]$")
_DIGIT = re.compile(r"[0-9]")


_UNDERSCORE_BY_WORD = re.compile(r"(?<=[^\W\d_])_|_(?=[^\W\d_])")


@lru_cache(maxsize=8192)
def _folder(name: str) -> _FolderSays:
    """A folder's date, whole or in part, and its words: the first way of writing one that fits decides."""
    text = name.strip()
    aside = _ASIDE.search(text)
    if aside is not None and aside.start() and _is_of_pictures(aside["words"]):
        text = text[: aside.start()]  # which camera, or whose pictures, of several that were there
    if _CAMERA_FOLDER.match(text):
        return _FolderSays()
    text = text if " " in text else _UNDERSCORE_BY_WORD.sub(" ", text)
    for whole in (_bare_date, _several_days, _date_in_bracket):
        said = whole(text)
        if said is not None:
            return said
    spaced = _SPACED_DAY.match(text)
    text = f"{spaced[1]}-{spaced[2]}-{spaced[3]}{text[spaced.end() :]}" if spaced is not None else text
    return _behind_where_it_waits(_says_day(text) or _says_month(text) or _says_less(text))


def _behind_where_it_waits(said: _FolderSays) -> _FolderSays:
    """The occasion alone of `Shared album - Lake trip`: before it stands where the pictures came from, or wait."""
    first, dash, rest = said.words.partition(" - ")
    where = leaning_of(first)
    if dash and where.of("waits", "device", "kind") and not where.of(*_REASONS) and leaning_of(rest).of(*_REASONS):
        return replace(said, words=rest.strip())
    return said


_REASONS = ("occasion", "season", "trip", "place")
"""Leanings of words for which a folder may be an event."""


def _is_of_pictures(words: str) -> bool:
    """Whether words say with what pictures were taken, or what kind they are, and nothing of an occasion."""
    leaning = leaning_of(words)
    return leaning.of("device", "kind") > 0 and not leaning.of(*_REASONS) and not _DIGIT.search(words)


def _several_days(text: str) -> _FolderSays | None:
    span = _RANGE.search(text) or _worded_range(text)
    return _FolderSays(_words_of(text, *span.span()), is_dated=True) if span is not None else None


def _says_day(text: str) -> _FolderSays | None:
    """A day and words; also one of which nobody knows the year, and one of a trip by its number."""
    unclear = _UNCLEAR_DAY.match(text)
    if unclear is not None:
        return _FolderSays(_words_of(text, 0, unclear.end()), is_dated=True)
    counted = _COUNTED_DAY.match(text)
    if counted is not None:
        return _FolderSays(_tidied((counted["words"] or "").strip("()[] ")))
    day, start, end = full_day(text)
    if day is not None:
        return _FolderSays(_words_of(text, start, end), day, is_dated=True)
    short = _SHORT_DAY.search(text) if EAST_DAY.search(text) is None else None
    if short is None:
        return None
    year = int(short["y"]) + (1900 if int(short["y"]) > 60 else 2000)
    day = _day_of(year, int(short["m"]), int(short["d"]))
    return _FolderSays(_words_of(text, *short.span()), day, is_dated=True) if day is not None else None


def _says_month(text: str) -> _FolderSays | None:
    """A year and a month, in either order, and words."""
    east = EAST_DAY.search(text)
    if east is not None:
        words = _words_of(text, *east.span())
        return _FolderSays(
            words, None, int(east["y"] or east["y2"]), int(east["m"] or east["m2"]), is_dated=bool(words)
        )
    turned = _MONTH_FIRST.search(text)
    if turned is not None:
        month, year = (turned["m"], turned["y"]) if turned["m"] else (turned["m2"], turned["y2"])
        return _FolderSays(_words_of(text, *turned.span()), None, int(year), int(month), is_dated=True)
    partial = _YEAR_AND_MONTH.match(text) or _YEAR_AND_MONTH_LAST.search(text)
    if partial is None:
        return None
    return _FolderSays(_words_of(text, *partial.span()), None, int(partial[1]), int(partial[2]), is_dated=True)


_YEAR_AND_MONTH = re.compile(rf"^({_YEAR_TEXT})[-._ ](0[1-9]|1[0-2])(?![0-9])")
_YEAR_AND_MONTH_LAST = re.compile(r"(?<![0-9])((?:19|20)[0-9]{2})[-._](0[1-9]|1[0-2])$")


def _says_less(text: str) -> _FolderSays:
    """A month and a day, a number, or a year; or words alone."""
    split = _MONTH_AND_DAY.match(text)
    if split is not None:
        words = _words_of(text, 0, split.end())
        return _FolderSays(words, month=int(split["m"]), day_of_month=int(split["d"]))
    worded = _worded_day(text)
    if worded is not None:
        return worded
    number = _LEADING_NUMBER.match(text)
    if number and number["dot"] and leaning_of(text[number.end() :].split(" ")[0]).of("occasion"):
        number = None  # `2. Geburtstag`: the second, and no day
    dom = int(number["n"]) if number else 0
    rest = text[number.end() :] if number and 1 <= dom <= 31 else text
    words, dated = _without_year(rest)
    tidy = _tidied(words)
    return _FolderSays(tidy, day_of_month=dom if number and 1 <= dom <= 31 else None, is_dated=dated and bool(tidy))


_NTH = r"(?:st|nd|rd|th|\.|º|ª|er)?"
_MONTH_WORDS = "|".join(re.escape(word) for word in sorted(MONTHS, key=len, reverse=True) if word.isalpha())
_YEARLESS = re.compile(
    rf"""
    (?: ^ | (?P<open> [(\[] ) | (?<= [^\W\d_] ) [\s,–—-]+ )
    (?:
        (?P<d> [0-3]?[0-9] ){_NTH} (?P<till> {_TILL} [0-3]?[0-9]{_NTH} )?
            \s+ (?: (?: of | de | di | d’ | d' ) \s+ )? (?P<m> {_MONTH_WORDS} )
      | (?P<m2> {_MONTH_WORDS} )\.? \s+ (?P<d2> [0-3]?[0-9] ){_NTH} (?P<till2> {_TILL} [0-3]?[0-9]{_NTH} )?
    )
    \.? (?(open) [)\]] ) (?= $ | \s*[,–—:-] | \s+ [^\W\d_] )
    """,
    re.VERBOSE | re.IGNORECASE,
)
"""A day, or days, of a month in words, of which a folder above says the year:
`Lake Orra, 3-5 August`, `Fair (12 May)`."""
_MONTH_LAST = re.compile(r"(?:,\s*|\s+(?P<open>[(\[]))(?P<m>[^\W\d_]{3,12})\.?(?(open)[)\]])$")
"""A month alone, behind words: `Lake Orra, August`."""


def _worded_day(text: str) -> _FolderSays | None:
    last = _MONTH_LAST.search(text)
    if last is not None and last["m"].lower() in MONTHS:
        return _FolderSays(_words_of(text, *last.span()), is_dated=True)
    for found in _YEARLESS.finditer(text):
        name = found["m"] or found["m2"]
        month, day = MONTHS[name.lower()], str(found["d"] or found["d2"])
        words = _words_of(text, *found.span())
        if not words or not 1 <= int(day) <= 31:
            continue
        if found["m2"] and found.end() < len(text.rstrip()):
            continue  # `May 5 Kilometres`: behind a month in words stands no more of a date
        if found["till"] or found["till2"]:
            return _FolderSays(words, is_dated=True)
        return _FolderSays(words, month=month, day_of_month=int(day), is_dated=True)
    return None


_COUNTED_DAY = re.compile(
    rf"^(?:{alternation('day')})[\s_]*[0-9]{{1,2}}(?:(?:[\s_]*[-–—:,.][\s_]*"
    rf"|[\s_]+)(?P<words>[(\[]?[^\W\d].*)|[\s_]*)$",
    re.IGNORECASE,
)
"""A day of a trip by its number: `Day 3`, `Tag 2 - Old Town`."""


_SPACED_DAY = re.compile(rf"({_YEAR_TEXT}) (0[1-9]|1[0-2]) (0[1-9]|[12][0-9]|3[01])(?=\s|$)")
_UNCLEAR_DAY = re.compile(r"(?:[0-3][0-9]-[0-3][0-9]-[0-9]{2}|[0-3]?[0-9]/[0-3]?[0-9]/[0-9]{2})(?=[\s_]+[^\W\d_])")
"""A day of which nobody can tell what is its year: it states none."""
_LEADING_NUMBER = re.compile(
    r"""
    ^ (?P<n> [0-3]?[0-9] ) (?: (?: st | nd | rd | th | er | e ) (?= \s* [-–:,] ) )?
    (?: \s* [-–_:,]? \s+ | (?P<dot> \. ) \s+ | \s* [-–._:,] \s* ) (?= [^\W\d_] )
    """,
    re.VERBOSE | re.IGNORECASE,
)
"""A day of the month, or a number that sorts, before words: `19th - Kite day`, `07_Fair`."""


def _date_in_bracket(text: str) -> _FolderSays | None:
    """What a folder says whose date, but no full day, stands in a bracket: `Wedding (June 2014)`, `Elba [07.2014]`."""
    for bracket in _IN_BRACKET.finditer(text):
        words = [word.lower() for word in re.findall(r"[^\W_]+", bracket[1])]
        years = [word for word in words if re.fullmatch(_YEAR_TEXT, word)]
        named = [MONTHS[word] for word in words if word in MONTHS]
        counted = [int(word) for word in words if word.isdigit() and len(word) <= 2 and int(word) <= 31]
        if len(counted) == (1 if named else 2):
            continue  # a full day
        others = [w for w in words if w not in years and w not in MONTHS and not w.isdigit() and w not in _BETWEEN_DAYS]
        if others or not years or (len(words) == 1 and bracket.end() == len(text.rstrip())):
            continue  # a year alone at the end is a year, as it is without its bracket
        months_ = named or [one for one in counted if 1 <= one <= 12]
        rest = _words_of(text, bracket.start(), bracket.end())
        if rest:
            month = months_[0] if len(set(months_)) == 1 else None
            return _FolderSays(rest, None, int(years[0]), month, is_dated=True)
    return None


def _worded_range(text: str) -> re.Match[str] | None:
    found = _WORDED_RANGE.search(text)
    named = [found[name] for name in ("m", "m2", "m3", "m4") if found[name]] if found is not None else []
    return found if named and all(name.lower() in MONTHS for name in named) else None


def _bare_date(text: str) -> _FolderSays | None:
    """A folder that is a year, a month or a day, and nothing else."""
    if re.fullmatch(_YEAR_TEXT, text):
        return _FolderSays(year=int(text))
    if re.fullmatch(
        rf"(?:{_YEAR_TEXT}[\s_./-]*)?(?:[QqTt][1-4]|[1-4]\.\s?(?:Quartal|[Tt]rimestre)|(?:KW|W|[Ww]eek|[Ww]oche"
        rf"|[Ss]emaine)[\s_]?[0-9]{{1,2}})"
        rf"(?:[\s_./-]*{_YEAR_TEXT})?",
        text,
    ):
        return _FolderSays(is_period=True)
    month_and_day = re.fullmatch(r"(0[1-9]|1[0-2])[-_.](0[1-9]|[12][0-9]|3[01])", text)
    if month_and_day:
        return _FolderSays(month=int(month_and_day[1]), day_of_month=int(month_and_day[2]), is_dated=True)
    plain = re.fullmatch(r"([0-9]{1,2})(?:\s*[-–._]?\s*([^\W\d_]+)\.?)?", text)
    if plain and (plain[2] is None or plain[2].lower() in MONTHS):
        return _FolderSays(month=int(plain[1]), day_of_month=int(plain[1]))
    counted = re.fullmatch(r"(1[0-2]|0?[1-9])\s?[月월]", text)
    if counted:
        return _FolderSays(month=int(counted[1]))
    if text.lower().rstrip(".") in MONTHS:
        return _FolderSays(month=MONTHS[text.lower().rstrip(".")])
    worded = _WORD_MONTH.match(text)
    if worded and (word := (worded["name"] or worded["name2"]).lower()) in MONTHS:
        return _FolderSays(year=int(worded["y"] or worded["y2"]), month=MONTHS[word])
    return None


_YEAR_AND_MONTH_WORD = re.compile(
    rf"^{_YEAR_TEXT}[\s._-]+(?P<name>[^\W\d_]{{3,12}})\.?[\s._-]+(?=(?P<following>[^\W\d_]+))"
)
"""`2011 July Norway`; a month's name may begin an occasion, as in `2011 May Day`."""


def _without_year(text: str) -> tuple[str, bool]:
    """Words without a year, or a month and a year, at their end or a year at their
    beginning; and whether there was one."""
    for pattern in (_MONTH_YEAR, _LAST_MONTH_YEAR):
        dated = pattern.search(text)
        if dated and dated["name"].lower() in MONTHS and dated.start():
            return text[: dated.start()], True
    short = re.search(r"(?<=[^\W\d_])\s*['’](?P<y>[0-9]{2})$", text)
    if short is not None:
        return text[: short.start()], True
    shorter = _YEARS_LAST.sub("", text)
    if shorter and shorter != text:
        return shorter, True
    glued = _GLUED_YEAR.search(text)
    if glued is not None:
        return text[: glued.start()] + text[glued.end() :], True
    first = _YEAR_FIRST.match(text)
    if first and first["name"].lower() in MONTHS:
        return text[first.end() :], True
    worded = _YEAR_AND_MONTH_WORD.match(text)
    if (
        worded
        and worded["name"].lower() in MONTHS
        and not leaning_of(f"{worded['name']} {worded['following']}").of("occasion")
    ):
        return text[worded.end() :], True
    lead = re.match(rf"^{_YEAR_TEXT}(?:\s?[-–/]\s?{_YEAR_TEXT})?[\s._-]+(?=[^\W\d_])", text)
    return (text[lead.end() :], True) if lead else (text, False)


_YEARS_LAST = re.compile(
    rf"[\s,_(\[–-]+ {_YEAR_TEXT} (?: (?: \s?[-–/]\s? | \s (?: {_TILL_WORDS} ) \s ) {_YEAR_TEXT} )? [)\]]? $",
    re.VERBOSE | re.IGNORECASE,
)
"""A year, or a stretch of years, behind words: `Elba 2014`, `Tapes - 1988 bis 1990`."""
_GLUED_YEAR = re.compile(
    rf"(?<=[^\W\d_a-zà-öø-ÿ]){_YEAR_TEXT}$ | (?<=[^\W\d_]{{4}}){_YEAR_TEXT}$ "
    rf"| ^{_YEAR_TEXT}(?=[^\W\d_]{{4}} | [^\W\d_a-zà-öø-ÿ]{{2}})",
    re.VERBOSE | re.IGNORECASE,
)
"""A year without a blank between it and the words: `Sommer2019`, `夏休み2016`.
Shorter ones may be what a camera writes."""


def _words_of(text: str, start: int, end: int) -> str:
    before = text[:start]
    weekday = _WEEKDAY.search(before)
    if weekday and weekday["name"].lower() in _weekdays():
        before = before[: weekday.start("name")]
    rest = re.sub(r"[\s_,–-]*[(\[]\s*[)\]]", "", before + " " + text[end:])
    return _tidied(rest.strip(" -–—_.,"))


_WEEKDAY = re.compile(r"(?:^|[\s_,(-])(?P<name>[^\W\d_]{2,14})[.,]?[\s_]*$")
"""The day of the week before a date."""


@cache
def _weekdays() -> frozenset[str]:
    return frozenset(words_for("weekday"))


def _tidied(text: str) -> str:
    title = tidy_title(text, dotted="." in text and " " not in text.strip(), articles=False) or ""
    whole = re.fullmatch(r"[(\[]([^()\[\]]+)[)\]]", title)
    title = whole[1].strip() if whole else title
    return title if any(letter.isalpha() for letter in title) else ""


def full_day(text: str) -> tuple[str | None, int, int]:
    """The first full day that a text states, as `YYYY-MM-DD`, and where it stands;
    None and what was found where it is none."""
    for pattern in (STAMP, DAY_FIRST, EAST_DAY, _WORD_DAY, _SHORT_DOTTED):
        match = pattern.search(text)
        if match is None:
            continue
        groups = match.groupdict()
        if pattern is _SHORT_DOTTED:
            year = int(groups["y"]) + (0 if len(groups["y"]) == 4 else 1900 if int(groups["y"]) > 60 else 2000)
            day = _day_of(year, int(groups["m"]), int(groups["d"]))
            if day is None:
                continue
            return day, match.start(), match.end()
        if pattern is _WORD_DAY:
            word = (groups["name"] or groups["name2"]).lower()
            if word not in MONTHS:
                continue
            day = _day_of(int(groups["y"] or groups["y2"]), MONTHS[word], int(groups["d"] or groups["d2"]))
            if day is None:
                continue
            return day, match.start(), match.end()
        value = _when(match)
        if value:
            return value[:10], match.start(), match.end()
        if pattern is EAST_DAY:
            return None, match.start(), match.end()
    return None, 0, 0


def _folders(reading: Reading, folders: list[str]) -> None:
    """The day, the occasion and the marks that folders give; of nested occasions the nearest one counts."""
    event: tuple[str, int, int] | None = None
    day: tuple[str, int, int] | None = None
    marks: dict[str, tuple[int, int]] = {}
    year = month = None
    place = 0
    is_below_date = is_below_sort = is_below_kind = False
    for name in folders:
        says = _folder(name)
        span = (place, place + len(name))
        place += len(name) + 1
        for mark in marks_of_folder(says.words) if says.words else ():
            marks.setdefault(mark, span)
        is_below_trip = is_below_kind or (event is not None and is_trip(event[0]))
        above = Occasion(
            is_dated=False, is_below_date=is_below_date, is_below_sort=is_below_sort, is_below_trip=is_below_trip
        )
        is_below_kind = bool(says.words) and not says.is_dated and is_kind_of_occasions(says.words)
        is_event = bool(says.words) and not is_sorting(name) and not is_below_kind and _is_event(says, year, above)
        if is_event:
            event = (says.words, *span)
        if not says.words or is_event:
            if says.day:
                day = (says.day, *span)
            elif year is not None and (says.words or says.is_dated) and says.month and says.day_of_month:
                day = _told(_day_of(year, says.month, says.day_of_month), span[1]) or day
            elif says.year is not None:
                year, month = says.year, says.month
            elif year is not None and month is None and says.month is not None and says.month <= 12 and not says.words:
                month = says.month
            elif year is not None and month is not None and says.day_of_month is not None:
                day = _told(_day_of(year, month, says.day_of_month), span[1]) or day
        is_below_date = not says.words and (says.is_period or (says.day or says.year or says.month) is not None)
        is_below_sort = bool(says.words) and leaning_of(says.words).of("device", "scan") > 0
    if day is not None:
        reading.put("taken", day[0], (day[1], day[2]), "day in the folder's name")
    if event is not None:
        reading.put("event", event[0], (event[1], event[2]), "occasion in the folder's name")
    title = reading.get("title")
    if "screenshot" in marks and title and " " not in title:
        reading.facts.pop("title")  # what a program calls its pictures, not what a person does
    for mark, span in marks.items():
        known = reading.get("marks") or []
        if mark not in known and reading.kind == "photo":
            spans = reading.facts["marks"].spans if known else ()
            reading.facts.pop("marks", None)
            reading.put(
                "marks", sorted({*known, mark}), spans[0] if spans else span, "kind of picture in the folder's name"
            )


def _told(day: str | None, end: int) -> tuple[str, int, int] | None:
    return (day, 0, end) if day is not None else None


def _is_event(says: _FolderSays, year: int | None, above: Occasion) -> bool:
    split = says.day_of_month is not None and year is not None
    return is_occasion(says.words, replace(above, is_dated=says.is_dated or split))


def month_of_folders(path: str) -> tuple[int, int] | None:
    """Year and month that a path states, by its name or its folders, where it states no full day; else None."""
    *folders, name = path.split("/")
    year = month = None
    for part in (*folders, name.rpartition(".")[0] or name):
        says = _folder(part)
        if says.day:
            return int(says.day[:4]), int(says.day[5:7])
        if says.year is not None:
            year, month = says.year, says.month
        elif year is not None and month is None and says.month is not None and 1 <= says.month <= 12 and part != name:
            month = says.month
    return (year, month) if year is not None and month is not None else None
