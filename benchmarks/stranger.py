"""A metadata service and a household of its own kind, for measuring the matcher against what it does not know.

The service is written from the open specification (Reconciliation Service API 0.2) alone: it shares no code,
no folding and no habit with the matcher. Its search is plain and sometimes poor, its answers hold things of
other types, its descriptions are bare. Titles are shared by films, series, artists and albums; albums come in
several issues; lengths are missing or off.
"""

from __future__ import annotations

import json
import random
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from flask import Flask, Response, jsonify, request

__all__ = ["PROFILE", "World", "make_household", "make_service", "make_world"]

PROFILE = """
name = "Stranger"
url = "{url}"
scheme = "stranger"
[movie]
type = "work-moving-picture"
fields = {{ title = "p1", aliases = "p2", date = "p3", runtime = "p4", directors = "p5" }}
[series]
type = "work-serial"
fields = {{ title = "p1", aliases = "p2", date = "p3", episodes = "p6" }}
[episode]
type = "work-serial-part"
fields = {{ title = "p1", season = "p7", number = "p8", date = "p3" }}
[album]
type = "release"
fields = {{ title = "p1", artists = "p9", date = "p3", tracks = "p10" }}
[track]
type = "recording"
fields = {{ title = "p1", number = "p8", runtime = {{ property = "p11", unit = "seconds" }} }}
[artist]
type = "performer"
fields = {{ title = "p1" }}
"""

FIRST = [
    "amber",
    "ash",
    "barley",
    "beacon",
    "bell",
    "birch",
    "bramble",
    "brass",
    "bridge",
    "candle",
    "chalk",
    "cinder",
    "clover",
    "coal",
    "copper",
    "cotton",
    "cradle",
    "crow",
    "dawn",
    "drift",
    "ember",
    "fable",
    "falcon",
    "fern",
    "ferry",
    "flint",
    "frost",
    "garnet",
    "glass",
    "gorse",
    "gravel",
    "hallow",
    "harbour",
    "hazel",
    "heron",
    "hollow",
    "iron",
    "ivory",
    "juniper",
    "kettle",
    "lantern",
    "larch",
    "ledger",
    "linen",
    "lock",
    "marble",
    "marsh",
    "meadow",
    "mill",
    "mirror",
    "moss",
    "needle",
    "nettle",
    "oak",
    "orchard",
    "otter",
    "paper",
    "pebble",
    "pepper",
    "pine",
    "plum",
    "quarry",
    "quill",
    "rain",
    "raven",
    "reed",
    "ribbon",
    "river",
    "rook",
    "rope",
    "rust",
    "saffron",
    "salt",
    "sand",
    "shadow",
    "shale",
    "silk",
    "silver",
    "slate",
    "smoke",
    "snow",
    "sparrow",
    "spindle",
    "spring",
    "star",
    "stone",
    "storm",
    "straw",
    "swallow",
    "sycamore",
    "thistle",
    "thorn",
    "thunder",
    "tide",
    "timber",
    "tin",
    "velvet",
    "wharf",
    "wheat",
    "willow",
    "winter",
    "wren",
]
NAMES = [
    "Ada",
    "Bo",
    "Cai",
    "Dov",
    "Eir",
    "Fen",
    "Gil",
    "Hal",
    "Ines",
    "Jory",
    "Kit",
    "Lev",
    "Mab",
    "Ned",
    "Orla",
    "Pim",
    "Quin",
    "Ros",
    "Sol",
    "Tam",
    "Una",
    "Vik",
    "Wyn",
    "Yael",
    "Zev",
]
LAST = [
    "Abel",
    "Brand",
    "Corm",
    "Dray",
    "Eskil",
    "Farr",
    "Grist",
    "Holm",
    "Ibarr",
    "Jessop",
    "Karn",
    "Lorne",
    "Mott",
    "Nye",
    "Ottar",
    "Pell",
    "Quist",
    "Rudd",
    "Strand",
    "Tarn",
    "Ulm",
    "Vane",
    "Wexe",
    "Yarrow",
]
FORMS = (
    "The {a} {b}",
    "{a} {b}",
    "{a} of {b}",
    "{a}",
    "A {a} for {b}",
    "{b} and {a}",
    "No {a}",
    "{a} in the {b}",
    "{n} {a}s",
)
COUNT = ("Two", "Three", "Seven", "Eight", "Twelve", "2", "3", "8", "12")


@dataclass(slots=True)
class Thing:
    """Something that the service knows."""

    id: str
    type: str
    name: str
    values: dict[str, list[Any]]
    description: str = ""


@dataclass(slots=True)
class World:
    """Everything that the service knows, and what the household may have of it."""

    things: dict[str, Thing] = field(default_factory=dict)
    films: list[Thing] = field(default_factory=list)
    series: list[Thing] = field(default_factory=list)
    albums: list[list[Thing]] = field(default_factory=list)
    """Each with all its issues."""


def _title(dice: random.Random) -> str:
    a, b = (dice.choice(FIRST).title() for _ in range(2))
    return dice.choice(FORMS).format(a=a, b=b, n=dice.choice(COUNT))


def _person(dice: random.Random) -> str:
    return f"{dice.choice(NAMES)} {dice.choice(LAST)}"


def make_world(seed: int, *, films: int, series: int, albums: int) -> World:
    """A made-up world of some size, with many names in it that mean several things."""
    dice = random.Random(seed)
    world = World()
    titles = list(dict.fromkeys(_title(dice) for _ in range((films + series + albums) // 2)))

    def add(kind: str, name: str, values: dict[str, list[Any]], description: str = "") -> Thing:
        thing = Thing(f"Q{len(world.things) * 7 + 1000}", kind, name, values, description)
        world.things[thing.id] = thing
        return thing

    for _ in range(films):
        name, year = dice.choice(titles), dice.randint(1930, 2024)
        values: dict[str, list[Any]] = {"p1": [{"str": name}], "p3": [{"date": f"{year}-{dice.randint(1, 12):02d}-01"}]}
        if dice.random() < 0.9:
            values["p4"] = [{"int": dice.randint(70, 170)}]
        values["p5"] = [{"str": _person(dice)}]
        if dice.random() < 0.15:
            values["p2"] = [{"str": _title(dice)}]
        bare = dice.choice(("", "", "moving picture", f"{year} moving picture"))
        world.films.append(add("work-moving-picture", name, values, bare))
    for _ in range(series):
        name, year = dice.choice(titles), dice.randint(1960, 2022)
        episodes: list[dict[str, str]] = []
        for season in range(1, dice.randint(1, 4) + 1):
            for number in range(1, dice.randint(4, 10) + 1):
                told = _title(dice)
                part = add(
                    "work-serial-part",
                    told,
                    {"p1": [{"str": told}], "p7": [{"int": season}], "p8": [{"int": number}]},
                )
                episodes.append({"id": part.id, "name": told})
        values = {"p1": [{"str": name}], "p3": [{"date": f"{year}"}], "p6": list(episodes)}
        world.series.append(add("work-serial", name, values))
    performers = [
        add("performer", name, {"p1": [{"str": name}]})
        for name in (_performer(dice, titles) for _ in range(albums // 2))
    ]
    for _ in range(albums):
        world.albums.append(_issues(dice, add, dice.choice(performers), titles))
    return world


def _performer(dice: random.Random, titles: list[str]) -> str:
    return dice.choice(
        (_person(dice), dice.choice(titles), f"{dice.choice(FIRST).title()} {dice.choice(('Trio', 'Choir', 'Club'))}")
    )


def _issues(dice: random.Random, add: Any, performer: Thing, titles: list[str]) -> list[Thing]:
    name = performer.name if dice.random() < 0.12 else dice.choice(titles)
    year = dice.randint(1965, 2023)
    tracks = [(_title(dice), dice.randint(110, 420)) for _ in range(dice.randint(6, 14))]
    issues = [_issue(add, performer, name, year, tracks)]
    if dice.random() < 0.2:
        bonus = [(f"{_title(dice)} (demo)", dice.randint(100, 300)) for _ in range(dice.randint(2, 6))]
        issues.append(_issue(add, performer, name, year + dice.randint(5, 30), [*tracks, *bonus]))
    if dice.random() < 0.1:
        live = [
            (title, seconds + dice.randint(20, 90)) for title, seconds in dice.sample(tracks, max(4, len(tracks) - 3))
        ]
        issues.append(_issue(add, performer, dice.choice((name, f"{name} Live")), year + dice.randint(1, 9), live))
    return issues


def _issue(add: Any, performer: Thing, name: str, year: int, tracks: list[tuple[str, int]]) -> Thing:
    parts = [
        add("recording", title, {"p1": [{"str": title}], "p8": [{"int": n}], "p11": [{"int": seconds}]})
        for n, (title, seconds) in enumerate(tracks, 1)
    ]
    values = {
        "p1": [{"str": name}],
        "p3": [{"date": f"{year}"}],
        "p9": [{"id": performer.id, "name": performer.name}],
        "p10": [{"id": part.id, "name": part.name} for part in parts],
    }
    return add("release", name, values)


def _words(text: str) -> set[str]:
    return {
        word
        for word in "".join(c if c.isalnum() else " " for c in text.lower()).split()
        if word not in ("the", "a", "of")
    }


def make_service(world: World, asked: dict[str, int]) -> Flask:
    """The service: words that are the same count, and, where there are none, beginnings of words."""
    app = Flask("stranger")
    by_word: dict[str, set[str]] = defaultdict(set)
    for thing in world.things.values():
        if thing.type in ("work-serial-part", "recording"):
            continue
        for value in (thing.name, *(cell["str"] for cell in thing.values.get("p2", []))):
            for word in _words(value):
                by_word[word].add(thing.id)

    def find(query: dict[str, Any]) -> list[dict[str, Any]]:
        words = _words(str(query.get("query", "")))
        hits: dict[str, float] = defaultdict(float)
        for word in words:
            found = by_word.get(word) or {i for w in by_word if len(word) > 3 and w[:4] == word[:4] for i in by_word[w]}
            for id_ in found:
                hits[id_] += 1 if word in by_word else 0.5
        ranked: list[tuple[float, str]] = []
        for id_, hit in hits.items():
            thing = world.things[id_]
            share = hit / max(len(words | _words(thing.name)), 1)
            ranked.append((share * 90 + (6 if thing.type == query.get("type") else 0), id_))
        ranked.sort(key=lambda pair: (-pair[0], pair[1]))
        return [
            {
                "id": id_,
                "name": world.things[id_].name,
                "description": world.things[id_].description,
                "score": round(score, 1),
                "match": False,
                "type": [{"id": world.things[id_].type, "name": world.things[id_].type}],
            }
            for score, id_ in ranked[: min(int(query.get("limit") or 5), 10)]
        ]

    @app.get("/reconcile")
    def manifest() -> Response:
        return jsonify(
            versions=["0.2"],
            name="Stranger",
            identifierSpace="http://stranger.invalid/id/",
            schemaSpace="http://stranger.invalid/type/",
            defaultTypes=[],
            batchSize=20,
            extend={"property_settings": []},
        )

    @app.post("/reconcile")
    def answer() -> Response:
        asked["requests"] = asked.get("requests", 0) + 1
        if "queries" in request.form:
            queries = json.loads(request.form["queries"])
            asked["queries"] = asked.get("queries", 0) + len(queries)
            return jsonify({key: {"result": find(query)} for key, query in queries.items()})
        wanted = json.loads(request.form["extend"])
        names = [one["id"] for one in wanted["properties"]]
        rows: dict[str, Any] = {}
        for id_ in wanted["ids"]:
            thing = world.things.get(id_)
            if thing is not None:
                asked["extended"] = asked.get("extended", 0) + (thing.type not in ("work-serial-part", "recording"))
                rows[id_] = {name: thing.values.get(name, []) for name in names}
        return jsonify(meta=[{"id": name, "name": name} for name in names], rows=rows)

    return app


@dataclass(slots=True)
class Truth:
    """Files of a household, what was found inside them, and what each truly is."""

    files: dict[str, dict[str, dict[str, Any]]] = field(
        default_factory=lambda: {"movies": {}, "series": {}, "music": {}}
    )
    right: dict[str, frozenset[str]] = field(default_factory=dict)
    """Path → the ids any of which is right; empty when the service does not know it."""
    hard: dict[str, str] = field(default_factory=dict)
    """Path → what makes it hard."""
    episodes: dict[str, str] = field(default_factory=dict)
    unknowable: set[str] = field(default_factory=set)
    """Paths of what nobody could tell from what stands there: no word to search
    by, or a namesake that nothing excludes."""


def _slip(dice: random.Random, text: str) -> str:
    at = dice.randrange(1, max(len(text) - 2, 2))
    return dice.choice(
        (
            text[:at] + text[at + 1] + text[at] + text[at + 2 :],
            text[:at] + text[at + 1 :],
            text[:at] + text[at] + text[at:],
        )
    )


def make_household(world: World, seed: int, *, films: int, series: int, albums: int) -> Truth:
    """A household that has some of it, named as people name things, and some that nobody knows."""
    dice = random.Random(seed * 31 + 7)
    truth = Truth()
    shared: dict[str, list[Thing]] = defaultdict(list)
    for film in world.films:
        shared[film.name].append(film)
    for film in dice.sample(world.films, min(films, len(world.films))):
        _film(truth, dice, film, [other for other in shared[film.name] if other is not film])
    for _ in range(films // 10):
        _stranger_film(truth, dice)
    for thing in dice.sample(world.series, min(series, len(world.series))):
        _series(truth, dice, world, thing)
    for issues in dice.sample(world.albums, min(albums, len(world.albums))):
        _album(truth, dice, world, issues)
    return truth


def _put(truth: Truth, kind: str, path: str, media: dict[str, Any], right: frozenset[str], hard: str) -> bool:
    if path in truth.files[kind]:
        return False
    truth.files[kind][path] = media
    truth.right[path] = right
    truth.hard[path] = hard
    return True


def _length(film: Thing) -> int | None:
    return film.values["p4"][0]["int"] if "p4" in film.values else None


def _is_knowable(film: Thing, namesakes: list[Thing], title: str, written: int | None, minutes: float | None) -> bool:
    """Whether a careful person with the service's pages before them could tell which film it is."""
    spelt = {word.lower() for value in film.values.get("p2", ()) for word in value["str"].split()}
    words = {word.lower() for word in title.split()} & (spelt | {word.lower() for word in film.name.split()})
    if not words - {"the", "a", "of", "for", "and", "in", "no"}:
        return False
    own = _length(film)
    timed = own is not None and minutes is not None and abs(own - minutes) <= 0.05 * own
    if written is None and not timed:
        return False

    def excluded(other: Thing) -> bool:
        if written is not None and abs(int(other.values["p3"][0]["date"][:4]) - written) > 1:
            return True
        its = _length(other)
        return timed and its is not None and minutes is not None and abs(its - minutes) > 0.2 * minutes

    return all(map(excluded, namesakes))


def _film(truth: Truth, dice: random.Random, film: Thing, namesakes: list[Thing]) -> None:
    has_namesakes = bool(namesakes)
    title, year = film.name, int(film.values["p3"][0]["date"][:4])
    hard = "namesakes" if has_namesakes else "plain"
    written: int | None = year
    turn = dice.random()
    if turn < 0.06:
        title, hard = _slip(dice, title), "misspelt"
    elif turn < 0.10 and "p2" in film.values:
        title, hard = film.values["p2"][0]["str"], "another title"
    elif turn < 0.13:
        for word, digit in (("Two", "2"), ("Three", "3"), ("Seven", "7"), ("Eight", "8"), ("Twelve", "12")):
            if title.startswith(word):
                title, hard = digit + title[len(word) :], "numeral"
    turn = dice.random()
    if turn < 0.05:
        written, hard = year + dice.choice((-1, 1)), "year one off"
    elif turn < 0.14:
        written, hard = None, "no year" + (", namesakes" if has_namesakes else "")
    minutes = film.values["p4"][0]["int"] if "p4" in film.values else dice.randint(80, 140)
    media = (
        {} if dice.random() < 0.06 else {"seconds": minutes * 60 * dice.choice((1, 1, 1, 0.96)) + dice.uniform(-50, 50)}
    )
    name = f"{title} ({written})" if written else title
    path = f"{name}/{name}.mkv"
    timed = media["seconds"] / 60 if media else None
    if _put(truth, "movies", path, media, frozenset((film.id,)), hard) and not _is_knowable(
        film, namesakes, title, written, timed
    ):
        truth.unknowable.add(path)


def _stranger_film(truth: Truth, dice: random.Random) -> None:
    name = f"{_title(dice)} ({dice.randint(1930, 2024)})"
    _put(truth, "movies", f"{name}/{name}.mkv", {"seconds": dice.randint(60, 9000)}, frozenset(), "unknown")


def _series(truth: Truth, dice: random.Random, world: World, thing: Thing) -> None:
    year = thing.values["p3"][0]["date"][:4]
    hard = "no year" if dice.random() < 0.4 else "plain"
    folder = thing.name if hard == "no year" else f"{thing.name} ({year})"
    if any(path.startswith(folder + "/") for path in truth.files["series"]):
        return
    parts = [world.things[cell["id"]] for cell in thing.values["p6"]]
    for part in parts[: dice.randint(max(3, len(parts) // 2), len(parts))]:
        season, number = part.values["p7"][0]["int"], part.values["p8"][0]["int"]
        told = f" - {part.name}" if dice.random() < 0.6 else ""
        path = f"{folder}/Season {season:02d}/{thing.name} - S{season:02d}E{number:02d}{told}.mkv"
        if _put(truth, "series", path, {"seconds": 2700}, frozenset((thing.id,)), hard):
            truth.episodes[path] = part.id


def _album(truth: Truth, dice: random.Random, world: World, issues: list[Thing]) -> None:
    mine = dice.choice(issues)
    artist = mine.values["p9"][0]["name"]
    year = int(mine.values["p3"][0]["date"])
    tracks = [world.things[cell["id"]] for cell in mine.values["p10"]]
    lists = {issue.id: [cell["name"] for cell in issue.values["p10"]] for issue in issues}
    right = frozenset(id_ for id_, names in lists.items() if names == lists[mine.id])
    hard = "several issues" if len(issues) > 1 else "self-titled" if artist == mine.name else "plain"
    title, shown = mine.name, f" ({year})"
    turn = dice.random()
    if turn < 0.08:
        shown, hard = f" ({year + dice.choice((-1, 1))})", f"year one off, {hard}"
    elif turn < 0.2:
        shown, hard = "", f"no year, {hard}"
    elif turn < 0.26:
        title, hard = _slip(dice, title), f"misspelt, {hard}"
    if dice.random() < 0.1 and len(tracks) > 6 and len(issues) == 1:
        tracks, hard = tracks[: -dice.randint(1, 2)], f"tracks missing, {hard}"
    folder = f"{artist}/{title}{shown}"
    if any(path.startswith(folder + "/") for path in truth.files["music"]):
        return
    for place, track in enumerate(tracks, 1):
        seconds = track.values["p11"][0]["int"] + dice.uniform(-2, 2)
        _put(truth, "music", f"{folder}/{place:02d} - {track.name}.flac", {"seconds": seconds}, right, hard)


def entries(truth: Truth, kind: str) -> Iterator[str]:
    """One path for each film, series or album."""
    seen: set[str] = set()
    for path in truth.files[kind]:
        depth = 1 if kind != "music" else 2
        key = "/".join(path.split("/")[:depth])
        if key not in seen:
            seen.add(key)
            yield path
