"""Made-up shots and what people do to copies of them; made-up music and what encoders and players make of it."""

from __future__ import annotations

import io
import random
from collections.abc import Callable

import numpy as np
from PIL import Image, ImageDraw, ImageEnhance, ImageFilter, ImageOps

__all__ = ["BURSTS", "CHANGES", "burst", "melody", "scene"]


def scene(seed: int, width: int = 900, height: int = 600, *, moved: float = 0.0, shaken: float = 0.0) -> Image.Image:
    """A landscape with things in it; in another moment one has `moved` (in parts of the width), or the camera has."""
    draw = random.Random(seed)
    noise = np.random.default_rng(seed)
    horizon = draw.uniform(0.3, 0.7)
    top, bottom = ([draw.randint(20, 235) for _ in range(3)] for _ in range(2))
    rows = np.linspace(0, 1, height)[:, None, None]
    sky = np.where(rows < horizon, top, bottom) * (0.75 + 0.5 * rows) + noise.normal(0, 5, (height, width, 3))
    picture = Image.fromarray(np.clip(sky, 0, 255).astype(np.uint8))
    pen = ImageDraw.Draw(picture)
    shift = shaken * width
    for _ in range(draw.randint(4, 14)):
        x, y = draw.uniform(0, width) + shift, draw.uniform(0, height) + shift / 2
        w, h = draw.uniform(20, width / 4), draw.uniform(20, height / 3)
        colour = tuple(draw.randint(0, 255) for _ in range(3))
        kind = draw.choice((pen.ellipse, pen.rectangle))
        kind((x - w / 2, y - h / 2, x + w / 2, y + h / 2), fill=colour)
    for _ in range(draw.randint(10, 60)):
        x, y = draw.uniform(0, width) + shift, draw.uniform(horizon * height, height) + shift / 2
        end = x + draw.uniform(-40, 40), y - draw.uniform(5, 90)
        pen.line((x, y, *end), fill=tuple(draw.randint(0, 255) for _ in range(3)), width=3)
    x, y = draw.uniform(0.2, 0.7) * width + moved * width + shift, draw.uniform(0.35, 0.7) * height + shift / 2
    size = width / 11
    pen.ellipse((x, y - size, x + size, y), fill=(240, 220, 200))
    pen.rectangle((x, y, x + size, y + 1.6 * size), fill=tuple(draw.randint(0, 90) for _ in range(3)))
    return picture.filter(ImageFilter.GaussianBlur(0.8))


def _jpeg(picture: Image.Image, quality: int) -> Image.Image:
    out = io.BytesIO()
    picture.convert("RGB").save(out, "JPEG", quality=quality)
    return Image.open(io.BytesIO(out.getvalue())).convert("RGB")


def _cut(picture: Image.Image, left: float, top: float, right: float, bottom: float) -> Image.Image:
    width, height = picture.size
    return picture.crop((int(left * width), int(top * height), int((1 - right) * width), int((1 - bottom) * height)))


Change = Callable[[Image.Image], Image.Image]
CHANGES: dict[str, Change] = {
    "smaller": lambda p: p.resize((p.width // 3, p.height // 3), Image.Resampling.BICUBIC),
    "tiny": lambda p: p.resize((160, 160 * p.height // p.width), Image.Resampling.LANCZOS),
    "larger": lambda p: p.resize((p.width * 2, p.height * 2)),
    "poor jpeg": lambda p: _jpeg(p, 30),
    "good jpeg": lambda p: _jpeg(p, 92),
    "cut all round": lambda p: _cut(p, 0.05, 0.05, 0.05, 0.05),
    "cut at one side": lambda p: _cut(p, 0.1, 0, 0, 0),
    "cut at the top": lambda p: _cut(p, 0, 0.1, 0, 0),
    "cut at two": lambda p: _cut(p, 0, 0, 0.08, 0.06),
    "turned left": lambda p: p.transpose(Image.Transpose.ROTATE_90),
    "turned right": lambda p: p.transpose(Image.Transpose.ROTATE_270),
    "upside down": lambda p: p.transpose(Image.Transpose.ROTATE_180),
    "brighter": lambda p: ImageEnhance.Brightness(p).enhance(1.25),
    "darker": lambda p: ImageEnhance.Brightness(p).enhance(0.7),
    "more contrast": lambda p: ImageEnhance.Contrast(p).enhance(1.3),
    "gamma": lambda p: p.point([round(255 * (v / 255) ** 0.8) for v in range(256)] * 3),
    "grey": lambda p: ImageOps.grayscale(p).convert("RGB"),
    "white border": lambda p: ImageOps.expand(p, 40, "white"),
    "black bars": lambda p: ImageOps.expand(p, (0, 60, 0, 60), "black"),
    "border and small": lambda p: _jpeg(ImageOps.expand(p.resize((400, 400 * p.height // p.width)), 12, "#222"), 60),
    "cut, turned, small": lambda p: _cut(p.rotate(90, expand=True), 0.04, 0.04, 0.03, 0.02).resize((200, 300)),
    "cut and brighter": lambda p: ImageEnhance.Brightness(_cut(p, 0, 0.05, 0.07, 0)).enhance(1.15),
}
"""What is done to copies: all of these are the same shot."""
BURSTS: dict[str, dict[str, float]] = {
    "somebody walks on": {"moved": 0.06},
    "somebody walks far": {"moved": 0.2},
    "the camera shakes": {"shaken": 0.02, "moved": 0.04},
    "somebody moves a little": {"moved": 0.035},
}
"""What is another in the next moment: none of these is the same shot."""


def burst(seed: int, how: str) -> Image.Image:
    """The same place in the next moment."""
    return scene(seed, **BURSTS[how])


def melody(
    seed: int, rate: int = 44100, seconds: float = 24.0, *, tempo: float = 1.0, take: int = 0, crowd: float = 0.0
):
    """A made-up piece of some voices; another take has other moments and levels, a live one a crowd as well."""
    draw = random.Random(seed)
    play = random.Random(f"{seed} {take}")
    count = int(seconds * rate)
    out = np.zeros(count, np.float32)
    scale = [220 * 2 ** (step / 12) for step in draw.sample((0, 2, 3, 5, 7, 8, 10, 12, 15), 6)]
    for _ in range(draw.randint(2, 4)):
        moment, octave, shape = 0.0, draw.choice((0.5, 1, 2)), draw.uniform(0.2, 1.5)
        while moment < seconds:
            length = draw.choice((0.25, 0.5, 0.5, 1.0)) * tempo
            pitch = draw.choice(scale) * octave
            start = moment + (play.uniform(-0.04, 0.06) if take else 0.0)
            loud = draw.uniform(0.1, 0.3) * (play.uniform(0.6, 1.4) if take else 1.0)
            first = max(0, int(start * rate))
            t = np.arange(max(0, min(int(length * rate), count - first))) / rate
            tone = sum(np.sin(2 * np.pi * pitch * k * t) / k ** (1 + shape) for k in (1, 2, 3, 4))
            out[first : first + len(t)] += (loud * tone * np.exp(-3 * t / length)).astype(np.float32)
            moment += length
            if take:
                moment += play.uniform(-0.015, 0.02)
    if crowd:
        noise = np.random.default_rng(seed + take).normal(0, crowd, count)
        out += np.convolve(noise, np.ones(6) / 6, "same").astype(np.float32)
    return out / max(1e-6, float(np.abs(out).max())) * 0.8
