"""Photographs that nobody took: skies, seas, hills, woods, rooms and streets, rendered with NumPy.

Light, haze, grain and a vignette make them look as if a lens had been there. The
same seed always gives the same picture.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from scipy.ndimage import gaussian_filter, gaussian_filter1d

__all__ = ["SCENES", "render"]

Floats = NDArray[Any]
"""Red, green and blue of every pixel, 0 to 255, as 32-bit floats."""
SCENES = ("hills", "sea", "night", "wood", "meadow", "room", "street", "snow")

_SKIES: tuple[tuple[tuple[int, int, int], tuple[int, int, int], tuple[int, int, int]], ...] = (
    ((64, 120, 190), (200, 220, 235), (255, 244, 214)),
    ((52, 62, 110), (236, 150, 104), (255, 206, 130)),
    ((96, 120, 150), (205, 210, 212), (240, 236, 226)),
    ((30, 50, 96), (180, 130, 160), (255, 190, 160)),
    ((84, 150, 205), (225, 236, 240), (255, 250, 236)),
)


def _noise(rng: np.random.Generator, size: int, smooth: float) -> Floats:
    line = gaussian_filter1d(rng.standard_normal(size + int(smooth * 6)), smooth)[int(smooth * 3) :][:size]
    return (line / (np.abs(line).max() + 1e-6)).astype(np.float32)


def _field(rng: np.random.Generator, shape: tuple[int, int]) -> Floats:
    """Cloud-like noise, 0 to 1: octaves of smoothed noise made small and drawn large."""
    total = np.zeros(shape, np.float32)
    for octave, weight in ((6, 1.0), (14, 0.55), (34, 0.3), (80, 0.16)):
        small = rng.random((octave, octave * 2)).astype(np.float32)
        grown = np.asarray(Image.fromarray(small).resize((shape[1], shape[0]), Image.Resampling.BICUBIC), np.float32)
        total += grown * weight
    total -= total.min()
    return total / max(float(total.max()), 1e-6)


def _sky(
    rng: np.random.Generator, h: int, w: int, horizon: float, look: int, clouds: float
) -> tuple[Floats, Floats, tuple[float, float]]:
    top, low, glow = (np.array(c, np.float32) for c in _SKIES[look % len(_SKIES)])
    y = (np.arange(h, dtype=np.float32) / (h * horizon)).clip(0, 1)[:, None, None]
    image = top + (low - top) * y**1.4 + np.zeros((h, w, 3), np.float32)
    sun = (rng.uniform(0.15, 0.85) * w, rng.uniform(0.35, 0.95) * horizon * h)
    yy, xx = np.mgrid[0:h, 0:w].astype(np.float32)
    away = np.hypot(xx - sun[0], (yy - sun[1]) * 1.2) / w
    image += (glow - image) * np.exp(-away * 5.5)[..., None] * 0.75
    image += (255 - image) * (np.exp(-((away / 0.022) ** 2)) * 0.95)[..., None]
    cover = np.clip((_field(rng, (h, w)) - (1 - clouds)) * 3.0, 0, 1)[..., None] * (1 - y * 0.4)
    image += (glow * 0.5 + 120 - image) * cover * 0.6
    return image, glow, sun


def _ridge(rng: np.random.Generator, w: int, base: float, height: float, rough: float) -> Floats:
    line = (
        _noise(rng, w, w / 6) * 0.65
        + _noise(rng, w, w / 22) * 0.28 * rough
        + _noise(rng, w, w / 90) * 0.09 * rough
        + _noise(rng, w, 3) * 0.015 * rough
    )
    return (base - (line * 0.5 + 0.5) * height).astype(np.float32)


def _fill_below(image: Floats, line: Floats, colour: Any, texture: Floats | None = None) -> None:
    h = image.shape[0]
    mask = np.clip(np.arange(h, dtype=np.float32)[:, None] - line[None, :], 0, 1)[..., None]
    tone = np.array(colour, np.float32)
    fill = tone[None, None, :] * (1 if texture is None else (0.72 + 0.56 * texture)[..., None])
    image += (fill - image) * mask


def _hills(rng: np.random.Generator, h: int, w: int, look: int) -> Floats:
    image, glow, _ = _sky(rng, h, w, 0.7, look, rng.uniform(0.25, 0.55))
    near = np.array(((34, 52, 38), (58, 46, 44), (40, 60, 66), (64, 70, 40))[look % 4], np.float32)
    haze = glow * 0.55 + np.array((70, 90, 120), np.float32) * 0.45
    texture = _field(rng, (h, w))
    for layer in range(6):
        depth = layer / 5
        _fill_below(
            image,
            _ridge(rng, w, h * (0.52 + depth * 0.44), h * (0.26 - depth * 0.14), 0.5 + depth),
            haze + (near - haze) * depth**0.8,
            texture if depth > 0.4 else None,
        )
    return image


def _water(image: Floats, rng: np.random.Generator, horizon: int, tint: Any) -> None:
    h, w = image.shape[:2]
    depth = h - horizon
    rows = np.arange(depth)
    source = np.clip(horizon - 1 - (rows * horizon / depth * 0.8).astype(int), 0, horizon - 1)
    mirror = image[source].copy()
    ripple = gaussian_filter(rng.standard_normal((depth, w)).astype(np.float32), (0.8, 9))
    ripple /= np.abs(ripple).max() + 1e-6
    shift = (ripple * (4 + rows[:, None] / depth * 26)).astype(int)
    mirror = mirror[rows[:, None], np.clip(np.arange(w)[None, :] + shift, 0, w - 1)]
    fade = (rows / depth)[:, None, None].astype(np.float32)
    mirror = mirror * (0.86 - 0.35 * fade) + np.array(tint, np.float32) * (0.14 + 0.3 * fade)
    image[horizon:] = mirror + (np.clip(ripple - 0.25, 0, 1) * 110 * (0.4 + 0.6 * fade[..., 0]))[..., None]


def _sea(rng: np.random.Generator, h: int, w: int, look: int) -> Floats:
    horizon = int(h * rng.uniform(0.45, 0.6))
    image, _, sun = _sky(rng, h, w, horizon / h, look, rng.uniform(0.3, 0.6))
    if rng.random() < 0.6:
        line = _ridge(rng, w, horizon, h * 0.12, 1.0) + np.linspace(0, h * 0.1, w, dtype=np.float32) * rng.choice(
            (-1, 1)
        )
        _fill_below(image[:horizon], np.clip(line, horizon - h * 0.12, horizon).astype(np.float32), (70, 78, 92))
    _water(image, rng, horizon, (22, 54, 72))
    glitter = np.exp(-(((np.arange(w) - sun[0]) / (w * 0.06)) ** 2))[None, :] * (rng.random((h - horizon, w)) > 0.93)
    image[horizon:] += gaussian_filter(glitter.astype(np.float32), (0.5, 1.6))[..., None] * np.array(
        (420, 380, 300), np.float32
    )
    if rng.random() < 0.5:
        x, y, size = int(rng.uniform(0.2, 0.8) * w), horizon + int(h * 0.02), int(h * rng.uniform(0.05, 0.1))
        for row in range(size):
            half = int((size - row) * 0.02 + row * 0.32)
            image[y - size + row, max(x - half // 3, 0) : x + half] = (238, 230, 214)
        image[y : y + size // 6, max(x - size // 3, 0) : x + size // 2] = (60, 40, 34)
    return image


def _night(rng: np.random.Generator, h: int, w: int, look: int) -> Floats:
    y = np.linspace(0, 1, h, dtype=np.float32)[:, None, None]
    image: Any = (np.array((8, 12, 30)) + np.array((36, 38, 56)) * y**1.6 + np.zeros((h, w, 3))).astype(np.float32)
    way = (
        np.clip(_field(rng, (h, w)) - 0.42, 0, 1)[..., None]
        * np.exp(-(((np.mgrid[0:h, 0:w][1] - np.mgrid[0:h, 0:w][0] * 0.9 - w * 0.2) / (w * 0.2)) ** 2))[..., None]
    )
    image += (way * np.array((150, 140, 190))).astype(np.float32)
    stars = np.zeros((h, w), np.float32)
    count = w * h // 900
    stars[rng.integers(0, int(h * 0.8), count), rng.integers(0, w, count)] = rng.random(count) ** 3 * 900
    image += (gaussian_filter(stars, 0.6) + gaussian_filter(stars, 2.0) * 0.8)[..., None].astype(np.float32)
    _fill_below(image, _ridge(rng, w, h * 0.9, h * 0.25, 1.2), (10, 13, 24))
    for _ in range(int(rng.integers(3, 12))):
        x, yy = rng.uniform(0.05, 0.95) * w, rng.uniform(0.86, 0.97) * h
        lamp = np.exp(-(((np.arange(w) - x) / 5) ** 2))[None, :] * np.exp(-(((np.arange(h) - yy) / 5) ** 2))[:, None]
        image += lamp[..., None].astype(np.float32) * np.array((300, 220, 110), np.float32)
    return image


def _wood(rng: np.random.Generator, h: int, w: int, look: int) -> Floats:
    autumn = look % 2 == 0
    y = np.linspace(0, 1, h, dtype=np.float32)[:, None, None]
    pale, deep = (
        (np.array((236, 214, 160), np.float32), np.array((120, 74, 34), np.float32))
        if autumn
        else (np.array((214, 232, 200), np.float32), np.array((38, 74, 40), np.float32))
    )
    image = pale + (deep - pale) * y + np.zeros((h, w, 3), np.float32)
    image *= (0.75 + 0.5 * _field(rng, (h, w)))[..., None]
    for layer in range(4):
        depth = layer / 3
        for _ in range(int(16 - layer * 3)):
            x, half = rng.uniform(0, w), w * (0.004 + 0.013 * depth) * rng.uniform(0.6, 1.3)
            lean = _noise(rng, h, h / 4) * w * 0.012
            bark = np.clip(1 - np.abs(np.arange(w)[None, :] - x - lean[:, None]) / half, 0, 1) ** 0.35
            tone = pale * (1 - depth) * 0.7 + np.array((44, 34, 30), np.float32) * (0.3 + 0.7 * depth)
            light = (1 + 0.35 * np.sign(np.arange(w)[None, :] - x))[..., None]
            image += (tone * light * 0.8 - image) * np.clip(bark * (0.5 + depth), 0, 1)[..., None]
        leaves = np.clip((_field(rng, (h, w)) - 0.52) * 6, 0, 1) * np.clip(1.2 - np.linspace(0, 1.7, h)[:, None], 0, 1)
        spots = gaussian_filter((rng.random((h, w)) > 0.5).astype(np.float32), 1.4)
        tint = np.array(
            ((206, 120, 40), (186, 74, 36), (226, 170, 60), (150, 96, 40))[layer]
            if autumn
            else ((120, 160, 70), (84, 132, 60), (150, 184, 90), (52, 98, 52))[layer],
            np.float32,
        )
        image += (tint * (0.5 + spots)[..., None] - image) * (leaves * spots * 1.2).clip(0, 0.9)[..., None]
    _fill_below(image, _ridge(rng, w, h * 0.92, h * 0.06, 0.6), deep * 0.7, _field(rng, (h, w)))
    return image


def _meadow(rng: np.random.Generator, h: int, w: int, look: int) -> Floats:
    image, _, _ = _sky(rng, h, w, 0.5, look, rng.uniform(0.3, 0.6))
    _fill_below(image, _ridge(rng, w, h * 0.5, h * 0.07, 0.8), (88, 110, 92))
    _fill_below(image, _ridge(rng, w, h * 0.56, h * 0.05, 0.5), (112, 138, 70), _field(rng, (h, w)))
    blades = gaussian_filter(rng.standard_normal((h, w)).astype(np.float32), (5, 0.7))
    blades /= np.abs(blades).max()
    start = int(h * 0.52)
    image[start:] *= (1 + blades[start:] * 0.9)[..., None]
    tints = np.array(((232, 70, 52), (246, 196, 60), (250, 246, 240), (190, 90, 170)), np.float32)
    chosen = tints[rng.integers(0, 4, 2)]
    for row in range(start, h, 3):
        near = (row - start) / (h - start)
        for _ in range(int(3 + 10 * (1 - near))):
            x, r = int(rng.uniform(0, w)), int(1 + near * 6 * rng.uniform(0.6, 1.3))
            image[max(row - r, 0) : row + r, max(x - r, 0) : x + r] = (
                image[max(row - r, 0) : row + r, max(x - r, 0) : x + r] * 0.25 + chosen[int(rng.integers(0, 2))] * 0.75
            )
    return image


def _room(rng: np.random.Generator, h: int, w: int, look: int) -> Floats:
    wall = np.array(((196, 178, 150), (150, 168, 164), (188, 150, 128), (168, 160, 176))[look % 4], np.float32)
    yy, xx = np.mgrid[0:h, 0:w].astype(np.float32)
    image = np.repeat(np.repeat(wall[None, None, :], h, 0), w, 1)
    left, right, top, bottom = (
        int(v) for v in (w * rng.uniform(0.12, 0.3), w * rng.uniform(0.5, 0.66), h * 0.1, h * 0.56)
    )
    light = np.exp(-np.hypot((xx - (left + right) / 2) / (w * 0.42), (yy - (top + bottom) / 2) / (h * 0.55)) * 1.4)
    image *= (0.34 + 0.95 * light)[..., None]
    outside, _, _ = _sky(rng, bottom - top, right - left, 0.9, look + 1, 0.4)
    _fill_below(outside, _ridge(rng, right - left, (bottom - top) * 0.86, (bottom - top) * 0.3, 0.8), (84, 104, 84))
    image[top:bottom, left:right] = gaussian_filter(outside, (1.5, 1.5, 0)) * 1.06
    bar = max(3, w // 160)
    for x in (left, (left + right) // 2, right):
        image[top - bar : bottom + bar, x - bar : x + bar] = (236, 230, 220)
    for y in (top, (top + bottom) // 2, bottom):
        image[y - bar : y + bar, left - bar : right + bar] = (236, 230, 220)
    table = int(h * 0.74)
    grain = gaussian_filter(rng.standard_normal((h - table, w)).astype(np.float32), (0.8, 26))
    image[table:] = np.array((118, 78, 48), np.float32) * (
        0.75 + 2.2 * grain[..., None].clip(-0.12, 0.2) + 0.5 * light[table:, :, None]
    )
    for _ in range(int(rng.integers(3, 6))):
        x, y, r = rng.uniform(0.15, 0.85) * w, table + h * rng.uniform(-0.01, 0.09), h * rng.uniform(0.045, 0.085)
        tone = np.array(
            ((206, 60, 44), (226, 150, 40), (120, 150, 60), (230, 224, 210), (70, 96, 120))[int(rng.integers(0, 5))],
            np.float32,
        )
        away = np.hypot(xx - x, yy - y) / r
        shade = np.clip(1.15 - np.hypot(xx - x + r * 0.35, yy - y + r * 0.4) / (r * 1.5), 0.15, 1.1)
        shadow = np.exp(-((np.hypot((xx - x - r * 0.5) / 1.5, (yy - y - r * 0.85) / 0.35) / r) ** 2))
        image *= (1 - 0.5 * shadow)[..., None]
        image += (tone * shade[..., None] * 1.15 - image) * np.clip((1 - away) * r * 0.7, 0, 1)[..., None]
    return image


def _street(rng: np.random.Generator, h: int, w: int, look: int) -> Floats:
    image, _, _ = _sky(rng, h, w, 0.8, look, 0.4)
    place, ground = 0.0, h * 0.8
    tones = ((198, 120, 90), (222, 190, 130), (150, 166, 160), (206, 206, 190), (168, 96, 84), (120, 140, 160))
    while place < w:
        width, top = w * rng.uniform(0.1, 0.17), h * rng.uniform(0.24, 0.42)
        left, right = int(place), int(min(place + width, w))
        tone = np.array(tones[int(rng.integers(0, len(tones)))], np.float32)
        tall = int(ground) - int(top)
        fall = np.linspace(1.08, 0.82, tall)[:, None, None]
        image[int(top) : int(ground), left:right] = tone * fall * (0.94 + 0.12 * rng.random((tall, 1, 1)))
        roof = int(h * 0.05)
        for row in range(roof):
            inset = int(width * 0.5 * (1 - row / roof) * 0.8)
            image[int(top) - roof + row, left + inset : max(right - inset, left + inset)] = (110, 62, 52)
        step_x, step_y = width / 3, h * 0.115
        for column in range(3):
            for row in range(int((ground - top) / step_y)):
                x0, y0 = int(left + step_x * (column + 0.28)), int(top + step_y * (row + 0.25))
                lit = rng.random() < 0.25
                image[y0 : y0 + int(step_y * 0.5), x0 : x0 + int(step_x * 0.44)] = (
                    (255, 214, 130) if lit else (62, 74, 86)
                )
        place += width
    floor = int(ground)
    image[floor:] = np.array((118, 112, 108), np.float32) * (0.8 + 0.4 * _field(rng, (h - floor, w)))[..., None]
    image[floor:] = image[floor:] * 0.72 + image[floor - (h - floor) : floor][::-1] * 0.28
    return image


def _snow(rng: np.random.Generator, h: int, w: int, look: int) -> Floats:
    image, _, _ = _sky(rng, h, w, 0.65, 2 + look % 3, 0.5)
    for layer in range(3):
        line = _ridge(rng, w, h * (0.56 + layer * 0.1), h * (0.34 - layer * 0.1), 1.4)
        tone = np.array((150, 164, 190), np.float32) + layer * 26
        _fill_below(image, line, tone, _field(rng, (h, w)) * 0.5 + 0.35)
    _fill_below(image, _ridge(rng, w, h * 0.84, h * 0.08, 0.3), (236, 240, 246), _field(rng, (h, w)) * 0.25 + 0.4)
    for _ in range(int(rng.integers(8, 22))):
        x, base, size = int(rng.uniform(0, w)), int(rng.uniform(0.74, 0.95) * h), int(h * rng.uniform(0.06, 0.16))
        for row in range(size):
            half = int((row % max(size // 4, 1)) * 0.5 + row * 0.14)
            y = base - size + row
            if 0 <= y < h:
                image[y, max(x - half, 0) : x + half + 1] = np.array((44, 66, 62), np.float32) + (
                    80 if row % max(size // 4, 1) < 2 else 0
                )
    flakes = (rng.random((h, w)) > 0.9985).astype(np.float32) * 1400
    image += gaussian_filter(flakes, 1.2)[..., None]
    return image


_MAKERS = {
    "hills": _hills,
    "sea": _sea,
    "night": _night,
    "wood": _wood,
    "meadow": _meadow,
    "room": _room,
    "street": _street,
    "snow": _snow,
}


def render(scene: str, seed: int, size: tuple[int, int] = (960, 640)) -> Image.Image:
    """A photograph of a scene of :data:`SCENES`; `size` is width and height in pixels."""
    rng = np.random.default_rng(seed)
    w, h = size
    image = _MAKERS[scene](rng, h, w, int(rng.integers(0, 20)))
    yy, xx = np.mgrid[0:h, 0:w].astype(np.float32)
    vignette = 1 - 0.28 * (np.hypot((xx - w / 2) / (w / 2), (yy - h / 2) / (h / 2)) / 1.41) ** 2.2
    image = image * vignette[..., None] + rng.standard_normal((h, w, 1)).astype(np.float32) * 4.0
    curved = np.clip(image / 255, 0, 1)
    curved = curved + 0.08 * np.sin((curved - 0.5) * np.pi * 2) * 0.5
    return Image.fromarray((np.clip(curved, 0, 1) * 255).astype(np.uint8))
