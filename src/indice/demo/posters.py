"""Posters and covers, drawn by code: eight motifs, a dozen palettes, and type set in the machine's own fonts.

The same words always give the same picture.
"""

from __future__ import annotations

import math
import random
from functools import cache
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

__all__ = ["backdrop", "cover", "portrait", "poster"]

Colour = tuple[int, int, int]

PALETTES: tuple[tuple[str, ...], ...] = (
    ("#123c45", "#e4a33a", "#d9542b", "#f6ecd2", "#0b2429"),
    ("#2b2d42", "#ef8354", "#bfc0c0", "#fdf6ec", "#4f5d75"),
    ("#3a2e39", "#1e555c", "#f4d8cd", "#edb183", "#f15152"),
    ("#0f4c5c", "#e36414", "#fb8b24", "#f7ede2", "#5f0f40"),
    ("#22333b", "#c6ac8f", "#eae0d5", "#5e503f", "#0a0908"),
    ("#1b4332", "#95d5b2", "#f8f4e3", "#d4a373", "#081c15"),
    ("#5b2a86", "#f3c677", "#f9f4e8", "#b33f62", "#0c0a3e"),
    ("#7d1d3f", "#f2b5a7", "#fff5e6", "#e08e45", "#30111f"),
    ("#264653", "#2a9d8f", "#e9c46a", "#f4a261", "#fefae0"),
    ("#11151c", "#7d4e57", "#d66853", "#f2e9dc", "#364156"),
    ("#e8dcc4", "#b23a48", "#1d3557", "#f1faee", "#8c2f39"),
    ("#f0e7d8", "#2f5d62", "#d1495b", "#edae49", "#30343f"),
)

_FONTS = Path("/usr/share/fonts")
_LATIN = (
    "truetype/noto/NotoSerif-Bold.ttf",
    "truetype/noto/NotoSans-Bold.ttf",
    "truetype/noto/NotoSerifDisplay-Bold.ttf",
    "truetype/noto/NotoSans-Regular.ttf",
    "truetype/noto/NotoSansMono-Bold.ttf",
    "truetype/dejavu/DejaVuSerif-Bold.ttf",
)
_EAST = ("opentype/noto/NotoSerifCJK-Bold.ttc", "opentype/noto/NotoSansCJK-Bold.ttc")


def _rgb(text: str) -> Colour:
    return int(text[1:3], 16), int(text[3:5], 16), int(text[5:7], 16)


def _mix(one: Colour, other: Colour, share: float) -> Colour:
    return tuple(round(a + (b - a) * share) for a, b in zip(one, other, strict=True))  # type: ignore[return-value]


@cache
def _font(kind: int, size: int, east: bool) -> ImageFont.FreeTypeFont | ImageFont.ImageFont:
    names = _EAST if east else (_LATIN[kind % len(_LATIN)], *_LATIN)
    for name in names:
        if (_FONTS / name).is_file():
            return ImageFont.truetype(str(_FONTS / name), size)
    return ImageFont.load_default(size)


def _is_east(text: str) -> bool:
    return any(ord(c) > 0x2E80 for c in text)


def _gradient(size: tuple[int, int], top: Colour, bottom: Colour) -> Image.Image:
    column = Image.new("RGB", (1, size[1]))
    column.putdata([_mix(top, bottom, y / max(size[1] - 1, 1)) for y in range(size[1])])
    return column.resize(size)


def _light(colour: Colour) -> float:
    return (0.299 * colour[0] + 0.587 * colour[1] + 0.114 * colour[2]) / 255


def _sun_and_bands(draw: ImageDraw.ImageDraw, w: int, h: int, tones: list[Colour], rng: random.Random) -> None:
    x, y, r = w * rng.uniform(0.3, 0.7), h * rng.uniform(0.3, 0.45), w * rng.uniform(0.2, 0.32)
    draw.ellipse((x - r, y - r, x + r, y + r), fill=tones[1])
    bands = rng.randint(5, 8)
    for band in range(bands):
        top = y + r * 0.1 + band * (h - y) / bands
        draw.polygon(
            [(0, top + rng.uniform(-12, 12)), (w, top + rng.uniform(-30, 30)), (w, h), (0, h)],
            fill=_mix(tones[2], tones[4], band / bands),
        )


def _arcs(draw: ImageDraw.ImageDraw, w: int, h: int, tones: list[Colour], rng: random.Random) -> None:
    x, y = w * rng.choice((0.0, 0.5, 1.0)), h * rng.uniform(0.35, 0.6)
    rings = rng.randint(6, 9)
    for ring in range(rings, 0, -1):
        r = w * 0.95 * ring / rings
        draw.ellipse(
            (x - r, y - r, x + r, y + r),
            fill=tones[1 + ring % 3] if ring % 2 else _mix(tones[0], tones[3], ring / rings / 2),
        )


def _hills(draw: ImageDraw.ImageDraw, w: int, h: int, tones: list[Colour], rng: random.Random) -> None:
    r = w * 0.13
    x, y = w * rng.uniform(0.2, 0.8), h * rng.uniform(0.18, 0.3)
    draw.ellipse((x - r, y - r, x + r, y + r), fill=tones[3])
    for layer in range(5):
        base, phase = h * (0.38 + layer * 0.12), rng.uniform(0, 6)
        points = [
            (
                px,
                base
                + math.sin(px / w * rng.uniform(4, 5) + phase) * h * 0.045
                + math.sin(px / w * 13 + phase * 2) * h * 0.012,
            )
            for px in range(0, w + 20, 10)
        ]
        draw.polygon([*points, (w, h), (0, h)], fill=_mix(tones[1], tones[4], (layer + 1) / 5))


def _grid(draw: ImageDraw.ImageDraw, w: int, h: int, tones: list[Colour], rng: random.Random) -> None:
    columns = rng.choice((4, 5, 6))
    cell = w / columns
    for row in range(math.ceil(h * 0.72 / cell)):
        for column in range(columns):
            box = (column * cell, row * cell, (column + 1) * cell, (row + 1) * cell)
            draw.rectangle(box, fill=rng.choice(tones))
            turn = rng.choice((0, 90, 180, 270))
            shape = rng.random()
            if shape < 0.5:
                grown = {0: (0, 0, 1, 1), 90: (-1, 0, 0, 1), 180: (-1, -1, 0, 0), 270: (0, -1, 1, 0)}[turn]
                draw.pieslice(
                    (
                        box[0] + grown[0] * cell,
                        box[1] + grown[1] * cell,
                        box[2] + grown[2] * cell,
                        box[3] + grown[3] * cell,
                    ),
                    turn + 180 if grown == (0, 0, 1, 1) else turn,
                    turn + 270 if grown == (0, 0, 1, 1) else turn + 90,
                    fill=rng.choice(tones),
                )
            elif shape < 0.75:
                draw.ellipse(
                    (box[0] + cell * 0.18, box[1] + cell * 0.18, box[2] - cell * 0.18, box[3] - cell * 0.18),
                    fill=rng.choice(tones),
                )
            else:
                draw.polygon([(box[0], box[1]), (box[2], box[1]), (box[0], box[3])], fill=rng.choice(tones))


def _stripes(draw: ImageDraw.ImageDraw, w: int, h: int, tones: list[Colour], rng: random.Random) -> None:
    step, lean = w / rng.randint(6, 10), rng.choice((-0.5, 0.35, 0.7))
    place, index = -h * abs(lean) - step, 0
    while place < w + h * abs(lean):
        draw.polygon(
            [(place, 0), (place + step, 0), (place + step + h * lean, h), (place + h * lean, h)], fill=tones[index % 4]
        )
        place, index = place + step, index + 1
    r = w * 0.3
    draw.ellipse((w / 2 - r, h * 0.36 - r, w / 2 + r, h * 0.36 + r), fill=tones[4])
    draw.ellipse((w / 2 - r * 0.55, h * 0.36 - r * 0.55, w / 2 + r * 0.55, h * 0.36 + r * 0.55), fill=tones[3])


def _lighthouse(draw: ImageDraw.ImageDraw, w: int, h: int, tones: list[Colour], rng: random.Random) -> None:
    x = w * rng.choice((0.3, 0.5, 0.68))
    draw.polygon([(x, h * 0.24), (w * 1.3, h * 0.02), (w * 1.3, h * 0.36)], fill=_mix(tones[1], tones[0], 0.35))
    draw.polygon([(x, h * 0.24), (-w * 0.4, h * 0.08), (-w * 0.4, h * 0.4)], fill=_mix(tones[1], tones[0], 0.55))
    for band in range(6):
        top, bottom = h * (0.28 + band * 0.07), h * (0.35 + band * 0.07)
        half = w * (0.05 + band * 0.008)
        draw.polygon(
            [(x - half, top), (x + half, top), (x + half + w * 0.008, bottom), (x - half - w * 0.008, bottom)],
            fill=tones[3] if band % 2 else tones[2],
        )
    draw.rectangle((x - w * 0.035, h * 0.21, x + w * 0.035, h * 0.28), fill=tones[1])
    draw.polygon([(x - w * 0.05, h * 0.21), (x + w * 0.05, h * 0.21), (x, h * 0.165)], fill=tones[4])
    for wave in range(4):
        base = h * (0.68 + wave * 0.07)
        draw.polygon(
            [
                *[(px, base + math.sin(px / w * 18 + wave * 2) * h * 0.008) for px in range(0, w + 10, 8)],
                (w, h),
                (0, h),
            ],
            fill=_mix(tones[0], tones[4], wave / 3),
        )


def _windows(draw: ImageDraw.ImageDraw, w: int, h: int, tones: list[Colour], rng: random.Random) -> None:
    for layer in range(3):
        place = -w * 0.05
        while place < w:
            width, top = w * rng.uniform(0.12, 0.24), h * rng.uniform(0.2 + layer * 0.13, 0.38 + layer * 0.13)
            tone = _mix(tones[0], tones[4], layer / 2)
            draw.rectangle((place, top, place + width, h), fill=tone)
            for row in range(int((h - top) / (h * 0.05))):
                for column in range(int(width / (w * 0.05))):
                    if rng.random() < 0.4:
                        left, upper = place + w * 0.015 + column * w * 0.05, top + h * 0.02 + row * h * 0.05
                        draw.rectangle(
                            (left, upper, left + w * 0.022, upper + h * 0.024),
                            fill=_mix(tones[1], tone, rng.choice((0.0, 0.0, 0.5))),
                        )
            place += width + w * 0.01


def _leaves(draw: ImageDraw.ImageDraw, w: int, h: int, tones: list[Colour], rng: random.Random) -> None:
    for _ in range(rng.randint(26, 40)):
        x, y, length, turn = (
            rng.uniform(0, w),
            rng.uniform(0, h * 0.75),
            w * rng.uniform(0.09, 0.22),
            rng.uniform(0, math.tau),
        )
        points: list[tuple[float, float]] = []
        for step in range(21):
            along = step / 20
            for_side = math.sin(along * math.pi) * length * 0.28
            points.append(
                (
                    x + math.cos(turn) * along * length - math.sin(turn) * for_side,
                    y + math.sin(turn) * along * length + math.cos(turn) * for_side,
                )
            )
        for step in range(20, -1, -1):
            along = step / 20
            for_side = -math.sin(along * math.pi) * length * 0.28
            points.append(
                (
                    x + math.cos(turn) * along * length - math.sin(turn) * for_side,
                    y + math.sin(turn) * along * length + math.cos(turn) * for_side,
                )
            )
        draw.polygon(points, fill=rng.choice(tones[1:]))


MOTIFS = (_sun_and_bands, _arcs, _hills, _grid, _stripes, _lighthouse, _windows, _leaves)


def _lines(
    text: str, draw: ImageDraw.ImageDraw, width: float, kind: int, largest: int, smallest: int
) -> tuple[list[str], ImageFont.FreeTypeFont | ImageFont.ImageFont, int]:
    """Break a title into lines at the largest size at which it fits into four lines."""
    east = _is_east(text)
    words = list(text) if east else text.split()
    for size in range(largest, smallest, -2):
        font = _font(kind, size, east)
        lines: list[str] = []
        for word in words:
            joined = f"{lines[-1]}{'' if east else ' '}{word}" if lines else word
            if lines and draw.textlength(joined, font=font) <= width:
                lines[-1] = joined
            else:
                lines.append(word)
        if len(lines) <= 4 and all(draw.textlength(line, font=font) <= width for line in lines):
            return lines, font, size
    return [text[:24]], _font(kind, smallest, east), smallest


def _compose(title: str, small: str, footer: str, size: tuple[int, int], seed: str, *, square: bool) -> Image.Image:
    rng = random.Random(seed)
    tones = [_rgb(colour) for colour in rng.choice(PALETTES)]
    scale = 2
    w, h = size[0] * scale, size[1] * scale
    image = _gradient((w, h), tones[0], _mix(tones[0], tones[4], 0.7))
    draw = ImageDraw.Draw(image)
    MOTIFS[rng.randrange(len(MOTIFS))](draw, w, h, tones, rng)
    margin = w * 0.075
    kind = rng.randrange(len(_LATIN))
    lines, font, points = _lines(title, draw, w - 2 * margin, kind, int(w * (0.15 if square else 0.17)), int(w * 0.06))
    block = len(lines) * points * 1.16
    at_top = rng.random() < 0.3
    top = margin if at_top else h - margin - block - w * 0.075
    panel_top, panel_bottom = (0, top + block + w * 0.11) if at_top else (top - w * 0.06, h)
    sample = image.crop((0, int(panel_top), w, int(min(panel_bottom, h)))).resize((1, 1)).getpixel((0, 0))
    assert isinstance(sample, tuple)
    ground = _mix((sample[0], sample[1], sample[2]), tones[4] if _light(tones[4]) < 0.5 else tones[0], 0.75)
    veil = Image.new("L", (1, h), 0)
    fade = w * 0.16
    for y in range(h):
        inside = (
            min(max((y - panel_top + fade) / fade, 0), 1)
            if not at_top
            else min(max((panel_bottom + fade - y) / fade, 0), 1)
        )
        veil.putpixel((0, y), int(235 * inside))
    image.paste(Image.new("RGB", (w, h), ground), (0, 0), veil.resize((w, h)))
    draw = ImageDraw.Draw(image)
    ink = max(tones, key=lambda tone: abs(_light(tone) - _light(ground)))
    left = rng.random() < 0.65
    for line in lines:
        length = draw.textlength(line, font=font)
        draw.text((margin if left else (w - length) / 2, top), line, font=font, fill=ink)
        top += points * 1.16
    little = _font(1, int(w * 0.036), _is_east(small + footer))
    caption = "   ".join(part for part in (small.upper(), footer) if part)
    length = draw.textlength(caption, font=little)
    draw.text(
        (margin if left else (w - length) / 2, top + w * 0.02), caption, font=little, fill=_mix(ink, ground, 0.18)
    )
    return image.resize(size, Image.Resampling.LANCZOS)


def poster(
    title: str, year: int, names: str = "", *, variant: int = 0, size: tuple[int, int] = (400, 600)
) -> Image.Image:
    """A poster, two by three."""
    return _compose(title, names, str(year), size, f"poster {title} {year} {variant}", square=False)


def cover(title: str, artist: str, year: int, *, variant: int = 0, size: tuple[int, int] = (480, 480)) -> Image.Image:
    """An album's cover, square."""
    return _compose(title, artist, str(year), size, f"cover {title} {artist} {variant}", square=True)


def backdrop(title: str, year: int, size: tuple[int, int] = (960, 540)) -> Image.Image:
    """A wide picture without words."""
    rng = random.Random(f"backdrop {title} {year}")
    tones = [_rgb(colour) for colour in random.Random(f"poster {title} {year} 0").choice(PALETTES)]
    image = _gradient(size, tones[0], tones[4])
    MOTIFS[rng.randrange(len(MOTIFS))](ImageDraw.Draw(image), size[0], size[1], tones, rng)
    return image


def portrait(name: str, size: tuple[int, int] = (420, 420)) -> Image.Image:
    """Head and shoulders of somebody who does not exist, in two tones before a lit wall."""
    rng = random.Random(f"portrait {name}")
    dark, warm, bright, pale, deep = (_rgb(tone) for tone in rng.choice(PALETTES))
    width, height = size[0] * 2, size[1] * 2
    image = _gradient((width, height), _mix(pale, warm, 0.35), _mix(warm, bright, 0.5))
    draw = ImageDraw.Draw(image)
    middle, neck = width * rng.uniform(0.44, 0.56), height * 0.62
    head = width * rng.uniform(0.15, 0.18)
    draw.ellipse((middle - head * 2.4, neck, middle + head * 2.4, neck + height), fill=deep)
    draw.rectangle(
        (middle - head * 0.42, neck - head, middle + head * 0.42, neck + head * 0.6), fill=_mix(dark, pale, 0.3)
    )
    top = neck - head * 2.7
    draw.ellipse((middle - head, top, middle + head, neck - head * 0.1), fill=_mix(dark, pale, 0.45))
    fall = rng.uniform(0.2, 1.5)
    draw.pieslice((middle - head * 1.12, top - head * 0.25, middle + head * 1.12, top + head * 2), 180, 360, fill=dark)
    for side in (-1, 1):
        edge = middle + side * head * 0.98
        draw.rectangle((edge - head * 0.16, top + head * 0.8, edge + head * 0.16, top + head * (0.9 + fall)), fill=dark)
    return image.resize(size, Image.Resampling.LANCZOS)
