"""Footline, a made-up service of subtitles: the demo's world behind the subtitle exchange (`docs/subtitles.md`).

It is plain, and sometimes poor: it finds by words of a title, has texts for other issues and for the deaf, and some
that belong to something else. Run with `python -m indice.standins.footline PORT [KEY]`.
"""

from __future__ import annotations

import random
import re
import sys
from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

from flask import Flask, Response, jsonify, request

from ..demo.world import films, series_list

__all__ = ["create_footline"]

LANGUAGES = ("en", "de")
MOST_LINES = 900
_ENGLISH = (
    "Wait. Did you hear that?",
    "Not in this weather.",
    "The boat leaves at six.",
    "She never brought the key back.",
    "Say it again, slowly.",
    "The lighthouse was dark all night.",
    "You are late.",
    "Tomorrow, perhaps.",
)
_GERMAN = (
    "Warte. Hast du das gehört?",
    "Nicht bei diesem Wetter.",
    "Das Boot fährt um sechs.",
    "Sie hat den Schlüssel nie zurückgebracht.",
    "Sag es noch einmal, langsam.",
    "Der Leuchtturm war die ganze Nacht dunkel.",
    "Du bist spät dran.",
    "Vielleicht morgen.",
)


@dataclass(frozen=True, slots=True)
class _Text:
    id: str
    title: str
    language: str
    seconds: float
    year: int | None = None
    season: int | None = None
    number: int | None = None
    form: str = "srt"
    for_deaf: bool = False
    release: str = ""

    def told(self) -> dict[str, Any]:
        row = {name: getattr(self, name) for name in self.__slots__}
        return {name: value for name, value in row.items() if value not in (None, "", False)}


def _of_work(plain: _Text) -> Iterator[_Text]:
    """The texts of a film or an episode: for its own issue, for the deaf, for
    another rate of pictures, for a longer cut."""
    name = re.sub(r"\W+", ".", plain.title)
    yield replace(plain, id=f"{plain.id}-en", release=f"{name}.1080p.WEB")
    yield replace(plain, id=f"{plain.id}-en-sdh", seconds=plain.seconds + 0.4, for_deaf=True)
    slower = round(plain.seconds * 24000 / 1001 / 25, 1)
    yield replace(plain, id=f"{plain.id}-de", language="de", seconds=slower, release=f"{name}.576p.DVDRip")
    if len(plain.title) % 3 == 0:
        longer = plain.seconds + 690
        yield replace(plain, id=f"{plain.id}-en-long", seconds=longer, form="vtt", release=f"{name}.Extended")


@cache
def _texts() -> dict[str, _Text]:
    found: list[_Text] = []
    for film in films():
        found += _of_work(_Text(film.id, film.title, "en", film.minutes * 60.0, year=film.year))
    for series in series_list():
        for episode in series.episodes:
            length = episode.minutes * 60.0
            plain = _Text(episode.id, series.title, "en", length, season=episode.season, number=episode.number)
            found += _of_work(plain)
    return {text.id: text for text in found}


def _words(text: str) -> frozenset[str]:
    return frozenset(re.findall(r"\w{3,}", text.lower()))


def _search(asked: dict[str, Any]) -> list[dict[str, Any]]:
    titles = [_words(str(title)) for title in asked.get("titles", [])]
    languages = [str(one).partition("-")[0] for one in asked.get("languages", LANGUAGES)]
    found: list[tuple[int, _Text]] = []
    for text in _texts().values():
        common = max((len(words & _words(text.title)) for words in titles), default=0)
        if not common or text.language not in languages:
            continue
        if asked.get("season") is not None and text.season != asked["season"]:
            continue
        if asked.get("number") is not None and text.number != asked["number"]:
            continue
        found.append((common, text))
    found.sort(key=lambda pair: (-pair[0], pair[1].id))
    return [text.told() for _, text in found[:30]]


def _moment(seconds: float, comma: str) -> str:
    whole = int(seconds)
    return f"{whole // 3600:02d}:{whole // 60 % 60:02d}:{whole % 60:02d}{comma}{round(seconds % 1 * 1000) % 1000:03d}"


def _content(text: _Text) -> str:
    """Made-up talk at made-up moments, the same each time."""
    dice = random.Random(f"talk {text.title} {text.season} {text.number}")
    lines: list[str] = ["WEBVTT", ""] if text.form == "vtt" else []
    at, count = 4.0, 0
    comma = "." if text.form == "vtt" else ","
    while at < text.seconds - 20 and count < MOST_LINES:
        length = dice.uniform(1.2, 4.5)
        words = dice.choice(_GERMAN if text.language == "de" else _ENGLISH)
        if text.for_deaf and count % 6 == 0:
            words = f"[a door]\n{words}"
        count += 1
        lines += [str(count)] if text.form == "srt" else []
        lines += [f"{_moment(at, comma)} --> {_moment(at + length, comma)}", words, ""]
        at += length + dice.uniform(0.6, 11.0)
    return "\n".join(lines)


def create_footline(key: str = "") -> Flask:
    """The service; with a key only questions that carry it are answered."""
    app = Flask("footline")

    @app.before_request
    def guard() -> tuple[Response, int] | None:
        if key and request.path.rstrip("/") != "/exchange" and request.headers.get("Authorization") != f"Bearer {key}":
            return jsonify(message="The key is missing or wrong."), 401
        return None

    @app.get("/exchange")
    def manifest() -> Response:
        told: dict[str, Any] = {
            "protocol": "subtitle-exchange",
            "version": 1,
            "name": "Footline",
            "languages": list(LANGUAGES),
        }
        if key:
            told["authentication"] = {"type": "http", "scheme": "bearer"}
        return jsonify(told)

    @app.post("/exchange/search")
    def search() -> tuple[Response, int] | Response:
        asked = request.get_json(silent=True)
        if not isinstance(asked, dict) or not isinstance(asked.get("titles"), list):
            return jsonify(message="The question is not understood."), 400
        return jsonify(texts=_search(asked))

    @app.get("/exchange/texts/<text_id>")
    def text(text_id: str) -> tuple[Response, int] | Response:
        found = _texts().get(text_id)
        if found is None:
            return jsonify(message="There is no such text."), 404
        kind = "text/vtt" if found.form == "vtt" else "application/x-subrip"
        return Response(_content(found).encode(), mimetype=kind)

    return app


def main() -> None:
    """Serve on loopback: `python -m indice.standins.footline PORT [KEY]`."""
    from werkzeug.serving import make_server

    from .almanac import quiet_handler

    key = sys.argv[2] if len(sys.argv) > 2 else ""
    make_server(
        "127.0.0.1", int(sys.argv[1]), create_footline(key), threaded=True, request_handler=quiet_handler()
    ).serve_forever()


if __name__ == "__main__":
    main()
