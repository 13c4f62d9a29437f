"""How cameras, phones and scanners name pictures, and how days are written in names."""

from __future__ import annotations

import datetime
import re

from ..phrase import term
from .vocabulary import alternation, months

__all__ = [
    "BEHIND_DAY",
    "CAMERA_DIGITS",
    "DAY_FIRST",
    "DRONE_DAY",
    "EAST_DAY",
    "EDITED_PHONE",
    "EXPLAINED",
    "LAST_MONTH_YEAR",
    "LATER",
    "MACHINE",
    "MARKS",
    "MESSENGER_DAY",
    "MONTHS",
    "MONTH_YEAR",
    "PHONE",
    "SHORT_DAY",
    "SPLIT_DAY",
    "STAMP",
    "TAIL_DROP",
    "WORD_DAY",
    "WORD_MONTH",
    "day_of",
    "first_sequence",
    "is_camera_name",
    "is_whole_camera_name",
    "moment_of",
]

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
SHORT_DAY = re.compile(
    r"""
    (?<![0-9]) (?P<d> 0?[1-9] | [12][0-9] | 3[01] ) (?P<sep> [._-] ) (?P<m> 0?[1-9] | 1[0-2] ) (?P=sep) (?P<y> [0-9]{2} )
    ,? [\s_T-]{1,3} (?P<H> [01]?[0-9] | 2[0-3] ) (?P<between> [\s._:-] ) (?P<M> [0-5][0-9] )
    (?P=between) (?P<S> [0-5][0-9] ) (?![0-9])
    """,
    re.VERBOSE,
)
"""A year of two digits is one where a time follows: `Foto 13.05.17, 10 11 12`."""
EAST_DAY = re.compile(
    r"(?P<y>(?:18|19|20)[0-9]{2})年\s?(?P<m>[0-9]{1,2})月(?:\s?(?P<d>[0-9]{1,2})日)?|(?P<y2>(?:19"
    r"|20)[0-9]{2})년\s?(?P<m2>[0-9]{1,2})월(?:\s?(?P<d2>[0-9]{1,2})일)?"
)
SPLIT_DAY = re.compile(
    r"(?<![0-9])(?P<y>20[0-9]{2})_(?P<m>0[1-9]|1[0-2])(?P<d>0[1-9]|[12][0-9]|3[01])_(?P<H>[01][0-9]"
    r"|2[0-3])(?P<M>[0-5][0-9])(?P<S>[0-5][0-9])"
)
MONTHS = months()
WORD_DAY = re.compile(
    r"(?<![^\W_])(?P<d>[0-9]{1,2})\.?(?:st|nd|rd|th)?(?:\s+(?:de\s+)?"
    r"|[-_.])(?P<name>[^\W\d_]{3,12})\.?,?(?:\s+(?:de\s+)?|[-_.])(?P<y>(?:18|19|20)[0-9]{2})(?![0-9])"
    r"|(?P<name2>[^\W\d_]{3,12})\s+(?P<d2>[0-9]{1,2})(?:st|nd|rd|th)?,?\s+(?P<y2>(?:19"
    r"|20)[0-9]{2})(?![0-9])"
)
WORD_MONTH = re.compile(
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
    (re.compile(r"^(?:IMG|VID|PTT|AUD|STK)-[0-9]{8}-WA(?P<n>[0-9]{4,5})", re.I), term("messenger's number")),
    (re.compile(r"^P[0-9A-C][0-9]{2}(?P<n>[0-9]{4})(?![0-9])", re.I), term("camera's number after month and day")),
    (re.compile(r"^G[XHLPS](?:AA|[0-9]{2})(?P<n>[0-9]{4})(?![0-9])", re.I), term("action camera's number")),
    (re.compile(r"^GOPR(?P<n>[0-9]{4})", re.I), term("action camera's number")),
    (re.compile(r"^G[0-9]{3}(?P<n>[0-9]{4})(?![0-9])"), term("action camera's number after its series'")),
    (re.compile(r"^[0-9]{3}[_-](?P<n>[0-9]{4})(?![0-9])"), term("camera's number after its folder's")),
    (re.compile(r"^DJI_[0-9]{14}_(?P<n>[0-9]{4})", re.I), term("drone's number")),
    (
        re.compile(
            r"^(?:scan|scanned|numérisation|escaneo|scansione|skanning|skan|dia|slide|negativ|negative"
            r"|neg)[\s_-]*(?:[0-9]{1,8}[-_]|\x01+[\s_-]+)?(?P<n>[0-9]{1,6})(?=$|[\s_.\x00-])",
            re.I,
        ),
        term("scanner's number"),
    ),
    (re.compile(r"^R[0-9]{1,2}[-_](?P<n>[0-9]{1,2})A?$"), term("picture's number on its roll of film")),
    (re.compile(r"^M2U(?P<n>[0-9]{5})", re.I), term("camcorder's number")),
    (
        re.compile(
            r"^(?:_?(?:IMG|MG|DSC|DSCF|DSF|DSCN|SDC|SAM|PICT|IMGP|IGP|DJI|MVI|MOV|MOVI|MAH|CLIP|CIMG|EOS|KIF|HPIM"
            r"|PANO|VID|YDXJ|DCP|R|L|C|S|D|K|A|STA|STB|STC|IM|PIC|IMAG|IMAGE|PHOTO|BILD|FOTO|FILE|SNC|FH"
            r"|HDR))[_-]?E?(?P<n>[0-9]{3,6})(?=$|[\s_.()\[~\x00-]|M[0-9]{2}$)",
            re.I,
        ),
        term("camera's running number"),
    ),
    (
        re.compile(r"^[A-Z][0-9]{3}(?P<n>[0-9]{4})(?=$|[_.()~\x00-]|\s\()"),
        term("last four of a camera's eight characters (DCF)"),
    ),
    (re.compile(r"^(?P<n>[0-9]{5})$"), term("camcorder's running number")),
    (
        re.compile(r"^_?[A-Z][A-Z0-9]{0,4}[_-]?(?<![0-9])(?P<n>[0-9]{4,6})(?=$|[_.()~\x00-]|\s\()"),
        term("running number after capital letters, as cameras write it"),
    ),
)
LATER = re.compile(
    r"(?:[_\s(\[-]|(?<=[\x00\x01]))_?(?-i:[A-Z]{1,4}|MVI|GOPR|PICT|CIMG)[_-]?(?P<n>[0-9]{3,6})(?=$|[\s_.()\[\]\x00-])",
    re.I,
)
"""A camera's name behind a stamp or a caption."""
_DASHCAM = re.compile(r"^_(?P<n>[0-9]{3,4})(?:_?[A-Z])?$")
MARKS: tuple[tuple[str, re.Pattern[str]], ...] = (
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
        re.compile(
            rf"""
            [\s_-]{{0,3}} [(\[]? (?<![^\W_]) (?: {alternation("edited")} ) (?![^\W_]) [)\]]?
            (?: [\s_-]* (?: final | v[0-9] ) (?![^\W_]) )?
            """,
            re.IGNORECASE | re.VERBOSE,
        ),
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
EDITED_PHONE = re.compile(r"IMG_E[0-9]{4}")
CAMERA_DIGITS = re.compile(r"(?:IMGP?|DSC|P)[0-9]{7,8}$")
PHONE = re.compile(
    r"^(?:IMG|VID|PXL|MVIMG|PANO|BURST|Screenshot|clip|video|movie|trim|signal|photo|image|P|C|DJI)?[-_\s]?$", re.I
)
TAIL_DROP = re.compile(
    r"(?:^|[\s_.-]+)(?:[0-9]{3,4}[pi]|[48][kK]|uhd|UHD|hdr|[a-z]?HDR|HHT|NR|Auto|EFFECTS|Pro|Rich|COLLAGE"
    r"|ANIMATION|BOKEH|MIX|RAW|[A-Z]|~[0-9]+|LS|TS|COVER|MP)$"
)
MACHINE = re.compile(
    r"^(?:(?=[^ ]*[0-9])(?=[^ ]*[a-f])[0-9a-f]{10,}|[0-9a-f]{8}(?:[- ][0-9a-f]{4}){3}[- ][0-9a-f]{12}"
    r"|(?-i:[A-Z]{2,5}(?:[ _-][A-Z]{2,5})*(?:[ _-][0-9]+)+)|(?-i:WIN|[0-9]{3,}[A-Z]{2,5})"
    r"|[0-9]{5}[A-Z]{3}[ _][0-9]{5}|photo|image|picture|img|foto|bild|untitled|received[ _][0-9]+)$",
    re.I,
)
MONTH_YEAR = re.compile(r"[\s,]+(?P<name>[^\W\d_]{3,12})\.?(?:\s*[-–/&]\s*[^\W\d_]{3,12}\.?)?\s+(?:18|19|20)[0-9]{2}$")
LAST_MONTH_YEAR = re.compile(r"[\s,–-]+(?P<name>[^\W\d_]{3,12})\.?[\s-]+(?:18|19|20)[0-9]{2}$")
EXPLAINED = re.compile(r"[\x00\x01]+")
MESSENGER_DAY = re.compile(r"(?:IMG|VID)-\x01+-WA(?P<n>[0-9]{4,5})")
DRONE_DAY = re.compile(r"DJI_\x01+_(?P<n>[0-9]{4})(?:_[A-Z])?")
BEHIND_DAY = re.compile(r"\x01+_(?P<n>[0-9]{3,4})(?:_[A-Z])?$")
"""Running numbers behind a day and a time, which are blanked out by then."""


def is_camera_name(stem: str) -> bool:
    """Whether a camera, phone or messenger wrote this name."""
    return (
        first_sequence(stem) is not None
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


def first_sequence(stem: str) -> tuple[re.Match[str], str] | None:
    if not _SEQUENCE_START.match(stem):
        return None
    for pattern, rule in _SEQUENCES:
        match = pattern.match(stem)
        if match is not None:
            return match, rule
    return None


def day_of(year: int, month: int, day: int) -> str | None:
    """A day as `YYYY-MM-DD`; None where the calendar has none such."""
    try:
        return datetime.date(year, month, day).isoformat()
    except ValueError:
        return None


def moment_of(match: re.Match[str]) -> str | None:
    groups = match.groupdict()
    year, month, day = (groups.get(k) or groups.get(f"{k}2") for k in ("y", "m", "d"))
    if not day or not month or not year:
        return None
    date = day_of(int(year) + (2000 if len(year) == 2 else 0), int(month), int(day))
    if date is None or groups.get("H") is None:
        return date
    hour = int(groups["H"])
    if groups.get("half"):
        hour = hour % 12 + (12 if groups["half"].lower() == "pm" else 0)
    return f"{date}T{hour:02d}:{groups['M']}:{groups['S']}"
