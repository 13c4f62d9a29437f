"""Looks inside a file: streams, tags, embedded pictures, EXIF. A file that cannot
be read is an answer, not an exception."""

from __future__ import annotations

import base64
import errno
import os
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, cast

import av
import av.error
import mutagen
from av.stream import Disposition
from mutagen.flac import FLAC, Picture
from PIL import Image, ImageFile, IptcImagePlugin, UnidentifiedImageError
from PIL.ExifTags import GPS, IFD, Base

from ..core.facts.clean import LONGEST_TEXT, clean_facts, clean_value
from ..core.lyrics import holds_lyrics
from ..core.phrase import phrase
from ..core.playing.words import decode_text
from .formats import FORMATS, MOST_PIXELS, open_video, ready_heif
from .loudness import loudness_of
from .sidecars import read_sidecar
from .sniff import wrong_format
from .xmp import moment_of_xmp, read_xmp

__all__ = ["Probe", "embedded_picture", "probe", "xmp_moment"]


_UNREACHED = (
    errno.ENOENT,
    errno.EACCES,
    errno.EPERM,
    errno.EIO,
    errno.ESTALE,
    errno.ENOTCONN,
    errno.ENODEV,
    errno.ENXIO,
)


MOST_LYRICS_BYTES = 200_000


@dataclass(slots=True)
class Probe:
    """What stands inside a file."""

    media: dict[str, Any] = field(default_factory=dict)
    """`seconds`, `container`, `video`, `audio`, `subtitles`, `width`, `height`, `tags`,
    `has_picture`, `taken`, `camera`, `place`, and
    `facts`: what is said inside of what it is."""
    problem: str = ""
    """What is wrong with it, in words for a person; empty when it is well."""
    out_of_reach: bool = False
    """Whether nobody could look: what stands inside is not known, and the next look may succeed."""
    is_missing: bool = False
    """Whether there was nothing at its path."""
    sample: bytes | None = None
    """Fingerprint of some of its bytes, where one was taken. See :mod:`.digest`."""
    digest: bytes | None = None
    """Fingerprint of all of them."""


def probe(path: bytes, kind: str) -> Probe:
    """Look inside a file of a kind of reading; kinds without media inside give an empty probe."""
    try:
        if os.stat(path).st_size == 0:
            return Probe(problem=phrase("The file is empty."))
        wrong = wrong_format(path)
        found = _look(path, kind) if wrong is None else _look_as_another(path, kind, wrong)
        return _fit(found)
    except PermissionError:
        return Probe(
            problem=phrase("No permission to read it. Give the account that runs Indice read access."),
            out_of_reach=True,
        )
    except FileNotFoundError:
        return Probe(problem=phrase("It is not there any more."), out_of_reach=True, is_missing=True)
    except OSError as error:
        if error.errno is None:  # no system call failed: a decoder gave up
            return Probe(problem=phrase("It could not be understood ({name}).", name=type(error).__name__))
        return Probe(problem=phrase("It could not be read: {why}.", why=error.strerror or error), out_of_reach=True)
    except Exception as error:  # a hostile file can make a parser raise anything; the other files go on
        return Probe(problem=phrase("It could not be understood ({name}).", name=type(error).__name__))


def _look_as_another(path: bytes, kind: str, wrong: tuple[str, str]) -> Probe:
    """What a file of another format than its name says still tells; its decoder may well refuse it."""
    try:
        found = _look(path, kind)
    except Exception:  # the wrong format is what is to be said of it
        found = Probe()
    found.media["wrong_format"] = list(wrong)
    return found


def _fit(found: Probe) -> Probe:
    """What can be kept of what was found; what cannot is said."""
    left: list[str] = []
    for part in ("tags", "facts"):
        said = found.media.get(part)
        if isinstance(said, dict):
            found.media[part], unfit = clean_facts(said)
            left += unfit
    found.media = clean_value(found.media)
    if left and not found.problem:
        found.media["left"] = left
    return found


def _look(path: bytes, kind: str) -> Probe:
    if kind in ("movie", "episode", "clip", "extra"):
        return _video(path)
    if kind == "lyrics":
        return _lyrics_beside(path)
    if kind == "track":
        return _audio(path)
    if kind == "sidecar":
        return _sidecar(path)
    if kind not in ("photo", "artwork"):
        return Probe()
    found = _picture(path)
    if kind == "photo" and "taken" not in found.media:
        moment = _sidecar_moment(path)
        if moment is not None:
            found.media["taken"] = moment
    return found


def _sidecar(path: bytes) -> Probe:
    try:
        media = read_sidecar(path)
    except ValueError as error:
        return Probe(problem=str(error))
    left = media.pop("left", [])
    return Probe(
        media, phrase("Left out, since it can be nothing of the kind: {left}.", left=", ".join(left)) if left else ""
    )


def _sidecar_moment(path: bytes) -> str | None:
    for sidecar in (path + b".xmp", path.rpartition(b".")[0] + b".xmp", path + b".XMP"):
        if os.path.isfile(sidecar) and not os.path.islink(sidecar):
            return xmp_moment(sidecar)
    return None


def _clean(text: Any) -> str:
    return str(text).replace("\0", "").encode("utf-8", "replace").decode().strip()


def _reason(error: Exception, path: bytes) -> str:
    """What a library says of a file, without the path: that is another tomorrow, and is said beside it anyway."""
    text, name = _clean(error), _clean(os.fsdecode(path))
    for told in (repr(os.fsdecode(path)), repr(path), name):
        text = text.replace(told, "it")
    return text[:120]


def _video(path: bytes) -> Probe:
    found = Probe()
    try:
        with open_video(path) as container:
            media = found.media
            media["container"] = container.format.name.split(",")[0]
            if container.duration:
                media["seconds"] = round(container.duration / 1_000_000, 2)
            media["video"], media["audio"], media["subtitles"] = [], [], []
            for stream in container.streams:
                language = stream.metadata.get("language") or stream.language
                language = None if language in (None, "und", "") else _clean(language)
                context = getattr(stream, "codec_context", None)
                codec = context.codec.canonical_name if context is not None else "unknown"
                if isinstance(stream, av.VideoStream):
                    if stream.disposition & Disposition.attached_pic:
                        media["has_picture"] = True
                        continue
                    media["video"].append({"codec": codec, "width": stream.width, "height": stream.height})
                elif isinstance(stream, av.AudioStream):
                    media["audio"].append({"codec": codec, "channels": stream.channels, "language": language})
                elif stream.type == "subtitle":
                    media["subtitles"].append({"codec": codec, "language": language})
            if media["video"]:
                media["width"], media["height"] = media["video"][0]["width"], media["video"][0]["height"]
            moment = container.metadata.get("creation_time")
            if moment:
                media["taken"] = _clean(moment)[:19]
            place = _place_of_container(container.metadata)
            if place:
                media["place"] = place
            facts = _facts_of_container(container.metadata)
            if facts:
                media["facts"] = facts
            if not media["video"] and not media["audio"]:
                found.problem = phrase("Neither picture nor sound is in it.")
    except (av.error.FFmpegError, ValueError) as error:
        number = getattr(error, "errno", None)
        if number in _UNREACHED:
            raise OSError(number, os.strerror(number)) from error
        found.problem = phrase(
            "It is cut off, or no video: {clean}.", clean=_clean(getattr(error, "strerror", None) or error)
        )
    return found


_TAGS = {
    "title": ("title", "TIT2", "\xa9nam"),
    "artist": ("artist", "TPE1", "\xa9ART"),
    "album": ("album", "TALB", "\xa9alb"),
    "album_artist": ("albumartist", "album artist", "TPE2", "aART"),
    "year": ("date", "year", "TDRC", "TYER", "\xa9day"),
    "track": ("tracknumber", "TRCK", "trkn"),
    "disc": ("discnumber", "TPOS", "disk"),
    "genres": ("genre", "TCON", "\xa9gen"),
    "composers": ("composer", "TCOM", "\xa9wrt"),
}
_LISTS = ("genres", "composers")


def _tag(tags: Any, key: str) -> Any:
    """A tag's value, or None; some kinds of tags refuse keys that are none of theirs."""
    try:
        return tags[key] if tags is not None and key in tags else None
    except (KeyError, ValueError, TypeError):
        return None


def _tag_text(value: Any) -> list[str]:
    if hasattr(value, "text"):
        value = value.text
    values = value if isinstance(value, list) else [value]
    return [_clean(item[0] if isinstance(item, tuple) else item) for item in values]


def _number(text: str) -> int | None:
    digits = text.split("/")[0].strip()
    return int(digits) if digits.isdigit() and len(digits) < 6 else None


def _total(held: Any, text: str) -> int | None:
    """The number of all tracks, from `3/12` or from a pair of numbers."""
    if isinstance(held, list) and held and isinstance(held[0], tuple) and len(held[0]) > 1:
        return int(held[0][1]) or None
    return _number(text.partition("/")[2]) if "/" in text else None


def _audio(path: bytes) -> Probe:
    found = Probe()
    try:
        file = mutagen.File(os.fsdecode(path))  # pyright: ignore[reportPrivateImportUsage]
    except Exception as error:  # mutagen raises what its parsers raise
        file = None
        found.problem = phrase("Its tags cannot be read: {reason}.", reason=_reason(error, path))
    if file is None or file.info is None:
        streams = _video(path)
        streams.problem = streams.problem or found.problem
        return streams
    media = found.media
    media["seconds"] = round(float(getattr(file.info, "length", 0.0)), 2)
    media["container"] = type(file).__name__.lower()
    media["audio"] = [
        {
            "codec": media["container"],
            "channels": getattr(file.info, "channels", None),
            "rate": getattr(file.info, "sample_rate", None),
            "bitrate": getattr(file.info, "bitrate", None),
        }
    ]
    media["tags"] = {name: value for name, value in _told_by(file.tags).items() if value not in (None, "", [])}
    loudness = loudness_of(file.tags)
    if loudness:
        media["loudness"] = loudness
    media["has_picture"] = _has_picture(file)
    words = _lyrics(file)
    if words:
        media["facts"] = {"lyrics": words}
    return found


def _told_by(held: Any) -> dict[str, Any]:
    """What tags of any form say, by our names; the first of the keys of a name that says something counts."""
    tags: dict[str, Any] = {}
    for name, keys in _TAGS.items():
        for key in keys:
            tag = _tag(held, key)
            values = [value for value in _tag_text(tag) if value] if tag is not None else []
            if values:
                tags |= _of_tag(name, tag, values)
                break
    for key in ("tracktotal", "totaltracks"):
        tag = _tag(held, key)
        if tag is not None and (total := _number(_tag_text(tag)[0])) is not None:
            tags.setdefault("track_total", total)
    return tags


def _of_tag(name: str, tag: Any, values: list[str]) -> dict[str, Any]:
    if name in ("track", "disc"):
        total = _total(tag, values[0])
        return {name: _number(values[0]), **({} if total is None else {f"{name}_total": total})}
    if name == "year":
        return {name: int(values[0][:4]) if values[0][:4].isdigit() else None}
    return {name: values if name in _LISTS else values[0]}


def _lyrics(file: Any) -> str:
    """The words of a song that its tags hold, in each form that a container has for them; those with moments first."""
    plain = ""
    try:
        for key, value in file.tags.items() if file.tags else ():
            name = str(key).lower()
            if name.startswith("sylt") and getattr(value, "format", 0) == 2:  # ID3v2, in milliseconds
                return "\n".join(
                    f"[{at // 60_000:02d}:{at % 60_000 / 1000:05.2f}]{text.strip()}" for text, at in value.text
                )
            if name.startswith("uslt") or name in ("lyrics", "unsyncedlyrics", "\xa9lyr", "wm/lyrics"):
                held = value.text if hasattr(value, "text") else value
                text = str(held[0] if isinstance(held, list) and held else held)
                plain = plain or (text if holds_lyrics(text[:LONGEST_TEXT]) else "")
    except Exception:  # broken words are none, and the tags beside them stand
        return plain
    return plain


def _lyrics_beside(path: bytes) -> Probe:
    """The words that a file beside a song holds."""
    with open(path, "rb") as file:
        text = decode_text(file.read(MOST_LYRICS_BYTES))
    return Probe(media={"facts": {"lyrics": text}}) if holds_lyrics(text) else Probe()


def _has_picture(file: Any) -> bool:
    try:
        return next(_pictures(file), None) is not None
    except Exception:  # a broken picture is none, and the tags beside it stand
        return False


def _pictures(file: Any) -> Iterator[bytes]:
    """Pictures that a sound carries, in each form that a container has for them."""
    if isinstance(file, FLAC):
        yield from (bytes(picture.data) for picture in file.pictures)
    tags: Any = file.tags if file is not None else None
    for key, value in tags.items() if tags else ():
        name = str(key).lower()
        if name.startswith("apic"):  # ID3v2
            yield bytes(value.data)
        elif name == "covr":  # MP4
            yield from map(bytes, value)
        elif name == "metadata_block_picture":  # Vorbis comments hold a FLAC picture as Base64
            yield from (Picture(base64.b64decode(text)).data for text in value)
        elif name.startswith("cover art ("):  # APEv2: a file name, a zero byte, the picture
            yield bytes(value.value).partition(b"\0")[2]
        elif name == "wm/picture":  # ASF: type, length, two names of 16-bit letters each ended by a zero, the picture
            yield from (_after_words(bytes(held.value)[5:], 2) for held in value)


def _after_words(raw: bytes, count: int) -> bytes:
    """What follows so many texts of 16-bit letters, each ended by a zero."""
    place = 0
    while count and place < len(raw):
        count -= raw[place : place + 2] == b"\0\0"
        place += 2
    return raw[place:]


def embedded_picture(path: bytes) -> bytes | None:
    """The first picture that a track carries, or None."""
    try:
        file = mutagen.File(os.fsdecode(path))  # pyright: ignore[reportPrivateImportUsage]
        return next(_pictures(file), None)
    except Exception:  # mutagen raises what its parsers raise
        return None


def _degrees(parts: Any, reference: Any) -> float | None:
    try:
        value = float(parts[0]) + float(parts[1]) / 60 + float(parts[2]) / 3600
    except (TypeError, ValueError, IndexError, ZeroDivisionError):
        return None
    return -value if reference in ("S", "W") else value


def _exif_moment(value: Any) -> str | None:
    """A moment as cameras write it, as ISO 8601; None when it is none."""
    if not value:
        return None
    try:
        return datetime.strptime(_clean(value)[:19], "%Y:%m:%d %H:%M:%S").isoformat()
    except ValueError:
        return None


MOST_XMP_BYTES = 4_000_000


def xmp_moment(path: bytes) -> str | None:
    """When a picture was taken, by its XMP sidecar, ISO 8601; None when it does not say or cannot be read."""
    try:
        with open(path, "rb") as file:
            return moment_of_xmp(file.read(MOST_XMP_BYTES + 1))
    except OSError:
        return None


_CONTAINER = {
    "title": ("title",),
    "plot": ("synopsis", "description", "summary"),
    "date": ("date", "date_released", "year"),
    "genres": ("genre",),
    "directors": ("director",),
}
_NO_TITLE = re.compile(r"[._][^ ]*[._]|\b(?:www|http|x26[45]|1080p|720p|untitled)\b", re.IGNORECASE)
"""What programs and people leave in a container's title that is none."""


def _facts_of_container(metadata: Any) -> dict[str, Any]:
    """What a video's container says of what it is; a title that looks like a file's name is none."""
    said = {str(name).lower(): _clean(value) for name, value in dict(metadata).items()}
    facts: dict[str, Any] = {}
    for field_name, names in _CONTAINER.items():
        text = next((said[name] for name in names if said.get(name)), "")[:20_000]
        if not text or (field_name == "title" and _NO_TITLE.search(text)):
            continue
        if field_name == "date":
            found = re.match(r"[12][0-9]{3}(?:-[0-9]{2}-[0-9]{2})?", text)
            if found:
                facts["date"] = found.group()
        else:
            facts[field_name] = (
                [part.strip() for part in text.split(",")] if field_name in ("genres", "directors") else text
            )
    return facts


_ISO_6709 = re.compile(
    r"""
    (?P<latitude> [+-] [0-9]{2} (?: \. [0-9]{1,9} )? )
    (?P<longitude> [+-] [0-9]{3} (?: \. [0-9]{1,9} )? )
    (?: [+-] [0-9.]+ )? (?: CRS \w+ )? /?
    """,
    re.VERBOSE,
)
"""A place in degrees, as cameras write it into films (ISO 6709, annex H)."""


def _place_of_container(metadata: Any) -> list[float] | None:
    """Latitude and longitude in degrees; the field is called differently by each maker."""
    for name, value in dict(metadata).items():
        if "location" in str(name).lower() and (found := _ISO_6709.fullmatch(_clean(value))):
            latitude, longitude = float(found["latitude"]), float(found["longitude"])
            if abs(latitude) <= 90 and abs(longitude) <= 180:
                return [round(latitude, 5), round(longitude, 5)]
    return None


_IPTC = {(2, 5): "title", (2, 120): "plot", (2, 25): "keywords", (2, 90): "town", (2, 101): "country"}


def _facts_of_picture(image: Image.Image, exif: Image.Exif) -> dict[str, Any]:
    """What is written into a picture, by EXIF, IPTC and XMP, the last of which is the youngest and believed first."""
    facts: dict[str, Any] = {}
    caption = _clean(exif.get(Base.ImageDescription) or "")
    if caption and not caption.isupper():
        facts["plot"] = caption
    for key, held in (IptcImagePlugin.getiptcinfo(cast(ImageFile.ImageFile, image)) or {}).items():
        name = _IPTC.get(key)
        if name is not None:
            values = [_clean(one.decode("utf-8", "replace")) for one in (held if isinstance(held, list) else [held])]
            facts[name] = values if name == "keywords" else values[0]
    packet = image.info.get("xmp") or image.info.get("XML:com.adobe.xmp")
    if packet:
        said = read_xmp(packet if isinstance(packet, bytes) else str(packet).encode())
        facts |= {name: value for name, value in said.items() if name != "taken"}
    return facts


def _picture(path: bytes) -> Probe:
    ready_heif()
    found = Probe()
    try:
        with Image.open(os.fsdecode(path), formats=FORMATS) as image:
            media = found.media
            media["width"], media["height"] = image.size
            media["container"] = (image.format or "").lower()
            if image.format != "JPEG" and image.width * image.height > MOST_PIXELS:
                found.problem = phrase(
                    "The picture is too large ({width} × {height}).", width=image.width, height=image.height
                )
                return found
            exif = image.getexif()  # which decodes some formats
            if exif.get(Base.Orientation) in (5, 6, 7, 8):
                media["width"], media["height"] = image.size[1], image.size[0]
            camera = " ".join(_clean(exif[tag]) for tag in (Base.Make, Base.Model) if exif.get(tag))
            if camera:
                media["camera"] = camera
            inner = exif.get_ifd(IFD.Exif)
            if lens := _clean(inner.get(Base.LensModel) or ""):
                media["lens"] = lens
            original = _exif_moment(inner.get(Base.DateTimeOriginal))
            moment = original or _exif_moment(exif.get(Base.DateTime))
            if original:
                media["original"] = original
            if moment:
                media["taken"] = moment
            facts = _facts_of_picture(image, exif)
            if facts:
                media["facts"] = facts
            gps = exif.get_ifd(IFD.GPSInfo)
            latitude = _degrees(gps.get(GPS.GPSLatitude), gps.get(GPS.GPSLatitudeRef))
            longitude = _degrees(gps.get(GPS.GPSLongitude), gps.get(GPS.GPSLongitudeRef))
            if latitude is not None and longitude is not None:
                media["place"] = [round(latitude, 5), round(longitude, 5)]
    except UnidentifiedImageError:
        found.problem = phrase("It says that it is a picture, but it is none.")
    except (Image.DecompressionBombError, SyntaxError, ValueError, EOFError) as error:
        found.problem = phrase("The picture is damaged or too large: {reason}.", reason=_reason(error, path))
    return found
