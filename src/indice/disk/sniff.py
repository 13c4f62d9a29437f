"""What a file is by its first bytes, whatever its name says."""

from __future__ import annotations

import os

__all__ = ["HEAD_BYTES", "format_of", "wrong_format"]

HEAD_BYTES = 400

_SIGNS: tuple[tuple[int, bytes, str], ...] = (
    (0, b"\x1aE\xdf\xa3", "matroska"),
    (0, b"fLaC", "flac"),
    (0, b"OggS", "ogg"),
    (0, b"\xff\xd8\xff", "jpeg"),
    (0, b"\x89PNG\r\n\x1a\n", "png"),
    (0, b"GIF8", "gif"),
    (0, b"II*\x00", "tiff"),
    (0, b"MM\x00*", "tiff"),
    (0, b"BM", "bmp"),
    (0, b"0&\xb2u\x8ef\xcf\x11", "asf"),
    (0, b"FLV\x01", "flv"),
    (0, b"\x00\x00\x01\xba", "mpeg"),
    (0, b"\x00\x00\x01\xb3", "mpeg"),
    (0, b".RMF", "realmedia"),
    (0, b"%PDF-", "pdf"),
    (0, b"PK\x03\x04", "zip"),
    (0, b"Rar!\x1a\x07", "rar"),
    (0, b"7z\xbc\xaf\x27\x1c", "7z"),
    (0, b"\x1f\x8b\x08", "gzip"),
    (0, b"MZ", "program"),
    (0, b"\x7fELF", "program"),
    (0, b"MAC ", "ape"),
    (0, b"wvpk", "wavpack"),
    (0, b"FORM", "aiff"),
    (0, b"DSD ", "dsf"),
)
_SHOWN = {
    "matroska": ("Matroska", "mkv"),
    "flac": ("FLAC", "flac"),
    "ogg": ("Ogg", "ogg"),
    "jpeg": ("JPEG", "jpg"),
    "png": ("PNG", "png"),
    "gif": ("GIF", "gif"),
    "tiff": ("TIFF", "tif"),
    "bmp": ("a bitmap", "bmp"),
    "asf": ("Windows Media", "wmv"),
    "flv": ("FLV", "flv"),
    "mpeg": ("MPEG", "mpg"),
    "mpegts": ("an MPEG transport stream", "ts"),
    "realmedia": ("RealMedia", "rmvb"),
    "pdf": ("a PDF", "pdf"),
    "zip": ("a ZIP archive", "zip"),
    "rar": ("a RAR archive", "rar"),
    "7z": ("a 7z archive", "7z"),
    "gzip": ("a gzip archive", "gz"),
    "program": ("a program", ""),
    "ape": ("Monkey's Audio", "ape"),
    "wavpack": ("WavPack", "wv"),
    "aiff": ("AIFF", "aiff"),
    "dsf": ("DSD", "dsf"),
    "mp4": ("MP4", "mp4"),
    "heif": ("HEIF", "heic"),
    "avif": ("AVIF", "avif"),
    "avi": ("AVI", "avi"),
    "wav": ("WAV", "wav"),
    "webp": ("WebP", "webp"),
    "mp3": ("MP3", "mp3"),
    "adts": ("AAC", "aac"),
    "web page": ("a web page", "html"),
}
_EXPECTED: dict[str, frozenset[str]] = {
    extension: frozenset(formats.split())
    for extensions, formats in (
        ("mkv webm mka", "matroska"),
        ("mp4 m4v mov m4a m4b 3gp 3g2 f4v", "mp4"),
        ("avi", "avi"),
        ("wmv wma asf", "asf"),
        ("flv", "flv"),
        ("mpg mpeg vob m2v ts m2ts mts tod mod", "mpeg mpegts"),
        ("rmvb", "realmedia"),
        ("ogg oga opus ogv ogm", "ogg"),
        ("flac", "flac ogg"),
        ("mp3", "mp3"),
        ("aac", "adts mp4"),
        ("wav", "wav"),
        ("ape", "ape"),
        ("wv", "wavpack"),
        ("aif aiff", "aiff"),
        ("dsf", "dsf"),
        ("jpg jpeg jpe", "jpeg"),
        ("png", "png"),
        ("gif", "gif"),
        ("webp", "webp"),
        ("bmp", "bmp"),
        ("tif tiff", "tiff"),
        ("heic heif", "heif"),
        ("avif", "avif"),
        ("srt vtt ass ssa lrc sub", ""),
        ("dng cr2 nef arw orf rw2 pef srw", "tiff jpeg mp4"),
    )
    for extension in extensions.split()
}
_LOOSE = frozenset(("srt", "vtt", "ass", "ssa", "lrc", "sub"))
"""Text: any sign of another format is wrong, and no sign is right."""


def format_of(head: bytes) -> str | None:
    """The format that the first bytes of a file are of, or None when they do not say."""
    if head[4:8] == b"ftyp":
        brand = head[8:12]
        return (
            "heif"
            if brand in (b"heic", b"heix", b"mif1", b"hevc")
            else "avif"
            if brand in (b"avif", b"avis")
            else "mp4"
        )
    if head[:4] == b"RIFF":
        return {b"AVI ": "avi", b"WAVE": "wav", b"WEBP": "webp"}.get(head[8:12])
    if head[4:8] in (b"moov", b"mdat", b"wide") and head[:1] == b"\0":
        return "mp4"
    for place, sign, name in _SIGNS:
        if head.startswith(sign, place):
            return name
    if len(head) > 380 and ((head[0] == head[188] == 0x47) or (head[4] == head[196] == 0x47 and head[0] != 0x47)):
        return "mpegts"
    if len(head) > 3 and head[0] == 0xFF and head[1] & 0xE0 == 0xE0 and head[1] & 0x06 and head[2] & 0xF0 != 0xF0:
        return "mp3"
    if len(head) > 3 and head[0] == 0xFF and head[1] & 0xF6 == 0xF0 and head[2] & 0x3C < 0x34:
        return "adts"  # ISO/IEC 13818-7: sync of twelve ones, layer 0, a sampling rate that exists
    start = head[:200].lstrip().lower()
    if start.startswith((b"<!doctype html", b"<html")):
        return "web page"
    return None


def _head(path: bytes) -> bytes:
    """The first bytes of a file's content: those behind an ID3 tag, which any sound may begin with (ID3v2, 3.1)."""
    with open(path, "rb") as file:
        head = file.read(HEAD_BYTES)
        for _ in range(2):  # some programs write a second tag before the first
            if head[:3] != b"ID3" or len(head) < 10 or max(head[6:10]) > 0x7F:
                return head
            size = head[6] << 21 | head[7] << 14 | head[8] << 7 | head[9]
            file.seek(file.tell() - len(head) + 10 + size + (10 if head[5] & 0x10 else 0))
            head = file.read(HEAD_BYTES)
        return head


def wrong_format(path: bytes) -> tuple[str, str] | None:
    """What the content is, in words, and the extension for it, where the name says another format; else None.

    Raises OSError when the file cannot be read.
    """
    extension = os.fsdecode(path).rpartition(".")[2].lower()
    expected = _EXPECTED.get(extension)
    if expected is None:
        return None
    found = format_of(_head(path))
    if found is None or found in expected:
        return None
    if extension in _LOOSE and found in ("bmp", "program", "mp3", "mpeg"):
        return None  # a text may begin with such letters, and so does a subtitle made of pictures
    shown, proper = _SHOWN[found]
    if found == "mp4":
        proper = "m4a" if extension in ("mp3", "flac", "ogg", "oga", "opus", "aac", "wav", "wma") else "mp4"
    elif found == "matroska" and extension in ("mp3", "flac", "m4a", "ogg", "opus"):
        proper = "mka"
    elif found == "asf" and extension in ("mp3", "flac", "m4a", "wav"):
        proper = "wma"
    elif found == "ogg" and extension in ("mkv", "mp4", "avi", "mov"):
        proper = "ogv"
    return shown, proper
