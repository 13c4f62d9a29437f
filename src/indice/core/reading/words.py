"""Technical and release words that names carry, one table a family.

*Strong* words never belong to a title and begin the technical part of a name. *Weak* words are also ordinary words:
they count only where a technical part has begun, or in brackets of their own.
"""

from __future__ import annotations

from typing import Any, NamedTuple

from .vocabulary import words_for

__all__ = ["FIRST", "LANGUAGES", "LANGUAGE_NAMES", "NOTHING", "Word", "language_in", "language_of"]


class Word(NamedTuple):
    """A technical word of one or more tokens."""

    rest: tuple[str, ...]
    """The tokens after the first."""
    strong: bool
    facts: tuple[tuple[str, Any], ...]


# field, value, strong words, weak words; a blank inside a word stands for any one separator, ',' parts the words
TABLE: tuple[tuple[str, Any, str, str], ...] = (
    ("resolution", "4320p", "4320p,7680x4320", "8k"),
    ("resolution", "2160p", "2160p,3840x2160,4096x2160", "4k,uhd,2160"),
    ("resolution", "1440p", "1440p,2560x1440", "qhd"),
    ("resolution", "1080p", "1080p,1920x1080,fhd,1080p24,1080p25,1080p60,fullhd,full hd", ""),
    ("resolution", "1080i", "1080i,1080i50,1080i25", ""),
    ("resolution", "720p", "720p,1280x720,720p50,720p60", ""),
    ("resolution", "576p", "576p,720x576,1024x576", ""),
    ("resolution", "576i", "576i", ""),
    ("resolution", "480p", "480p,640x480,854x480,720x480", ""),
    ("resolution", "480i", "480i", ""),
    ("resolution", "360p", "360p,640x360", ""),
    ("source", "bluray", "bluray,blu ray,bdrip,bd rip,brrip,br rip,bdmux,bd25,bd50,bd66,bd100,uhdbd,uhdrip", "bd"),
    ("source", "dvd", "dvdrip,dvd rip,dvdscr,dvd5,dvd9,dvd 5,dvd 9,dvdr,dvdmux,dvd r", "dvd"),
    (
        "source",
        "web",
        "web dl,webdl,web dlrip,webdlrip,web dl rip,webrip,web rip,webhd,web hd,webmux,webcap,dlmux",
        "web",
    ),
    (
        "source",
        "hdtv",
        "hdtv,pdtv,sdtv,tvrip,tv rip,hdtvrip,dvbrip,dvb rip,satrip,dsr,dvb s,dvb t,dthrip,uhdtv,hdrip tv",
        "dvb",
    ),
    ("source", "vhs", "vhsrip,vhs rip", "vhs"),
    ("source", "camera", "hdcam,camrip,cam rip,telesync,hdts,hd ts,hd cam", "cam,ts"),
    ("source", "hd-dvd", "hd dvd,hddvd,hddvdrip", ""),
    ("source", "laserdisc", "laserdisc,ldrip", "laser disc"),
    ("video_codec", "h264", "x264,h264,h 264,x 264", "avc"),
    ("video_codec", "hevc", "x265,h265,h 265,x 265,hevc", ""),
    ("video_codec", "av1", "av1", ""),
    ("video_codec", "vp9", "vp9", ""),
    ("video_codec", "mpeg2", "mpeg2,mpeg 2", ""),
    ("video_codec", "mpeg4", "xvid,divx,mpeg4,mpeg 4,divx5,divx6", ""),
    ("video_codec", "vc1", "vc1,vc 1", ""),
    ("video_codec", "prores", "prores", ""),
    ("bit_depth", 8, "8bit,8 bit,8bits", ""),
    ("bit_depth", 10, "10bit,10 bit,10bits,hi10p,hi10", ""),
    ("bit_depth", 12, "12bit,12 bit,12bits", ""),
    ("bit_depth", 16, "16bit,16 bit", ""),
    ("bit_depth", 24, "24bit,24 bit", ""),
    ("hdr", "hdr10", "hdr10,hdr 10", "hdr"),
    ("hdr", "hdr10+", "hdr10+,hdr10plus,hdr10p,hdr10 plus", ""),
    ("hdr", "dolby-vision", "dovi,dolby vision,dolbyvision", "dv"),
    ("hdr", "hlg", "hlg", ""),
    ("audio_codec", "aac", "aac,he aac", ""),
    ("audio_codec", "ac3", "ac3,ac3d,dd5,dd2,dd1,ac 3,dolby digital", "dd"),
    (
        "audio_codec",
        "eac3",
        "eac3,ddp,dd+,ddp5,ddp2,ddp7,ddp1,e ac 3,e ac3,ddplus,dolby digital plus,dolby digital+,dd+5,dd+2,dd+7",
        "",
    ),
    ("audio_codec", "dts", "dts", ""),
    ("audio_codec", "dts-hd", "dts hd,dtshd,dts hd ma,dts hd hra,dtshd ma,dts ma,dts hdma,dts hd hr,dts hra", ""),
    ("audio_codec", "dts-x", "dts x,dtsx", ""),
    ("audio_codec", "truehd", "truehd,true hd,dolby truehd", ""),
    ("audio_codec", "atmos", "dolby atmos", "atmos"),
    ("audio_codec", "flac", "flac", ""),
    ("audio_codec", "alac", "alac", ""),
    ("audio_codec", "mp3", "mp3", ""),
    ("audio_codec", "opus", "", "opus"),
    ("audio_codec", "vorbis", "vorbis,ogg vorbis", ""),
    ("audio_codec", "pcm", "lpcm,pcm", ""),
    ("audio_codec", "wma", "wma", ""),
    ("audio_codec", "ape", "", "ape"),
    ("three_d", True, "hsbs,h sbs,half sbs,half ou,hou,h ou,full sbs,full ou,sbs3d", "3d,sbs,ou"),
    ("proper", True, "", "proper,repack,rerip,repack2,real proper,v2,v3,v4,proper2"),
    (
        "edition",
        "",
        "",
        "director's cut,directors cut,director’s cut,director cut,extended,extended cut,extended edition,"
        "extended version,"
        "unrated,unrated cut,theatrical,theatrical cut,theatrical version,theatrical edition,final cut,the "
        "final cut,remastered,uncut,restored,uncensored,imax,"
        "imax edition,open matte,special edition,collector's edition,collectors edition,ultimate edition,"
        "ultimate cut,deluxe edition,"
        "limited edition,anniversary edition,rogue cut,redux,remaster,4k remaster,fan edit,black and white,unabridged,"
        "dc,workprint,international cut,original cut,producer's cut,alternate cut,alternative cut,assembly cut,tv cut,"
        "langfassung,kinofassung,version longue,integrale,hybrid cut,digitally remastered,anniversary "
        "remaster,restored edition,restored version,"
        "uncut edition,uncut version,remastered edition,unrated edition,unrated version,unrated director's "
        "cut,unrated directors cut,"
        "extended director's cut,extended directors cut,festival cut,roadshow version,roadshow cut,roadshow "
        "edition,long version,short version," + ",".join(words_for("edition")),
    ),
)

NOTHING = frozenset(
    [
        "limited",
        "internal",
        "pal",
        "ntsc",
        "hc",
        "readnfo",
        "nfo",
        "real",
        "subbed",
        "dubbed",
        "retail",
        "complete",
        "hybrid",
        "dubs",
        "subs",
        "sub",
        "dub",
        "hardsub",
        "softsub",
        "vostfr",
        "subfrench",
        "engsub",
        "multisub",
        "msubs",
        "esubs",
        "esub",
        "fansub",
        "vost",
        "sdr",
        "hq",
        "lq",
        "hd",
        "sd",
        "uhdr",
        "dl",
        "ml",
        "rip",
        "custom",
        "nuked",
        "dirfix",
        "encode",
        "fs",
        "ws",
        "oar",
        "docu",
        "line",
        "clean",
        "md",
        "ld",
        "dubbed",
        "korsub",
        "kor-sub",
        "multi-sub",
        "nordicsubs",
        "swesub",
        "remux60fps",
        "60fps",
        "50fps",
        "25fps",
        "24fps",
        "fps",
        "ripped",
        "ac",
        "upscaled",
        "upscale",
        "mkv",
        "mp4",
        "avi",
        "legendado",
        "legendada",
        "subtitulado",
        "sottotitolato",
        "untertitelt",
        "omu",
        "omeu",
        "ov",
    ]
)
"""Release words that state nothing, and end a title once a technical part has begun."""
_NEVER_A_TITLE = frozenset(
    (
        "dublado",
        "dublada",
        "doblado",
        "doblada",
        "legendado",
        "legendada",
        "subtitulado",
        "truefrench",
        "subfrench",
        "vostfr",
    )
)
"""Words about dubbing and subtitles that no title holds: they begin the technical part of a name."""

_LANGUAGE_TABLE = """
en eng english englisch anglais inglés inglese ingles engelsk engels
de ger deu german deutsch allemand alemán tedesco
fr fre fra french français francais französisch francese francés truefrench vff vf vfq vfi
es spa esp spanish español espanol castellano spanisch espagnol spagnolo latino doblado doblada
it ita italian italiano italienisch italien
pt por portuguese português portugues portugiesisch dublado dublada
nl dut nld dutch nederlands niederländisch flemish vlaams
sv swe svensk svenska swedish schwedisch
da dan danish dansk
no nor norwegian norsk
fi fin finnish suomi finnisch
is ice isl icelandic íslenska
pl pol polish polski polnisch lektor pldub
cs cze ces czech čeština česky cesky
sk slo slk slovak slovenčina
sl slv slovenian slovene slovenščina
hr hrv croatian hrvatski
sr srp serbian srpski српски
hu hun hungarian magyar
ro rum ron romanian română
bg bul bulgarian български
ru rus russian русский
uk ukr ukrainian українська
el gre ell greek ελληνικά
tr tur turkish türkçe turkce
he heb hebrew עברית
ar ara arabic العربية عربي
fa per fas persian farsi فارسی
hi hin hindi हिन्दी हिंदी
ta tam tamil தமிழ்
te tel telugu తెలుగు
ml mal malayalam
kn kan kannada
bn ben bengali বাংলা
mr mar marathi
pa pan punjabi
ur urd urdu
th tha thai ไทย
vi vie vietnamese việt
id ind indonesian bahasa
ms may msa malay
ja jpn jap japanese 日本語 japonais japanisch
ko kor korean 한국어
zh chi zho chinese mandarin 中文 chs cht 国语 國語 普通话
yue cantonese 粵語 粤语
et est estonian eesti
lv lav latvian latviešu
lt lit lithuanian lietuvių
eu baq eus basque euskara
ca cat catalan català
gl glg galician galego
ga gle irish gaeilge
cy wel cym welsh cymraeg
la lat latin
fil tgl tagalog filipino
"""

LANGUAGES: dict[str, str] = {}
"""A code or a name of a language, in lower case → its tag."""
for _line in _LANGUAGE_TABLE.split("\n"):
    for _word in _line.split():
        LANGUAGES.setdefault(_word, _line.split()[0])

LANGUAGE_NAMES = frozenset(word for word in LANGUAGES if len(word) > 3)
"""Words long enough that they are no code."""


_REGION_TABLE = """
br: brazil, brazilian, brasil, brasileiro, brésil, brasilien
ca: canada, canadian, kanada, canadien, québécois
mx: mexico, mexican, méxico
gb: british, britain, uk
us: american, usa
ch: swiss, switzerland, schweiz, suisse
at: austrian, austria, österreich
be: belgian, flemish, belgium
pt: portugal
es: spain, españa, castilian
hans: simplified, 简体
hant: traditional, 繁體, 繁体
hk: hong kong
tw: taiwan, taiwanese
419: latin american, latin america, latinoamérica, latinoamericano, latam, latin
home: european, europe, iberian, européen, europeo, europeu
"""
_REGIONS = {
    word.strip(): line.split(":")[0]
    for line in _REGION_TABLE.strip().split("\n")
    for word in line.split(":")[1].split(",")
}
"""Where a language is spoken, or how it is written, in words → what its tag says of that."""
_AT_HOME = {"pt": "pt", "es": "es", "fr": "fr", "en": "gb", "nl": "nl", "de": "de"}
"""Where in Europe a language is spoken that is spoken elsewhere, too."""


def language_in(where: str, language: str) -> str | None:
    """The tag of a language as it is spoken somewhere or written somehow
    (`Brazilian`, `por` → `pt-br`), else None."""
    main, region = LANGUAGES.get(language.lower()), _REGIONS.get(" ".join(where.lower().split()))
    if region == "home":
        region = _AT_HOME.get(main or "")
    return f"{main}-{region}" if main and region else None


def language_of(word: str) -> str | None:
    """The tag of a code or a name of a language (`ger` → `de`, `pt-BR`,
    `Brazilian Portuguese` → `pt-br`), else None."""
    lowered = word.lower()
    if lowered in LANGUAGES:
        return LANGUAGES[lowered]
    where, _, name = lowered.rpartition(" ")
    if name in LANGUAGE_NAMES and (told := language_in(where, name)):
        return told
    for sign in "-_":
        main, found, region = lowered.partition(sign)
        if found and main in LANGUAGES and len(main) <= 3 and len(region) in (2, 3, 4) and region.isalnum():
            return f"{LANGUAGES[main]}-{region}"
    return None


FIRST: dict[str, list[Word]] = {}
"""The first token of a technical word → the words that begin with it, longest first."""


def _add(phrase: str, *, strong: bool, facts: tuple[tuple[str, Any], ...]) -> None:
    first, *rest = phrase.split(" ")
    FIRST.setdefault(first, []).append(Word(tuple(rest), strong, facts))


for _field, _value, _strong, _weak in TABLE:
    for _words, _is_strong in ((_strong, True), (_weak, False)):
        for _word in filter(None, (part.strip() for part in _words.split(","))):
            _add(_word, strong=_is_strong, facts=((_field, _value),))
for _word in ("remux", "bdremux", "bd remux", "dvdremux"):
    _add(
        _word,
        strong=True,
        facts=(("remux", True),)
        + ((("source", "bluray"),) if _word.startswith("bd") else ())
        + ((("source", "dvd"),) if _word[0] == "d" else ()),
    )
for _word in sorted(NOTHING):
    _add(_word, strong=_word in _NEVER_A_TITLE, facts=())
for _word in (
    "multi sub",
    "multi subs",
    "eng sub",
    "eng subs",
    "english subs",
    "dual subs",
    "ger sub",
    "multi subtitles",
    "multiple subtitles",
    "with subtitles",
):
    _add(_word, strong=False, facts=())
for _word, _value in (
    ("multi", "multi"),
    ("dual audio", "dual"),
    ("dual", "dual"),
    ("multi audio", "multi"),
    ("german dl", "dual"),
):
    _add(_word, strong=False, facts=(("languages", _value),))
for _word, _tag in LANGUAGES.items():
    if len(_word) > 2 or not _word.isascii() or _word == "vf":
        _add(_word, strong=_word in _NEVER_A_TITLE, facts=(("languages", _tag),))
for _words, _tag in (
    ("cz dabing,cz dab,cz dubbing,české znění,česky dabing", "cs"),
    ("sk dabing,sk dab,slovenský dabing", "sk"),
    ("nl gesproken,nederlands gesproken,vlaams gesproken", "nl"),
    ("tr dublaj,türkçe dublaj", "tr"),
    ("dansk tale", "da"),
    ("norsk tale", "no"),
    ("svenskt tal,svensk tal", "sv"),
    ("pl dubbing,pl dub,dubbing pl", "pl"),
    ("hun dub,magyar szinkron", "hu"),
    ("ru dub,рус дубляж", "ru"),
):
    for _word in _words.split(","):
        _add(_word, strong=True, facts=(("languages", _tag),))
FIRST["german"].insert(0, Word(("dl",), False, (("languages", "de"), ("languages", "dual"))))
_layouts = ("1.0", "2.0", "2.1", "5.1", "6.1", "7.1", "7.1.4", "5.1.2", "5.1.4")
for _layout in _layouts:
    _digits = _layout.split(".")
    _add(" ".join(_digits), strong=False, facts=(("channels", _layout),))
    _add(f"{_digits[0]} {'ch' if len(_digits) == 2 else 'x'}", strong=False, facts=())
    for _codec, _value in (
        ("aac", "aac"),
        ("ac3", "ac3"),
        ("dd", "ac3"),
        ("ddp", "eac3"),
        ("dd+", "eac3"),
        ("eac3", "eac3"),
        ("dts", "dts"),
        ("flac", "flac"),
        ("opus", "opus"),
        ("truehd", "truehd"),
        ("pcm", "pcm"),
        ("lpcm", "pcm"),
        ("dtsx", "dts-x"),
        ("ma", ""),
        ("ddpa", "eac3"),
    ):
        _facts = ((("audio_codec", _value),) if _value else ()) + (("channels", _layout),)
        _add(" ".join([_codec + _digits[0], *_digits[1:]]), strong=bool(_value), facts=_facts)
        if _value and len(_digits) == 2:
            _add(" ".join([*_codec.split(), *_digits]), strong=True, facts=_facts)
for _list in FIRST.values():
    _list.sort(key=lambda word: -len(word.rest))
