"""Almanac, a made-up metadata source: the demo's world behind the Reconciliation Service API 0.2.

It knows what the household has and more: remakes, namesakes and sequels that must not be taken for it. Run with
`python -m indice.standins.almanac PORT [KEY] [quota=5] [errors=0.1] [slow=0.5]`; the last three switch faults on.
"""

from __future__ import annotations

import hashlib
import io
import json
import random
import re
import sys
import time
from collections import deque
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cache
from typing import TYPE_CHECKING, Any

from flask import Flask, Response, jsonify, request
from rapidfuzz import process
from rapidfuzz.fuzz import WRatio

from ..core.reading.scan import without_accents
from ..demo.posters import backdrop, cover, portrait, poster
from ..demo.world import Album, Film, Series, albums, films, series_list
from .world import World, make_world

if TYPE_CHECKING:
    from werkzeug.serving import WSGIRequestHandler

__all__ = ["Faults", "create_almanac", "quiet_handler", "records_of"]

Values = dict[str, list[dict[str, Any]]]


@dataclass(frozen=True, slots=True)
class Record:
    """Something that Almanac knows."""

    id: str
    type: str
    name: str
    names: tuple[str, ...]
    year: int | None
    people: tuple[str, ...] = ()
    values: Values = field(default_factory=dict)


def _texts(*values: str) -> list[dict[str, Any]]:
    return [{"str": value} for value in values if value]


def _certificates(key: str, genres: tuple[str, ...]) -> list[dict[str, Any]]:
    """From which age, as two countries see it."""
    least = 0 if {"Family", "Documentary"} & set(genres) else 12 if {"Crime", "Mystery"} & set(genres) else 6
    strict = random.Random(f"certificate {key}").random() < 0.4
    return _texts(f"AT: {least or 'all'}", f"DE: {least + (4 if strict and least else 0) or 'all'}")


_NUMBERED = re.compile(r"^(.{4,}?)(?: (?:2|3|4|II|III|IV)|: .+)$")


@dataclass(frozen=True, slots=True)
class _Collection:
    """Films that belong together: those of the household's world, and those that nobody there has."""

    name: str
    known: tuple[str, ...]
    others: tuple[Film, ...]


def _other(film_id: str, title: str, year: int, of: str) -> Film:
    return Film(
        id=film_id, title=title, year=year, minutes=101, genres=("Drama",), director=of, cast=(), plot="Told further."
    )


_COLLECTIONS = (
    _Collection(
        "Velvet Quarry films", ("f0007", "f0008"), (_other("q0001", "Velvet Quarry III", 2001, "Lene Marstrand"),)
    ),
    _Collection(
        "Copper Sparrow films",
        ("f0018", "f0019"),
        (
            _other("q0002", "Copper Sparrow Before the Rain", 1996, "Aurel Dost"),
            _other("q0003", "Copper Sparrow at Rest", 2009, "Aurel Dost"),
        ),
    ),
    _Collection(
        "Parsnip films", ("f0014", "f0015"), (_other("q0004", "Parsnip and the Winter Comet", 2031, "Nella Fry"),)
    ),
)
_DECLARED = {film_id: one.name for one in _COLLECTIONS for film_id in (*one.known, *(f.id for f in one.others))}


def _collection(film: Film) -> str:
    """The name of the films that one belongs to: declared, or told by the title of a sequel."""
    found = _NUMBERED.match(film.title)
    return _DECLARED.get(film.id) or (f"{found[1]} films" if found else "")


def _collection_cells(film: Film) -> list[dict[str, Any]]:
    name = _collection(film)
    return [{"id": "c" + hashlib.sha256(name.encode()).hexdigest()[:7], "name": name}] if name else []


def _collections(known: Iterable[Record]) -> list[Record]:
    """A record of each collection, with its films by year."""
    films_of: dict[tuple[str, str], list[Record]] = {}
    for film in known:
        for cell in film.values.get("collection", ()):
            films_of.setdefault((cell["id"], cell["name"]), []).append(film)
    return [
        Record(
            found,
            "Collection",
            name,
            (name,),
            None,
            (),
            {
                "title": _texts(name),
                "films": [
                    {"id": film.id, "name": film.name}
                    for film in sorted(films, key=lambda one: (one.year or 0, one.id))
                ],
            },
        )
        for (found, name), films in films_of.items()
    ]


def _film(film: Film) -> Record:
    return Record(
        film.id,
        "Film",
        film.title,
        (film.title, film.original, *film.aliases),
        film.year,
        (film.director, *film.cast),
        {
            "title": _texts(film.title),
            "alsoKnownAs": _texts(*film.aliases),
            "originalTitle": _texts(film.original),
            "released": [{"date": f"{film.year}-{film.minutes % 12 + 1:02d}-11"}],
            "length": [{"int": film.minutes}],
            "synopsis": _texts(film.plot),
            "genre": _texts(*film.genres),
            "certificate": _certificates(film.id, film.genres),
            "collection": _collection_cells(film),
            "director": _texts(film.director),
            "cast": _texts(*film.cast),
            "poster": _texts(f"pictures/{film.id}/poster.jpg", f"pictures/{film.id}/poster2.jpg"),
            "still": _texts(*(f"pictures/{film.id}/still{n}.jpg" for n in ("", "2", "3"))),
        },
    )


def _series(series: Series) -> list[Record]:
    known = [
        Record(
            series.id,
            "Series",
            series.title,
            (series.title, *series.aliases),
            series.year,
            series.cast,
            {
                "title": _texts(series.title),
                "alsoKnownAs": _texts(*series.aliases),
                "released": [{"date": f"{series.year}-03-01"}],
                "length": [{"int": series.minutes}],
                "synopsis": _texts(series.plot),
                "genre": _texts(*series.genres),
                "certificate": _certificates(series.id, series.genres),
                "cast": _texts(*series.cast),
                "poster": _texts(f"pictures/{series.id}/poster.jpg"),
                "still": _texts(f"pictures/{series.id}/still.jpg"),
                "episodes": [{"id": episode.id, "name": episode.title} for episode in series.episodes],
            },
        )
    ]
    for episode in series.episodes:
        values: Values = {
            "title": _texts(episode.title),
            "season": [{"int": episode.season}],
            "number": [{"int": episode.number}],
            "released": [{"date": episode.date}],
            "length": [{"int": episode.minutes}],
            "synopsis": _texts(episode.plot),
            "runningNumber": [{"int": episode.absolute}] if episode.absolute else [],
        }
        known.append(Record(episode.id, "Episode", episode.title, (episode.title,), int(episode.date[:4]), (), values))
    return known


def _album(album: Album) -> list[Record]:
    tracks: list[Record] = []
    number, last = 0, 1
    for place, (title, seconds, artist, disc) in enumerate(album.tracks, 1):
        number = number + 1 if disc == last else 1
        last = disc
        tracks.append(
            Record(
                f"{album.id}t{place:02d}",
                "Track",
                title,
                (title,),
                album.year,
                (artist,),
                {
                    "title": _texts(title),
                    "artist": _texts(artist),
                    "disc": [{"int": disc}],
                    "number": [{"int": number}],
                    "seconds": [{"int": seconds}],
                },
            )
        )
    artist = _artist(album.artist)
    whole = Record(
        album.id,
        "Album",
        album.title,
        (album.title,),
        album.year,
        (album.artist,),
        {
            "title": _texts(album.title),
            "artist": [{"id": artist.id, "name": artist.name}],
            "released": [{"date": f"{album.year}-05-20"}],
            "genre": _texts(*album.genres),
            "poster": _texts(f"pictures/{album.id}/poster.jpg"),
            "tracks": [{"id": track.id, "name": track.name} for track in tracks],
        },
    )
    return [whole, artist, *tracks]


def _artist(name: str) -> Record:
    rng = random.Random(f"artist {name}")
    known = "p" + hashlib.sha256(name.encode()).hexdigest()[:7]
    place, since = rng.choice(_PLACES), rng.randint(1962, 2009)
    values: Values = {
        "title": _texts(name),
        "synopsis": _texts(f"From {place}; first heard in {since}."),
        "portrait": _texts(f"pictures/{known}/portrait.jpg"),
    }
    return Record(known, "Artist", name, (name,), None, (), values)


_PLACES = ("Saltmere", "Pell", "Ostrander", "the Tern Islands", "Bramblewick", "Quillmouth")


def _confusions() -> list[Record]:
    """Remakes, sequels and namesakes that nobody in the household has."""
    made: list[Record] = []
    for place, film in enumerate(films()):
        rng = random.Random(f"confusion {film.id}")
        if place % 3 == 0:
            twin = Film(
                id=f"x{place:04d}",
                title=film.title,
                year=film.year + rng.choice((-22, -14, 9, 17, 26)),
                minutes=film.minutes + rng.choice((-18, 14, 25)),
                genres=film.genres,
                director="Somebody Else",
                cast=(),
                plot="Another telling of the same story.",
            )
            made.append(_film(twin))
        if place % 5 == 1:
            made.append(
                _film(
                    Film(
                        id=f"y{place:04d}",
                        title=f"The {film.title.removeprefix('The ')} Affair",
                        year=film.year + 3,
                        minutes=95,
                        genres=("Crime",),
                        director="Somebody Else",
                        cast=(),
                        plot="A namesake.",
                    )
                )
            )
    for place, album in enumerate(albums()):
        if place % 6 == 0:
            made += _album(
                Album(
                    id=f"z{place:04d}",
                    title=album.title,
                    artist="The Weathermen of Pell",
                    year=album.year + 2,
                    genres=("rock",),
                    tracks=tuple((f"Another {t}", s + 30, "The Weathermen of Pell", d) for t, s, _, d in album.tracks),
                )
            )
    return made


def records_of(world: World) -> dict[str, Record]:
    """A world as Almanac knows it, by id."""
    known: list[Record] = [_film(film) for film in world.films]
    for series in world.series:
        known += _series(series)
    for album in world.albums:
        known += _album(album)
    known += _collections(known)
    return {record.id: record for record in known}


@cache
def records() -> dict[str, Record]:
    """Everything that Almanac knows, by id. It has never heard of a few things that the household owns."""
    unknown = {"Lighthouse Summer", "The Tern Colony", "Bramblewick Lane", "Carols from the Breakwater"}
    known: list[Record] = [_film(film) for film in films() if film.title not in unknown]
    for series in series_list():
        known += _series(series) if series.title not in unknown else []
    for album in albums():
        known += _album(album) if album.title not in unknown else []
    known += [_film(film) for one in _COLLECTIONS for film in one.others]
    known += _collections(known)
    known += _confusions()
    return {record.id: record for record in known} | records_of(make_world(7))


@dataclass(slots=True)
class Index:
    """Names of a kind of record, folded once, so that a search is one pass of a fast library."""

    known: dict[str, Record]
    names: dict[str, tuple[list[str], list[Record]]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for record in self.known.values():
            texts, owners = self.names.setdefault(record.type, ([], []))
            for name in dict.fromkeys(without_accents(name) for name in record.names if name):
                texts.append(name)
                owners.append(record)

    def likely(self, text: str, types: set[str]) -> dict[str, float]:
        """Ids of records whose names are like a text, with how like."""
        found: dict[str, float] = {}
        for kind in types or set(self.names) - {"Episode", "Track", "Artist", "Collection"}:
            texts, owners = self.names.get(kind, ([], []))
            for _, value, place in process.extract(text, texts, scorer=WRatio, score_cutoff=62, limit=60):
                record = owners[place]
                found[record.id] = max(found.get(record.id, 0.0), value)
        return found


def _search(index: Index, query: dict[str, Any]) -> list[dict[str, Any]]:
    text = without_accents(str(query.get("query", "")))
    wanted = query.get("type")
    types: set[str] = {wanted} if isinstance(wanted, str) else {str(name) for name in wanted or ()}
    year = next((str(p.get("v")) for p in query.get("properties", []) if p.get("pid") == "released"), "")
    people = [
        without_accents(str(p.get("v"))) for p in query.get("properties", []) if p.get("pid") in ("artist", "director")
    ]
    rows: list[tuple[float, Record]] = []
    for record_id, value in index.likely(text, types).items() if text else ():
        record = index.known[record_id]
        if year and record.year is not None:
            value += 4 if str(record.year) == year[:4] else -4
        if people and record.people:
            value += 6 if any(without_accents(person) in people for person in record.people) else -6
        rows.append((value, record))
    rows.sort(key=lambda row: (-row[0], row[1].id))
    limit = int(query.get("limit", 5))
    return [
        {
            "id": r.id,
            "name": r.name,
            "type": [{"id": r.type, "name": r.type}],
            "score": round(min(v, 100), 2),
            "match": False,
            "description": f"{r.type}, {r.year or 'undated'}" + (f", {r.people[0]}" if r.people else ""),
        }
        for v, r in rows[:limit]
    ]


def _picture(known: dict[str, Record], record_id: str, role: str) -> bytes | None:
    record = known.get(record_id)
    if record is None:
        return None
    if record.type == "Artist":
        image = portrait(record.name)
    elif record.type == "Album":
        image = cover(record.name, record.people[0], record.year or 0)
    elif role.startswith("still"):
        image = backdrop(record.name + role.removeprefix("still"), record.year or 0)
    else:
        people = record.people[0] if record.type == "Film" and record.people else ""
        image = poster(record.name, record.year or 0, people, variant=int(role.removeprefix("poster") or 0))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=86)
    return out.getvalue()


@dataclass(slots=True)
class Faults:
    """What can be switched on to see how a client bears it."""

    quota: int = 0
    """Requests a second; 0 is no limit."""
    errors: float = 0.0
    """Share of requests that fail with 503."""
    slow_seconds: float = 0.0


def create_almanac(key: str = "", *, known: dict[str, Record] | None = None, faults: Faults | None = None) -> Flask:
    """The service; with a key, only the manifest and pictures are open."""
    app = Flask("almanac")
    service = _Service(Index(known if known is not None else records()), key, faults or Faults())
    app.before_request(service.guard)
    app.add_url_rule("/reconcile", view_func=service.reconcile, methods=["GET", "POST"])
    app.add_url_rule("/suggest/entity", view_func=service.suggest)
    app.add_url_rule("/suggest/type", view_func=service.suggest_type)
    app.add_url_rule("/suggest/property", view_func=service.suggest_property)
    app.add_url_rule("/properties", view_func=service.properties)
    app.add_url_rule("/preview/<record_id>", view_func=service.preview)
    app.add_url_rule("/pictures/<record_id>/<role>.jpg", view_func=service.picture)
    return app


def _manifest(base: str, key: str) -> dict[str, Any]:
    """What the service says of itself (Reconciliation Service API 0.2, service manifest)."""
    languages = {
        "name": "lang",
        "label": "Language",
        "type": "select",
        "default": "en",
        "help_text": "In which language texts are given",
        "choices": [{"value": code, "name": code} for code in ("en", "de", "ja")],
    }
    told: dict[str, Any] = {
        "versions": ["0.2"],
        "name": "Almanac",
        "identifierSpace": f"{base}id/",
        "schemaSpace": f"{base}schema/",
        "batchSize": 40,
        "defaultTypes": [{"id": name, "name": name} for name in ("Film", "Series", "Album")],
        "view": {"url": f"{base}view/{{{{id}}}}"},
        "preview": {"url": f"{base}preview/{{{{id}}}}", "width": 420, "height": 180},
        "suggest": {
            name: {"service_url": base.rstrip("/"), "service_path": f"/suggest/{name}"}
            for name in ("entity", "type", "property")
        },
        "extend": {
            "propose_properties": {"service_url": base.rstrip("/"), "service_path": "/properties"},
            "property_settings": [languages],
        },
    }
    if key:
        told["authentication"] = {"type": "apiKey", "in": "header", "name": "X-Almanac-Key"}
    return told


class _Service:
    """Answers questions from an index, and stumbles where that is wished."""

    def __init__(self, index: Index, key: str, trouble: Faults) -> None:
        self._index = index
        self._key = key
        self._trouble = trouble
        self._served: deque[float] = deque(maxlen=1000)
        self._dice = random.Random(1)

    def guard(self) -> tuple[Response, int] | None:
        """Refuse who has no key; be slow, busy or out of order as told."""
        if request.method != "POST":
            return None
        if self._key and request.headers.get("X-Almanac-Key") != self._key:
            return jsonify(status="error", message="The key is missing or wrong."), 401
        moment, trouble = time.monotonic(), self._trouble
        if trouble.quota and sum(1 for at in self._served if at > moment - 1) >= trouble.quota:
            answer = jsonify(status="error", message="Too many requests.")
            answer.headers["Retry-After"] = "1"
            return answer, 429
        self._served.append(moment)
        if trouble.slow_seconds:
            time.sleep(trouble.slow_seconds)
        if trouble.errors and self._dice.random() < trouble.errors:
            return jsonify(status="error", message="Out of order for a moment."), 503
        return None

    def reconcile(self) -> tuple[Response, int] | Response:
        if request.method == "GET" and "queries" not in request.args:
            return jsonify(_manifest(request.url_root, self._key))
        try:
            if "extend" in request.values:
                return jsonify(_extend(self._index.known, json.loads(request.values["extend"])))
            queries = json.loads(request.values["queries"])
            return jsonify(
                {name: {"result": _search(self._index, query)} for name, query in list(queries.items())[:40]}
            )
        except (KeyError, ValueError, AttributeError, TypeError):
            return jsonify(status="error", message="The question is not understood."), 400

    def suggest(self) -> Response:
        rows = _search(self._index, {"query": request.args.get("prefix", ""), "limit": 10})
        return jsonify(
            result=[{"id": row["id"], "name": row["name"], "description": row["description"]} for row in rows]
        )

    def suggest_type(self) -> Response:
        return jsonify(result=_beginning(request.args.get("prefix", ""), self._index.names))

    def suggest_property(self) -> Response:
        known = dict.fromkeys(name for record in self._index.known.values() for name in record.values)
        return jsonify(result=_beginning(request.args.get("prefix", ""), known))

    def properties(self) -> Response:
        kind = request.args.get("type", "")
        known = dict.fromkeys(name for r in self._index.known.values() if r.type == kind for name in r.values)
        return jsonify(type={"id": kind, "name": kind}, properties=_beginning("", known)[: _limit(request.args)])

    def preview(self, record_id: str) -> tuple[str, int]:
        record = self._index.known.get(record_id)
        return (f"<p><b>{record.name}</b> ({record.year})</p>", 200) if record else ("<p>Nothing is known.</p>", 404)

    def picture(self, record_id: str, role: str) -> Response:
        content = _picture(self._index.known, record_id, role)
        return Response(content, mimetype="image/jpeg") if content else Response(status=404)


def _limit(arguments: Any) -> int:
    told = str(arguments.get("limit", ""))
    return int(told) if told.isdigit() else 100


def _beginning(prefix: str, names: Iterable[str]) -> list[dict[str, str]]:
    return [{"id": name, "name": name} for name in names if name.casefold().startswith(prefix.casefold())]


_GERMAN_GENRES = {
    "Comedy": "Komödie",
    "Crime": "Krimi",
    "Family": "Familie",
    "Documentary": "Dokumentarfilm",
    "Mystery": "Rätsel",
    "Adventure": "Abenteuer",
    "Romance": "Liebesfilm",
}


def _in_language(name: str, cells: list[dict[str, Any]], record: Record | None, lang: str) -> list[dict[str, Any]]:
    """Texts in a language, as far as Almanac has them: genres are translated, and a title has its foreign form."""
    if lang != "de" or record is None:
        return cells
    if name == "genre":
        return [{"str": _GERMAN_GENRES.get(cell["str"], cell["str"])} for cell in cells]
    if name == "title" and record.type == "Film":
        german = next((text for text in record.names[1:] if text.startswith(_GERMAN_BEGINNINGS)), None)
        return [{"str": german}] if german else cells
    return cells


_GERMAN_BEGINNINGS = ("Der ", "Die ", "Das ", "Ein ", "Unser ", "Kein ", "Hinter ")


def _extend(known: dict[str, Record], question: dict[str, Any]) -> dict[str, Any]:
    wanted = [(str(row["id"]), str((row.get("settings") or {}).get("lang", "en"))) for row in question["properties"]]
    rows: dict[str, dict[str, list[Any]]] = {}
    for record_id in list(question["ids"])[:40]:
        record = known.get(record_id)
        rows[record_id] = {
            name: [
                _absolute(name, cell)
                for cell in _in_language(name, record.values.get(name, []) if record else [], record, lang)
            ]
            for name, lang in wanted
        }
    return {"meta": [{"id": name, "name": name} for name, _ in wanted], "rows": rows}


def _absolute(name: str, cell: dict[str, Any]) -> dict[str, Any]:
    return {"str": request.url_root + cell["str"]} if name in ("poster", "still", "portrait") else cell


def quiet_handler() -> type[WSGIRequestHandler]:
    """What serves without a line for each request."""
    from werkzeug.serving import WSGIRequestHandler

    class Quiet(WSGIRequestHandler):
        """Serves without a line for each request."""

        protocol_version = "HTTP/1.1"

        def log_request(self, code: int | str = "-", size: int | str = "-") -> None:
            """Say nothing."""

    return Quiet


def main() -> None:
    """Serve on loopback: `python -m indice.standins.almanac PORT [KEY]`."""
    from werkzeug.serving import make_server

    settings = dict(word.split("=", 1) for word in sys.argv[2:] if "=" in word)
    key = next((word for word in sys.argv[2:] if "=" not in word), "")
    faults = Faults(int(settings.get("quota", 0)), float(settings.get("errors", 0)), float(settings.get("slow", 0)))
    make_server(
        "127.0.0.1",
        int(sys.argv[1]),
        create_almanac(key, faults=faults),
        threaded=True,
        request_handler=quiet_handler(),
    ).serve_forever()


if __name__ == "__main__":
    main()
