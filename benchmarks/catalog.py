"""What every request costs on a large catalog: time, statements, bytes.

A catalog is written straight into a database of its own (a tenth films, a twentieth series with their episodes, a third
music, the rest photos; with files, facts, pictures, decisions that wait, and findings), and each request is made as a
browser makes it.

    python -m benchmarks.catalog [--entries 200000] [--rounds 20] [--only WORD]
"""

from __future__ import annotations

import argparse
import os
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from statistics import median

from flask.testing import FlaskClient
from sqlalchemy import event, text

from indice.core.catalog import GROUPED
from indice.settings import Settings
from indice.store.cluster import Cluster
from indice.store.database import Database, open_database
from indice.web.app import create_app
from indice.work.requests import ensure_queue
from indice.work.traits import settle_all

__all__ = ["fill", "main"]

_WORDS = [
    "amber",
    "anvil",
    "birch",
    "cinder",
    "copper",
    "dune",
    "ember",
    "fable",
    "garnet",
    "harbour",
    "ivory",
    "juniper",
    "kiln",
    "lantern",
    "meadow",
    "nettle",
    "oyster",
    "pilgrim",
    "quarry",
    "ribbon",
    "saddle",
    "tern",
    "umber",
    "velvet",
    "willow",
]
"""Titles are made of three of these, by number."""


def _title(number: str) -> str:
    """SQL for a title from a number."""
    words = "array[" + ",".join(f"'{word}'" for word in _WORDS) + "]"
    count = len(_WORDS)
    return (
        f"initcap(({words})[1 + ({number} * 7) % {count}] || ' ' || ({words})[1 + ({number} / {count}) % {count}]"
        f" || ' ' || ({words})[1 + ({number} / {count * count}) % {count}] || ' ' || {number})"
    )


def fill(database: Database, entries: int) -> None:
    """Write a catalog of about so many entries."""
    films, episodes, tracks = entries // 10, entries // 20, entries // 3
    series, albums = max(episodes // 40, 1), max(tracks // 12, 1)
    artists = max(albums // 6, 1)
    photos = max(entries - films - series - episodes - albums - artists - tracks, 1)
    events = max(photos // 60, 1)
    with database.begin() as db:
        run = db.execute
        for id_, (name, kind) in enumerate(
            (("Films", "movies"), ("Series", "series"), ("Music", "music"), ("Photos", "photos")), 1
        ):
            run(
                text(
                    "insert into library (id, name, kind, language, country, sources, convention, checks, own_first, "
                    "writes, created_at)"
                    " values (:i, :n, :k, 'en', '', '[]', 'Roomy', '{}', '[]', '[]', now())"
                ),
                {"i": id_, "n": name, "k": kind},
            )
            run(
                text(
                    "insert into folder (id, library_id, path, shown, state, problem) values (:i, :i, :p, :s, 'present', "
                    "'')"
                ),
                {"i": id_, "p": f"/none/{name}".encode(), "s": f"/none/{name}"},
            )
        run(
            text(
                "insert into source (id, name, url, profile, position, problem) values (1, 'Made', "
                "'http://127.0.0.1:9/', '', 0, '')"
            )
        )

        def put(first: int, count: int, library: int, kind: str, **columns: str) -> None:
            """Entries of a kind; columns are SQL over the number n."""
            made = {
                "title": _title("n"), "year": "1930 + n % 95", "state": "'settled'", "parent_id": "null", "number": "null",
                "season": "null", "moment": "null", **columns,
            }  # fmt: skip
            run(
                text(
                    "insert into entry (id, library_id, parent_id, key, kind, title, sort_title, search, year, season, "
                    "number, moment, state, note, added_at)"
                    f" select {first} + n, {library}, {made['parent_id']}, '{kind}:' || n, '{kind}', t, lower(t), "
                    f"lower(t), {made['year']},"
                    f" {made['season']}, {made['number']}, {made['moment']}, {made['state']}, '', now() - n * interval '1 "
                    f"minute'"
                    f" from (select n, {made['title']} as t from generate_series(0, {count - 1}) as n) as made"
                )
            )

        at = 1
        first: dict[str, int] = {}
        counts = {
            "movie": films,
            "series": series,
            "season": series * 4,
            "episode": episodes,
            "artist": artists,
            "album": albums,
            "track": tracks,
            "event": events,
            "photo": photos,
        }
        for name, count in counts.items():
            first[name], at = at, at + count
        put(first["movie"], films, 1, "movie", state="case when n % 10 = 3 then 'waiting' else 'settled' end")
        put(first["series"], series, 2, "series")
        put(first["season"], series * 4, 2, "season", parent_id=f"{first['series']} + n / 4", season="1 + n % 4")
        put(
            first["episode"], episodes, 2, "episode", parent_id=f"{first['season']} + n / 10 % {series * 4}",
            season="1 + n / 10 % 4", number="1 + n % 10",
        )  # fmt: skip
        put(first["artist"], artists, 3, "artist", year="null")
        put(first["album"], albums, 3, "album", parent_id=f"{first['artist']} + n % {artists}")
        put(
            first["track"],
            tracks,
            3,
            "track",
            parent_id=f"{first['album']} + n / 12 % {albums}",
            number="1 + n % 12",
            year="null",
        )
        put(
            first["event"],
            events,
            4,
            "event",
            year="null",
            moment="to_char(date '2003-01-01' + (n * 5) % 8000, 'YYYY-MM-DD')",
        )
        put(
            first["photo"], photos, 4, "photo", year="null", parent_id=f"{first['event']} + n / 60 % {events}",
            title="'IMG_' || lpad((n % 10000)::text, 4, '0') || '.jpg'",
            moment="to_char(timestamp '2003-01-01' + ((n / 60 * 5) % 8000) * interval '1 day'"
            " + (n % 60) * interval '7 minutes', 'YYYY-MM-DD\"T\"HH24:MI:SS')",
        )  # fmt: skip
        run(
            text(
                "insert into file (folder_id, path, shown, directory, size_bytes, mtime_ns, inode, state, kind, "
                "reading, marks, problem, entry_id, serves, added_at)"
                " select e.library_id, convert_to(p, 'UTF8'), p, regexp_replace(p, '/[^/]*$', ''), 1000000, 1, e.id, "
                "'present', e.kind,"
                " '{}', '[]', '', e.id, 'main', now() from (select *, case kind when 'movie' then title || ' (' || "
                "year || ')/' || title || '.mkv'"
                " when 'episode' then 'Show ' || parent_id / 4 || '/Season ' || season || '/' || id || '.mkv'"
                " when 'track' then 'Artist ' || parent_id % 999 || '/Album ' || parent_id || '/' || number || ' ' "
                "|| id || '.flac'"
                " else left(moment, 4) || '/' || left(moment, 10) || ' Day/' || id || '.jpg' end as p from entry"
                " where kind in ('movie', 'episode', 'track', 'photo')) as e"
            )
        )
        for field_, value in (
            ("title", "to_jsonb(title)"), ("year", "to_jsonb(year)"), ("genres", "to_jsonb(array['Genre ' || id % 20])"),
            ("cast", _CAST), ("plot", "to_jsonb('A story of ' || title)"),
            ("runtime", "to_jsonb(5400 + id % 3000)"),
        ):  # fmt: skip
            run(
                text(
                    f"insert into fact (entry_id, field, origin, value, at, locked) select id, '{field_}', 'source:Made', "
                    f"jsonb_build_object('v', {value}), now(), false"
                    " from entry where kind in ('movie', 'series')"
                )
            )
        run(
            text(
                "insert into artwork (entry_id, role, origin, place, digest, width, height, blur, chosen)"
                " select id, case kind when 'photo' then 'photo' when 'album' then 'cover' else 'poster' end, 'file',"
                " 0, md5(id::text), 900, 600,"
                " 'data:image/webp;base64,' || repeat('UklG', 30), false from entry where kind in ('movie', 'series',"
                " 'album', 'photo')"
            )
        )
        run(
            text(
                "insert into candidate (entry_id, source_id, external_id, name, description, score, parts, fields, "
                "apart)"
                " select id, 1, id || '-' || c, title, 'Film', 0.9 - c * 0.1, '[]', '{}', '' from entry, "
                "generate_series(1, 3) as c"
                " where state = 'waiting' and id % 5 = 4"
            )
        )
        run(
            text(
                'insert into finding (library_id, folder_id, "check", severity, path, message, fix, fix_kind, also, '
                "missing)"
                " select folder_id, folder_id, (array['release-words', 'loose-film', 'event-unnamed', "
                "'copy-marked'])[folder_id], 'advice', shown,"
                " 'Something is to be said.', null, null, '[]', '[]' from file where id % 17 = 3"
            )
        )
        for table in ("entry", "file", "folder", "library", "source"):
            run(text(f"select setval(pg_get_serial_sequence('{table}', 'id'), (select max(id) from {table}))"))
    with database.engine.connect().execution_options(isolation_level="AUTOCOMMIT") as link:
        link.execute(text("vacuum analyze"))


_CAST = (
    "(select jsonb_agg('Person ' || (id * 7919 + i * i * 104729) % (200 + i * 2000)) from generate_series(1, 10) as i)"
)
"""Ten of each film and series: some of them in many, most in few."""
_MEASURES = """
update entry set seconds = 3000 + id % 5000, lines = (array[480, 720, 1080, 2160])[1 + id % 4],
                 size_bytes = 1000000000::bigint + id * 7919 % 20000000000
where kind = 'movie'
"""
"""Films that differ in what they are ordered by."""
_SPOTS = """
    update entry set spot = (id / 60 % 400)::bigint * 829348951 % 16777216 * 16777216 + (random() * 16777215)::bigint
    where kind = 'photo' and id % 3 > 0
"""
"""Two thirds of the photos say where, in 400 towns (cells of level 12) and all over each of them."""


@dataclass(slots=True)
class Cost:
    """What a request cost."""

    milliseconds: float
    processor: float
    statements: int
    size: int


class Meter:
    """Counts statements, and times requests."""

    def __init__(self, database: Database) -> None:
        self.statements = 0
        event.listen(database.engine, "before_cursor_execute", self._count)

    def _count(self, *_: object) -> None:
        self.statements += 1

    def measure(self, client: FlaskClient, path: str) -> Cost:
        """One request."""
        self.statements = 0
        began, spent = time.perf_counter(), time.process_time()
        answer = client.get(path)
        assert answer.status_code == 200, (path, answer.status_code, answer.get_data(as_text=True)[:300])
        size = len(answer.get_data())
        return Cost(1000 * (time.perf_counter() - began), 1000 * (time.process_time() - spent), self.statements, size)


def requests_of(client: FlaskClient, database: Database) -> Iterator[tuple[str, Callable[[int], str]]]:
    """Name and address of every request that a screen makes, by round."""
    with database.begin() as db:
        ids = {
            kind: db.execute(text("select id from entry where kind = :k order by id limit 400"), {"k": kind})
            .scalars()
            .all()
            for kind in ("movie", "series", "album", "artist", "photo", "event")
        }
    for shelf in ("films", "series", "music", "photos"):
        yield f"shelf {shelf}, first page", lambda _, shelf=shelf: f"/api/shelves/{shelf}"
        yield (
            f"shelf {shelf}, by a word",
            lambda n, shelf=shelf: f"/api/shelves/{shelf}?words={_WORDS[n % len(_WORDS)]}",
        )
        yield f"shelf {shelf}, ruler", lambda _, shelf=shelf: f"/api/shelves/{shelf}/ruler"
    following = client.get("/api/shelves/films").get_json().get("following")
    if following:
        yield "shelf films, second page", lambda _: f"/api/shelves/films?after={following}"
    yield "shelf films, one year", lambda n: f"/api/shelves/films?year={1930 + n}"
    yield "shelf films, of a genre", lambda n: f"/api/shelves/films?traits=genre:Genre%20{n % 20}"
    yield (
        "shelf films, narrowed",
        lambda n: f"/api/shelves/films?traits=genre:Genre%20{n % 20}|decade:{1930 + n % 9 * 10}",
    )
    yield "songs, first page", lambda _: "/api/songs"
    yield "songs, newest", lambda _: "/api/songs?sort=added"
    yield "songs, by a word", lambda n: f"/api/songs?words={_WORDS[n % len(_WORDS)]}"
    yield "folders of music", lambda _: "/api/shelves/music/folders?folder_id=3"
    yield "folders of photos", lambda _: "/api/shelves/photos/folders?folder_id=4"
    yield "shelf films, by year", lambda _: "/api/shelves/films?sort=year"
    for sort in ("length", "resolution", "size", "rating"):
        yield f"shelf films, by {sort}", lambda _, sort=sort: f"/api/shelves/films?sort={sort}"
    for shelf, groups in GROUPED.items():
        for group in groups:
            yield f"{shelf} by {group}", lambda _, shelf=shelf, group=group: f"/api/shelves/{shelf}/by/{group}"
    yield "shelf films, newest", lambda _: "/api/shelves/films?sort=added"
    for shelf in ("films", "series", "music", "photos"):
        yield f"traits of {shelf}", lambda _, shelf=shelf: f"/api/shelves/{shelf}/traits"
    yield "who is in films", lambda _: "/api/shelves/films/traits/cast"
    yield "who is in films, by letters", lambda n: f"/api/shelves/films/traits/cast?like={n % 1000}"
    yield "who is in films, narrowed", lambda n: f"/api/shelves/films/traits/cast?traits=genre:Genre%20{n % 20}"
    yield "who is in films not seen", lambda _: "/api/shelves/films/traits/cast?traits=mark:unseen"
    yield "shelf films, with somebody", lambda n: f"/api/shelves/films?traits=cast:Person%20{n}"
    yield "traits of films, narrowed", lambda n: f"/api/shelves/films/traits?traits=genre:Genre%20{n % 20}"
    yield "map, the earth", lambda _: "/api/map"
    yield "map, a country", lambda n: f"/api/map?west={n}&east={n + 12}&south=40&north=48"
    yield "map, a town", lambda n: f"/api/map?west={n}&east={n + 0.2}&south=47.9&north=48"
    yield "map, narrowed", lambda n: f"/api/map?year={2004 + n % 20}"
    yield "photos of a place", lambda n: f"/api/shelves/photos?traits=near:{'0123'[n % 4]}{'2013'[n % 4]}1"
    yield "lists", lambda _: "/api/lists"
    yield "front", lambda _: "/api/front"
    yield "shares", lambda _: "/api/shares"
    for kind, found in ids.items():
        yield f"page of a {kind}", lambda n, found=found: f"/api/entries/{found[n * 7 % len(found)]}"
        yield f"keeping a {kind}", lambda n, found=found: f"/api/entries/{found[n * 7 % len(found)]}/kept"
    for words in ("amber", "am", "juniper kiln", "kline", "img_00", "zzzz"):
        yield f"search {words}", lambda _, words=words: f"/api/search?q={words}"
    for words in ("year:1990-1999", "year:1990-1999 kind:film", "is:unseen kind:film year:1980s", "genre:drama amber"):
        yield f"search {words}", lambda _, words=words: f"/api/search?q={words.replace(' ', '+')}"
    yield "today", lambda _: "/api/today"
    yield "status", lambda _: "/api/status"
    yield "matches", lambda _: "/api/matches"
    yield "matches again", lambda _: "/api/matches/again"
    yield "findings", lambda _: "/api/findings"
    yield "tree", lambda _: "/api/tree"
    yield "files of a folder", lambda n: "/api/files?folder_id=4&directory=2009"
    yield "libraries", lambda _: "/api/libraries"
    yield "with a genre", lambda n: f"/api/with?field=genres&value=Genre%20{n % 20}"
    yield "with a person", lambda n: f"/api/with?field=cast&value=Person%20{n}"


@contextmanager
def catalog(entries: int) -> Iterator[tuple[Database, Settings]]:
    """A database with a catalog in it."""
    with tempfile.TemporaryDirectory(prefix="indice-bench-", dir="/tmp") as place:
        os.chmod(place, 0o755)
        settings = replace(Settings.load({"INDICE_HOME": place}), browse_roots="/")
        cluster = Cluster(settings.home)
        cluster.start()
        try:
            database = open_database(settings)
            ensure_queue(database)
            began = time.perf_counter()
            fill(database, entries)
            print(f"{entries} entries written in {time.perf_counter() - began:.0f} s")
            began = time.perf_counter()
            settled = settle_all(database)
            with database.begin() as db:
                db.execute(text(_SPOTS))
                db.execute(text("delete from place_due"))
                db.execute(text(_MEASURES))
            with database.engine.connect().execution_options(isolation_level="AUTOCOMMIT") as link:
                link.execute(text("vacuum analyze entry"))
                link.execute(text("analyze cast_name"))
            print(f"traits of {settled} settled in {time.perf_counter() - began:.0f} s")
            yield database, settings
        finally:
            cluster.stop("immediate")


def main() -> None:
    """Fill, ask, print."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--entries", type=int, default=200_000)
    parser.add_argument("--rounds", type=int, default=20)
    parser.add_argument("--only", default="")
    options = parser.parse_args()
    with catalog(options.entries) as (database, settings):
        client = create_app(settings, database).test_client()
        token = client.get("/api/status").get_json()["csrf"]
        client.post(
            "/api/setup", json={"name": "Nell", "password": "long enough for this", "language": "en"},
            headers={"X-Indice-Token": token},
        )  # fmt: skip
        meter = Meter(database)
        print(f"{'request':32} {'p50 ms':>8} {'p95 ms':>8} {'cpu ms':>8} {'stmts':>6} {'kB':>8}")
        for name, address in requests_of(client, database):
            if options.only not in name:
                continue
            if client.get(address(0)).status_code == 404:
                print(f"{name:32} is not there")
                continue
            costs: list[Cost] = []
            for number in range(1, options.rounds + 1):
                costs.append(meter.measure(client, address(number)))
                if sum(cost.milliseconds for cost in costs) > 20_000:
                    break
            times = sorted(cost.milliseconds for cost in costs)
            print(
                f"{name:32} {median(times):8.1f} {times[int(len(times) * 0.95 - 0.01)]:8.1f}"
                f" {median(cost.processor for cost in costs):8.1f} {max(cost.statements for cost in costs):6}"
                f" {max(cost.size for cost in costs) / 1000:8.0f}"
            )


if __name__ == "__main__":
    main()
