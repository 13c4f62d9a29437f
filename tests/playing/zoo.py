"""A zoo of odd files, made by the system's ffmpeg: in each the brightness tells
the second, and a tone the sound track."""

from __future__ import annotations

import subprocess
from dataclasses import dataclass
from pathlib import Path

import av

__all__ = ["SECONDS", "ZOO", "Animal", "brightness_of", "make", "run"]

SECONDS = 20
FIRST_BRIGHTNESS, STEP = 30, 9
"""Luma of the first second, and by how much each second is brighter."""


@dataclass(frozen=True, slots=True)
class Animal:
    """One file: what it is made with, and what a browser that takes H.264, VP9, AAC, MP3, FLAC and Opus shall get."""

    name: str
    options: str
    mode: str
    size: tuple[int, int] = (320, 180)
    """As it is served."""
    source: str = "320x180"
    rate: str = "25"
    sounds: int = 1
    turn: int = 0
    """By how many degrees it lies on its side."""
    filters: str = ""


ZOO = (
    Animal("plain.mp4", "-c:v libx264 -pix_fmt yuv420p -c:a aac -movflags +faststart", "direct"),
    Animal("late-head.mp4", "-c:v libx264 -pix_fmt yuv420p -c:a aac", "direct"),
    Animal("vp9.webm", "-c:v libvpx-vp9 -deadline realtime -cpu-used 8 -c:a libopus", "direct"),
    Animal("theora.ogv", "-c:v libtheora -q:v 7 -c:a libvorbis", "converted"),
    Animal("boxed.mkv", "-c:v libx264 -pix_fmt yuv420p -g 60 -bf 3 -c:a aac", "repackaged"),
    Animal("boxed.ts", "-c:v libx264 -pix_fmt yuv420p -g 50 -c:a aac", "repackaged"),
    Animal("boxed.flv", "-c:v libx264 -pix_fmt yuv420p -g 50 -c:a aac", "repackaged"),
    Animal("boxed.mov", "-c:v libx264 -pix_fmt yuv420p -g 50 -bf 2 -c:a aac", "repackaged"),
    Animal("opus.mkv", "-c:v libvpx-vp9 -deadline realtime -cpu-used 8 -g 75 -c:a libopus", "repackaged"),
    Animal("dolby.mkv", "-c:v libx264 -pix_fmt yuv420p -g 50 -c:a ac3", "converted"),
    Animal("cinema.mkv", "-c:v libx264 -pix_fmt yuv420p -g 50 -ac 6 -c:a dca -strict -2", "converted"),
    Animal("lossless.mkv", "-c:v libx264 -pix_fmt yuv420p -g 50 -ac 2 -c:a truehd -strict -2", "converted"),
    Animal(
        "hevc.mkv",
        "-c:v libx265 -preset ultrafast -x265-params log-level=error -pix_fmt yuv420p -c:a eac3",
        "converted",
    ),
    Animal("ten.mkv", "-c:v libx264 -pix_fmt yuv420p10le -c:a flac", "converted"),
    Animal("full-colour.mp4", "-c:v libx264 -pix_fmt yuv444p -c:a aac", "converted"),
    Animal("av1.mkv", "-c:v libsvtav1 -preset 12 -g 50 -pix_fmt yuv420p -c:a libopus", "converted"),
    Animal("old.avi", "-c:v mpeg4 -q:v 3 -c:a libmp3lame", "converted"),
    Animal("disc.mpg", "-c:v mpeg2video -q:v 3 -c:a mp2 -ar 48000 -f dvd", "converted"),
    Animal("desktop.wmv", "-c:v wmv2 -q:v 3 -c:a wmav2", "converted"),
    Animal("camera.avi", "-c:v mjpeg -q:v 3 -pix_fmt yuvj420p -c:a pcm_s16le", "converted"),
    Animal("edit.mov", "-c:v prores_ks -profile:v 0 -c:a alac", "converted"),
    Animal(
        "fields.ts",
        "-c:v libx264 -pix_fmt yuv420p -flags +ildct+ilme -x264opts tff=1 -g 50 -c:a aac",
        "converted",
        filters="interlace",
        rate="50",
    ),
    Animal(
        "wide.mpg", "-c:v mpeg2video -q:v 3 -c:a mp2 -f dvd", "converted", (426, 240), "320x240", filters="setsar=53/40"
    ),
    Animal("upright.mov", "-c:v libx264 -pix_fmt yuv420p -g 50 -c:a ac3", "converted", (180, 320), turn=90),
    Animal("film-rate.mkv", "-c:v mpeg4 -q:v 3 -c:a ac3", "converted", rate="24000/1001"),
    Animal("two.mkv", "-c:v libx264 -pix_fmt yuv420p -g 50 -c:a aac", "repackaged", sounds=2),
)


def run(*words: str | Path, data: bytes | None = None) -> bytes:
    """Run a program that must not fail; returns what it says."""
    done = subprocess.run([str(word) for word in words], input=data, capture_output=True, check=False)
    assert done.returncode == 0, f"{words}: {done.stderr.decode(errors='replace')[-1500:]}"
    return done.stdout


def brightness_of(second: int) -> int:
    """Luma of a second."""
    return FIRST_BRIGHTNESS + STEP * second


def make(animal: Animal, folder: Path, *, seconds: int = SECONDS) -> Path:
    """Make the file of an animal."""
    path = folder / animal.name
    folder.mkdir(parents=True, exist_ok=True)
    look = f"geq=lum='{FIRST_BRIGHTNESS}+{STEP}*floor(T)':cb=128:cr=128"
    filters = f",{animal.filters}" if animal.filters else ""
    words = ["ffmpeg", "-v", "error", "-y"]
    words += ["-f", "lavfi", "-i", f"color=black:s={animal.source}:r={animal.rate},format=yuv420p,{look}{filters}"]
    for number in range(animal.sounds):
        words += ["-f", "lavfi", "-i", f"sine={440 * (number + 1)}:r=48000"]
    words += ["-map", "0", *(word for number in range(animal.sounds) for word in ("-map", str(number + 1)))]
    run(*words, "-t", str(seconds), *animal.options.split(), path)
    if animal.turn:
        lay_down(path, animal.turn)
    return path


def lay_down(path: Path, degrees: int) -> None:
    """Say in a file's head that its picture is to be turned, as telephones do."""
    other = path.with_name("turned-" + path.name)
    with av.open(str(path)) as source, av.open(str(other), "w") as target:
        streams = {one.index: target.add_stream_from_template(one) for one in source.streams}
        target.streams.video[0].set_display_rotation(degrees)
        for packet in source.demux():
            if packet.dts is not None:
                packet.stream = streams[packet.stream.index]
                target.mux(packet)
    other.replace(path)
