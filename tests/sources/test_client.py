"""The client against the stand-in service, and against services that misbehave."""

from __future__ import annotations

import json
from collections.abc import Callable

import httpx
import pytest

from indice.sources.client import SourceClient
from indice.sources.polite import SourceDown, SourceKeyWrong
from indice.sources.profile import ProfileError, parse_profile
from indice.standins.almanac import create_almanac
from indice.standins.profile import PROFILE

PROFILE_TEXT = PROFILE.format(url="http://almanac.test/reconcile")
MANIFEST = {"versions": ["0.2"], "name": "Almanac", "batchSize": 2}


def almanac(key: str = "", *, sent: str = "", log: list[httpx.Request] | None = None) -> SourceClient:
    """A client of the stand-in, without a network."""
    inner = httpx.WSGITransport(app=create_almanac(key))

    def handle(request: httpx.Request) -> httpx.Response:
        if log is not None:
            log.append(request)
        return inner.handle_request(request)

    return SourceClient(
        parse_profile(PROFILE_TEXT), key=sent, transport=httpx.MockTransport(handle), sleep=lambda _: None
    )


def answering(*answers: Callable[[httpx.Request], httpx.Response]) -> tuple[SourceClient, list[float]]:
    """A client of a service that gives these answers one after the other, and the waits that it made."""
    queue = list(answers)
    waits: list[float] = []
    return SourceClient(
        parse_profile(PROFILE_TEXT),
        transport=httpx.MockTransport(lambda request: (queue.pop(0) if len(queue) > 1 else queue[0])(request)),
        sleep=waits.append,
    ), waits


def test_a_film_is_found_and_extended() -> None:
    client = almanac()
    found = client.reconcile(
        [{"query": "Harbour Glass", "type": "Film", "limit": 5, "properties": [{"pid": "released", "v": 1987}]}]
    )[0]
    assert found[0]["name"] == "Harbour Glass"
    fields = client.extend([str(found[0]["id"])], "movie")[str(found[0]["id"])]
    assert fields["date"][0].startswith("1987")
    assert fields["runtime"] == [112 * 60.0]
    assert fields["genres"] == ["Drama"]


def test_episodes_are_entities_and_tracks_count_in_seconds() -> None:
    client = almanac()
    series = client.reconcile([{"query": "The Lampwrights", "type": "Series"}])[0][0]
    episodes = client.extend([str(series["id"])], "series")[str(series["id"])]["episodes"]
    assert len(episodes) == 24
    first = client.extend([episodes[0]["id"]], "episode")[episodes[0]["id"]]
    assert (first["season"], first["number"], first["runtime"]) == ([1], [1], [44 * 60.0])
    album = client.reconcile([{"query": "Tidewrack", "type": "Album"}])[0][0]
    tracks = client.extend([str(album["id"])], "album")[str(album["id"])]["tracks"]
    length = client.extend([tracks[0]["id"]], "track")[tracks[0]["id"]]["runtime"][0]
    assert 60 < length < 400


def test_queries_go_in_batches_and_nothing_is_asked_twice() -> None:
    kept: dict[str, dict[str, object]] = {}
    posts: list[int] = []

    def service(request: httpx.Request) -> httpx.Response:
        if request.method == "GET":
            return httpx.Response(200, json=MANIFEST)
        queries = json.loads(httpx.QueryParams(request.content.decode())["queries"])
        posts.append(len(queries))
        return httpx.Response(200, json={name: {"result": []} for name in queries})

    client = SourceClient(
        parse_profile(PROFILE_TEXT),
        transport=httpx.MockTransport(service),
        recall=lambda asked: kept,
        remember=kept.update,
    )
    queries = [{"query": f"Film {n}", "type": "Film"} for n in range(5)]
    client.reconcile(queries)
    client.reconcile(queries)
    assert posts == [2, 2, 1]


@pytest.mark.parametrize(("key", "sent"), [("tern", ""), ("tern", "gull")])
def test_a_wrong_key_is_told(key: str, sent: str) -> None:
    with pytest.raises(SourceKeyWrong, match="refuses the key"):
        almanac(key, sent=sent).reconcile([{"query": "Moth Season"}])


def test_the_key_goes_where_the_manifest_says_and_nowhere_else() -> None:
    log: list[httpx.Request] = []
    assert almanac("tern", sent="tern", log=log).reconcile([{"query": "Moth Season", "type": "Film"}])[0]
    assert log[-1].headers["X-Almanac-Key"] == "tern"
    assert all("tern" not in str(request.url) for request in log)


def test_a_busy_source_is_given_the_time_that_it_asks_for() -> None:
    client, waits = answering(
        lambda _: httpx.Response(429, headers={"retry-after": "3"}),
        lambda _: httpx.Response(503),
        lambda _: httpx.Response(200, json=MANIFEST),
    )
    assert client.manifest()["name"] == "Almanac"
    assert waits[0] == 3.0


def refuse(request: httpx.Request) -> httpx.Response:
    """A service that is not there."""
    raise httpx.ConnectError("refused", request=request)


@pytest.mark.parametrize(
    "answer",
    [
        lambda _: httpx.Response(500),
        lambda _: httpx.Response(200, text="<html>"),
        lambda _: httpx.Response(200, json=[]),
        refuse,
    ],
    ids=["fails", "no JSON", "no manifest", "down"],
)
def test_a_source_that_is_down_is_told(answer: Callable[[httpx.Request], httpx.Response]) -> None:
    client, _ = answering(answer)
    with pytest.raises(SourceDown) as told:
        client.manifest()
    assert "Almanac" in told.value.message
    assert told.value.hint


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("name = ", "TOML"),
        ('url = "http://x.test"', "no name"),
        ('name = "A"\nurl = "ftp://x"', "web address"),
        ('name = "A"\nurl = "http://x.test"', "maps nothing"),
        ('name = "A"\nurl = "http://x.test"\n[movie]\ntype = "F"\n[movie.fields]\nplot = "p"', "title"),
        (
            'name = "A"\nurl = "http://x.test"\n[track]\n[track.fields]\ntitle = "t"\nruntime = { property = "l", unit = "fortnights" }',
            "unit",
        ),
    ],
)
def test_a_wrong_profile_is_told(text: str, told: str) -> None:
    with pytest.raises(ProfileError, match=told):
        parse_profile(text)


def test_unknown_fields_are_reported_and_left_alone() -> None:
    profile = parse_profile(
        'name = "A"\nurl = "http://x.test"\n[movie]\ntype = "F"\n[movie.fields]\ntitle = "t"\nsmell = "s"'
    )
    assert profile.unknown == ("movie.smell",)
    assert set(profile.kinds["movie"].fields) == {"title"}


def extending(
    manifest: dict[str, object], *, language: str, rows: dict[str, object]
) -> tuple[SourceClient, list[dict[str, object]]]:
    """A client of a service with this manifest, and the extensions that it is asked for."""
    asked: list[dict[str, object]] = []

    def service(request: httpx.Request) -> httpx.Response:
        if request.method == "GET":
            return httpx.Response(200, json=manifest)
        asked.append(json.loads(httpx.QueryParams(request.content.decode())["extend"]))
        return httpx.Response(200, json={"meta": [], "rows": rows})

    profile = parse_profile(PROFILE_TEXT)
    return SourceClient(profile, language=language, country="AT", transport=httpx.MockTransport(service)), asked


@pytest.mark.parametrize(
    ("settings", "language", "sent"),
    [
        ([{"name": "lang"}], "de", {"lang": "de"}),
        ([{"name": "language"}], "de", {"language": "de"}),
        ([{"name": "limit"}], "de", None),
        ([], "de", None),
        ([{"name": "lang"}], "fr", None),
    ],
    ids=["taken", "under another name", "not taken", "no settings", "a language that the profile lacks"],
)
def test_a_language_is_sent_where_the_service_takes_it(settings: list[object], language: str, sent: object) -> None:
    client, asked = extending({**MANIFEST, "extend": {"property_settings": settings}}, language=language, rows={})
    client.extend(["f1"], "movie")
    by_id = {p["id"]: p.get("settings") for p in asked[0]["properties"]}  # type: ignore[index, union-attr]
    assert by_id["title"] == sent
    assert by_id["director"] is None
    assert client.speaks is (sent is not None)


def test_almanac_speaks_german_and_knows_artists() -> None:
    inner = httpx.WSGITransport(app=create_almanac())
    client = SourceClient(parse_profile(PROFILE_TEXT), language="de", transport=inner)
    film = client.reconcile([{"query": "Harbour Glass", "type": "Film"}])[0][0]
    fields = client.extend([str(film["id"])], "movie")[str(film["id"])]
    assert fields["rating"][0].startswith("AT: ")
    album = client.reconcile([{"query": "Tidewrack", "type": "Album"}])[0][0]
    artist = client.extend([str(album["id"])], "album")[str(album["id"])]["artists"][0]
    assert client.extend([artist["id"]], "artist")[artist["id"]]["title"] == [artist["name"]]


def test_the_key_stays_at_the_address_of_the_profile() -> None:
    """A service that sends elsewhere gets no second request with the key."""
    seen: list[httpx.Request] = []

    def service(request: httpx.Request) -> httpx.Response:
        seen.append(request)
        if request.method == "GET":
            told = {"type": "apiKey", "in": "header", "name": "X-Key"}
            return httpx.Response(200, json={**MANIFEST, "authentication": told})
        return httpx.Response(307, headers={"location": "http://elsewhere.test/"})

    client = SourceClient(parse_profile(PROFILE_TEXT), key="secret", transport=httpx.MockTransport(service))
    with pytest.raises(SourceDown, match="moved to"):
        client.reconcile([{"query": "x"}])
    assert [(r.url.host, r.headers.get("x-key")) for r in seen] == [("almanac.test", None), ("almanac.test", "secret")]


@pytest.mark.parametrize(
    ("told", "header", "value"),
    [
        ({"type": "http", "scheme": "bearer"}, "authorization", "Bearer secret"),
        ({"type": "http", "scheme": "basic"}, "authorization", "Basic c2VjcmV0"),
        ({"type": "apiKey", "in": "cookie", "name": "k"}, "cookie", "k=secret"),
    ],
)
def test_the_key_goes_where_the_manifest_says(told: dict[str, str], header: str, value: str) -> None:
    seen: list[httpx.Request] = []

    def service(request: httpx.Request) -> httpx.Response:
        seen.append(request)
        return httpx.Response(200, json={**MANIFEST, "authentication": told})

    client = SourceClient(parse_profile(PROFILE_TEXT), key="secret", transport=httpx.MockTransport(service))
    client.reconcile([{"query": "x"}])
    assert seen[-1].headers[header] == value


@pytest.mark.parametrize(
    ("cell", "seconds"),
    [({"str": "112 min"}, 6720.0), ({"float": 1.5}, 90.0), ({"int": 2}, 120.0), ({"str": "soon"}, None), ({}, None)],
)
def test_running_times_in_whatever_form(cell: dict[str, object], seconds: float | None) -> None:
    client, _ = extending(MANIFEST, language="", rows={"f1": {"length": [cell]}})
    assert client.extend(["f1"], "movie")["f1"]["runtime"] == [seconds]


def test_a_question_that_a_service_stumbled_over_is_asked_again() -> None:
    asked: list[set[str]] = []

    def service(request: httpx.Request) -> httpx.Response:
        if request.method == "GET":
            return httpx.Response(200, json=MANIFEST)
        queries = json.loads(httpx.QueryParams(request.content.decode())["queries"])
        asked.append(set(queries))
        found = {
            name: {"result": [{"id": name, "name": name}]} for name in queries if len(queries) == 1 or name != "q1"
        }
        return httpx.Response(200, json=found)

    client = SourceClient(parse_profile(PROFILE_TEXT), transport=httpx.MockTransport(service))
    found = client.reconcile([{"query": "a"}, {"query": "b"}])
    assert [row[0]["id"] for row in found] == ["q0", "q1"]
    assert asked == [{"q0", "q1"}, {"q1"}]


@pytest.mark.parametrize(
    ("told", "least", "most"),
    [("2", 2, 2), ("Wed, 21 Oct 2015 07:28:00 GMT", 0, 0.1), ("99999", 30, 30), ("never", 0.4, 0.6)],
)
def test_patience_is_as_long_as_the_service_asks(told: str, least: float, most: float) -> None:
    busy = httpx.Response(429, headers={"retry-after": told})
    client, waits = answering(lambda _: busy, lambda _: httpx.Response(200, json=MANIFEST))
    client.manifest()
    assert least <= waits[0] <= most
